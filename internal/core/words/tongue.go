package words

import (
	"strings"

	"golang.org/x/text/currency"
	"golang.org/x/text/feature/plural"
	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/number"

	"ruvo/internal/core/money"
)

// A tongue is what the language itself says about writing numbers, by the
// Unicode CLDR that golang.org/x/text carries.
type tongue struct {
	tag            language.Tag
	decimal, group string                    // its decimal mark and its mark between thousands
	signs          map[money.Currency]string // of currencies; their code where they have none
	signLast       bool                      // behind the amount: what the library does not carry
}

var tongues = map[Language]tongue{English: tongueOf(English, false), German: tongueOf(German, true)}

// tongue gives the language's, and the English one for a language without a file.
func (l Language) tongue() tongue {
	if t, known := tongues[l]; known {
		return t
	}
	return tongues[English]
}

// tongueOf reads the marks off a number that has both, once: a live price
// writes dozens of amounts, and the library's printer is made for generality.
func tongueOf(l Language, signLast bool) tongue {
	tag := language.Make(string(l))
	printer := message.NewPrinter(tag)
	written := printer.Sprint(number.Decimal(1234567.5))
	group, rest := markAfter(written, "1")
	_, rest, _ = strings.Cut(rest, "567")
	decimal, _ := markAfter("567"+rest, "567")
	signs := map[money.Currency]string{}
	for _, c := range money.Currencies() {
		if unit, err := currency.ParseISO(string(c)); err == nil {
			signs[c] = printer.Sprint(currency.Symbol(unit))
		}
	}
	return tongue{tag, decimal, group, signs, signLast}
}

// markAfter gives what stands between the digits and the next digit.
func markAfter(written, digits string) (mark, rest string) {
	rest = strings.TrimPrefix(written, digits)
	at := strings.IndexAny(rest, "0123456789")
	return rest[:at], rest[at:]
}

// form gives the plural form that goes with a number written in the language:
// "1" is one, "1.5" and "2" are other, in English and in German.
func (l Language) form(written string) plural.Form {
	t := l.tongue()
	whole, part, _ := strings.Cut(strings.ReplaceAll(written, t.group, ""), t.decimal)
	digits := make([]byte, 0, 24)
	for _, r := range whole + part {
		if r < '0' || r > '9' {
			return plural.Other // no number, as in "none"
		}
		digits = append(digits, byte(r-'0'))
	}
	return plural.Cardinal.MatchDigits(t.tag, digits, len(whole), len(part))
}

// Singular tells whether a number takes the noun's first form: "1 letter".
func (l Language) Singular(written string) bool { return l.form(written) == plural.One }
