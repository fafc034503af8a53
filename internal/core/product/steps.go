package product

import (
	"slices"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

// The merge fields of a step that is for parts of an order line.
const (
	FieldPart   = "part"        // what the part is called: "Mila", "Gold ink"
	FieldNumber = "part_number" // its number among its like, from 1
	FieldParts  = "parts"       // how many there are
)

// PartFields lists them.
func PartFields() []string { return []string{FieldPart, FieldNumber, FieldParts} }

func (c *check) steps() {
	e := c.edition
	seen := map[workplan.StepKey]bool{}
	for i := range e.Steps {
		s := &e.Steps[i]
		key := string(s.Key)
		if err := s.Validate(); err != nil {
			c.wrong(InStep, key, "finding.step", "step", s.Title, "why", err)
			continue
		}
		if seen[s.Key] {
			c.wrong(InStep, key, "finding.two_steps_have_key", "key", s.Key)
			continue
		}
		seen[s.Key] = true
		if s.Booked() && e.Booking == nil {
			c.wrong(InStep, key, "finding.step_has_time_from_booking", "step", s.Title)
		}
		r := workplan.Ready{Step: *s}
		r.Test = c.condition(InStep, key, s.Title, s.When, question.Desk)
		if !c.stepFor(&r) || !c.stepMinutes(&r) {
			continue
		}
		c.stepTexts(&r)
		r.Needs = nil
		for _, k := range s.Needs {
			if item, ok := e.Item(k); !ok || !item.Asked() {
				c.wrong(InStep, key, "finding.step_needs_answer_there_no", "step", s.Title, "k", k)
			} else if !slices.Contains(r.Needs, k) {
				r.Needs = append(r.Needs, k)
			}
		}
		if of := s.Start.Of; of != "" {
			if item, ok := e.Item(of); !ok || item.Spec.Class() != question.ClassDay {
				c.wrong(InStep, key, "finding.step_starts_on_no_day", "step", s.Title, "k", of)
			}
		}
		e.Plan.Steps = append(e.Plan.Steps, r)
	}
	c.stepOrder(seen)
	if len(e.Steps) == 0 {
		c.warn(InStep, "", "finding.there_no_step_yet_so")
	}
}

// stepFor checks what a step is for each of, and makes its condition ready; false
// where it cannot be for that.
func (c *check) stepFor(r *workplan.Ready) bool {
	e, f, key := c.edition, r.For, string(r.Key)
	if f == nil {
		return true
	}
	item, _ := e.Item(f.Of)
	fits := true
	switch f.Each {
	case workplan.EachEntry:
		within := entryNames(item)
		if fits = within != nil; fits {
			r.Part = c.test(InStep, key, r.Title, f.When, *within, f.Of)
		}
	case workplan.EachUnit:
		fits = e.Units() <= workplan.MostParts
		r.Part = c.condition(InStep, key, r.Title, f.When, question.Desk)
	case workplan.EachChoice:
		fits = item != nil && len(choicesOf(item.Spec)) > 0
	case workplan.EachFile:
		fits = item != nil && item.Kind == "files"
	case workplan.EachPerson:
		_, fits = e.measures[charge.Person]
	}
	if !fits {
		c.wrong(InStep, key, stepForNothing[f.Each], "step", r.Title, "most", workplan.MostParts)
	}
	if r.Acceptance != nil { // what is asked of it is asked of all
		c.wrong(InStep, key, "finding.step_parts_accepted", "step", r.Title)
	}
	return fits
}

// stepForNothing are the codes of the findings that a step cannot be for each of
// something.
var stepForNothing = map[workplan.Each]string{
	workplan.EachEntry: "finding.step_for_nothing_entry", workplan.EachUnit: "finding.step_for_nothing_unit", workplan.EachChoice: "finding.step_for_nothing_choice",
	workplan.EachFile: "finding.step_for_nothing_file", workplan.EachPerson: "finding.step_for_nothing_person",
}

func choicesOf(spec question.Spec) []question.Choice {
	if c, ok := spec.(question.Choosable); ok {
		return c.All()
	}
	return nil
}

// stepMinutes checks what a step's minutes count; false where it counts nothing.
func (c *check) stepMinutes(r *workplan.Ready) bool {
	e, m, key := c.edition, &r.Minutes, string(r.Key)
	if m.Entries != nil {
		item, _ := e.Item(m.Of)
		within := entryNames(item)
		if within == nil {
			c.wrong(InStep, key, "finding.step_entries_need_list", "name", r.Title)
			return false
		}
		r.Entry = c.test(InStep, key, r.Title, m.Entries, *within, m.Of)
	}
	if m.Of != "" {
		if spec := c.counts(r, m.Of); spec == nil {
			c.wrong(InStep, key, "finding.step_needs_answer_there_no", "step", r.Title, "k", m.Of)
		}
	}
	for _, ch := range m.Choices {
		known := slices.ContainsFunc(choicesOf(c.counts(r, ch.Of)), func(o question.Choice) bool { return o.Code == ch.Code })
		if !known {
			c.wrong(InStep, key, "finding.unknown_code", "name", r.Title, "code", ch.Code, "wording", ch.Of)
		}
	}
	if m.Value != "" && !slices.ContainsFunc(e.Pricing.Values, func(v charge.NamedValue) bool { return v.Name == m.Value }) {
		c.wrong(InStep, key, "finding.value_of_payment", "name", m.Value)
		m.Value = ""
	}
	return true
}

// counts gives what a question asks for whose answer a step's minutes count: of the
// entry that the step is for, else of the line; nil where nothing is asked.
func (c *check) counts(r *workplan.Ready, k question.Key) question.Spec {
	if r.For != nil && r.For.Each == workplan.EachEntry {
		list, _ := c.edition.Item(r.For.Of)
		if spec, _ := entryOf(list, k); spec != nil {
			return spec
		}
	}
	if item, ok := c.edition.Item(k); ok && item.Asked() {
		return item.Spec
	}
	return nil
}

// stepTexts reads the texts of a step.
func (c *check) stepTexts(r *workplan.Ready) {
	key := string(r.Key)
	own := map[string]bool{}
	if r.For != nil {
		for _, name := range PartFields() {
			own[name] = true
		}
		if r.For.Each == workplan.EachEntry {
			list, _ := c.edition.Item(r.For.Of)
			for _, q := range list.Spec.(question.Listing).EntryQuestions() {
				own[string(q.Key)] = true
			}
		}
	}
	read := func(text string) *merge.Template {
		t := c.template(InStep, key, r.Title, text)
		names := slices.DeleteFunc(t.Fields(), func(n string) bool { return own[n] })
		for _, k := range c.fieldsOf(InStep, key, r.Title, names, question.Desk) {
			if !slices.Contains(r.Fields, k) {
				r.Fields = append(r.Fields, k)
			}
		}
		return t
	}
	r.Text = read(r.Instructions)
	if name := read(r.Title); len(name.Fields()) > 0 {
		r.Name = name
	}
	for _, text := range r.Checklist {
		r.Checks = append(r.Checks, read(text))
	}
	fields := r.Fields
	for _, p := range r.Papers { // what only a paper shows makes no work again
		r.Sheets = append(r.Sheets, read(p.Text))
	}
	r.Fields = fields
}

// accepted says whether the customer is asked to accept what a step makes.
func (c *check) accepted(key workplan.StepKey) bool {
	return slices.ContainsFunc(c.edition.Plan.Steps, func(s workplan.Ready) bool { return s.Key == key && s.Acceptance != nil })
}

// stepOrder finds steps that wait on each other or on nothing.
func (c *check) stepOrder(known map[workplan.StepKey]bool) {
	var keys []question.Key
	after := map[question.Key][]question.Key{}
	for _, s := range c.edition.Plan.Steps {
		keys = append(keys, question.Key(s.Key))
		if !s.Start.Steps() {
			continue
		}
		if !known[s.Start.Step] {
			c.wrong(InStep, string(s.Key), "finding.step_starts_after_there_no", "step", s.Title, "step2", s.Start.Step)
		} else if s.Start.On == workplan.OnAcceptance && !c.accepted(s.Start.Step) {
			c.wrong(InStep, string(s.Key), "finding.step_never_accepted", "step", s.Title, "step2", s.Start.Step)
		}
		after[question.Key(s.Key)] = []question.Key{question.Key(s.Start.Step)}
	}
	if _, err := condition.Order(keys, after); err != nil {
		cycle := err.(*condition.CycleError)
		c.wrong(InStep, string(cycle.Keys[0]), "finding.steps_wait_on_each_other", "keys", cycle.Keys)
	}
}
