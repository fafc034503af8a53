package product

import (
	"encoding/json"
	"fmt"
	"slices"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

// SheetContent is what a sheet has besides its questions: what they cost, and
// what is to be done for them.
type SheetContent struct {
	Charges []charge.Charge `json:"charges,omitempty"`
	Values  []NamedFormula  `json:"values,omitempty"`
	Steps   []workplan.Step `json:"steps,omitempty"`
}

// A SheetFigure is one figure that a product has differently from a sheet. It
// has exactly one of its numbers.
type SheetFigure struct {
	Place   string           `json:"place"`
	Amount  *money.Fine      `json:"amount,omitempty"`
	Percent *decimal.Decimal `json:"percent,omitempty"`
	Minutes *int             `json:"minutes,omitempty"`
}

// A FigureAt is a figure of a sheet that products can have differently.
type FigureAt struct {
	SheetFigure
	Question question.Key // whose charge it is; empty for a step's
	Of       string       // what it belongs to, in the seller's words
	what     string
	n        int
}

// What says what it is in a language.
func (f FigureAt) What(l words.Language) string { return words.Tell("amount."+f.what, "n", f.n).Say(l) }

// Figures lists the figures of a sheet, in the order of its charges and steps.
func (s Sheet) Figures() []FigureAt {
	var list []FigureAt
	c := s.SheetContent.copied()
	c.each(s.Questions, func(at FigureAt, _ func(SheetFigure)) { list = append(list, at) })
	return list
}

// Here gives what a sheet has with the figures of one product. A figure whose
// place is gone changes nothing.
func (s Sheet) Here(figures []SheetFigure) SheetContent {
	if len(figures) == 0 {
		return s.SheetContent
	}
	c := s.SheetContent.copied()
	c.each(s.Questions, func(at FigureAt, put func(SheetFigure)) {
		if i := slices.IndexFunc(figures, func(f SheetFigure) bool { return f.Place == at.Place }); i >= 0 {
			put(figures[i])
		}
	})
	return c
}

func (c SheetContent) copied() SheetContent {
	var n SheetContent
	raw, err := json.Marshal(c)
	if err == nil {
		err = json.Unmarshal(raw, &n)
	}
	if err != nil {
		panic(err) // it is plain data
	}
	return n
}

// each shows every figure and lets it be changed. Its place names what it is of,
// so that it stays with that when others come and go: the question, the choice
// and which of several charges on it, or the step.
func (c *SheetContent) each(questions []Question, visit func(at FigureAt, put func(SheetFigure))) {
	labels := map[string]string{}
	for _, q := range questions {
		labels[string(q.Key)] = q.Wording
	}
	places := chargePlaces(c.Charges)
	for i := range c.Charges {
		ch := &c.Charges[i]
		v := figureVisit{visit: visit, place: places[i], question: ch.On, of: c.named(ch, questions, labels)}
		v.charge(ch)
	}
	for i := range c.Steps {
		s := &c.Steps[i]
		v := figureVisit{visit: visit, place: "steps." + string(s.Key), of: s.Title}
		v.minutes("minutes", &s.Minutes.Fixed)
		v.minutes("minutes_unit", &s.Minutes.Unit)
		v.minutes("minutes_each", &s.Minutes.Each)
	}
}

func (c *SheetContent) named(ch *charge.Charge, questions []Question, labels map[string]string) string {
	name := labels[string(ch.On)]
	if ch.Choice != "" {
		i := slices.IndexFunc(questions, func(q Question) bool { return q.Key == ch.On })
		if i >= 0 {
			name += ", " + labelOf(questions[i].Settings, ch.Choice)
		}
	}
	if ch.Label != "" {
		return ch.Label
	}
	return name
}

type figureVisit struct {
	visit    func(at FigureAt, put func(SheetFigure))
	place    string
	question question.Key
	of       string
}

func (v figureVisit) show(part, what string, n int, f SheetFigure, put func(SheetFigure)) {
	f.Place = v.place + "." + part
	v.visit(FigureAt{f, v.question, v.of, what, n}, put)
}

func (v figureVisit) fine(part, what string, n int, a *money.Fine) {
	if a == nil {
		return
	}
	was := *a
	v.show(part, what, n, SheetFigure{Amount: &was}, func(f SheetFigure) {
		if f.Amount != nil {
			*a = *f.Amount
		}
	})
}

func (v figureVisit) amount(part, what string, n int, a *money.Amount) {
	if a == nil {
		return
	}
	was := a.Fine()
	v.show(part, what, n, SheetFigure{Amount: &was}, func(f SheetFigure) {
		if f.Amount != nil {
			*a = f.Amount.Amount(money.HalfUp)
		}
	})
}

func (v figureVisit) percent(part, what string, n int, p *decimal.Decimal) {
	if p == nil {
		return
	}
	was := *p
	v.show(part, what, n, SheetFigure{Percent: &was}, func(f SheetFigure) {
		if f.Percent != nil {
			*p = *f.Percent
		}
	})
}

func (v figureVisit) minutes(what string, m *int) {
	if *m == 0 {
		return
	}
	was := *m
	v.show(what, what, 0, SheetFigure{Minutes: &was}, func(f SheetFigure) {
		if f.Minutes != nil {
			*m = *f.Minutes
		}
	})
}

func (v figureVisit) charge(c *charge.Charge) {
	v.fine("rate", "rate", 0, c.Rate.Amount)
	v.amount("difference", "difference", 0, c.Rate.Difference)
	v.percent("percent", "percent", 0, c.Rate.Percent)
	for i := range c.Bands {
		v.fine(fmt.Sprintf("bands.%d", i+1), "band", c.Bands[i].After+1, &c.Bands[i].Amount)
	}
	v.amount("least", "least", 0, c.Least)
	v.amount("most", "most", 0, c.Most)
	for i := range c.Prices {
		v.amount(fmt.Sprintf("prices.%d", i+1), "other", i+1, c.Prices[i].Amount)
		v.percent(fmt.Sprintf("prices.%d.percent", i+1), "other", i+1, c.Prices[i].Percent)
	}
}
