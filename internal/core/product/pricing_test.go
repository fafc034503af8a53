package product

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// Each row makes one mistake in the price of the sound draft, and names what
// the product check says of it.
func TestMistakesInPricing(t *testing.T) {
	five, seven := money.Amount(500), decimal.NewFromInt(7)
	always := func(c charge.Charge) func(*Draft) {
		c.Label, c.Effect = "X", charge.Adds
		return func(d *Draft) { d.Charges = append(d.Charges, c) }
	}
	formula := func(s string) func(*Draft) { return always(charge.Charge{Rate: charge.Rate{Formula: s}}) }
	number := func(d *Draft) {
		d.Questions = append(d.Questions, ask("n", "number", question.Choosing, `{"least":"0","most":"9"}`))
	}
	for says, breaks := range map[string]func(*Draft){
		"cost must not be below zero":         func(d *Draft) { d.Cost = -1 },
		"deposit must not be below zero":      func(d *Draft) { d.Deposit = -1 },
		"can be for a person":                 func(d *Draft) { d.Measure = "moon" },
		"no question says how many there are": func(d *Draft) { d.Measure = charge.Night },
		"counts each night, and no question":  always(charge.Charge{Rate: charge.Rate{Amount: new(five.Fine())}, Per: charge.Night}),
		"needs a group, days, or":             func(d *Draft) { d.Prices = []charge.Special{{Portion: charge.Portion{Amount: &five}}} },
		"must be per cent or an amount":       func(d *Draft) { d.Payment = &charge.Parts{Rest: charge.AtHandover} },
		"asks for no booking and no days": func(d *Draft) {
			d.Payment = &charge.Parts{Portion: charge.Portion{Percent: &seven}, Rest: charge.BeforeBooking}
		},
		"exempt from tax takes 0 per cent":  func(d *Draft) { d.Tax, d.Exempt = seven, "Teaching" },
		"An add-on must be another product": func(d *Draft) { d.AddOns = []AddOn{{Product: 2}, {Product: 2}} },
		"does not work at character 5":      formula("2 * hm"),
		"which is asked after payment":      formula("card"),
		"can divide by zero":                func(d *Draft) { number(d); formula("1 / n")(d) },
		"A table in the formula":            func(d *Draft) { number(d); formula("upto(n, 3, 1, 5, 2)")(d) },
		"needs lower-case letters":          func(d *Draft) { d.Values = []NamedFormula{{Name: "Area", Formula: "1"}} },
		"is taken already":                  func(d *Draft) { d.Values = []NamedFormula{{Name: "title", Formula: "1"}} },
		"The formula of “b” does not work":  func(d *Draft) { d.Values = []NamedFormula{{Name: "b", Formula: "a"}, {Name: "a", Formula: "1"}} },
		"can count people, hours, days or":  func(d *Draft) { number(d); d.Questions[len(d.Questions)-1].CountsAs = "moon" },
		"not answered with one number":      func(d *Draft) { d.Questions[0].CountsAs = charge.Person },
		"both count each person": func(d *Draft) {
			number(d)
			d.Questions[len(d.Questions)-1].CountsAs = charge.Person
			q := ask("m", "count", question.Choosing, "")
			q.CountsAs = charge.Person
			d.Questions = append(d.Questions, q)
		},
		"cannot count what the price is made of": func(d *Draft) {
			q := ask("m", "count", question.Briefing, "")
			q.CountsAs = charge.Person
			d.Questions = append(d.Questions, q)
		},
	} {
		d := sound()
		breaks(&d)
		_, findings := Compile(d)
		if !slices.ContainsFunc(findings, func(f Finding) bool { return strings.Contains(f.Said(words.English), says) }) {
			t.Errorf("nobody says %q, but %+v", says, findings)
		}
	}
}

func TestMeasures(t *testing.T) {
	d := Draft{Title: "Stay", Currency: "EUR", Questions: []Question{
		ask("when", "booking", question.Choosing, ""), ask("stay", "date_span", question.Choosing, ""), ask("heads", "count", question.Choosing, ""),
	}, Booking: &booking.Rule{Week: calendar.Week{2: {{From: 600, To: 900}}}, Length: 90, Grid: 30, Places: 4, Horizon: 30}}
	e, findings := Compile(d)
	if Broken(findings) {
		t.Fatal(findings)
	}
	start := time.Date(2027, 5, 3, 22, 30, 0, 0, time.UTC)
	answers := question.Answers{
		"when": question.Booking{Start: start, People: 3}, "heads": question.Count(7),
		"stay": question.Span{From: calendar.Day{Year: 2027, Month: 6, Number: 1}, To: calendar.Day{Year: 2027, Month: 6, Number: 4}},
	}
	f := e.Facts(answers, time.UTC)
	if f.People != money.Whole(3) || f.Hours != money.Whole(3)/2 || f.Days != money.Whole(4) || f.Nights != money.Whole(3) || f.First.String() != "2027-06-01" {
		t.Errorf("%+v", f)
	}
	d.Questions[2].CountsAs = charge.Person
	d.Questions = slices.Delete(d.Questions, 1, 2)
	e, _ = Compile(d)
	zone := time.FixedZone("CEST", 2*3600)
	if f := e.Facts(answers, zone); f.People != money.Whole(7) || f.Nights != 0 || f.First.String() != "2027-05-04" {
		t.Errorf("%+v", f)
	}
	if f := e.Facts(nil, zone); f.People != 0 || f.Hours != 0 {
		t.Errorf("%+v", f)
	}
}

func TestArticlesAndCosts(t *testing.T) {
	d := Draft{Title: "Print", Currency: "EUR", Article: "PRINT", Cost: 200, MostUnits: 5, Questions: []Question{
		ask("size", "one_choice", question.Choosing, `{"choices":[{"code":"s","label":"S","article":"S"},{"code":"l","label":"L","article":"L","cost":150}]}`),
		ask("extras", "several_choices", question.Choosing, `{"counted":true,"choices":[{"code":"clip","label":"Clip","article":"C","cost":30},{"code":"pin","label":"Pin"}]}`),
	}}
	e, _ := Compile(d)
	answers := question.Answers{"size": question.One("l"), "extras": question.Counts{"clip": 4}}
	if a, c := e.ArticleOf(answers), e.CostOf(answers, 3); a != "PRINT-L-C" || c != 3*200+3*150+4*30 || !e.Costed() {
		t.Errorf("%s costs %d", a, c)
	}
	if a, c := e.ArticleOf(nil), e.CostOf(nil, 1); a != "PRINT" || c != 200 {
		t.Errorf("%s costs %d", a, c)
	}
}
