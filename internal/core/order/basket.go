package order

import (
	"encoding/json"
	"slices"
)

// An Entry is a line of a basket that is kept, known by a name that the browser gave it.
type Entry struct {
	ID       string                     `json:"id"`
	Of       string                     `json:"of,omitempty"` // the entry that it is an add-on of
	Product  string                     `json:"product"`
	Edition  int64                      `json:"edition,omitempty"`
	Quantity int                        `json:"quantity"`
	Answers  map[string]json.RawMessage `json:"answers"`
	Later    []string                   `json:"later,omitempty"`
}

// A Basket is what somebody put together on all of their devices.
type Basket struct {
	Entries []Entry  `json:"entries"`
	Gone    []string `json:"gone,omitempty"` // names of what was taken out or ordered, so that no device brings it back
}

// mostGone is how many names of what is gone are kept, the newest.
const mostGone = 300

// Merged gives a basket with what another device has: nothing is replaced but an entry
// by its own newer state, and what was taken out on one of them is out. An add-on goes
// with what it is of.
func (b Basket) Merged(with Basket) Basket {
	gone := slices.Clone(b.Gone)
	for _, id := range with.Gone {
		if !slices.Contains(gone, id) {
			gone = append(gone, id)
		}
	}
	if n := len(gone) - mostGone; n > 0 {
		gone = gone[n:]
	}
	all := []Entry{}
	for _, e := range slices.Concat(b.Entries, with.Entries) {
		if slices.Contains(gone, e.ID) || e.Of != "" && slices.Contains(gone, e.Of) {
			continue
		}
		if at := slices.IndexFunc(all, func(o Entry) bool { return o.ID == e.ID }); at >= 0 {
			all[at] = e
		} else {
			all = append(all, e)
		}
	}
	all = slices.DeleteFunc(all, func(e Entry) bool {
		return e.Of != "" && !slices.ContainsFunc(all, func(o Entry) bool { return o.ID == e.Of })
	})
	return Basket{Entries: all[:min(len(all), MostLines)], Gone: gone}
}
