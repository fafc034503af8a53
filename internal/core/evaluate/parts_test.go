package evaluate

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/coretest"
)

// partly makes a product with a list, units, choices and files, and steps for each.
func partly(t *testing.T, steps ...workplan.Step) *product.Edition {
	t.Helper()
	for i := range steps {
		steps[i].Key = workplan.StepKey(fmt.Sprintf("s%d", i))
		if steps[i].Start.On == "" {
			steps[i].Start = workplan.Start{On: workplan.OnPayment}
		}
		steps[i].Due = workplan.Due{Rule: workplan.WorkingDays, Count: 1}
	}
	carve := coretest.Ask("carve", "short_text", "")
	carve.Scope = question.OfUnit
	e, findings := product.Compile(product.Draft{Title: "Plates", Currency: "EUR", MostUnits: 5, Questions: []product.Question{
		coretest.Ask("guests", "repeat", `{"questions":[{"key":"name","kind":"short_text","moment":"choosing","wording":"Name","required":true},{"key":"gold","kind":"yes_no","moment":"choosing","wording":"Gold"}]}`),
		carve,
		coretest.Ask("inks", "several_choices", `{"choices":[{"code":"black","label":"Black"},{"code":"gold","label":"Gold ink"},{"code":"red","label":"Red"}]}`),
		coretest.Ask("scans", "files", `{"most":5}`),
		coretest.Ask("story", "long_text", ""),
	}, Values: []product.NamedFormula{{Name: "extra", Formula: "quantity * 7"}}, Steps: steps})
	if product.Broken(findings) {
		t.Fatalf("%+v", product.Told(findings, words.English))
	}
	return e
}

func worked(t *testing.T, e *product.Edition, answers string, quantity int) Result {
	t.Helper()
	f := asGiven()
	f.Quantity, f.Customer = quantity, "Ada Quill"
	f.Work = &Work{Language: words.English, Hours: &calendar.Hours{Zone: time.UTC}, Paid: coretest.Now, Briefed: coretest.Now}
	return Evaluate(e, coretest.Decode(t, e, answers), f)
}

// A step stands once for each part of the line, under a condition that reads the
// part, with its texts and minutes.
func TestStepsForParts(t *testing.T) {
	answers := `{"guests":[{"name":"Mila","gold":true},{"name":"Ben"},{"gold":true}],"carve":["Oak","",null],"inks":["gold","black"],"story":"Two words\nand more here",
		"scans":[{"file":"AAAAAAAAAAAAAAAAAAAAAA","name":"dog.jpg"},{"file":"BBBBBBBBBBBBBBBBBBBBBB","name":"cat.jpg"}]}`
	gold := condition.Condition{Answer: "gold", Op: condition.Is, Value: json.RawMessage("true")}
	carved := condition.Condition{Answer: "carve", Op: condition.Answered}
	for name, c := range map[string]struct {
		step workplan.Step
		want string
	}{
		"line":    {workplan.Step{Title: "Draw for {{customer}}", Minutes: workplan.Minutes{Fixed: 3, Each: 2, Of: "story", Per: workplan.Word}}, "Draw for Ada Quill 13 "},
		"entries": {workplan.Step{Title: "Letter the card for {{name}}", Instructions: "{{part_number}} of {{parts}}: {{guests}}", For: &workplan.For{Each: workplan.EachEntry, Of: "guests"}, Minutes: workplan.Minutes{Fixed: 1, Each: 2, Of: "name", Per: workplan.Character}}, "Letter the card for Mila 9 1 of 3: Mila, Yes; Letter the card for Ben 7 2 of 3: Ben; Letter the card for [Name: not answered yet] 1 3 of 3: Yes"},
		"some":    {workplan.Step{Title: "Gild {{part}}", For: &workplan.For{Each: workplan.EachEntry, Of: "guests", When: &gold}}, "Gild Mila 0 ; Gild 3 of 3 0 "},
		"units":   {workplan.Step{Title: "Carve {{carve}}", Instructions: "plate {{part}}", For: &workplan.For{Each: workplan.EachUnit}, Minutes: workplan.Minutes{Unit: 4}}, "Carve Oak 4 plate 1 of 3; Carve 4 plate 2 of 3; Carve 4 plate 3 of 3"},
		"carved":  {workplan.Step{Title: "Oil {{carve}}", For: &workplan.For{Each: workplan.EachUnit, When: &carved}}, "Oil Oak 0 "},
		"choices": {workplan.Step{Title: "Mix {{part}}", For: &workplan.For{Each: workplan.EachChoice, Of: "inks"}}, "Mix Black 0 ; Mix Gold ink 0 "},
		"files":   {workplan.Step{Title: "Mend {{scans}}", For: &workplan.For{Each: workplan.EachFile, Of: "scans"}, Minutes: workplan.Minutes{Fixed: 25}}, "Mend dog.jpg 25 ; Mend cat.jpg 25 "},
		"longer":  {workplan.Step{Title: "Print", Minutes: workplan.Minutes{Fixed: 5, Choices: []workplan.ChoiceMinutes{{Of: "inks", Code: "gold", Minutes: 30}, {Of: "inks", Code: "red", Minutes: 99}}}}, "Print 35 "},
		"value":   {workplan.Step{Title: "Pack", Minutes: workplan.Minutes{Fixed: 1, Value: "extra"}}, "Pack 22 "},
	} {
		r := worked(t, partly(t, c.step), answers, 3)
		var got []string
		for _, i := range r.Work {
			got = append(got, fmt.Sprintf("%s %d %s", i.Title, i.Minutes, i.Instructions))
		}
		if s := strings.Join(got, "; "); s != c.want {
			t.Errorf("%s:\n got %s\nwant %s", name, s, c.want)
		}
	}
}

