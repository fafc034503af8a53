package evaluate

import (
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

// What is priced by people, hours or nights is not sold with none of them: its
// question is told, also when it need not be answered, or is answered with 0.
func TestNothingIsSoldWithoutItsMeasure(t *testing.T) {
	people := coretest.Ask("guests", "count", `{"most":9}`)
	people.CountsAs = charge.Person
	bring := coretest.Ask("bring", "yes_no", "")
	e := coretest.Compiled(t, product.Draft{Title: "Evening", Currency: "EUR", Price: 4000, Tax: decimal.NewFromInt(19), Measure: charge.Person, Questions: []product.Question{people, bring}})
	given := Given{Quantity: 1, Now: coretest.Now, Zone: time.UTC, Language: words.English, Checks: Against(func(string) (question.File, bool) { return question.File{}, false }, nil, nil)}
	for in, want := range map[string]string{`{}`: "measure_none guests", `{"guests":0}`: "measure_none guests", `{"guests":-1}`: "least guests", `{"guests":2}`: ""} {
		r := Evaluate(e, coretest.Decode(t, e, in), given)
		got := ""
		if len(r.Faults) > 0 {
			got = r.Faults[0].Code + " " + string(r.Faults[0].Key)
		}
		if got != want || len(r.Faults) > 1 {
			t.Errorf("%s: %q, want %q", in, got, want)
		}
		if want != "" && len(r.Upto(e, question.Choosing)) == 0 {
			t.Errorf("%s can be put into the basket", in)
		}
	}
	// A question that is not asked says nothing either; there the number of units is told.
	hidden := people
	hidden.When = &condition.Condition{Answer: "bring", Op: condition.Answered}
	e = coretest.Compiled(t, product.Draft{Title: "Evening", Currency: "EUR", Price: 4000, Tax: decimal.NewFromInt(19), Measure: charge.Person, Questions: []product.Question{hidden, bring}})
	if r := Evaluate(e, nil, given); len(r.Faults) != 1 || r.Faults[0].Key != question.QuantityKey {
		t.Errorf("%+v", r.Faults)
	}
	// Who has ordered by the rules before keeps what they have.
	old := e.Draft
	old.Rules = charge.Rules1
	given.Checks = Held
	if r := Evaluate(coretest.Compiled(t, old), nil, given); len(r.Faults) != 0 {
		t.Errorf("%+v", r.Faults)
	}
}
