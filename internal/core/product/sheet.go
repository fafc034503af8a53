package product

import (
	"encoding/json"
	"slices"
	"strings"

	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// A SheetID names a sheet.
type SheetID int64

// A Sheet is a reusable group of questions.
type Sheet struct {
	ID        SheetID
	Name      string
	Questions []Question
	Rule      SheetRule
	Currency  money.Currency // what its amounts are in
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

// Own gives the draft without what sheets brought into it.
func (d Draft) Own() Draft {
	d.Questions = slices.DeleteFunc(slices.Clone(d.Questions), func(q Question) bool { return q.Sheet != 0 })
	return d
}

// With gives a draft with the questions of the sheets that it uses, after its
// own of the same moment. What sheets brought in before makes room.
func (d Draft) With(id int64, sheets []Sheet) Draft {
	d = d.Own()
	for _, use := range d.Uses(id, sheets) {
		i := slices.IndexFunc(sheets, func(s Sheet) bool { return s.ID == use.Sheet })
		var priced []question.Key // whose amounts mean nothing in this product
		if sheets[i].Currency != d.Currency {
			priced = Priced(sheets[i].Questions)
		}
		for _, q := range sheets[i].Questions {
			q.Sheet = use.Sheet
			if slices.Contains(priced, q.Key) {
				q.Currency = sheets[i].Currency
			}
			d.Questions = append(d.Questions, use.shift(q))
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

// Priced lists the questions that have amounts of money in their settings and
// conditions.
func Priced(questions []Question) []question.Key {
	var keys []question.Key
	for _, at := range (Draft{Questions: questions}).Amounts() {
		key, _, _ := strings.Cut(strings.TrimPrefix(at.Place, "questions."), ".")
		if !slices.Contains(keys, question.Key(key)) {
			keys = append(keys, question.Key(key))
		}
	}
	return keys
}

// CheckSheet lists what is wrong with a sheet's questions by themselves.
func CheckSheet(questions []Question) []Finding {
	_, findings := Compile(Draft{Title: "…", Currency: "EUR", Questions: questions})
	return slices.DeleteFunc(findings, func(f Finding) bool { return f.Part != InQuestion })
}
