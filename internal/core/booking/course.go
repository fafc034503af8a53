package booking

import (
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Course is several meetings that are booked as one. Its days are the seller's
// own choice: the business's days off do not move them.
type Course struct {
	Name     string    `json:"name"`
	Meetings []Meeting `json:"meetings"` // in order
}

// A Meeting is one of a course's times.
type Meeting struct {
	Day  calendar.Day  `json:"day"`
	Time calendar.Span `json:"time"`
}

// A Run is what can be booked of a course: the meetings that are left of it.
type Run struct {
	Name     string
	Meetings []question.Meeting
	Of       int // meetings that the whole course has
	Left     int // people that there is room for in one booking
	// Why says why it cannot be booked; nil when it can.
	Why *words.Message
	// Taken says that only other bookings are in the way.
	Taken bool
}

// Booking gives what a customer books of a run.
func (x *Run) Booking(people int) question.Booking {
	return question.Booking{Start: x.Meetings[0].Start, End: x.Meetings[len(x.Meetings)-1].End, People: people, Meetings: x.Meetings, Of: x.Of}
}

// mostCourses bounds the courses of a product.
const mostCourses = 50

func (r *Rule) validateCourses() error {
	switch {
	case len(r.Courses) == 0 || len(r.Courses) > mostCourses:
		return words.Tell("booking.courses_between", "most", mostCourses)
	case r.varies() || r.Stays != nil || len(r.Seasons) > 0 || len(r.Fixed) > 0 || len(r.Closures) > 0 || r.Private || r.Through:
		return words.Tell("booking.course_has_its_times")
	}
	names, starts := map[string]bool{}, map[Meeting]string{}
	longest := 0
	for _, c := range r.Courses {
		switch {
		case c.Name == "" || len([]rune(c.Name)) > 60:
			return words.Tell("booking.course_without_name")
		case names[c.Name]:
			return words.Tell("booking.course_name_twice", "name", c.Name)
		case len(c.Meetings) < 2 || len(c.Meetings) > question.MostMeetings:
			return words.Tell("booking.course_meetings", "name", c.Name, "most", question.MostMeetings)
		}
		names[c.Name] = true
		longest = max(longest, len(c.Meetings))
		for i, m := range c.Meetings {
			if m.Day == (calendar.Day{}) || m.Time.To <= m.Time.From || m.Time.To > 1440 {
				return words.Tell("booking.course_meeting_time", "name", c.Name, "number", i+1)
			}
			if i > 0 && !c.Meetings[i-1].before(m) {
				return words.Tell("booking.course_meetings_in_order", "name", c.Name, "number", i+1)
			}
			// What a customer books says which course it is by its times.
			at := Meeting{Day: m.Day, Time: calendar.Span{From: m.Time.From}}
			if other, taken := starts[at]; taken {
				return words.Tell("booking.courses_meet_together", "name", c.Name, "other", other, "day", onDay(m.Day))
			}
			starts[at] = c.Name
		}
	}
	if r.Join < 0 || r.Join >= longest {
		return words.Tell("booking.join_between", "most", longest-1)
	}
	return nil
}

func (m Meeting) before(o Meeting) bool {
	return m.Day.Before(o.Day) || m.Day == o.Day && m.Time.To <= o.Time.From
}

func (m Meeting) at(zone *time.Location) question.Meeting {
	return question.Meeting{Start: m.Day.At(m.Time.From, zone).UTC(), End: m.Day.At(m.Time.To, zone).UTC()}
}

// Runs lists the courses that are not over, with the meetings that are left of them:
// those that begin when notice lets somebody join them.
func (r *Rule) Runs(q Query) []Run {
	if r.By != ByCourse {
		return nil
	}
	h := r.hold(&q)
	runs := []Run{}
	for i := range r.Courses {
		if x, left := h.run(&r.Courses[i]); left {
			runs = append(runs, x)
		}
	}
	return runs
}

func (h *held) run(c *Course) (x Run, left bool) {
	r, q := h.rule, h.q
	x = Run{Name: c.Name, Of: len(c.Meetings)}
	first := q.Now.Add(time.Duration(r.Notice) * time.Hour)
	begun := 0
	for i, m := range c.Meetings {
		switch at := m.at(q.Zone); {
		case !at.Start.Before(first):
			x.Meetings = append(x.Meetings, at)
		case at.Start.Before(q.Now):
			begun = i + 1
		}
	}
	if len(x.Meetings) == 0 {
		return x, false
	}
	day := calendar.DayOf(x.Meetings[0].Start.In(q.Zone))
	missed := x.Of - len(x.Meetings)
	switch last := r.last(q); {
	case day.After(last) && r.Until != nil && last == *r.Until:
		x.Why = words.Tell("why.until", "day", onDay(last))
	case day.After(last):
		x.Why = words.Tell("why.horizon", "days", r.Horizon, "day", onDay(last))
	case missed > r.Join && begun > 0:
		x.Why = words.Tell("why.course_begun")
	case missed > r.Join:
		x.Why = words.Tell("why.notice", "hours", r.Notice)
	default:
		h.fill(&x)
	}
	return x, true
}

// fill says what is left of a run.
func (h *held) fill(x *Run) {
	x.Left = h.rule.Places
	for _, m := range x.Meetings {
		kept, why := h.keeps(m.Start, m.End)
		left := h.rule.Places - h.groups[timesOf(m.Start, m.End)].people - kept
		if left <= 0 && kept > 0 {
			x.Left, x.Why = 0, why
			return
		}
		x.Left = min(x.Left, left)
	}
	if x.Left <= 0 {
		x.Left, x.Taken, x.Why = 0, true, words.Tell("why.course_full")
		return
	}
	if _, why := h.lead(x.Meetings); why != nil {
		x.Left, x.Why = 0, why
	}
}

// lead gives what the meetings of a course take: one of each need for all of them.
// What those who booked it have is what all have.
func (h *held) lead(meetings []question.Meeting) (with []ResourceID, why *words.Message) {
	for i, n := range h.rule.Needs {
		best, least := ResourceID(0), time.Duration(0)
		for _, id := range h.rule.candidates(h.q, i) {
			free := !slices.ContainsFunc(meetings, func(m question.Meeting) bool {
				// Who booked before the need was there has none of it.
				had := h.groups[timesOf(m.Start, m.End)].with
				if slices.ContainsFunc(n.Of, func(of ResourceID) bool { return slices.Contains(had, of) }) {
					return !slices.Contains(had, id)
				}
				return h.free(id, h.rule.around(m.Start, m.End)) < 1
			})
			if !free {
				continue
			}
			if busy := h.busy(id, calendar.DayOf(meetings[0].Start.In(h.q.Zone))); best == 0 || busy < least {
				best, least = id, busy
			}
		}
		if best == 0 {
			return nil, words.Tell("why.course_without", "name", n.Name)
		}
		with = append(with, best)
	}
	return with, nil
}

// takeCourse gives what a course takes, one place for each meeting, or says what
// stands against it.
func (r *Rule) takeCourse(b question.Booking, q Query, l words.Language) ([]Place, *question.Fault) {
	h := r.hold(&q)
	for i := range r.Courses {
		x, left := h.run(&r.Courses[i])
		if !left || x.Of != b.Of || !b.Meets(x.Meetings) {
			continue
		}
		switch {
		case x.Taken:
			return nil, &question.Fault{Code: "opening_sold_out"}
		case x.Why != nil:
			return nil, &question.Fault{Code: "stay", Params: words.Params{"why": x.Why.Say(l)}}
		case x.Left < b.People:
			return nil, &question.Fault{Code: "opening_full", Params: words.Params{"left": number(x.Left)}}
		}
		with, _ := h.lead(x.Meetings)
		return r.places(x.Meetings, with), nil
	}
	if q.Wish.Seller {
		return h.meet(b, l)
	}
	return nil, &question.Fault{Code: "course_gone"}
}

// meet gives what the meetings of a course take that the seller put elsewhere, each
// looked at by itself.
func (h *held) meet(b question.Booking, l words.Language) ([]Place, *question.Fault) {
	for _, m := range b.Meetings {
		kept, why := h.keeps(m.Start, m.End)
		left := h.rule.Places - h.groups[timesOf(m.Start, m.End)].people - kept
		switch {
		case left >= b.People:
		case kept > 0:
			return nil, &question.Fault{Code: "stay", Params: words.Params{"why": why.Say(l)}}
		default:
			return nil, &question.Fault{Code: "opening_full", Params: words.Params{"left": number(max(left, 0))}}
		}
	}
	with, why := h.lead(b.Meetings)
	if why != nil {
		return nil, &question.Fault{Code: "stay", Params: words.Params{"why": why.Say(l)}}
	}
	return h.rule.places(b.Meetings, with), nil
}

// places are those of meetings that all take the same.
func (r *Rule) places(meetings []question.Meeting, with []ResourceID) []Place {
	list := make([]Place, len(meetings))
	for i, m := range meetings {
		s := r.around(m.Start, m.End)
		list[i] = Place{Start: s.start, End: s.end, From: s.from, To: s.to, With: with}
	}
	return list
}

// meetings shows the meetings of courses on the days asked for as openings, each
// with what is left of it, whether or not somebody can still join.
func (h *held) meetings() []Opening {
	var list []Opening
	for _, c := range h.rule.Courses {
		for _, m := range c.Meetings {
			if m.Day.Before(h.q.From) || m.Day.After(h.q.To) {
				continue
			}
			at := m.at(h.q.Zone)
			kept, _ := h.keeps(at.Start, at.End)
			list = append(list, Opening{Start: at.Start, End: at.End, Left: h.rule.Places - h.groups[timesOf(at.Start, at.End)].people - kept})
		}
	}
	slices.SortStableFunc(list, func(a, b Opening) int { return a.Start.Compare(b.Start) })
	return list
}

// Meetings lists the meetings of courses on the days asked for, in order, whether or
// not they can still be joined; none of what is no course.
func (r *Rule) Meetings(q Query) []Opening {
	if r.By != ByCourse {
		return nil
	}
	return r.hold(&q).meetings()
}

// courseDay says what a day has of courses, and what can be booked of them.
func (h *held) courseDay(d calendar.Day) Day {
	x := Day{Openings: h.meetings()}
	for i := range h.rule.Courses {
		c := &h.rule.Courses[i]
		n := slices.IndexFunc(c.Meetings, func(m Meeting) bool { return m.Day == d })
		if n < 0 {
			continue
		}
		why := words.Tell("why.course_over")
		if run, left := h.run(c); left && run.Why != nil {
			why = run.Why
		} else if left {
			why = words.Tell("why.course_open", "left", run.Left, "places", h.rule.Places)
		}
		x.Why = append(x.Why, words.Tell("why.course", "name", c.Name, "number", n+1, "of", len(c.Meetings), "why", why))
	}
	if len(x.Why) == 0 {
		x.Why = append(x.Why, words.Tell("why.no_meeting"))
	}
	return x
}

// courseSamples gives the whole of each course, for so many people. What a product
// costs from and to is said of those: who joins later is told their part.
func (r *Rule) courseSamples(people int) []question.Booking {
	var list []question.Booking
	for _, c := range r.Courses {
		x := Run{Of: len(c.Meetings)}
		for _, m := range c.Meetings {
			x.Meetings = append(x.Meetings, m.at(time.UTC))
		}
		list = append(list, x.Booking(people))
	}
	return list
}
