package charge

import (
	"reflect"
	"slices"
	"sync"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/formula"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"

	"github.com/shopspring/decimal"
)

// A Slip is the computed price. The same input makes the same slip, byte for
// byte.
type Slip struct {
	Currency money.Currency `json:"currency"`
	Lines    []Line         `json:"lines"`
	// Stated are the named values that the price was computed with and that have a
	// name for the slip.
	Stated []Stated `json:"stated,omitempty"`
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
	// Left is how many places were left of what is booked, where a price hangs on
	// it.
	Left int `json:"left,omitempty"`
	// Vouchers are what vouchers pay of what is due now; they are no part of the
	// price.
	Vouchers []Use `json:"vouchers,omitempty"`
	// Beside is what is to be paid now beside them, on a slip that is shown.
	Beside *money.Amount `json:"to_pay,omitempty"`
	// Faults are why some of it could not be computed; what is sold has none.
	Faults []question.Fault `json:"-"`
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
	// Tax is the line's own rate, in per cent, where that is not the product's.
	Tax *decimal.Decimal `json:"tax,omitempty"`
	// Exempt is why no tax is taken of the line, where that is not the product's.
	Exempt string `json:"exempt,omitempty"`
}

// A Stated is a named value as it stands on the slip: "Area 2.5 m²".
type Stated struct {
	Label string          `json:"label"`
	Value decimal.Decimal `json:"value"`
	Unit  string          `json:"unit,omitempty"`
	Of    int             `json:"of,omitempty"`    // the order line, from 1, on the slip of an order
	Words string          `json:"words,omitempty"` // the value with its unit, on a slip that is shown
}

// A Part says what a line belongs to.
type Part string

const (
	PartBase    Part = ""        // the product's own price
	PartExtra   Part = "extra"   // a charge
	PartLimit   Part = "limit"   // what is missing to the least price, or beyond the most
	PartGiven   Part = "given"   // set by the customer; never discounted
	PartOrder   Part = "order"   // a charge of the whole order
	PartBundle  Part = "bundle"  // what products cost less together
	PartCoupon  Part = "coupon"  // what a coupon takes off
	PartVoucher Part = "voucher" // a voucher that is sold; never discounted
	PartTip     Part = "tip"     // given on top of the order
	PartReverse Part = "reverse" // tax that the buyer owes instead
	PartRound   Part = "round"   // what the total is rounded by
	PartRounds  Part = "rounds"  // of changes, beyond those that the price includes; never discounted
)

// A Pricing is what the lines of one product are made from.
type Pricing struct {
	Rules     Rules
	Title     string
	Price     money.Amount // of one unit
	Prices    []Special    // other prices of one unit
	Combine   Combine
	Bands     []Band               // other prices from a number on, of what the price is for
	Graduated bool                 // each part at the price of its own band
	Measure   Per                  // what the price is for one of; Once for the unit itself
	Measured  map[Per]question.Key // the questions that measures are known from
	Currency  money.Currency
	Rounding  money.Rounding
	Tax       TaxRule
	ShowZero  bool
	Values    []NamedValue
	Units     map[string]string // of names in formulas, for computations that are shown
	Charges   []Compiled        // in the order in which the slip is made
	Limits    Limits            // of the whole line
	Bundle    *Bundle           // of what is ordered with it
	Voucher   *Voucher          // what is sold pays here; nil for what does not
	ReadsLeft bool              // whether a price hangs on how many places are left
	Deposit   money.Amount      // held for each unit
	// Held is the named value that says how much is held for the whole line,
	// instead.
	Held string
	Plan *Parts
}

// A NamedValue is an intermediate value that formulas can read.
type NamedValue struct {
	Name      string
	Title     string // on the slip; empty when it stands in no row of its own
	Draft     int    // its place among the values of the draft
	Formula   *formula.Formula
	Otherwise *decimal.Decimal // where the formula has no result
}

// A Compiled is a charge with the question that it reads.
type Compiled struct {
	Charge
	Wording string // the label when there is no other
	Draft   int    // its place among the charges of the draft
	Priced  string // the label of the price that it sets
	Test    *condition.Test
	Entry   *condition.Test // of entries of a list
	Formula *formula.Formula
	From    string // the questions whose answers the formula reads
}

// Name gives the words that the slip has for it.
func (r *Compiled) Name() string {
	if r.Label != "" {
		return r.Label
	}
	return r.Wording
}

// An Input is what changes from order to order.
type Input struct {
	Answers  question.Answers // only what is asked
	Quantity int
	Day      calendar.Day // of the order
	Group    string       // of the customer
	Facts    Measured
	Known    condition.Facts
	Further  []Further
	// InSeason says whether a day lies in a season, or in a fixed stay; nil where
	// there are none.
	InSeason func(day calendar.Day, name string) bool

	lastKey  question.Key
	last     question.Value
	formerly bool // by the first rules
}

