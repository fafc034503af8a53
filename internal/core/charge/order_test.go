package charge

import (
	"encoding/json"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

var today = calendar.Day{Year: 2027, Month: 5, Number: 3}

func line(product int64, tax string, lines ...Line) OrderLine {
	o := OrderLine{Product: product, Tax: TaxRule{Percent: decimal.RequireFromString(tax)}, Quantity: 1, Slip: Slip{Currency: "EUR", Lines: lines}}
	for _, l := range lines {
		o.Slip.Total += l.Amount
	}
	return o
}

func order(lines ...OrderLine) *Order {
	return &Order{Day: today, Lines: lines}
}

func base(a money.Amount) Line  { return Line{Label: "Base", Amount: a} }
func extra(a money.Amount) Line { return Line{Part: PartExtra, Label: "Extra", Amount: a} }
func given(a money.Amount) Line { return Line{Part: PartGiven, Label: "Given", Amount: a} }

func TestOrders(t *testing.T) {
	for _, c := range []struct {
		name string
		o    *Order
		with func(o *Order)
		want string
	}{
		{"an order charge for small orders", order(line(1, "19", base(1500))), func(o *Order) {
			o.Terms.Charges = []OrderCharge{{Label: "Handling", Effect: Adds, Portion: Portion{Amount: amount(350)}, Below: 3000}, {Label: "Large", Effect: Adds, Portion: Portion{Amount: amount(999)}, AtLeast: 3000}}
		}, "Base 15.00; Handling 3.50; 18.50"},
		{"per cent of the lines", order(line(1, "19", base(1500)), line(2, "7", base(500))), func(o *Order) {
			o.Terms.Charges = []OrderCharge{{Label: "Card", Effect: Adds, Portion: Portion{Percent: percent("2.5")}}, {Label: "Off", Effect: TakesOff, Portion: Portion{Amount: amount(9999)}}}
		}, "Base 15.00; Base 5.00; Card 0.50 (2.5 % of 20.00); Off −20.50 (no more than what is left to pay); 0.00"},
		{"a coupon takes nothing off what customers set", order(line(1, "19", base(1000), extra(500), given(2000))), func(o *Order) {
			o.Coupons = []Coupon{{Code: "SPRING", Portion: Portion{Percent: percent("10")}}}
		}, "Base 10.00; Extra 5.00; Given 20.00; Coupon −1.50 (SPRING, 10 %); 33.50"},
		{"a coupon is not larger than what it is for", order(line(1, "19", base(1000)), line(2, "19", base(700))), func(o *Order) {
			o.Coupons = []Coupon{{Code: "THANKS", Label: "Thank you", Portion: Portion{Amount: amount(5000)}, Products: []int64{2}}}
		}, "Base 10.00; Base 7.00; Thank you −7.00 (THANKS); 10.00"},
		{"two coupons after each other", order(line(1, "19", base(1000))), func(o *Order) {
			o.Coupons = []Coupon{{Code: "HALF", Portion: Portion{Percent: percent("50")}}, {Code: "HALF-AGAIN", Portion: Portion{Percent: percent("50")}}}
		}, "Base 10.00; Coupon −5.00 (HALF, 50 %); Coupon −2.50 (HALF-AGAIN, 50 %); 2.50"},
		{"a tip", order(line(1, "19", base(1000))), func(o *Order) {
			o.Terms.Tip, o.Tip = &Tip{Label: "For the team"}, 200
			o.Coupons = []Coupon{{Code: "ALL", Portion: Portion{Percent: percent("100")}}}
		}, "Base 10.00; Coupon −10.00 (ALL, 100 %); For the team 2.00 (as you decided); 2.00"},
		{"the buyer owes the tax", order(line(1, "19", base(11900)), line(2, "7", base(10700))), func(o *Order) {
			o.Reversed = true
		}, "Base 119.00; Base 107.00; Tax not taken here −26.00; 200.00"},
		{"what is free stays free", order(line(1, "19", base(0))), func(o *Order) {
			o.Terms.Charges = []OrderCharge{{Label: "Handling", Effect: Adds, Portion: Portion{Amount: amount(350)}, Below: 3000}}
		}, "Base 0.00; 0.00"},
		{"nothing", order(), func(o *Order) { o.Currency = "EUR" }, "0.00"},
	} {
		c.with(c.o)
		if got := print(c.o.Make()); got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.name, got, c.want)
		}
	}
}

