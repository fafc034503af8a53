package product

import (
	"encoding/json"
	"regexp"
	"slices"
	"strings"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

// Rename gives a draft in which a question has another key, everywhere that the
// old one is used: by sections, conditions of questions, choices, charges and
// steps, limits of days, charges, formulas, merge fields, and what steps need.
func (d Draft) Rename(from, to question.Key) Draft {
	r := mentions(func(k question.Key) question.Key {
		if k == from {
			return to
		}
		return k
	})
	var before []AmountAt
	if d.Brief != nil {
		terms := *d.Brief
		terms.Thanks = r.text(terms.Thanks)
		d.Brief = &terms
	}
	d.AtOnce = slices.Clone(d.AtOnce)
	for i := range d.AtOnce {
		r.key(&d.AtOnce[i].Of)
		d.AtOnce[i].Text = r.text(d.AtOnce[i].Text)
	}
	if len(d.PriceLists) > 0 {
		before = d.Listable()
	}
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
	d.Booking = r.booking(d.Booking)
	d.Values = slices.Clone(d.Values)
	for i := range d.Values {
		d.Values[i].Formula = r.formula(d.Values[i].Formula)
	}
	d.Steps = slices.Clone(d.Steps)
	for i := range d.Steps {
		d.Steps[i] = r.step(d.Steps[i], d.entriesAsk(d.Steps[i].For, from))
	}
	if d.Rush != nil {
		rush := *d.Rush
		r.key(&rush.Of)
		d.Rush = &rush
	}
	if d.Handover != nil {
		terms := *d.Handover
		terms.Message = r.text(terms.Message)
		d.Handover = &terms
	}
	if len(d.PriceLists) > 0 {
		d.PriceLists = d.renamedLists(before, r)
	}
	return d
}

// mentions are called with each key that stands in a part of a draft, and give
// the key that stands there from now on.
type mentions func(question.Key) question.Key

func (m mentions) booking(r *booking.Rule) *booking.Rule {
	if r == nil || len(r.Needs) == 0 {
		return r
	}
	next := *r
	next.Needs = slices.Clone(r.Needs)
	for i := range next.Needs {
		m.key(&next.Needs[i].By)
	}
	return &next
}

func (m mentions) key(k *question.Key) {
	if *k != "" {
		*k = m(*k)
	}
}

func (m mentions) text(t string) string {
	return merge.Map(t, func(name string) string { return string(m(question.Key(name))) })
}

// formula goes through the names, leaving texts in quotation marks as they are:
// those are codes of choices.
func (m mentions) formula(f string) string {
	return quoted.ReplaceAllStringFunc(f, func(part string) string {
		if part[0] == '"' || part[0] == '\'' {
			return part
		}
		return within.ReplaceAllStringFunc(part, func(part string) string {
			list := looking.FindStringSubmatch(part)
			if list == nil {
				return word.ReplaceAllStringFunc(part, func(name string) string { return string(m(question.Key(name))) })
			}
			// Names within an entry are the entry's own.
			return list[1] + string(m(question.Key(list[2]))) + part[len(list[0]):]
		})
	})
}

var (
	quoted = regexp.MustCompile(`"[^"]*"|'[^']*'|[^"']+`)
	word   = regexp.MustCompile(`\w+`)

	// within splits at what looks at the entries of a list, and looking finds the
	// list: "count(guests, age < 12)".
	within  = regexp.MustCompile(`\b(?:count|sum)\s*\([^()]*\)?|\w+|\W`)
	looking = regexp.MustCompile(`^((?:count|sum)\s*\(\s*)(\w+)`)
)

// entriesAsk says whether the entries that a step is for have a question of their own
// with a key: what the step reads of them is theirs and not the line's.
func (d *Draft) entriesAsk(f *workplan.For, k question.Key) bool {
	if f == nil || f.Each != workplan.EachEntry {
		return false
	}
	for i := range d.Questions {
		if d.Questions[i].Key != f.Of {
			continue
		}
		var set struct {
			Questions []struct{ Key question.Key }
		}
		_ = json.Unmarshal(d.Questions[i].Settings, &set)
		for _, q := range set.Questions {
			if q.Key == k {
				return true
			}
		}
	}
	return false
}

// step renames in a step; theirs says that the entries that it is for have the key too,
// so that what it reads of them stays.
func (m mentions) step(s workplan.Step, theirs bool) workplan.Step {
	of := m
	if theirs {
		of = func(k question.Key) question.Key { return k }
	}
	s.When = m.condition(s.When)
	s.Instructions = of.text(s.Instructions)
	s.Needs = slices.Clone(s.Needs)
	for k := range s.Needs {
		m.key(&s.Needs[k])
	}
	of.key(&s.Minutes.Of)
	m.key(&s.Start.Of)
	s.Title = of.text(s.Title)
	s.Minutes.Choices = slices.Clone(s.Minutes.Choices)
	for k := range s.Minutes.Choices {
		of.key(&s.Minutes.Choices[k].Of)
	}
	if s.For != nil {
		own := *s.For
		m.key(&own.Of)
		if own.Each == workplan.EachUnit {
			own.When = m.condition(own.When)
		}
		s.For = &own
	}
	s.Checklist = slices.Clone(s.Checklist)
	for k := range s.Checklist {
		s.Checklist[k] = of.text(s.Checklist[k])
	}
	s.Papers = slices.Clone(s.Papers)
	for k := range s.Papers {
		s.Papers[k].Text = of.text(s.Papers[k].Text)
	}
	return s
}

func (m mentions) charge(c *charge.Charge) {
	m.key(&c.On)
	c.When = m.condition(c.When)
	c.Rate.Formula = m.formula(c.Rate.Formula)
}

func (m mentions) condition(c *condition.Condition) *condition.Condition {
	if c == nil {
		return nil
	}
	n := *c
	m.key(&n.Answer)
	for _, list := range []*[]condition.Condition{&n.All, &n.Any, &n.None} {
		*list = slices.Clone(*list)
		for i := range *list {
			(*list)[i] = *m.condition(&(*list)[i])
		}
	}
	return &n
}

// settings goes through the keys within a question's settings: the ends of days, the
// conditions of choices, and the merge fields of what is shown.
func (m mentions) settings(q *Question) json.RawMessage {
	var set map[string]json.RawMessage
	if json.Unmarshal(q.Settings, &set) != nil || set == nil {
		return q.Settings
	}
	changed := false
	for _, end := range []string{"earliest", "latest"} {
		var b map[string]json.RawMessage
		var answer question.Key
		if json.Unmarshal(set[end], &b) == nil && json.Unmarshal(b["answer"], &answer) == nil {
			if now := m(answer); now != answer {
				b["answer"], _ = json.Marshal(now)
				set[end], _ = json.Marshal(b)
				changed = true
			}
		}
	}
	var text string
	if q.Kind == "note" && json.Unmarshal(set["text"], &text) == nil {
		if now := m.text(text); now != text {
			set["text"], _ = json.Marshal(now)
			changed = true
		}
	}
	if now := choiceConditions(q.Settings, func(_ string, c *condition.Condition) { *c = *m.condition(c) }); string(now) != string(q.Settings) {
		var again map[string]json.RawMessage
		if json.Unmarshal(now, &again) == nil {
			set["choices"], changed = again["choices"], true
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

// choiceConditions shows the conditions of a question's choices, by the choices'
// codes, and gives the settings with them as they were left.
func choiceConditions(settings json.RawMessage, visit func(code string, c *condition.Condition)) json.RawMessage {
	var set map[string]json.RawMessage
	var choices []map[string]json.RawMessage
	if json.Unmarshal(settings, &set) != nil || json.Unmarshal(set["choices"], &choices) != nil {
		return settings
	}
	changed := false
	for _, ch := range choices {
		when, err := condition.Read(ch["when"])
		if len(ch["when"]) == 0 || err != nil {
			continue
		}
		var code string
		_ = json.Unmarshal(ch["code"], &code)
		visit(code, when)
		raw, err := json.Marshal(when)
		if err == nil && string(raw) != string(ch["when"]) {
			ch["when"], changed = raw, true
		}
	}
	if !changed {
		return settings
	}
	raw, err := json.Marshal(choices)
	if err != nil {
		return settings
	}
	set["choices"] = raw
	if raw, err = json.Marshal(set); err != nil {
		return settings
	}
	return raw
}

// labelOf gives the label of a choice by its code.
// Called gives the label of a choice; of several, each has one.
func (q *Question) Called(code string) string {
	parts := strings.Split(code, ", ")
	for i, c := range parts {
		parts[i] = labelOf(q.Settings, c)
	}
	return strings.Join(parts, ", ")
}

func labelOf(settings json.RawMessage, code string) string {
	var set struct {
		Choices []struct{ Code, Label string }
	}
	_ = json.Unmarshal(settings, &set)
	for _, ch := range set.Choices {
		if ch.Code == code && ch.Label != "" {
			return ch.Label
		}
	}
	return code
}
