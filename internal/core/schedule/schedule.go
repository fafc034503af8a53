// Package schedule places the waiting work of all orders into the hours of those
// who can do it: it tells when each item will be done, by whom, what will be late,
// the load of each day, and by when a new order can be promised.
//
// The rule is list scheduling (Graham 1966) in the order of due times (Jackson's
// rule, 1955): items are taken in their turn, and each is given to whoever of those
// who can do it is done with it first. An item that is longer than the hours left
// goes on in the next ones.
package schedule

import (
	"cmp"
	"slices"
	"time"
)

// A Minute is an instant, in minutes since 1970.
type Minute int64

// At gives the first whole minute that is not before an instant.
func At(t time.Time) Minute { return Minute((t.Unix() + 59) / 60) }

// Time gives the instant of a minute.
func (m Minute) Time() time.Time { return time.Unix(int64(m)*60, 0) }

// A Span is a stretch of time: From inclusive, To exclusive.
type Span struct{ From, To Minute }

// A PersonID names a person of the business.
type PersonID = int64

// A Worker is a person who does work, with the time that they have for it: spans in
// order, without overlap.
type Worker struct {
	ID     PersonID
	Skills []string
	Free   []Span
}

// Can says whether a job is for the worker.
func (w *Worker) Can(j *Job) bool {
	switch {
	case j.Person != 0:
		return j.Person == w.ID
	case j.Skill != "":
		return slices.Contains(w.Skills, j.Skill)
	}
	return true
}

// A Rank says what goes before what, whenever it is due.
type Rank int

const (
	Begun Rank = iota - 2 // somebody works on it
	First                 // a rush, or what the seller puts first
	Usual
	Last // what the seller puts last
)

// A Job is a work item that is still to be done.
type Job struct {
	ID      int64
	Line    int64 // the order line; 0 for none
	Minutes int
	Ready   Minute // from when it can be done
	Turn    Minute // among those of its rank: mostly when it is due
	Rank    Rank
	Age     Minute   // since when it waits: of equals, the older goes first
	Person  PersonID // who does it; 0 leaves it open
	Skill   string   // whoever has it; empty for anybody
	After   []int64  // jobs that must be done before
	Lag     Minute   // that passes after them, such as for the customer to accept
	// During says that it is done in a time of its own, such as a booked one, which
	// takes no other hours: from Ready on.
	During bool
}

// before orders jobs by their turns.
func before(a, b *Job) int {
	switch {
	case a.Rank != b.Rank:
		return cmp.Compare(a.Rank, b.Rank)
	case a.Turn != b.Turn:
		return cmp.Compare(a.Turn, b.Turn)
	case a.Age != b.Age:
		return cmp.Compare(a.Age, b.Age)
	}
	return cmp.Compare(a.ID, b.ID)
}

// A Place is where a job landed.
type Place struct {
	Person   PersonID // 0 where nobody can do it
	From, To Minute   // from its first minute to the end of its last
}

// Placed says whether somebody can do it within the hours that are known.
func (p Place) Placed() bool { return p.To > 0 }

// A Piece is a stretch that somebody spends on a job.
type Piece struct {
	Job    int64
	Person PersonID
	Span
}

// A Plan is all jobs placed.
type Plan struct {
	Now     Minute
	Workers []Worker // with the time that is left
	Pieces  []Piece
	jobs    []Job // in their turn
	places  []Place
	index   map[int64]int // of a job, by its id
	last    Minute        // turn
}

// Make places jobs from now on. Neither jobs nor workers are changed. A job that
// waits on one that cannot be placed cannot be placed itself; those that wait on
// each other neither.
func Make(workers []Worker, jobs []Job, now Minute) *Plan {
	turns := make([]*Job, len(jobs))
	for i := range jobs {
		turns[i] = &jobs[i]
	}
	slices.SortFunc(turns, before)
	p := &Plan{Now: now, Workers: slices.Clone(workers), Pieces: make([]Piece, 0, len(jobs)+len(jobs)/4)}
	p.add(turns)
	return p
}

// At gives where a job landed; nowhere for one that is not in the plan.
func (p *Plan) At(job int64) Place {
	if i, is := p.index[job]; is {
		return p.places[i]
	}
	return Place{}
}

// The states of a job on its way into the plan.
const (
	untouched = iota
	onTheWay
	done
)

