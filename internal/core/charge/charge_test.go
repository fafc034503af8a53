package charge

import (
	"encoding/json"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

func amount(n int64) *money.Amount { a := money.Amount(n); return &a }

func fine(n int64) *money.Fine { return new(money.Amount(n).Fine()) }

// bands gives bands from pairs of the number after which one begins, and its
// amount.
func bands(pairs ...int64) (list []Band) {
	for i := 0; i < len(pairs); i += 2 {
		list = append(list, Band{int(pairs[i]), money.Amount(pairs[i+1]).Fine()})
	}
	return list
}

func percent(s string) *decimal.Decimal { d := decimal.RequireFromString(s); return &d }

func num(s string) question.Number { return question.Number{Decimal: decimal.RequireFromString(s)} }

// chart is the sky chart of the sample business, as its price is made.
func chart() *Pricing {
	return &Pricing{Title: "Sky chart", Price: 2400, Currency: "EUR", Tax: TaxRule{Percent: decimal.NewFromInt(19)}, Charges: []Compiled{
		{Charge: Charge{On: "title", Effect: Adds, Rate: Rate{Amount: fine(60)}, Per: Character, Included: 24, Noun: "letter", Nouns: "letters"}, Wording: "Title"},
		{Charge: Charge{On: "size", Choice: "small", Effect: Sets, Rate: Rate{Amount: fine(2400)}}, Wording: "small file"},
		{Charge: Charge{On: "size", Choice: "large", Effect: Sets, Rate: Rate{Amount: fine(3600)}}, Wording: "large file"},
		{Charge: Charge{On: "rush", Effect: Adds, Rate: Rate{Percent: percent("30")}}, Wording: "Ready within two days"},
		{Charge: Charge{On: "fund", Label: "Dark-sky fund", Effect: Adds, Rate: Rate{Answered: true}}, Wording: "Something for the fund"},
	}}
}

// evening is priced by its people alone: the first two at one price, the rest
// at another, with counted extras.
func evening() *Pricing {
	return &Pricing{Title: "Evening", Currency: "EUR", Tax: TaxRule{Percent: decimal.NewFromInt(19)}, Charges: []Compiled{
		{Charge: Charge{On: "evening", Label: "Evening", Effect: Adds, Rate: Rate{Amount: fine(2400)}, Per: Answer, UpTo: 2, Noun: "person", Nouns: "people"}},
		{Charge: Charge{On: "evening", Label: "More people", Effect: Adds, Rate: Rate{Amount: fine(1800)}, Per: Answer, Included: 2, Noun: "person", Nouns: "people"}},
		{Charge: Charge{On: "blankets", Effect: Adds, Rate: Rate{Amount: fine(450)}, Per: Answer}, Wording: "Blankets"},
	}}
}

// print writes a slip as a person would read it.
func print(s Slip) string {
	var b strings.Builder
	for _, l := range s.In(words.English).Lines {
		b.WriteString(l.Label + " " + words.English.Amount(l.Amount, s.Currency))
		if l.Why != "" {
			b.WriteString(" (" + l.Why + ")")
		}
		b.WriteString("; ")
	}
	return b.String() + words.English.Amount(s.Total, s.Currency)
}

func TestSlips(t *testing.T) {
	people := func(n int) question.Booking { return question.Booking{Start: time.Unix(1, 0), People: n} }
	voucher := &Pricing{Title: "Voucher", Currency: "EUR", Tax: TaxRule{Percent: decimal.NewFromInt(19)}, Charges: []Compiled{{Charge: Charge{On: "value", Effect: Sets, Rate: Rate{Answered: true}}, Wording: "Worth"}}}
	units := &Pricing{Title: "Card", Price: 500, Currency: "EUR", Charges: []Compiled{
		{Charge: Charge{On: "gold", Effect: Adds, Rate: Rate{Amount: fine(150)}, EachUnit: true}, Wording: "Gold ink"},
		{Charge: Charge{On: "name", Effect: Adds, Rate: Rate{Amount: fine(10)}, Per: Character, EachUnit: true}, Wording: "Name"},
		{Charge: Charge{On: "proof", Effect: Adds, Rate: Rate{Amount: fine(200)}}, Wording: "A proof first"},
	}}
	off := &Pricing{Title: "Lesson", Price: 3000, Currency: "EUR", Charges: []Compiled{
		{Charge: Charge{On: "student", Effect: TakesOff, Rate: Rate{Percent: percent("50")}}, Wording: "Student"},
		{Charge: Charge{On: "card", Effect: TakesOff, Rate: Rate{Amount: fine(2000)}}, Wording: "Loyalty card"},
	}}
	always := &Pricing{Title: "Visit", Price: 1000, Currency: "EUR", Charges: []Compiled{{Charge: Charge{Label: "Way there", Effect: Adds, Rate: Rate{Amount: fine(700)}}}}}
	for _, c := range []struct {
		name     string
		p        *Pricing
		answers  question.Answers
		quantity int
		want     string
	}{
		{"nothing answered", chart(), nil, 1, "Sky chart 24.00; 24.00"},
		{"the size sets the price", chart(), question.Answers{"size": question.One("large")}, 1, "Sky chart, large file 36.00; 36.00"},
		{"letters within the included number", chart(), question.Answers{"title": question.Text("Three sisters")}, 1, "Sky chart 24.00; 24.00"},
		{"one letter more", chart(), question.Answers{"title": question.Text(strings.Repeat("x", 25))}, 1, "Sky chart 24.00; Title 0.60 (1 letter after 24 × 0.60); 24.60"},
		{"spaces do not count", chart(), question.Answers{"title": question.Text("The night we met in Lofthus harbour")}, 1, "Sky chart 24.00; Title 3.00 (5 letters after 24 × 0.60); 27.00"},
		{"rush is a share of all so far", chart(), question.Answers{"title": question.Text("The night we met in Lofthus harbour"), "size": question.One("large"), "rush": question.YesNo(true)}, 1,
			"Sky chart, large file 36.00; Title 3.00 (5 letters after 24 × 0.60); Ready within two days 11.70 (30 % of 39.00); 50.70"},
		{"a no costs nothing", chart(), question.Answers{"rush": question.YesNo(false)}, 1, "Sky chart 24.00; 24.00"},
		{"what the customer sets", chart(), question.Answers{"fund": question.Amount(500)}, 1, "Sky chart 24.00; Dark-sky fund 5.00 (as you decided); 29.00"},
		{"zero given is no line", chart(), question.Answers{"fund": question.Amount(0)}, 1, "Sky chart 24.00; 24.00"},
		{"several units", chart(), nil, 3, "Sky chart 72.00 (24.00 × 3); 72.00"},
		{"one person", evening(), question.Answers{"evening": people(1)}, 1, "Evening 24.00 (first 1 person × 24.00); 24.00"},
		{"four people", evening(), question.Answers{"evening": people(4), "blankets": num("2")}, 1,
			"Evening 48.00 (first 2 people × 24.00); More people 36.00 (2 people after 2 × 18.00); Blankets 9.00 (2 pieces × 4.50); 93.00"},
		{"a product that is only its charges", evening(), nil, 1, "Evening 0.00; 0.00"},
		{"a voucher", voucher, question.Answers{"value": question.Amount(7500)}, 2, "Voucher 150.00 (75.00 × 2); 150.00"},
		{"for each unit", units, question.Answers{"gold": question.YesNo(true), "proof": question.YesNo(true)}, 4, "Card 20.00 (5.00 × 4); Gold ink 6.00 (1.50 × 4); A proof first 2.00; 28.00"},
		{"counted for each unit", units, question.Answers{"name": question.Text("Ada")}, 2, "Card 10.00 (5.00 × 2); Name 0.60 (3 letters × 0.10 × 2); 10.60"},
		{"taking off", off, question.Answers{"student": question.YesNo(true)}, 1, "Lesson 30.00; Student −15.00 (50 % of 30.00); 15.00"},
		{"never below zero", off, question.Answers{"student": question.YesNo(true), "card": question.YesNo(true)}, 1,
			"Lesson 30.00; Student −15.00 (50 % of 30.00); Loyalty card −15.00 (no more than what is left to pay); 0.00"},
		{"always", always, nil, 1, "Visit 10.00; Way there 7.00; 17.00"},
	} {
		slip := c.p.Make(Input{Answers: c.answers, Quantity: c.quantity})
		if got := print(slip); got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.name, got, c.want)
		}
	}
}

