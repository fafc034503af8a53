package workplan

import (
	"slices"
	"time"
)

// A chainKey names the rounds of one step for one part.
type chainKey struct {
	step StepKey
	part string
}

func (i *Item) chain() chainKey { return chainKey{i.Step, i.Part} }

// chain groups items by step and part, each group in the order of its rounds.
func chain(items []Item) map[chainKey][]Item {
	chains := map[chainKey][]Item{}
	for _, i := range items {
		chains[i.chain()] = append(chains[i.chain()], i)
	}
	for _, c := range chains {
		slices.SortFunc(c, func(a, b Item) int { return a.Round - b.Round })
	}
	return chains
}

// finished gives when the last round of a step was done; zero while one is open.
func finished(c []Item) time.Time {
	if len(c) == 0 || c[len(c)-1].SetAside {
		return time.Time{}
	}
	return c[len(c)-1].Done
}
