package booking

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"
)

// Whatever was booked through the rule overlaps nowhere; and what is put beside it
// by force is found, as a count minute by minute finds it.
func TestOverlaps(t *testing.T) {
	rnd := rand.New(rand.NewPCG(71, 72))
	zero := at("2026-11-25", 480)
	found := 0
	for range 300 {
		number := 1 + rnd.IntN(3)
		var list []Taken
		for range rnd.IntN(9) {
			from := zero.Add(time.Duration(15*rnd.IntN(30)) * time.Minute)
			end := from.Add(time.Duration(15*(1+rnd.IntN(6))) * time.Minute)
			list = append(list, Taken{Start: from, End: end, To: end.Add(time.Duration(15*rnd.IntN(2)) * time.Minute), People: 1, Product: int64(rnd.IntN(2)), Private: rnd.IntN(2) == 0})
		}
		most := 0
		for m := range 900 {
			now := zero.Add(time.Duration(m) * time.Minute)
			var there []int
			for i := range list {
				b := &list[i]
				if now.Before(b.Start) || !now.Before(b.To) {
					continue
				}
				if !slices.ContainsFunc(there, func(j int) bool {
					o := &list[j]
					return !b.Private && !o.Private && b.Product == o.Product && b.Start.Equal(o.Start) && b.End.Equal(o.End)
				}) {
					there = append(there, i)
				}
			}
			most = max(most, len(there))
		}
		over := Overlaps(list, number)
		if (most > number) != (len(over) > 0) {
			t.Fatalf("%d at once of %d, but it finds %v in %+v", most, number, over, list)
		}
		found += len(over)
	}
	if found < 50 {
		t.Errorf("only %d were found, so little was tried", found)
	}
}
