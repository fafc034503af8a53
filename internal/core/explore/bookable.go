package explore

import (
	"slices"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
)

// Bookable finds what is wrong with a booking rule in the business as it is: it
// needs what is gone, it leaves nothing to book up to its horizon, or two of its
// seasons claim the same days. The query is for all days up to the horizon.
func Bookable(e *product.Edition, q booking.Query) []product.Finding {
	r := e.Booking
	if r == nil {
		return nil
	}
	var list []product.Finding
	say := func(wrong bool, code string, pairs ...any) {
		list = append(list, product.Find(wrong, product.InBooking, "", words.Tell("finding."+code, pairs...)))
	}
	for _, n := range r.Needs {
		if slices.ContainsFunc(n.Of, func(id booking.ResourceID) bool { _, there := q.Resources[id]; return !there }) {
			say(true, "need_gone", "name", n.Name)
		}
	}
	if one, other, day, found := r.Rivals(q.From); found {
		say(false, "seasons_rival", "one", one, "other", other, "day", words.Spoken(func(l words.Language) string { return l.Day(day) }))
	}
	q.Taken = nil
	for _, c := range r.Courses {
		for _, m := range c.Meetings {
			if m.Day.Before(q.From) || q.Off == nil {
				continue
			}
			if reason, off := q.Off(m.Day); off {
				say(false, "course_meets_off", "name", c.Name, "reason", reason, "day", words.Spoken(func(l words.Language) string { return l.Day(m.Day) }))
			}
		}
	}
	any := len(r.Openings(q)) > 0 || slices.ContainsFunc(r.Runs(q), func(x booking.Run) bool { return x.Why == nil }) || slices.ContainsFunc(r.Arrivals(q), func(d booking.StayDay) bool { return d.Why == nil })
	if !any && len(list) == 0 {
		say(false, "booking_rule_leaves_no_opening")
	}
	return list
}
