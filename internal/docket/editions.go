// Package docket holds what the shop and the desk both do with an order line:
// open it with its edition, evaluate it, plan its work again and keep it; and
// the views of products and answers that both show.
package docket

import (
	"fmt"
	"sync"

	"ruvo/internal/core/product"
	"ruvo/internal/store"
)

// Editions keeps compiled editions. They never change, so they are never
// forgotten.
type Editions struct {
	mu   sync.RWMutex
	kept map[int64]*product.Edition
}

// Kept gives an edition that was made ready before.
func (e *Editions) Kept(id int64) (*product.Edition, bool) {
	e.mu.RLock()
	defer e.mu.RUnlock()
	ready, ok := e.kept[id]
	return ready, ok
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
	e.mu.Lock()
	defer e.mu.Unlock()
	if e.kept == nil {
		e.kept = map[int64]*product.Edition{}
	}
	e.kept[id] = ready
	return ready, nil
}
