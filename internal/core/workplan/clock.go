package workplan

import "time"

// A Clock measures how long somebody works on an item.
type Clock struct {
	Taken time.Duration
	Since time.Time // when what runs was last counted; zero while it does not run
}

// Runs says whether somebody works on it now.
func (c *Clock) Runs() bool { return !c.Since.IsZero() }

// Settle counts what passed for the clocks that one person has running. Who works on
// several things at once spends the time on all of them in equal shares, so that no
// minute is counted twice. A clock that was set back counts nothing.
func Settle(clocks []*Clock, now time.Time) {
	running := 0
	for _, c := range clocks {
		if c.Runs() {
			running++
		}
	}
	for _, c := range clocks {
		if c.Runs() {
			c.Taken += max(now.Sub(c.Since), 0) / time.Duration(running)
			c.Since = now
		}
	}
}

// Left gives how many minutes of work are left of an item that was planned for so
// many: at least one, since it is not done.
func (c *Clock) Left(planned int) int {
	return max(planned-int(c.Taken/time.Minute), min(planned, 1))
}
