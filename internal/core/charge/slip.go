package charge

import (
	"reflect"
	"slices"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/formula"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// A Slip is the computed price. The same input makes the same slip, byte for
// byte.
type Slip struct {
	Currency money.Currency `json:"currency"`
	Lines    []Line         `json:"lines"`
	// Extras is the sum of what answers add to the products' own prices; zero
	// when there is nothing to tell apart.
	Extras money.Amount `json:"extras,omitempty"`
	Taxes  []Tax        `json:"taxes"`
	Total  money.Amount `json:"total"` // the sum of the lines and of taxes that are added
	// Held is taken as security and given back; it is no part of the total.
	Held money.Amount `json:"held,omitempty"`
	// Due says when the total is paid; nothing when all of it is due now.
	Due []Due `json:"due,omitempty"`
	// Down is what a named value says is paid now, of an order line.
	Down *money.Amount `json:"down,omitempty"`
}

// Agrees says whether two slips say the same, by their figures and reasons. What
// slips did not tell when they were kept, such as which choice made a line or,
// once, their reasons, is passed over.
func (s *Slip) Agrees(kept *Slip) bool {
	if s.Currency != kept.Currency || s.Total != kept.Total || s.Held != kept.Held || s.Now() != kept.Now() {
		return false
	}
	return slices.EqualFunc(s.Lines, kept.Lines, func(a, b Line) bool {
		return (a.Label == b.Label || a.Label == "") && a.Amount == b.Amount && (b.Reasons == nil || reflect.DeepEqual(a.Reasons, b.Reasons))
	}) && slices.EqualFunc(s.Taxes, kept.Taxes, func(a, b Tax) bool {
		return a.Percent.Equal(b.Percent) && a.Gross == b.Gross && a.Net == b.Net && a.Amount == b.Amount
	})
}

// A Line is one row of a slip, already rounded.
type Line struct {
	Part     Part         `json:"part,omitempty"`
	Question question.Key `json:"question,omitempty"` // whose answer makes it; none for the product itself
	Choice   string       `json:"choice,omitempty"`   // the choice that makes it
	Code     string       `json:"code,omitempty"`     // the coupon that makes it
	Of       int          `json:"of,omitempty"`       // the order line, from 1, on the slip of an order
	// Label is in the seller's words; empty for what has none, such as a coupon
	// without a label.
	Label string `json:"label"`
	// Reasons say how the amount was computed, and Why the same in words, on a
	// slip that is shown.
	Reasons []Reason     `json:"reasons,omitempty"`
	Why     string       `json:"why,omitempty"`
	Amount  money.Amount `json:"amount"`
}

// A Part says what a line belongs to.
type Part string

const (
	PartBase    Part = ""        // the product's own price
	PartExtra   Part = "extra"   // a charge
	PartGiven   Part = "given"   // set by the customer; never discounted
	PartOrder   Part = "order"   // a charge of the whole order
	PartCoupon  Part = "coupon"  // what a coupon takes off
	PartTip     Part = "tip"     // given on top of the order
	PartReverse Part = "reverse" // tax that the buyer owes instead
)

// A Pricing is what the lines of one product are made from.
type Pricing struct {
	Title    string
	Price    money.Amount         // of one unit
	Prices   []Special            // other prices of one unit
	Measure  Per                  // what the price is for one of; Once for the unit itself
	Measured map[Per]question.Key // the questions that measures are known from
	Currency money.Currency
	Rounding money.Rounding
	Tax      TaxRule
	ShowZero bool
	Values   []NamedValue
	Charges  []Compiled   // in the order of their questions
	Deposit  money.Amount // held for each unit
	// Held is the named value that says how much is held for the whole line,
	// instead.
	Held string
	Plan *Parts
}

// A NamedValue is an intermediate value that formulas can read.
type NamedValue struct {
	Name    string
	Draft   int // its place among the values of the draft
	Formula *formula.Formula
}

// A Compiled is a charge with the question that it reads.
type Compiled struct {
	Charge
	Wording string // the label when there is no other
	Draft   int    // its place among the charges of the draft
	Priced  string // the label of the price that it sets
	Test    *condition.Test
	Formula *formula.Formula
	From    string // the questions whose answers the formula reads
}

// An Input is what changes from order to order.
type Input struct {
	Answers  question.Answers // only what is asked
	Quantity int
	Day      calendar.Day // of the order
	Group    string       // of the customer
	Facts    Measured
	Known    condition.Facts

	lastKey question.Key
	last    question.Value
}

// Make computes the slip of one order line (computation.md, The slip).
// Every line is rounded when it is made, and the total adds rounded lines.
func (p *Pricing) Make(in Input) Slip {
	m := making{Pricing: p, Input: &in}
	m.slip = Slip{Currency: p.Currency, Lines: make([]Line, 0, 1+len(p.Charges)/2)}
	m.base()
	for i := range p.Charges {
		r := &p.Charges[i]
		if r.Effect == Sets {
			continue
		}
		v, ok := r.counts(&in)
		if !ok {
			continue
		}
		line := m.line(r, v)
		if line.Amount == 0 && !p.ShowZero {
			continue
		}
		if line.Amount < 0 && m.slip.Total-m.given+line.Amount < 0 {
			line.Amount = -(m.slip.Total - m.given)
			line.Reasons = []Reason{{Code: whyFloor}}
		}
		m.add(line)
	}
	// A product without a price of its own, such as a voucher, is nothing but
	// its charges; a first row of zero would say nothing.
	if m.baseSum == 0 && len(m.slip.Lines) > m.baseLines && !p.ShowZero {
		m.slip.Lines = m.slip.Lines[m.baseLines:]
	}
	m.slip.Extras = extras(m.slip.Lines)
	m.slip.Held = p.Deposit.Times(int64(in.Quantity))
	if p.Held != "" {
		m.slip.Held = m.valued(p.Held)
	}
	if p.Plan != nil && p.Plan.Value != "" {
		down := m.valued(p.Plan.Value)
		m.slip.Down = &down
	}
	b := bucket{TaxRule: p.Tax, sum: m.slip.Total}
	tax := b.tax(p.Rounding)
	m.slip.Taxes = []Tax{tax}
	m.slip.Total = tax.Gross
	if p.Plan != nil {
		p.Plan.due(&m.slip, []share{{p.Plan, m.slip.Total, in.Quantity, in.Facts.First, m.slip.Down}}, in.Day, p.Rounding)
	}
	return m.slip
}

// extras sums what answers added, when there is a price beside them.
func extras(lines []Line) money.Amount {
	var sum, price money.Amount
	n := 0
	for _, l := range lines {
		switch l.Part {
		case PartExtra:
			sum += l.Amount
			n++
		case PartBase:
			price += l.Amount
		}
	}
	if price == 0 || n < 2 {
		return 0
	}
	return sum
}

// making is one slip in the making.
type making struct {
	*Pricing
	*Input
	slip      Slip
	list      money.Amount // the price of one unit that counts, before better prices
	baseSum   money.Amount
	baseLines int
	baseGiven bool         // the customer set the price
	given     money.Amount // set by the customer, so that nothing is taken off it
	from      string       // what the formula that sets the price reads
	named     map[string]formula.Value
}

func (m *making) add(l Line) {
	m.slip.Lines = append(m.slip.Lines, l)
	m.slip.Total += l.Amount
	if l.Part == PartGiven {
		m.given += max(l.Amount, 0)
	}
}

// base makes the lines of the product's own price.
func (m *making) base() {
	label, prices := m.Title, m.Prices
	m.list = m.Price
	line := Line{Question: m.Measured[m.Measure]}
	given := false
	for i := range m.Charges {
		r := &m.Charges[i]
		if r.Effect != Sets {
			continue
		}
		v, ok := r.counts(m.Input)
		if !ok {
			continue
		}
		line.Question, line.Choice = r.On, r.Choice
		given, m.from = r.Rate.Answered, r.From
		prices = r.prices(m.Prices)
		m.list = m.set(r, v)
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
	if m.Measure == Night || m.Measure == Day {
		m.seasons(line, prices)
	} else {
		price, special := best(m.list, prices, m.Input, m.Day, m.Rounding)
		m.baseLine(line, price, special, m.measured(m.Measure))
	}
	m.baseSum, m.baseLines, m.baseGiven = m.slip.Total, len(m.slip.Lines), given
}

// prices gives the other prices that hold while a charge sets the price: its
// own, and those of the product that take per cent off.
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
func (m *making) set(r *Compiled, v question.Value) money.Amount {
	switch {
	case r.Rate.Difference != nil:
		return max(m.Price+*r.Rate.Difference, 0)
	case r.Formula != nil:
		return max(m.formula(r), 0)
	}
	return r.amount(v)
}

// seasons gives each night, or day, the price of its own day, and one line to
// all of the same price.
func (m *making) seasons(line Line, prices []Special) {
	n := m.measured(m.Measure)
	dated := false
	for i := range prices {
		dated = dated || prices[i].dated()
	}
	if !dated || m.Facts.First == (calendar.Day{}) || n < money.One || n > 4000*money.One {
		price, special := best(m.list, prices, m.Input, m.Day, m.Rounding)
		if dated { // which day it will be is not known yet
			price, special = m.list, nil
		}
		m.baseLine(line, price, special, n)
		return
	}
	type season struct {
		price   money.Amount
		special *Special
		n       money.Count
	}
	var all []season
	for day := range int(n / money.One) {
		price, special := best(m.list, prices, m.Input, m.Facts.First.Add(day), m.Rounding)
		at := 0
		for at < len(all) && all[at].special != special {
			at++
		}
		if at == len(all) {
			all = append(all, season{price, special, 0})
		}
		all[at].n += money.One
	}
	for _, s := range all {
		m.baseLine(line, s.price, s.special, s.n)
	}
}

func (m *making) baseLine(line Line, price money.Amount, special *Special, n money.Count) {
	line.Amount = m.Rounding.Each(price, n).Times(int64(m.Quantity))
	var why Reason
	if m.Measure != Once {
		why = Reason{Code: whyMeasured, Count: n, Per: m.Measure, Amount: price}
		if n == 0 {
			why.Code = whyOne
		}
	}
	if m.Quantity != 1 {
		if why.Code == "" {
			why = Reason{Code: whyBase, Amount: price, Count: wholes(m.Quantity)}
		} else {
			why = Reason{Code: whyTimes, Count: wholes(m.Quantity), Parts: []Reason{why}}
		}
	}
	line.because(why)
	if special != nil {
		line.because(special.instead(price, m.list))
	}
	line.from(m.from)
	m.add(line)
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

// amount gives the amount of a charge. What a customer sets is shown before it
// is checked, so it is kept within the range of amounts here.
func (r *Compiled) amount(v question.Value) money.Amount {
	if r.Rate.Answered {
		if a, ok := v.(question.Amount); ok {
			return min(max(money.Amount(a), 0), money.Largest)
		}
		return 0
	}
	return *r.Rate.Amount
}

// rate gives the amount for one of what is counted, and the reason for it.
func (m *making) rate(r *Compiled, v question.Value) (a money.Amount, why Reason, special *Special) {
	switch {
	case r.Rate.Percent != nil:
		of := m.slip.Total
		if r.Rate.OfBase {
			of = m.baseSum
		}
		if r.Effect == TakesOff { // not off what customers give of their own will
			if !r.Rate.OfBase {
				of -= m.given
			} else if m.baseGiven {
				of = 0
			}
		}
		return m.Rounding.Percent(of, *r.Rate.Percent), Reason{Code: whyPercent, Percent: r.Rate.Percent, Of: of}, nil
	case r.Formula != nil:
		return max(m.formula(r), 0), Reason{}, nil
	case r.Rate.Answered:
		return r.amount(v), Reason{Code: whyDecided}, nil
	}
	a = *r.Rate.Amount
	if len(r.Prices) > 0 {
		a, special = best(a, r.Prices, m.Input, m.Day, m.Rounding)
	}
	return a, Reason{}, special
}

// line makes the slip line of one charge on what the line costs so far.
func (m *making) line(r *Compiled, v question.Value) Line {
	line := Line{Part: PartExtra, Question: r.On, Choice: r.Choice, Label: r.Label}
	if line.Label == "" {
		line.Label = r.Wording
	}
	if r.On == "" && r.Per != Once {
		line.Question = m.Measured[r.Per]
	}
	if r.Rate.Answered {
		line.Part = PartGiven
	}
	rate, why, special := m.rate(r, v)
	if r.Per == Once {
		n := r.times(v)
		if line.Amount = rate.Times(n); n > 1 {
			why = Reason{Code: whyEach, Amount: rate, Count: money.Whole(n)}
		}
	} else {
		line.Amount, why = m.counted(r, v, rate, why)
		if line.Amount == 0 && why.Code == "" {
			return line
		}
	}
	line.Amount, why = m.multiply(r, line.Amount, why)
	if line.Amount == 0 && r.Rate.Percent != nil {
		why = Reason{}
	}
	line.Amount, why = r.clamp(line.Amount, why)
	line.because(why)
	if special != nil {
		line.because(special.instead(rate, *r.Rate.Amount))
	}
	line.from(r.From)
	if r.Effect == TakesOff {
		line.Amount = -line.Amount
	}
	return line
}

// counted makes the amount of a charge that counts, and its reason.
func (m *making) counted(r *Compiled, v question.Value, rate money.Amount, share Reason) (sum money.Amount, why Reason) {
	var room [4]stretch
	parts := room[:0]
	var counts [4]money.Count
	for _, n := range r.each(v, m.Input, counts[:0]) {
		parts = r.stretches(n, rate, parts)
	}
	for k, s := range parts {
		sum += m.Rounding.Each(s.rate, s.n)
		one := Reason{Code: whyCounted, Count: s.n, Amount: s.rate, Per: r.Per, Noun: r.Noun, Nouns: r.Nouns}
		switch {
		case k == 0 && r.Included > 0:
			one.Code, one.Included = whyAfter, r.Included
		case k == 0 && r.UpTo > 0:
			one.Code = whyFirst
		}
		if share.Code != "" {
			one.Amount, one.Parts = 0, []Reason{share}
		}
		if why.Code == "" {
			why = one
		} else {
			why = Reason{Code: whyAnd, Parts: []Reason{why, one}}
		}
	}
	return sum, why
}

// multiply multiplies a charge by units and measures.
func (m *making) multiply(r *Compiled, amount money.Amount, why Reason) (money.Amount, Reason) {
	times := func(per Per, n money.Count) {
		if why.Code == "" {
			why = Reason{Code: whyAmount, Amount: amount}
		}
		why = Reason{Code: whyTimes, Count: n, Per: per, Parts: []Reason{why}}
	}
	if r.EachUnit && r.Rate.Percent == nil && r.Per != Unit && m.Quantity != 1 {
		times(Once, wholes(m.Quantity))
		amount = amount.Times(int64(m.Quantity))
	}
	for _, t := range r.Times {
		n := m.measured(t)
		times(t, n)
		amount = m.Rounding.Each(amount, n)
	}
	return amount, why
}

// clamp holds a charge within its least and most.
func (r *Compiled) clamp(amount money.Amount, why Reason) (money.Amount, Reason) {
	held := func(code ReasonCode, limit money.Amount) (money.Amount, Reason) {
		h := Reason{Code: code, Amount: limit}
		if why.Code != "" {
			h.Parts = []Reason{why}
		}
		return limit, h
	}
	switch {
	case r.Most != nil && amount > *r.Most:
		return held(whyMost, *r.Most)
	case r.Least != nil && amount < *r.Least:
		return held(whyLeast, *r.Least)
	}
	return amount, why
}
