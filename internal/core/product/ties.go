package product

import (
	"cmp"
	"slices"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/question"
)

// Ties are what a question has to do with the answers of others, each by its
// name as the seller knows it.
type Ties struct {
	// On are the questions whose answers it is asked, priced or limited by.
	On []string `json:"on,omitempty"`
	// By are the questions, charges, named formulas and steps that read its
	// answer.
	By []string `json:"by,omitempty"`
}

// Ties gives the ties of each question that has any. What reads a key is what
// Rename would change, but for the section that a question stands in and the
// question that a charge is on.
func (d Draft) Ties() map[question.Key]Ties {
	names := map[question.Key]string{}
	at := map[string]int{}
	for i, q := range d.Questions {
		names[q.Key] = q.named()
		at[q.named()] = i
	}
	all := map[question.Key]Ties{}
	// tie notes that a part with a name, which belongs to the question own if
	// to any, reads what go mentions.
	tie := func(name string, own question.Key, read func(m mentions)) {
		read(func(key question.Key) question.Key {
			other, asked := names[key]
			if !asked || key == own {
				return key
			}
			t := all[key]
			t.By = once(t.By, name)
			all[key] = t
			if own != "" {
				t = all[own]
				t.On = once(t.On, other)
				all[own] = t
			}
			return key
		})
	}
	for i := range d.Questions {
		q := &d.Questions[i]
		tie(q.named(), q.Key, func(m mentions) { m.condition(q.When); m.settings(q) })
	}
	for _, c := range d.Charges {
		name := names[c.On]
		if name == "" {
			name = c.Label
		}
		tie(name, c.On, func(m mentions) { m.charge(&charge.Charge{When: c.When, Rate: c.Rate}) })
	}
	for _, v := range d.Values {
		tie(v.Name, "", func(m mentions) { m.formula(v.Formula) })
	}
	for _, s := range d.Steps {
		tie(s.Title, "", func(m mentions) {
			m.step(s, false)
		})
	}
	for key, t := range all { // in the order of the path
		slices.SortStableFunc(t.On, func(a, b string) int { return cmp.Compare(at[a], at[b]) })
		all[key] = t
	}
	return all
}

func (q *Question) named() string {
	if q.Wording != "" {
		return q.Wording
	}
	return string(q.Key)
}

func once(list []string, s string) []string {
	if slices.Contains(list, s) {
		return list
	}
	return append(list, s)
}
