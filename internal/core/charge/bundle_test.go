package charge

import (
	"math/rand/v2"
	"testing"

	"ruvo/internal/core/money"
)

// set is an order of a form with what is taken under it.
func set(b *Bundle, lines ...OrderLine) *Order {
	form := line(1, "19", base(0))
	form.Bundle = b
	for i := range lines {
		lines[i].Of = 1
	}
	return order(append([]OrderLine{form}, lines...)...)
}

func several(product int64, tax string, units int, price money.Amount) OrderLine {
	l := line(product, tax, base(price*money.Amount(units)))
	l.Quantity = units
	return l
}

// A worked example, common practice with no source: a book at 7 % and a lamp at
// 19 % for 20.00 and 30.00 cost 40.00 together. The 10.00 less are split as 4.00
// and 6.00, so that 16.00 are taxed at 7 % and 24.00 at 19 %.
func TestABundleIsSplitForTax(t *testing.T) {
	b := &Bundle{Price: 40_00, Label: "Evening set", Products: []int64{2, 3}}
	s := set(b, several(2, "7", 1, 20_00), several(3, "19", 1, 30_00)).Make()
	if got, want := print(s), "Base 20.00; Base 30.00; Evening set −10.00 (together 40.00 instead of 50.00); 40.00"; got != want {
		t.Errorf("\n got %s\nwant %s", got, want)
	}
	if len(s.Taxes) < 2 || s.Taxes[0].Gross != 24_00 || s.Taxes[1].Gross != 16_00 || s.Taxes[0].Amount != 3_83 || s.Taxes[1].Amount != 1_05 {
		t.Errorf("%+v", s.Taxes)
	}
	// One more of a product keeps its price, what answers add comes on top, and
	// half a set is none.
	lamp := several(3, "19", 2, 30_00)
	lamp.Slip.Lines = append(lamp.Slip.Lines, extra(5_00))
	if s := set(b, several(2, "7", 1, 20_00), lamp).Make(); s.Total != 75_00 {
		t.Errorf("%s", print(s))
	}
	if s := set(b, several(2, "7", 2, 20_00)).Make(); s.Total != 40_00 {
		t.Errorf("%s", print(s))
	}
	if s := set(b, several(2, "7", 2, 20_00), several(3, "19", 2, 30_00)).Make(); s.Total != 80_00 {
		t.Errorf("%s", print(s))
	}
	dear := &Bundle{Price: 60_00, Products: []int64{2, 3}}
	if s := set(dear, several(2, "7", 1, 20_00), several(3, "19", 1, 30_00)).Make(); s.Total != 50_00 {
		t.Errorf("together it costs more: %s", print(s))
	}
}

// Whatever products cost, a set costs its price to the cent, and a coupon takes
// its share of what is left.
func TestBundlesAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(71, 72))
	for range 3000 {
		var lines []OrderLine
		b := &Bundle{}
		sum := money.Amount(0)
		for p := int64(2); p < 3+r.Int64N(4); p++ {
			price := money.Amount(r.Int64N(5000))
			lines, b.Products, sum = append(lines, several(p, []string{"0", "7", "19"}[r.IntN(3)], 1, price)), append(b.Products, p), sum+price
		}
		b.Price = money.Amount(r.Int64N(int64(sum) + 1))
		o := set(b, lines...)
		if s := o.Make(); s.Total != b.Price {
			t.Fatalf("%s instead of %d", print(s), b.Price)
		}
		var stakes money.Amount
		for _, s := range o.Stakes() {
			if stakes += s.Gross; s.Gross < 0 {
				t.Fatalf("a stake of %d", s.Gross)
			}
		}
		if stakes != b.Price {
			t.Fatalf("stakes of %d instead of %d", stakes, b.Price)
		}
		o.Coupons = []Coupon{{Code: "HALF", Portion: Portion{Percent: percent("50")}}}
		if s := o.Make(); s.Total != b.Price-money.HalfUp.Percent(b.Price, *percent("50")) {
			t.Fatalf("%s", print(s))
		}
	}
}
