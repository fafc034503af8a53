package tally

import (
	"math/rand/v2"
	"slices"
	"testing"
)

func TestCounts(t *testing.T) {
	got := Counts([]string{"fair", "net", "friend", "net", "fair", "net"}, 2)
	if !slices.Equal(got, []Count{{"net", 3}, {"fair", 2}}) {
		t.Errorf("%v", got)
	}
	if got := Counts([]string{"b", "a"}, 9); got[0].What != "a" {
		t.Errorf("alike: %v", got)
	}
}

func TestWords(t *testing.T) {
	got := Words([]string{"The night, the NIGHT by the sea", "Night over Zürich", "a b c"}, 3)
	if !slices.Equal(got, []Count{{"night", 2}, {"over", 1}, {"zürich", 1}}) {
		t.Errorf("%v", got)
	}
}

// The ages of eleven people in Python's documentation style: quartiles as
// statistics.quantiles(method="inclusive") gives them (Python 3, run for this check on
// 1…11: 3.5, 6, 8.5), and Sturges' 1 + log2 11 = 4.46 rounded up to five bins.
func TestNumbers(t *testing.T) {
	var values []float64
	for i := 11; i >= 1; i-- {
		values = append(values, float64(i))
	}
	got := Of(values)
	if got.N != 11 || got.Least != 1 || got.Lower != 3.5 || got.Median != 6 || got.Upper != 8.5 || got.Great != 11 || len(got.Bins) != 5 {
		t.Errorf("%+v", got)
	}
	if got.Bins[0] != (Bin{1, 3, 2}) || got.Bins[4] != (Bin{9, 11, 3}) {
		t.Errorf("%+v", got.Bins)
	}
	if one := Of([]float64{7, 7}); len(one.Bins) != 1 || one.Bins[0].N != 2 || Of(nil).N != 0 {
		t.Errorf("%+v", one)
	}
}

// Every number lies in one bin.
func TestBinsHoldAll(t *testing.T) {
	rnd := rand.New(rand.NewPCG(3, 4))
	for range 500 {
		values := make([]float64, 1+rnd.IntN(200))
		for i := range values {
			values[i] = float64(rnd.IntN(50))
		}
		n := 0
		for _, b := range Of(values).Bins {
			n += b.N
		}
		if n != len(values) {
			t.Fatalf("%d of %d: %v", n, len(values), values)
		}
	}
}
