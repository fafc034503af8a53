// Package words turns codes and values into the words that people read, in
// the languages that ship with Ruvo. A text lives in a language file beside
// this one, never in code.
package words

import (
	"embed"
	"encoding/json"
	"fmt"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/shopspring/decimal"
	"golang.org/x/text/feature/plural"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
)

// A Language is a BCP 47 primary language tag that Ruvo has a file for.
type Language string

const (
	English Language = "en" // what logs are in
	German  Language = "de" // said with du
)

// Pick gives the first language of an Accept-Language header or tag that
// Ruvo speaks, and English when there is none.
func Pick(header string) Language {
	for part := range strings.SplitSeq(header, ",") {
		tag, _, _ := strings.Cut(strings.TrimSpace(part), ";")
		tag, _, _ = strings.Cut(tag, "-")
		if l := Language(strings.ToLower(tag)); files[l] != nil {
			return l
		}
	}
	return English
}

//go:embed en.json de.json
var sources embed.FS

// A text is a sentence, in as many forms as the language has for the number
// in one of its gaps: "1 place is left", "3 places are left". In a file such
// a text is an object: the gap "by", and a sentence for each form.
type text struct {
	by    string
	forms [6]sentence // by plural.Form; most texts have plural.Other alone
}

// A sentence is cut at its gaps.
type sentence []piece

// A piece is literal, or the name of the parameter that fills a gap.
type piece struct {
	text string
	gap  bool
}

var files = map[Language]map[string]text{English: load("en"), German: load("de")}

func load(name string) map[string]text {
	raw, err := sources.ReadFile(name + ".json")
	if err != nil {
		panic(err)
	}
	var plain map[string]json.RawMessage
	if err := json.Unmarshal(raw, &plain); err != nil {
		panic(fmt.Errorf("words: %s: %w", name, err))
	}
	cut := make(map[string]text, len(plain))
	for code, raw := range plain {
		if cut[code], err = readText(raw); err != nil {
			panic(fmt.Errorf("words: %s: %s: %w", name, code, err))
		}
	}
	return cut
}

func readText(raw json.RawMessage) (t text, err error) {
	var plain string
	if json.Unmarshal(raw, &plain) == nil {
		t.forms[plural.Other] = cutAtGaps(plain)
		return t, nil
	}
	var many struct{ By, One, Other string }
	err = json.Unmarshal(raw, &many)
	t.by = many.By
	t.forms[plural.One], t.forms[plural.Other] = cutAtGaps(many.One), cutAtGaps(many.Other)
	return t, err
}

func cutAtGaps(s string) sentence {
	var t sentence
	for {
		before, rest, gap := strings.Cut(s, "{")
		if before != "" {
			t = append(t, piece{text: before})
		}
		if !gap {
			return t
		}
		var name string
		name, s, _ = strings.Cut(rest, "}")
		t = append(t, piece{text: name, gap: true})
	}
}

// Params fill the gaps of a text by name.
type Params map[string]string

// Say gives the text of a code with its gaps filled. A code without a text
// is returned as it is, so that a gap in a language file is seen and not
// fatal; a test keeps the files whole.
func (l Language) Say(code string, p Params) string {
	return l.say(code, func(name string) string { return p[name] })
}

// Fill is Say with each parameter's name before its value, for texts that are
// made often.
func (l Language) Fill(code string, pairs ...string) string {
	return l.say(code, func(name string) string {
		for i := 0; i+1 < len(pairs); i += 2 {
			if pairs[i] == name {
				return pairs[i+1]
			}
		}
		return ""
	})
}

func (l Language) say(code string, value func(name string) string) string {
	t, ok := files[l][code]
	if !ok {
		if t, ok = files[English][code]; !ok {
			return code
		}
	}
	form := plural.Other
	if t.by != "" {
		form = l.form(value(t.by))
	}
	said := t.forms[form]
	if len(said) == 1 && !said[0].gap {
		return said[0].text
	}
	var room [96]byte
	b := room[:0]
	for _, p := range said {
		if p.gap {
			b = append(b, value(p.text)...)
		} else {
			b = append(b, p.text...)
		}
	}
	return string(b)
}

