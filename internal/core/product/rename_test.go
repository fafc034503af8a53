package product

import (
	"encoding/json"
	"strings"
	"testing"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

// A question of the line and one of a list's entries can have the same key: what a step
// reads of an entry stays when the line's is renamed.
func TestRenameLeavesWhatEntriesHave(t *testing.T) {
	d := sound()
	d.Questions = append(d.Questions, ask("name", "short_text", question.Choosing, ""), ask("guests", "repeat", question.Choosing, `{"most":5,"questions":[{"key":"name","kind":"short_text","wording":"Name"}]}`))
	step := d.Steps[0]
	step.Key, step.Title, step.Instructions, step.Needs = "card", "A card for {{name}}", "{{name}}", []question.Key{"name"}
	step.For = &workplan.For{Each: workplan.EachEntry, Of: "guests"}
	own := step
	own.Key, own.For = "list", nil
	d.Steps = append(d.Steps, step, own)
	n := d.Rename("name", "buyer")
	theirs, lines := n.Steps[len(n.Steps)-2], n.Steps[len(n.Steps)-1]
	if theirs.Title != "A card for {{name}}" || theirs.Instructions != "{{name}}" || theirs.Needs[0] != "buyer" {
		t.Errorf("of an entry: %+v", theirs)
	}
	if lines.Title != "A card for {{buyer}}" || lines.Instructions != "{{buyer}}" {
		t.Errorf("of the line: %+v", lines)
	}
}

// A renamed key is renamed wherever it is read, and nowhere else; the draft is
// as sound as before.
func TestRename(t *testing.T) {
	yes := &condition.Condition{All: []condition.Condition{{Answer: "gift", Op: condition.Is, Value: json.RawMessage("true")}, {None: []condition.Condition{{Answer: "gift", Op: condition.NotAnswered}}}}}
	d := sound()
	d.Questions[2].When = yes
	d.Questions[3].Settings = json.RawMessage(`{"text":"{{gift}} {{ gift }} {{#gift}}{{title}}{{/gift}} {{{gift}}} {{&gift}} gift"}`)
	d.Questions[4].Settings = json.RawMessage(`{"choices":[{"code":"gift","label":"gift","when":{"answer":"gift","op":"is","value":true}},{"code":"s","label":"Small"}]}`)
	part := ask("part", "section", question.Choosing, "")
	d.Questions = append([]Question{part}, d.Questions...)
	d.Questions[1].Section = "part"
	d.Questions = append(d.Questions, ask("first", "date", question.Choosing, ""), ask("last", "date", question.Choosing, `{"earliest":{"answer":"first","days":2}}`))
	d.Charges = append(d.Charges, charge.Charge{Label: "F", Effect: charge.Adds, Rate: charge.Rate{Formula: `gift and size == "gift" ? gifts : 2`}, When: yes})
	d.Values = []NamedFormula{{Name: "gifts", Formula: `gift ? 1 : 0`}}
	d.Steps[0].Needs, d.Steps[0].When = []question.Key{"title", "gift"}, yes
	d.Steps[0].Instructions = "{{#gift}}wrap{{/gift}}"
	before, _ := json.Marshal(d)
	n := d.Rename("gift", "present").Rename("part", "piece").Rename("first", "begin")
	if after, _ := json.Marshal(d); string(after) != string(before) {
		t.Error("the old draft was changed")
	}
	raw, _ := json.Marshal(n)
	for _, want := range []string{
		`{{present}} {{ present }} {{#present}}{{title}}{{/present}} {{{present}}} {{\u0026present}} gift`,
		`"when":{"answer":"present","op":"is","value":true}`, `{"code":"gift","label":"gift",`, `present and size == \"gift\" ? gifts : 2`, `present ? 1 : 0`,
		`{{#present}}wrap{{/present}}`, `"needs":["title","present"]`, `"section":"piece"`, `"answer":"begin"`,
	} {
		if !strings.Contains(string(raw), want) && !strings.Contains(string(raw), strings.ReplaceAll(want, `\u0026`, "&")) {
			t.Errorf("it lacks %s:\n%s", want, raw)
		}
	}
	_, old := Compile(d)
	_, now := Compile(n)
	if Broken(old) || Broken(now) || len(old) != len(now) {
		t.Errorf("%v became %v", old, now)
	}
}

// The table of kinds says of each what its specs do.
func TestKindsSayWhatTheirSpecsDo(t *testing.T) {
	settings := map[question.KindName]string{
		"one_choice": `{"choices":[{"code":"a","label":"A"}]}`, "several_choices": `{"choices":[{"code":"a","label":"A"}]}`, "colour": `{"free":true}`,
		"signature": `{"text":"x"}`, "consent": `{"text":"x","version":"1"}`, "note": `{"text":"x"}`, "picture": `{"picture":"mark.svg"}`,
		"repeat": `{"questions":[{"key":"a","kind":"short_text","wording":"A"}]}`,
	}
	kinds := question.Kinds()
	if len(kinds) < 26 {
		t.Fatalf("%d kinds", len(kinds))
	}
	for _, k := range kinds {
		spec, err := question.Compile(question.Question{Key: "a", Kind: k.Name, Settings: json.RawMessage(settings[k.Name])})
		if err != nil || spec.Class() != k.Class {
			t.Errorf("%s: %v", k.Name, err)
			continue
		}
		five := charge.Charge{On: "a", Label: "A", Effect: charge.Adds, Rate: charge.Rate{Amount: new(money.Amount(1).Fine())}, Per: charge.Answer}
		if k.Counts == "character" {
			five.Per = charge.Character
		}
		q := ask("a", k.Name, question.Choosing, settings[k.Name])
		d := Draft{Title: "P", Currency: "EUR", Questions: []Question{q}, Charges: []charge.Charge{five}}
		e, _ := Compile(d)
		if counts := len(e.Pricing.Charges) == 1; k.Counts != "" && !counts && k.Class != question.ClassBooking {
			t.Errorf("%s counts %q, and a charge that does was left out", k.Name, k.Counts)
		}
	}
}
