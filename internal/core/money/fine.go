package money

import (
	"errors"
	"strconv"

	"github.com/shopspring/decimal"
)

// A Fine is an amount for one of what is counted, in millionths of a minor unit,
// as it can lie below the smallest coin: 0.004 for a second is 400_000 of a
// currency with two digits. In JSON it is a number of minor units: 0.4.
type Fine int64

// What can be wrong with one in JSON.
var (
	ErrAmount = errors.New("no number of minor units")
	ErrFine   = errors.New("an amount has at most six digits after those of the smallest coin")
)

// whole is one minor unit.
const whole Fine = 1_000_000

// Fine gives the amount as one that can be finer.
func (a Amount) Fine() Fine { return Fine(a) * whole }

// Whole gives whole minor units, if it is so many.
func (f Fine) Whole() (Amount, bool) { return Amount(f / whole), f%whole == 0 }

// Exactly gives it as a product of no factors yet.
func (f Fine) Exactly() Product {
	if f%whole == 0 {
		return Product{num: int64(f / whole), den: 1}
	}
	return Product{num: int64(f), den: int64(whole)}
}

// Amount rounds to whole minor units.
func (f Fine) Amount(r Rounding) Amount {
	a, _ := r.Product(f.Exactly())
	return a
}

// Ceil gives the next whole minor unit that is not below it.
func (f Fine) Ceil() Amount {
	a := Amount(f / whole)
	if f%whole > 0 {
		a++
	}
	return a
}

// Decimal gives it in minor units.
func (f Fine) Decimal() decimal.Decimal {
	if f%whole == 0 {
		return decimal.New(int64(f/whole), 0)
	}
	return decimal.New(int64(f), -6)
}

// MarshalJSON writes minor units.
func (f Fine) MarshalJSON() ([]byte, error) {
	if f%whole == 0 {
		return strconv.AppendInt(nil, int64(f/whole), 10), nil
	}
	return []byte(f.Decimal().String()), nil
}

// UnmarshalJSON reads minor units, with up to six digits after the point.
func (f *Fine) UnmarshalJSON(b []byte) error {
	if string(b) == "null" {
		return nil
	}
	d, err := decimal.NewFromString(string(b))
	switch {
	case err != nil || len(b) > 40:
		return ErrAmount
	case !d.Equal(d.Truncate(6)):
		return ErrFine
	case d.Abs().GreaterThan(decimal.New(int64(Largest), 0)):
		// Told apart from what is too large for an amount by whoever takes it.
		d = decimal.New(int64(d.Sign())*(int64(Largest)+1), 0)
	}
	*f = Fine(d.Shift(6).IntPart())
	return nil
}
