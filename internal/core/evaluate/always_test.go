package evaluate

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/coretest"
)

// What the seller answers for every order counts like an answer, in steps too, and gives
// way to what one order says; only the desk can be asked for it.
func TestWhatIsAnsweredForEveryOrder(t *testing.T) {
	supplier := coretest.Ask("supplier", "short_text", "")
	supplier.Moment, supplier.Always = question.Desk, json.RawMessage(`"Oakley & Daughters"`)
	draft := product.Draft{
		Title: "Frame", Currency: "EUR", Questions: []product.Question{supplier},
		Steps: []workplan.Step{{Key: "order", Title: "Order it", Instructions: "From {{supplier}}", Minutes: workplan.Minutes{Fixed: 5}, Start: workplan.Start{On: workplan.OnPayment}, Due: workplan.Due{Rule: workplan.WorkingDays, Count: 1}}},
	}
	e := coretest.Compiled(t, draft)
	f := Given{Quantity: 1, Now: coretest.Now, Zone: time.UTC, Language: words.English}
	f.Work = &Work{Language: words.English, Hours: &calendar.Hours{Zone: time.UTC}, Paid: coretest.Now, Briefed: coretest.Now}
	for want, answers := range map[string]question.Answers{
		"Oakley & Daughters": {}, "A friend": {"supplier": question.Text("A friend")},
	} {
		before := len(answers)
		r := Evaluate(e, answers, f)
		if len(r.Work) != 1 || !strings.Contains(r.Work[0].Instructions, want) {
			t.Errorf("%s: %+v", want, r.Work)
		}
		if len(answers) != before {
			t.Error("the answers that were given are changed")
		}
	}
	for code, spoil := range map[string]func(*product.Question){
		"finding.always_moment": func(q *product.Question) { q.Moment = question.Briefing },
		"finding.always_wrong":  func(q *product.Question) { q.Settings = json.RawMessage(`{"most": 3}`) },
	} {
		bad := draft
		bad.Questions = []product.Question{supplier}
		spoil(&bad.Questions[0])
		_, findings := product.Compile(bad)
		told := false
		for _, found := range findings {
			told = told || found.Is(code)
		}
		if !told {
			t.Errorf("%s is not found: %+v", code, findings)
		}
	}
}