// Amount writes an amount without its currency, as it stands in a slip.
func (l Language) Amount(a money.Amount, c money.Currency) string {
	plain := a.Plain(c)
	if l != German && len(plain) < 7 && plain[0] != '-' && strings.IndexByte(plain, '.') >= 0 {
		return plain // nothing to group, and the mark is a point already
	}
	return l.group(plain, 4)
}

// Fine writes an amount that can be finer than the smallest coin, with as many
// digits as it has, and no fewer than the currency.
func (l Language) Fine(f money.Fine, c money.Currency) string {
	if a, whole := f.Whole(); whole {
		return l.Amount(a, c)
	}
	digits, err := c.Digits()
	if err != nil {
		digits = 2
	}
	d := f.Decimal().Shift(-int32(digits))
	return l.group(d.StringFixed(max(int32(digits), -trimmed(d).Exponent())), 4)
}

// trimmed gives a number without zeros at its end.
func trimmed(d decimal.Decimal) decimal.Decimal {
	return decimal.RequireFromString(d.String())
}

// Money writes an amount with its currency's sign, as the interface does: "€50.70",
// "50,70 €". A currency without a sign in the language stands with its code.
func (l Language) Money(a money.Amount, c money.Currency) string {
	t := l.tongue()
	sign, known := t.signs[c]
	if !known {
		sign = string(c)
	}
	digits, less := strings.CutPrefix(l.Amount(a, c), minus)
	switch last, _ := utf8.DecodeLastRuneInString(sign); {
	case t.signLast:
		digits += noBreak + sign
	case unicode.IsLetter(last): // the CLDR's spacing of currencies
		digits = sign + noBreak + digits
	default:
		digits = sign + digits
	}
	if less {
		return minus + digits
	}
	return digits
}

const (
	minus   = "−"
	noBreak = "\u00a0"
)

// Number writes a decimal number with the language's marks. Numbers of four
// digits stay whole, as many of them are years.
func (l Language) Number(d decimal.Decimal) string {
	if d.Exponent() == 0 && !d.IsNegative() && d.LessThan(fourDigits) {
		return strconv.FormatInt(d.CoefficientInt64(), 10)
	}
	return l.group(d.String(), 5)
}

var fourDigits = decimal.NewFromInt(10_000)

// group marks the thousands of a number that has at least so many digits.
func (l Language) group(s string, least int) string {
	t := l.tongue()
	mark, sep := t.decimal, t.group
	sign := ""
	if s[0] == '-' {
		sign, s = minus, s[1:]
	}
	whole, part, has := strings.Cut(s, ".")
	for i := len(whole) - 3; i > 0 && len(whole) >= least; i -= 3 {
		whole = whole[:i] + sep + whole[i:]
	}
	if has {
		whole += mark + part
	}
	return sign + whole
}

// Day writes a day in words: "Thu 26 Nov 2026".
func (l Language) Day(d calendar.Day) string {
	return l.Say("day", Params{
		"weekday": l.Say(fmt.Sprintf("weekday.%d", d.Weekday()), nil),
		"day":     fmt.Sprint(d.Number),
		"month":   l.Say(fmt.Sprintf("month.%d", d.Month), nil),
		"year":    fmt.Sprint(d.Year),
	})
}

// Weekdays lists weekdays: "Sat, Sun".
func (l Language) Weekdays(list []time.Weekday) string {
	names := make([]string, len(list))
	for i, w := range list {
		names[i] = l.Say(fmt.Sprintf("weekday.%d", w), nil)
	}
	return strings.Join(names, ", ")
}

// DayTime writes a day with the wall-clock time: "Sat 28 Nov 2026, 20:30".
func (l Language) DayTime(d calendar.Day, minutes int) string {
	return fmt.Sprintf("%s, %02d:%02d", l.Day(d), minutes/60, minutes%60)
}
