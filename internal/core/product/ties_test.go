package product

import (
	"encoding/json"
	"reflect"
	"testing"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

// Each place that can read an answer ties, under the names that the seller
// knows; texts in quotation marks, sections and the question that a charge is
// on do not.
func TestTies(t *testing.T) {
	gift := &condition.Condition{Any: []condition.Condition{{Answer: "gift", Op: condition.Is, Value: json.RawMessage("true")}}}
	d := sound()
	d.Questions = []Question{
		ask("part", "section", question.Choosing, ""), ask("gift", "yes_no", question.Choosing, ""), ask("size", "one_choice", question.Choosing,
			`{"choices":[{"code":"gift","label":"gift","when":{"answer":"gift","op":"is","value":true}}]}`),
		ask("first", "date", question.Choosing, ""), ask("last", "date", question.Choosing, `{"earliest":{"answer":"first","days":2}}`),
		ask("note", "note", question.Choosing, `{"text":"{{# gift }}wrapped{{/ gift }} gift"}`), ask("lone", "yes_no", question.Choosing, ""),
	}
	for i := range d.Questions {
		d.Questions[i].Wording = "The " + string(d.Questions[i].Key)
		d.Questions[i].Section = "part"
	}
	d.Questions[6].Wording = ""
	d.Charges = []charge.Charge{
		{On: "lone", Effect: charge.Adds, Rate: charge.Rate{Formula: `size == "first" ? 1 : 2`}, When: gift},
		{On: "gift", Label: "Wrapping", Effect: charge.Adds, Rate: charge.Rate{Amount: new(money.Amount(1).Fine())}},
		{Label: "Always", Effect: charge.Adds, Rate: charge.Rate{Amount: new(money.Amount(1).Fine())}, When: gift},
	}
	d.Values = []NamedFormula{{Name: "days", Formula: "first_day + 2 * lone"}}
	d.Steps = []workplan.Step{{Key: "wrap", Title: "Wrap it", When: gift, Instructions: "{{{last}}} {{unknown}}", Needs: []question.Key{"size"}, Minutes: workplan.Minutes{Of: "lone"}}}
	want := map[question.Key]Ties{
		"gift":  {By: []string{"The size", "The note", "lone", "Always", "Wrap it"}},
		"size":  {On: []string{"The gift"}, By: []string{"lone", "Wrap it"}},
		"first": {By: []string{"The last"}},
		"last":  {On: []string{"The first"}, By: []string{"Wrap it"}},
		"note":  {On: []string{"The gift"}},
		"lone":  {On: []string{"The gift", "The size"}, By: []string{"days", "Wrap it"}},
	}
	for key, ties := range d.Ties() {
		if !reflect.DeepEqual(ties, want[key]) {
			t.Errorf("%s: %v, want %v", key, ties, want[key])
		}
		delete(want, key)
	}
	if len(want) > 0 {
		t.Errorf("no ties of %v", want)
	}
}
