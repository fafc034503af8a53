package schedule

import (
	"cmp"
	"maps"
	"slices"
)

// A Queue is what a new order comes to: the plan of what waits, and by when each
// order line in it is to be done so that its promise holds.
type Queue struct {
	Plan    *Plan
	Workers []Worker         // with all their time
	Limits  map[int64]Minute // by order line, without the seller's slack
	// Promised is by when customers were told that lines are done; a line that is not
	// in it has its limit.
	Promised map[int64]Minute
	ends     map[int64]Minute
}

// NewQueue makes a queue of jobs.
func NewQueue(workers []Worker, jobs []Job, limits map[int64]Minute, now Minute) *Queue {
	q := &Queue{Plan: Make(workers, jobs, now), Workers: workers, Limits: limits}
	q.ends = q.Plan.Ends()
	return q
}

// An Offer is when the jobs of a new order line will be done.
type Offer struct {
	Ends Minute
	// Turn is what the line's jobs must not come before, so that earlier promises
	// hold; 0 where their own due times do no harm.
	Turn Minute
	// Later are the order lines whose promise does not hold any more.
	Later []Later
}

// Later is an order line that will be done later than promised.
type Later struct {
	Line          int64
	Before, After Minute // when it will be done, without and with the change
	Limit         Minute // by when it was to be done
}

// Offer finds when the jobs of a new line will be done; false when somebody for
// them, or the hours, are missing. They take their turn by when they are due as
// long as that makes nobody's promise late, else after those whom it would make late,
// and at the last after all that waits. A rush goes before all others, and tells whose
// promise that makes late.
func (q *Queue) Offer(jobs []Job) (Offer, bool) {
	if slices.ContainsFunc(jobs, func(j Job) bool { return j.Rank < Usual }) {
		return q.with(jobs, q.promised)
	}
	turned := slices.Clone(jobs)
	for turn := Minute(0); turn < q.Plan.last && slices.ContainsFunc(turned, func(j Job) bool { return j.Turn < q.Plan.last }); {
		o, ok := q.with(turned, q.limit)
		if !ok {
			break
		}
		if o.Turn = turn; len(o.Later) == 0 {
			return o, true
		}
		next := q.lastOf(o.Later)
		if next <= turn {
			break
		}
		turn = next
		for i := range turned {
			turned[i].Turn = max(jobs[i].Turn, turn)
		}
	}
	return q.after(jobs)
}

// lastOf gives the last turn of the jobs of some lines: what comes after it leaves
// their places as they are.
func (q *Queue) lastOf(lines []Later) (turn Minute) {
	for i := range q.Plan.jobs {
		j := &q.Plan.jobs[i]
		if slices.ContainsFunc(lines, func(l Later) bool { return l.Line == j.Line }) {
			turn = max(turn, j.Turn)
		}
	}
	return turn
}

// with places the jobs among the others, and tells which lines that makes later than
// they may be.
func (q *Queue) with(jobs []Job, may func(line int64) Minute) (Offer, bool) {
	p := Make(q.Workers, slices.Concat(q.Plan.jobs, jobs), q.Plan.Now)
	ends, ok := last(p, jobs)
	return Offer{Ends: ends, Later: q.later(p.Ends(), may)}, ok
}

func (q *Queue) limit(line int64) Minute { return q.Limits[line] }

func (q *Queue) promised(line int64) Minute {
	if by, is := q.Promised[line]; is {
		return by
	}
	return q.Limits[line]
}

// after places the jobs after all others, whose places stay what they are.
func (q *Queue) after(jobs []Job) (Offer, bool) {
	p := &Plan{Now: q.Plan.Now, Workers: slices.Clone(q.Plan.Workers)}
	turned, turns := slices.Clone(jobs), make([]*Job, len(jobs))
	for i := range turned {
		turned[i].Turn, turns[i] = max(turned[i].Turn, q.Plan.last), &turned[i]
	}
	slices.SortFunc(turns, before)
	p.add(turns)
	ends, ok := last(p, jobs)
	return Offer{Ends: ends, Turn: q.Plan.last}, ok
}

func last(p *Plan, jobs []Job) (ends Minute, ok bool) {
	for _, j := range jobs {
		place := p.At(j.ID)
		if !place.Placed() {
			return 0, false
		}
		ends = max(ends, place.To)
	}
	return ends, true
}

// later lists the lines that will be done later than they may be, and later than they
// would be as it is.
func (q *Queue) later(ends map[int64]Minute, may func(line int64) Minute) []Later {
	var list []Later
	for line := range q.Limits {
		limit := may(line)
		if end, is := ends[line]; is && end > limit && end > q.ends[line] {
			list = append(list, Later{line, q.ends[line], end, limit})
		}
	}
	slices.SortFunc(list, func(a, b Later) int { return cmp.Compare(a.Line, b.Line) })
	return list
}

// Late lists the lines that will be done later than promised, as it is.
func (q *Queue) Late() []Later {
	var list []Later
	for _, line := range slices.Sorted(maps.Keys(q.Limits)) {
		if end, is := q.ends[line]; is && end > q.promised(line) {
			list = append(list, Later{line, end, end, q.promised(line)})
		}
	}
	return list
}

// Mends says whether a plan keeps the promise of a line that is late as it is,
// without making another one later than promised.
func (q *Queue) Mends(p *Plan, line int64) bool {
	ends := p.Ends()
	end, is := ends[line]
	return is && end <= q.promised(line) && len(q.later(ends, q.promised)) == 0
}

// A Move is an order line that will be done at another time.
type Move struct {
	Line          int64
	Before, After Minute
}

// If tells what comes of it when some jobs are changed: when each order line will
// be done then, if that is another time than now, and the plan.
func (q *Queue) If(changed []Job) (*Plan, []Move) {
	jobs := slices.Clone(q.Plan.jobs)
	for _, c := range changed {
		if i := slices.IndexFunc(jobs, func(j Job) bool { return j.ID == c.ID }); i >= 0 {
			jobs[i] = c
		}
	}
	p := Make(q.Workers, jobs, q.Plan.Now)
	ends := p.Ends()
	var moves []Move
	for _, line := range slices.Sorted(maps.Keys(q.ends)) {
		if ends[line] != q.ends[line] {
			moves = append(moves, Move{line, q.ends[line], ends[line]})
		}
	}
	return p, moves
}

// Ahead counts the minutes of all that waits.
func (q *Queue) Ahead() (minutes int) {
	for i := range q.Plan.jobs {
		minutes += q.Plan.jobs[i].Minutes
	}
	return minutes
}
