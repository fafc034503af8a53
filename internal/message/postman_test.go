package message

import (
	"context"
	"errors"
	"testing"
	"time"

	"ruvo/internal/port"
	"ruvo/internal/store"
)

// flaky refuses mails to one address for some tries.
type flaky struct {
	to        string
	failures  int
	delivered []string
}

func (f *flaky) Send(_ context.Context, m port.Mail) error {
	if m.To == f.to && f.failures > 0 {
		f.failures--
		return errors.New("no such box")
	}
	f.delivered = append(f.delivered, m.Key)
	return nil
}

// A mail that fails holds up no other; it is tried again after pauses that grow,
// and goes out once in the end.
func TestOneFailingMailHoldsUpNoOther(t *testing.T) {
	s, err := store.Open(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
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
	mailer := &flaky{to: "a@example.org", failures: 3}
	post := &Postman{Store: s, Mailer: mailer, Now: func() time.Time { return at }}
	var rounds []string
	for second := range 120 {
		before := len(mailer.delivered)
		failed := mailer.failures
		at = at.Add(time.Second)
		if err := post.Round(t.Context()); err != nil {
			t.Fatal(err)
		}
		rounds = append(rounds, mailer.delivered[before:]...)
		if mailer.failures != failed {
			rounds = append(rounds, time.Duration(second*int(time.Second)).String())
		}
	}
	want := []string{"b", "c", "0s", "5s", "15s", "a"} // pauses of 5, 10 and 20 s
	if len(rounds) != len(want) {
		t.Fatalf("%v, want %v", rounds, want)
	}
	for i := range want {
		if rounds[i] != want[i] {
			t.Errorf("%v, want %v", rounds, want)
		}
	}
	if err := s.Read(t.Context(), func(tx *store.Tx) error {
		rest, err := tx.MailToSend(at.Add(24*time.Hour), 10)
		if len(rest) != 0 {
			t.Errorf("still to send: %+v", rest)
		}
		return err
	}); err != nil {
		t.Error(err)
	}
}