// Make computes the slip of one order line (computation.md, The slip).
// Every line is one exact product, rounded when it is made, and the total adds
// rounded lines.
func (p *Pricing) Make(in Input) Slip {
	m := makings.Get().(*making)
	m.start(p, in)
	m.slip.Lines = make([]Line, 0, 1+len(p.Charges)/2)
	m.base()
	for i := range p.Charges {
		r := &p.Charges[i]
		if r.Effect == Sets {
			continue
		}
		v, ok := r.counts(&m.Input)
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
	m.limit()
	m.further()
	m.state()
	if p.ReadsLeft {
		m.slip.Left = in.Facts.Left
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
	if m.slip.Total > money.Largest && len(m.slip.Faults) == 0 {
		m.beyond("", "price_beyond")
	}
	m.slip.Taxes = m.taxes()
	m.slip.Total = 0
	for _, t := range m.slip.Taxes {
		m.slip.Total += t.Gross
	}
	if p.Plan != nil {
		p.Plan.due(&m.slip, []share{{p.Plan, m.slip.Total, in.Quantity, in.Facts.First, m.slip.Down}}, in.Day, p.Rounding)
	}
	slip := m.slip
	*m = making{}
	makings.Put(m)
	return slip
}

// makings are those that are done, to be used again: one is as large as the slip
// that it makes, and most of the time of a price is making room.
var makings = sync.Pool{New: func() any { return new(making) }}

// taxes taxes the lines, each rate on the sum of its lines.
func (m *making) taxes() []Tax {
	if !m.taxed {
		return []Tax{bucket{TaxRule: m.Tax, sum: m.slip.Total}.tax(m.Rounding)}
	}
	all := buckets{}
	parts, _ := byRate(m.slip.Lines, m.Tax)
	level(parts)
	for _, p := range parts {
		all.add(p.TaxRule, p.sum)
	}
	return all.taxes(m.Rounding)
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
		case PartBase, PartVoucher:
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
	Input
	slip      Slip
	list      money.Product // the price of one unit that counts, before better prices
	baseSum   money.Amount
	baseLines int
	baseGiven bool         // the customer set the price
	given     money.Amount // set by the customer, so that nothing is taken off it
	from      string       // what the formula that sets the price reads
	computed  Reason       // and how it was computed
	taxed     bool         // whether a line has a rate of its own
	named     map[string]formula.Value
	basis     *basis // for who asks
}

// A basis is what the product's own price was made from.
type basis struct {
	parts   []stretch
	prices  []Special
	combine Combine
	units   int
}

func (p *Pricing) making(in Input) *making {
	m := &making{}
	m.start(p, in)
	return m
}

func (m *making) start(p *Pricing, in Input) {
	m.Pricing, m.Input = p, in
	m.slip.Currency, m.formerly = p.Currency, p.Rules == Rules1
}

func (m *making) add(l Line) {
	m.slip.Lines = append(m.slip.Lines, l)
	m.slip.Total += l.Amount
	m.taxed = m.taxed || l.Tax != nil || l.Exempt != ""
	if l.Part == PartGiven || l.Part == PartVoucher {
		m.given += max(l.Amount, 0)
	}
}

// step gives a product as it is on its way to a line. The first rules rounded
// it after each factor.
func (m *making) step(p money.Product) money.Product {
	if m.Rules == Rules1 {
		a, _ := m.Rounding.Product(p)
		return a.Exactly()
	}
	return p
}

// round makes the amount of a line. What lies beyond the range of amounts is a
// fault of the question that made it.
func (m *making) round(p money.Product, of question.Key) money.Amount {
	a, ok := m.Rounding.Product(p)
	if !ok && m.Rules != Rules1 {
		m.beyond(of, "price_beyond")
	}
	return a
}

// beyond says that something could not be computed; what hangs on no question
// is told at the number of units.
func (m *making) beyond(of question.Key, code string, pairs ...string) {
	if of == "" {
		of = question.QuantityKey
	}
	f := question.Fault{Key: of, Code: code, Params: words.Params{}}
	for i := 0; i+1 < len(pairs); i += 2 {
		f.Params[pairs[i]] = pairs[i+1]
	}
	for _, old := range m.slip.Faults {
		if old.Key == f.Key && old.Code == f.Code {
			return
		}
	}
	m.slip.Faults = append(m.slip.Faults, f)
}

// line makes the slip line of one charge on what the line costs so far.
func (m *making) line(r *Compiled, v question.Value) Line {
	line := Line{Part: PartExtra, Question: r.On, Choice: r.Choice, Label: r.Name(), Tax: r.Tax}
	if r.On == "" && r.Per != Once {
		line.Question = m.Measured[r.Per]
	}
	if r.Rate.Answered {
		line.Part = PartGiven
	}
	rate, why, special := m.rate(r, v)
	sum := rate.rate
	if r.Per == Once {
		if n := m.times(r, v); n != 1 {
			sum = sum.Times(money.Whole(n))
			if n > 1 {
				why = because(Reason{Code: whyEach, Count: money.Whole(n)}, rate.rate)
			}
		}
	} else {
		sum, why = m.counted(r, v, rate, why)
		if sum.IsZero() && why.Code == "" {
			return line
		}
	}
	sum, why = m.multiply(r, sum, why)
	if r.Most != nil { // beyond the range of amounts is beyond the most
		line.Amount, _ = m.Rounding.Product(sum)
	} else {
		line.Amount = m.round(sum, line.Question)
	}
	if line.Amount == 0 && r.Rate.Percent != nil {
		why = Reason{}
	}
	line.Amount, why = r.clamp(line.Amount, why)
	line.because(why)
	if len(special.of) > 0 {
		line.because(m.instead(special, r.Rate.Amount.Exactly()))
	}
	line.from(r.From)
	if r.Effect == TakesOff {
		line.Amount = -line.Amount
	}
	return line
}

// rate gives the amount for one of what is counted, and the reason for it.
func (m *making) rate(r *Compiled, v question.Value) (rate stretch, why Reason, special chosen) {
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
		rate.rate = m.step(of.Exactly().Percent(*r.Rate.Percent))
		return rate, Reason{Code: whyPercent, Percent: r.Rate.Percent, Of: of.Fine()}, special
	case r.Formula != nil:
		rate.rate, why = m.formula(r)
		if rate.rate.Cmp(nought) < 0 {
			rate.rate = nought
		}
		return rate, why, special
	case r.Rate.Answered:
		rate.rate = r.amount(v).Exactly()
		return rate, Reason{Code: whyDecided}, special
	}
	rate.rate, rate.fine = r.Rate.Amount.Exactly(), *r.Rate.Amount
	if len(r.Prices) > 0 {
		special = m.best(rate.rate, r.Prices, r.Combine, calendar.Day{})
		rate.rate = special.price
	}
	return rate, Reason{}, special
}

var nought = money.Amount(0).Exactly()

// amount gives what a customer set. It is shown before it is checked, so it is
// kept within the range of amounts here.
func (r *Compiled) amount(v question.Value) money.Amount {
	if a, ok := v.(question.Amount); ok {
		return min(max(money.Amount(a), 0), money.Largest)
	}
	return 0
}

// counted makes the amount of a charge that counts, and its reason.
func (m *making) counted(r *Compiled, v question.Value, rate stretch, share Reason) (sum money.Product, why Reason) {
	var room [4]stretch
	parts := room[:0]
	var counts [4]money.Count
	for _, n := range r.each(v, &m.Input, counts[:0]) {
		parts = stretches(n, r.Included, rate, r.Bands, r.Graduated, parts)
	}
	sum = nought
	for k, s := range parts {
		sum = sum.Plus(m.step(s.rate.Times(s.n)))
		one := because(Reason{Code: whyCounted, Count: s.n, Per: r.Per, Noun: r.Noun, Nouns: r.Nouns}, s.rate)
		switch {
		case k == 0 && r.Included > 0:
			one.Code, one.Included = whyAfter, r.Included
		case k == 0 && r.UpTo > 0:
			one.Code = whyFirst
		}
		if share.Code != "" {
			one.Amount, one.Parts = 0, []Reason{share}
		}
		why = why.and(one)
	}
	return sum, why
}

// multiply multiplies a charge by units and measures.
func (m *making) multiply(r *Compiled, sum money.Product, why Reason) (money.Product, Reason) {
	times := func(per Per, n money.Count) {
		if why.Code == "" {
			why = because(Reason{Code: whyAmount}, sum)
		}
		why = Reason{Code: whyTimes, Count: n, Per: per, Parts: []Reason{why}}
		sum = m.step(sum.Times(n))
	}
	if r.EachUnit && r.Rate.Percent == nil && r.Per != Unit && m.Quantity != 1 {
		times(Once, wholes(m.Quantity))
	}
	for _, t := range r.Times {
		times(t, m.measured(t))
	}
	return sum, why
}

// clamp holds a charge within its least and most.
func (r *Compiled) clamp(amount money.Amount, why Reason) (money.Amount, Reason) {
	held := func(code ReasonCode, limit money.Amount) (money.Amount, Reason) {
		h := Reason{Code: code, Amount: limit.Fine()}
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
