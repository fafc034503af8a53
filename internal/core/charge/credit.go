package charge

import (
	"slices"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
)

// A Stake is what one order line, or what belongs to the whole order, has of an
// order's total at one rate of tax. The stakes of an order add up to its total.
type Stake struct {
	Of    int // the order line, from 1; 0 for the whole order
	Tax   TaxRule
	Gross money.Amount
}

// Stakes gives who has what of the order's total: each line with coupons off
// and its tax on; what belongs to the whole order beside them. What is taken
// off the whole order is shared by the lines of its rate.
func (o *Order) Stakes() []Stake {
	m := o.make()
	var list []Stake
	for i := range m.each {
		for k, p := range m.each[i].parts {
			rule := p.TaxRule
			if m.Reversed && rule.Exempt == "" && !rule.Percent.IsZero() {
				rule = TaxRule{Added: rule.Added, Reversed: true}
			}
			same := slices.IndexFunc(list, func(s Stake) bool { return s.Of == i+1 && s.Tax.same(rule) })
			switch gross := m.gross(p); {
			case same >= 0:
				list[same].Gross += gross
			case k == 0 || gross != 0: // a line has a stake, also at nothing
				list = append(list, Stake{i + 1, rule, gross})
			}
		}
	}
	lines := len(list)
	for _, t := range m.slip.Taxes {
		rule := TaxRule{Percent: t.Percent, Added: t.Added, Exempt: t.Exempt, Reversed: t.Reversed}
		rest := t.Gross
		weights := make([]int64, lines)
		for i, s := range list[:lines] {
			if s.Tax.same(rule) {
				rest -= s.Gross
				weights[i] = int64(max(s.Gross, 0))
			}
		}
		if rest < 0 && slices.ContainsFunc(weights, func(w int64) bool { return w > 0 }) {
			for i, off := range money.Split(-rest, weights) {
				list[i].Gross -= off
			}
			continue
		}
		if rest != 0 {
			list = append(list, Stake{0, rule, rest})
		}
	}
	if m.rounded != 0 {
		list = append(list, Stake{0, roundRule, m.rounded})
	}
	return list
}

// A CreditPart is what a credit takes off one stake.
type CreditPart struct {
	Of       int             `json:"of"` // the order line, from 1; 0 for the whole order
	Percent  decimal.Decimal `json:"percent"`
	Added    bool            `json:"added,omitempty"`
	Exempt   string          `json:"exempt,omitempty"`
	Reversed bool            `json:"reversed,omitempty"`
	Gross    money.Amount    `json:"gross"`
}

func (p CreditPart) rule() TaxRule { return TaxRule{p.Percent, p.Added, p.Exempt, p.Reversed} }

// A Credit is what of an order is no longer charged, as a credit note says it:
// by order line, and by rate of tax.
type Credit struct {
	Parts []CreditPart `json:"parts"`
	Taxes []Tax        `json:"taxes"`
	Total money.Amount `json:"total"`
}

// Of gives what a credit takes off an order line, or off the whole order under
// 0.
func (c *Credit) Of(line int) money.Amount {
	var sum money.Amount
	for _, p := range c.Parts {
		if p.Of == line {
			sum += p.Gross
		}
	}
	return sum
}

// Share gives what a credit takes off an order line, or off the whole order under 0:
// with tax and without, each rate's rounded half up.
func (c *Credit) Share(line int) Share {
	var sum Share
	for _, p := range c.Parts {
		if p.Of == line {
			sum.Gross += p.Gross
			sum.Net += money.HalfUp.Round(decimal.NewFromInt(int64(p.Gross) * 100).Div(p.Percent.Add(decimal.NewFromInt(100))))
		}
	}
	return sum
}

// Credited is an order with what was credited of it so far.
type Credited struct {
	Stakes   []Stake
	Rounding money.Rounding
	left     []money.Amount // of each stake
}

// Credited looks at what of an order is left after earlier credits.
func (o *Order) Credited(before []Credit) *Credited {
	c := &Credited{Stakes: o.Stakes(), Rounding: o.Rounding}
	c.left = make([]money.Amount, len(c.Stakes))
	for i, s := range c.Stakes {
		c.left[i] = s.Gross
		for _, b := range before {
			for _, p := range b.Parts {
				if p.Of == s.Of && p.rule().same(s.Tax) {
					c.left[i] -= p.Gross
				}
			}
		}
	}
	return c
}