// One slip reads in every language; what is kept of it has no words.
func TestSlipInTwoLanguages(t *testing.T) {
	got := chart().Make(Input{Answers: question.Answers{"rush": question.YesNo(true)}, Quantity: 1})
	if w := got.In(words.German).Lines[1].Why; w != "30 % von 24,00" {
		t.Errorf("the reason reads %q", w)
	}
	if w := got.In(words.English).Lines[1].Why; w != "30 % of 24.00" || got.Lines[1].Why != "" {
		t.Errorf("the reason reads %q", w)
	}
}

// The lines add up to the total, no line is below what is left, and the same
// input gives the same slip byte for byte, whatever the order of the map.
func TestSlipProperties(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 22))
	for range 1500 {
		p := chart()
		p.Charges = append(p.Charges, Compiled{Charge: Charge{On: "off", Effect: TakesOff, Rate: Rate{Amount: fine(r.Int64N(9000))}}, Wording: "Off"})
		a := question.Answers{}
		if r.IntN(2) == 0 {
			a["title"] = question.Text(strings.Repeat("x ", r.IntN(40)) + "y")
		}
		if r.IntN(2) == 0 {
			a["size"] = question.One([]string{"small", "large"}[r.IntN(2)])
		}
		for _, k := range []question.Key{"rush", "off"} {
			a[k] = question.YesNo(r.IntN(2) == 0)
		}
		a["fund"] = question.Amount(r.Int64N(500))
		in := Input{Answers: a, Quantity: r.IntN(5) + 1}
		slip := p.Make(in)
		var sum money.Amount
		for _, l := range slip.Lines {
			sum += l.Amount
		}
		if sum != slip.Total || slip.Total < 0 {
			t.Fatalf("%s: the lines add up to %d", print(slip), sum)
		}
		first, _ := json.Marshal(slip)
		again, _ := json.Marshal(p.Make(in))
		if string(first) != string(again) {
			t.Fatalf("the same input gave %s and %s", first, again)
		}
	}
}

