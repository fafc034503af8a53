package charge

import (
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/formula"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// Source: the income tax schedule X (single) of the United States for 2023,
// Revenue Procedure 2022-38, from memory; it states the tax at each edge of its
// bands as a worked example: 1,100 at 11,000, 5,147 at 44,725, 16,290 at 95,375,
// 37,104 at 182,100, 52,832 at 231,250 and 174,238.25 at 578,125. Each dollar of
// income is one that is counted, and its rate so many cents.
func TestGraduatedBandsAreAnIncomeTax(t *testing.T) {
	p := Pricing{Title: "Income", Currency: "USD", Charges: []Compiled{{Charge: Charge{On: "income", Label: "Tax", Effect: Adds, Rate: Rate{Amount: fine(10)}, Per: Answer, Graduated: true, Bands: bands(11_000, 12, 44_725, 22, 95_375, 24, 182_100, 32, 231_250, 35, 578_125, 37)}}}}
	for income, tax := range map[string]money.Amount{
		"0": 0, "11000": 1_100_00, "44725": 5_147_00, "95375": 16_290_00, "182100": 37_104_00, "231250": 52_832_00, "578125": 174_238_25,
		"60000": 5_147_00 + (60_000-44_725)*22, "1000000": 174_238_25 + (1_000_000-578_125)*37, "44725.5": 5_147_00 + 11,
	} {
		if got := p.Make(Input{Answers: question.Answers{"income": num(income)}, Quantity: 1}).Total; got != tax {
			t.Errorf("the tax of %s is %d, want %d", income, got, tax)
		}
	}
}

func in(quantity int, answers question.Answers) Input {
	return Input{Answers: answers, Quantity: quantity, Day: calendar.Day{Year: 2027, Month: 5, Number: 3}}
}

func day(s string) *calendar.Day {
	d, err := calendar.ParseDay(s)
	if err != nil {
		panic(err)
	}
	return &d
}

func TestCounts(t *testing.T) {
	of := func(c Charge) *Pricing {
		c.Effect, c.Label = Adds, "X"
		return &Pricing{Title: "P", Price: 10_000, Currency: "EUR", Charges: []Compiled{{Charge: c}}}
	}
	stay := Measured{People: money.Whole(5), Nights: money.Whole(3), Days: money.Whole(4), Hours: money.CountOf(decimal.RequireFromString("1.5"))}
	for _, c := range []struct {
		name    string
		charge  Charge
		answers question.Answers
		want    string
	}{
		{"a guest after two, per night", Charge{Rate: Rate{Amount: fine(1850)}, Per: Person, Included: 2, Times: []Per{Night}}, nil, "P 100.00; X 166.50 (3 people after 2 × 18.50 × 3 nights); 266.50"},
		{"at most", Charge{Rate: Rate{Amount: fine(1850)}, Per: Person, Included: 2, Times: []Per{Night}, Most: amount(9250)}, nil, "P 100.00; X 92.50 (3 people after 2 × 18.50 × 3 nights, at most 92.50); 192.50"},
		{"at least", Charge{Rate: Rate{Amount: fine(100)}, Per: Hour, Least: amount(500)}, nil, "P 100.00; X 5.00 (1.5 hours × 1.00, at least 5.00); 105.00"},
		{"hours in parts", Charge{Rate: Rate{Amount: fine(4000)}, Per: Hour}, nil, "P 100.00; X 60.00 (1.5 hours × 40.00); 160.00"},
		{"once per night", Charge{Rate: Rate{Amount: fine(700)}, Times: []Per{Night}}, nil, "P 100.00; X 21.00 (7.00 × 3 nights); 121.00"},
		{"days", Charge{Rate: Rate{Amount: fine(300)}, Per: Day}, nil, "P 100.00; X 12.00 (4 days × 3.00); 112.00"},
		{"letters with spaces", Charge{On: "t", Rate: Rate{Amount: fine(10)}, Per: CharacterSpaced}, question.Answers{"t": question.Text("to be or")}, "P 100.00; X 0.80 (8 letters × 0.10); 100.80"},
		{"letters without", Charge{On: "t", Rate: Rate{Amount: fine(10)}, Per: Character}, question.Answers{"t": question.Text("to be or")}, "P 100.00; X 0.60 (6 letters × 0.10); 100.60"},
		{"words", Charge{On: "t", Rate: Rate{Amount: fine(10)}, Per: Word, Included: 1}, question.Answers{"t": question.Text("to be  or")}, "P 100.00; X 0.20 (2 words after 1 × 0.10); 100.20"},
		{"a part of one", Charge{On: "n", Rate: Rate{Amount: fine(1000)}, Per: Answer}, question.Answers{"n": num("2.25")}, "P 100.00; X 22.50 (2.25 pieces × 10.00); 122.50"},
		{"below zero counts nothing", Charge{On: "n", Rate: Rate{Amount: fine(1000)}, Per: Answer}, question.Answers{"n": num("-2")}, "P 100.00; 100.00"},
		{"whole bands", Charge{On: "n", Rate: Rate{Amount: fine(600)}, Per: Answer, Bands: bands(5, 500, 10, 400)}, question.Answers{"n": num("11")}, "P 100.00; X 44.00 (11 pieces × 4.00); 144.00"},
		{"below the first band", Charge{On: "n", Rate: Rate{Amount: fine(600)}, Per: Answer, Bands: bands(5, 500)}, question.Answers{"n": num("5")}, "P 100.00; X 30.00 (5 pieces × 6.00); 130.00"},
		{"graduated bands", Charge{On: "n", Rate: Rate{Amount: fine(600)}, Per: Answer, Graduated: true, Bands: bands(5, 500, 10, 400)}, question.Answers{"n": num("11")},
			"P 100.00; X 59.00 (5 pieces × 6.00 + 5 pieces × 5.00 + 1 piece × 4.00); 159.00"},
		{"graduated bands after what is included", Charge{On: "n", Rate: Rate{Amount: fine(600)}, Per: Answer, Included: 2, Graduated: true, Bands: bands(5, 500)}, question.Answers{"n": num("6")},
			"P 100.00; X 23.00 (3 pieces after 2 × 6.00 + 1 piece × 5.00); 123.00"},
		{"several bands, times something else", Charge{On: "n", Rate: Rate{Amount: fine(100)}, Per: Answer, Graduated: true, Bands: bands(2, 50), Times: []Per{Night}}, question.Answers{"n": num("8")},
			"P 100.00; X 15.00 ((2 pieces × 1.00 + 6 pieces × 0.50) × 3 nights); 115.00"},
		{"bands of each unit", Charge{On: "n", Rate: Rate{Amount: fine(600)}, Per: Answer, Included: 1}, question.Answers{"n": question.Units{Each: []question.Value{num("3"), num("1"), num("2")}}},
			"P 100.00; X 18.00 (3 pieces after 1 × 6.00); 118.00"},
		{"per cent for each", Charge{On: "n", Rate: Rate{Percent: percent("5")}, Per: Answer}, question.Answers{"n": num("3")}, "P 100.00; X 15.00 (3 pieces × 5 % of 100.00); 115.00"},
	} {
		i := in(1, c.answers)
		i.Facts = stay
		if got := print(of(c.charge).Make(i)); got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.name, got, c.want)
		}
	}
}

