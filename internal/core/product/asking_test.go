package product

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// Each row breaks the sound draft in one way, and names what the product check
// says of it.
func TestMistakesInAsking(t *testing.T) {
	five := money.Amount(500)
	add := func(d *Draft, q Question) { d.Questions = append(d.Questions, q) }
	choosing := func(settings string) Question { return ask("pick", "one_choice", question.Choosing, settings) }
	for says, breaks := range map[string]func(*Draft){
		"can be asked of the line":                             func(d *Draft) { d.Questions[0].Scope = "planet" },
		"asked of the whole order, so it is asked at checkout": func(d *Draft) { d.Questions[0].Scope = question.OfOrder },
		"only shown, so it belongs to the line":                func(d *Draft) { d.Questions[3].Scope = question.OfOrder },
		"can be asked only once, not for each unit": func(d *Draft) {
			q := ask("sign", "signature", question.Choosing, `{"text":"x"}`)
			q.Scope = question.OfUnit
			add(d, q)
		},
		"cannot set the price": func(d *Draft) {
			d.Questions[1].Scope = question.OfUnit
			d.Charges[0] = charge.Charge{On: "gift", Effect: charge.Adds, Rate: charge.Rate{Percent: ptr(decimal.NewFromInt(5))}}
		},
		"cannot appear at \"roof\"":                             func(d *Draft) { d.Questions[0].Shown = []question.Place{"roof"} },
		"stands in the section \"nowhere\", which is not there": func(d *Draft) { d.Questions[0].Section = "nowhere" },
		"at another moment than its section": func(d *Draft) {
			add(d, ask("part", "section", question.Briefing, ""))
			d.Questions[0].Section = "part"
		},
		"cannot stand in another one": func(d *Draft) {
			q := ask("inner", "section", question.Choosing, "")
			q.Section = "outer"
			d.Questions = append(d.Questions, ask("outer", "section", question.Choosing, ""), q)
		},
		"which is no question for a day": func(d *Draft) {
			add(d, ask("leave", "date", question.Choosing, `{"earliest":{"answer":"title"}}`))
		},
		"which is only asked later": func(d *Draft) {
			d.Questions = append(d.Questions, ask("leave", "date", question.Choosing, `{"earliest":{"answer":"arrive"}}`), ask("arrive", "date", question.Briefing, ""))
		},
		"costs something and is preselected": func(d *Draft) {
			add(d, choosing(`{"choices":[{"code":"a","label":"A","preselected":true}]}`))
			d.Charges = append(d.Charges, charge.Charge{On: "pick", Choice: "a", Effect: charge.Adds, Rate: charge.Rate{Amount: new(five.Fine())}})
		},
		"and 2 are preselected": func(d *Draft) {
			add(d, choosing(`{"choices":[{"code":"a","label":"A","preselected":true},{"code":"b","label":"B","preselected":true}]}`))
		},
		"condition of “A” does not work": func(d *Draft) {
			add(d, choosing(`{"choices":[{"code":"a","label":"A","when":{"answer":"ghost","op":"is","value":1}}]}`))
		},
		"condition of the choice “A” cannot be read": func(d *Draft) { add(d, choosing(`{"choices":[{"code":"a","label":"A","when":{"wen":1}}]}`)) },
		"go round in a circle": func(d *Draft) {
			q := choosing(`{"choices":[{"code":"a","label":"A","when":{"answer":"circle","op":"is","value":true}}]}`)
			add(d, q)
			add(d, when(ask("circle", "yes_no", question.Choosing, ""), "pick"))
		},
		"so it cannot be counted": func(d *Draft) {
			add(d, ask("at", "time", question.Choosing, ""))
			d.Charges = append(d.Charges, charge.Charge{On: "at", Effect: charge.Adds, Rate: charge.Rate{Amount: new(five.Fine())}, Per: charge.Answer})
		},
	} {
		d := sound()
		breaks(&d)
		_, findings := Compile(d)
		if !slices.ContainsFunc(findings, func(f Finding) bool { return f.Error && strings.Contains(f.Said(words.English), says) }) {
			t.Errorf("nobody says %q, but %+v", says, findings)
		}
	}
}

func ptr[T any](v T) *T { return &v }

