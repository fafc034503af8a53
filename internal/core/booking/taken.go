package booking

import (
	"cmp"
	"slices"
	"time"

	"ruvo/internal/core/calendar"
)

// A Taken is a booking that is there, or held at a checkout, or a time at which a
// resource cannot be had for another reason.
type Taken struct {
	Start   time.Time // what was booked
	End     time.Time
	From    time.Time // what nothing else may have; zero: from Start
	To      time.Time // zero: to End
	People  int
	Product int64
	Private bool         // not shared with other bookings of the same product and start
	With    []ResourceID // that it takes
	Whole   bool         // it takes the whole of a set
	Wait    int64        // it is only held for whoever waits under this number; 0 for what is booked
}

// A Query asks for what can be booked on some days.
type Query struct {
	From    calendar.Day // both included
	To      calendar.Day
	Now     time.Time
	Zone    *time.Location
	Product int64
	Taken   []Taken // of the product and of what it needs, in any order
	Kept    []Kept  // by the seller, of the product
	// Off says on which days the business is closed, and why; nil for none.
	Off func(calendar.Day) (reason string, off bool)
	// Gaps gives the hours of a day at which the business is closed; nil for none.
	Gaps func(calendar.Day) []calendar.Closure
	// Resources are those that there are.
	Resources map[ResourceID]Resource
	Wish      Wish
}

// held is what is taken, ready to be asked.
type held struct {
	rule   *Rule
	q      *Query
	people crowd                     // of the product
	rooms  map[ResourceID]crowd      // bookings at once; 0 stands for the product itself
	groups map[times]group           // of shared bookings
	days   map[calendar.Day]dayRules // rules by day, as they are looked for
	// seasonal says that a season changes more than hours, notice and bounds of stays.
	seasonal bool
}

// A group are the bookings that share an opening.
type group struct {
	people int
	with   []ResourceID
}

// times are the seconds at which something begins and ends.
type times struct{ start, end int64 }

func timesOf(start, end time.Time) times { return times{start.Unix(), end.Unix()} }

// sharing names an opening that several bookings share, and what they have in it.
type sharing struct {
	resource ResourceID
	product  int64
	start    int64
}

func (r *Rule) hold(q *Query) *held {
	h := &held{rule: r, q: q, days: map[calendar.Day]dayRules{}, seasonal: slices.ContainsFunc(r.Seasons, func(s Season) bool { return r.during(&s) != r })}
	if !r.exclusive() {
		changes := make([]change, 0, 2*len(q.Taken))
		for i := range q.Taken {
			if t := &q.Taken[i]; t.Product == q.Product {
				changes = append(changes, changeAt(t.Start, t.People), changeAt(t.End, -t.People))
			}
		}
		h.people = crowdOf(changes)
		return h
	}
	h.groups = map[times]group{}
	rooms := map[ResourceID][]change{}
	seen := map[sharing]bool{}
	add := func(t *Taken, id ResourceID) {
		if k := (sharing{id, t.Product, t.Start.Unix()}); !t.Private {
			if seen[k] {
				return
			}
			seen[k] = true
		}
		from, to := h.occupied(t)
		n := 1
		if t.Whole {
			n = max(q.Resources[id].Number, 1)
		}
		rooms[id] = append(rooms[id], changeAt(from, n), changeAt(to, -n))
	}
	for i := range q.Taken {
		t := &q.Taken[i]
		if t.Product == q.Product {
			if !t.Private {
				g := h.groups[timesOf(t.Start, t.End)]
				g.people += t.People
				if g.with == nil {
					g.with = t.With
				}
				h.groups[timesOf(t.Start, t.End)] = g
			}
			if len(r.Needs) == 0 && r.By != ByCourse {
				add(t, 0)
			}
		}
		for _, id := range t.With {
			if _, known := q.Resources[id]; known {
				add(t, id)
			}
		}
	}
	h.rooms = make(map[ResourceID]crowd, len(rooms))
	for id, changes := range rooms {
		h.rooms[id] = crowdOf(changes)
	}
	return h
}

// occupied gives what nothing else may have because of a booking: what was kept
// with it, and of the product itself what its rule asks for now.
func (h *held) occupied(t *Taken) (from, to time.Time) {
	from, to = t.Start, t.End
	if t.Product == h.q.Product {
		s := h.around(t.Start, t.End)
		if h.rule.Stays != nil {
			h.turn(s)
		}
		from, to = s.from, s.to
	}
	if !t.From.IsZero() {
		from = minTime(from, t.From)
	}
	return from, maxTime(to, t.To)
}

// A crowd is how many there are over time: each step says how many from its
// instant on, in order.
type crowd []step

type step struct {
	at int64 // Unix seconds
	n  int
}

// A change is that so many more, or fewer, are there from an instant on: its second
// above the low 16 bits, which hold how many. So changes are sorted as numbers,
// which is most of the work with many bookings.
type change int64

func changeAt(t time.Time, n int) change { return change(t.Unix()<<16 | int64(n+1<<15)) }

// crowdOf makes a crowd from changes, which it sorts.
func crowdOf(changes []change) crowd {
	slices.Sort(changes)
	c, n := make(crowd, 0, len(changes)), 0
	for _, x := range changes {
		at := int64(x >> 16)
		n += int(x&0xffff) - 1<<15
		if last := len(c) - 1; last >= 0 && c[last].at == at {
			c[last].n = n
		} else {
			c = append(c, step{at, n})
		}
	}
	return c
}

// most gives the most that are there at once between two instants.
func (c crowd) most(start, end time.Time) int {
	from, to := start.Unix(), end.Unix()
	i, _ := slices.BinarySearchFunc(c, from+1, func(s step, at int64) int { return cmp.Compare(s.at, at) })
	most := 0
	if i > 0 {
		most = c[i-1].n
	}
	for ; i < len(c) && c[i].at < to; i++ {
		most = max(most, c[i].n)
	}
	return most
}
