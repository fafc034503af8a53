package booking

import (
	"time"

	"ruvo/internal/core/words"
)

// A Kept is a time of a product that the seller keeps free by hand.
type Kept struct {
	Start, End time.Time
	People     int // so many places; 0 is all of them
	Reason     string
}

// keeps gives how many places of a time are kept, and why; all that there are when
// one keeps all.
func (h *held) keeps(start, end time.Time) (people int, why *words.Message) {
	if len(h.q.Kept) == 0 {
		return 0, nil
	}
	places := h.at(start).Places
	for _, k := range h.q.Kept {
		if !k.Start.Before(end) || !k.End.After(start) {
			continue
		}
		if people += k.People; k.People == 0 {
			people = places
		}
		if why = words.Tell("why.kept_bare"); k.Reason != "" {
			why = words.Tell("why.kept", "reason", k.Reason)
		}
	}
	return min(people, places), why
}
