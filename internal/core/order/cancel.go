package order

import (
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
)

// An Undone is an order line that is to be cancelled, or what belongs to the
// whole order.
type Undone struct {
	Of    int                // the order line, from 1; 0 for the whole order
	Rules *charge.Cancelling // nil when there are none
	At    charge.Undoing
	Off   *money.Amount // what the seller chose; nil for what the rules say
}

// CancelLines says what becomes of the charge of lines that are cancelled
// (computation.md, The ledger). Whole is what belongs to the whole order, when no
// line is left with these; nil while one is. Without a rule of its own, what
// belongs to the whole order goes when nothing of any line is charged any more.
func CancelLines(c *charge.Credited, lines []Undone, whole *Undone) []charge.Cancelled {
	var list []charge.Cancelled
	left := c.Total() - c.Left(0)
	for _, u := range lines {
		one := u.cancelled(c)
		left -= one.Off
		list = append(list, one)
	}
	if whole == nil || c.Left(0) == 0 {
		return list
	}
	one := whole.cancelled(c)
	if whole.Off == nil && whole.Rules == nil && left == 0 {
		one.Off, one.With = one.Left, true
	}
	return append(list, one)
}

func (u Undone) cancelled(c *charge.Credited) charge.Cancelled {
	one := charge.Cancelled{Of: u.Of, Left: c.Left(u.Of)}
	if u.Off != nil {
		one.Off, one.Chosen = min(*u.Off, max(one.Left, 0)), true
		return one
	}
	if rule, ok := u.Rules.At(u.At); ok {
		one.Rule, one.Off = &rule, rule.Off(one.Left, c.Rounding)
	}
	return one
}

// SelfCancel says whether customers may cancel these lines by themselves: a rule
// holds for each, and none of them asks for a word with the seller.
func SelfCancel(list []charge.Cancelled) bool {
	lines := 0
	for _, c := range list {
		if c.Of == 0 {
			continue
		}
		if lines++; c.Rule == nil || c.Rule.Asking {
			return false
		}
	}
	return lines > 0
}

// Offs gives what comes off each line.
func Offs(list []charge.Cancelled) map[int]money.Amount {
	off := make(map[int]money.Amount, len(list))
	for _, c := range list {
		off[c.Of] = c.Off
	}
	return off
}
