package charge

import "ruvo/internal/core/money"

// mostRound is the coarsest step to which totals are rounded, in minor units.
const mostRound money.Amount = 100_00

// roundRule marks what a total is rounded by among what is taxed: it is no part
// of what is sold, and no tax is in it (EN 16931, BT-114, the rounding amount).
var roundRule = TaxRule{Exempt: "rounding"}

// nearest gives the nearest multiple of a step to an amount, the one further
// from zero where two are as near.
func nearest(a, step money.Amount) money.Amount {
	if step <= 1 {
		return a
	}
	sign := money.Amount(1)
	if a < 0 {
		a, sign = -a, -1
	}
	return sign * ((2*a + step) / (2 * step) * step)
}

// round rounds the total to what can be paid in cash, in a row of its own.
func (m *totalling) round() {
	if d := nearest(m.slip.Total, m.Terms.RoundTo) - m.slip.Total; d != 0 {
		m.rounded = d
		m.slip.Lines = append(m.slip.Lines, Line{Part: PartRound, Reasons: []Reason{{Code: whyRound, Amount: m.Terms.RoundTo.Fine()}}, Amount: d})
		m.slip.Total += d
	}
}