func TestEfforts(t *testing.T) {
	d := sound()
	off := ask("gone", "files", question.Choosing, "")
	off.Off = true
	d.Questions = append(d.Questions, off, ask("guests", "repeat", question.Paying, `{"questions":[{"key":"name","kind":"short_text","wording":"Name"}]}`))
	e, _ := Compile(d)
	want := []Effort{{question.Choosing, 3, 8 + 3 + 4}, {question.Paying, 1, 16}, {question.Briefing, 1, 25}}
	if got := e.Efforts(); !slices.Equal(got, want) {
		t.Errorf("%+v, want %+v", got, want)
	}
	for kind := range seconds {
		if _, err := question.Compile(question.Question{Kind: kind}); err != nil && strings.Contains(err.Error(), "no such kind") {
			t.Errorf("%s has seconds and is no kind", kind)
		}
	}
}

func draftOf(questions ...Question) Draft {
	return Draft{Title: "Thing", Currency: "EUR", Questions: questions}
}

// A product uses a sheet by naming it, by its category, or as one of all but
// some; what it has differently is its own.
func TestSheets(t *testing.T) {
	colour := ask("colour", "one_choice", question.Paying, `{"choices":[{"code":"a","label":"A"},{"code":"b","label":"B"}]}`)
	sheets := []Sheet{
		{ID: 1, Questions: []Question{ask("way", "short_text", question.Briefing, ""), colour}},
		{ID: 2, Questions: []Question{ask("phone", "phone", question.Paying, "")}, Rule: SheetRule{Categories: []string{"visits"}}},
		{ID: 3, Questions: []Question{ask("heard", "short_text", question.Paying, "")}, Rule: SheetRule{All: true, Except: []int64{9}}},
	}
	keys := func(d Draft) string {
		var k []string
		for _, q := range d.Questions {
			k = append(k, string(q.Key))
		}
		return strings.Join(k, " ")
	}
	d := draftOf(ask("title", "short_text", question.Choosing, ""))
	d.Sheets = []SheetUse{{Sheet: 1}}
	for _, c := range []struct {
		id       int64
		category string
		want     string
	}{{7, "", "title way colour heard"}, {7, "visits", "title way colour phone heard"}, {9, "visits", "title way colour phone"}} {
		d.Category = c.category
		with := d.With(c.id, sheets)
		if got := keys(with); got != c.want {
			t.Errorf("product %d of %q asks %q, want %q", c.id, c.category, got, c.want)
		}
		if got := keys(with.With(c.id, sheets)); got != c.want || keys(with.Own()) != "title" {
			t.Errorf("a second time it asks %q, and of its own %q", got, keys(with.Own()))
		}
	}
	d.Category = "visits"
	d.Sheets = []SheetUse{
		{Sheet: 1, Changes: []SheetShift{{Key: "way", Wording: "The way?", Required: ptr(true), Moment: question.Choosing}, {Key: "colour", Off: true, Choices: []string{"b"}}}},
		{Sheet: 2, Detached: true},
	}
	with := d.With(7, sheets)
	if keys(with) != "title way colour heard" {
		t.Fatal(keys(with))
	}
	if q := with.Questions[1]; q.Wording != "The way?" || !q.Required || q.Moment != question.Choosing || q.Sheet != 1 {
		t.Errorf("%+v", q)
	}
	if q := with.Questions[2]; !q.Off || strings.Contains(string(q.Settings), `"a"`) || !strings.Contains(string(q.Settings), `"b"`) {
		t.Errorf("%+v %s", q, q.Settings)
	}
	d.Sheets[0].Changes[1] = SheetShift{Key: "colour", Wording: "Which colour?"} // no fewer choices
	if q := d.With(7, sheets).Questions[2]; q.Wording != "Which colour?" || string(q.Settings) != string(colour.Settings) {
		t.Errorf("%+v %s", q, q.Settings)
	}
	if sheets[0].Questions[0].Required || len(sheets[0].Check()) > 0 {
		t.Error("a product's changes reached the sheet")
	}
	if f := (Sheet{Questions: []Question{ask("Bad", "short_text", question.Choosing, "")}}).Check(); !Broken(f) {
		t.Error("a sheet with a bad key passes")
	}
}

