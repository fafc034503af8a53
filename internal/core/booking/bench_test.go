package booking

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"ruvo/internal/core/calendar"
)

// aYear is a cabin of twenty, let by the night, with thirty seasons and 50 000
// bookings.
func aYear() (*Rule, Query) {
	r := &Rule{By: ByNight, Places: 4, Horizon: 370, Stays: &Stays{Arrive: 15 * 60, Depart: 10 * 60}, Needs: []Need{{Name: "Cabin"}}}
	q := query("2026-01-01 00:00", "2026-01-01", "2026-12-31")
	q.Product, q.Resources = 1, map[ResourceID]Resource{}
	for i := range ResourceID(20) {
		r.Needs[0].Of = append(r.Needs[0].Of, i+1)
		q.Resources[i+1] = Resource{ID: i + 1, Name: fmt.Sprint("Cabin ", i+1), Number: 10}
	}
	for i := range 30 {
		first := day("2026-01-01").Add(12 * i)
		r.Seasons = append(r.Seasons, Season{Name: fmt.Sprint(i), From: Edge{Day: first}, To: Edge{Day: first.Add(11)}, Rank: i % 3, Span: &Span{Least: 1 + i%3}})
	}
	rnd := rand.New(rand.NewPCG(1, 1))
	for range 50_000 {
		first := q.From.Add(rnd.IntN(360))
		q.Taken = append(q.Taken, Taken{Start: first.At(15*60, berlin), End: first.Add(1).At(10*60, berlin), People: 2, Product: 1, Private: true, With: []ResourceID{1 + rnd.Int64N(20)}})
	}
	return r, q
}

func BenchmarkYearOfStays(b *testing.B) {
	r, q := aYear()
	for b.Loop() {
		r.Arrivals(q)
	}
}

func BenchmarkWhyADay(b *testing.B) {
	r, q := aYear()
	on := day("2026-06-05")
	from, to := on.Add(-3).At(0, berlin), on.Add(3).At(0, berlin)
	var near []Taken
	for _, t := range q.Taken {
		if t.Start.Before(to) && t.End.After(from) {
			near = append(near, t)
		}
	}
	q.Taken = near
	for b.Loop() {
		r.Day(on, q)
	}
}

// BenchmarkYearOfStaysByHand is the yardstick: what is taken stands in a table by
// cabin and night, and each day looks for one that is free for as long as its season
// asks for.
func BenchmarkYearOfStaysByHand(b *testing.B) {
	r, q := aYear()
	for b.Loop() {
		var nights [21][367]int
		for i := range q.Taken {
			t := &q.Taken[i]
			first := calendar.DayOf(t.Start.In(q.Zone)).Since(q.From)
			for n := first; n < calendar.DayOf(t.End.In(q.Zone)).Since(q.From); n++ {
				nights[t.With[0]][n]++
			}
		}
		free := 0
		for d := range 360 {
			least := 1
			for i := range r.Seasons {
				if s := &r.Seasons[i]; !q.From.Add(d).Before(s.From.Day) && !q.From.Add(d).After(s.To.Day) {
					least = s.Span.Least
				}
			}
			for cabin := 1; cabin <= 20; cabin++ {
				most := 0
				for n := range least {
					most = max(most, nights[cabin][d+n])
				}
				if most < 10 {
					free++
					break
				}
			}
		}
		if free == 0 {
			b.Fatal("nothing is free")
		}
	}
}
