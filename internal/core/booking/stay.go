package booking

import (
	"math"
	"slices"
	"strings"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A StayDay is a day as one on which a stay begins or ends.
type StayDay struct {
	Day  calendar.Day
	At   time.Time // when it begins or ends on it
	Free int       // stays that can be made of the day or night; 0 of one that is not offered
	// Why says why no stay begins, or ends, on it; nil when one does.
	Why *words.Message
	// Taken says that only other bookings are in the way.
	Taken bool
}

// Arrivals lists the days asked for with whether a stay can begin on them.
func (r *Rule) Arrivals(q Query) []StayDay {
	if r.Stays == nil {
		return nil
	}
	h := r.hold(&q)
	var list []StayDay
	for d := q.From; !d.After(q.To); d = d.Add(1) {
		x := StayDay{Day: d, At: d.At(r.Stays.Arrive, q.Zone), Why: h.beginning(d)}
		x.Taken = x.Why != nil && strings.HasPrefix(x.Why.Code, "why.taken")
		if on := h.on(d); !on.shut {
			x.Free = h.units(r.unit(&q, d))
		}
		list = append(list, x)
	}
	return list
}

// Departures lists the days asked for with whether a stay that begins on a day
// can end on them.
func (r *Rule) Departures(first calendar.Day, q Query) []StayDay {
	if r.Stays == nil {
		return nil
	}
	h := r.hold(&q)
	var list []StayDay
	for d := q.From; !d.After(q.To); d = d.Add(1) {
		x := StayDay{Day: d, At: d.At(r.Stays.Depart, q.Zone), Why: h.against(first, d)}
		x.Taken = x.Why != nil && strings.HasPrefix(x.Why.Code, "why.taken")
		if on := h.on(d); !on.shut {
			x.Free = h.units(r.unit(&q, d))
		}
		list = append(list, x)
	}
	return list
}

// unit is the stretch of one day or night, with nothing around it.
func (r *Rule) unit(q *Query, d calendar.Day) *stretch {
	start, end := d.At(r.Stays.Arrive, q.Zone), d.At(r.Stays.Depart, q.Zone)
	if r.By == ByNight {
		end = d.Add(1).At(r.Stays.Depart, q.Zone)
	}
	return &stretch{start, end, start, end}
}

// Count gives how many days or nights a stay between two days has.
func (r *Rule) Count(first, last calendar.Day) int {
	if r.By == ByDay {
		return last.Since(first) + 1
	}
	return last.Since(first)
}

// stay is the stretch of a stay.
func (h *held) stay(first, last calendar.Day) *stretch {
	r, zone := h.rule, h.q.Zone
	s := h.around(first.At(r.Stays.Arrive, zone), last.At(r.Stays.Depart, zone))
	h.turn(s)
	return s
}

// turn adds the days of turnaround to a stretch: those on which nothing else
// begins, the first of them the one after its last day or night.
func (h *held) turn(s *stretch) {
	if k := h.at(s.start).Stays.Turnaround; k > 0 {
		last := calendar.DayOf(s.end.Add(-time.Nanosecond).In(h.q.Zone))
		if h.rule.By == ByDay {
			last = last.Add(1)
		}
		s.to = maxTime(s.to, last.Add(k).At(0, h.q.Zone))
	}
}

// Units gives how many days or nights a stay has, as the clock goes: a clock
// change on the way makes no difference.
func (r *Rule) Units(b question.Booking) int {
	if r.Stays == nil || b.End.IsZero() {
		return 0
	}
	units := float64(b.End.Sub(b.Start)-time.Duration(r.Stays.Depart-r.Stays.Arrive)*time.Minute) / float64(24*time.Hour)
	n := int(math.Round(units))
	if r.By == ByDay {
		n++
	}
	return max(n, 0)
}

// mostSamples bounds how many bookings stand for all that a rule allows.
const mostSamples = 500

// Samples gives bookings that stand for all in their people and their length, at
// a time that stands for any.
func (r *Rule) Samples() []question.Booking {
	start := time.Unix(1, 0)
	var ends []time.Time
	least, most := r.People()
	switch r.By {
	case ByCourse:
		var list []question.Booking
		for n := least; n <= most; n++ {
			of := r.courseSamples(n)
			if len(list)+len(of) > mostSamples { // the last one bounds the others
				n = most
				of = r.courseSamples(n)
			}
			list = append(list, of...)
		}
		return list
	case ByTime:
		for _, n := range r.Choices() {
			ends = append(ends, start.Add(time.Duration(n)*time.Minute))
		}
		for i := range r.Seasons {
			if n := r.Seasons[i].Length; n != 0 {
				ends = append(ends, start.Add(time.Duration(n)*time.Minute))
			}
		}
	default:
		shortest, longest := max(r.Stays.Least, 1), r.Stays.most()
		for i := range r.Seasons {
			if s := r.Seasons[i].Span; s != nil {
				shortest, longest = min(shortest, max(s.Least, 1)), max(longest, s.most())
			}
		}
		for n := shortest; n <= longest; n++ {
			if n > shortest+30 { // further ones go in a straight line
				n = longest
			}
			days := n
			if r.By == ByDay {
				days--
			}
			ends = append(ends, start.Add(time.Duration(days)*24*time.Hour+time.Duration(r.Stays.Depart-r.Stays.Arrive)*time.Minute))
		}
	}
	var list []question.Booking
	for n := least; n <= most; n++ {
		if len(list)+len(ends) > mostSamples { // the last one bounds the others
			n = most
		}
		for _, end := range ends {
			list = append(list, question.Booking{Start: start, End: end, People: n})
		}
	}
	return list
}

// beginning says why no stay can begin on a day, whatever its end; nil when one
// can.
func (h *held) beginning(d calendar.Day) *words.Message {
	r := h.rule
	if why := h.arriving(d); why != nil {
		return why
	}
	if f, first, last := r.fixed(d); f != nil {
		if d != first {
			return words.Tell("why.fixed", "name", f.Name, "from", onDay(first), "to", onDay(last))
		}
		return h.against(first, last)
	}
	span := h.on(d).span
	least, most := span.leastFrom(d), span.most()
	var why *words.Message
	for n := least; n <= most; n++ {
		last := d.Add(n)
		if r.By == ByDay {
			last = d.Add(n - 1)
		}
		no := h.against(d, last)
		if no == nil {
			return nil
		}
		if why == nil {
			why = no
		}
		// What is in the way of this one is in the way of all longer ones, but for
		// the day of the end.
		if !strings.HasPrefix(no.Code, "why.end") && !strings.HasPrefix(no.Code, "why.off") {
			break
		}
	}
	return why
}

// arriving says what stands against anything that begins on a day.
func (h *held) arriving(d calendar.Day) *words.Message {
	r, q := h.rule, h.q
	on := h.on(d)
	if why := h.when(d, on); why != nil {
		return why
	}
	if d.At(r.Stays.Arrive, q.Zone).Before(q.Now.Add(time.Duration(on.notice) * time.Hour)) {
		return words.Tell("why.notice", "hours", on.notice)
	}
	if f, _, _ := r.fixed(d); f == nil && len(on.span.Begin) > 0 && !slices.Contains(on.span.Begin, d.Weekday()) {
		return on.tell("begin", "weekdays", onWeekdays(on.span.Begin))
	}
	return nil
}

// against says what stands against a stay; nil for nothing.
func (h *held) against(first, last calendar.Day) *words.Message {
	r := h.rule
	n := r.Count(first, last)
	if n < 1 {
		return words.Tell("why.before")
	}
	if n > longestStay {
		return words.Tell("why.stay_most", "most", longestStay)
	}
	if why := h.arriving(first); why != nil {
		return why
	}
	on := h.on(first)
	fixed, from, to := r.fixed(first)
	for i := range n {
		d := first.Add(i)
		if x := h.on(d); x.shut {
			return closed(x.why)
		}
		if f, a, b := r.fixed(d); f != nil && (a != first || b != last) {
			return words.Tell("why.fixed", "name", f.Name, "from", onDay(a), "to", onDay(b))
		}
	}
	end := h.on(last)
	if end.off {
		return off(end.away)
	}
	whole := fixed != nil && from == first && to == last
	if least := on.span.leastFrom(first); !whole && n < least {
		return on.tell("least_"+string(r.By), "count", least)
	}
	if most := on.span.most(); !whole && n > most {
		return on.tell("most_"+string(r.By), "count", most)
	}
	if !whole && len(end.span.End) > 0 && !slices.Contains(end.span.End, last.Weekday()) {
		return end.tell("end", "weekdays", onWeekdays(end.span.End))
	}
	if s := h.stay(first, last); h.units(s) == 0 {
		return h.taken(s)
	}
	return nil
}

// taken says what keeps a stretch from being booked.
func (h *held) taken(s *stretch) *words.Message {
	if kept, why := h.keeps(s.start, s.end); kept > 0 && (h.rule.Alone() || kept >= h.at(s.start).Places) {
		return why
	}
	for i, n := range h.rule.Needs {
		list := h.rule.candidates(h.q, i)
		if slices.ContainsFunc(list, func(id ResourceID) bool { return h.free(id, s) > 0 }) {
			continue
		}
		if len(list) == 1 {
			res, known := h.q.Resources[list[0]]
			if !known {
				return words.Tell("why.no_resource", "name", n.Name)
			}
			if absence, there := res.open(s.start, s.end, h.rule.By == ByTime, h.q.Zone); !there {
				if absence != nil && absence.Reason != "" {
					return words.Tell("why.absent_because", "name", res.Name, "reason", absence.Reason)
				}
				return words.Tell("why.absent", "name", res.Name)
			}
			return words.Tell("why.taken_one", "name", res.Name)
		}
		return words.Tell("why.taken_all", "name", n.Name)
	}
	return words.Tell("why.taken")
}

// takeStay gives what a stay takes, or says what stands against it.
func (r *Rule) takeStay(b question.Booking, q Query, l words.Language) ([]Place, *question.Fault) {
	first, last := calendar.DayOf(b.Start.In(q.Zone)), calendar.DayOf(b.End.In(q.Zone))
	if r.Stays.Depart == 1440 { // the day ends with it
		last = calendar.DayOf(b.End.Add(-time.Nanosecond).In(q.Zone))
	}
	h := r.hold(&q)
	s := h.stay(first, last)
	if !s.start.Equal(b.Start) || !s.end.Equal(b.End) {
		return nil, &question.Fault{Code: "opening_gone"}
	}
	if why := h.against(first, last); why != nil {
		return nil, &question.Fault{Code: "stay", Params: words.Params{"why": why.Say(l)}}
	}
	return h.take(s)
}

func (s *Span) leastFrom(d calendar.Day) int {
	if n := s.LeastOn[d.Weekday()]; n > 0 {
		return n
	}
	return max(s.Least, 1)
}

func (s *Span) most() int {
	if s.Most > 0 {
		return s.Most
	}
	return longestStay
}

// tell says what a rule demands, and in which season.
func (x *dayRules) tell(code string, pairs ...any) *words.Message {
	if x.season != nil && x.season.Span != nil {
		return words.Tell("why."+code+"_in", append(pairs, "season", x.season.Name)...)
	}
	return words.Tell("why."+code, pairs...)
}
