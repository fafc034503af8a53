package standin

import (
	"context"
	"errors"
	"strings"
	"testing"
	"time"

	"ruvo/internal/store"
)

func open(t *testing.T) *store.Store {
	t.Helper()
	s, err := store.Open(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

// Source: ISO/IEC 7812-1, annex B; 7992739871 with the check digit 3 is the
// worked example of the method in common use (from memory).
func TestCheckDigit(t *testing.T) {
	for digit := range 10 {
		number := "00" + "7992739871" + string(rune('0'+digit))
		if ValidNumber(number) != (digit == 3) {
			t.Errorf("%s is valid: %v", number, digit != 3)
		}
	}
	for _, ok := range []string{CardWorks, CardDeclined, CardConfirms, "9900 0000 0000 0002", "9900-0000-0000-0002"} {
		if !ValidNumber(ok) {
			t.Errorf("%s was refused", ok)
		}
	}
	for _, bad := range []string{"", "0", "99", "9900000000000003", "99000000000000a2", strings.Repeat("0", 20), "９９00000000000002"} {
		if ValidNumber(bad) {
			t.Errorf("%q was taken", bad)
		}
	}
}

// One wrong digit, and nearly every swap of two neighbours, is found: what a
// check digit is for.
func TestCheckDigitFindsTypingMistakes(t *testing.T) {
	for i := range CardConfirms {
		for d := '0'; d <= '9'; d++ {
			typed := CardConfirms[:i] + string(d) + CardConfirms[i+1:]
			if typed != CardConfirms && ValidNumber(typed) {
				t.Errorf("%s passes for %s", typed, CardConfirms)
			}
		}
	}
}

func TestCards(t *testing.T) {
	ctx := context.Background()
	bank := &CardStandIn{Store: open(t)}
	charge := func(attempt, number string, want Outcome) {
		t.Helper()
		r, err := bank.Charge(ctx, attempt, 100, number)
		if err != nil || r.Outcome != want {
			t.Errorf("%s: %+v, %v", attempt, r, err)
		}
	}
	charge("a", CardWorks, Paid)
	charge("b", CardDeclined, Declined)
	charge("c", CardConfirms, Confirm)
	charge("d", "4242424242424242", Declined)
	charge("a", CardDeclined, Paid) // the same attempt keeps its outcome
	confirm := func(attempt string, approve bool, want Outcome) {
		t.Helper()
		r, err := bank.Confirm(ctx, attempt, approve)
		if err != nil || r.Outcome != want {
			t.Errorf("%s: %+v, %v", attempt, r, err)
		}
	}
	confirm("c", true, Paid)
	confirm("c", false, Paid) // too late
	charge("e", CardConfirms, Confirm)
	confirm("e", false, Declined)
	confirm("b", true, Declined) // nothing to confirm
	if _, err := bank.Confirm(ctx, "ghost", true); !errors.Is(err, ErrNoAttempt) {
		t.Errorf("%v", err)
	}
	if r, err := bank.Ask(ctx, "c"); err != nil || r.Outcome != Paid {
		t.Errorf("%+v, %v", r, err)
	}
	if _, err := bank.Ask(ctx, "ghost"); !errors.Is(err, ErrNoAttempt) {
		t.Errorf("%v", err)
	}
}

// flaky fails its first deliveries.
type flaky struct {
	failures  int
	delivered map[string]int
}

func (f *flaky) Send(_ context.Context, m store.Mail) error {
	if f.failures > 0 {
		f.failures--
		return errors.New("no line")
	}
	f.delivered[m.Key]++
	return nil
}

// Every mail goes out in the end, once each, whatever failed before.
func TestPostmanTriesAgain(t *testing.T) {
	s := open(t)
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	if err := s.Write(t.Context(), func(tx *store.Tx) error {
		for _, k := range []string{"a", "b", "c"} {
			if err := tx.WriteMail(store.Mail{Key: k, Recipient: k + "@example.org", CreatedAt: at}); err != nil {
				return err
			}
		}
		return nil
	}); err != nil {
		t.Fatal(err)
	}
	mailer := &flaky{failures: 2, delivered: map[string]int{}}
	post := &Postman{Store: s, Mailer: mailer, Now: func() time.Time { return at }}
	failed := 0
	for range 5 {
		if post.Round(t.Context()) != nil {
			failed++
		}
	}
	if failed != 2 || len(mailer.delivered) != 3 || mailer.delivered["a"] != 1 || mailer.delivered["c"] != 1 {
		t.Errorf("%d rounds failed, delivered %v", failed, mailer.delivered)
	}
}
