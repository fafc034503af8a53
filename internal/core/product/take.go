package product

import (
	"fmt"
	"slices"

	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

// Take takes questions of a product's own out of a draft, with the charges on
// them, the values that only these charges read, and the steps that need nothing
// else: what a sheet can carry from then on. It is an error that tells why when
// a question is not there, or cannot stand in a sheet.
func (d Draft) Take(keys []question.Key) (left Draft, questions []Question, content SheetContent, err error) {
	for _, k := range keys {
		i := slices.IndexFunc(d.Questions, func(q Question) bool { return q.Key == k && q.Sheet == 0 })
		switch {
		case i < 0:
			return d, nil, content, words.Tell("sheet.no_such_question", "key", k)
		case d.Questions[i].Kind == "booking":
			return d, nil, content, words.Tell("sheet.no_booking", "wording", d.Questions[i].Wording)
		}
	}
	left = d
	left.Questions, left.Charges, left.Values, left.Steps = nil, nil, nil, nil
	for _, q := range d.Questions {
		if !slices.Contains(keys, q.Key) || q.Sheet != 0 {
			left.Questions = append(left.Questions, q)
			continue
		}
		if !slices.Contains(keys, q.Section) {
			q.Section = ""
		}
		questions = append(questions, q)
	}
	for _, c := range d.Charges {
		if c.On != "" && c.Sheet == 0 && slices.Contains(keys, c.On) {
			content.Charges = append(content.Charges, c)
		} else {
			left.Charges = append(left.Charges, c)
		}
	}
	for _, v := range d.Values {
		if reads(content.formulas(), v.Name) && !reads(left.formulas(d.Values), v.Name) {
			content.Values = append(content.Values, v)
		} else {
			left.Values = append(left.Values, v)
		}
	}
	for _, s := range d.Steps {
		needs := slices.Clone(s.Needs)
		if s.Minutes.Of != "" {
			needs = append(needs, s.Minutes.Of)
		}
		if s.For != nil && s.For.Of != "" {
			needs = append(needs, s.For.Of)
		}
		all := len(needs) > 0 && !s.Start.Steps()
		for _, k := range needs {
			all = all && slices.Contains(keys, k)
		}
		if all && s.Sheet == 0 {
			content.Steps = append(content.Steps, s)
		} else {
			left.Steps = append(left.Steps, s)
		}
	}
	return left, questions, content, nil
}

// formulas lists the formulas of a sheet's charges.
func (c SheetContent) formulas() (list []string) {
	for _, ch := range c.Charges {
		list = append(list, ch.Rate.Formula)
	}
	return list
}

// formulas lists the formulas of a draft's charges and of values, and the values
// that amounts are given by.
func (d Draft) formulas(values []NamedFormula) (list []string) {
	for _, ch := range d.Charges {
		list = append(list, ch.Rate.Formula)
	}
	for _, v := range values {
		list = append(list, v.Formula)
	}
	list = append(list, d.DepositBy)
	if d.Payment != nil {
		list = append(list, d.Payment.Value)
	}
	return list
}

// reads says whether any formula reads a name.
func reads(formulas []string, name string) bool {
	found := false
	look := mentions(func(k question.Key) question.Key {
		found = found || string(k) == name
		return k
	})
	for _, f := range formulas {
		look.formula(f)
	}
	return found
}

// Naming names a sheet as one that the product uses.
func (d Draft) Naming(sheet SheetID) Draft {
	d.Sheets = append(slices.DeleteFunc(slices.Clone(d.Sheets), func(u SheetUse) bool { return u.Sheet == sheet && u.Detached }), SheetUse{Sheet: sheet})
	if i := slices.IndexFunc(d.Sheets, func(u SheetUse) bool { return u.Sheet == sheet }); i < len(d.Sheets)-1 {
		d.Sheets = d.Sheets[:len(d.Sheets)-1] // it is named already
	}
	return d
}

// TakesIn adds to a sheet what was taken out of a product. It is an error when
// the sheet has a question, a value or a step of the same name.
func (s Sheet) TakesIn(questions []Question, content SheetContent) (Sheet, error) {
	for _, q := range questions {
		if slices.ContainsFunc(s.Questions, func(o Question) bool { return o.Key == q.Key }) {
			return s, words.Tell("sheet.has_key", "key", q.Key)
		}
	}
	for _, v := range content.Values {
		if slices.ContainsFunc(s.Values, func(o NamedFormula) bool { return o.Name == v.Name }) {
			return s, words.Tell("sheet.has_key", "key", v.Name)
		}
	}
	for _, step := range content.Steps {
		if slices.ContainsFunc(s.Steps, func(o workplan.Step) bool { return o.Key == step.Key }) {
			return s, words.Tell("sheet.has_key", "key", fmt.Sprint(step.Key))
		}
	}
	s.Questions = append(slices.Clone(s.Questions), questions...)
	s.Charges = append(slices.Clone(s.Charges), content.Charges...)
	s.Values = append(slices.Clone(s.Values), content.Values...)
	s.Steps = append(slices.Clone(s.Steps), content.Steps...)
	return s, nil
}
