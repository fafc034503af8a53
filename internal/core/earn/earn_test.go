package earn

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

// Quantiles by definition 7 of Hyndman and Fan (1996). The values are those of Python
// 3.11's standard library, statistics.quantiles(…, method="inclusive"), which its
// manual says is that definition; of 1 to 10 they are also what R's quantile() gives
// by default (from memory).
func TestQuantilesAgainstAReference(t *testing.T) {
	heights := []float64{105, 129, 87, 86, 111, 111, 89, 81, 108, 92, 110, 100, 75, 105, 103, 109, 76, 119, 99, 91, 103, 129, 106, 101, 84, 111, 74, 87, 86, 103, 103, 106, 86, 111, 75, 87, 102, 121, 111, 88, 89, 101, 106, 95, 103, 107, 101, 81, 109, 104}
	one := []float64{1, 2, 3, 4, 5, 6, 7, 8, 9, 10}
	for _, c := range []struct {
		values, want []float64
		parts        int
	}{
		{one, []float64{3.25, 5.5, 7.75}, 4},
		{one, []float64{1.9, 2.8, 3.7, 4.6, 5.5, 6.4, 7.3, 8.2, 9.1}, 10},
		{heights, []float64{87.25, 102.5, 107.75}, 4},
		{heights, []float64{81.0, 86.8, 89.0, 99.6, 102.5, 103.4, 106.0, 109.2, 111.0}, 10},
	} {
		sorted := slices.Sorted(slices.Values(c.values))
		for i, want := range c.want {
			if got := Quantile(sorted, float64(i+1)/float64(c.parts)); math.Abs(got-want) > 1e-9 {
				t.Errorf("quantile %d of %d: %g, want %g", i+1, c.parts, got, want)
			}
		}
	}
	if s := Summarise(nil); s != (Summary{}) {
		t.Errorf("of nothing: %+v", s)
	}
	if s := Summarise([]float64{7}); s.Median != 7 || s.Lower != 7 || s.Upper != 7 {
		t.Errorf("of one: %+v", s)
	}
}

// measured makes samples that took some minutes, and so many for each of what is
// counted.
func measured(rnd *rand.Rand, n, fixed, each int, noise float64) []Sample {
	m := workplan.Minutes{Fixed: 10, Each: 2, Of: "title", Per: workplan.Character}
	var all []Sample
	for range n {
		x := 3 + rnd.IntN(30)
		all = append(all, Sample{Planned: 10 + 2*x, Taken: fixed + each*x + int(noise*rnd.NormFloat64()), Units: 1, Minutes: m})
	}
	return all
}

// A line is found again though more than a quarter of the samples are far from it: the
// median of slopes breaks down at 1 − 1/√2 ≈ 29 % (Rousseeuw and Leroy, Robust
// Regression and Outlier Detection, 1987; from memory).
func TestLearningDespiteOutliers(t *testing.T) {
	rnd := rand.New(rand.NewPCG(7, 7))
	for range 50 {
		fixed, each := 4+rnd.IntN(30), 1+rnd.IntN(5)
		samples := measured(rnd, 60, fixed, each, 0)
		for i := range 15 { // forgotten clocks
			samples[i].Taken = 400 + rnd.IntN(300)
		}
		l := Learn(samples, samples[0].Minutes)
		if l.Model == nil || l.Model.Fixed != fixed || l.Model.Each != each {
			t.Fatalf("%d and %d for each: learned %+v", fixed, each, l.Model)
		}
		if l.Then > l.Off {
			t.Errorf("the model is farther off than the plan: %g, %g", l.Then, l.Off)
		}
	}
}

// The choice that takes longer is found, however the plan saw it, and told as what
// explains the most.
func TestLearningWhichChoiceTakesLonger(t *testing.T) {
	rnd := rand.New(rand.NewPCG(3, 1))
	var samples []Sample
	now := workplan.Minutes{Fixed: 20}
	for i := range 60 {
		s := Sample{Planned: 20, Taken: 30 + rnd.IntN(3), Units: 1, Minutes: now, Codes: map[question.Key][]string{
			"ink": {[]string{"black", "gold", "silver"}[i%3]}, "paper": {[]string{"thin", "thick"}[rnd.IntN(2)]},
		}}
		if i%3 == 1 {
			s.Taken += 15
		}
		samples = append(samples, s)
	}
	l := Learn(samples, now)
	if len(l.Groups) == 0 || l.Groups[0].Of != "ink" || l.Groups[0].Explains < 0.7 {
		t.Fatalf("%+v", l.Groups)
	}
	if l.Model.Fixed < 30 || l.Model.Fixed > 32 || len(l.Model.Choices) != 1 || l.Model.Choices[0].Code != "gold" || l.Model.Choices[0].Minutes < 14 || l.Model.Choices[0].Minutes > 16 {
		t.Errorf("%+v", l.Model)
	}
	if got := Predict(samples[1], now, *l.Model); got < 44 || got > 48 {
		t.Errorf("predicted %d for %d", got, samples[1].Taken)
	}
	if few := Learn(samples[:Least-1], now); few.Model != nil || few.Taken.N != Least-1 {
		t.Errorf("learned from few: %+v", few)
	}
}

func TestLearningPerUnit(t *testing.T) {
	now := workplan.Minutes{Fixed: 5, Unit: 2}
	var samples []Sample
	for n := 1; n <= 12; n++ {
		samples = append(samples, Sample{Planned: 5 + 2*n, Taken: 8 + 4*n, Units: n, Minutes: now})
	}
	if l := Learn(samples, now); l.Model.Fixed != 8 || l.Model.Unit != 4 {
		t.Errorf("%+v", l.Model)
	}
}

// What was earned adds up, however it is looked at: by product, by customer and by step
// it is the same to the last coin.
func TestEarningsAddUp(t *testing.T) {
	rnd := rand.New(rand.NewPCG(1, 2))
	names := []string{"a", "b", "c"}
	for range 200 {
		var lines []Line
		var income, fees, cost money.Amount
		minutes := 0
		for i := range 1 + rnd.IntN(30) {
			l := Line{ID: int64(i), Product: names[rnd.IntN(3)], Customer: names[rnd.IntN(3)], Steps: map[string]Figures{}}
			l.Income, l.Fees, l.Cost = money.Amount(rnd.IntN(10_000)), money.Amount(rnd.IntN(99)), money.Amount(rnd.IntN(900))
			for _, s := range names {
				f := Figures{Minutes: 1 + rnd.IntN(60)}
				l.Steps[s] = f
				l.Minutes += f.Minutes
			}
			income, fees, cost, minutes = income+l.Income, fees+l.Fees, cost+l.Cost, minutes+l.Minutes
			lines = append(lines, l)
		}
		for _, kind := range []Kind{ByProduct, ByCustomer, ByStep} {
			var sum Figures
			for _, r := range By(kind, lines) {
				sum.add(r.Figures)
			}
			if sum.Income != income || sum.Fees != fees || sum.Cost != cost || sum.Minutes != minutes {
				t.Fatalf("by %s: %+v, want %d %d %d %d", kind, sum, income, fees, cost, minutes)
			}
		}
	}
}

func TestWhatAnHourEarns(t *testing.T) {
	f := Figures{Income: 5000, Fees: 120, Cost: 880, Minutes: 90}
	if per, ok := f.PerHour(); !ok || per != 2667 { // 40.00 in an hour and a half
		t.Errorf("%d, %v", per, ok)
	}
	if _, ok := (Figures{Income: 100}).PerHour(); ok {
		t.Error("no work earns by the hour")
	}
}
