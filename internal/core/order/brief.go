package order

import (
	"slices"
	"time"

	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

// A Brief is the state that the answers of an order line are in together.
type Brief string

const (
	Waiting  Brief = "waiting"  // something required is missing
	Complete Brief = "complete" // every required answer is there and valid
	Changed  Brief = "changed"  // answers changed after work began with them
	Closed   Brief = "closed"   // no more changes
)

// Briefs lists them.
func Briefs() []Brief { return []Brief{Waiting, Complete, Changed, Closed} }

// BriefOf says what state a brief is in.
func BriefOf(closed bool, missing []question.Key, items []workplan.Item) Brief {
	switch {
	case closed:
		return Closed
	case len(missing) > 0:
		return Waiting
	case slices.ContainsFunc(items, func(i workplan.Item) bool {
		return i.Done.IsZero() && (i.Round > 0 && i.Request == 0 || len(i.Marks) > 0)
	}):
		return Changed
	}
	return Complete
}

// Due gives when the last of the work is due by its plan; zero while a due time is
// not known.
func Due(items []workplan.Item) (last time.Time) {
	for _, i := range items {
		if i.Due.IsZero() {
			return time.Time{}
		}
		if i.Due.After(last) {
			last = i.Due
		}
	}
	return last
}

// Promising says whether an order line can be promised by a day: its work is there
// and waits for nothing but itself.
func Promising(s State, items []workplan.Item) bool {
	open := func(i workplan.Item) bool { return i.Done.IsZero() }
	stuck := func(i workplan.Item) bool {
		return open(i) && i.Waiting() && (i.After == "" || i.Brief || len(i.Missing) > 0)
	}
	return s == Placed && slices.ContainsFunc(items, open) && !slices.ContainsFunc(items, stuck)
}

// Open gives the questions that a customer can still answer after payment:
// those of the briefing, those left until later, and what is required. An
// optional question that was passed over before payment is not asked again.
func Open(r *evaluate.Result) []question.Key {
	open := []question.Key{}
	for _, a := range r.Asked {
		if !a.Item.Asked() || a.Answered || a.Item.Moment == question.Desk {
			continue
		}
		if a.Item.Moment == question.Briefing || a.Later || a.Item.Required {
			open = append(open, a.Item.Key)
		}
	}
	return open
}

// Counted gives how many of the questions that customers are asked are
// answered, and how many there are.
func Counted(r *evaluate.Result) (answered, total int) {
	for _, a := range r.Asked {
		if a.Answered && a.Item.Moment != question.Desk {
			answered++
		}
	}
	return answered, answered + len(Open(r))
}
