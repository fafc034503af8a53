package charge

import (
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// Limits hold what a whole order line costs within a least and a most. What
// customers set themselves counts toward the least and is never cut.
type Limits struct {
	Least      *money.Amount `json:"least,omitempty"`
	LeastLabel string        `json:"least_label,omitempty"` // the slip's words for what is missing to it
	Most       *money.Amount `json:"most,omitempty"`
	MostLabel  string        `json:"most_label,omitempty"`
}

// Validate says what is wrong with them.
func (l Limits) Validate() error {
	switch {
	case !amountIn(l.Least) || !amountIn(l.Most) || l.Least != nil && l.Most != nil && *l.Least > *l.Most:
		return words.Tell("charge.least_must_not_below_zero")
	case len(l.LeastLabel) > 200 || len(l.MostLabel) > 200:
		return words.Tell("charge.limit_label_too_long")
	case l.LeastLabel != "" && l.Least == nil || l.MostLabel != "" && l.Most == nil:
		return words.Tell("charge.limit_label_without_limit")
	}
	return nil
}

// limit adds what is missing to the least price of the line, or takes off what
// lies beyond the most. What costs nothing at all stays free.
func (m *making) limit() {
	l := m.Limits
	switch total := m.slip.Total; {
	case l.Least != nil && total > 0 && total < *l.Least:
		m.add(Line{Part: PartLimit, Label: l.LeastLabel, Reasons: []Reason{{Code: whyLimitLeast, Amount: l.Least.Fine()}}, Amount: *l.Least - total})
	case l.Most != nil && total-m.given > *l.Most:
		m.add(Line{Part: PartLimit, Label: l.MostLabel, Reasons: []Reason{{Code: whyLimitMost, Amount: l.Most.Fine()}}, Amount: *l.Most - (total - m.given)})
	}
}
