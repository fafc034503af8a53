// Package apiview shows products, answers, openings, work and money as the API
// tells of them, the same to the shop and to the desk.
package apiview

import (
	"encoding/json"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/document"
	"ruvo/internal/problem"
)

// Page shows an edition as a product page. Only questions of the moments up to
// the given one are on it; the desk's never are.
func Page(slug string, id int64, e *product.Edition, upto question.Moment, l words.Language) api.ProductPage {
	digits, _ := e.Currency.Digits()
	p := api.ProductPage{
		Slug: slug, Edition: id, Title: e.Title, Summary: e.Summary, Description: document.HTML(e.Description),
		Next: document.HTML(e.Next), Picture: e.Picture, Currency: string(e.Currency), Digits: digits,
		MostUnits: e.Units(), Questions: []api.QuestionView{},
	}
	if e.Reaches != product.Unsaid {
		p.Reaches = text(l.Say("reach."+string(e.Reaches), nil))
	}
	p.Licence = text(document.HTML(e.Licence))
	if e.Bundle != nil {
		together := int(e.Bundle.Price)
		p.Together = &together
	}
	for i := range e.Items {
		if q := &e.Items[i]; q.Moment.Rank() <= upto.Rank() && !q.Off {
			p.Questions = append(p.Questions, questionView(e, q, l))
		}
	}
	if e.Booking != nil {
		p.People = &struct {
			Least int `json:"least"`
			Most  int `json:"most"`
		}{}
		p.People.Least, p.People.Most = e.Booking.People()
	}
	return p
}

func questionView(e *product.Edition, q *product.Item, l words.Language) api.QuestionView {
	v := api.QuestionView{
		Key: string(q.Key), Kind: string(q.Kind), Moment: q.Moment, Wording: q.Wording, Help: text(q.Help),
		Required: q.Required, Later: q.Later, Scope: &q.Scope, Half: &q.Half, Recipient: &q.Recipient, Settings: q.Settings, ChoiceHints: map[string]string{},
	}
	if q.Section != "" {
		v.Section = text(string(q.Section))
	}
	if x, ok := q.Spec.(question.WithExtra); ok {
		if extra := x.Extra(l); extra != nil {
			v.Extra = &extra
		}
	}
	if len(v.Settings) == 0 {
		v.Settings = json.RawMessage("{}")
	}
	for i := range e.Pricing.Charges {
		switch c := &e.Pricing.Charges[i]; {
		case c.On != q.Key:
		case c.Choice != "":
			v.ChoiceHints[c.Choice] = join(v.ChoiceHints[c.Choice], e.Pricing.Hint(c, l))
		default:
			v.Hint = join(v.Hint, e.Pricing.Hint(c, l))
		}
	}
	includes(e, q, v.ChoiceHints, l)
	return v
}

// includes says of choices without a price, beside others that have one, that
// they are in it; beside others that set the price, it says the price.
func includes(e *product.Edition, q *product.Item, hints map[string]string, l words.Language) {
	spec, ok := q.Spec.(question.Choosable)
	if !ok || len(hints) == 0 {
		return
	}
	hint := l.Fill("hint.included")
	if slices.ContainsFunc(e.Pricing.Charges, func(r charge.Compiled) bool { return r.On == q.Key && r.Choice != "" && r.Effect == charge.Sets }) {
		hint = l.Amount(e.Price, e.Currency)
	}
	for _, ch := range spec.All() {
		if hints[ch.Code] == "" {
			hints[ch.Code] = hint
		}
	}
}

func join(a, b string) string {
	if a == "" {
		return b
	}
	return a + ", " + b
}

// DayString writes the local day of an instant; empty for the zero time.
func DayString(t time.Time, zone *time.Location) string {
	if t.IsZero() {
		return ""
	}
	return calendar.DayOf(t.In(zone)).String()
}

func text(s string) *string {
	if s == "" {
		return nil
	}
	return &s
}

// AskedViews shows which questions apply, with the words of their answers.
func AskedViews(e *product.Edition, r *evaluate.Result, f evaluate.Given) []api.AskedQuestion {
	asked := make([]api.AskedQuestion, 0, len(r.Asked))
	for _, a := range r.Asked {
		v := api.AskedQuestion{Key: string(a.Item.Key), Answered: a.Answered, Later: a.Later}
		if a.Text != "" {
			v.Text = text(document.HTML(a.Text))
		}
		if doc, ok := a.Item.Spec.(question.Documented); ok {
			v.Text = text(document.HTML(doc.Document()))
		}
		if len(a.Hidden) > 0 {
			v.Hidden = &a.Hidden
		}
		if a.Answered {
			v.Words = text(r.Words(e, a.Item.Key, f))
		}
		asked = append(asked, v)
	}
	return asked
}

// Faults joins what could not be read with what is wrong up to a moment. An
// answer that could not be read is wrong once, and not missing too.
func Faults(wrong []question.Fault, e *product.Edition, r *evaluate.Result, m question.Moment) []question.Fault {
	all := slices.Clone(wrong)
	for _, f := range r.Upto(e, m) {
		if !slices.ContainsFunc(wrong, func(w question.Fault) bool { return w.Key == f.Key }) {
			all = append(all, f)
		}
	}
	return all
}

// Evaluated shows an evaluation up to a moment.
func Evaluated(id int64, e *product.Edition, r *evaluate.Result, wrong []question.Fault, f evaluate.Given, m question.Moment) api.Evaluation {
	faults := Faults(wrong, e, r, m)
	return api.Evaluation{
		Edition: id, Asked: AskedViews(e, r, f), Faults: problem.Fields(f.Language, "", faults),
		Slip: r.Slip.In(f.Language), Ready: len(faults) == 0, Picture: r.Picture,
	}
}

// Clock writes the wall-clock time of an instant, "20:30".
func Clock(t time.Time, zone *time.Location) string { return t.In(zone).Format("15:04") }

// Waits shows what stands in the way of beginning an item.
func Waits(i *workplan.Item, e *product.Edition) []api.Wait {
	waits := []api.Wait{}
	for _, k := range i.Missing {
		if item, ok := e.Item(k); ok {
			waits = append(waits, api.Wait{For: "answer", What: item.Wording})
		}
	}
	if i.Brief && len(waits) == 0 {
		waits = append(waits, api.Wait{For: "brief"})
	}
	if i.After != "" {
		title := string(i.After)
		for _, s := range e.Plan.Steps {
			if s.Key == i.After {
				title = s.Title
			}
		}
		wait := api.Wait{For: "step", What: title}
		if i.Accept {
			wait.For = "acceptance"
		}
		waits = append(waits, wait)
	}
	return waits
}
