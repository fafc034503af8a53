package product

import (
	"encoding/json"

	"ruvo/internal/core/question"
)

// An Effort is what a moment asks of a customer.
type Effort struct {
	Moment  question.Moment `json:"moment"`
	Fields  int             `json:"fields"`  // questions that are asked of everyone or may be
	Seconds int             `json:"seconds"` // to fill all of them in
}

// seconds is about how long people take for a question of a kind: our own
// estimate from common practice, with no source. Only the comparison of one
// form with another is meant.
var seconds = map[question.KindName]int{
	"short_text": 8, "long_text": 25, "number": 5, "count": 4, "yes_no": 3, "one_choice": 4, "several_choices": 7,
	"date": 8, "time": 6, "date_span": 14, "mail": 9, "phone": 9, "web_address": 12, "postal_address": 30, "colour": 8,
	"files": 30, "signature": 15, "consent": 12, "amount": 6, "booking": 20,
}

// Efforts estimates for each moment before the desk how much is asked, every
// condition taken as met.
func (e *Edition) Efforts() []Effort {
	var all []Effort
	for _, m := range question.Moments() {
		if m == question.Desk {
			continue
		}
		f := Effort{Moment: m}
		for i := range e.Items {
			item := &e.Items[i]
			if item.Moment != m || item.Off || !item.Asked() || item.Kind == "link_value" {
				continue
			}
			f.Fields++
			f.Seconds += SecondsFor(item.Question.Question)
		}
		all = append(all, f)
	}
	return all
}

// SecondsFor estimates how many seconds a question takes to answer. It counts two entries of a repeat.
func SecondsFor(q question.Question) int {
	if q.Kind != "repeat" {
		return seconds[q.Kind]
	}
	var s struct {
		Questions []question.Question `json:"questions"`
	}
	if json.Unmarshal(q.Settings, &s) != nil {
		return 0
	}
	n := 0
	for _, inner := range s.Questions {
		n += 2 * seconds[inner.Kind]
	}
	return n
}
