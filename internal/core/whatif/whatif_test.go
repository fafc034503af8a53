package whatif

import (
	"math/rand/v2"
	"testing"

	"ruvo/internal/core/money"
	"ruvo/internal/core/schedule"
)

const hour = 60

// week gives the weekdays of some weeks from a Monday at minute 0, nine to five.
func week(id int64, weeks int) schedule.Worker {
	w := schedule.Worker{ID: id}
	for d := range weeks * 7 {
		if d%7 < 5 {
			from := schedule.Minute(d*day + 9*hour)
			w.Free = append(w.Free, schedule.Span{From: from, To: from + 8*hour})
		}
	}
	return w
}

func order(id int64, placed schedule.Minute, minutes int, promised schedule.Minute) Order {
	return Order{ID: id, Placed: placed, Promised: promised, Income: 1000, Left: 800, Jobs: []schedule.Job{{ID: id, Line: id, Minutes: minutes, Turn: promised}}}
}

// Worked by hand: two orders of ten hours on Monday for one person; the second is done
// on Wednesday, a day after it was promised. With another person it is in time.
func TestWorkedExample(t *testing.T) {
	orders := []Order{order(1, 0, 10*hour, 2*day), order(2, 0, 10*hour, 2*day)}
	weeks := []schedule.Minute{0, 7 * day}
	now := Run(orders, []schedule.Worker{week(1, 3)}, weeks)
	if len(now.Late) != 1 || now.Late[0] != (Late{2, 1}) || now.Income != 2000 || now.Left != 1600 || now.Minutes != 20*hour {
		t.Errorf("%+v", now)
	}
	if now.Weeks[0] != (Week{0, 20 * hour, 40 * hour}) || now.Weeks[1] != (Week{7 * day, 0, 40 * hour}) {
		t.Errorf("%+v", now.Weeks)
	}
	if two := Run(orders, []schedule.Worker{week(1, 3), week(2, 3)}, weeks); len(two.Late) != 0 {
		t.Errorf("with two: %+v", two)
	}
	if none := Run(orders, nil, weeks); none.Undone != 2 {
		t.Errorf("with nobody: %+v", none)
	}
}

// Nothing is done before it was ordered, and nobody works more than their hours.
func TestHoursHold(t *testing.T) {
	rnd := rand.New(rand.NewPCG(5, 5))
	for range 60 {
		var orders []Order
		total := 0
		for i := range 1 + rnd.IntN(40) {
			placed := schedule.Minute(rnd.IntN(10 * day))
			minutes := 10 + rnd.IntN(300)
			total += minutes
			orders = append(orders, order(int64(i+1), placed, minutes, placed+schedule.Minute(rnd.IntN(5*day))))
		}
		weeks := []schedule.Minute{}
		for w := range 40 {
			weeks = append(weeks, schedule.Minute(w*7*day))
		}
		out := Run(orders, []schedule.Worker{week(1, 40), week(2, 40)}, weeks)
		sum := 0
		for _, w := range out.Weeks {
			sum += w.Worked
			if w.Worked > w.Free {
				t.Fatalf("%d of %d minutes", w.Worked, w.Free)
			}
		}
		if sum != total || out.Undone != 0 {
			t.Fatalf("%d of %d minutes, %d undone", sum, total, out.Undone)
		}
	}
}

func TestScaled(t *testing.T) {
	for _, c := range [][3]int{{100, 10, 110}, {15, 40, 21}, {5, -50, 3}, {3, -90, 0}, {0, 50, 0}} {
		if got := Scaled(c[0], c[1]); got != c[2] {
			t.Errorf("%d %+d %%: %d, want %d", c[0], c[1], got, c[2])
		}
	}
	if money.Amount(Scaled(1999, 10)) != 2199 {
		t.Error("prices are scaled otherwise")
	}
}
