// Package voucher holds what is known of a voucher that was sold: what happened
// with its worth, what is left of it, and whether it pays.
package voucher

import (
	"strings"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
)

// A Kind is what happened with a voucher's worth.
type Kind string

const (
	Issued   Kind = "issued"   // it was sold
	Used     Kind = "used"     // it paid something of an order
	Returned Kind = "returned" // what it had paid came back to it
	Voided   Kind = "voided"   // its sale was cancelled
)

// Kinds lists them.
func Kinds() []Kind { return []Kind{Issued, Used, Returned, Voided} }

// Rest gives what is left of a voucher by the sums of what happened.
func Rest(sums map[Kind]money.Amount) money.Amount {
	return sums[Issued] + sums[Returned] - sums[Used] - sums[Voided]
}

// A State is a voucher at one instant.
type State struct {
	Currency money.Currency
	Rest     money.Amount
	Held     money.Amount // of the rest, by others who are about to pay with it
	Until    calendar.Day // its last day; zero for none
	Blocked  bool
}

// Free gives what it can pay.
func (s *State) Free() money.Amount { return max(s.Rest-s.Held, 0) }

// Refused gives the code of why it pays nothing in a currency on a day; empty
// when it does.
func (s *State) Refused(c money.Currency, today calendar.Day) string {
	switch {
	case s.Blocked:
		return "voucher_blocked"
	case s.Until != (calendar.Day{}) && today.After(s.Until):
		return "voucher_over"
	case s.Currency != c:
		return "voucher_currency"
	case s.Rest <= 0:
		return "voucher_empty"
	case s.Free() == 0:
		return "voucher_held"
	}
	return ""
}

// Until gives the last day of a voucher that is good for so many months: the day
// of its sale so many months later, or the last of that month when it is
// shorter. 0 months are for ever.
func Until(sold calendar.Day, months int) calendar.Day {
	if months == 0 {
		return calendar.Day{}
	}
	first := time.Date(sold.Year, sold.Month, 1, 0, 0, 0, 0, time.UTC).AddDate(0, months, 0)
	last := first.AddDate(0, 1, -1).Day()
	return calendar.Day{Year: first.Year(), Month: first.Month(), Number: min(sold.Number, last)}
}

// Alphabet is what codes are made of: no letter or digit that looks like another
// one.
const Alphabet = "ABCDEFGHJKMNPQRSTUVWXYZ23456789"

// codeLength and group are how many characters a code has, and stand together.
const (
	codeLength = 16
	group      = 4
)

// Code makes a code of random bytes; there must be CodeBytes of them.
func Code(random [CodeBytes]byte) string {
	var b strings.Builder
	for _, r := range random {
		if int(r) < len(Alphabet)*(256/len(Alphabet)) { // each as likely as the others
			b.WriteByte(Alphabet[int(r)%len(Alphabet)])
		}
		if b.Len() == codeLength {
			break
		}
	}
	for b.Len() < codeLength {
		b.WriteByte(Alphabet[0])
	}
	return b.String()
}

// CodeBytes is how many random bytes a code is made from: so many more than it
// has characters that those which are left out are made up for.
const CodeBytes = 64

// Plain gives a code as it is kept from how people type it.
func Plain(typed string) string {
	return strings.Map(func(r rune) rune {
		if r == '-' || r == ' ' || r == '\u00a0' || r == '–' {
			return -1
		}
		return r
	}, strings.ToUpper(typed))
}

// Spaced gives a code as people read it.
func Spaced(code string) string {
	var parts []string
	for len(code) > group {
		parts, code = append(parts, code[:group]), code[group:]
	}
	return strings.Join(append(parts, code), "-")
}
