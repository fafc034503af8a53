package booking

import (
	"slices"
	"strconv"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// An Opening is a time that can be booked, with what is left of it.
type Opening struct {
	Start time.Time
	End   time.Time
	Left  int // people that there is room for in one booking
	Free  int // bookings that can be made, where each has its time for itself
}

// Openings lists the openings of the days asked for, in order, the sold-out
// ones too. A wall-clock start that the zone's clock skips is not offered, one
// that comes twice is offered once. Notice and horizon are counted from Now.
// There are none of stays.
func (r *Rule) Openings(q Query) []Opening {
	if r.By != ByTime {
		return nil
	}
	return r.hold(&q).openings()
}

func (h *held) openings() []Opening {
	r, q := h.rule, h.q
	to := q.To
	if last := r.Farthest(q); to.After(last) {
		to = last
	}
	var openings []Opening
	for d := q.From; !d.After(to); d = d.Add(1) {
		on := h.on(d)
		if on.shut || on.off || h.seasonal && d.After(on.rule.last(q)) {
			continue
		}
		first := q.Now.Add(time.Duration(on.notice) * time.Hour)
		length := on.rule.length(&q.Wish)
		for _, s := range on.spans {
			end := d.At(s.To, q.Zone)
			for m := s.From; m < s.To; m += on.rule.Grid {
				o := Opening{Start: d.At(m, q.Zone)}
				o.End = o.Start.Add(time.Duration(length) * time.Minute)
				if o.Start.Hour()*60+o.Start.Minute() != m || o.End.After(end) || o.Start.Before(first) {
					continue
				}
				if slices.ContainsFunc(on.gaps, func(c calendar.Closure) bool { return c.Covers(o.Start, o.End, q.Zone) }) || h.nobody(&o) {
					continue
				}
				h.count(&o)
				openings = append(openings, o)
			}
		}
	}
	return openings
}

// last gives the last day on which something may begin.
func (r *Rule) last(q *Query) calendar.Day {
	last := calendar.DayOf(q.Now.In(q.Zone)).Add(r.Horizon)
	if r.Until != nil && r.Until.Before(last) {
		return *r.Until
	}
	return last
}

// Farthest gives the last day on which something may begin in any season.
func (r *Rule) Farthest(q *Query) calendar.Day {
	all := *r
	for i := range r.Seasons {
		all.Horizon = max(all.Horizon, r.Seasons[i].Horizon)
	}
	return all.last(q)
}

func minutes(n int) time.Duration { return time.Duration(n) * time.Minute }

// around gives the stretch of an opening, or of a stay, by the rule for when it begins.
func (h *held) around(start, end time.Time) *stretch { return h.at(start).around(start, end) }

// around gives the stretch of an opening.
func (r *Rule) around(start, end time.Time) *stretch {
	return &stretch{start, end, start.Add(-minutes(r.Before)), end.Add(minutes(r.After))}
}

// nobody says whether a kind of resource is never there at that time, whatever is
// booked: then it is no opening at all.
func (h *held) nobody(o *Opening) bool {
	for i := range h.rule.Needs {
		there := slices.ContainsFunc(h.rule.candidates(h.q, i), func(id ResourceID) bool {
			res, known := h.q.Resources[id]
			if !known {
				return false
			}
			_, open := res.open(o.Start, o.End, true, h.q.Zone)
			return open
		})
		if !there {
			return true
		}
	}
	return false
}

// count says what is left of an opening.
func (h *held) count(o *Opening) {
	r := h.at(o.Start)
	kept, _ := h.keeps(o.Start, o.End)
	defer func() { o.Left -= min(kept, max(o.Left, 0)) }()
	if !r.exclusive() {
		o.Left = r.Places - h.people.most(o.Start, o.End)
		return
	}
	if g, shared := h.groups[timesOf(o.Start, o.End)]; shared && !r.Alone() {
		o.Left = r.Places - g.people
		return
	}
	if o.Free = h.units(h.around(o.Start, o.End)); o.Free > 0 {
		o.Left = r.Places
		if r.Alone() {
			o.Left = r.most()
		}
	}
}

// Left gives how many people there is room for in the opening that begins at an
// instant; 0 when there is none.
func (r *Rule) Left(start time.Time, q Query) int {
	q.From = calendar.DayOf(start.In(q.Zone))
	q.To = q.From
	for _, o := range r.Openings(q) {
		if o.Start.Equal(start) {
			return max(o.Left, 0)
		}
	}
	return 0
}

// Ends gives when a booking ends: as it says, or after the rule's length.
func (r *Rule) Ends(b question.Booking) time.Time {
	if b.End.IsZero() {
		return b.Start.Add(time.Duration(r.Length) * time.Minute)
	}
	return b.End
}

// A Place is what a booking takes.
type Place struct {
	Start, End time.Time // what is booked
	From, To   time.Time // what nothing else may have
	With       []ResourceID
}

// number writes a number for a text.
func number(n int) string { return strconv.Itoa(n) }

// Check says what stands against a booking: a number of people that the rule
// does not take, a time that is not offered, or too few places left.
func (r *Rule) Check(b question.Booking, q Query, l words.Language) *question.Fault {
	_, f := r.Take(b, q, l)
	return f
}

// Take gives what a booking takes, one place for each meeting of a course, else one,
// or says what stands against it.
func (r *Rule) Take(b question.Booking, q Query, l words.Language) ([]Place, *question.Fault) {
	own := r.during(r.SeasonOn(calendar.DayOf(b.Start.In(q.Zone))))
	if b.People < own.least() {
		return nil, &question.Fault{Code: "people_least", Params: words.Params{"least": number(own.least())}}
	}
	if b.People > own.most() {
		return nil, &question.Fault{Code: "people_most", Params: words.Params{"most": number(own.most())}}
	}
	q.Wish.With = append(slices.Clone(b.With), q.Wish.Prefer...)
	for _, id := range b.With {
		if !slices.ContainsFunc(r.Needs, func(n Need) bool { return n.Choose && slices.Contains(n.Of, id) }) {
			return nil, &question.Fault{Code: "resource_gone"}
		}
	}
	switch {
	case (r.By == ByCourse) != (len(b.Meetings) > 0):
		return nil, &question.Fault{Code: "opening_gone"}
	case r.By == ByCourse:
		return r.takeCourse(b, q, l)
	case r.By != ByTime:
		return r.takeStay(b, q, l)
	}
	minutes := int(r.Ends(b).Sub(b.Start) / time.Minute)
	if !r.varies() && minutes != own.Length || r.varies() && !r.offers(minutes, &q.Wish) {
		return nil, &question.Fault{Code: "length_gone"}
	}
	q.Wish.Length = minutes
	q.From = calendar.DayOf(b.Start.In(q.Zone))
	q.To = q.From
	h := r.hold(&q)
	for _, o := range h.openings() {
		if !o.Start.Equal(b.Start) {
			continue
		}
		switch {
		case o.Left >= b.People:
			return h.take(h.around(o.Start, o.End))
		case o.Left <= 0:
			return nil, &question.Fault{Code: "opening_sold_out"}
		}
		return nil, &question.Fault{Code: "opening_full", Params: words.Params{"left": number(o.Left)}}
	}
	return nil, &question.Fault{Code: "opening_gone"}
}

// take gives what a booking of a stretch takes; those who share an opening share
// what it has.
func (h *held) take(s *stretch) ([]Place, *question.Fault) {
	p := Place{Start: s.start, End: s.end, From: s.from, To: s.to}
	if g, shared := h.groups[timesOf(s.start, s.end)]; shared && !h.rule.Alone() {
		p.With = g.with
		return []Place{p}, nil
	}
	if !h.rule.exclusive() || len(h.rule.Needs) == 0 {
		return []Place{p}, nil
	}
	with, ok := h.assign(s)
	if !ok {
		return nil, &question.Fault{Code: "opening_sold_out"}
	}
	p.With = with
	return []Place{p}, nil
}
