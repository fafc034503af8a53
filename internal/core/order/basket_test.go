package order

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
)

func names(b Basket) []string {
	list := []string{}
	for _, e := range b.Entries {
		list = append(list, e.ID)
	}
	return list
}

func TestBasketsAreMergedAndNotReplaced(t *testing.T) {
	phone := Basket{Entries: []Entry{{ID: "a", Product: "lamp", Quantity: 1}, {ID: "a2", Of: "a", Product: "hook"}, {ID: "b", Product: "chart"}}}
	laptop := Basket{Entries: []Entry{{ID: "c", Product: "frame"}, {ID: "a", Product: "lamp", Quantity: 3}}}
	all := phone.Merged(laptop)
	if got := names(all); !slices.Equal(got, []string{"a", "a2", "b", "c"}) || all.Entries[0].Quantity != 3 {
		t.Errorf("%v", all)
	}
	// Taken out on the one, with its add-on, it is not brought back by the other.
	out := all.Merged(Basket{Entries: []Entry{{ID: "b"}, {ID: "c"}}, Gone: []string{"a"}})
	if got := names(out.Merged(phone)); !slices.Equal(got, []string{"b", "c"}) {
		t.Errorf("%v", got)
	}
}

// Merging what was merged already changes nothing, and no entry that nobody took out is
// lost, in whatever order devices come.
func TestMergingLosesNothing(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for range 300 {
		var devices []Basket
		gone := map[string]bool{}
		for d := range 3 {
			var b Basket
			for range r.IntN(6) {
				id := fmt.Sprintf("%d-%d", r.IntN(2)*d, r.IntN(9))
				if r.IntN(5) == 0 {
					b.Gone, gone[id] = append(b.Gone, id), true
				} else if !slices.Contains(names(b), id) {
					b.Entries = append(b.Entries, Entry{ID: id, Answers: map[string]json.RawMessage{}})
				}
			}
			devices = append(devices, b)
		}
		var all Basket
		for _, d := range devices {
			all = all.Merged(d)
		}
		for _, d := range devices {
			again := all.Merged(d)
			for _, e := range d.Entries {
				if there := slices.Contains(names(again), e.ID); there == gone[e.ID] {
					t.Fatalf("%s is there %v, and gone %v: %v of %v", e.ID, there, gone[e.ID], again, devices)
				}
			}
			if len(again.Entries) != len(all.Entries) {
				t.Fatalf("merged again it is %v, and was %v", again, all)
			}
		}
	}
}