// What a part's work was done from is its own: another entry's change marks nothing.
func TestAPartUsesItsOwnAnswers(t *testing.T) {
	e := partly(t, workplan.Step{Title: "Letter {{name}}", For: &workplan.For{Each: workplan.EachEntry, Of: "guests"}})
	r := worked(t, e, `{"guests":[{"name":"Mila"},{"name":"Ben"}]}`, 1)
	done := r.Work[0].Finish(coretest.Now)
	f := asGiven()
	f.Work = &Work{Language: words.English, Hours: &calendar.Hours{Zone: time.UTC}, Paid: coretest.Now, Briefed: coretest.Now, Existing: []workplan.Item{done, r.Work[1]}, Entries: r.Entries}
	if d := Evaluate(e, coretest.Decode(t, e, `{"guests":[{"name":"Mila"},{"name":"Benno"}]}`), f).Diff; len(d.Add) != 0 || len(d.Update) != 1 || d.Update[0].Title != "Letter Benno" {
		t.Errorf("%+v", d)
	}
	d := Evaluate(e, coretest.Decode(t, e, `{"guests":[{"name":"Milo"},{"name":"Ben"}]}`), f).Diff
	if len(d.Add) != 1 || d.Add[0].Title != "Letter Milo" || d.Add[0].Round != 1 {
		t.Errorf("%+v", d)
	}
}

// A paper is made from the answers, of a part where it is for one, and nothing that
// was answered acts as Markdown.
func TestPapers(t *testing.T) {
	e := partly(t,
		workplan.Step{Title: "Pack", Papers: []workplan.Paper{{Title: "Names", Text: "# For {{customer}}\n\n{{guests}}"}}},
		workplan.Step{Title: "Letter", For: &workplan.For{Each: workplan.EachEntry, Of: "guests"}, Papers: []workplan.Paper{{Title: "Card", Text: "**{{name}}**"}}},
	)
	r := worked(t, e, `{"guests":[{"name":"*Mila*"},{"name":"Ben"}]}`, 1)
	f := asGiven()
	f.Customer, f.Work = "Ada Quill", &Work{Language: words.English}
	if title, text, ok := r.Paper(e, f, "s0", 0, 0); !ok || title != "Names" || text != "# For Ada Quill\n\n\\*Mila\\*  \nBen" {
		t.Errorf("%q %q", title, text)
	}
	if _, text, ok := r.Paper(e, f, "s1", 0, 2); !ok || text != "**Ben**" {
		t.Errorf("%q", text)
	}
	for _, c := range [][2]int{{1, 0}, {0, 3}, {-1, 0}} {
		if _, _, ok := r.Paper(e, f, "s1", c[0], c[1]); ok {
			t.Errorf("there is a paper %d of part %d", c[0], c[1])
		}
	}
}

