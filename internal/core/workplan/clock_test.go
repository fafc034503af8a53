package workplan

import (
	"math/rand/v2"
	"testing"
	"time"
)

// No minute is counted twice, however many things somebody works on at once, and
// whenever they begin and pause.
func TestClocksShareTheTime(t *testing.T) {
	a, b := &Clock{}, &Clock{}
	both := []*Clock{a, b}
	at := func(minutes int) time.Time { return paid.Add(time.Duration(minutes) * time.Minute) }
	a.Since = at(0)
	Settle(both, at(10)) // b is begun
	b.Since = at(10)
	Settle(both, at(30)) // a is paused
	a.Since = time.Time{}
	Settle(both, at(35))
	if a.Taken != 20*time.Minute || b.Taken != 15*time.Minute {
		t.Errorf("%v and %v", a.Taken, b.Taken)
	}
	Settle(both, at(20)) // the clock was set back
	if a.Taken+b.Taken != 35*time.Minute {
		t.Errorf("%v and %v", a.Taken, b.Taken)
	}
	r := rand.New(rand.NewPCG(6, 6))
	for range 200 {
		clocks := []*Clock{{}, {}, {}, {}}
		now, worked := paid, time.Duration(0)
		for range 30 {
			passed := time.Duration(r.IntN(100)) * time.Minute
			any := false
			for _, c := range clocks {
				any = any || c.Runs()
			}
			if now = now.Add(passed); any {
				worked += passed
			}
			Settle(clocks, now)
			if c := clocks[r.IntN(len(clocks))]; c.Runs() {
				c.Since = time.Time{}
			} else {
				c.Since = now
			}
		}
		sum := time.Duration(0)
		for _, c := range clocks {
			sum += c.Taken
		}
		if d := worked - sum; d < 0 || d > time.Microsecond {
			t.Fatalf("%v were worked and %v counted", worked, sum)
		}
	}
}

func TestMinutesLeft(t *testing.T) {
	for _, c := range []struct{ planned, taken, left int }{{20, 0, 20}, {20, 15, 5}, {20, 20, 1}, {20, 99, 1}, {0, 5, 0}} {
		if got := (&Clock{Taken: time.Duration(c.taken) * time.Minute}).Left(c.planned); got != c.left {
			t.Errorf("of %d after %d there are %d left, want %d", c.planned, c.taken, got, c.left)
		}
	}
}
