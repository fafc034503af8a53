package charge

import (
	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
)

// A Portion is how much of a price something is: an amount, or per cent of it.
// It has exactly one of its fields set.
type Portion struct {
	Amount  *money.Amount    `json:"amount,omitempty"` // in minor units
	Percent *decimal.Decimal `json:"percent,omitempty"`
}

// decided says whether one of the fields is set, and only one.
func (p Portion) decided() bool { return (p.Amount == nil) != (p.Percent == nil) }

// within says whether its amount can be a price, and its percentage is of a
// whole.
func (p Portion) within() bool {
	return amountIn(p.Amount) && (p.Percent == nil || percentIn(*p.Percent, 100))
}

// of gives the amount that it is of a price.
func (p Portion) of(price money.Amount, r money.Rounding) money.Amount {
	if p.Percent != nil {
		return r.Percent(price, *p.Percent)
	}
	return *p.Amount
}
