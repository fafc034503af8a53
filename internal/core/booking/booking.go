// Package booking makes openings, the times that can be booked, from a
// product's booking rule and the bookings that are there.
package booking

import (
	"cmp"
	"maps"
	"slices"
	"strconv"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Rule is what makes openings.
type Rule struct {
	Week        calendar.Week      `json:"week"`                   // when openings may lie
	Closures    []calendar.Closure `json:"closures,omitempty"`     // days off
	Length      int                `json:"length"`                 // minutes
	Grid        int                `json:"grid"`                   // minutes from one start to the next, counted from each span's beginning
	Places      int                `json:"places"`                 // people who can be there at once
	LeastPeople int                `json:"least_people,omitempty"` // per booking; 0 reads as 1
	MostPeople  int                `json:"most_people,omitempty"`  // per booking; 0 reads as Places
	Notice      int                `json:"notice,omitempty"`       // hours from now to the first start
	Horizon     int                `json:"horizon"`                // days from today to the last start
	Until       *calendar.Day      `json:"until,omitempty"`        // the last day of a start, whatever the horizon
	// Gap is how many minutes must lie between two bookings that do not begin
	// together: to tidy, to go from one to the other.
	Gap int `json:"gap,omitempty"`
	// Through says that it is open also on the business's days off and holidays.
	Through bool `json:"through,omitempty"`
}

// Validate says what is wrong with a rule.
func (r *Rule) Validate() error {
	open := false
	for _, spans := range r.Week {
		for i, s := range spans {
			if i > 0 && s.From < spans[i-1].To {
				return words.Tell("booking.spans_day_must_come_order")
			}
			open = open || s.To-s.From >= r.Length
		}
	}
	switch {
	case r.Length < 5 || r.Length > 1440:
		return words.Tell("booking.length_must_lie_between_5")
	case r.Grid < 5 || r.Grid > 1440:
		return words.Tell("booking.starts_must_lie_between_5")
	case r.Places < 1 || r.Places > 10000:
		return words.Tell("booking.places_must_lie_between_1")
	case r.least() > r.most():
		return words.Tell("booking.least_number_people_greater_than")
	case r.Notice < 0 || r.Horizon < 1 || r.Horizon > 1100:
		return words.Tell("booking.horizon_must_lie_between_1")
	case r.Gap < 0 || r.Gap > 7*1440:
		return words.Tell("booking.gap_between_0")
	case !open:
		return words.Tell("booking.hours_leave_no_room_length")
	}
	for _, c := range r.Closures {
		if c.To.Before(c.From) {
			return words.Tell("booking.closure_ends_before_begins")
		}
	}
	return nil
}

func (r *Rule) least() int { return max(r.LeastPeople, 1) }

func (r *Rule) most() int {
	if r.MostPeople == 0 {
		return r.Places
	}
	return min(r.MostPeople, r.Places)
}

// People gives the least and the most people of one booking.
func (r *Rule) People() (least, most int) { return r.least(), r.most() }

// A Taken is a booking that is there, or a place held at a checkout.
type Taken struct {
	Start  time.Time
	End    time.Time
	People int
}

// An Opening is a time that can be booked, with the places that are left.
type Opening struct {
	Start time.Time
	End   time.Time
	Left  int
}

// A Query asks for the openings of some days.
type Query struct {
	From  calendar.Day // both included
	To    calendar.Day
	Now   time.Time
	Zone  *time.Location
	Taken []Taken // in any order
	// Off says on which days the business is closed, and why; nil for none.
	Off func(calendar.Day) (reason string, off bool)
}

// Openings lists the openings of the days asked for, in order, the sold-out
// ones too. A wall-clock start that the zone's clock skips is not offered, one
// that comes twice is offered once. Notice and horizon are counted from Now.
func (r *Rule) Openings(q Query) []Opening {
	crowd := crowdOf(q.Taken)
	first := r.first(&q)
	if last := r.last(&q); q.To.After(last) {
		q.To = last
	}
	var openings []Opening
	for day := q.From; !day.After(q.To); day = day.Add(1) {
		if _, closed := r.closed(day); closed {
			continue
		}
		if _, off := r.off(&q, day); off {
			continue
		}
		for _, s := range r.Week[day.Weekday()] {
			end := day.At(s.To, q.Zone)
			for m := s.From; m < s.To; m += r.Grid {
				o := Opening{Start: day.At(m, q.Zone)}
				o.End = o.Start.Add(time.Duration(r.Length) * time.Minute)
				if o.Start.Hour()*60+o.Start.Minute() != m || o.End.After(end) || o.Start.Before(first) {
					continue
				}
				o.Left = r.Places - crowd.most(o)
				if r.Gap > 0 && r.crowded(&q, o) {
					o.Left = 0
				}
				openings = append(openings, o)
			}
		}
	}
	return openings
}

// first gives the first instant at which something may begin.
func (r *Rule) first(q *Query) time.Time { return q.Now.Add(time.Duration(r.Notice) * time.Hour) }

// last gives the last day on which something may begin.
func (r *Rule) last(q *Query) calendar.Day {
	last := calendar.DayOf(q.Now.In(q.Zone)).Add(r.Horizon)
	if r.Until != nil && r.Until.Before(last) {
		return *r.Until
	}
	return last
}

// closed says whether the product itself is closed on a day, and why.
func (r *Rule) closed(d calendar.Day) (reason string, closed bool) {
	for _, c := range r.Closures {
		if !d.Before(c.From) && !d.After(c.To) {
			return c.Reason, true
		}
	}
	return "", false
}

// off says whether the business is closed on a day, and why.
func (r *Rule) off(q *Query, d calendar.Day) (reason string, off bool) {
	if r.Through || q.Off == nil {
		return "", false
	}
	return q.Off(d)
}

// crowded says whether a booking that does not begin with an opening lies within
// the gap around it.
func (r *Rule) crowded(q *Query, o Opening) bool {
	gap := time.Duration(r.Gap) * time.Minute
	from, to := o.Start.Add(-gap), o.End.Add(gap)
	return slices.ContainsFunc(q.Taken, func(t Taken) bool {
		return !t.Start.Equal(o.Start) && t.Start.Before(to) && t.End.After(from)
	})
}

// A crowd is how many people are there over time: each step says how many
// there are from its instant on, in order.
type crowd []step

type step struct {
	at     int64 // Unix seconds
	people int
}

func crowdOf(taken []Taken) crowd {
	change := map[int64]int{}
	for _, t := range taken {
		change[t.Start.Unix()] += t.People
		change[t.End.Unix()] -= t.People
	}
	c := make(crowd, 0, len(change))
	people := 0
	for _, at := range slices.Sorted(maps.Keys(change)) {
		people += change[at]
		c = append(c, step{at, people})
	}
	return c
}

// most gives the most people that are there at once during an opening.
func (c crowd) most(o Opening) int {
	from, to := o.Start.Unix(), o.End.Unix()
	i, _ := slices.BinarySearchFunc(c, from+1, func(s step, at int64) int { return cmp.Compare(s.at, at) })
	most := 0
	if i > 0 {
		most = c[i-1].people
	}
	for ; i < len(c) && c[i].at < to; i++ {
		most = max(most, c[i].people)
	}
	return most
}

// Left gives how many places are left of the opening that begins at an instant;
// 0 when there is none.
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

// Check says what stands against a booking: a number of people that the rule
// does not take, a time that is not offered, or too few places left.
func (r *Rule) Check(b question.Booking, q Query, l words.Language) *question.Fault {
	if b.People < r.least() {
		return &question.Fault{Code: "people_least", Params: words.Params{"least": strconv.Itoa(r.least())}}
	}
	if b.People > r.most() {
		return &question.Fault{Code: "people_most", Params: words.Params{"most": strconv.Itoa(r.most())}}
	}
	q.From = calendar.DayOf(b.Start.In(q.Zone))
	q.To = q.From
	for _, o := range r.Openings(q) {
		if !o.Start.Equal(b.Start) {
			continue
		}
		switch {
		case o.Left >= b.People:
			return nil
		case o.Left <= 0:
			return &question.Fault{Code: "opening_sold_out"}
		}
		return &question.Fault{Code: "opening_full", Params: words.Params{"left": strconv.Itoa(o.Left)}}
	}
	return &question.Fault{Code: "opening_gone"}
}