func TestPricesWithoutTax(t *testing.T) {
	net := func(a money.Amount, rate string) OrderLine {
		o := line(1, rate, base(a))
		o.Tax.Added = true
		return o
	}
	o := order(net(1000, "19"), net(500, "19"), net(333, "7"))
	o.Terms.Charges = []OrderCharge{{Label: "Handling", Effect: Adds, Portion: Portion{Amount: amount(100)}, Tax: decimal.NewFromInt(19)}}
	s := o.Make()
	if want := money.Amount(1600 + 304 + 333 + 23); s.Total != want || len(s.Taxes) != 2 || s.Taxes[0].Net != 1600 || s.Taxes[0].Amount != 304 || s.Taxes[1].Amount != 23 {
		t.Errorf("%+v", s)
	}
	o.Reversed = true
	if s := o.Make(); s.Total != 1933 || len(s.Taxes) != 1 || s.In(words.English).Taxes[0].Exempt == "" || s.Lines[len(s.Lines)-1].Part == PartReverse {
		t.Errorf("%+v", s)
	}
	exempt := line(1, "0", base(1000))
	exempt.Tax.Exempt = "Small business, § 19 UStG"
	if s := order(exempt, line(2, "0", base(200))).Make(); len(s.Taxes) != 2 || s.Total != 1200 {
		t.Errorf("%+v", s.Taxes)
	}
}

// Source: EN 16931-1, from memory: BR-CO-10 and BR-CO-13 the total without tax
// is the sum of the net lines less allowances plus charges, BR-S-09 the tax of
// a rate is its base times the rate, rounded to two digits, BR-CO-15 the total
// with tax is both together.
func TestAddedTaxAgreesWithEN16931(t *testing.T) {
	r := rand.New(rand.NewPCG(61, 62))
	rates := []string{"19", "7", "0", "5.5"}
	for range 3000 {
		o := order()
		net := map[string]money.Amount{}
		for i := range r.IntN(5) + 1 {
			rate := rates[r.IntN(len(rates))]
			l := line(int64(i), rate, base(money.Amount(r.Int64N(100_000))))
			l.Tax.Added = true
			o.Lines = append(o.Lines, l)
		}
		o.Terms.Charges = []OrderCharge{{Label: "Handling", Effect: Adds, Portion: Portion{Amount: amount(r.Int64N(900))}, Tax: decimal.RequireFromString(rates[r.IntN(len(rates))])}}
		o.Coupons = []Coupon{{Code: "X", Portion: Portion{Amount: amount(r.Int64N(50_000) + 1)}}}
		s := o.Make()
		var sum, tax, gross money.Amount
		for _, l := range s.Lines {
			sum += l.Amount
		}
		for _, x := range s.Taxes {
			net[x.Percent.String()] += x.Net
			if x.Amount != money.HalfUp.Percent(x.Net, x.Percent) {
				t.Fatalf("BR-S-09: %s %% of %d is not %d", x.Percent, x.Net, x.Amount)
			}
			tax += x.Amount
			gross += x.Net
		}
		if gross != sum || s.Total != sum+tax {
			t.Fatalf("BR-CO-13 and BR-CO-15: the lines are %d, the bases %d, the tax %d, the total %d", sum, gross, tax, s.Total)
		}
	}
}

func TestPaidInParts(t *testing.T) {
	stay := line(1, "7", base(30_000))
	stay.Plan, stay.Booked = &Parts{Portion: Portion{Percent: percent("30")}, Rest: BeforeBooking, Days: 14}, *day("2027-07-01")
	chart := line(2, "19", base(3333))
	chart.Plan = &Parts{Portion: Portion{Amount: amount(1000)}, Rest: AtHandover}
	later := line(3, "19", base(1001))
	later.Plan = &Parts{Portion: Portion{Percent: percent("50")}, Rest: AfterOrder, Days: 30}
	plain := line(4, "19", base(500))
	for _, c := range []struct {
		o    *Order
		want string
	}{
		{order(stay), `[{"day":"","words":"now","amount":9000},{"day":"2027-06-17","words":"by Thu 17 Jun 2027","amount":21000}]`},
		{order(stay, chart, later, plain), `[{"day":"","words":"now","amount":11001},{"day":"2027-06-02","words":"by Wed 2 Jun 2027","amount":500},{"day":"2027-06-17","words":"by Thu 17 Jun 2027","amount":21000},{"day":"handover","words":"at handover","amount":2333}]`},
		{order(plain), `null`},
	} {
		s := c.o.Make()
		got, _ := json.Marshal(s.In(words.English).Due)
		if string(got) != c.want {
			t.Errorf("got %s\nwant %s", got, c.want)
		}
		var sum money.Amount
		for _, d := range s.Due {
			sum += d.Amount
		}
		if len(s.Due) > 0 && sum != s.Total || s.Now() > s.Total {
			t.Errorf("the parts of %d come to %d", s.Total, sum)
		}
	}
	// What is less than so many days away is paid at once.
	stay.Booked = *day("2027-05-10")
	if s := order(stay).Make(); len(s.Due) != 0 || s.Now() != 30_000 {
		t.Errorf("%+v", s.Due)
	}
	for name, p := range map[string]Parts{
		"nothing now": {Rest: AtHandover}, "both": {Portion: Portion{Percent: percent("1"), Amount: amount(1)}, Rest: AtHandover}, "too much": {Portion: Portion{Percent: percent("101")}, Rest: AtHandover},
		"no day": {Portion: Portion{Percent: percent("10")}, Rest: AfterOrder}, "never": {Portion: Portion{Percent: percent("10")}, Rest: "never"},
	} {
		if p.Validate() == nil {
			t.Errorf("%s was taken", name)
		}
	}
}

