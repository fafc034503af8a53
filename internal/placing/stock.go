// Package placing holds places, pieces and coupons for a checkout, makes the
// checkout an order, and gives all of it free again.
package placing

import (
	"slices"
	"time"

	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/stock"
	"ruvo/internal/store"
)

// Shelf gives what is left of a product for an order line, which is left out
// itself; nil when nothing of it is counted. What a sheet counts counts only for
// the questions that it brought in.
func Shelf(tx *store.Tx, id int64, e *product.Edition, line int64, now time.Time) (*stock.Shelf, []store.Stock, error) {
	stocks, err := tx.StocksWith(id, e.SheetsUsed())
	stocks = slices.DeleteFunc(stocks, func(s store.Stock) bool {
		item, ok := e.Item(s.Question)
		return s.SheetID != nil && (!ok || item.Sheet != product.SheetID(*s.SheetID))
	})
	if err != nil || len(stocks) == 0 {
		return nil, nil, err
	}
	held, err := tx.HeldStock(now, line)
	if err != nil {
		return nil, nil, err
	}
	s := &stock.Shelf{Left: map[stock.Key]int{}, Closes: map[stock.Key]bool{}}
	for _, row := range stocks {
		k := stock.Key{Question: row.Question, Choice: row.Choice}
		s.Left[k], s.Closes[k] = row.Pieces-held[row.ID], row.Closes
	}
	return s, stocks, nil
}

// HoldStock holds for a line what its answers take, until a time. It gives
// what is missing instead, and holds nothing then.
func HoldStock(tx *store.Tx, row *store.OrderLine, e *product.Edition, r *evaluate.Result, now, until time.Time) ([]question.Fault, error) {
	shelf, stocks, err := Shelf(tx, row.ProductID, e, row.ID, now)
	if err != nil || shelf == nil {
		return nil, err
	}
	if faults := shelf.Check(r.Answers, row.Quantity); len(faults) > 0 {
		return faults, nil
	}
	until = until.UTC()
	before, err := tx.HoldsOf(row)
	if err != nil {
		return nil, err
	}
	for _, s := range stocks {
		n := stock.Needs(stock.Key{Question: s.Question, Choice: s.Choice}, r.Answers, row.Quantity)
		hold := store.StockHold{StockID: s.ID, LineID: row.ID}
		for _, b := range before {
			if b.StockID == s.ID {
				hold = b
			}
		}
		if hold.Pieces, hold.HeldUntil = n, &until; n == 0 && hold.ID == 0 {
			continue
		}
		if err := tx.SaveHold(&hold); err != nil {
			return nil, err
		}
	}
	return nil, nil
}

// TakeStock takes from stock what a line holds, now that it is paid.
func TakeStock(tx *store.Tx, row *store.OrderLine, customer string, now time.Time) error {
	holds, err := tx.HoldsOf(row)
	if err != nil {
		return err
	}
	for _, h := range holds {
		if h.Taken || h.Pieces == 0 {
			continue
		}
		if err := tx.MoveStock(h.StockID, -h.Pieces, "sold", customer, &row.OrderID, now); err != nil {
			return err
		}
		h.Taken, h.HeldUntil = true, nil
		if err := tx.SaveHold(&h); err != nil {
			return err
		}
	}
	return nil
}

// ReturnStock puts back what a line took.
func ReturnStock(tx *store.Tx, row *store.OrderLine, author string, now time.Time) error {
	holds, err := tx.HoldsOf(row)
	if err != nil {
		return err
	}
	for _, h := range holds {
		if !h.Taken {
			continue
		}
		if err := tx.MoveStock(h.StockID, h.Pieces, "returned", author, &row.OrderID, now); err != nil {
			return err
		}
		h.Taken, h.Pieces = false, 0
		if err := tx.SaveHold(&h); err != nil {
			return err
		}
	}
	return nil
}
