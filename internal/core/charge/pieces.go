package charge

import (
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// A Piece is what one rule adds to a price by itself; what it takes off is
// below zero. Of a rule that takes per cent only whether it counts is known.
type Piece struct {
	Amount money.Amount
	Counts bool
	Times  money.Count // of per cent, how often
}

// Pieces gives the product's own price and what each rule adds to it by itself,
// for whoever looks for the least and the most that a product can cost. A price
// that depends on days which are not known lies between low and high.
func (p *Pricing) Pieces(in Input) (low, high money.Amount, pieces []Piece) {
	m := making{Pricing: p, Input: &in}
	m.base()
	low, high = m.baseSum, m.baseSum
	if m.Measure == Night || m.Measure == Day {
		low, high = m.anyDay(low, high)
	}
	pieces = make([]Piece, len(p.Charges))
	for i := range p.Charges {
		r := &p.Charges[i]
		if r.Effect == Sets {
			continue
		}
		v, ok := r.counts(&in)
		if !ok {
			continue
		}
		pieces[i].Counts = true
		if r.Rate.Percent != nil {
			pieces[i].Times = m.howOften(r, v)
		} else {
			pieces[i].Amount = m.line(r, v).Amount
		}
	}
	return low, high, pieces
}

// anyDay widens the product's own price to what it can be on any days.
func (m *making) anyDay(low, high money.Amount) (money.Amount, money.Amount) {
	n := m.measured(m.Measure)
	for i := range m.Prices {
		s := &m.Prices[i]
		if !s.dated() || s.Group != "" && s.Group != m.Group || m.Quantity < s.AtLeast {
			continue
		}
		price := min(s.of(m.list, m.Rounding), m.list)
		low = min(low, m.Rounding.Each(price, n).Times(int64(m.Quantity)))
	}
	return low, max(high, m.Rounding.Each(m.list, n).Times(int64(m.Quantity)))
}

// howOften gives how often a charge of per cent is made.
func (m *making) howOften(r *Compiled, v question.Value) money.Count {
	n := money.Whole(r.times(v))
	if r.Per != Once {
		n = 0
		for _, c := range r.each(v, m.Input, nil) {
			for _, s := range r.stretches(c, 0, nil) {
				n += s.n
			}
		}
	}
	for _, t := range r.Times {
		n = n.Times(m.measured(t))
	}
	return n
}

// Share gives what a rule of per cent, made so often, makes of a price so far.
func (p *Pricing) Share(i int, base, soFar money.Amount, times money.Count) money.Amount {
	r := &p.Charges[i]
	of := soFar
	if r.Rate.OfBase {
		of = base
	}
	a := p.Rounding.Each(p.Rounding.Percent(of, *r.Rate.Percent), times)
	if r.Most != nil {
		a = min(a, *r.Most)
	}
	if r.Least != nil {
		a = max(a, *r.Least)
	}
	return a
}
