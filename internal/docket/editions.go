// Package docket holds what the shop and the desk both do with an order line:
// open it with its edition, evaluate it, change its answers, plan its work
// again and keep it.
package docket

import (
	"fmt"
	"log/slog"
	"sync"

	lru "github.com/hashicorp/golang-lru/v2"

	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// mostEditions is how many compiled editions are kept: more than a business has
// on sale at once. Those that were not used for the longest time make room.
const mostEditions = 500

// Editions keeps compiled editions. They never change, so what is kept is never
// old.
type Editions struct {
	begin sync.Once
	kept  *lru.Cache[int64, *product.Edition]
}

func (e *Editions) cache() *lru.Cache[int64, *product.Edition] {
	e.begin.Do(func() { e.kept, _ = lru.New[int64, *product.Edition](mostEditions) })
	return e.kept
}

// Kept gives an edition that was made ready before.
func (e *Editions) Kept(id int64) (*product.Edition, bool) { return e.cache().Get(id) }

// Of gives the edition of an order line as it is sold in the order's currency.
func (e *Editions) Of(tx *store.Tx, id int64, c money.Currency) (*product.Edition, error) {
	ready, err := e.Get(tx, id)
	if err != nil {
		return nil, err
	}
	if in, ok := ready.In(c); ok {
		return in, nil
	}
	return ready, nil // from before it was left
}

// Get gives an edition ready to be evaluated.
func (e *Editions) Get(tx *store.Tx, id int64) (*product.Edition, error) {
	if ready, ok := e.Kept(id); ok {
		return ready, nil
	}
	row, err := tx.EditionByID(id)
	if err != nil {
		return nil, fmt.Errorf("edition %d: %w", id, err)
	}
	ready, _ := product.Compile(row.Content)
	for _, f := range ready.Lacks() {
		slog.Error("an edition cannot be computed as it was published", "edition", id, "part", f.Part, "key", f.Key, "finding", f.Said(words.English))
	}
	e.cache().Add(id, ready)
	return ready, nil
}