// Any number of parts, reckoned by hand, and what is due with which event.
func TestManyParts(t *testing.T) {
	third := Portion{Percent: percent("33.33")}
	work := line(1, "19", base(10_000))
	work.Plan = &Parts{Portion: third, Parts: []Instalment{{Portion: third, Rest: BeforeWork}}, Rest: AtHandover}
	stay := line(2, "7", base(30_000))
	stay.Plan, stay.Booked, stay.Quantity = &Parts{
		Portion: Portion{Amount: amount(4000)}, Rest: BeforeBooking, Days: 7,
		Parts: []Instalment{{Portion: Portion{Percent: percent("50")}, Rest: OnDay, Day: "2027-06-01"}, {Portion: Portion{Amount: amount(999_999)}, Rest: AfterOrder, Days: 40}},
	}, *day("2027-07-01"), 2
	down := line(3, "19", base(5000))
	down.Plan, down.Slip.Down = &Parts{Value: "a_quarter", Rest: AtHandover}, amount(1250)
	past := line(4, "19", base(700))
	past.Plan = &Parts{Portion: Portion{Percent: percent("0")}, Rest: OnDay, Day: "2027-05-03"} // today
	for _, c := range []struct {
		o    *Order
		want string
	}{
		{order(work), "now 33.33, before work begins 33.33, at handover 33.34"},
		// 2 × 40.00 now; half by 1 June; what is left by the fortieth day, 12 June.
		{order(stay), "now 80.00, by Tue 1 Jun 2027 150.00, by Sat 12 Jun 2027 70.00"},
		{order(down), "now 12.50, at handover 37.50"},
		{order(past), ""},
		{order(work, down), "now 45.83, before work begins 33.33, at handover 70.84"},
	} {
		s := c.o.Make()
		var got []string
		for _, d := range s.In(words.English).Due {
			got = append(got, d.Words+" "+words.English.Amount(d.Amount, "EUR"))
		}
		if strings.Join(got, ", ") != c.want {
			t.Errorf("got %s\nwant %s", strings.Join(got, ", "), c.want)
		}
	}
	for name, p := range map[string]*Parts{
		"both": {Portion: third, Value: "v", Rest: AtHandover}, "no day": {Portion: third, Rest: OnDay}, "no portion": {Portion: third, Rest: AtHandover, Parts: []Instalment{{Rest: AtHandover}}},
		"too much": {Portion: third, Rest: AtHandover, Parts: []Instalment{{Portion: Portion{Percent: percent("101")}, Rest: AtHandover}}}, "many": {Portion: third, Rest: AtHandover, Parts: make([]Instalment, 21)},
	} {
		if p.Validate() == nil {
			t.Errorf("%s was taken", name)
		}
	}
}

