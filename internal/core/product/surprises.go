package product

import (
	"fmt"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// surprises finds what makes a price that a seller would not expect: what never
// counts, and what counts nothing.
func (c *check) surprises() {
	e := c.edition
	c.others(InProduct, "prices", e.Price.Fine(), e.Prices)
	sets := false
	for i := range e.Pricing.Charges {
		r := &e.Pricing.Charges[i]
		key := fmt.Sprint(r.Draft + 1)
		if r.Rate.Amount != nil {
			c.others(InCharge, key, *r.Rate.Amount, r.Prices)
		}
		if item, ok := e.Item(r.On); ok && item.Off {
			c.warn(InCharge, key, "finding.charge_off", "name", r.Name(), "wording", item.Wording)
		}
		if r.Effect != charge.Sets {
			continue
		}
		sets = true
		if len(e.Bands) > 0 {
			c.warn(InCharge, key, "finding.bands_beside_sets", "name", r.Name())
		}
		if d := r.Rate.Difference; d != nil && e.Price+*d < 0 {
			c.warn(InCharge, key, "finding.sets_below_zero", "name", r.Name(), "amount", amount(e.Draft, e.Price+*d), "answers", c.leading(r))
		}
	}
	if e.Price != 0 || sets || len(e.Bands) > 0 || len(e.Prices) > 0 {
		return
	}
	for i := range e.Pricing.Charges {
		if r := &e.Pricing.Charges[i]; r.Rate.OfBase {
			c.refuse(InCharge, fmt.Sprint(r.Draft+1), "finding.base_is_nothing", "name", r.Name())
		}
	}
}

// leading says which answers lead to a charge.
func (c *check) leading(r *charge.Compiled) string {
	item, ok := c.edition.Item(r.On)
	switch {
	case !ok:
		return r.Name()
	case r.Choice != "":
		return item.Wording + " · " + r.Wording
	}
	return item.Wording
}

// others looks at other prices beside the usual one.
func (c *check) others(part Part, key string, list money.Fine, prices []charge.Special) {
	e := c.edition
	_, span := e.span()
	for i := range prices {
		s := &prices[i]
		if s.Amount != nil && !s.Dearer && list > 0 && s.Amount.Fine() > list {
			c.warn(part, key, "finding.other_price_above", "n", i+1, "amount", amount(e.Draft, *s.Amount), "list", words.Spoken(func(l words.Language) string {
				return l.Fine(list, e.Currency)
			}))
		}
		_, booked := e.BookingKey()
		if (s.Hours != nil || s.Left > 0) && !booked || s.Books() && !booked && !span {
			c.refuse(part, key, "finding.booked_price", "n", i+1)
		}
	}
}

// Required questions that say how many of a measure there are leave none open;
// Open tells which question does not.
func (e *Edition) Open() (*Item, bool) {
	k, ok := e.measures[e.Measure]
	if !ok {
		return nil, false
	}
	item, _ := e.Item(k)
	if !item.Required || item.Later || item.Test != nil || item.Section != "" || item.Off {
		return item, true
	}
	spec, ok := item.Spec.(question.Sampled)
	if !ok {
		return nil, false
	}
	values, _ := spec.Samples(nil)
	for _, v := range values {
		if e.Measured(e.Measure, question.Answers{k: v}) <= 0 && item.Spec.Class() != question.ClassBooking {
			return item, true
		}
	}
	return nil, false
}
