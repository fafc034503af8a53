package charge

import (
	"errors"
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
}

// An OrderCharge is a charge of the whole order, such as for handling.
type OrderCharge struct {
	Label   string           `json:"label"`
	Effect  Effect           `json:"effect"`
	Amount  *money.Amount    `json:"amount,omitempty"`
	Percent *decimal.Decimal `json:"percent,omitempty"`
	Tax     decimal.Decimal  `json:"tax"`                // per cent
	AtLeast money.Amount     `json:"at_least,omitempty"` // only when the lines come to this
	Below   money.Amount     `json:"below,omitempty"`    // only when the lines come to less
}

// A Tip is an amount that customers can set at checkout.
type Tip struct {
	Label       string          `json:"label"`
	Least       money.Amount    `json:"least,omitempty"`
	Most        money.Amount    `json:"most,omitempty"` // 0 is no limit
	Suggestions []money.Amount  `json:"suggestions,omitempty"`
	Tax         decimal.Decimal `json:"tax"` // per cent
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
		return errors.New("there can be 50 charges of the order")
	}
	for i, c := range t.Charges {
		switch n := strconv.Itoa(i + 1); {
		case c.Label == "" || len(c.Label) > 200:
			return errors.New("order charge " + n + " needs words for the slip")
		case c.Effect != Adds && c.Effect != TakesOff:
			return errors.New("order charge " + n + " must add or take off")
		case (c.Amount == nil) == (c.Percent == nil):
			return errors.New("order charge " + n + " needs either an amount or per cent")
		case !amountIn(c.Amount), c.Percent != nil && !percentIn(*c.Percent, 100):
			return errors.New("order charge " + n + " must not be below zero or above 100 per cent")
		case !percentIn(c.Tax, 100):
			return errors.New("the tax of order charge " + n + " must lie between 0 and 100 per cent")
		case c.AtLeast < 0 || c.Below < 0 || c.Below > 0 && c.Below <= c.AtLeast:
			return errors.New("order charge " + n + " needs the order's least below its limit")
		}
	}
	if tip := t.Tip; tip != nil {
		switch {
		case tip.Label == "" || len(tip.Label) > 200:
			return errors.New("the tip needs words for the slip")
		case tip.Least < 0 || tip.Most < 0 || tip.Most > 0 && tip.Most < tip.Least || tip.Most > money.Largest || tip.Least > money.Largest:
			return errors.New("the tip's least must not be below zero or above its most")
		case !percentIn(tip.Tax, 100):
			return errors.New("the tax of the tip must lie between 0 and 100 per cent")
		case len(tip.Suggestions) > 6:
			return errors.New("there can be 6 suggestions for a tip")
		}
		for _, s := range tip.Suggestions {
			if tip.Refused(s) != "" || s <= 0 {
				return errors.New("a suggested tip lies outside of its least and most")
			}
		}
	}
	return nil
}

// An OrderLine is what the order needs of the slip of one of its lines.
type OrderLine struct {
	Slip     Slip
	Product  int64
	Tax      TaxRule
	Plan     *Plan
	Quantity int
	Booked   calendar.Day // zero when nothing is booked
	Of       int          // the line that this one is an add-on of, from 1; 0 for none
}

// discountable is what coupons can take something off.
func (o *OrderLine) discountable() money.Amount {
	var sum money.Amount
	for _, l := range o.Slip.Lines {
		if l.Part == PartBase || l.Part == PartExtra {
			sum += l.Amount
		}
	}
	return max(sum, 0)
}

// An Order is what the slip of a whole order is made from.
type Order struct {
	Terms    Terms
	Currency money.Currency // when there is no line
	Rounding money.Rounding
	Language words.Language
	Day      calendar.Day
	Lines    []OrderLine
	Coupons  []Coupon
	Tip      money.Amount
	// Reversed says that the buyer owes the tax.
	Reversed bool
}

