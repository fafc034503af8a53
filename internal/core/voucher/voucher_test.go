package voucher

import (
	"math/rand/v2"
	"strings"
	"testing"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
)

func day(s string) calendar.Day {
	d, err := calendar.ParseDay(s)
	if err != nil {
		panic(err)
	}
	return d
}

func TestWhatIsLeftOfAVoucher(t *testing.T) {
	if n := Rest(map[Kind]money.Amount{Issued: 5000, Used: 3200, Returned: 700}); n != 2500 {
		t.Errorf("%d is left", n)
	}
	is := State{Currency: "EUR", Rest: 2500, Held: 1000, Until: day("2029-11-26")}
	if is.Free() != 1500 {
		t.Errorf("%d is free", is.Free())
	}
	for _, c := range []struct {
		with     func(s *State)
		currency money.Currency
		on, want string
	}{
		{nil, "EUR", "2029-11-26", ""},
		{nil, "EUR", "2029-11-27", "voucher_over"},
		{nil, "CHF", "2027-01-01", "voucher_currency"},
		{func(s *State) { s.Blocked = true }, "EUR", "2027-01-01", "voucher_blocked"},
		{func(s *State) { s.Rest = 0 }, "EUR", "2027-01-01", "voucher_empty"},
		{func(s *State) { s.Held = 2500 }, "EUR", "2027-01-01", "voucher_held"},
		{func(s *State) { s.Until = calendar.Day{} }, "EUR", "2127-01-01", ""},
	} {
		s := is
		if c.with != nil {
			c.with(&s)
		}
		if got := s.Refused(c.currency, day(c.on)); got != c.want {
			t.Errorf("%+v on %s is refused as %q, want %q", s, c.on, got, c.want)
		}
	}
}

func TestHowLongAVoucherIsGood(t *testing.T) {
	for _, c := range []struct {
		sold   string
		months int
		want   string
	}{
		{"2026-11-26", 36, "2029-11-26"}, {"2026-08-31", 6, "2027-02-28"}, {"2027-08-31", 6, "2028-02-29"}, {"2026-12-31", 1, "2027-01-31"},
	} {
		if got := Until(day(c.sold), c.months).String(); got != c.want {
			t.Errorf("%d months after %s is %s, want %s", c.months, c.sold, got, c.want)
		}
	}
	if Until(day("2026-11-26"), 0) != (calendar.Day{}) {
		t.Error("0 months are not for ever")
	}
}

// However a code is typed, it is the same code; and every code has characters
// that nobody takes for others.
func TestCodes(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 16))
	for range 1000 {
		var random [CodeBytes]byte
		for i := range random {
			random[i] = byte(r.Uint32())
		}
		code := Code(random)
		typed := strings.ToLower(strings.ReplaceAll(Spaced(code), "-", " - "))
		if len(code) != codeLength || strings.Trim(code, Alphabet) != "" || Plain(typed) != code {
			t.Fatalf("%q is typed as %q", code, typed)
		}
	}
	if strings.ContainsAny(Alphabet, "01ILO") {
		t.Error("the alphabet has characters that look like others")
	}
	if got := Spaced("ABCDEFGHJKMNPQRS"); got != "ABCD-EFGH-JKMN-PQRS" {
		t.Error(got)
	}
}
