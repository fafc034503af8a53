package charge

import (
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// base makes the lines of the product's own price.
func (m *making) base() {
	if w := m.Facts.Whole; w != nil {
		m.whole(w)
		return
	}
	label, prices, combine := m.Title, m.Prices, m.Combine
	m.list = m.Price.Exactly()
	rate := stretch{rate: m.list, fine: m.Price.Fine()}
	bands := m.Bands
	line := Line{Question: m.Measured[m.Measure]}
	given := false
	for i := range m.Charges {
		r := &m.Charges[i]
		if r.Effect != Sets {
			continue
		}
		v, ok := r.counts(&m.Input)
		if !ok {
			continue
		}
		line.Question, line.Choice = r.On, r.Choice
		given, m.from = r.Rate.Answered, r.From
		if prices = r.prices(m.Prices); len(r.Prices) > 0 {
			combine = r.Combine
		}
		m.list, m.computed = m.set(r, v)
		bands = nil
		rate = stretch{rate: m.list}
		if r.Choice != "" {
			if label = r.Priced; label == "" {
				label = m.Title + ", " + r.Wording
			}
		} else if r.Label != "" {
			label = r.Label
		}
	}
	line.Label = label
	if given {
		line.Part, prices = PartGiven, nil
	}
	m.Voucher.sells(&line)
	m.pieces(line, rate, bands, prices, combine)
	m.baseSum, m.baseLines, m.baseGiven = m.slip.Total, len(m.slip.Lines), given
}

// whole makes the line of something that is booked only whole.
func (m *making) whole(w *Whole) {
	m.list = w.Price.Exactly()
	line := Line{Label: m.Title, Question: m.Measured[m.Measure]}
	line.Amount = m.round(m.list.Times(wholes(m.Quantity)), line.Question)
	line.because(Reason{Code: whyWhole, Text: w.Name})
	m.add(line)
	m.baseSum, m.baseLines = m.slip.Total, len(m.slip.Lines)
}

// prices gives the other prices that hold while a charge sets the price: its
// own, and those of the product that are a share of it.
func (r *Compiled) prices(ofProduct []Special) []Special {
	all := r.Prices
	for _, s := range ofProduct {
		if s.Percent != nil {
			all = append(all[:len(all):len(all)], s)
		}
	}
	return all
}

// set gives the price of one unit that a charge sets.
func (m *making) set(r *Compiled, v question.Value) (p money.Product, why Reason) {
	switch {
	case r.Rate.Difference != nil:
		p = (m.Price + *r.Rate.Difference).Exactly()
	case r.Formula != nil:
		p, why = m.formula(r)
	case r.Rate.Answered:
		p = r.amount(v).Exactly()
	default:
		p = r.Rate.Amount.Exactly()
	}
	if p.Cmp(nought) < 0 {
		return nought, why
	}
	return p, why
}

// A row is a line of the product's own price: what costs the same other price.
type row struct {
	special chosen
	list    money.Product // instead of which the other price is
	parts   []stretch
}

// pieces makes the lines of the product's own price: each night, or day, has
// the price of its own day, each part of what the price is for that of its band,
// and what has the same other price makes one line.
func (m *making) pieces(line Line, rate stretch, bands []Band, prices []Special, combine Combine) {
	n := money.Count(money.One)
	if m.Measure != Once {
		n = m.measured(m.Measure)
	}
	units := m.Quantity
	if len(bands) == 0 && len(prices) == 0 && m.basis == nil {
		rate.n = n
		one := [1]stretch{rate}
		m.baseLine(line, &row{chosen{price: rate.rate}, rate.rate, one[:]}, units)
		return
	}
	parts := make([]stretch, 0, 1+len(bands))
	if len(bands) > 0 {
		if m.Measure == Once { // the units are what is counted
			n, units = wholes(m.Quantity), 1
		}
		parts = stretches(n, 0, rate, bands, m.Graduated, parts)
	}
	if len(parts) == 0 {
		rate.n = n
		parts = append(parts, rate)
	}
	if m.basis != nil {
		*m.basis = basis{parts, prices, combine, units}
	}
	daily := false
	if m.Measure == Night || m.Measure == Day {
		for i := range prices {
			daily = daily || prices[i].dated()
		}
	}
	var rows [2]row
	all := rows[:0]
	put := func(s stretch, is chosen) {
		for i := range all {
			if sameSpecials(all[i].special.of, is.of) {
				s.rate = is.price
				all[i].parts = join(all[i].parts, s)
				return
			}
		}
		list := s.rate
		s.rate = is.price
		all = append(all, row{is, list, []stretch{s}})
	}
	switch {
	case !daily:
		for _, s := range parts {
			put(s, m.best(s.rate, prices, combine, calendar.Day{}))
		}
	case m.Facts.First == (calendar.Day{}) || n < money.One || n > 4000*money.One:
		for _, s := range parts { // which day it will be is not known yet
			put(s, chosen{price: s.rate})
		}
	default:
		day := m.Facts.First
		for _, s := range parts {
			for range int(s.n / money.One) {
				one := s
				one.n = money.One
				put(one, m.best(s.rate, prices, combine, day))
				day = day.Add(1)
			}
		}
	}
	for i := range all {
		m.baseLine(line, &all[i], units)
	}
}

func sameSpecials(a, b []*Special) bool {
	if len(a) != len(b) {
		return false
	}
	for i := range a {
		if a[i] != b[i] {
			return false
		}
	}
	return true
}

// baseLine makes one line of the product's own price, for so many units of what
// its parts are.
func (m *making) baseLine(line Line, of *row, units int) {
	sum := nought
	var why Reason
	for _, s := range of.parts {
		part := m.step(s.rate.Times(s.n))
		sum = sum.Plus(part)
		switch {
		case m.Measure != Once && s.n == 0:
			why = because(Reason{Code: whyOne, Per: m.Measure}, s.rate)
		case m.Measure != Once:
			why = why.and(because(Reason{Code: whyMeasured, Count: s.n, Per: m.Measure}, s.rate))
		case units != m.Quantity:
			why = why.and(because(Reason{Code: whyBase, Count: s.n}, s.rate))
		}
	}
	if units != 1 {
		if why.Code == "" {
			why = because(Reason{Code: whyBase, Count: wholes(units)}, of.parts[0].rate)
		} else {
			why = Reason{Code: whyTimes, Count: wholes(units), Parts: []Reason{why}}
		}
		sum = sum.Times(wholes(units))
	}
	if m.partly() && line.Part != PartGiven {
		sum = sum.Share(m.Facts.Meetings, m.Facts.MeetingsOf)
		line.Amount = m.round(sum, line.Question)
		if why.Code == "" {
			why = because(Reason{Code: whyAmount}, of.parts[0].rate)
		}
		line.because(why)
		line.because(Reason{Code: whyJoined, Count: wholes(m.Facts.Meetings), Included: m.Facts.MeetingsOf})
	} else {
		line.Amount = m.round(sum, line.Question)
		line.because(why)
	}
	if len(of.special.of) > 0 {
		line.because(m.instead(of.special, of.list))
	}
	line.because(m.computed)
	line.from(m.from)
	m.add(line)
}

// partly says whether a course is joined after it began, and its price is for the
// whole of it. What is priced by the hour or the day is less by itself.
func (m *making) partly() bool {
	f := &m.Facts
	return f.Meetings > 0 && f.Meetings < f.MeetingsOf && m.Measure != Hour && m.Measure != Day
}

// because adds a reason to a line, if it is one.
func (l *Line) because(r Reason) {
	if r.Code != "" {
		l.Reasons = append(l.Reasons, r)
	}
}

// from adds what a formula was computed from; nothing without a formula.
func (l *Line) from(questions string) {
	if questions != "" {
		l.because(Reason{Code: whyFormula, Text: questions})
	}
}
