package booking

import (
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// ResourceID names a resource of the business.
type ResourceID = int64

// A Resource is a person, a room or a thing that serves one booking at a time,
// or a set of equal ones that serves as many as there are.
type Resource struct {
	ID       ResourceID         `json:"id"`
	Name     string             `json:"name"`
	Person   bool               `json:"person,omitempty"`
	Number   int                `json:"number,omitempty"`   // how many equal ones; 0 reads as 1
	Week     *calendar.Week     `json:"week,omitempty"`     // when openings can have it; nil: at any time
	Closures []calendar.Closure `json:"closures,omitempty"` // absences and maintenance
	// Exceptions are hours of single days instead of those of its week.
	Exceptions []calendar.Exception `json:"exceptions,omitempty"`
	Skills     []string             `json:"skills,omitempty"` // what a person can do
}

// A Need is one kind of resource of which a booking takes one.
type Need struct {
	Name string       `json:"name"` // of the kind: "Teacher"
	Of   []ResourceID `json:"of"`   // of which one is taken
	// Choose lets the customer choose which, or say that any will do.
	Choose bool `json:"choose,omitempty"`
	// By is the question whose answer narrows them, by the code of the choice; a
	// code that has no entry narrows nothing.
	By    question.Key            `json:"by,omitempty"`
	Codes map[string][]ResourceID `json:"codes,omitempty"`
}

// A Wish is what a customer and their answers narrow what can be booked to.
type Wish struct {
	Length int                  // minutes, where the rule leaves them open; 0 is its shortest
	With   []ResourceID         // that the customer chose
	Prefer []ResourceID         // that the seller wants, also where customers cannot choose
	Only   map[int][]ResourceID // that answers name, by the place of the need
	// Seller says that the seller asks, who puts the meetings of a course where they like.
	Seller bool
}

// mostNeeds bounds the kinds of resources that a booking takes.
const mostNeeds = 5

func (r *Rule) validateNeeds() error {
	seen := map[ResourceID]bool{}
	if len(r.Needs) > mostNeeds {
		return words.Tell("booking.too_many_needs", "most", mostNeeds)
	}
	for _, n := range r.Needs {
		switch {
		case n.Name == "" || len([]rune(n.Name)) > 60:
			return words.Tell("booking.need_without_name")
		case len(n.Of) == 0:
			return words.Tell("booking.need_of_nothing", "name", n.Name)
		case n.Choose && !r.Alone():
			return words.Tell("booking.chosen_resource_is_private", "name", n.Name)
		}
		for _, id := range n.Of {
			if seen[id] {
				return words.Tell("booking.resource_in_two_needs", "name", n.Name)
			}
			seen[id] = true
		}
		for _, of := range n.Codes {
			if slices.ContainsFunc(of, func(id ResourceID) bool { return !slices.Contains(n.Of, id) }) {
				return words.Tell("booking.need_code_names_other", "name", n.Name)
			}
		}
	}
	return nil
}

// Uses lists the resources that the rule names.
func (r *Rule) Uses() []ResourceID {
	var list []ResourceID
	for _, n := range r.Needs {
		list = append(list, n.Of...)
	}
	return list
}

// open says whether a resource is there for a stretch of time; on names what is
// not, a closure or its hours. Stays ask only for its closures.
func (res *Resource) open(start, end time.Time, hours bool, zone *time.Location) (absence *calendar.Closure, there bool) {
	first := calendar.DayOf(start.In(zone))
	for i := range res.Closures {
		if res.Closures[i].Covers(start, end, zone) {
			return &res.Closures[i], false
		}
	}
	if !hours || res.Week == nil {
		return nil, true
	}
	for _, s := range res.hours(first) {
		if !start.Before(first.At(s.From, zone)) && !end.After(first.At(s.To, zone)) {
			return nil, true
		}
	}
	return nil, false
}

// hours gives those of a day; of a resource that has a week.
func (res *Resource) hours(d calendar.Day) []calendar.Span {
	if own, any := calendar.Instead(res.Exceptions, d); any {
		return own
	}
	return res.Week[d.Weekday()]
}

// Has says whether a resource is there for a stretch of time, by its hours where
// that lies within a day; one that is gone never is.
func (res Resource) Has(start, end time.Time, zone *time.Location) bool {
	within := calendar.DayOf(start.In(zone)) == calendar.DayOf(end.Add(-time.Nanosecond).In(zone))
	_, there := res.open(start, end, within, zone)
	return res.ID != 0 && there
}

// candidates are the resources of a need that answers and the customer leave.
func (r *Rule) candidates(q *Query, i int) []ResourceID {
	n := &r.Needs[i]
	only, narrowed := q.Wish.Only[i]
	chosen := slices.ContainsFunc(q.Wish.With, func(id ResourceID) bool { return slices.Contains(n.Of, id) })
	if !narrowed && !chosen {
		return n.Of
	}
	var list []ResourceID
	for _, id := range n.Of {
		if (!narrowed || slices.Contains(only, id)) && (!chosen || slices.Contains(q.Wish.With, id)) {
			list = append(list, id)
		}
	}
	return list
}

// A stretch is a time that is booked, with what is needed around it.
type stretch struct {
	start, end time.Time // what is booked
	from, to   time.Time // what nothing else may have
}

// free counts how many of the resources of a need, or of the product itself, can
// still be had for a stretch.
func (h *held) free(id ResourceID, s *stretch) int {
	if id == 0 {
		return 1 - h.rooms[0].most(s.from, s.to)
	}
	res, known := h.q.Resources[id]
	if !known {
		return 0
	}
	if _, there := res.open(s.start, s.end, h.rule.By == ByTime, h.q.Zone); !there {
		return 0
	}
	return max(res.Number, 1) - h.rooms[id].most(s.from, s.to)
}

// units counts how many bookings can be made at once of a stretch.
func (h *held) units(s *stretch) int {
	if kept, _ := h.keeps(s.start, s.end); kept > 0 && (h.rule.Alone() || kept >= h.at(s.start).Places) {
		return 0
	}
	if len(h.rule.Needs) == 0 {
		return max(h.free(0, s), 0)
	}
	least := 0
	for i := range h.rule.Needs {
		n := 0
		for _, id := range h.rule.candidates(h.q, i) {
			n += max(h.free(id, s), 0)
		}
		if i == 0 || n < least {
			least = n
		}
	}
	return least
}

// assign takes one resource of each need, the one that is booked the shortest on
// that day, and of equals the first; none where one is missing.
func (h *held) assign(s *stretch) (with []ResourceID, ok bool) {
	if h.units(s) == 0 {
		return nil, false
	}
	for i := range h.rule.Needs {
		best, least := ResourceID(0), time.Duration(0)
		for _, id := range h.rule.candidates(h.q, i) {
			if h.free(id, s) < 1 {
				continue
			}
			if busy := h.busy(id, calendar.DayOf(s.start.In(h.q.Zone))); best == 0 || busy < least {
				best, least = id, busy
			}
		}
		with = append(with, best)
	}
	return with, true
}

// busy tells how long a resource is booked on a day, for each of its set.
func (h *held) busy(id ResourceID, day calendar.Day) time.Duration {
	from, to := day.At(0, h.q.Zone), day.Add(1).At(0, h.q.Zone)
	var sum time.Duration
	seen := map[sharing]bool{}
	for i := range h.q.Taken {
		t := &h.q.Taken[i]
		if !slices.Contains(t.With, id) || !t.Start.Before(to) || !t.End.After(from) {
			continue
		}
		if k := (sharing{id, t.Product, t.Start.Unix()}); !t.Private {
			if seen[k] {
				continue
			}
			seen[k] = true
		}
		sum += minTime(t.End, to).Sub(maxTime(t.Start, from))
	}
	return sum / time.Duration(max(h.q.Resources[id].Number, 1))
}

func minTime(a, b time.Time) time.Time {
	if a.Before(b) {
		return a
	}
	return b
}

func maxTime(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}
