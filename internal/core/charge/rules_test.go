package charge

import (
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/formula"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// What sellers of other trades found wrong or silent, each by today's rules and,
// where they differ, by those of what was published before.
func TestRulesAndTheRulesBefore(t *testing.T) {
	hours := Measured{People: money.Whole(3), Hours: money.CountOf(decimal.RequireFromString("1.5"))}
	cards := question.Answers{"c": question.Counts{"tea": 3, "cake": 7}, "n": num("0"), "k": question.Count(0), "one": question.One("a")}
	add := func(c Charge) *Pricing {
		c.Effect, c.Label = Adds, "X"
		return &Pricing{Title: "P", Price: 33_33, Currency: "EUR", Charges: []Compiled{{Charge: c}}}
	}
	for _, c := range []struct {
		name          string
		p             *Pricing
		quantity      int
		now, formerly string
	}{
		{"a choice counts its own pieces", add(Charge{On: "c", Choice: "tea", Per: Answer, Rate: Rate{Amount: fine(100)}}), 1,
			"P 33.33; X 3.00 (3 pieces × 1.00); 36.33", "P 33.33; X 10.00 (10 pieces × 1.00); 43.33"},
		{"bands on one choice", add(Charge{On: "c", Choice: "cake", Per: Answer, Rate: Rate{Amount: fine(100)}, Bands: bands(5, 80), Graduated: true}), 1,
			"P 33.33; X 6.60 (5 pieces × 1.00 + 2 pieces × 0.80); 39.93", "P 33.33; X 9.00 (5 pieces × 1.00 + 5 pieces × 0.80); 42.33"},
		{"one choice of one", add(Charge{On: "one", Choice: "a", Per: Answer, Rate: Rate{Amount: fine(100)}}), 1, "P 33.33; X 1.00 (1 piece × 1.00); 34.33", ""},
		{"hours and people", add(Charge{Rate: Rate{Amount: fine(35)}, Per: Hour, Times: []Per{Person}}), 1,
			"P 33.33; X 1.58 (1.5 hours × 0.35 × 3 people); 34.91", "P 33.33; X 1.59 (1.5 hours × 0.35 × 3 people); 34.92"},
		{"people and hours", add(Charge{Rate: Rate{Amount: fine(35)}, Per: Person, Times: []Per{Hour}}), 1,
			"P 33.33; X 1.58 (3 people × 0.35 × 1.5 hours); 34.91", ""},
		{"units at a share", add(Charge{Rate: Rate{Percent: percent("35"), OfBase: true}, Per: Person}), 1,
			"P 33.33; X 35.00 (3 people × 35 % of 33.33); 68.33", "P 33.33; X 35.01 (3 people × 35 % of 33.33); 68.34"},
		{"a price for an hour, of several units", &Pricing{Title: "P", Price: 35, Currency: "EUR", Measure: Hour}, 3,
			"P 1.58 (1.5 hours × 0.35 × 3); 1.58", "P 1.59 (1.5 hours × 0.35 × 3); 1.59"},
		{"another price that is a share", &Pricing{Title: "P", Price: 33_33, Currency: "EUR", Prices: []Special{{AtLeast: 3, Label: "Three", Portion: Portion{Percent: percent("65")}}}}, 3,
			"P 35.00 (11.6655 × 3; Three: 11.6655 instead of 33.33); 35.00", "P 35.01 (11.67 × 3; Three: 11.67 instead of 33.33); 35.01"},
		{"a number of none", add(Charge{On: "n", Rate: Rate{Amount: fine(500)}}), 1, "P 33.33; 33.33", "P 33.33; X 5.00; 38.33"},
		{"a count of none", add(Charge{On: "k", Rate: Rate{Amount: fine(500)}}), 1, "P 33.33; 33.33", "P 33.33; X 5.00; 38.33"},
		{"also for none", add(Charge{On: "k", Rate: Rate{Amount: fine(500)}, AlsoNone: true}), 1, "P 33.33; X 5.00; 38.33", ""},
		{"another price above", &Pricing{Title: "P", Price: 1000, Currency: "EUR", Prices: []Special{{AtLeast: 1, Label: "Late", Portion: Portion{Amount: amount(1500)}}}}, 1,
			"P 15.00 (Late: 15.00 instead of 10.00); 15.00", "P 10.00; 10.00"},
		{"below the smallest coin", add(Charge{On: "t", Rate: Rate{Amount: new(money.Fine(400_000))}, Per: Character}), 1, "P 33.33; X 0.05 (13 letters × 0.004); 33.38", ""},
		{"up to the least of a line", &Pricing{Title: "P", Price: 1000, Currency: "EUR", Limits: Limits{Least: amount(2500), LeastLabel: "Least order"}}, 1, "P 10.00; Least order 15.00 (no less than 25.00); 25.00", ""},
		{"down to the most of a line", &Pricing{Title: "P", Price: 1000, Currency: "EUR", Limits: Limits{Most: amount(2500)}}, 3, "P 30.00 (10.00 × 3); Down to the most −5.00 (no more than 25.00); 25.00", ""},
		{"bands on people", &Pricing{Title: "P", Price: 5000, Currency: "EUR", Measure: Person, Bands: bands(2, 4000)}, 1, "P 120.00 (3 people × 40.00); 120.00", ""},
		{"graduated bands on people", &Pricing{Title: "P", Price: 5000, Currency: "EUR", Measure: Person, Bands: bands(2, 4000), Graduated: true}, 2,
			"P 280.00 ((2 people × 50.00 + 1 person × 40.00) × 2); 280.00", ""},
		{"bands on units", &Pricing{Title: "P", Price: 5000, Currency: "EUR", Bands: bands(9, 4000)}, 12, "P 480.00 (40.00 × 12); 480.00", ""},
	} {
		for _, by := range []struct {
			rules Rules
			want  string
		}{{RulesNow, c.now}, {Rules1, c.formerly}} {
			if by.want == "" {
				continue
			}
			p := *c.p
			p.Rules = by.rules
			input := in(c.quantity, cards)
			input.Answers["t"] = question.Text("to be or not to be")
			input.Facts = hours
			if got := print(p.Make(input)); got != by.want {
				t.Errorf("%s, by rules %d:\n got %s\nwant %s", c.name, by.rules, got, by.want)
			}
		}
	}
}

// Prices that rise at weekends, in the evening, in a season and with few places
// left, beside those that fall.
func TestDearerDays(t *testing.T) {
	weekend := Special{Label: "Weekend", Weekdays: []time.Weekday{time.Saturday, time.Sunday}, Dearer: true, Portion: Portion{Percent: percent("20")}}
	summer := Special{Label: "Summer", Booked: true, From: day("2027-06-01"), To: day("2027-08-31"), Dearer: true, Portion: Portion{Amount: amount(1000)}}
	evening := Special{Label: "Evening", Hours: &calendar.Span{From: 18 * 60, To: 24 * 60}, Portion: Portion{Amount: amount(6000)}}
	last := Special{Label: "Last places", Left: 2, Dearer: true, Portion: Portion{Amount: amount(500)}}
	club := Special{Label: "Club", Group: "club", Portion: Portion{Amount: amount(4000)}}
	p := Pricing{Title: "P", Price: 5000, Currency: "EUR", Prices: []Special{weekend, summer, evening, last, club}}
	at := func(day string, hour, left int, group string) Input {
		d, _ := calendar.ParseDay(day)
		return Input{Quantity: 1, Group: group, Day: calendar.Day{Year: 2027, Month: 1, Number: 4}, Facts: Measured{First: d, Minute: hour * 60, Timed: true, Left: left}}
	}
	for _, c := range []struct {
		combine Combine
		in      Input
		want    string
	}{
		{CombineLowest, at("2027-05-05", 10, 9, ""), "P 50.00; 50.00"},
		{CombineLowest, at("2027-05-08", 10, 9, ""), "P 60.00 (Weekend: 60.00 instead of 50.00); 60.00"},
		{CombineLowest, at("2027-07-10", 19, 1, "club"), "P 40.00 (Club: 40.00 instead of 50.00); 40.00"},
		{CombineLast, at("2027-07-10", 19, 2, ""), "P 55.00 (Last places: 55.00 instead of 50.00); 55.00"},
		{CombineLast, at("2027-07-10", 10, 9, ""), "P 60.00 (Summer: 60.00 instead of 50.00); 60.00"},
		{CombineSum, at("2027-07-10", 10, 9, "club"), "P 60.00 (Weekend +10.00, Summer +10.00, Club −10.00: 60.00 instead of 50.00); 60.00"},
		{CombineSum, Input{Quantity: 1}, "P 50.00; 50.00"}, // nothing is booked yet
	} {
		p.Combine = c.combine
		if got := print(p.Make(c.in)); got != c.want {
			t.Errorf("%s %+v:\n got %s\nwant %s", c.combine, c.in.Facts, got, c.want)
		}
	}
	// Each night of a stay has its own price.
	stay := Pricing{Title: "P", Price: 5000, Currency: "EUR", Measure: Night, Prices: []Special{weekend, summer}, Combine: CombineSum}
	night := at("2027-05-28", 0, 0, "") // from Friday over Monday, into the summer
	night.Facts.Nights = money.Whole(5)
	if got, want := print(stay.Make(night)), "P 100.00 (2 nights × 50.00); P 120.00 (2 nights × 60.00; Weekend: 60.00 instead of 50.00); P 60.00 (1 night × 60.00; Summer: 60.00 instead of 50.00); 280.00"; got != want {
		t.Errorf("\n got %s\nwant %s", got, want)
	}
}

// A charge can have its own rate of tax; the slip splits it.
func TestTaxOfACharge(t *testing.T) {
	p := Pricing{Title: "Evening", Price: 100_00, Currency: "EUR", Tax: TaxRule{Percent: *percent("19")}, Charges: []Compiled{
		{Charge: Charge{Label: "Meal", Effect: Adds, Rate: Rate{Amount: fine(40_00)}, Tax: percent("7")}}, {Charge: Charge{Label: "Book", Effect: Adds, Rate: Rate{Amount: fine(9_99)}, Tax: percent("7")}},
	}}
	s := p.Make(in(1, nil))
	// 100.00 ÷ 1.19 is 84.03 and 49.99 ÷ 1.07 is 46.72, by hand.
	if len(s.Taxes) != 2 || s.Taxes[0].Net != 84_03 || s.Taxes[1].Gross != 49_99 || s.Taxes[1].Net != 46_72 || s.Total != 149_99 {
		t.Errorf("%+v", s)
	}
	p.Tax.Added = true
	if s = p.Make(in(1, nil)); s.Total != 100_00+19_00+49_99+3_50 {
		t.Errorf("%+v", s)
	}
}

// reads reads a formula in which every name is a number.
func reads(t *testing.T, s string) *formula.Formula {
	t.Helper()
	f, err := formula.Read(s, func(string) (formula.Kind, bool) { return formula.Number, true })
	if err != nil {
		t.Fatal(err)
	}
	return f
}

// A named value that has a name for the slip stands on it, with its unit, unless
// it comes to nothing; on the slip of an order it says of which line it is.
func TestNamedValuesOnTheSlip(t *testing.T) {
	p := Pricing{Title: "Wall", Currency: "EUR", Price: 100, Units: map[string]string{"area": "m²"}, Values: []NamedValue{
		{Name: "area", Title: "Wall to paint", Formula: reads(t, "quantity / 3")},
		{Name: "silent", Formula: reads(t, "quantity")},
		{Name: "none", Title: "Nothing", Formula: reads(t, "quantity - 4")},
	}}
	s := p.Make(Input{Quantity: 4})
	if len(s.Stated) != 1 || s.Stated[0].Value.String() != "1.3333" || s.In(words.German).Stated[0].Words != "1,3333 m²" {
		t.Errorf("%+v", s.Stated)
	}
	o := order(line(1, "19", base(100)), OrderLine{Slip: s, Quantity: 4})
	if s := o.Make(); len(s.Stated) != 1 || s.Stated[0].Of != 2 {
		t.Errorf("%+v", s.Stated)
	}
}

// A formula without a result charges what the seller says it does then, and the
// slip explains it; without such a word, and beyond the range of amounts, there
// is a fault and never a price.
func TestFormulasWithoutAResult(t *testing.T) {
	of := func(s string, otherwise *decimal.Decimal) Slip {
		p := Pricing{Title: "P", Price: 1000, Currency: "EUR", Charges: []Compiled{{Charge: Charge{On: "n", Label: "X", Effect: Adds, Rate: Rate{Formula: s, Otherwise: otherwise}}, Formula: reads(t, s)}}}
		return p.Make(in(1, question.Answers{"n": num("0")}))
	}
	if got, want := print(of("10 / n", percent("2.5"))), "P 10.00; X 2.50 (2.50, as the formula has no result here: it divides by zero); 12.50"; got != want {
		t.Errorf("got %s, want %s", got, want)
	}
	for s, code := range map[string]string{"10 / n": "price_none", "900000000 * 2000000 + n": "price_beyond", "2000000000 + n": "price_beyond"} {
		slip := of(s, nil)
		if len(slip.Faults) != 1 || slip.Faults[0].Code != code || slip.Faults[0].Key != "n" {
			t.Errorf("%s: %+v", s, slip.Faults)
		}
	}
	p := Pricing{Title: "P", Price: money.Largest, Currency: "EUR"}
	if s := p.Make(in(2, nil)); len(s.Faults) != 1 || s.Faults[0].Key != question.QuantityKey {
		t.Errorf("two of the largest amount: %+v", s.Faults)
	}
	p.Rules = Rules1
	if s := p.Make(in(2, nil)); len(s.Faults) != 0 || s.Total != money.Largest {
		t.Errorf("what was published before is held: %+v", s)
	}
}

// A charge can count those entries of a list that say something.
func TestEntries(t *testing.T) {
	within := condition.Names{Class: func(k question.Key) (question.Class, bool) { return question.ClassNumber, k == "age" }}
	test, err := condition.Compile(&condition.Condition{Answer: "age", Op: condition.AtMost, Value: []byte("11")}, within)
	if err != nil {
		t.Fatal(err)
	}
	p := Pricing{Title: "P", Price: 1000, Currency: "EUR", Charges: []Compiled{
		{Charge: Charge{On: "guests", Label: "Children", Effect: Adds, Rate: Rate{Amount: fine(1800)}, Per: Answer, Noun: "child", Nouns: "children", Times: []Per{Night}}, Entry: test},
		{Charge: Charge{On: "guests", Label: "Cot", Effect: Adds, Rate: Rate{Amount: fine(500)}}, Entry: test},
	}}
	guests := func(ages ...string) Input {
		r := question.Repeat{}
		for _, a := range ages {
			r.Entries = append(r.Entries, question.Answers{"age": num(a)})
		}
		i := in(1, question.Answers{"guests": r})
		i.Facts.Nights = money.Whole(2)
		return i
	}
	if got, want := print(p.Make(guests("41", "9", "11", "12"))), "P 10.00; Children 72.00 (2 children × 18.00 × 2 nights); Cot 5.00; 87.00"; got != want {
		t.Errorf("got %s, want %s", got, want)
	}
	if got, want := print(p.Make(guests("41", "12"))), "P 10.00; 10.00"; got != want {
		t.Errorf("got %s, want %s", got, want)
	}
}

// Source: the rates of income tax in England for 2023/24 (Income Tax Act 2007, s. 10,
// as set by the Finance Act 2023), from memory: 20 % on the first 37,700 pounds of
// taxable income, 40 % up to 125,140 and 45 % above; the tax at each edge follows.
// Each pound is one that the price is for.
func TestGraduatedBandsOnPeopleAreATax(t *testing.T) {
	p := Pricing{Title: "Tax", Price: 20, Currency: "GBP", Measure: Person, Bands: bands(37_700, 40, 125_140, 45), Graduated: true}
	for pounds, want := range map[int64]money.Amount{1: 20, 37_700: 7_540_00, 37_701: 7_540_40, 125_140: 42_516_00, 200_000: 42_516_00 + 74_860*45} {
		input := in(1, nil)
		input.Facts.People = money.Whole(pounds)
		if got := p.Make(input).Total; got != want {
			t.Errorf("the tax of %d is %d, want %d", pounds, got, want)
		}
	}
}
