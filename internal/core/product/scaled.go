package product

import (
	"slices"

	"ruvo/internal/core/money"
	"ruvo/internal/core/workplan"

	"github.com/shopspring/decimal"
)

// scaledAmounts are the amounts that are prices: what customers pay, not what things
// cost, what is held, or what answers are compared with.
var scaledAmounts = []string{"price", "band", "other", "rate", "difference", "fixed_price", "bundle", "round", "least_price", "most_price"}

// Scaled gives a draft with all of its prices so many per cent larger. Formulas stay as
// they are; left tells how many there are.
func (d Draft) Scaled(percent int) (next Draft, left int) {
	next = d.copied()
	by := decimal.NewFromInt(int64(100 + percent)).Div(decimal.NewFromInt(100))
	next.eachAmount(func(at AmountAt, a *money.Amount, fine *money.Fine, f *string) {
		switch {
		case f != nil:
			left++
		case !slices.Contains(scaledAmounts, at.what):
		case fine != nil:
			*fine = money.Fine(d.Rounding.Round(decimal.NewFromInt(int64(*fine)).Mul(by)))
		default:
			*a = d.Rounding.Round(decimal.NewFromInt(int64(*a)).Mul(by))
		}
	})
	return next, left
}

// Timed gives a draft in which a step has other minutes; false where it has no such
// step of its own.
func (d Draft) Timed(key workplan.StepKey, m workplan.Minutes) (Draft, bool) {
	d.Steps = slices.Clone(d.Steps)
	for i := range d.Steps {
		if d.Steps[i].Key == key && d.Steps[i].Sheet == 0 {
			d.Steps[i].Minutes = m
			return d, true
		}
	}
	return d, false
}

// Slower gives a draft in which all steps take so many per cent longer.
func (d Draft) Slower(percent int) Draft {
	d.Steps = slices.Clone(d.Steps)
	scaled := func(n int) int { return max((n*(100+percent)+50)/100, 0) }
	for i := range d.Steps {
		m := &d.Steps[i].Minutes
		m.Fixed, m.Unit, m.Each = scaled(m.Fixed), scaled(m.Unit), scaled(m.Each)
		m.Choices = slices.Clone(m.Choices)
		for k := range m.Choices {
			m.Choices[k].Minutes = scaled(m.Choices[k].Minutes)
		}
	}
	return d
}
