package schedule

import (
	"slices"
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
)

// Hours gives the time that a person has for work from an instant on, for so many
// days: their own week, or that of the business where they have none, without the
// days off of both and without what is taken, such as bookings.
func Hours(r *booking.Resource, business *calendar.Hours, taken []Span, from time.Time, days int) []Span {
	week := business.Week
	if r.Week != nil {
		week = *r.Week
	}
	own := calendar.Hours{Week: week, Closures: slices.Concat(business.Closures, r.Closures), Holidays: business.Holidays, Zone: business.Zone}
	slices.SortFunc(taken, func(a, b Span) int { return int(a.From - b.From) })
	var free []Span
	day := calendar.DayOf(from.In(business.Zone))
	next := 0 // of what is taken
	for range days {
		spans := own.Spans(day)
		if instead, any := calendar.Instead(r.Exceptions, day); any {
			spans = instead
		}
		for _, s := range spans {
			open := Span{At(day.At(s.From, business.Zone)), At(day.At(s.To, business.Zone))}
			for next < len(taken) && taken[next].To <= open.From {
				next++
			}
			for i := next; i < len(taken) && taken[i].From < open.To; i++ {
				if taken[i].From > open.From {
					free = append(free, Span{open.From, taken[i].From})
				}
				open.From = max(open.From, taken[i].To)
			}
			if open.From < open.To {
				free = append(free, open)
			}
		}
		day = day.Add(1)
	}
	return slices.DeleteFunc(free, func(s Span) bool { return s.To <= At(from) })
}
