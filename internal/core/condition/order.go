package condition

import (
	"slices"
	"strings"

	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A CycleError names the keys whose conditions wait on each other, in the
// order of the waiting: each is asked only when the next one says so, and the
// last one waits on the first.
type CycleError struct{ Keys []question.Key }

func (e *CycleError) Error() string { return e.Told().Error() }

// Told implements words.Told.
func (e *CycleError) Told() *words.Message {
	parts := make([]string, 0, len(e.Keys)+1)
	for _, k := range append(slices.Clone(e.Keys), e.Keys[0]) {
		parts = append(parts, string(k))
	}
	return words.Tell("condition.cycle", "keys", strings.Join(parts, " → "))
}

// Order sorts keys so that each comes after all that its condition reads,
// and otherwise keeps the order given. Needs that are not among the keys are
// passed over. The time is linear in keys and needs.
func Order(keys []question.Key, needs map[question.Key][]question.Key) ([]question.Key, error) {
	const (
		open = iota + 1
		done
	)
	state := make(map[question.Key]int, len(keys))
	known := make(map[question.Key]bool, len(keys))
	for _, k := range keys {
		known[k] = true
	}
	sorted := make([]question.Key, 0, len(keys))
	var path []question.Key
	var visit func(k question.Key) error
	visit = func(k question.Key) error {
		switch state[k] {
		case done:
			return nil
		case open:
			return &CycleError{slices.Clone(path[slices.Index(path, k):])}
		}
		state[k] = open
		path = append(path, k)
		for _, n := range needs[k] {
			if known[n] {
				if err := visit(n); err != nil {
					return err
				}
			}
		}
		path = path[:len(path)-1]
		state[k] = done
		sorted = append(sorted, k)
		return nil
	}
	for _, k := range keys {
		if err := visit(k); err != nil {
			return nil, err
		}
	}
	return sorted, nil
}
