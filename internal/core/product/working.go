package product

import (
	"slices"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/question"
)

// Working lists the questions whose answers say what work there is, how long it takes
// and when: with the same answers to these, quantity and group, the work is the same
// but for its texts.
func (e *Edition) Working() []question.Key { return e.working }

// findWorking finds them: what the steps read, and what decides whether that is asked.
func (c *check) findWorking() {
	e := c.edition
	var keys []question.Key
	add := func(list ...question.Key) {
		for _, k := range list {
			if _, asked := e.index[k]; asked && !slices.Contains(keys, k) {
				keys = append(keys, k)
			}
		}
	}
	test := func(t *condition.Test) { add(append(t.Keys(nil), e.factsOf(t)...)...) }
	for i := range e.Plan.Steps {
		s := &e.Plan.Steps[i]
		test(s.Test)
		test(s.Part)
		add(s.Minutes.Of, s.Start.Of)
		for _, m := range s.Minutes.Choices {
			add(m.Of)
		}
		if s.For != nil {
			add(s.For.Of, e.measures[charge.Person])
		}
		for v := range e.Pricing.Values {
			if s.Minutes.Value != "" { // a value can read those before it
				add(e.FormulaKeys(e.Pricing.Values[v].Formula)...)
			}
		}
	}
	if e.Rush != nil {
		add(e.Rush.Of)
	}
	if k, books := e.BookingKey(); books {
		add(k)
	}
	for i := 0; i < len(keys); i++ { // grows with what decides
		item, _ := e.Item(keys[i])
		test(item.Test)
		add(item.Section)
		for _, offered := range item.Offers {
			test(offered)
		}
	}
	e.working = keys
}
