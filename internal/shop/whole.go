package shop

import (
	"context"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// wholeOf gives what conditions read of a basket: its products and their categories.
// What is not sold any more counts for nothing.
func (s *Shop) wholeOf(ctx context.Context, tx *store.Tx, lines []api.BasketLine, l words.Language) (condition.Whole, error) {
	w := condition.Whole{Language: string(l)}
	for _, line := range lines {
		if slices.Contains(w.Products, line.Product) {
			continue
		}
		_, e, err := s.onSale(ctx, tx, line.Product, l)
		if unsold(err) {
			continue
		}
		if err != nil {
			return w, err
		}
		w.Products = append(w.Products, line.Product)
		if e.Category != "" && !slices.Contains(w.Categories, e.Category) {
			w.Categories = append(w.Categories, e.Category)
		}
	}
	slices.Sort(w.Products)
	slices.Sort(w.Categories)
	return w, nil
}
