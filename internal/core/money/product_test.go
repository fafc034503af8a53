package money

import (
	"encoding/json"
	"errors"
	"math/big"
	"math/rand/v2"
	"testing"

	"github.com/shopspring/decimal"
)

// Source: math/big's rationals. However many factors there are and in whatever
// order, a product is rounded once, at its end.
func TestProductsAgreeWithRationals(t *testing.T) {
	r := rand.New(rand.NewPCG(61, 62))
	for range 4000 {
		a := Amount(r.Int64N(20_000_000) - 10_000_000)
		if r.IntN(50) == 0 {
			a = Amount(r.Int64N(int64(Largest)))
		}
		type factor struct {
			count   Count
			percent decimal.Decimal
			per     bool
		}
		var all []factor
		exact := new(big.Rat).SetInt64(int64(a))
		for range r.IntN(5) {
			f := factor{count: Whole(r.Int64N(30))}
			switch r.IntN(3) {
			case 0:
				f.count = Count(r.Int64N(40_000_000))
			case 1:
				f.per, f.percent = true, decimal.New(r.Int64N(3_000_000), -int32(r.IntN(7)))
			}
			if f.per {
				exact.Mul(exact, f.percent.Rat()).Quo(exact, big.NewRat(100, 1))
			} else {
				exact.Mul(exact, big.NewRat(int64(f.count), int64(One)))
			}
			all = append(all, f)
		}
		for range 2 {
			p := a.Exactly()
			for _, f := range all {
				if f.per {
					p = p.Percent(f.percent)
				} else {
					p = p.Times(f.count)
				}
			}
			double := new(big.Rat).Add(exact, exact)
			for _, rounding := range []Rounding{HalfUp, HalfEven} {
				got, ok := rounding.Product(p)
				if want, within := roundRat(exact, rounding); got != want || ok != within {
					t.Fatalf("%d of %+v is %d (%t), want %d (%t)", a, all, got, ok, want, within)
				}
				got, ok = rounding.Product(p.Plus(p))
				if want, within := roundRat(double, rounding); got != want || ok != within {
					t.Fatalf("twice %d of %+v is %d, want %d", a, all, got, want)
				}
			}
			if !p.Minus(p).IsZero() || p.Cmp(p.Plus(Amount(1).Exactly())) != -1 || p.Plus(Amount(1).Exactly()).Cmp(p) != 1 || p.Cmp(p) != 0 {
				t.Fatalf("%d of %+v does not compare", a, all)
			}
			r.Shuffle(len(all), func(i, k int) { all[i], all[k] = all[k], all[i] })
		}
	}
}

func roundRat(x *big.Rat, r Rounding) (Amount, bool) {
	half := big.NewRat(1, 2)
	up := new(big.Rat).Add(new(big.Rat).Abs(x), half)
	q := new(big.Int).Quo(up.Num(), up.Denom())
	if r == HalfEven && up.IsInt() && q.Bit(0) == 1 {
		q.Sub(q, big.NewInt(1))
	}
	n, ok := int64(Largest), q.IsInt64() && q.Int64() <= int64(Largest)
	if ok {
		n = q.Int64()
	}
	if x.Sign() < 0 {
		n = -n
	}
	return Amount(n), ok
}

// The two products that were found rounded on their way: a count of hours, and
// three units at a share of a price.
func TestAProductIsRoundedOnce(t *testing.T) {
	half := CountOf(dec("1.5"))
	one, _ := HalfUp.Product(Amount(35).Exactly().Times(half).Times(Whole(3)))
	other, _ := HalfUp.Product(Amount(35).Exactly().Times(Whole(3)).Times(half))
	share, _ := HalfUp.Product(Amount(33_33).Exactly().Percent(dec("35")).Times(Whole(3)))
	if one != 158 || other != 158 || share != 35_00 {
		t.Errorf("0.35 × 1.5 × 3 is %d and %d, 3 × 35 %% of 33.33 is %d", one, other, share)
	}
}

func TestFineAmounts(t *testing.T) {
	for given, want := range map[string]struct {
		f    Fine
		json string
	}{"1850": {1850 * whole, "1850"}, "0.4": {400_000, "0.4"}, "-12.000001": {-12_000_001, "-12.000001"}, "1e3": {1000 * whole, "1000"}} {
		var f Fine
		if err := json.Unmarshal([]byte(given), &f); err != nil || f != want.f {
			t.Errorf("%s reads as %d: %v", given, f, err)
		}
		if out, err := json.Marshal(f); err != nil || string(out) != want.json {
			t.Errorf("%s is written %s: %v", given, out, err)
		}
	}
	var f Fine
	if err := f.UnmarshalJSON([]byte("0.0000004")); !errors.Is(err, ErrFine) {
		t.Error("a digit too many passes", err)
	}
	if err := f.UnmarshalJSON([]byte(`"x"`)); !errors.Is(err, ErrAmount) {
		t.Error("what is no number passes", err)
	}
	if err := f.UnmarshalJSON([]byte("1e300")); err != nil || f.Amount(HalfUp) != Largest || f <= Largest.Fine() {
		t.Error("what is too large is not told apart", f, err)
	}
	sum, _ := HalfUp.Product(Fine(400_000).Exactly().Times(Whole(7)))
	if sum != 3 || Fine(400_000).Ceil() != 1 || Fine(2*whole).Ceil() != 2 || Fine(400_000).Amount(HalfUp) != 0 || !Amount(7).Fine().Decimal().Equal(dec("7")) {
		t.Errorf("0.4 × 7 is %d", sum)
	}
}
