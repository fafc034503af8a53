package evaluate

import (
	"encoding/json"
	"maps"
	"slices"
	"strconv"
	"strings"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

// A working is an order line as its work plan reads it.
type working struct {
	*Result
	e   *product.Edition
	f   *Given
	env *question.Env
}

func (r *Result) plan(e *product.Edition, f Given, env question.Env) {
	env.Language = f.Work.Language
	known := *r // what the plan reads
	w := &working{&known, e, &f, &env}
	basis := workplan.Basis{
		Answers: r.Answers, Quantity: f.Quantity, Known: e.ConditionFacts(f.Quantity, f.Group, f.Whole, f.Zone, &known.Answers), Missing: r.Missing,
		Words: w.words, Field: w.field, Parts: w.parts, Value: w.value,
		Hours: f.Work.Hours, Now: f.Now, Paid: f.Work.Paid, Existing: f.Work.Existing, Entries: f.Work.Entries, Shown: f.Shown, People: f.Work.People, Cancelled: f.Work.Cancelled,
	}
	if len(r.Brief(e)) == 0 {
		basis.Briefed = f.Work.Briefed
	}
	if f.Work.Foreseen {
		basis.Missing, basis.Paid, basis.Briefed = nil, f.Now, f.Now
	}
	if k, ok := e.BookingKey(); ok {
		if v, ok := r.Answers[k].(question.Booking); ok {
			basis.Booking = v.Start
		}
	}
	if !f.Work.Cancelled {
		r.Work, r.Entries = e.Plan.Wanted(basis)
	}
	r.Diff = workplan.Replan(f.Work.Existing, r.Work, basis, &e.Plan)
}

func (w *working) value(name string) decimal.Decimal {
	return w.e.Pricing.Named(name, w.input(w.e, w.f))
}

// words says how an answer reads to those who do the work on a part of the line:
// the entry, unit, choice or file alone where the answer holds several.
func (w *working) words(k question.Key, f *workplan.For, p workplan.Part) string {
	item, ok := w.e.Item(k)
	if !ok {
		return ""
	}
	v, ok := w.Answers[k]
	switch {
	case !ok:
		return ""
	case f == nil:
		return item.Spec.Words(v, *w.env)
	case f.Each == workplan.EachUnit:
		if own, ok := p.Answers[k]; ok && item.Scope == question.OfUnit {
			return w.unit(item, own)
		}
		if item.Scope == question.OfUnit {
			return ""
		}
	case f.Of != k:
	case f.Each == workplan.EachEntry:
		return item.Spec.Words(question.Repeat{Entries: []question.Answers{p.Answers}}, *w.env)
	default:
		return p.Label
	}
	return item.Spec.Words(v, *w.env)
}

// unit says how one unit's answer to a question reads.
func (w *working) unit(item *product.Item, own question.Value) string {
	env := *w.env
	env.Units = 1
	return item.Spec.Words(question.Units{Each: []question.Value{own}}, env)
}

// field gives a merge field of a step: of its part first, then of the line.
func (w *working) field(name string, f *workplan.For, p workplan.Part) string {
	if f != nil {
		switch name {
		case product.FieldPart:
			return p.Label
		case product.FieldNumber:
			return strconv.Itoa(p.Place)
		case product.FieldParts:
			return strconv.Itoa(p.Of)
		}
		switch item, known := w.e.Item(question.Key(name)); {
		case f.Each == workplan.EachEntry:
			if said, own := w.entryField(f.Of, name, p); own {
				return said
			}
		case f.Each == workplan.EachUnit && known && item.Scope == question.OfUnit:
			if own, ok := p.Answers[item.Key]; ok {
				return w.unit(item, own)
			}
			if item.Required {
				return w.env.Language.Say("gap", words.Params{"wording": item.Wording})
			}
			return ""
		}
		if question.Key(name) == f.Of {
			return w.words(f.Of, f, p)
		}
	}
	return w.deskField(w.e, w.f, w.env, name)
}

// entryField gives an answer of an entry; false where entries have no such question.
func (w *working) entryField(of question.Key, name string, p workplan.Part) (string, bool) {
	item, _ := w.e.Item(of)
	list, ok := item.Spec.(question.Listing)
	if !ok {
		return "", false
	}
	spec, ok := list.EntrySpec(question.Key(name))
	if !ok {
		return "", false
	}
	if v, answered := p.Answers[question.Key(name)]; answered && v.Answered() {
		return spec.Words(v, *w.env), true
	}
	for _, q := range list.EntryQuestions() {
		if string(q.Key) == name && q.Required {
			return w.env.Language.Say("gap", words.Params{"wording": q.Wording}), true
		}
	}
	return "", true
}

// parts gives what of the line a step is for each of.
func (w *working) parts(f *workplan.For) []workplan.Part {
	var parts []workplan.Part
	add := func(id, label string, answers question.Answers, print string) {
		parts = append(parts, workplan.Part{ID: id, Label: label, Answers: answers, Print: print})
	}
	switch f.Each {
	case workplan.EachUnit:
		for i := range min(w.f.Quantity, workplan.MostParts) {
			add(strconv.Itoa(i+1), "", w.ofUnit(i), "")
		}
	case workplan.EachPerson:
		for i := range min(int(w.e.Measured(charge.Person, w.Answers).Decimal().IntPart()), workplan.MostParts) {
			add(strconv.Itoa(i+1), "", nil, "")
		}
	case workplan.EachEntry:
		item, _ := w.e.Item(f.Of)
		if list, ok := w.Answers[f.Of].(question.Repeat); ok {
			for _, e := range list.Entries {
				add("", w.called(item, e), e, printed(e))
			}
		}
	case workplan.EachChoice:
		item, _ := w.e.Item(f.Of)
		if v, ok := w.Answers[f.Of]; ok {
			for _, ch := range item.Spec.(question.Choosable).All() {
				if n, _ := question.Times(v, ch.Code); n > 0 {
					add(ch.Code, ch.Label, nil, "")
				}
			}
		}
	case workplan.EachFile:
		if v, ok := w.Answers[f.Of].(question.Filed); ok {
			for _, u := range v.Uploads() {
				if !slices.ContainsFunc(parts, func(p workplan.Part) bool { return p.ID == u.File }) {
					add(u.File, u.Name, nil, "")
				}
			}
		}
	}
	for i := range parts {
		parts[i].Place, parts[i].Of = i+1, len(parts)
		if parts[i].Label == "" {
			parts[i].Label = w.env.Language.Fill("work.part", "number", strconv.Itoa(i+1), "of", strconv.Itoa(len(parts)))
		}
	}
	return parts
}

// ofUnit gives the line's answers as one unit has them.
func (w *working) ofUnit(i int) question.Answers {
	own := maps.Clone(w.Answers)
	for k, v := range own {
		u, ok := v.(question.Units)
		switch {
		case !ok:
		case i < len(u.Each) && u.Each[i].Answered():
			own[k] = u.Each[i]
		default:
			delete(own, k)
		}
	}
	return own
}

// called gives what an entry is called: its first answered text.
func (w *working) called(item *product.Item, e question.Answers) string {
	list := item.Spec.(question.Listing)
	for _, q := range list.EntryQuestions() {
		if v, ok := e[q.Key].(question.Text); ok && v.Answered() {
			spec, _ := list.EntrySpec(q.Key)
			return strings.ReplaceAll(spec.Words(v, *w.env), "\n", ", ")
		}
	}
	return ""
}

// printed writes an entry in one way only, to be known by; of a long one that is
// enough to tell it from others.
func printed(e question.Answers) string {
	raw, err := question.Encode(e)
	if err != nil {
		return ""
	}
	text, err := json.Marshal(raw)
	if err != nil {
		return ""
	}
	return string(text)
}

// Paper gives a paper that lies beside the work of a step, for the part of the line
// at a place, or for the line with none: Markdown. False where there is no such paper.
func (r *Result) Paper(e *product.Edition, f Given, key workplan.StepKey, paper, place int) (title, text string, ok bool) {
	i := slices.IndexFunc(e.Plan.Steps, func(s workplan.Ready) bool { return s.Key == key })
	if i < 0 || paper < 0 || paper >= len(e.Plan.Steps[i].Papers) {
		return "", "", false
	}
	s := &e.Plan.Steps[i]
	env := question.Env{Today: calendar.DayOf(f.Now.In(f.Zone)), Zone: f.Zone, Currency: e.Currency, Language: f.Work.Language, Units: units(e, &f), Answers: r.Answers}
	w := &working{r, e, &f, &env}
	var part workplan.Part
	if s.For != nil {
		parts := w.parts(s.For)
		if place < 1 || place > len(parts) {
			return "", "", false
		}
		part = parts[place-1]
	}
	text = s.Sheets[paper].Render(func(name string) string {
		lines := strings.Split(merge.EscapeMarkdown(w.field(name, s.For, part)), "\n")
		return strings.Join(lines, "  \n") // each on a line of its own
	})
	return s.Papers[paper].Title, text, true
}
