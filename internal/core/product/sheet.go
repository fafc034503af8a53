package product

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

// A SheetID names a sheet.
type SheetID int64

// A Sheet is a reusable group of questions, with what they cost and what is to be
// done for them.
type Sheet struct {
	ID        SheetID
	Name      string
	Questions []Question
	SheetContent
	Rule     SheetRule
	Currency money.Currency // what its amounts are in
}

// A SheetRule says which products use a sheet without naming it: all, or
// those of some categories, but for the exceptions.
type SheetRule struct {
	All        bool     `json:"all,omitempty"`
	Categories []string `json:"categories,omitempty"`
	Except     []int64  `json:"except,omitempty"` // ids of products
}

// Takes says whether the rule includes a product.
func (r SheetRule) Takes(product int64, category string) bool {
	return !slices.Contains(r.Except, product) && (r.All || category != "" && slices.Contains(r.Categories, category))
}

// A SheetUse is how one product uses a sheet: linked, with changes of its own,
// or detached, which leaves out what a rule would include.
type SheetUse struct {
	Sheet    SheetID      `json:"sheet"`
	Detached bool         `json:"detached,omitempty"`
	Changes  []SheetShift `json:"changes,omitempty"`
	// Figures are single figures that are others here: "6.00 instead of 5.00".
	Figures []SheetFigure `json:"figures,omitempty"`
}

// A SheetShift is what a product has differently from a linked question.
type SheetShift struct {
	Key      question.Key    `json:"key"`
	Wording  string          `json:"wording,omitempty"`
	Required *bool           `json:"required,omitempty"`
	Off      bool            `json:"off,omitempty"`
	Moment   question.Moment `json:"moment,omitempty"`
	Choices  []string        `json:"choices,omitempty"` // the codes that are offered; none: all
}

// Uses gives how a draft uses the sheets: by naming them, or by their rules.
func (d Draft) Uses(id int64, sheets []Sheet) []SheetUse {
	var uses []SheetUse
	for _, s := range sheets {
		i := slices.IndexFunc(d.Sheets, func(u SheetUse) bool { return u.Sheet == s.ID })
		switch {
		case i >= 0 && !d.Sheets[i].Detached:
			uses = append(uses, d.Sheets[i])
		case i < 0 && s.Rule.Takes(id, d.Category):
			uses = append(uses, SheetUse{Sheet: s.ID})
		}
	}
	return uses
}

// SheetsUsed lists the sheets that brought questions in.
func (d Draft) SheetsUsed() []SheetID {
	var list []SheetID
	for i := range d.Questions {
		if id := d.Questions[i].Sheet; id != 0 && !slices.Contains(list, id) {
			list = append(list, id)
		}
	}
	return list
}

// Own gives the draft without what sheets brought into it.
func (d Draft) Own() Draft {
	d.Questions = slices.DeleteFunc(slices.Clone(d.Questions), func(q Question) bool { return q.Sheet != 0 })
	d.Values = slices.DeleteFunc(slices.Clone(d.Values), func(v NamedFormula) bool { return v.Sheet != 0 })
	d.Charges = slices.DeleteFunc(slices.Clone(d.Charges), func(c charge.Charge) bool { return c.Sheet != 0 })
	d.Steps = slices.DeleteFunc(slices.Clone(d.Steps), func(s workplan.Step) bool { return s.Sheet != 0 })
	return d
}