// Source: EN 16931-1, business rules for totals and the standard rate, from
// memory: BR-CO-14 the invoice's tax is the sum of its breakdown, BR-CO-15 the
// total with tax is the total without it plus the tax, BR-S-08 a rate's base
// is the sum of its lines, BR-S-09 a rate's tax is its base times the rate,
// which the standard's own validation checks to one unit, as prices that
// contain tax cannot meet it to the cent.
func TestTaxAgreesWithEN16931(t *testing.T) {
	r := rand.New(rand.NewPCG(31, 32))
	rates := []string{"19", "7", "25", "5.5", "0", "8.1"}
	for range 3000 {
		var order Order
		gross := map[string]money.Amount{}
		for range r.IntN(5) + 1 {
			rate := rates[r.IntN(len(rates))]
			p := &Pricing{Title: "X", Price: money.Amount(r.Int64N(1_000_000)), Currency: "EUR", Tax: TaxRule{Percent: decimal.RequireFromString(rate)}}
			s := p.Make(Input{Quantity: r.IntN(3) + 1})
			gross[rate] += s.Total
			order.Lines = append(order.Lines, OrderLine{Slip: s, Tax: p.Tax, Quantity: 1})
		}
		whole := order.Make()
		var net, tax money.Amount
		for _, x := range whole.Taxes {
			if x.Gross != gross[x.Percent.String()] {
				t.Fatalf("BR-S-08: the base of %s %% is %d, its lines are %d", x.Percent, x.Gross, gross[x.Percent.String()])
			}
			if x.Net+x.Amount != x.Gross {
				t.Fatalf("BR-CO-15: %d and %d are not %d", x.Net, x.Amount, x.Gross)
			}
			if off := x.Amount - money.HalfUp.Percent(x.Net, x.Percent); off < -1 || off > 1 {
				t.Fatalf("BR-S-09: %s %% of %d is not %d", x.Percent, x.Net, x.Amount)
			}
			net, tax = net+x.Net, tax+x.Amount
		}
		if net+tax != whole.Total {
			t.Fatalf("BR-CO-14 and BR-CO-15: %d and %d are not %d", net, tax, whole.Total)
		}
	}
}

