package booking

import (
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
)

// Force gives what a booking takes whatever stands against it, as a seller may:
// of each need one that was chosen, else one that is free, else the first. Of a
// course it is one place for each meeting.
func (r *Rule) Force(b question.Booking, q Query) []Place {
	q.Wish.With = append(slices.Clone(b.With), q.Wish.Prefer...)
	h := r.hold(&q)
	var list []Place
	for _, m := range b.Times(r.Ends(b)) {
		list = append(list, h.force(m.Start, m.End))
	}
	return list
}

func (h *held) force(start, end time.Time) Place {
	r, q := h.rule, h.q
	s := h.around(start, end)
	if r.Stays != nil {
		h.turn(s)
	}
	p := Place{Start: s.start, End: s.end, From: s.from, To: s.to}
	for i, n := range r.Needs {
		list := r.candidates(q, i)
		if len(list) == 0 {
			list = n.Of
		}
		free := slices.IndexFunc(list, func(id ResourceID) bool { return h.free(id, s) > 0 })
		p.With = append(p.With, list[max(free, 0)])
	}
	return p
}

// At gives a booking on other days or at another time, in wall-clock time: a time
// of some minutes, or a stay that ends on a last day.
func (r *Rule) At(first calendar.Day, minute, length int, last calendar.Day, q *Query) question.Booking {
	if r.Stays != nil {
		return question.Booking{Start: first.At(r.Stays.Arrive, q.Zone), End: last.At(r.Stays.Depart, q.Zone)}
	}
	s := first.At(minute, q.Zone)
	return question.Booking{Start: s, End: s.Add(minutes(length))}
}
