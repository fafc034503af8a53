package charge

import (
	"math/rand/v2"
	"testing"

	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// What customers give of their own will is never discounted, by no percentage,
// amount, charge of the order or coupon.
func TestNothingIsTakenOffWhatIsGiven(t *testing.T) {
	gift := Compiled{Charge: Charge{On: "gift", Effect: Adds, Rate: Rate{Answered: true}}, Wording: "For the fund"}
	take := func(r Rate) Compiled { return Compiled{Charge: Charge{Label: "Off", Effect: TakesOff, Rate: r}} }
	answers := question.Answers{"gift": question.Amount(5000), "price": question.Amount(8000)}
	for _, c := range []struct {
		name  string
		price money.Amount
		rules []Compiled
		want  string
	}{
		{"per cent of all so far", 2000, []Compiled{gift, take(Rate{Percent: percent("10")})}, "P 20.00; For the fund 50.00 (as you decided); Off −2.00 (10 % of 20.00); 68.00"},
		{"an amount larger than the price", 2000, []Compiled{gift, take(Rate{Amount: fine(4000)})}, "P 20.00; For the fund 50.00 (as you decided); Off −20.00 (no more than what is left to pay); 50.00"},
		{"a price that the customer sets", 2000, []Compiled{{Charge: Charge{On: "price", Effect: Sets, Rate: Rate{Answered: true}}}, take(Rate{Percent: percent("10")})}, "P 80.00; 80.00"},
		{"per cent of such a price alone", 2000, []Compiled{{Charge: Charge{On: "price", Effect: Sets, Rate: Rate{Answered: true}}}, take(Rate{Percent: percent("10"), OfBase: true})}, "P 80.00; 80.00"},
	} {
		p := &Pricing{Title: "P", Price: c.price, Currency: "EUR", Charges: c.rules}
		if got := print(p.Make(Input{Answers: answers, Quantity: 1, Day: today})); got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.name, got, c.want)
		}
	}
	o := order(line(1, "19", base(2000), given(5000)))
	o.Terms.Charges = []OrderCharge{{Label: "Off", Effect: TakesOff, Portion: Portion{Percent: percent("10")}}, {Label: "Card", Effect: Adds, Portion: Portion{Percent: percent("10")}}, {Label: "All", Effect: TakesOff, Portion: Portion{Amount: amount(9999)}}}
	if got, want := print(o.Make()), "Base 20.00; Given 50.00; Off −2.00 (10 % of 20.00); Card 2.00 (10 % of 20.00); All −20.00 (no more than what is left to pay); 50.00"; got != want {
		t.Errorf("got %s\nwant %s", got, want)
	}
}

// Neither the total of an order nor any part of it lies below zero, whatever is
// taken off, at whatever rates and in whatever parts it is taxed and paid; and
// each line's share is no less than nothing, all shares together the whole of
// what the lines cost.
func TestATotalNeverLiesBelowZero(t *testing.T) {
	r := rand.New(rand.NewPCG(71, 72))
	rates := []string{"19", "7", "0", "25"}
	cut := 0
	for range 5000 {
		o := order()
		added := r.IntN(2) == 0
		for i := range r.IntN(4) + 1 {
			l := line(int64(i), rates[r.IntN(4)], base(money.Amount(r.Int64N(3000))), given(money.Amount(r.Int64N(2))*700))
			l.Tax.Added = added
			if r.IntN(2) == 0 {
				l.Plan = &Parts{Portion: Portion{Percent: percent([]string{"0", "10", "50"}[r.IntN(3)])}, Rest: AfterOrder, Days: 1 + r.IntN(3)}
			}
			o.Lines = append(o.Lines, l)
		}
		for range r.IntN(3) {
			c := OrderCharge{Label: "C", Effect: []Effect{Adds, TakesOff}[r.IntN(2)], Portion: Portion{Amount: amount(r.Int64N(9000))}, Tax: *percent(rates[r.IntN(4)])}
			o.Terms.Charges = append(o.Terms.Charges, c)
		}
		for i := range r.IntN(3) {
			o.Coupons = append(o.Coupons, Coupon{Code: string(rune('A'+i)) + "BC", Portion: Portion{Amount: amount(1 + r.Int64N(9000))}, Combines: true})
		}
		o.Reversed = r.IntN(4) == 0
		s := o.Make()
		if s.Total < 0 || s.Now() < 0 {
			t.Fatalf("%s: total %d, now %d, taxes %+v", print(s), s.Total, s.Now(), s.Taxes)
		}
		var due money.Amount
		for _, d := range s.Due {
			if d.Amount < 0 || d.Day != "" && d.Amount == 0 {
				t.Fatalf("%s: a part of %d: %+v", print(s), d.Amount, s.Due)
			}
			due += d.Amount
		}
		if len(s.Due) > 0 && due != s.Total {
			t.Fatalf("%s: the parts come to %d of %d", print(s), due, s.Total)
		}
		if s.Total == 0 {
			cut++
		}
		if len(o.Terms.Charges) == 0 { // then the lines are the whole
			var sum money.Amount
			for _, share := range o.Shares() {
				if share.Gross < 0 || share.Net > share.Gross {
					t.Fatalf("%s: %+v", print(s), o.Shares())
				}
				sum += share.Gross
			}
			if sum != s.Total {
				t.Fatalf("%s: the shares come to %d of %d", print(s), sum, s.Total)
			}
		}
	}
	if cut < 100 {
		t.Errorf("only %d of 5000 orders came to nothing, so little was cut", cut)
	}
}

// With the tax owed by the buyer, each line's later part leaves out its own tax
// and not a share of all taxes.
func TestPartsWithoutTheTaxThatTheBuyerOwes(t *testing.T) {
	stay, chart := line(1, "7", base(10_700)), line(2, "19", base(11_900))
	stay.Plan = &Parts{Portion: Portion{Percent: percent("50")}, Rest: AfterOrder, Days: 10}
	o := order(stay, chart)
	o.Reversed = true
	s := o.Make()
	if s.Total != 20_000 || len(s.Due) != 2 || s.Due[1].Amount != 5000 || s.Due[0].Amount != 15_000 {
		t.Errorf("%d: %+v", s.Total, s.Due)
	}
}
