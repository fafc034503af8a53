package product

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

// evening asks for a size, a number, a list of guests and whether it rains.
func evening() Draft {
	return Draft{Title: "Evening", Currency: "EUR", Price: 4000, Tax: decimal.NewFromInt(19), Questions: []Question{
		ask("size", "one_choice", question.Choosing, `{"choices":[{"code":"s","label":"Small"},{"code":"l","label":"Large"}]}`),
		ask("n", "number", question.Choosing, `{"least":"0","most":"9"}`),
		ask("guests", "repeat", question.Choosing, `{"most":4,"questions":[{"key":"age","kind":"count","moment":"choosing","wording":"Age"},{"key":"dish","kind":"one_choice","moment":"choosing","wording":"Dish","settings":{"choices":[{"code":"soup","label":"Soup"}]}}]}`),
		ask("rain", "yes_no", question.Choosing, ""),
	}}
}

func say(d Draft) (all []string, broken bool) {
	_, findings := Compile(d)
	for _, f := range findings {
		kind := "warning"
		if f.Error {
			kind = "error"
		}
		all = append(all, kind+" "+string(f.Part)+" "+f.Key+": "+f.Said(words.English))
	}
	return all, Broken(findings)
}

// What used to be dropped or passed over without a word is said, with its place.
func TestNothingIsPassedOverInSilence(t *testing.T) {
	five, six := money.Amount(500), money.Amount(600)
	add := func(c charge.Charge) func(*Draft) {
		if c.Label == "" {
			c.Label = "X"
		}
		if c.Effect == "" {
			c.Effect = charge.Adds
		}
		if c.Rate == (charge.Rate{}) {
			c.Rate.Amount = new(five.Fine())
		}
		return func(d *Draft) { d.Charges = append(d.Charges, c) }
	}
	formula := func(s string) func(*Draft) { return add(charge.Charge{Rate: charge.Rate{Formula: s}}) }
	when := func(raw string) *condition.Condition {
		var c condition.Condition
		if err := json.Unmarshal([]byte(raw), &c); err != nil {
			t.Fatal(err)
		}
		return &c
	}
	ten := decimal.NewFromInt(10)
	for want, change := range map[string]func(*Draft){
		"error charge 1: Charge 1 on \"n\": what is included":              add(charge.Charge{On: "n", Included: 2}),
		"error charge 1: Charge 1 on \"n\": what is included, and up to":   add(charge.Charge{On: "n", UpTo: 2}),
		"error charge 1: Charge 1: per cent are taken of all units":        add(charge.Charge{EachUnit: true, Rate: charge.Rate{Percent: &ten}}),
		"error charge 1: Charge 1: bands belong":                           add(charge.Charge{Bands: []charge.Band{{After: 2, Amount: 1}}}),
		"error charge 1: Charge 1 on \"n\": a band begins beyond the last": add(charge.Charge{On: "n", Per: charge.Answer, UpTo: 3, Bands: []charge.Band{{After: 3, Amount: 1}}}),
		"warning product prices: Other price 1 is 50.00, above the price of 40.00": func(d *Draft) {
			d.Prices = []charge.Special{{Group: "club", Portion: charge.Portion{Amount: new(money.Amount(5000))}}}
		},
		"warning charge 1: Other price 1 is 6.00, above the price of 5.00": add(charge.Charge{Prices: []charge.Special{{Group: "club", Portion: charge.Portion{Amount: &six}}}}),
		"error product prices: Other price 1 looks at what is booked": func(d *Draft) {
			d.Prices = []charge.Special{{Weekdays: []time.Weekday{6}, Portion: charge.Portion{Amount: &six}}}
		},
		"error charge 1: The formula of “X” names “xl” at character 12":                formula(`rate(size, "xl", 3, "s", 4, 5)`),
		"error charge 1: The formula of “X” names “m” at character 9":                  formula(`size == "m" ? 1 : 2`),
		"error charge 1: The formula of “X” names “fish” at character 23":              formula(`count(guests, dish == "fish")`),
		"error charge 1: “X” compares with “xl”, and “About size” has no such choice":  add(charge.Charge{When: when(`{"answer":"size","op":"is","value":"xl"}`)}),
		"error question rain: “About rain” compares with “xl”":                         func(d *Draft) { d.Questions[3].When = when(`{"answer":"size","op":"includes","value":["s","xl"]}`) },
		"error charge 1: “X” compares with “fish”":                                     add(charge.Charge{On: "guests", Per: charge.Answer, Entries: when(`{"answer":"dish","op":"is","value":"fish"}`)}),
		"error charge 1: “X” reads night, and no question says":                        add(charge.Charge{When: when(`{"fact":"nights","op":"at_least","value":2}`)}),
		"error charge 1: The formula of “X” reads “nights”":                            formula("nights * 2"),
		"error charge 1: The charge “X” looks at entries, and “About rain” is no list": add(charge.Charge{On: "rain", Entries: when(`{"answer":"age","op":"is","value":1}`)}),
		"warning charge 1: The charge “X” is on “About n”, which is switched off": func(d *Draft) {
			d.Questions[1].Off = true
			add(charge.Charge{On: "n"})(d)
		},
		"error charge 1: “X” takes its per cent of the price alone, and that is 0.00": func(d *Draft) {
			d.Price = 0
			add(charge.Charge{Rate: charge.Rate{Percent: &ten, OfBase: true}})(d)
		},
		"warning charge 1: The prices from a number on hold only while": func(d *Draft) {
			d.Bands = []charge.Band{{After: 2, Amount: 1}}
			add(charge.Charge{On: "size", Choice: "s", Effect: charge.Sets})(d)
		},
		"warning charge 1: “X” would set the price below zero (−10.00) and sets it to 0.00: About size · Small.":      add(charge.Charge{On: "size", Choice: "s", Effect: charge.Sets, Rate: charge.Rate{Difference: new(money.Amount(-5000))}}),
		"error charge 1: The formula of “X” can divide by zero. Say which amount":                                     formula("10 / n"),
		"error charge 1: A table in the formula of “X” has no number":                                                 formula("upto(n, 3, 1)"),
		"error value 1: The formula of “a” can divide by zero":                                                        func(d *Draft) { d.Values = []NamedFormula{{Name: "a", Formula: "1 / n"}} },
		"error product price: The price of 1,234,567,890.12 is too large: at most 100,000,000.00.":                    func(d *Draft) { d.Price = 123456789012 },
		"error charge 1: The formula of “X” does not work at character 1: numbers are written with a point here, 1.5": formula("1,5 * n"),
		"error charge 1: Charge 1: the amount is too large":                                                           add(charge.Charge{Rate: charge.Rate{Amount: new(money.Largest.Fine() + 1)}}),
		"error charge 1: The formula of “X” does not work at character 7: a question for a list is needed":            formula("count(n, age < 12)"),
	} {
		d := evening()
		change(&d)
		all, _ := say(d)
		if !slices.ContainsFunc(all, func(s string) bool { return strings.HasPrefix(s, want) }) {
			t.Errorf("%s\nis not among\n%s", want, strings.Join(all, "\n"))
		}
	}
	for name, change := range map[string]func(*Draft){
		"an amount without a result": add(charge.Charge{Rate: charge.Rate{Formula: "10 / n", Otherwise: &ten}}),
		"a table with one more":      formula("upto(n, 3, 1, 5)"),
		"a value without a result":   func(d *Draft) { d.Values = []NamedFormula{{Name: "a", Formula: "1 / n", Otherwise: &ten}} },
		"entries of a list":          formula("count(guests, age < 12 and dish == \"soup\") + sum(guests, age) * n"),
		"a share on everything":      add(charge.Charge{Rate: charge.Rate{Percent: &ten}, Place: charge.AtEnd}),
	} {
		d := evening()
		change(&d)
		if all, broken := say(d); broken {
			t.Errorf("%s is refused: %v", name, all)
		}
	}
}

