package evaluate

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/coretest"
)

// A step stands under every fact that questions and charges stand under.
func TestStepsUnderFacts(t *testing.T) {
	step := func(key workplan.StepKey, f condition.Fact, op condition.Op, value string) workplan.Step {
		return workplan.Step{
			Key: key, Title: string(key), Start: workplan.Start{On: workplan.OnPayment}, Due: workplan.Due{Rule: workplan.WorkingDays, Count: 1},
			When: &condition.Condition{Fact: f, Op: op, Value: json.RawMessage(value)},
		}
	}
	heads := coretest.Ask("heads", "count", "")
	heads.CountsAs = charge.Person
	d := product.Draft{Title: "Stay", Currency: "EUR", MostUnits: 3, Questions: []product.Question{coretest.Ask("stay", "date_span", ""), heads}, Steps: []workplan.Step{
		step("many", condition.People, condition.AtLeast, "4"), step("long", condition.Nights, condition.AtLeast, "3"), step("short", condition.Days, condition.AtMost, "2"),
		step("club", condition.Group, condition.Is, `"club"`), step("two", condition.Quantity, condition.AtLeast, "2"),
	}}
	e, findings := product.Compile(d)
	if product.Broken(findings) {
		t.Fatal(findings)
	}
	for _, c := range []struct {
		answers  string
		group    string
		quantity int
		want     string
	}{
		{`{"stay":{"from":"2026-12-09","to":"2026-12-12"},"heads":5}`, "", 1, "many long"},
		{`{"stay":{"from":"2026-12-09","to":"2026-12-10"},"heads":3}`, "club", 2, "short club two"},
		{`{"heads":4}`, "trade", 1, "many"},
	} {
		f := asGiven()
		f.Quantity, f.Group = c.quantity, c.group
		f.Work = &Work{Language: words.English, Hours: &calendar.Hours{Zone: time.UTC}, Paid: coretest.Now, Briefed: coretest.Now}
		r := Evaluate(e, coretest.Decode(t, e, c.answers), f)
		var got []string
		for _, i := range r.Work {
			got = append(got, string(i.Step))
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%s, %q: %v, want %s", c.answers, c.group, got, c.want)
		}
	}
}

// A question cannot have the name of a fact for its key: formulas would read
// the fact instead, and charge nothing. An edition from before that rule goes
// on as it was.
func TestKeysThatNameFacts(t *testing.T) {
	for _, name := range product.FactNames() {
		d := product.Draft{Title: "P", Currency: "EUR", Questions: []product.Question{coretest.Ask(question.Key(name), "count", "")}}
		e, findings := product.Compile(d)
		if !product.Broken(findings) || len(e.Lacks()) != 0 || len(e.Items) != 1 {
			t.Errorf("%s: %+v, and it lacks %+v", name, findings, e.Lacks())
		}
	}
	for _, want := range []string{"quantity", "people", "hours", "days", "nights", "group", "list_price", "product", "order", "customer"} {
		if !strings.Contains(fmt.Sprint(product.FactNames()), want) {
			t.Errorf("%s is no fact", want)
		}
	}
}