// Each row changes the sound draft in one way and names the sentence for it.
func TestCompare(t *testing.T) {
	six, five := money.Amount(600), money.Amount(500)
	for says, change := range map[string]func(*Draft){
		"The title reads “Map” instead of “Chart”.":                     func(d *Draft) { d.Title = "Map" },
		"The price is 25.00 instead of 24.00.":                          func(d *Draft) { d.Price = 2500 },
		"The tax is 7 % instead of 19 %.":                               func(d *Draft) { d.Tax = decimal.NewFromInt(7) },
		"One order can have 3 of it instead of 1.":                      func(d *Draft) { d.MostUnits = 3 },
		"“About new” is new, asked at checkout.":                        func(d *Draft) { d.Questions = append(d.Questions, ask("new", "date", question.Paying, "")) },
		"“About size” is gone.":                                         func(d *Draft) { d.Questions = d.Questions[:4] },
		"“About title” reads “The words”.":                              func(d *Draft) { d.Questions[0].Wording = "The words" },
		"“About title” must be answered now.":                           func(d *Draft) { d.Questions[0].Required = true },
		"“About title” is asked at checkout instead of while choosing.": func(d *Draft) { d.Questions[0].Moment = question.Paying },
		"“About title” may be left until after paying.":                 func(d *Draft) { d.Questions[0].Later = true },
		"“About title” is switched off.":                                func(d *Draft) { d.Questions[0].Off = true },
		"“About title” belongs to each unit.":                           func(d *Draft) { d.Questions[0].Scope = question.OfUnit },
		"“About title”: most is 40.":                                    func(d *Draft) { d.Questions[0].Settings = json.RawMessage(`{"most":40}`) },
		"“About card” is always asked.":                                 func(d *Draft) { d.Questions[2].When = nil },
		"“About title” is asked under a condition.":                     func(d *Draft) { d.Questions[0].When = &condition.Condition{Answer: "gift", Op: condition.Answered} },
		"“About size” has the new choice “Large”.": func(d *Draft) {
			d.Questions[4].Settings = json.RawMessage(`{"choices":[{"code":"s","label":"Small"},{"code":"l","label":"Large"}]}`)
		},
		"“About size” no longer has the choice “Small”.": func(d *Draft) {
			d.Questions[4].Settings = json.RawMessage(`{"choices":[]}`)
		},
		"The choice “Small” of “About size” reads “Tiny”.": func(d *Draft) { d.Questions[4].Settings = json.RawMessage(`{"choices":[{"code":"s","label":"Tiny"}]}`) },
		"The questions stand in another order.":            func(d *Draft) { d.Questions[0], d.Questions[1] = d.Questions[1], d.Questions[0] },
		"“About gift” adds 6.00; before, it adds 5.00.":    func(d *Draft) { d.Charges[0].Rate.Amount = new(six.Fine()) },
		"“About gift” no longer adds 5.00.":                func(d *Draft) { d.Charges = nil },
		"“Small” of “About size” sets the price to 5.00.": func(d *Draft) {
			d.Charges = append(d.Charges, charge.Charge{On: "size", Choice: "s", Effect: charge.Sets, Rate: charge.Rate{Amount: new(five.Fine())}})
		},
		"“About gift” has other words on the slip.": func(d *Draft) { d.Charges[0].Label = "Wrapped" },
		"“About title” adds 6.00 for each letter after 24.": func(d *Draft) {
			d.Charges = append(d.Charges, charge.Charge{On: "title", Effect: charge.Adds, Rate: charge.Rate{Amount: new(six.Fine())}, Per: charge.Character, Included: 24})
		},
		"The step “Do letter” is called “Letter it”.":       func(d *Draft) { d.Steps[0].Title = "Letter it" },
		"The step “Do letter” works in another way.":        func(d *Draft) { d.Steps[0].Minutes.Fixed = 5 },
		"The step “Do letter” is gone.":                     func(d *Draft) { d.Steps = nil },
		"It can be booked.":                                 func(d *Draft) { d.Booking = &booking.Rule{} },
		"The price is for each night instead of one of it.": func(d *Draft) { d.Measure = charge.Night },
		"Another price is new: 5.00 from 3 units.":          func(d *Draft) { d.Prices = []charge.Special{{AtLeast: 3, Portion: charge.Portion{Amount: &five}}} },
		"A named value is new: area = 2 * 3.":               func(d *Draft) { d.Values = []NamedFormula{{Name: "area", Formula: "2 * 3"}} },
		"The security deposit is 5.00 instead of 0.00.":     func(d *Draft) { d.Deposit = 500 },
		"It is paid in another way.": func(d *Draft) {
			d.Payment = &charge.Parts{Portion: charge.Portion{Amount: &five}, Rest: charge.AtHandover}
		},
		"Other products are offered with it.":            func(d *Draft) { d.AddOns = []AddOn{{Product: 2}} },
		"Other groups can buy it.":                       func(d *Draft) { d.Groups = []string{"club"} },
		"Prices are with or without tax in another way.": func(d *Draft) { d.TaxAdded = true },
	} {
		now := sound()
		change(&now)
		if said := Compare(sound(), now); len(said) != 1 || said[0].Error() != says {
			t.Errorf("%q, want %q", said, says)
		}
	}
	if said := Compare(sound(), sound()); len(said) > 0 {
		t.Errorf("nothing changed, and it says %q", said)
	}
}