// The order of the slip: with the questions, at the start, at the end, or as the
// seller lists them.
func TestTheOrderOfTheSlip(t *testing.T) {
	one := charge.Rate{Amount: new(money.Amount(100).Fine())}
	share := charge.Rate{Percent: new(decimal.NewFromInt(10))}
	d := evening()
	d.Charges = []charge.Charge{
		{Label: "everything", Effect: charge.Adds, Rate: share}, {On: "n", Label: "n", Effect: charge.Adds, Rate: one}, {On: "size", Label: "size", Effect: charge.Adds, Rate: one},
		{Label: "always", Effect: charge.Adds, Rate: one}, {On: "rain", Label: "rain first", Effect: charge.Adds, Rate: one, Place: charge.AtStart},
		{On: "size", Label: "size last", Effect: charge.Adds, Rate: share, Place: charge.AtEnd}, {Label: "off", Effect: charge.TakesOff, Rate: one},
	}
	order := func() string {
		e, f := Compile(d)
		if Broken(f) {
			t.Fatal(f)
		}
		var names []string
		for i := range e.Pricing.Charges {
			names = append(names, e.Pricing.Charges[i].Name())
		}
		return strings.Join(names, " · ")
	}
	if got, want := order(), "always · rain first · size · n · everything · size last · off"; got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
	d.Rules = charge.Rules1 // a share without a question came before those of questions
	if got, want := order(), "everything · always · rain first · size · n · size last · off"; got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
	d.Rules, d.ByHand = charge.RulesNow, true
	if got, want := order(), "everything · n · size · always · rain first · size last · off"; got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
}

