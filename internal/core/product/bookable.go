package product

import (
	"fmt"
	"slices"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/question"
)

// booking looks whether what is booked fits the product.
func (c *check) booking() {
	e := c.edition
	asked := slices.ContainsFunc(e.Items, func(i Item) bool { return i.Spec.Class() == question.ClassBooking })
	switch {
	case e.Booking == nil && asked:
		c.wrong(InBooking, "", "finding.question_asks_booking_product_has")
	case e.Booking != nil && !asked:
		c.wrong(InBooking, "", "finding.product_has_booking_rule_no")
	}
	if e.Booking == nil {
		c.seasons()
		return
	}
	if err := e.Booking.Validate(); err != nil {
		c.wrong(InBooking, "", "finding.booking_rule_does_not_work", "why", err)
		e.Booking = nil
	}
	c.needs()
	c.seasons()
	n := 0
	for j := range e.Items {
		i := &e.Items[j]
		if i.Spec.Class() == question.ClassBooking {
			n++
			if e.Booking != nil && e.Booking.Stays != nil {
				i.Spec = question.Staying(i.Spec, e.Booking.By == booking.ByNight)
			}
			if i.Moment != question.Choosing {
				c.wrong(InQuestion, string(i.Key), "finding.must_asked_while_choosing_so", "wording", i.Wording)
			}
		}
	}
	if n > 1 {
		c.wrong(InBooking, "", "finding.product_can_ask_one_booking")
	}
	if e.Units() > 1 {
		c.wrong(InBooking, "", "finding.bookable_product_sold_one_at")
	}
}

// seasons looks whether the seasons are there that other prices are for.
func (c *check) seasons() {
	e := c.edition
	var names []string
	if e.Booking != nil {
		names = e.Booking.Names()
	}
	look := func(part Part, key string, list []charge.Special) {
		for _, s := range list {
			if s.Season != "" && !slices.Contains(names, s.Season) {
				c.wrong(part, key, "finding.special_season", "season", s.Season)
			}
		}
	}
	look(InProduct, "prices", e.Prices)
	for i := range e.Charges {
		look(InCharge, fmt.Sprint(i+1), e.Charges[i].Prices)
	}
}

// needs looks whether what a booking takes can be found by answers that are there
// in time.
func (c *check) needs() {
	e := c.edition
	if e.Booking == nil {
		return
	}
	c.valued("length_by", &e.Booking.LengthBy)
	if e.Booking.LengthBy != "" && c.readsHours(e.Booking.LengthBy) {
		c.wrong(InBooking, "", "finding.length_of_itself", "name", e.Booking.LengthBy)
		e.Booking.LengthBy = ""
	}
	for i := range e.Booking.Needs {
		n := &e.Booking.Needs[i]
		if n.By == "" {
			continue
		}
		item, ok := e.Item(n.By)
		if !ok || item.Moment != question.Choosing || item.Scope == question.OfUnit {
			c.wrong(InBooking, "", "finding.need_by_no_answer", "name", n.Name)
			continue
		}
		choices, ok := item.Spec.(question.Choosable)
		if !ok {
			c.wrong(InBooking, "", "finding.need_by_no_choice", "name", n.Name, "wording", item.Wording)
			continue
		}
		for code := range n.Codes {
			if !slices.ContainsFunc(choices.All(), func(ch question.Choice) bool { return ch.Code == code }) {
				c.wrong(InBooking, "", "finding.need_by_unknown_choice", "name", n.Name, "wording", item.Wording, "code", code)
			}
		}
	}
}

// readsHours says whether a named value reads how long the booking is.
func (c *check) readsHours(name string) bool {
	for _, v := range c.edition.Pricing.Values {
		if v.Name != name || v.Formula == nil {
			continue
		}
		for _, n := range v.Formula.Names() {
			if n == charge.NameHours || n != name && c.readsHours(n) {
				return true
			}
		}
	}
	return false
}