// add places jobs in their turn, each after those that it waits on, whose turn is no
// later then. It is done once.
func (p *Plan) add(turns []*Job) {
	for i := range p.Workers {
		p.Workers[i].Free = slices.Clone(p.Workers[i].Free)
	}
	p.jobs, p.places, p.index = make([]Job, len(turns)), make([]Place, len(turns)), make(map[int64]int, len(turns))
	for i, j := range turns {
		p.jobs[i], p.index[j.ID] = *j, i
		p.last = max(p.last, j.Turn)
	}
	state := make([]byte, len(turns))
	var put func(i int)
	put = func(i int) {
		state[i] = onTheWay
		j := &p.jobs[i]
		from, can := max(p.Now, j.Ready), true
		for _, id := range j.After {
			k, waits := p.index[id]
			if !waits { // it is done
				continue
			}
			if state[k] == untouched {
				put(k)
			}
			can = can && state[k] == done && p.places[k].Placed()
			from = max(from, p.places[k].To+j.Lag)
		}
		if can {
			p.places[i] = p.place(j, from)
		}
		state[i] = done
	}
	for i := range p.jobs {
		if state[i] == untouched {
			put(i)
		}
	}
}

// place gives a job to whoever is done with it first, from a minute on.
func (p *Plan) place(j *Job, from Minute) Place {
	if j.During {
		return Place{j.Person, from, from + Minute(j.Minutes)}
	}
	best, ends := -1, Minute(0)
	for i := range p.Workers {
		if w := &p.Workers[i]; w.Can(j) {
			if end, ok := w.ends(from, Minute(j.Minutes), ends); ok && (best < 0 || end < ends) {
				best, ends = i, end
			}
		}
	}
	if best < 0 {
		return Place{}
	}
	return p.take(&p.Workers[best], j, from)
}

// first gives the worker's first span that ends after a minute.
func (w *Worker) first(from Minute) int {
	if len(w.Free) > 0 && w.Free[0].To > from { // mostly
		return 0
	}
	i, _ := slices.BinarySearchFunc(w.Free, from, func(s Span, m Minute) int {
		if s.To <= m {
			return -1
		}
		return 1
	})
	return i
}

// ends gives when the worker would be done with so many minutes from a minute on;
// false when that is no sooner than a minute that is known, or never.
func (w *Worker) ends(from, minutes, sooner Minute) (Minute, bool) {
	for i := w.first(from); i < len(w.Free); i++ {
		s := w.Free[i]
		s.From = max(s.From, from)
		if sooner > 0 && s.From >= sooner {
			return 0, false
		}
		if room := s.To - s.From; minutes > room {
			minutes -= room
			continue
		}
		return s.From + minutes, true
	}
	return 0, false
}

// take spends a worker's time on a job.
func (p *Plan) take(w *Worker, j *Job, from Minute) Place {
	left := Minute(j.Minutes)
	place := Place{Person: w.ID}
	i := w.first(from)
	began := i
	for {
		s := w.Free[i]
		start := max(s.From, from)
		n := min(left, s.To-start)
		if place.From == 0 {
			place.From = start
		}
		place.To = start + n
		if n > 0 {
			p.Pieces = append(p.Pieces, Piece{j.ID, w.ID, Span{start, start + n}})
		}
		left -= n
		if left > 0 {
			if start > s.From { // what lies before from stays free
				w.Free[i].To = start
				began = i + 1
			}
			i++
			continue
		}
		var rest []Span
		if start > s.From {
			rest = append(rest, Span{s.From, start})
		}
		if start+n < s.To {
			rest = append(rest, Span{start + n, s.To})
		}
		if began == 0 && len(rest) == 1 && rest[0].To == s.To { // mostly: the time before is used up
			w.Free[i] = rest[0]
			w.Free = w.Free[i:]
		} else {
			w.Free = slices.Replace(w.Free, began, i+1, rest...)
		}
		return place
	}
}

// Ends gives when the last job of each order line is done; a line of which a job
// cannot be placed has none.
func (p *Plan) Ends() map[int64]Minute {
	ends := map[int64]Minute{}
	never := map[int64]bool{}
	for i := range p.jobs {
		j := &p.jobs[i]
		if j.Line == 0 {
			continue
		}
		place := p.places[i]
		if !place.Placed() {
			never[j.Line] = true
		}
		ends[j.Line] = max(ends[j.Line], place.To)
	}
	for line := range never {
		delete(ends, line)
	}
	return ends
}

// Jobs lists the jobs in their turn.
func (p *Plan) Jobs() []Job { return p.jobs }
