package explore

import (
	"encoding/json"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/coretest"
	"strings"
	"testing"
	"time"
)

// What the check says of days that nobody can choose, of steps that never make
// work, and of paid extras that nobody chose.
func TestWhatNobodyCanAnswerOrDecline(t *testing.T) {
	five := money.Amount(500)
	must := func(q product.Question) product.Question {
		q.Required = true
		return q
	}
	all := charge.Charge{On: "wrap", Label: "Wrapping", Effect: charge.Adds, Rate: charge.Rate{Amount: new(five.Fine())}}
	never := workplan.Step{
		Key: "never", Title: "Never", Start: workplan.Start{On: workplan.OnPayment}, Due: workplan.Due{Rule: workplan.WorkingDays, Count: 1},
		When: &condition.Condition{All: []condition.Condition{
			{Answer: "gift", Op: condition.Is, Value: json.RawMessage("true")}, {Answer: "gift", Op: condition.Is, Value: json.RawMessage("false")},
		}},
	}
	for says, d := range map[string]product.Draft{
		"No day answers “About day”":                  {Questions: []product.Question{must(coretest.Ask("day", "date", `{"earliest":{"day":"2027-06-01"},"latest":{"from_today":10}}`))}},
		"No day answers “About over”":                 {Questions: []product.Question{must(coretest.Ask("over", "date", `{"earliest":{"from_today":1},"latest":{"day":"2026-01-31"}}`))}},
		"No day answers “About sundays”":              {Questions: []product.Question{must(coretest.Ask("sundays", "date", `{"earliest":{"day":"2026-11-30"},"latest":{"day":"2026-12-04"},"weekdays":[0]}`))}},
		"No day answers “About span”":                 {Questions: []product.Question{must(coretest.Ask("span", "date_span", `{"earliest":{"day":"2026-12-01"},"latest":{"day":"2026-12-05"},"least":6}`))}},
		"“Never” never makes work":                    {Questions: []product.Question{coretest.Ask("gift", "yes_no", "")}, Steps: []workplan.Step{never}},
		"“Plain” of “About wrap” costs something and": {Price: 900, Questions: []product.Question{coretest.Ask("wrap", "one_choice", `{"choices":[{"code":"plain","label":"Plain","preselected":true},{"code":"gold","label":"Gold"}]}`)}, Charges: []charge.Charge{all}},
		"so nobody can decline it":                    {Price: 900, Questions: []product.Question{must(coretest.Ask("wrap", "one_choice", choicesOf(2)))}, Charges: []charge.Charge{all}},
	} {
		d.Title, d.Currency = "P", "EUR"
		e, findings := product.Compile(d)
		findings = append(findings, Review(e, coretest.Now, time.UTC)...)
		found := 0
		for _, f := range findings {
			if strings.Contains(f.Said(words.English), says) {
				found++
			}
		}
		if found != 1 {
			t.Errorf("%d say %q: %+v", found, says, findings)
		}
	}
	fine := product.Draft{Title: "P", Currency: "EUR", Questions: []product.Question{
		coretest.Ask("night", "date", `{"earliest":{"day":"2026-12-01"},"latest":{"from_today":20},"weekdays":[6]}`), coretest.Ask("gift", "yes_no", ""),
		coretest.Ask("span", "date_span", `{"earliest":{"from_today":1},"latest":{"from_today":30},"weekdays":[5,0],"least":3,"most":3}`),
	}, Steps: []workplan.Step{{Key: "wrap", Title: "Wrap", Start: never.Start, Due: never.Due, When: &condition.Condition{Answer: "gift", Op: condition.Is, Value: json.RawMessage("true")}}}}
	e, findings := product.Compile(fine)
	if findings = append(findings, Review(e, coretest.Now, time.UTC)...); len(findings) > 0 {
		t.Errorf("%+v", findings)
	}
}
