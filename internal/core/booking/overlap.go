package booking

import (
	"cmp"
	"slices"
	"time"
)

// Overlaps names the bookings, by their places in the list, that take a resource or
// a product beyond its number: those that begin while it is full. Bookings that
// share an opening count once.
func Overlaps(taken []Taken, number int) []int {
	order := make([]int, len(taken))
	for i := range taken {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(taken[a].from().Unix(), taken[b].from().Unix()) })
	var over []int
	var there []int // those that are not over yet, one of each opening
	for _, i := range order {
		t := &taken[i]
		there = slices.DeleteFunc(there, func(j int) bool { return !taken[j].to().After(t.from()) })
		if slices.ContainsFunc(there, func(j int) bool { return t.shares(&taken[j]) }) {
			continue
		}
		if len(there) >= number {
			over = append(over, i)
		}
		there = append(there, i)
	}
	return over
}

func (t *Taken) shares(o *Taken) bool {
	return !t.Private && !o.Private && t.Product == o.Product && t.Start.Equal(o.Start) && t.End.Equal(o.End)
}

// from and to are what nothing else may have, as it was kept.
func (t *Taken) from() time.Time {
	if t.From.IsZero() {
		return t.Start
	}
	return minTime(t.From, t.Start)
}

func (t *Taken) to() time.Time { return maxTime(t.To, t.End) }
