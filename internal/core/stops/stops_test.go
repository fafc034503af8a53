package stops

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// Outside check: the median of grouped data, L + (n/2 − F)/f · w, as in any textbook of
// statistics (from memory). Times of 1–5 seconds in spans up to 3 and up to 5: of ten
// counts, four up to 3 and six above, the middle lies at 3 + (5−4)/6 · 2.
func TestMedianOfGroupedData(t *testing.T) {
	counts := make([]int, Spans())
	counts[2], counts[3] = 4, 6 // from 2 to 3, from 3 to 5
	if got, ok := Median(counts); !ok || got < 3.33 || got > 3.34 {
		t.Errorf("%v, %v", got, ok)
	}
	if _, ok := Median(make([]int, Spans())); ok {
		t.Error("nothing has a median")
	}
}

// The median of what was counted lies in the span of the true median, for whatever
// times people take.
func TestTheMedianLiesInItsSpan(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 500 {
		times := make([]int, 1+2*r.IntN(40)) // an odd number, which has one middle
		counts := make([]int, Spans())
		for i := range times {
			times[i] = int(r.ExpFloat64() * 25)
			at, ok := Span(min(times[i], MostSeconds))
			if !ok {
				t.Fatalf("%d seconds are no time", times[i])
			}
			counts[at]++
		}
		slices.Sort(times)
		middle := min(times[len(times)/2], MostSeconds)
		at, _ := Span(middle)
		low := 0
		if at > 0 {
			low = edges[at-1]
		}
		if got, ok := Median(counts); !ok || got < float64(low) || got > float64(edges[at]) {
			t.Errorf("of %v: %v, and the middle is %d", times, got, middle)
		}
	}
	for _, bad := range []int{-1, MostSeconds + 1} {
		if _, ok := Span(bad); ok {
			t.Errorf("%d seconds count", bad)
		}
	}
}
