package explore

import (
	"slices"
	"testing"
	"time"

	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/coretest"
)

// Limits of days that leave no day are said, of whatever sort they are.
func TestContradictoryLimitsOfDays(t *testing.T) {
	for _, c := range []struct {
		kind     question.KindName
		settings string
	}{
		{"date", `{"earliest":{"day":"2027-02-10"},"latest":{"day":"2027-02-01"}}`},
		{"date", `{"earliest":{"from_today":30},"latest":{"from_today":10}}`},
		{"date", `{"earliest":{"day":"2027-02-10"},"latest":{"from_today":10}}`},
		{"date", `{"earliest":{"from_today":30},"latest":{"day":"2026-12-01"}}`},
		{"date", `{"earliest":{"from_today":3},"latest":{"from_today":4},"weekdays":[2]}`},
		{"date", `{"earliest":{"day":"2027-02-01"},"latest":{"day":"2027-02-02"},"weekdays":[6]}`},
		{"date_span", `{"earliest":{"day":"2027-02-10"},"latest":{"day":"2027-02-01"}}`},
		{"date_span", `{"earliest":{"from_today":1},"latest":{"from_today":3},"least":6}`},
		{"date_span", `{"least":9,"most":3}`},
		{"date_span", `{"earliest":{"from_today":30},"latest":{"day":"2026-12-01"}}`},
	} {
		q := coretest.Ask("when", c.kind, c.settings)
		q.Required = true
		e, findings := product.Compile(product.Draft{Title: "T", Currency: "EUR", Questions: []product.Question{q}})
		findings = append(findings, Review(e, coretest.Now, time.UTC)...)
		if !slices.ContainsFunc(findings, func(f product.Finding) bool { return f.Error && f.Part == product.InQuestion && f.Key == "when" }) {
			t.Errorf("%s %s: nothing is said", c.kind, c.settings)
		}
	}
}