// A question that a list's entries have of the same name is not renamed with the
// order's own.
func TestRenamedBesideEntries(t *testing.T) {
	d := evening()
	d.Questions = append(d.Questions, ask("age", "count", question.Choosing, ""))
	d.Charges = []charge.Charge{{Label: "X", Effect: charge.Adds, Rate: charge.Rate{Formula: `age * 2 + count(guests, age < 12) + sum( guests, age)`}}}
	if got, want := d.Rename("age", "years").Charges[0].Rate.Formula, `years * 2 + count(guests, age < 12) + sum( guests, age)`; got != want {
		t.Errorf("%s, want %s", got, want)
	}
	if got, want := d.Rename("guests", "people_in").Charges[0].Rate.Formula, `age * 2 + count(people_in, age < 12) + sum( people_in, age)`; got != want {
		t.Errorf("%s, want %s", got, want)
	}
}

// A step can take its minutes for those entries of a list that say something.
func TestMinutesOfEntries(t *testing.T) {
	d := evening()
	d.Steps = []workplan.Step{{Key: "cook", Title: "Cook soup", Minutes: workplan.Minutes{Fixed: 10, Each: 4, Of: "guests", Per: workplan.Answer, Entries: &condition.Condition{Answer: "dish", Op: condition.Is, Value: json.RawMessage(`"soup"`)}},
		Start: workplan.Start{On: workplan.OnPayment}, Due: workplan.Due{Rule: workplan.WorkingDays, Count: 1}}}
	e, f := Compile(d)
	if Broken(f) {
		t.Fatal(f)
	}
	guests := question.Repeat{Entries: []question.Answers{{"dish": question.One("soup")}, {"dish": question.One("soup")}, {}}}
	items, _ := e.Plan.Wanted(workplan.Basis{Answers: question.Answers{"guests": guests}, Quantity: 1, Words: func(question.Key, *workplan.For, workplan.Part) string { return "" }, Field: func(string, *workplan.For, workplan.Part) string { return "" }, Hours: &calendar.Hours{Zone: time.UTC}})
	if len(items) != 1 || items[0].Minutes != 18 {
		t.Errorf("%+v", items)
	}
	d.Steps[0].Minutes.Of = "n"
	if _, f := Compile(d); !Broken(f) {
		t.Error("a number has entries")
	}
}

// A finding names its place as a path with indexes.
func TestPlaces(t *testing.T) {
	five := money.Amount(500).Fine()
	d := evening()
	d.Questions[3].When = &condition.Condition{Answer: "size", Op: condition.Is, Value: json.RawMessage(`"xl"`)}
	d.Prices = []charge.Special{{AtLeast: 2, Portion: charge.Portion{Amount: new(money.Amount(100))}}, {AtLeast: 3, Portion: charge.Portion{Amount: new(money.Amount(-1))}}}
	d.Values = []NamedFormula{{Name: "ok", Formula: "1"}, {Name: "bad", Formula: "1 +"}}
	d.Charges = []charge.Charge{
		{Label: "a", Effect: charge.Adds, Rate: charge.Rate{Amount: &five}}, {Label: "b", Effect: charge.Adds, Rate: charge.Rate{Amount: new(money.Fine(-1))}},
		{Label: "c", Effect: charge.Adds, Rate: charge.Rate{Amount: &five}, Prices: []charge.Special{{AtLeast: 2, Portion: charge.Portion{Percent: new(decimal.NewFromInt(101))}}}},
		{On: "n", Per: charge.Answer, Effect: charge.Adds, Rate: charge.Rate{Amount: &five}, Bands: []charge.Band{{After: 3}, {After: 2}}},
	}
	d.Steps = []workplan.Step{{Key: "x", Title: "X", Start: workplan.Start{On: "never"}}}
	_, findings := Compile(d)
	var got []string
	for _, f := range findings {
		if f.Error {
			got = append(got, d.Place(f))
		}
	}
	for _, want := range []string{"questions[3]", "prices[1].amount", "values[1]", "charges[1].rate.amount", "charges[2].prices[0].percent", "charges[3].bands[1]", "steps[0]"} {
		if !slices.Contains(got, want) {
			t.Errorf("%s is not among %v", want, got)
		}
	}
}
