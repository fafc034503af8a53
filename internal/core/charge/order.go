package charge

import (
	"slices"
	"strconv"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// Terms are the seller's rules for whole orders.
type Terms struct {
	Charges []OrderCharge `json:"charges,omitempty"`
	Tip     *Tip          `json:"tip,omitempty"`
	// Business says that customers can order as a business.
	Business bool `json:"business,omitempty"`
	// Reverse says that a business of another country with a tax id owes the
	// tax itself (Directive 2006/112/EC, Articles 44 and 196).
	Reverse bool `json:"reverse,omitempty"`
	// RoundTo is what totals are rounded to a multiple of, in minor units, as cash
	// has no smaller coin; 0 and 1 round nothing.
	RoundTo money.Amount `json:"round_to,omitempty"`
	// Cancelling holds for products that have no rules of their own, and for what
	// belongs to a whole order.
	Cancelling *Cancelling `json:"cancelling,omitempty"`
}

// Amounts names the amounts of money in the terms, which are in a currency, in
// the words of a language.
func (t Terms) Amounts(c money.Currency, l words.Language) []string {
	list := []string{}
	name := func(label string, amounts ...money.Amount) {
		for _, a := range amounts {
			if a != 0 {
				list = append(list, label+" "+l.Money(a, c))
			}
		}
	}
	for _, ch := range t.Charges {
		if ch.Amount != nil {
			name(ch.Label, *ch.Amount)
		}
		name(ch.Label, ch.AtLeast, ch.Below)
	}
	if t.Tip != nil {
		name(t.Tip.Label, append([]money.Amount{t.Tip.Least, t.Tip.Most}, t.Tip.Suggestions...)...)
	}
	name(l.Fill("slip.rounding"), t.RoundTo)
	for _, a := range t.Cancelling.Amounts() {
		list = append(list, l.Fill("cancel.amount", "amount", l.Money(*a, c)))
	}
	return list
}

// An OrderCharge is a charge of the whole order, such as for handling.
type OrderCharge struct {
	Label  string `json:"label"`
	Effect Effect `json:"effect"`
	Portion
	Tax     decimal.Decimal `json:"tax" need:"always"`  // per cent
	AtLeast money.Amount    `json:"at_least,omitempty"` // only when the lines come to this
	Below   money.Amount    `json:"below,omitempty"`    // only when the lines come to less
}

// A Tip is an amount that customers can set at checkout.
type Tip struct {
	Label       string          `json:"label"`
	Least       money.Amount    `json:"least,omitempty"`
	Most        money.Amount    `json:"most,omitempty"` // 0 is no limit
	Suggestions []money.Amount  `json:"suggestions,omitempty"`
	Tax         decimal.Decimal `json:"tax" need:"always"` // per cent
}

// Refused gives the code of what stands against a tip; empty when nothing does.
func (t *Tip) Refused(a money.Amount) string {
	switch {
	case a == 0:
		return ""
	case t == nil:
		return "unknown"
	case a < t.Least:
		return "tip_least"
	case a > money.Largest || t.Most > 0 && a > t.Most:
		return "tip_most"
	}
	return ""
}

// Validate says what is wrong with the terms.
func (t Terms) Validate() error {
	if len(t.Charges) > 50 {
		return words.Tell("charge.there_can_50_charges_order")
	}
	for i, c := range t.Charges {
		switch n := strconv.Itoa(i + 1); {
		case c.Label == "" || len(c.Label) > 200:
			return words.Tell("charge.order_charge_needs_words_slip", "n", n)
		case c.Effect != Adds && c.Effect != TakesOff:
			return words.Tell("charge.order_charge_must_add_take", "n", n)
		case !c.decided():
			return words.Tell("charge.order_charge_needs_either_amount", "n", n)
		case !c.within():
			return words.Tell("charge.order_charge_must_not_below", "n", n)
		case !percentIn(c.Tax, 100):
			return words.Tell("charge.tax_order_charge_must_lie", "n", n)
		case c.AtLeast < 0 || c.Below < 0 || c.Below > 0 && c.Below <= c.AtLeast:
			return words.Tell("charge.order_charge_needs_orders_least", "n", n)
		}
	}
	if tip := t.Tip; tip != nil {
		switch {
		case tip.Label == "" || len(tip.Label) > 200:
			return words.Tell("charge.tip_needs_words_slip")
		case tip.Least < 0 || tip.Most < 0 || tip.Most > 0 && tip.Most < tip.Least || tip.Most > money.Largest || tip.Least > money.Largest:
			return words.Tell("charge.tips_least_must_not_below")
		case !percentIn(tip.Tax, 100):
			return words.Tell("charge.tax_tip_must_lie_between")
		case len(tip.Suggestions) > 6:
			return words.Tell("charge.there_can_6_suggestions_tip")
		}
		for _, s := range tip.Suggestions {
			if tip.Refused(s) != "" || s <= 0 {
				return words.Tell("charge.suggested_tip_lies_outside_least")
			}
		}
	}
	if t.RoundTo < 0 || t.RoundTo > mostRound {
		return words.Tell("charge.round_to_between")
	}
	return t.Cancelling.Validate()
}

// An OrderLine is what the order needs of the slip of one of its lines.
type OrderLine struct {
	Slip     Slip
	Product  int64
	Tax      TaxRule
	Plan     *Parts
	Quantity int
	Booked   calendar.Day // zero when nothing is booked
	Of       int          // the line that this one is an add-on of, from 1; 0 for none
	Bundle   *Bundle      // what its add-ons cost together; nil for no price of their own
}

// discountable is what coupons can take something off.
func (o *OrderLine) discountable() money.Amount {
	var sum money.Amount
	for _, l := range o.Slip.Lines {
		if l.discountable() {
			sum += l.Amount
		}
	}
	return max(sum, 0)
}

func (l *Line) discountable() bool {
	return l.Part == PartBase || l.Part == PartExtra || l.Part == PartLimit
}

// An Order is what the slip of a whole order is made from.
type Order struct {
	Terms    Terms
	Currency money.Currency // when there is no line
	Rounding money.Rounding
	Day      calendar.Day
	Lines    []OrderLine
	Coupons  []Coupon
	Vouchers []Purse
	Tip      money.Amount
	// Reversed says that the buyer owes the tax.
	Reversed bool
}

// Make computes the slip of a whole order (computation.md, The slip): the
// lines, order charges, coupons, tip, taxes by rate, total, what is held and
// what is due when. Neither the total nor any part of it lies below zero.
func (o *Order) Make() Slip { return o.make().slip }

// A Share is what one line has of an order's total, once coupons are off and
// taxes on: with its tax, and without.
type Share struct{ Gross, Net money.Amount }

// Shares gives each line's share of the order.
func (o *Order) Shares() []Share { return o.make().shares() }

// totalling is the slip of an order in the making.
type totalling struct {
	*Order
	slip    Slip
	whole   buckets      // of what belongs to the whole order
	buckets buckets      // of all
	each    []lineTotal  // of what belongs to a line
	room    money.Amount // that can still be taken off the whole
	cuts    []cut

	contained money.Amount // tax in prices, which the buyer owes instead
	rounded   money.Amount // of the total, to what can be paid in cash
}

// A lineTotal is what a line comes to within the order.
type lineTotal struct {
	left  money.Amount // that can still be discounted
	sum   money.Amount // coupons taken off
	parts []taxed      // of it, by rate
}

// tax gives all tax of a line, in its sum or added to it.
func (l *lineTotal) tax() money.Amount {
	var sum money.Amount
	for _, p := range l.parts {
		sum += p.tax
	}
	return sum
}

// A cut is what was taken off the order by one line of its slip.
type cut struct {
	line int            // of the slip
	tax  TaxRule        // of a charge of the order
	of   []money.Amount // of a coupon, off each line
}

func (o *Order) make() *totalling {
	m := &totalling{Order: o, slip: Slip{Currency: o.Currency, Lines: []Line{}}}
	m.each = make([]lineTotal, len(o.Lines))
	m.lines()
	m.bundles()
	m.charges()
	m.coupons()
	if o.Tip > 0 && o.Terms.Tip != nil {
		m.slip.Lines = append(m.slip.Lines, Line{Part: PartTip, Label: o.Terms.Tip.Label, Reasons: []Reason{{Code: whyDecided}}, Amount: o.Tip})
		m.whole.add(o.taxRule(o.Terms.Tip.Tax), o.Tip)
	}
	for m.tax(); m.slip.Total < 0 && m.giveBack(-m.slip.Total); m.tax() {
	}
	if m.contained != 0 {
		m.slip.Lines = append(m.slip.Lines, Line{Part: PartReverse, Amount: -m.contained})
	}
	m.round()
	m.due()
	m.vouchers()
	return m
}

// tax taxes what there is and totals it.
func (m *totalling) tax() {
	m.buckets = slices.Clone(m.whole)
	for i := range m.Lines {
		m.each[i].parts = m.byRate(i)
		for _, p := range m.each[i].parts {
			m.buckets.add(p.TaxRule, p.sum)
		}
	}
	m.shareTaxes()
	m.slip.Total = 0
	if m.Reversed {
		m.reverse()
	}
	m.slip.Taxes = m.buckets.taxes(m.Rounding)
	for _, t := range m.slip.Taxes {
		m.slip.Total += t.Gross
	}
}

// byRate splits what a line comes to by how it is taxed. What coupons took off
// is split by what of each rate can be discounted.
func (m *totalling) byRate(i int) []taxed {
	line := &m.Lines[i]
	parts, weights := byRate(line.Slip.Lines, line.Tax)
	var sum money.Amount
	for _, p := range parts {
		sum += p.sum
	}
	if off := sum - m.each[i].sum; off != 0 {
		for k, part := range money.Split(off, weights) {
			parts[k].sum -= part
		}
	}
	level(parts)
	return parts
}

// giveBack takes off less, the last cut first, when tax is added at several
// rates and what is taken off would take more tax with it than the lines have.
func (m *totalling) giveBack(n money.Amount) bool {
	for i := len(m.cuts) - 1; i >= 0; i-- {
		c := &m.cuts[i]
		line := &m.slip.Lines[c.line]
		d := min(n, -line.Amount)
		if d <= 0 {
			continue
		}
		line.Amount, line.Reasons = line.Amount+d, []Reason{{Code: whyFloor}}
		if c.of == nil {
			m.whole.add(c.tax, d)
			return true
		}
		for k := range c.of {
			back := min(c.of[k], d)
			c.of[k] -= back
			m.each[k].sum += back
			d -= back
		}
		return true
	}
	return false
}

// lines takes over the lines of the order.
func (m *totalling) lines() {
	for i := range m.Lines {
		line := &m.Lines[i]
		m.slip.Currency = line.Slip.Currency
		m.each[i].left = line.discountable()
		m.room += m.each[i].left
		for _, l := range line.Slip.Lines {
			if m.form(i) && l.Amount == 0 {
				continue
			}
			l.Of = i + 1
			m.slip.Lines = append(m.slip.Lines, l)
			m.each[i].sum += l.Amount
		}
		for _, s := range line.Slip.Stated {
			s.Of = i + 1
			m.slip.Stated = append(m.slip.Stated, s)
		}
		m.slip.Held += line.Slip.Held
	}
	if len(m.Lines) == 1 {
		m.slip.Extras = m.Lines[0].Slip.Extras
	}
}

// coupons takes off what coupons do, no more in all than is left to pay of what
// can be discounted.
func (m *totalling) coupons() {
	for i := range m.Coupons {
		c := &m.Coupons[i]
		var off money.Amount
		shares := c.shares(m.Lines, m.each, m.room, m.Rounding)
		for k, s := range shares {
			m.each[k].left -= s
			m.each[k].sum -= s
			off += s
		}
		m.room -= off
		m.cuts = append(m.cuts, cut{line: len(m.slip.Lines), of: shares})
		m.slip.Lines = append(m.slip.Lines, Line{
			Part: PartCoupon, Code: c.Code, Label: c.Label, Reasons: []Reason{{Code: whyCoupon, Text: c.Code, Percent: c.Percent}}, Amount: -off,
		})
	}
}

// form says whether a line is nothing but the form that others were ordered
// with: it costs nothing itself.
func (o *Order) form(i int) bool {
	lines := o.Lines[i].Slip.Lines
	if len(lines) != 1 || lines[0].Amount != 0 {
		return false
	}
	for _, other := range o.Lines {
		if other.Of == i+1 {
			return true
		}
	}
	return false
}

// taxRule is how something of the whole order is taxed: added when the lines
// have it added.
func (o *Order) taxRule(percent decimal.Decimal) TaxRule {
	return TaxRule{Percent: percent, Added: len(o.Lines) > 0 && o.Lines[0].Tax.Added}
}

// charges adds the charges of the order. What is asked for free stays free.
// What customers give of their own will is no part of any percentage, and
// nothing is taken off it.
func (m *totalling) charges() {
	var goods money.Amount
	for _, line := range m.each {
		goods += line.sum
	}
	if goods == 0 {
		return
	}
	priced := m.room
	for _, c := range m.Terms.Charges {
		if goods < c.AtLeast || c.Below > 0 && goods >= c.Below {
			continue
		}
		line := Line{Part: PartOrder, Label: c.Label, Amount: c.of(priced, m.Rounding)}
		if c.Percent != nil {
			line.because(Reason{Code: whyPercent, Percent: c.Percent, Of: priced.Fine()})
		}
		tax := m.taxRule(c.Tax)
		if c.Effect == TakesOff {
			if line.Amount > m.room {
				line.Amount, line.Reasons = m.room, []Reason{{Code: whyFloor}}
			}
			line.Amount = -line.Amount
		}
		if line.Amount == 0 {
			continue
		}
		if line.Amount < 0 {
			m.cuts = append(m.cuts, cut{line: len(m.slip.Lines), tax: tax})
		}
		m.room += line.Amount
		m.slip.Lines = append(m.slip.Lines, line)
		m.whole.add(tax, line.Amount)
	}
}

// shareTaxes gives each line its share of the tax of its rate; what belongs to
// the whole order has the rest.
func (m *totalling) shareTaxes() {
	for _, b := range m.buckets {
		var of []*taxed
		w := make([]int64, 0, len(m.Lines)+1)
		rest := b.sum
		for i := range m.each {
			for k := range m.each[i].parts {
				if p := &m.each[i].parts[k]; p.same(b.TaxRule) {
					of, w = append(of, p), append(w, int64(max(p.sum, 0)))
					rest -= p.sum
				}
			}
		}
		w = append(w, int64(max(rest, 0)))
		for i, s := range money.Split(b.tax(m.Rounding).Amount, w)[:len(of)] {
			of[i].tax = s
		}
	}
}

// reverse takes the tax out of everything: the buyer owes it.
func (m *totalling) reverse() {
	m.contained = 0
	reversed := buckets{}
	for _, b := range m.buckets {
		t := b.tax(m.Rounding)
		if !b.Added {
			m.contained += t.Amount
		}
		if b.Exempt != "" || b.Percent.IsZero() {
			reversed.add(b.TaxRule, t.Net)
			continue
		}
		reversed.add(TaxRule{Added: b.Added, Reversed: true}, t.Net)
	}
	m.buckets = reversed
}

// shares gives what each line has of the total, with its tax and without: a
// buyer who owes the tax pays none.
func (m *totalling) shares() []Share {
	list := make([]Share, len(m.Lines))
	for i, line := range m.each {
		list[i] = Share{line.sum, line.sum}
		switch added := m.Lines[i].Tax.Added; {
		case !added:
			if list[i].Net -= line.tax(); m.Reversed {
				list[i].Gross = list[i].Net
			}
		case !m.Reversed:
			list[i].Gross += line.tax()
		}
	}
	return list
}

// gross gives what a part of a line comes to with the tax that the buyer pays.
func (m *totalling) gross(p taxed) money.Amount {
	switch {
	case p.Added && !m.Reversed:
		return p.sum + p.tax
	case !p.Added && m.Reversed:
		return p.sum - p.tax
	}
	return p.sum
}

// due splits the total in time: each line with its share of the tax that is
// added follows its own plan, and what belongs to the whole order is due now.
func (m *totalling) due() {
	planned := false
	for i := range m.Lines {
		planned = planned || m.Lines[i].Plan != nil
	}
	if !planned {
		return
	}
	shares := make([]share, len(m.Lines))
	for i, of := range m.shares() {
		line := &m.Lines[i]
		shares[i] = share{line.Plan, of.Gross, line.Quantity, line.Booked, line.Slip.Down}
	}
	var none *Parts
	none.due(&m.slip, shares, m.Day, m.Rounding)
}
