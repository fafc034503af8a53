package charge

import (
	"slices"
	"testing"

	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// The steps to a price say what counted, in order, and what did not and why.
func TestTrace(t *testing.T) {
	test, err := condition.Compile(&condition.Condition{Fact: condition.Quantity, Op: condition.AtLeast, Value: []byte("3")}, condition.Names{})
	if err != nil {
		t.Fatal(err)
	}
	p := Pricing{Title: "Chart", Price: 5000, Currency: "EUR", Prices: []Special{
		{Label: "Club", Group: "club", Portion: Portion{Amount: amount(4000)}}, {AtLeast: 2, Portion: Portion{Percent: percent("10")}}, {AtLeast: 2, Label: "Two", Portion: Portion{Percent: percent("5")}},
		{Label: "Spring", From: day("2027-06-01"), Portion: Portion{Amount: amount(100)}},
	}, Charges: []Compiled{
		{Charge: Charge{On: "size", Choice: "l", Label: "Large", Effect: Adds, Rate: Rate{Amount: fine(700)}}, Draft: 4},
		{Charge: Charge{On: "size", Choice: "s", Label: "Small", Effect: Adds, Rate: Rate{Amount: fine(700)}}, Draft: 5},
		{Charge: Charge{On: "n", Label: "Figures", Effect: Adds, Per: Answer, Rate: Rate{Amount: fine(700)}}, Draft: 6},
		{Charge: Charge{On: "gift", Label: "Gift", Effect: Adds, Rate: Rate{Amount: fine(700)}}, Draft: 7},
		{Charge: Charge{On: "ghost", Label: "Ghost", Effect: Adds, Rate: Rate{Amount: fine(700)}}, Draft: 8},
		{Charge: Charge{Label: "Many", Effect: Adds, Rate: Rate{Amount: fine(700)}}, Test: test, Draft: 9},
		{Charge: Charge{Label: "Care", Effect: Adds, Rate: Rate{Percent: percent("10")}}, Draft: 10},
	}}
	input := in(2, question.Answers{"size": question.One("l"), "n": num("0"), "gift": question.YesNo(false)})
	slip := p.Make(input)
	got := ""
	for _, s := range p.Trace(input) {
		got += s.Rule(words.English)
		switch {
		case s.Not != nil:
			got += " — " + s.Not.Error()
		case s.Line >= 0 && s.Charge > 0 && slip.Lines[s.Line].Amount.Fine() != s.Amount:
			t.Errorf("%s: line %d is another one", s.Rule(words.English), s.Line)
		default:
			got += " = " + words.English.Fine(s.Amount, "EUR")
		}
		got += "\n"
	}
	want := `list price 50.00 = 50.00
other price: Club: 40.00 for the group club — the customer is in no group
other price: 10 % less from 2 units = 45.00
other price: Two: 5 % less from 2 units — another one is lower
other price: Spring: 1.00 from Tue 1 Jun 2027 — it is for Mon 3 May 2027
Large: adds 7.00 = 7.00
Small: adds 7.00 — this choice is not chosen
Figures: adds 7.00 for each piece — the answer is none
Gift: adds 7.00 — the answer is no
Ghost: adds 7.00 — its question is not asked or not answered
Many: adds 7.00 — its condition does not hold
Care: adds 10 % of the price so far = 9.70
`
	if got != want {
		t.Errorf("got\n%swant\n%s", got, want)
	}
	if sum := slip.Total; sum != money.Amount(9000+700+970) {
		t.Errorf("the slip comes to %d", sum)
	}
}

// A list price of zero has no row beside others, and its steps none then.
func TestTraceWithoutARow(t *testing.T) {
	p := Pricing{Title: "Chart", Currency: "EUR", Prices: []Special{{AtLeast: 2, Portion: Portion{Amount: amount(0)}}}, Charges: []Compiled{
		{Charge: Charge{On: "size", Choice: "l", Label: "Large", Effect: Adds, Rate: Rate{Amount: fine(700)}}},
	}}
	for size, want := range map[string][]int{"l": {-1, -1, 0}, "s": {0, 0, -1}} {
		got := []int{}
		for _, s := range p.Trace(in(1, question.Answers{"size": question.One(size)})) {
			got = append(got, s.Line)
		}
		if !slices.Equal(got, want) {
			t.Errorf("%s: the steps lie at %v, want %v", size, got, want)
		}
	}
}