func TestChargesThatMakeNoSense(t *testing.T) {
	for name, c := range map[string]Charge{
		"no rate":                   {Effect: Adds},
		"two rates":                 {Effect: Adds, Rate: Rate{Amount: fine(1), Percent: percent("1")}},
		"below zero":                {Effect: Adds, Rate: Rate{Amount: fine(-1)}},
		"too large":                 {Effect: Adds, Rate: Rate{Amount: fine(int64(money.Largest) + 1)}},
		"per cent below zero":       {Effect: Adds, Rate: Rate{Percent: percent("-1")}},
		"absurd per cent":           {Effect: Adds, Rate: Rate{Percent: percent("1001")}},
		"no effect":                 {Rate: Rate{Amount: fine(1)}},
		"unknown effect":            {Effect: "doubles", Rate: Rate{Amount: fine(1)}},
		"sets per cent":             {On: "a", Effect: Sets, Rate: Rate{Percent: percent("10")}},
		"sets for each":             {On: "a", Effect: Sets, Rate: Rate{Amount: fine(1)}, Per: Answer},
		"unknown count":             {On: "a", Effect: Adds, Rate: Rate{Amount: fine(1)}, Per: "moon"},
		"counts nothing":            {Effect: Adds, Rate: Rate{Amount: fine(1)}, Per: Character},
		"answered for each":         {On: "a", Effect: Adds, Rate: Rate{Answered: true}, Per: Answer},
		"times a moon":              {On: "a", Effect: Adds, Rate: Rate{Amount: fine(1)}, Times: []Per{"moon"}},
		"times itself":              {Effect: Adds, Rate: Rate{Amount: fine(1)}, Per: Night, Times: []Per{Night}},
		"least above most":          {Effect: Adds, Rate: Rate{Amount: fine(1)}, Least: amount(2), Most: amount(1)},
		"falling bands":             {On: "a", Effect: Adds, Rate: Rate{Amount: fine(1)}, Per: Answer, Bands: bands(5, 1, 3, 1)},
		"bands of per cent":         {On: "a", Effect: Adds, Rate: Rate{Percent: percent("1")}, Per: Answer, Bands: bands(5, 1)},
		"bands of what is free":     {On: "a", Effect: Adds, Rate: Rate{Amount: fine(1)}, Per: Answer, Included: 5, Bands: bands(5, 1)},
		"graduated without bands":   {On: "a", Effect: Adds, Rate: Rate{Amount: fine(1)}, Per: Answer, Graduated: true},
		"a difference that adds":    {On: "a", Effect: Adds, Rate: Rate{Difference: amount(1)}},
		"other prices of per cent":  {On: "a", Effect: Adds, Rate: Rate{Percent: percent("1")}, Prices: []Special{{Group: "x", Portion: Portion{Amount: amount(1)}}}},
		"an other price for nobody": {On: "a", Effect: Adds, Rate: Rate{Amount: fine(1)}, Prices: []Special{{Portion: Portion{Amount: amount(1)}}}},
		"an other price twice":      {On: "a", Effect: Adds, Rate: Rate{Amount: fine(1)}, Prices: []Special{{Group: "x", Portion: Portion{Amount: amount(1), Percent: percent("1")}}}},
		"an endless formula":        {Effect: Adds, Rate: Rate{Formula: strings.Repeat("1+", 2000)}},
		"answered without question": {Effect: Adds, Rate: Rate{Answered: true}},
		"included below zero":       {On: "a", Effect: Adds, Rate: Rate{Amount: fine(1)}, Per: Answer, Included: -1},
		"up to below included":      {On: "a", Effect: Adds, Rate: Rate{Amount: fine(1)}, Per: Answer, Included: 3, UpTo: 3},
		"choice without question":   {Choice: "x", Effect: Adds, Rate: Rate{Amount: fine(1)}},
	} {
		if c.Validate() == nil {
			t.Errorf("%s was taken", name)
		}
	}
	for _, r := range chart().Charges {
		if err := r.Validate(); err != nil {
			t.Errorf("%+v: %v", r.Charge, err)
		}
	}
}

