// Package whatif does the work of earlier orders again with other prices, minutes,
// hours or people: what would have come in, how full the weeks would have been, and
// what would have been late.
package whatif

import (
	"cmp"
	"slices"

	"ruvo/internal/core/money"
	"ruvo/internal/core/schedule"
)

// An Order is an order line to be worked on again.
type Order struct {
	ID       int64
	Placed   schedule.Minute
	Promised schedule.Minute // when the promised day is over; 0 without a promise
	Income   money.Amount    // without tax
	Left     money.Amount    // of it, after fees and cost
	Jobs     []schedule.Job
}

// A Week is how full a week was.
type Week struct {
	From   schedule.Minute
	Worked int // minutes
	Free   int // minutes that people had for it
}

// A Late is an order line that was late.
type Late struct {
	ID   int64
	Days int // begun ones, after the promised one
}

// An Outcome is what came of it.
type Outcome struct {
	Orders  int
	Income  money.Amount
	Left    money.Amount
	Minutes int
	Weeks   []Week
	Late    []Late
	Undone  int // order lines that nobody could do within the hours
}

const day = 24 * 60 // minutes

// Run does the work of order lines again: all of it is placed as the schedule places
// work, none of it before its order was placed. Weeks are told by their first minutes,
// in order.
func Run(orders []Order, workers []schedule.Worker, weeks []schedule.Minute) Outcome {
	out := Outcome{Orders: len(orders)}
	var jobs []schedule.Job
	start := schedule.Minute(0)
	for i := range orders {
		o := &orders[i]
		out.Income += o.Income
		out.Left += o.Left
		if start == 0 || o.Placed < start {
			start = o.Placed
		}
		for _, j := range o.Jobs {
			j.Ready = max(j.Ready, o.Placed)
			out.Minutes += j.Minutes
			jobs = append(jobs, j)
		}
	}
	plan := schedule.Make(workers, jobs, start)
	for i := range orders {
		o := &orders[i]
		ends, done := schedule.Minute(0), true
		for _, j := range o.Jobs {
			place := plan.At(j.ID)
			ends, done = max(ends, place.To), done && place.Placed()
		}
		switch {
		case !done:
			out.Undone++
		case o.Promised != 0 && ends > o.Promised:
			out.Late = append(out.Late, Late{o.ID, int((ends - o.Promised + day - 1) / day)})
		}
	}
	slices.SortStableFunc(out.Late, func(a, b Late) int { return cmp.Compare(b.Days, a.Days) })
	for i, from := range weeks {
		to := from + 7*day
		if i+1 < len(weeks) {
			to = weeks[i+1]
		}
		w := Week{From: from}
		for _, p := range plan.Pieces {
			w.Worked += within(p.Span, from, to)
		}
		for k := range workers {
			for _, s := range workers[k].Free {
				w.Free += within(s, from, to)
			}
		}
		out.Weeks = append(out.Weeks, w)
	}
	return out
}

func within(s schedule.Span, from, to schedule.Minute) int {
	return int(max(min(s.To, to)-max(s.From, from), 0))
}

// Scaled gives a number so many per cent larger, rounded to the nearest.
func Scaled(n, percent int) int { return max((n*(100+percent)+50)/100, 0) }
