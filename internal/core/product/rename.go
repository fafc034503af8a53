package product

import (
	"encoding/json"
	"regexp"
	"slices"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/question"
)

// Rename gives a draft in which a question has another key, everywhere that the
// old one is used: by sections, conditions of questions, choices, charges and
// steps, limits of days, charges, formulas, merge fields, and what steps need.
func (d Draft) Rename(from, to question.Key) Draft {
	r := renaming{from, to, regexp.MustCompile(`\b` + regexp.QuoteMeta(string(from)) + `\b`)}
	d.Questions = slices.Clone(d.Questions)
	for i := range d.Questions {
		q := &d.Questions[i]
		r.key(&q.Key)
		r.key(&q.Section)
		q.When = r.condition(q.When)
		q.Settings = r.settings(q)
	}
	d.Charges = slices.Clone(d.Charges)
	for i := range d.Charges {
		r.charge(&d.Charges[i])
	}
	d.Values = slices.Clone(d.Values)
	for i := range d.Values {
		d.Values[i].Formula = r.formula(d.Values[i].Formula)
	}
	d.Steps = slices.Clone(d.Steps)
	for i := range d.Steps {
		s := &d.Steps[i]
		s.When = r.condition(s.When)
		s.Instructions = merge.Rename(s.Instructions, string(from), string(to))
		s.Needs = slices.Clone(s.Needs)
		for k := range s.Needs {
			r.key(&s.Needs[k])
		}
		r.key(&s.Minutes.Of)
	}
	return d
}

type renaming struct {
	from, to question.Key
	word     *regexp.Regexp
}

func (r *renaming) key(k *question.Key) {
	if *k == r.from {
		*k = r.to
	}
}

// formula renames a name, leaving texts in quotation marks as they are: those
// are codes of choices.
func (r *renaming) formula(f string) string {
	return quoted.ReplaceAllStringFunc(f, func(part string) string {
		if part[0] == '"' || part[0] == '\'' {
			return part
		}
		return r.word.ReplaceAllString(part, string(r.to))
	})
}

var quoted = regexp.MustCompile(`"[^"]*"|'[^']*'|[^"']+`)

func (r *renaming) charge(c *charge.Charge) {
	r.key(&c.On)
	c.When = r.condition(c.When)
	c.Rate.Formula = r.formula(c.Rate.Formula)
}

func (r *renaming) condition(c *condition.Condition) *condition.Condition {
	if c == nil {
		return nil
	}
	n := *c
	r.key(&n.Answer)
	for _, list := range []*[]condition.Condition{&n.All, &n.Any, &n.None} {
		*list = slices.Clone(*list)
		for i := range *list {
			(*list)[i] = *r.condition(&(*list)[i])
		}
	}
	return &n
}

// settings renames a key within a question's settings: the ends of days, the
// conditions of choices, and the merge fields of what is shown.
func (r *renaming) settings(q *Question) json.RawMessage {
	var set map[string]json.RawMessage
	if json.Unmarshal(q.Settings, &set) != nil || set == nil {
		return q.Settings
	}
	changed := false
	for _, end := range []string{"earliest", "latest"} {
		var b map[string]json.RawMessage
		var answer question.Key
		if json.Unmarshal(set[end], &b) == nil && json.Unmarshal(b["answer"], &answer) == nil && answer == r.from {
			b["answer"], _ = json.Marshal(r.to)
			set[end], _ = json.Marshal(b)
			changed = true
		}
	}
	var text string
	if q.Kind == "note" && json.Unmarshal(set["text"], &text) == nil {
		if now := merge.Rename(text, string(r.from), string(r.to)); now != text {
			set["text"], _ = json.Marshal(now)
			changed = true
		}
	}
	var choices []map[string]json.RawMessage
	if json.Unmarshal(set["choices"], &choices) == nil {
		moved := false
		for _, ch := range choices {
			when, err := condition.Read(ch["when"])
			if len(ch["when"]) == 0 || err != nil {
				continue
			}
			raw, err := json.Marshal(r.condition(when))
			if err == nil && string(raw) != string(ch["when"]) {
				ch["when"], moved = raw, true
			}
		}
		if moved {
			set["choices"], _ = json.Marshal(choices)
			changed = true
		}
	}
	if !changed {
		return q.Settings
	}
	raw, err := json.Marshal(set)
	if err != nil {
		return q.Settings
	}
	return raw
}
