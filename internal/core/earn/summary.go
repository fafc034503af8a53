// Package earn tells what work really takes and what an hour of it earns: minutes that
// are learned from those that were measured, and what came in, went out and was left
// of each product, extra, choice, step and customer.
package earn

import (
	"math"
	"slices"
)

// Quantile gives a quantile of values in order, 0 ≤ p ≤ 1, between those at (n−1)p:
// definition 7 of Hyndman and Fan, "Sample quantiles in statistical packages", The
// American Statistician 50 (1996). Zero of no values.
func Quantile(sorted []float64, p float64) float64 {
	if len(sorted) == 0 {
		return 0
	}
	at := float64(len(sorted)-1) * p
	low := int(math.Floor(at))
	if low+1 >= len(sorted) {
		return sorted[len(sorted)-1]
	}
	return sorted[low] + (at-float64(low))*(sorted[low+1]-sorted[low])
}

// A Summary tells of many values where the middle is, and the middle half.
type Summary struct {
	N                    int
	Median, Lower, Upper float64 // the quartiles
}

// Summarise gives the summary of values.
func Summarise(values []float64) Summary {
	s := slices.Sorted(slices.Values(values))
	return Summary{len(s), Quantile(s, 0.5), Quantile(s, 0.25), Quantile(s, 0.75)}
}

func median(values []float64) float64 { return Quantile(slices.Sorted(slices.Values(values)), 0.5) }

// spread gives how far values lie from their median, all together.
func spread(values []float64) (sum float64) {
	m := median(values)
	for _, v := range values {
		sum += math.Abs(v - m)
	}
	return sum
}