// Make computes the slip of a whole order (computation.md, The slip): the
// lines, order charges, coupons, tip, taxes by rate, total, what is held and
// what is due when.
func (o *Order) Make() Slip {
	slip := Slip{Currency: o.Currency, Lines: []Line{}}
	var all buckets
	left := make([]money.Amount, len(o.Lines))
	sums := make([]money.Amount, len(o.Lines))
	var goods money.Amount
	for i := range o.Lines {
		line := &o.Lines[i]
		slip.Currency = line.Slip.Currency
		left[i] = line.discountable()
		for _, l := range line.Slip.Lines {
			if o.form(i) && l.Amount == 0 {
				continue
			}
			l.Of = i + 1
			slip.Lines = append(slip.Lines, l)
			sums[i] += l.Amount
		}
		goods += sums[i]
		slip.Held += line.Slip.Held
	}
	if len(o.Lines) == 1 {
		slip.Extras = o.Lines[0].Slip.Extras
	}
	o.charges(&slip, goods, &all)
	for i := range o.Coupons {
		c := &o.Coupons[i]
		var off money.Amount
		for k, s := range c.shares(o.Lines, left, o.Rounding) {
			left[k] -= s
			sums[k] -= s
			off += s
		}
		label := c.Label
		if label == "" {
			label = o.Language.Fill("slip.coupon")
		}
		why := c.Code
		if c.Percent != nil {
			why = o.Language.Fill("slip.coupon_percent", "code", c.Code, "percent", o.Language.Number(*c.Percent))
		}
		slip.Lines = append(slip.Lines, Line{Part: PartCoupon, Code: c.Code, Label: label, Why: why, Amount: -off})
	}
	for i := range o.Lines {
		all.add(o.Lines[i].Tax, sums[i])
	}
	if o.Tip > 0 && o.Terms.Tip != nil {
		slip.Lines = append(slip.Lines, Line{Part: PartTip, Label: o.Terms.Tip.Label, Why: o.Language.Fill("slip.decided"), Amount: o.Tip})
		all.add(o.taxRule(o.Terms.Tip.Tax), o.Tip)
	}
	if o.Reversed {
		o.reverse(&slip, &all, sums)
	}
	slip.Taxes = all.taxes(o.Rounding)
	for _, t := range slip.Taxes {
		slip.Total += t.Gross
	}
	o.due(&slip, sums)
	return slip
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
func (o *Order) charges(slip *Slip, goods money.Amount, all *buckets) {
	if goods == 0 {
		return
	}
	l := o.Language
	left := goods
	for _, c := range o.Terms.Charges {
		if goods < c.AtLeast || c.Below > 0 && goods >= c.Below {
			continue
		}
		line := Line{Part: PartOrder, Label: c.Label}
		if c.Percent != nil {
			line.Amount = o.Rounding.Percent(goods, *c.Percent)
			line.Why = l.Fill("slip.percent", "percent", l.Number(*c.Percent), "of", l.Amount(goods, slip.Currency))
		} else {
			line.Amount = *c.Amount
		}
		if c.Effect == TakesOff {
			if line.Amount > left {
				line.Amount, line.Why = left, l.Fill("slip.floor")
			}
			line.Amount = -line.Amount
		}
		if line.Amount == 0 {
			continue
		}
		left += line.Amount
		slip.Lines = append(slip.Lines, line)
		all.add(o.taxRule(c.Tax), line.Amount)
	}
}

// reverse takes the tax out of everything: the buyer owes it.
func (o *Order) reverse(slip *Slip, all *buckets, sums []money.Amount) {
	var contained money.Amount
	reversed := buckets{}
	for _, b := range *all {
		t := b.tax(o.Rounding)
		if !b.Added {
			contained += t.Amount
		}
		if b.Exempt != "" || b.Percent.IsZero() {
			reversed.add(b.TaxRule, t.Net)
			continue
		}
		reversed.add(TaxRule{Added: b.Added, Exempt: o.Language.Fill("slip.reverse_reason")}, t.Net)
	}
	*all = reversed
	if contained == 0 {
		return
	}
	slip.Lines = append(slip.Lines, Line{Part: PartReverse, Label: o.Language.Fill("slip.reverse"), Amount: -contained})
	for i, s := range money.Split(contained, weights(sums)) {
		sums[i] -= s
	}
}

func weights(sums []money.Amount) []int64 {
	w := make([]int64, len(sums))
	for i, s := range sums {
		w[i] = int64(max(s, 0))
	}
	return w
}

// due splits the total in time: each line with its share of the tax that is
// added follows its own plan, and what belongs to the whole order is due now.
func (o *Order) due(slip *Slip, sums []money.Amount) {
	planned := false
	for i := range o.Lines {
		planned = planned || o.Lines[i].Plan != nil
	}
	if !planned {
		return
	}
	shares := make([]share, len(o.Lines))
	for i := range o.Lines {
		line := &o.Lines[i]
		shares[i] = share{line.Plan, sums[i], line.Quantity, line.Booked}
	}
	if !o.Reversed {
		for _, t := range slip.Taxes {
			if t.Added {
				o.addTax(t, sums, shares)
			}
		}
	}
	var none *Plan
	none.due(slip, shares, o.Day, o.Rounding, o.Language)
}

// addTax gives each line its share of a tax that is added to all of its rate.
func (o *Order) addTax(t Tax, sums []money.Amount, shares []share) {
	w := make([]int64, len(o.Lines)+1)
	rest := t.Net
	for i := range o.Lines {
		if r := o.Lines[i].Tax; r.Percent.Equal(t.Percent) && r.Exempt == t.Exempt {
			w[i] = int64(max(sums[i], 0))
			rest -= sums[i]
		}
	}
	w[len(o.Lines)] = int64(max(rest, 0)) // order charges and tip
	for i, s := range money.Split(t.Amount, w)[:len(o.Lines)] {
		shares[i].amount += s
	}
}