// However an order is split, its parts add up to it, to the cent, and none lies
// below zero.
func TestPartsAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(71, 72))
	portion := func() Portion {
		if r.IntN(2) == 0 {
			return Portion{Amount: amount(r.Int64N(9000))}
		}
		p := decimal.New(r.Int64N(10_001), -2)
		return Portion{Percent: &p}
	}
	rest := func() Rest { return []Rest{AfterOrder, BeforeBooking, BeforeWork, AtHandover, OnDay}[r.IntN(5)] }
	for range 20_000 {
		o := someOrder(r)
		for i := range o.Lines {
			if r.IntN(4) == 0 {
				continue
			}
			p := &Parts{Portion: portion(), Rest: rest(), Days: 1 + r.IntN(60), Day: "2027-06-15"}
			for range r.IntN(5) {
				p.Parts = append(p.Parts, Instalment{portion(), rest(), 1 + r.IntN(60), "2027-08-01"})
			}
			if err := p.Validate(); err != nil {
				t.Fatal(err)
			}
			o.Lines[i].Plan, o.Lines[i].Quantity = p, 1+r.IntN(3)
			if r.IntN(2) == 0 {
				o.Lines[i].Booked = today.Add(r.IntN(90))
			}
			if r.IntN(8) == 0 {
				o.Lines[i].Slip.Down = amount(r.Int64N(30_000))
			}
		}
		s := o.Make()
		var sum money.Amount
		for i, d := range s.Due {
			sum += d.Amount
			if d.Amount < 0 || i > 1 && s.Due[i-1].Day >= d.Day {
				t.Fatalf("%+v of %s", s.Due, print(s))
			}
		}
		if len(s.Due) > 0 && sum != s.Total {
			t.Fatalf("%+v come to %d: %s", s.Due, sum, print(s))
		}
	}
}

func TestDepositsAreHeld(t *testing.T) {
	p := &Pricing{Title: "Telescope", Price: 1200, Currency: "EUR", Deposit: 5000}
	s := p.Make(Input{Quantity: 2})
	if s.Held != 10_000 || s.Total != 2400 {
		t.Errorf("%+v", s)
	}
	if whole := order(OrderLine{Slip: s}, OrderLine{Slip: s}).Make(); whole.Held != 20_000 || whole.Total != 4800 {
		t.Errorf("%+v", whole)
	}
}

func TestCouponsRefused(t *testing.T) {
	lines := []OrderLine{line(1, "19", base(1000), given(9000)), line(2, "19", base(2000))}
	for want, c := range map[string]Coupon{
		"":                {Code: "A-1", LeastOrder: 3000},
		"coupon_early":    {Code: "A-1", From: day("2027-05-04")},
		"coupon_late":     {Code: "A-1", To: day("2027-05-02")},
		"coupon_products": {Code: "A-1", Products: []int64{7}},
		"coupon_least":    {Code: "A-1", LeastOrder: 3001},
	} {
		if got := c.Refused(lines, today, nil); got != want {
			t.Errorf("%+v: %q, want %q", c, got, want)
		}
	}
	one, other := Coupon{Code: "ONE", Combines: true}, Coupon{Code: "OTHER", Combines: true}
	alone := Coupon{Code: "ALONE"}
	for _, c := range []struct {
		c      Coupon
		others []Coupon
		want   string
	}{{one, []Coupon{other}, ""}, {one, []Coupon{one}, "coupon_twice"}, {one, []Coupon{alone}, "coupon_alone"}, {alone, []Coupon{one}, "coupon_alone"}} {
		if got := c.c.Refused(lines, today, c.others); got != c.want {
			t.Errorf("%s beside %v: %q, want %q", c.c.Code, c.others, got, c.want)
		}
	}
	for name, c := range map[string]Coupon{
		"a short code": {Code: "A", Portion: Portion{Percent: percent("1")}}, "small letters": {Code: "spring", Portion: Portion{Percent: percent("1")}}, "nothing": {Code: "ABC"}, "both": {Code: "ABC", Portion: Portion{Amount: amount(1), Percent: percent("1")}},
		"more than all": {Code: "ABC", Portion: Portion{Percent: percent("101")}}, "zero": {Code: "ABC", Portion: Portion{Amount: amount(0)}}, "backwards": {Code: "ABC", Portion: Portion{Percent: percent("1")}, From: day("2027-02-01"), To: day("2027-01-01")},
	} {
		if c.Validate() == nil {
			t.Errorf("%s was taken", name)
		}
	}
}