func TestPercentOfTheBaseAndOfAllSoFar(t *testing.T) {
	p := &Pricing{Title: "P", Price: 10_000, Currency: "EUR", Charges: []Compiled{
		{Charge: Charge{Label: "A", Effect: Adds, Rate: Rate{Amount: fine(5000)}}},
		{Charge: Charge{Label: "B", Effect: Adds, Rate: Rate{Percent: percent("10")}}},
		{Charge: Charge{Label: "C", Effect: Adds, Rate: Rate{Percent: percent("10"), OfBase: true}}},
	}}
	if got, want := print(p.Make(in(1, nil))), "P 100.00; A 50.00; B 15.00 (10 % of 150.00); C 10.00 (10 % of 100.00); 175.00"; got != want {
		t.Errorf("%s, want %s", got, want)
	}
}

func TestConditionalCharges(t *testing.T) {
	test, err := condition.Compile(&condition.Condition{Fact: condition.Quantity, Op: condition.AtLeast, Value: []byte("3")}, condition.Names{})
	if err != nil {
		t.Fatal(err)
	}
	p := &Pricing{Title: "P", Price: 1000, Currency: "EUR", Charges: []Compiled{{Charge: Charge{Label: "Carrying", Effect: Adds, Rate: Rate{Amount: fine(300)}}, Test: test}}}
	for quantity, want := range map[int]money.Amount{2: 2000, 3: 3300} {
		i := in(quantity, nil)
		i.Known.Quantity = quantity
		if got := p.Make(i).Total; got != want {
			t.Errorf("%d units cost %d, want %d", quantity, got, want)
		}
	}
}