// With gives a draft with what the sheets that it uses have: their questions,
// after its own of the same moment, their charges and values, and their steps.
// What sheets brought in before makes room.
func (d Draft) With(id int64, sheets []Sheet) Draft {
	d = d.Own()
	for _, use := range d.Uses(id, sheets) {
		i := slices.IndexFunc(sheets, func(s Sheet) bool { return s.ID == use.Sheet })
		var priced []question.Key // whose amounts mean nothing in this product
		if sheets[i].Currency != d.Currency {
			priced = sheets[i].Priced()
		}
		for _, q := range sheets[i].Questions {
			q.Sheet = use.Sheet
			if slices.Contains(priced, q.Key) {
				q.Currency = sheets[i].Currency
			}
			d.Questions = append(d.Questions, use.shift(q))
		}
		content := sheets[i].Here(use.Figures)
		for _, v := range content.Values {
			v.Sheet = use.Sheet
			d.Values = append(d.Values, v)
		}
		for _, c := range content.Charges {
			c.Sheet = int64(use.Sheet)
			d.Charges = append(d.Charges, c)
		}
		for _, step := range content.Steps {
			step.Sheet = int64(use.Sheet)
			d.Steps = append(d.Steps, step)
		}
	}
	return d
}

// shift applies what the product has differently.
func (u SheetUse) shift(q Question) Question {
	i := slices.IndexFunc(u.Changes, func(c SheetShift) bool { return c.Key == q.Key })
	if i < 0 {
		return q
	}
	c := u.Changes[i]
	if c.Wording != "" {
		q.Wording = c.Wording
	}
	if c.Required != nil {
		q.Required = *c.Required
	}
	if c.Moment != "" {
		q.Moment = c.Moment
		q.Later = q.Later && c.Moment.Rank() <= question.Paying.Rank()
		q.Section = ""
	}
	q.Off = q.Off || c.Off
	if len(c.Choices) > 0 {
		q.Settings = fewer(q.Settings, c.Choices)
	}
	return q
}

// fewer leaves of a question's choices only some.
func fewer(settings json.RawMessage, codes []string) json.RawMessage {
	var s map[string]json.RawMessage
	var choices []question.Choice
	if json.Unmarshal(settings, &s) != nil || json.Unmarshal(s["choices"], &choices) != nil {
		return settings
	}
	choices = slices.DeleteFunc(choices, func(c question.Choice) bool { return !slices.Contains(codes, c.Code) })
	raw, err := json.Marshal(choices)
	if err != nil {
		return settings
	}
	s["choices"] = raw
	if raw, err = json.Marshal(s); err != nil {
		return settings
	}
	return raw
}

// Draft gives a sheet as a draft, to be looked at with a product's means.
func (s Sheet) Draft() Draft {
	return Draft{Title: s.Name, Currency: s.Currency, Questions: s.Questions, Charges: s.Charges, Values: s.Values, Steps: s.Steps}
}

// Priced lists the questions of a sheet that have amounts of money in their
// settings, conditions or charges.
func (s Sheet) Priced() []question.Key {
	var keys []question.Key
	add := func(k question.Key) {
		if k != "" && !slices.Contains(keys, k) {
			keys = append(keys, k)
		}
	}
	for _, at := range (Draft{Questions: s.Questions}).Amounts() {
		key, _, _ := strings.Cut(strings.TrimPrefix(at.Place, "questions."), ".")
		add(question.Key(key))
	}
	for _, c := range s.Charges {
		if len((Draft{Charges: []charge.Charge{c}}).Amounts()) > 0 {
			add(c.On)
		}
	}
	return keys
}

// Check lists what is wrong with a sheet by itself.
func (s Sheet) Check() []Finding {
	d := s.Draft()
	d.Title = "…"
	if d.Currency == "" {
		d.Currency = "EUR"
	}
	// A product that has the sheet has a price, too.
	d.Price = 1
	_, findings := Compile(d)
	findings = slices.DeleteFunc(findings, func(f Finding) bool {
		return f.Part != InQuestion && f.Part != InCharge && f.Part != InValue && (f.Part != InStep || f.Key == "")
	})
	for i, c := range s.Charges {
		if c.On == "" {
			findings = append(findings, Find(true, InCharge, fmt.Sprint(i+1), words.Tell("finding.sheet_charge_needs_question", "n", i+1)))
		}
	}
	return findings
}
