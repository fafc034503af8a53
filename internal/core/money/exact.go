package money

import (
	"math"
	"math/bits"

	"github.com/shopspring/decimal"
)

// A Count is how many of something are charged, in millionths: 2.5 hours are
// 2_500_000. What is finer than a millionth does not count.
type Count int64

// One is the count of a single piece.
const One Count = 1_000_000

// most bounds a count; whatever lies beyond is held at it.
const most = int64(Largest) / 100

// Whole gives the count of so many whole pieces.
func Whole(n int64) Count { return Count(min(max(n, -most), most)) * One }

// CountOf gives the count of a decimal number.
func CountOf(d decimal.Decimal) Count {
	if d.Exponent() == 0 && d.NumDigits() < 12 {
		return Whole(d.CoefficientInt64())
	}
	if d.Abs().GreaterThan(decimal.NewFromInt(most)) {
		return Whole(int64(d.Sign()) * most)
	}
	return Count(d.Shift(6).IntPart())
}

// Decimal gives the count as a decimal number.
func (c Count) Decimal() decimal.Decimal {
	if c%One == 0 {
		return decimal.NewFromInt(int64(c / One))
	}
	return decimal.New(int64(c), -6)
}

// Times multiplies two counts and holds the product within what a count can be.
func (c Count) Times(n Count) Count {
	if n == One {
		return c
	}
	p := HalfUp.share(int64(c), int64(n), int64(One))
	return Count(min(max(p, -most*int64(One)), most*int64(One)))
}

// Each gives an amount for each of so many pieces, rounded.
func (r Rounding) Each(a Amount, n Count) Amount {
	if n%One == 0 {
		return a.Times(int64(n / One))
	}
	return hold(r.share(int64(a), int64(n), int64(One)))
}

// Percent gives the rounded share of an amount.
func (r Rounding) Percent(a Amount, percent decimal.Decimal) Amount {
	if c, unit, ok := parts(percent); ok {
		return hold(r.share(int64(a), c, 100*unit))
	}
	return r.Round(decimal.NewFromInt(int64(a)).Mul(percent).Shift(-2))
}

// Contained gives the part that a percentage on top of something else has in
// the sum of both: the tax of 19 per cent in 119 is 19.
func (r Rounding) Contained(sum Amount, percent decimal.Decimal) Amount {
	if c, unit, ok := parts(percent); ok {
		return hold(r.share(int64(sum), c, 100*unit+c))
	}
	return r.Round(decimal.NewFromInt(int64(sum)).Mul(percent).DivRound(hundred.Add(percent), 12))
}

var hundred = decimal.NewFromInt(100)

// parts gives a small decimal number as a whole number and its unit.
func parts(d decimal.Decimal) (c, unit int64, ok bool) {
	e := d.Exponent()
	if e > 0 || e < -9 || d.NumDigits() > 14 {
		return 0, 0, false
	}
	for unit = 1; e < 0; e++ {
		unit *= 10
	}
	return d.CoefficientInt64(), unit, true
}

// share gives a × b ÷ c, rounded, without losing anything on the way.
func (r Rounding) share(a, b, c int64) int64 {
	sign := int64(1)
	for _, x := range []*int64{&a, &b} {
		if *x < 0 {
			*x, sign = -*x, -sign
		}
	}
	hi, lo := bits.Mul64(uint64(a), uint64(b))
	if hi >= uint64(c) {
		return sign * beyond
	}
	q, rest := bits.Div64(hi, lo, uint64(c))
	if q >= uint64(beyond) {
		return sign * beyond
	}
	switch half := uint64(c) - rest; {
	case rest > half, rest == half && rest > 0 && (r != HalfEven || q%2 == 1):
		q++
	}
	return sign * int64(q)
}

// beyond is larger than any amount and any count.
const beyond = math.MaxInt64 / 2

func hold(n int64) Amount { return Amount(min(max(n, -int64(Largest)), int64(Largest))) }