// The lowest price is taken and named; a night takes the price of its season.
func TestOtherPrices(t *testing.T) {
	p := &Pricing{Title: "Card", Price: 2000, Currency: "EUR", Prices: []Special{
		{Label: "Members", Group: "club", Portion: Portion{Amount: amount(1800)}},
		{Label: "Spring", From: day("2027-05-01"), To: day("2027-05-31"), Portion: Portion{Percent: percent("5")}},
		{AtLeast: 10, Portion: Portion{Percent: percent("15")}},
	}, Charges: []Compiled{
		{Charge: Charge{On: "size", Choice: "large", Effect: Sets, Rate: Rate{Amount: fine(3000)}, Prices: []Special{{Label: "Members", Group: "club", Portion: Portion{Amount: amount(2900)}}}}, Wording: "large"},
		{Charge: Charge{On: "size", Choice: "huge", Effect: Sets, Rate: Rate{Difference: amount(2500)}}, Wording: "huge"},
		{Charge: Charge{On: "gold", Label: "Gold", Effect: Adds, Rate: Rate{Amount: fine(500)}, EachUnit: true, Prices: []Special{{AtLeast: 3, Portion: Portion{Amount: amount(400)}}}}},
	}}
	for _, c := range []struct {
		quantity   int
		group, day string
		answers    question.Answers
		want       string
	}{
		{1, "", "2027-04-30", nil, "Card 20.00; 20.00"},
		{1, "", "2027-05-01", nil, "Card 19.00 (Spring: 19.00 instead of 20.00); 19.00"},
		{1, "club", "2027-05-31", nil, "Card 18.00 (Members: 18.00 instead of 20.00); 18.00"},
		{10, "club", "2027-05-31", nil, "Card 170.00 (17.00 × 10; price from 10 units: 17.00 instead of 20.00); 170.00"},
		{1, "club", "2027-01-01", question.Answers{"size": question.One("large")}, "Card, large 29.00 (Members: 29.00 instead of 30.00); 29.00"},
		{1, "club", "2027-05-02", question.Answers{"size": question.One("large")}, "Card, large 28.50 (Spring: 28.50 instead of 30.00); 28.50"},
		{1, "club", "2027-01-01", question.Answers{"size": question.One("huge")}, "Card, huge 45.00; 45.00"},
		{3, "", "2027-01-01", question.Answers{"gold": question.YesNo(true)}, "Card 60.00 (20.00 × 3); Gold 12.00 (4.00 × 3; price from 3 units: 4.00 instead of 5.00); 72.00"},
	} {
		i := in(c.quantity, c.answers)
		i.Group, i.Day = c.group, *day(c.day)
		if got := print(p.Make(i)); got != c.want {
			t.Errorf("%+v:\n got %s\nwant %s", c, got, c.want)
		}
	}
	cabin := &Pricing{Title: "Cabin", Price: 9000, Currency: "EUR", Measure: Night, Prices: []Special{
		{Label: "Summer", From: day("2027-06-01"), To: day("2027-08-31"), Portion: Portion{Amount: amount(8000)}}, {Label: "Long stay", AtLeast: 2, Portion: Portion{Percent: percent("10")}},
	}}
	stay := func(from string, nights int64, quantity int) string {
		i := in(quantity, nil)
		i.Facts = Measured{Nights: money.Whole(nights), First: *day(from)}
		return print(cabin.Make(i))
	}
	for got, want := range map[string]string{
		stay("2027-05-30", 4, 1): "Cabin 180.00 (2 nights × 90.00); Cabin 160.00 (2 nights × 80.00; Summer: 80.00 instead of 90.00); 340.00",
		stay("2027-08-31", 2, 1): "Cabin 80.00 (1 night × 80.00; Summer: 80.00 instead of 90.00); Cabin 90.00 (1 night × 90.00); 170.00",
		stay("2027-07-01", 1, 2): "Cabin 160.00 (1 night × 80.00 × 2; Summer: 80.00 instead of 90.00); 160.00",
		stay("2027-01-01", 0, 1): "Cabin 0.00 (90.00 for each night); 0.00",
	} {
		if got != want {
			t.Errorf("got %s\nwant %s", got, want)
		}
	}
}