// What a step cannot be for, or count, is found before it is published.
func TestStepsForNothing(t *testing.T) {
	for code, s := range map[string]workplan.Step{
		"finding.step_for_nothing_entry":     {Title: "A", For: &workplan.For{Each: workplan.EachEntry, Of: "story"}},
		"finding.step_for_nothing_choice":    {Title: "A", For: &workplan.For{Each: workplan.EachChoice, Of: "story"}},
		"finding.step_for_nothing_file":      {Title: "A", For: &workplan.For{Each: workplan.EachFile, Of: "story"}},
		"finding.step_for_nothing_person":    {Title: "A", For: &workplan.For{Each: workplan.EachPerson}},
		"finding.step_for_nothing_unit":      {Title: "A", For: &workplan.For{Each: workplan.EachUnit}},
		"finding.unknown_code":               {Title: "A", Minutes: workplan.Minutes{Choices: []workplan.ChoiceMinutes{{Of: "ink", Code: "blue", Minutes: 1}}}},
		"finding.value_of_payment":           {Title: "A", Minutes: workplan.Minutes{Value: "nothing"}},
		"finding.step_starts_on_no_day":      {Title: "A", Start: workplan.Start{On: workplan.OnDay, Of: "story"}},
		"finding.has_merge_field_there_no":   {Title: "For {{part}}"},
		"finding.step_has_time_from_booking": {Title: "A", Who: &workplan.Who{Booked: true}},
	} {
		s.Key, s.Due = "a", workplan.Due{Rule: workplan.WorkingDays, Count: 1}
		if s.Start.On == "" {
			s.Start.On = workplan.OnPayment
		}
		_, findings := product.Compile(product.Draft{Title: "X", Currency: "EUR", MostUnits: 1000, Questions: []product.Question{
			coretest.Ask("story", "long_text", ""), coretest.Ask("ink", "one_choice", `{"choices":[{"code":"black","label":"Black"},{"code":"red","label":"Red"}]}`),
		}, Steps: []workplan.Step{s}})
		if !slices.ContainsFunc(findings, func(f product.Finding) bool { return f.Is(code) }) {
			t.Errorf("%s is not found: %+v", code, product.Told(findings, words.English))
		}
	}
}

// The answer that puts work first is a choice or a yes, asked before payment.
func TestRush(t *testing.T) {
	compile := func(rush *product.Rush) (*product.Edition, []product.Finding) {
		late := coretest.Ask("late", "yes_no", "")
		late.Moment = question.Briefing
		return product.Compile(product.Draft{Title: "X", Currency: "EUR", Rush: rush, Questions: []product.Question{
			coretest.Ask("fast", "yes_no", ""), late, coretest.Ask("story", "long_text", ""),
			coretest.Ask("speed", "one_choice", `{"choices":[{"code":"usual","label":"Usual"},{"code":"now","label":"Now"}]}`),
		}})
	}
	for name, c := range map[string]struct {
		rush *product.Rush
		want string
	}{
		"a text":       {&product.Rush{Of: "story", Codes: []string{"yes"}}, "finding.rush_of_no_choice"},
		"nothing":      {&product.Rush{Of: "gone", Codes: []string{"yes"}}, "finding.rush_of_no_choice"},
		"too late":     {&product.Rush{Of: "late", Codes: []string{"yes"}}, "finding.rush_too_late"},
		"no choice":    {&product.Rush{Of: "speed"}, "finding.rush_without_code"},
		"another code": {&product.Rush{Of: "speed", Codes: []string{"soon"}}, "finding.unknown_code"},
	} {
		if _, findings := compile(c.rush); !slices.ContainsFunc(findings, func(f product.Finding) bool { return f.Is(c.want) }) {
			t.Errorf("%s: %+v", name, product.Told(findings, words.English))
		}
	}
	e, _ := compile(&product.Rush{Of: "speed", Codes: []string{"now"}})
	if !e.Rushes(coretest.Decode(t, e, `{"speed":"now"}`)) || e.Rushes(coretest.Decode(t, e, `{"speed":"usual"}`)) || e.Rushes(nil) {
		t.Error("it rushes at the wrong answers")
	}
	e, _ = compile(&product.Rush{Of: "fast", Codes: []string{"yes"}})
	if !e.Rushes(coretest.Decode(t, e, `{"fast":true}`)) || e.Rushes(coretest.Decode(t, e, `{"fast":false}`)) {
		t.Error("it rushes at the wrong answers")
	}
}
