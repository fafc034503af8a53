package charge

import (
	"slices"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Step is one rule on the way from the list price to a price: what it says,
// and what it did here, or why it did nothing.
type Step struct {
	Line   int // of the slip, from 0; −1 for what makes none
	Charge int // its number in the draft, from 1; 0 for the product's own price
	// Rule says the rule, and Not why it does not count here; nil when it does.
	Rule words.Spoken
	Not  *words.Message
	// Amount is what the rule comes to, in minor units, where it counts.
	Amount money.Fine
}

// Trace gives the steps by which an order line gets its price, in the order in
// which the slip is made, and those that did not count.
func (p *Pricing) Trace(in Input) []Step {
	m := p.making(in)
	m.basis = &basis{}
	m.base()
	t := &tracing{making: m}
	t.base()
	own := len(t.steps)
	for i := range p.Charges {
		r := &p.Charges[i]
		if r.Effect == Sets {
			continue
		}
		t.charge(r)
	}
	if t.baseSum == 0 && len(t.slip.Lines) > t.baseLines && !t.ShowZero { // a first row of zero is left out
		for i := range t.steps[:own] {
			t.steps[i].Line = -1
		}
	}
	return t.steps
}

type tracing struct {
	*making
	steps []Step
}

func (t *tracing) add(s Step) { t.steps = append(t.steps, s) }

// amountOf says an amount in the currency of the slip.
func (m *making) amountOf(f money.Fine) words.Spoken {
	return func(l words.Language) string { return l.Fine(f, m.Currency) }
}

// base traces the product's own price: the list price, what an answer sets
// instead, and other prices.
func (t *tracing) base() {
	line := 0
	if len(t.slip.Lines) == 0 {
		line = -1
	}
	t.add(Step{Line: line, Rule: telling("trace.list", "amount", t.amountOf(t.Price.Fine())), Amount: t.Price.Fine()})
	for i := range t.Charges {
		r := &t.Charges[i]
		if r.Effect != Sets {
			continue
		}
		s := Step{Line: line, Charge: r.Draft + 1, Rule: t.says(r), Not: t.not(r)}
		if s.Not == nil {
			s.Amount = t.list.Fine()
		}
		t.add(s)
	}
	for i := range t.Bands {
		b := &t.Bands[i]
		s := Step{Line: line, Rule: telling("trace.band", "from", b.After+1, "amount", t.amountOf(b.Amount)), Amount: b.Amount}
		if !slices.ContainsFunc(t.basis.parts, func(p stretch) bool { return p.fine == b.Amount }) {
			s.Not = words.Tell("trace.not_reached")
		}
		t.add(s)
	}
	t.specials(line, 0, t.list, t.Prices, t.basis.prices, t.basis.combine, t.Measure == Night || t.Measure == Day)
}

// specials traces other prices instead of one. Those that hold are of all that
// there are; a price that is set leaves some out.
func (t *tracing) specials(line, charge int, price money.Product, all, hold []Special, combine Combine, daily bool) {
	days := []calendar.Day{{}}
	if daily && t.Facts.First != (calendar.Day{}) {
		days = days[:0]
		for k := range min(int(t.measured(t.Measure)/money.One), 400) {
			days = append(days, t.Facts.First.Add(k))
		}
	}
	for i := range all {
		s := &all[i]
		a := s.priceOf(price, t.Rounding, t.Rules)
		step := Step{Line: line, Charge: charge, Rule: telling("trace.other", "said", words.Spoken(func(l words.Language) string { return s.named(t.Currency, l) })), Amount: a.Fine()}
		held, taken := false, false
		for _, d := range days {
			if s.holds(&t.Input, d) {
				held = true
				is := t.best(price, hold, combine, d)
				taken = taken || slices.ContainsFunc(is.of, func(o *Special) bool { return same(o, s) })
			}
		}
		switch {
		case !slices.ContainsFunc(hold, func(o Special) bool { return same(&o, s) }):
			step.Not = words.Tell("trace.not_set_price")
		case !held:
			step.Not = s.not(&t.Input, days[0])
		case !taken && combine == CombineLast:
			step.Not = words.Tell("trace.not_last")
		case !taken:
			step.Not = words.Tell("trace.not_lowest")
		}
		t.add(step)
	}
}

func same(a, b *Special) bool {
	return a.Label == b.Label && a.Group == b.Group && a.From == b.From && a.To == b.To && a.AtLeast == b.AtLeast && a.Amount == b.Amount && a.Percent == b.Percent && a.Hours == b.Hours && a.Left == b.Left && slices.Equal(a.Weekdays, b.Weekdays)
}

// named says another price with its name.
func (s *Special) named(c money.Currency, l words.Language) string {
	said := s.Sentence(c, l)
	if s.Label != "" {
		return s.Label + ": " + said
	}
	return said
}

// not says why another price does not hold.
func (s *Special) not(in *Input, day calendar.Day) *words.Message {
	booked := day
	if booked == (calendar.Day{}) {
		booked = in.Facts.First
	}
	switch {
	case s.Group != "" && in.Group == "":
		return words.Tell("trace.not_group_none")
	case s.Group != "" && s.Group != in.Group:
		return words.Tell("trace.not_group", "group", in.Group)
	case in.Quantity < s.AtLeast:
		return words.Tell("trace.not_units", "count", in.Quantity)
	case s.Books() && booked == (calendar.Day{}):
		return words.Tell("trace.not_booked")
	case s.Season != "" && (in.InSeason == nil || !in.InSeason(booked, s.Season)):
		return words.Tell("trace.not_season", "season", s.Season)
	case s.Left > 0 && in.Facts.Left == 0:
		return words.Tell("trace.not_left_unknown")
	case s.Left > 0 && in.Facts.Left > s.Left:
		return words.Tell("trace.not_left", "count", in.Facts.Left)
	case s.Hours != nil && (in.Facts.Minute < s.Hours.From || in.Facts.Minute >= s.Hours.To):
		return words.Tell("trace.not_hours", "at", clock(in.Facts.Minute))
	}
	of := in.Day
	if s.Books() || day != (calendar.Day{}) {
		of = booked
	}
	return words.Tell("trace.not_days", "day", words.Spoken(func(l words.Language) string { return l.Day(of) }))
}

// charge traces one charge, and makes its line, so that what comes after takes
// its share of it.
func (t *tracing) charge(r *Compiled) {
	s := Step{Line: -1, Charge: r.Draft + 1, Rule: t.says(r), Not: t.not(r)}
	if s.Not != nil {
		t.add(s)
		return
	}
	v, _ := r.counts(&t.Input)
	line := t.line(r, v)
	if line.Amount == 0 && !t.ShowZero {
		s.Not = words.Tell("trace.not_nothing")
		t.add(s)
		return
	}
	if line.Amount < 0 && t.slip.Total-t.given+line.Amount < 0 {
		line.Amount = -(t.slip.Total - t.given)
	}
	at := len(t.slip.Lines)
	if t.baseSum == 0 && !t.ShowZero { // as below
		at -= t.baseLines
	}
	s.Line, s.Amount = at, line.Amount.Fine()
	t.add(s)
	if len(r.Prices) > 0 {
		t.specials(at, r.Draft+1, r.Rate.Amount.Exactly(), r.Prices, r.Prices, r.Combine, false)
	}
	t.making.add(line)
}

// says gives a charge's words: "Title: adds 0.60 for each letter after 24".
func (t *tracing) says(r *Compiled) words.Spoken {
	return func(l words.Language) string { return r.Name() + ": " + r.Sentence(t.Currency, l) }
}

// not says why a charge does not count; nil when it does.
func (t *tracing) not(r *Compiled) *words.Message {
	if r.Test != nil && !r.Test.Holds(t.Answers, t.Known) {
		return words.Tell("trace.not_condition")
	}
	if r.On == "" {
		return nil
	}
	v := t.answer(r.On)
	switch {
	case v == nil || !v.Answered():
		return words.Tell("trace.not_answered")
	case !t.formerly && !r.AlsoNone && r.Formula == nil && nothing(v):
		return words.Tell("trace.not_none")
	case r.Choice != "" && !chosenOf(v, r.Choice):
		return words.Tell("trace.not_choice")
	}
	if _, ok := r.counts(&t.Input); ok {
		return nil
	}
	if r.Entry != nil {
		return words.Tell("trace.not_entries")
	}
	return words.Tell("trace.not_answered_no")
}

func chosenOf(v question.Value, code string) bool {
	if u, ok := v.(question.Units); ok {
		return slices.ContainsFunc(u.Each, func(one question.Value) bool { return one.Answered() && chooses(one, code) })
	}
	return chooses(v, code)
}

func telling(code string, pairs ...any) words.Spoken {
	return func(l words.Language) string { return words.Tell(code, pairs...).Say(l) }
}