func TestHints(t *testing.T) {
	for _, c := range []struct {
		charge Charge
		en, de string
	}{
		{Charge{On: "a", Effect: Adds, Rate: Rate{Amount: fine(60)}, Per: Character, Included: 24, Noun: "letter"}, "+0.60 a letter after 24", "+0,60 je letter nach 24"},
		{Charge{On: "a", Effect: Adds, Rate: Rate{Amount: fine(2400)}, Per: Answer, UpTo: 2, Noun: "person"}, "+24.00 a person for the first 2", "+24,00 je person für die ersten 2"},
		{Charge{On: "a", Effect: Adds, Rate: Rate{Percent: percent("30")}}, "+30 %", "+30 %"},
		{Charge{On: "a", Effect: TakesOff, Rate: Rate{Percent: percent("7.5")}}, "−7.5 %", "−7,5 %"},
		{Charge{On: "a", Effect: Sets, Rate: Rate{Amount: fine(3600)}}, "36.00 (+12.00)", "36,00 (+12,00)"},
		{Charge{On: "a", Effect: Sets, Rate: Rate{Difference: amount(-400)}}, "20.00 (−4.00)", "20,00 (−4,00)"},
		{Charge{On: "a", Effect: Sets, Rate: Rate{Amount: fine(2400)}}, "24.00", "24,00"},
		{Charge{On: "a", Effect: Adds, Rate: Rate{Amount: fine(650)}, EachUnit: true}, "+6.50 each", "+6,50 je Stück"},
		{Charge{On: "a", Effect: Adds, Rate: Rate{Amount: fine(0)}}, "included", "inbegriffen"},
		{Charge{Effect: Adds, Rate: Rate{Amount: fine(1850)}, Per: Person, Included: 2, Times: []Per{Night}}, "+18.50 a person a night after 2", "+18,50 je Person je Nacht nach 2"},
		{Charge{On: "a", Effect: Adds, Rate: Rate{Amount: fine(600)}, Per: Answer, Bands: bands(10, 500)}, "+6.00 a piece, 5.00 from 11", "+6,00 je Stück, 5,00 ab 11"},
		{Charge{On: "a", Effect: Adds, Rate: Rate{Formula: "1"}}, "priced by your answers", "Preis nach deinen Antworten"},
		{Charge{On: "a", Effect: TakesOff, Rate: Rate{Amount: fine(500)}}, "−5.00", "−5,00"},
		{Charge{On: "a", Effect: Adds, Rate: Rate{Answered: true}}, "you decide", "du bestimmst"},
		{Charge{On: "a", Effect: Adds, Rate: Rate{Amount: fine(100)}, Per: Answer}, "+1.00 a piece", "+1,00 je Stück"},
	} {
		p := Pricing{Price: 2400, Currency: "EUR"}
		if got := p.Hint(&Compiled{Charge: c.charge}, words.English); got != c.en {
			t.Errorf("%q, want %q", got, c.en)
		}
		if got := p.Hint(&Compiled{Charge: c.charge}, words.German); got != c.de {
			t.Errorf("%q, want %q", got, c.de)
		}
	}
}
