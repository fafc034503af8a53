package order

import (
	"testing"
	"time"

	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

// The number is the customer's own: not that of somebody else, which a question
// of the order line asks for, and none while it is not answered.
func TestPhone(t *testing.T) {
	theirs := coretest.Ask("theirs", "phone", `{"country":"DE"}`)
	own := coretest.Ask("own", "phone", `{"country":"DE"}`)
	own.Scope = question.OfCustomer
	e := coretest.Compiled(t, product.Draft{Questions: []product.Question{theirs, own}})
	for answers, want := range map[string]string{
		`{"theirs":"030 23125 014","own":"030 23125 015"}`: "+493023125015",
		`{"theirs":"030 23125 014"}`:                       "",
		`{"own":""}`:                                       "",
		`{}`:                                               "",
	} {
		r := evaluate.Evaluate(e, coretest.Decode(t, e, answers), evaluate.Given{Quantity: 1, Now: coretest.Now, Zone: time.UTC, Language: words.English})
		if got := Phone(e, &r); got != want {
			t.Errorf("%s: %q, want %q", answers, got, want)
		}
	}
	typed := evaluate.Result{Answers: question.Answers{"own": question.Phone{Typed: "030 ring me"}}}
	if got := Phone(e, &typed); got != "" {
		t.Errorf("what is no number is %q", got)
	}
}
