package words

import (
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/shopspring/decimal"
	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/number"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
)

var gap = regexp.MustCompile(`\{[a-z0-9_]+\}`)

// Every language has every text, with the same gaps.
func TestLanguageFilesAgree(t *testing.T) {
	for code, en := range files[English] {
		de, ok := files[German][code]
		if !ok {
			t.Errorf("de.json lacks %q", code)
			continue
		}
		a, b := gaps(en), gaps(de)
		if !slices.Equal(a, b) {
			t.Errorf("%q has the gaps %v in English and %v in German", code, a, b)
		}
	}
	for code := range files[German] {
		if _, ok := files[English][code]; !ok {
			t.Errorf("en.json lacks %q", code)
		}
	}
}

// gaps gives the gaps of a text, in each of its forms.
func gaps(x text) []string {
	var names []string
	for _, form := range x.forms {
		for _, part := range form {
			if part.gap {
				names = append(names, part.text)
			}
		}
	}
	slices.Sort(names)
	return slices.Compact(names)
}

func TestSay(t *testing.T) {
	for _, c := range []struct {
		l    Language
		code string
		p    Params
		want string
	}{
		{English, "slip.percent", Params{"percent": "30", "of": "39.00"}, "30 % of 39.00"},
		{German, "slip.percent", Params{"percent": "30", "of": "39,00"}, "30 % von 39,00"},
		{English, "slip.counted_after", Params{"count": "5", "noun": "letters", "included": "24", "amount": "0.60"}, "5 letters after 24 × 0.60"},
		{English, "people", Params{"count": "1"}, "1 person"},
		{English, "people", Params{"count": "0"}, "0 people"},
		{German, "people", Params{"count": "1"}, "1 Person"},
		{German, "people", Params{"count": "12"}, "12 Personen"},
		{English, "noun.hour", Params{"count": "1.5"}, "hours"},
		{German, "noun.hour", Params{"count": "0,5"}, "Stunden"},
		{English, "noun.word", Params{"count": "1,001"}, "words"},
		{English, "fault.opening_full", Params{"left": "1"}, "At that time 1 place is left. Choose another time or fewer people."},
		{"fr", "noun.day", Params{"count": "1"}, "day"},
		{English, "no such text", nil, "no such text"},
		{"fr", "yes", nil, "Yes"},
		{English, "fault.longest", Params{"most": "{most}"}, "This is too long. It can have at most {most} characters."},
	} {
		if got := c.l.Say(c.code, c.p); got != c.want {
			t.Errorf("%s %s: %q, want %q", c.l, c.code, got, c.want)
		}
		if m := gap.FindString(c.l.Say(c.code, Params{"most": "7"})); m != "" {
			t.Errorf("%s leaves the gap %s", c.code, m)
		}
	}
}

func TestPick(t *testing.T) {
	for header, want := range map[string]Language{
		"": English, "de": German, "de-AT,de;q=0.9,en;q=0.8": German, "fr, en;q=0.5": English, "nb, de-CH": German, "*": English, "DE": German, ";;,,": English,
	} {
		if got := Pick(header); got != want {
			t.Errorf("Pick(%q) = %s, want %s", header, got, want)
		}
	}
}

func TestNumbersAndDays(t *testing.T) {
	day := calendar.Day{Year: 2026, Month: 11, Number: 26}
	for _, c := range []struct{ got, want string }{
		{English.Amount(123456789, "EUR"), "1,234,567.89"},
		{German.Amount(123456789, "EUR"), "1.234.567,89"},
		{English.Amount(-99999, "EUR"), "−999.99"},
		{Language("fr").Amount(123456789, "EUR"), "1,234,567.89"},
		{English.Amount(1000, "JPY"), "1,000"},
		{English.Money(5070, "EUR"), "€50.70"},
		{German.Money(123456, "EUR"), "1.234,56\u00a0€"},
		{English.Money(-500, "CHF"), "−CHF\u00a05.00"},
		{German.Money(-500, "CHF"), "−5,00\u00a0CHF"},
		{English.Money(5, "JPY"), "¥5"},
		{English.Number(decimal.RequireFromString("7.5")), "7.5"},
		{German.Number(decimal.RequireFromString("1234.5")), "1234,5"},
		{English.Day(day), "Thu 26 Nov 2026"},
		{German.Day(day), "Do 26. Nov. 2026"},
		{English.DayTime(day, 20*60+5), "Thu 26 Nov 2026, 20:05"},
	} {
		if c.got != c.want {
			t.Errorf("%q, want %q", c.got, c.want)
		}
	}
}

// The marks between the digits are those of the Unicode CLDR: golang.org/x/text
// writes the same amounts.
func TestMarksAgreeWithTheCLDR(t *testing.T) {
	for l := range tongues {
		printer := message.NewPrinter(language.Make(string(l)))
		for _, cents := range []money.Amount{0, 5, 99999, 100000, 123456789, -5070} {
			want := printer.Sprint(number.Decimal(float64(cents)/100, number.Scale(2)))
			want = strings.ReplaceAll(want, "-", "−")
			if got := l.Amount(cents, "EUR"); got != want {
				t.Errorf("%s writes %d cents as %q, golang.org/x/text as %q", l, cents, got, want)
			}
		}
	}
}
