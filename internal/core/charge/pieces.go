package charge

import (
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"slices"
)

// A Piece is what one rule adds to a price by itself, at least and at most, for
// some of its other prices depend on what is not known; what it takes off is
// below zero. Of a rule that takes per cent only whether it counts is known.
type Piece struct {
	Low, High money.Amount
	Counts    bool
	Times     money.Count // of per cent, how often
}

// Pieces gives the product's own price and what each rule adds to it by itself,
// for whoever looks for the least and the most that a product can cost. A price
// that depends on what will be booked lies between low and high.
func (p *Pricing) Pieces(in Input) (low, high money.Amount, pieces []Piece) {
	m := p.making(in)
	m.basis = &basis{}
	m.base()
	low, high = m.anyBase()
	pieces = make([]Piece, len(p.Charges))
	for i := range p.Charges {
		r := &p.Charges[i]
		if r.Effect == Sets {
			continue
		}
		v, ok := r.counts(&m.Input)
		if !ok {
			continue
		}
		pieces[i].Counts = true
		if r.Rate.Percent != nil {
			pieces[i].Times = m.howOften(r, v)
			continue
		}
		a := m.line(r, v).Amount
		pieces[i].Low, pieces[i].High = a, a
		if slices.ContainsFunc(r.Prices, func(s Special) bool { return s.Books() }) {
			pieces[i].Low, pieces[i].High = m.anyLine(r, v)
		}
	}
	return low, high, pieces
}

// anyLine gives what a charge adds whatever is booked.
func (m *making) anyLine(r *Compiled, v question.Value) (low, high money.Amount) {
	one := *r
	one.Prices = nil
	lows, highs := m.anyPrice(r.Rate.Amount.Exactly(), r.Prices, r.Combine, false)
	ends := [2]money.Amount{}
	for i, p := range []money.Product{lows, highs} {
		fine := p.Fine()
		one.Rate.Amount = &fine
		ends[i] = m.line(&one, v).Amount
	}
	return min(ends[0], ends[1]), max(ends[0], ends[1])
}

// anyBase gives the product's own price whatever is booked.
func (m *making) anyBase() (low, high money.Amount) {
	daily := m.Measure == Night || m.Measure == Day
	if !slices.ContainsFunc(m.basis.prices, func(s Special) bool { return s.Books() || daily && s.dated() }) {
		return m.baseSum, m.baseSum
	}
	lows, highs := nought, nought
	for _, s := range m.basis.parts {
		l, h := m.anyPrice(s.rate, m.basis.prices, m.basis.combine, daily)
		lows, highs = lows.Plus(m.step(l.Times(s.n))), highs.Plus(m.step(h.Times(s.n)))
	}
	all := func(p money.Product) money.Amount {
		a, _ := m.Rounding.Product(p.Times(wholes(m.basis.units)))
		return a
	}
	return min(m.baseSum, all(lows)), max(m.baseSum, all(highs))
}

// anyPrice gives the least and the most that other prices can make of a price,
// when what is booked is not known. Daily says that each day has its own.
func (m *making) anyPrice(price money.Product, list []Special, combine Combine, daily bool) (low, high money.Product) {
	known := m.best(price, list, combine, calendar.Day{}).price
	low, high = lower(price, known), higher(price, known)
	down, up := price, price
	for i := range list {
		s := &list[i]
		if s.Group != "" && s.Group != m.Group || m.Quantity < s.AtLeast || !s.Books() && !(daily && s.dated()) && !s.holds(&m.Input, calendar.Day{}) {
			continue
		}
		a := s.priceOf(price, m.Rounding, m.Rules)
		if m.Rules == Rules1 {
			a = lower(a, price)
		}
		low, high = lower(low, a), higher(high, a)
		if d := a.Minus(price); d.Cmp(nought) < 0 {
			down = down.Plus(d)
		} else {
			up = up.Plus(d)
		}
	}
	if combine == CombineSum {
		low, high = higher(down, nought), up
	}
	return low, high
}

func lower(a, b money.Product) money.Product {
	if b.Cmp(a) < 0 {
		return b
	}
	return a
}

func higher(a, b money.Product) money.Product {
	if b.Cmp(a) > 0 {
		return b
	}
	return a
}

// howOften gives how often a charge of per cent is made.
func (m *making) howOften(r *Compiled, v question.Value) money.Count {
	n := money.Whole(m.times(r, v))
	if r.Per != Once {
		n = 0
		for _, c := range r.each(v, &m.Input, nil) {
			for _, s := range stretches(c, r.Included, stretch{rate: nought}, nil, false, nil) {
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
	m := making{Pricing: p}
	a, _ := p.Rounding.Product(m.step(of.Exactly().Percent(*r.Rate.Percent)).Times(times))
	if r.Most != nil {
		a = min(a, *r.Most)
	}
	if r.Least != nil {
		a = max(a, *r.Least)
	}
	return a
}
