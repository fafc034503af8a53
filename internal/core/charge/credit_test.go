package charge

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
)

func (c Credit) String() string {
	var b strings.Builder
	for _, p := range c.Parts {
		fmt.Fprintf(&b, "%d: %d; ", p.Of, p.Gross)
	}
	for _, t := range c.Taxes {
		fmt.Fprintf(&b, "%s%%: %d + %d; ", t.Percent, t.Net, t.Amount)
	}
	return b.String() + fmt.Sprint(c.Total)
}

// What is taken off a paid order, by line and by rate, reckoned by hand.
func TestCredit(t *testing.T) {
	for _, c := range []struct {
		name string
		o    *Order
		with func(*Order)
		off  map[int]money.Amount
		want string
	}{
		{"a line", order(line(1, "19", base(11900)), line(2, "7", base(10700))), nil, map[int]money.Amount{2: 10700}, "2: 10700; 7%: 10000 + 700; 10700"},
		{"part of a line", order(line(1, "19", base(11900))), nil, map[int]money.Amount{1: 1190}, "1: 1190; 19%: 1000 + 190; 1190"},
		{"no more than is left", order(line(1, "19", base(11900))), nil, map[int]money.Amount{1: 99999}, "1: 11900; 19%: 10000 + 1900; 11900"},
		{"nothing", order(line(1, "19", base(11900))), nil, map[int]money.Amount{1: 0}, "0"},
		{"with a coupon off both lines", order(line(1, "19", base(6000)), line(2, "19", base(4000))), func(o *Order) {
			o.Coupons = []Coupon{{Code: "TEN", Portion: Portion{Percent: percent("10")}}}
		}, map[int]money.Amount{1: 9999}, "1: 5400; 19%: 4538 + 862; 5400"},
		{"what is taken off the whole is shared by the lines", order(line(1, "19", base(6000)), line(2, "19", base(4000))), func(o *Order) {
			o.Terms.Charges = []OrderCharge{{Label: "Off", Effect: TakesOff, Portion: Portion{Amount: amount(500)}, Tax: decimal.NewFromInt(19)}}
		}, map[int]money.Amount{1: 9999}, "1: 5700; 19%: 4790 + 910; 5700"},
		{"the tip belongs to the whole", order(line(1, "19", base(1000))), func(o *Order) {
			o.Terms.Tip, o.Tip = &Tip{Label: "For the team"}, 200
		}, map[int]money.Amount{0: 200}, "0: 200; 0%: 200 + 0; 200"},
		{"the buyer owes the tax", order(line(1, "19", base(11900))), func(o *Order) { o.Reversed = true }, map[int]money.Amount{1: 99999}, "1: 10000; 0%: 10000 + 0; 10000"},
	} {
		if c.with != nil {
			c.with(c.o)
		}
		if got := c.o.Credited(nil).Credit(c.off).String(); got != c.want {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
	}
}

// Credit notes against EN 16931 (as remembered): net and tax add up to the
// amount with tax (BR-CO-15), and the tax of a rate is the rounded share of its
// net amount (BR-CO-17). The first credit of an order keeps both exactly, and so
// does what remains of the order.
func TestCreditsAgreeWithEN16931(t *testing.T) {
	r := rand.New(rand.NewPCG(51, 52))
	for range 5000 {
		o := someOrder(r)
		c := o.Credited(nil)
		first := c.Credit(c.Spread(money.Amount(r.Int64N(int64(c.Total()) + 1))))
		var sum money.Amount
		for _, x := range first.Taxes {
			if x.Net+x.Amount != x.Gross {
				t.Fatalf("%s does not add up", first)
			}
			// The tax lies within one cent of the share of the net amount, and of a
			// rate's sum that is left it is exact.
			if off := money.HalfUp.Percent(x.Net, x.Percent) - x.Amount; !x.Reversed && (off < -1 || off > 1) {
				t.Fatalf("the tax of %s is %d off", first, off)
			}
			sum += x.Gross
		}
		for _, p := range first.Parts { // the rounding amount is in no rate (BT-114)
			if p.rule().same(roundRule) {
				sum += p.Gross
			}
		}
		if sum != first.Total {
			t.Fatalf("the rates of %s come to %d", first, sum)
		}
		for _, x := range o.Make().Taxes { // what remains
			rule := TaxRule{x.Percent, x.Added, x.Exempt, x.Reversed}
			tax := x.Amount
			for _, y := range first.Taxes {
				if rule.same(TaxRule{y.Percent, y.Added, y.Exempt, y.Reversed}) {
					tax -= y.Amount
				}
			}
			if want := c.taxOf(rule, c.sum(rule, c.left)); tax != want {
				t.Fatalf("after %s what remains at %s %% has a tax of %d, want %d", first, x.Percent, tax, want)
			}
		}
	}
}

// someOrder makes an order of some lines at several rates, with what an order
// can have beside them.
func someOrder(r *rand.Rand) *Order {
	o := order()
	added := r.IntN(3) == 0
	rate := func() string { return []string{"0", "5.5", "7", "19", "25"}[r.IntN(5)] }
	for i := range 1 + r.IntN(4) {
		l := line(int64(i+1), rate(), base(money.Amount(r.Int64N(20000))))
		l.Tax.Added = added
		if r.IntN(3) == 0 { // an extra at a rate of its own
			l.Slip.Lines = append(l.Slip.Lines, Line{Part: PartExtra, Label: "Meal", Amount: money.Amount(r.Int64N(6000)), Tax: percent([]string{"7", "10"}[r.IntN(2)])})
		}
		o.Lines = append(o.Lines, l)
	}
	if r.IntN(2) == 0 {
		o.Coupons = []Coupon{{Code: "OFF", Portion: Portion{Percent: percent("12.5")}}}
	}
	if r.IntN(2) == 0 {
		o.Terms.Charges = []OrderCharge{{Label: "C", Effect: []Effect{Adds, TakesOff}[r.IntN(2)], Portion: Portion{Amount: amount(r.Int64N(900))}, Tax: decimal.RequireFromString(rate())}}
	}
	if r.IntN(2) == 0 {
		o.Terms.Tip, o.Tip = &Tip{Label: "Tip", Tax: decimal.RequireFromString(rate())}, money.Amount(r.Int64N(1000))
	}
	o.Reversed = r.IntN(4) == 0
	if r.IntN(3) == 0 {
		o.Terms.RoundTo = []money.Amount{5, 10, 50}[r.IntN(3)]
	}
	return o
}

// In however many steps and in whatever order all of an order is credited, it
// comes to its total and to the tax of each of its rates, to the cent.
func TestCreditsAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(53, 54))
	for range 5000 {
		o := someOrder(r)
		slip := o.Make()
		var stakes money.Amount
		for _, s := range o.Stakes() {
			stakes += s.Gross
		}
		if stakes != slip.Total {
			t.Fatalf("the stakes of %s come to %d", print(slip), stakes)
		}
		var before []Credit
		total := money.Amount(0)
		taxes := map[string]money.Amount{}
		note := func(c Credit) {
			if c.Total < 0 || c.Total > slip.Total-total {
				t.Fatalf("%s of an order of which %d is left", c, slip.Total-total)
			}
			before, total = append(before, c), total+c.Total
			for _, x := range c.Taxes {
				taxes[x.Percent.String()] += x.Amount
			}
		}
		for range r.IntN(4) {
			c := o.Credited(before)
			if r.IntN(2) == 0 {
				note(c.Credit(c.Spread(money.Amount(r.Int64N(9000)))))
				continue
			}
			of := r.IntN(len(o.Lines)) + 1
			if c.Left(of) <= c.Total() { // what lies below zero elsewhere is not asked back
				note(c.Credit(map[int]money.Amount{of: money.Amount(r.Int64N(int64(max(c.Left(of), 0)) + 1))}))
			}
		}
		c := o.Credited(before)
		rest := map[int]money.Amount{}
		for _, s := range c.Stakes {
			rest[s.Of] = money.Largest
		}
		if again := o.Credited(before).Credit(maps.Clone(rest)); again.Total != c.Total() {
			t.Fatalf("all that is left of %s is %d, and %s was credited", print(slip), c.Total(), again)
		}
		note(c.Credit(rest))
		if total != slip.Total || o.Credited(before).Total() != 0 {
			t.Fatalf("%d of %d were credited", total, slip.Total)
		}
		for _, x := range slip.Taxes {
			if !slices.ContainsFunc(slip.Taxes, func(y Tax) bool { return y.Percent.Equal(x.Percent) && y != x && (y.Reversed || x.Reversed) }) && taxes[x.Percent.String()] != x.Amount {
				t.Fatalf("of a tax of %d at %s %% %d were credited: %s", x.Amount, x.Percent, taxes[x.Percent.String()], print(slip))
			}
		}
	}
}