// Left gives what is still charged of an order line, or of the whole order
// under 0.
func (c *Credited) Left(of int) money.Amount {
	var sum money.Amount
	for i, s := range c.Stakes {
		if s.Of == of {
			sum += c.left[i]
		}
	}
	return sum
}

// Total gives what is still charged of all of it.
func (c *Credited) Total() money.Amount {
	var sum money.Amount
	for _, n := range c.left {
		sum += n
	}
	return sum
}

// Spread splits an amount over all that is still charged, by largest remainder,
// into what is taken off each order line and the whole order.
func (c *Credited) Spread(amount money.Amount) map[int]money.Amount {
	var of []int
	var weights []int64
	for _, s := range c.Stakes {
		if n := c.Left(s.Of); n > 0 && !slices.Contains(of, s.Of) {
			of, weights = append(of, s.Of), append(weights, int64(n))
		}
	}
	off := map[int]money.Amount{}
	for i, n := range money.Split(max(min(amount, c.Total()), 0), weights) {
		if n > 0 {
			off[of[i]] = n
		}
	}
	return off
}

// Credit takes an amount off each order line named, and off the whole order
// under 0; no more than is left of it.
//
// The tax of each rate is what the rate's sum has less of it now than before.
// So what remains of the order is taxed as EN 16931 asks (BR-CO-17: the tax of a
// rate is that of its sum, rounded once), and credits that take all of an order
// take its tax to the cent, in however many steps.
func (c *Credited) Credit(off map[int]money.Amount) Credit {
	credit := Credit{Parts: []CreditPart{}, Taxes: []Tax{}}
	before := slices.Clone(c.left)
	taken := make([]money.Amount, len(c.Stakes))
	for of, n := range off {
		c.take(of, n, taken)
	}
	for i, s := range c.Stakes {
		n := taken[i]
		if n == 0 {
			continue
		}
		c.left[i] -= n
		credit.Total += n
		credit.Parts = append(credit.Parts, CreditPart{s.Of, s.Tax.Percent, s.Tax.Added, s.Tax.Exempt, s.Tax.Reversed, n})
	}
	for i, s := range c.Stakes {
		if slices.IndexFunc(c.Stakes, func(o Stake) bool { return o.Tax.same(s.Tax) }) < i {
			continue // the rate is done
		}
		was, is := c.sum(s.Tax, before), c.sum(s.Tax, c.left)
		if was == is || s.Tax.same(roundRule) {
			continue
		}
		t := Tax{Percent: s.Tax.Percent, Added: s.Tax.Added, Exempt: s.Tax.Exempt, Reversed: s.Tax.Reversed, Gross: was - is}
		t.Amount = c.taxOf(s.Tax, was) - c.taxOf(s.Tax, is)
		t.Net = t.Gross - t.Amount
		credit.Taxes = append(credit.Taxes, t)
	}
	return credit
}

// take splits what is taken off a line, or off the whole order, over its rates by
// what is left of each.
func (c *Credited) take(of int, n money.Amount, taken []money.Amount) {
	left := c.Left(of)
	if n <= 0 {
		return
	}
	weights := make([]int64, len(c.Stakes))
	for i, s := range c.Stakes {
		if s.Of != of {
			continue
		}
		weights[i] = int64(max(c.left[i], 0))
		if n >= left {
			taken[i] = c.left[i] // also what lies below zero
		}
	}
	if n >= left {
		return
	}
	for i, part := range money.Split(n, weights) {
		if c.Stakes[i].Of == of {
			taken[i] = part
		}
	}
}

// sum adds up what stakes of a rate have left.
func (c *Credited) sum(rule TaxRule, left []money.Amount) money.Amount {
	var sum money.Amount
	for i, s := range c.Stakes {
		if s.Tax.same(rule) {
			sum += left[i]
		}
	}
	return sum
}

// taxOf gives the tax in a sum with its tax.
func (c *Credited) taxOf(rule TaxRule, gross money.Amount) money.Amount {
	if rule.Reversed {
		return 0
	}
	return c.Rounding.Contained(gross, rule.Percent)
}