func TestTermsThatMakeNoSense(t *testing.T) {
	good := Terms{Charges: []OrderCharge{{Label: "Handling", Effect: Adds, Portion: Portion{Amount: amount(1)}}}, Tip: &Tip{Label: "Tip", Least: 100, Most: 1000, Suggestions: []money.Amount{100, 500}}}
	if err := good.Validate(); err != nil {
		t.Error(err)
	}
	for name, terms := range map[string]Terms{
		"no words":         {Charges: []OrderCharge{{Effect: Adds, Portion: Portion{Amount: amount(1)}}}},
		"no amount":        {Charges: []OrderCharge{{Label: "X", Effect: Adds}}},
		"sets":             {Charges: []OrderCharge{{Label: "X", Effect: Sets, Portion: Portion{Amount: amount(1)}}}},
		"a limit below":    {Charges: []OrderCharge{{Label: "X", Effect: Adds, Portion: Portion{Amount: amount(1)}, AtLeast: 5, Below: 5}}},
		"a wild tip":       {Tip: &Tip{Label: "Tip", Least: 5, Most: 4}},
		"a wild idea":      {Tip: &Tip{Label: "Tip", Least: 5, Suggestions: []money.Amount{4}}},
		"a tip unnamed":    {Tip: &Tip{}},
		"a tip taxed away": {Tip: &Tip{Label: "Tip", Tax: decimal.NewFromInt(101)}},
	} {
		if terms.Validate() == nil {
			t.Errorf("%s was taken", name)
		}
	}
	var none *Tip
	for _, c := range []struct {
		tip  *Tip
		a    money.Amount
		want string
	}{{none, 0, ""}, {none, 1, "unknown"}, {good.Tip, 99, "tip_least"}, {good.Tip, 1001, "tip_most"}, {good.Tip, 500, ""}} {
		if got := c.tip.Refused(c.a); got != c.want {
			t.Errorf("%d: %q, want %q", c.a, got, c.want)
		}
	}
}

// Raising the quantity never lowers the price, unless a price or a band for
// more units says so; a charge that takes off never brings a line below zero;
// the lines, the taxes that are added and the parts add up.
func TestOrderProperties(t *testing.T) {
	r := rand.New(rand.NewPCG(41, 42))
	for range 2000 {
		p := &Pricing{Title: "P", Price: money.Amount(r.Int64N(5000)), Currency: "EUR", Tax: TaxRule{Percent: decimal.NewFromInt(r.Int64N(25)), Added: r.IntN(2) == 0}, Deposit: money.Amount(r.Int64N(3)) * 1000}
		if r.IntN(3) == 0 {
			p.Payment(r)
		}
		for range r.IntN(6) {
			c := Charge{Label: "C", Effect: []Effect{Adds, Adds, TakesOff}[r.IntN(3)], Rate: Rate{Amount: fine(r.Int64N(3000))}, EachUnit: r.IntN(2) == 0}
			if r.IntN(3) == 0 {
				c.Rate, c.EachUnit = Rate{Percent: percent("12.5"), OfBase: r.IntN(2) == 0}, false
			}
			if c.Effect == TakesOff && c.EachUnit { // more units take more off
				c.EachUnit = false
			}
			if c.Effect == TakesOff && c.Rate.OfBase {
				c.Rate.OfBase = false
			}
			if r.IntN(4) == 0 {
				c.Per, c.Rate, c.On, c.EachUnit = Answer, Rate{Amount: fine(r.Int64N(300))}, "n", false
				c.Effect = Adds
				c.Included = r.IntN(3)
			}
			if c.Validate() != nil {
				t.Fatalf("%+v: %v", c, c.Validate())
			}
			p.Charges = append(p.Charges, Compiled{Charge: c})
		}
		last := money.Amount(0)
		for quantity := 1; quantity < 5; quantity++ {
			s := p.Make(Input{Quantity: quantity, Day: today, Answers: question.Answers{"n": num("4")}})
			if s.Total < last || s.Total < 0 {
				t.Fatalf("%d units cost %d, one less %d: %s", quantity, s.Total, last, print(s))
			}
			last = s.Total
			o := Order{Day: today, Lines: []OrderLine{{Slip: s, Product: 1, Tax: p.Tax, Plan: p.Plan, Quantity: quantity}}}
			if whole := o.Make(); whole.Total != s.Total || whole.Held != s.Held || whole.Now() != s.Now() {
				t.Fatalf("alone %s, as an order %s", print(s), print(whole))
			}
			o.Coupons = []Coupon{{Code: "ABC", Portion: Portion{Percent: percent("33")}}}
			whole := o.Make()
			var sum, due money.Amount
			for _, l := range whole.Lines {
				sum += l.Amount
			}
			for _, x := range whole.Taxes {
				if x.Added {
					sum += x.Amount
				}
			}
			for _, d := range whole.Due {
				due += d.Amount
			}
			if sum != whole.Total || whole.Total < 0 || len(whole.Due) > 0 && due != whole.Total {
				t.Fatalf("%s: %d, %d", print(whole), sum, due)
			}
		}
	}
}

func (p *Pricing) Payment(r *rand.Rand) {
	p.Plan = &Parts{Portion: Portion{Percent: percent("40")}, Rest: AfterOrder, Days: r.IntN(30) + 1}
}
