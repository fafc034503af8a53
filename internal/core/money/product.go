package money

import (
	"math/big"
	"math/bits"

	"github.com/shopspring/decimal"
)

// A Product is an amount times factors and the sum of such products, in minor
// units, exact until it is rounded. The order of its factors does not matter.
type Product struct {
	num, den int64 // den is above zero
	wide     *big.Rat
}

// Exactly gives the amount as a product of no factors yet.
func (a Amount) Exactly() Product { return Product{num: int64(a), den: 1} }

// ProductOf gives a decimal number of minor units.
func ProductOf(d decimal.Decimal) Product {
	if c, unit, ok := parts(d); ok {
		return Product{num: 1, den: 1}.over(c, unit)
	}
	return Product{wide: d.Rat()}
}

// Times multiplies by a count.
func (p Product) Times(n Count) Product {
	if n%One == 0 {
		return p.over(int64(n/One), 1)
	}
	return p.over(int64(n), int64(One))
}

// Share takes n of so many equal parts, of which there is at least one.
func (p Product) Share(n, parts int) Product { return p.over(int64(n), int64(parts)) }

// Percent takes so many per cent.
func (p Product) Percent(percent decimal.Decimal) Product {
	if c, unit, ok := parts(percent); ok {
		return p.over(c, 100*unit)
	}
	r := p.rat()
	return Product{wide: r.Mul(r, percent.Shift(-2).Rat())}
}

// Plus adds.
func (p Product) Plus(q Product) Product {
	if p.wide == nil && q.wide == nil {
		if p.den == q.den {
			if s := p.num + q.num; s > -beyond && s < beyond {
				return Product{num: s, den: p.den}
			}
		} else {
			a, ok := times(p.num, q.den)
			b, ok2 := times(q.num, p.den)
			den, ok3 := times(p.den, q.den)
			if s := a + b; ok && ok2 && ok3 && s > -beyond && s < beyond {
				return Product{num: s, den: den}
			}
		}
	}
	r := p.rat()
	return Product{wide: r.Add(r, q.rat())}
}

// Minus subtracts.
func (p Product) Minus(q Product) Product { return p.Plus(q.over(-1, 1)) }

// Cmp compares two products: −1, 0 or 1.
func (p Product) Cmp(q Product) int {
	if p.wide == nil && q.wide == nil {
		a, ok := times(p.num, q.den)
		b, ok2 := times(q.num, p.den)
		if ok && ok2 {
			switch {
			case a < b:
				return -1
			case a > b:
				return 1
			}
			return 0
		}
	}
	return p.rat().Cmp(q.rat())
}

// IsZero says whether it comes to nothing.
func (p Product) IsZero() bool {
	if p.wide != nil {
		return p.wide.Sign() == 0
	}
	return p.num == 0
}

// Decimal gives the product in minor units, to six digits after the point.
func (p Product) Decimal() decimal.Decimal {
	if p.wide == nil && p.den == 1 {
		return decimal.New(p.num, 0)
	}
	r := p.rat()
	return decimal.NewFromBigInt(r.Num(), 0).DivRound(decimal.NewFromBigInt(r.Denom(), 0), 6)
}

// Fine gives the product to a millionth of a minor unit.
func (p Product) Fine() Fine {
	if p.wide == nil && p.den == 1 && p.num <= 2*int64(Largest) && p.num >= -2*int64(Largest) {
		return Fine(p.num) * whole
	}
	if p.wide == nil {
		return Fine(HalfUp.share(p.num, int64(whole), p.den))
	}
	return Fine(min(max(p.Decimal().Shift(6).IntPart(), -2*int64(Largest.Fine())), 2*int64(Largest.Fine())))
}

// Product rounds to whole minor units. It is not ok when that lies beyond
// Largest; the amount is Largest then, with the product's sign.
func (r Rounding) Product(p Product) (a Amount, ok bool) {
	if p.wide == nil {
		n := p.num
		if p.den != 1 {
			n = r.share(p.num, 1, p.den)
		}
		a = hold(n)
		return a, int64(a) == n
	}
	num, den := new(big.Int).Abs(p.wide.Num()), p.wide.Denom()
	q, rest := new(big.Int).QuoRem(num, den, new(big.Int))
	switch rest.Lsh(rest, 1).Cmp(den) {
	case 1:
		q.Add(q, big.NewInt(1))
	case 0:
		if r != HalfEven || q.Bit(0) == 1 {
			q.Add(q, big.NewInt(1))
		}
	}
	a, ok = Largest, q.IsInt64() && q.Int64() <= int64(Largest)
	if ok {
		a = Amount(q.Int64())
	}
	if p.wide.Sign() < 0 {
		a = -a
	}
	return a, ok
}

// over multiplies by n and divides by d, which is above zero.
func (p Product) over(n, d int64) Product {
	if p.wide == nil {
		if d != 1 {
			g := gcd(n, d)
			n, d = n/g, d/g
			if g = gcd(p.num, d); g != 1 {
				p.num, d = p.num/g, d/g
			}
		}
		if p.den != 1 {
			if g := gcd(n, p.den); g != 1 {
				n, p.den = n/g, p.den/g
			}
		}
		num, ok := times(p.num, n)
		den, ok2 := times(p.den, d)
		if ok && ok2 {
			return Product{num: num, den: den}
		}
	}
	r := p.rat()
	return Product{wide: r.Mul(r, big.NewRat(n, d))}
}

// rat gives a fraction of its own.
func (p Product) rat() *big.Rat {
	if p.wide != nil {
		return new(big.Rat).Set(p.wide)
	}
	return big.NewRat(p.num, max(p.den, 1))
}

// times multiplies if nothing is lost.
func times(a, b int64) (int64, bool) {
	neg := false
	if a < 0 {
		a, neg = -a, true
	}
	if b < 0 {
		b, neg = -b, !neg
	}
	hi, lo := bits.Mul64(uint64(a), uint64(b))
	if hi != 0 || lo >= uint64(beyond) {
		return 0, false
	}
	if neg {
		return -int64(lo), true
	}
	return int64(lo), true
}

func gcd(a, b int64) int64 {
	if a < 0 {
		a = -a
	}
	for b != 0 {
		a, b = b, a%b
	}
	return max(a, 1)
}