func TestFormulaCharges(t *testing.T) {
	kinds := func(n string) (formula.Kind, bool) {
		k, ok := map[string]formula.Kind{"w": formula.Number, "h": formula.Number, "area": formula.Number, "edge": formula.Number, "list_price": formula.Number, "paper": formula.Code, "gift": formula.YesNo, "nights": formula.Number, "t": formula.Number, "tip": formula.Number}[n]
		return k, ok
	}
	read := func(s string) *formula.Formula {
		f, err := formula.Read(s, kinds)
		if err != nil {
			t.Fatal(s, err)
		}
		return f
	}
	p := &Pricing{Title: "Print", Price: 1000, Currency: "EUR", Values: []NamedValue{{"area", "", 0, read("w * h / 10000"), nil}, {"edge", "", 1, read("2 * (w + h) / area"), nil}}}
	answers := question.Answers{"w": num("120"), "h": num("80"), "paper": question.One("silk"), "gift": question.YesNo(true), "t": question.Text("a b c"), "tip": question.Amount(250)}
	for source, want := range map[string]string{
		"area * 45":                       "X 43.20",
		"edge":                            "X 416.67", // 2 × 200 ÷ 0.96
		`rate(paper, "silk", 12.5, 0)`:    "X 12.50",
		"list_price / 2 + (gift ? 1 : 0)": "X 6.00",
		"t * 0.1":                         "X 0.30",
		"tip * 2":                         "X 5.00",
		"-5":                              "", // a formula does not go below zero
		"1 / nights":                      "", // nor does one without a result charge anything
	} {
		p.Charges = []Compiled{{Charge: Charge{Label: "X", Effect: Adds, Rate: Rate{Formula: source}}, Formula: read(source), Draft: 7}}
		got := print(p.Make(in(1, answers)))
		if !strings.HasPrefix(got, strings.TrimSuffix("Print 10.00; "+want, "; ")) || (want == "") != (got == "Print 10.00; 10.00") {
			t.Errorf("%s: %s, want %s", source, got, want)
		}
		if all := p.Formulas(in(1, answers)); len(all) != 3 || all[2].Number != 8 || (all[2].Why != nil) != (source == "1 / nights") {
			t.Errorf("%s: %+v", source, all)
		}
	}
	// Without the width, the area is zero and the edge has no number.
	p.Charges = []Compiled{{Charge: Charge{Label: "X", Effect: Sets, On: "paper", Rate: Rate{Formula: "edge + 3"}}, Formula: read("edge + 3"), From: "Width · Height"}}
	if got := print(p.Make(in(2, question.Answers{"paper": question.One("silk")}))); got != "X 6.00 (3.00 × 2; 0 + 3; computed from: Width · Height); 6.00" {
		t.Error(got)
	}
}

func TestSentences(t *testing.T) {
	for _, c := range []struct {
		charge Charge
		en, de string
	}{
		{Charge{Effect: Adds, Rate: Rate{Amount: fine(1850)}, Per: Person, Noun: "guest", Nouns: "guests", Included: 2, Times: []Per{Night}, Most: amount(9250)},
			"adds 18.50 for each guest after 2, per night, at most 92.50", "plus 18,50 je guest nach 2, pro Nacht, höchstens 92,50"},
		{Charge{Effect: TakesOff, Rate: Rate{Percent: percent("12.5"), OfBase: true}}, "takes off 12.5 % of the price alone", "minus 12,5 % des Preises allein"},
		{Charge{Effect: Sets, Rate: Rate{Difference: amount(-500)}}, "sets the price to the list price −5.00", "setzt den Preis auf den Listenpreis −5,00"},
		{Charge{On: "n", Effect: Adds, Rate: Rate{Amount: fine(600)}, Per: Answer, Graduated: true, Bands: bands(5, 500, 10, 400)},
			"adds 6.00 for each piece; 5.00 for those from 6, 4.00 from 11", ""},
		{Charge{On: "n", Effect: Adds, Rate: Rate{Amount: fine(600)}, Per: Word, Bands: bands(5, 500)}, "adds 6.00 for each word; all of them at 5.00 from 6", ""},
		{Charge{Effect: Adds, Rate: Rate{Formula: "1"}, EachUnit: true, Least: amount(100), When: &condition.Condition{}}, "adds what its formula gives, for each unit, at least 1.00, under a condition", ""},
		{Charge{Effect: Adds, Rate: Rate{Amount: fine(500)}, Prices: []Special{{Group: "club", From: day("2027-06-01"), Portion: Portion{Amount: amount(400)}}, {AtLeast: 3, Portion: Portion{Percent: percent("10")}, To: day("2027-06-30")}}},
			"adds 5.00; or 4.00 for the group club from Tue 1 Jun 2027; or 10 % less from 3 units until Wed 30 Jun 2027", ""},
		{Charge{On: "a", Effect: Adds, Rate: Rate{Answered: true}}, "adds what the customer sets", "plus was die Kundschaft bestimmt"},
	} {
		if got := c.charge.Sentence("EUR", words.English); got != c.en {
			t.Errorf("%q, want %q", got, c.en)
		}
		if got := c.charge.Sentence("EUR", words.German); c.de != "" && got != c.de {
			t.Errorf("%q, want %q", got, c.de)
		}
	}
}
