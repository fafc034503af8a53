package placing

import (
	"time"

	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/stock"
	"ruvo/internal/store"
)

// Adjust takes from stock, or puts back, what other answers of an ordered line
// take more or less than those before. It gives what is missing instead, and
// moves nothing then. A line from before something was counted took nothing of it.
func Adjust(tx *store.Tx, row *store.OrderLine, e *product.Edition, was, is *evaluate.Result, author string, now time.Time) ([]question.Fault, error) {
	shelf, stocks, err := Shelf(tx, row.ProductID, e, row.ID, now)
	if err != nil || shelf == nil {
		return nil, err
	}
	holds, err := tx.HoldsOf(row)
	if err != nil {
		return nil, err
	}
	type move struct {
		hold store.StockHold
		by   int
	}
	var moves []move
	var short []question.Fault
	for _, s := range stocks {
		k := stock.Key{Question: s.Question, Choice: s.Choice}
		hold := store.StockHold{StockID: s.ID, LineID: row.ID}
		for _, b := range holds {
			if b.StockID == s.ID {
				hold = b
			}
		}
		before := stock.Needs(k, was.Answers, row.Quantity)
		by := stock.Needs(k, is.Answers, row.Quantity) - before
		switch {
		case by == 0 || before > 0 && !hold.Taken:
			continue
		case by > shelf.Left[k]:
			short = append(short, question.Fault{Key: k.Question, Code: "sold_out_choice"})
		}
		hold.Pieces, hold.Taken, hold.HeldUntil = hold.Pieces+by, true, nil
		moves = append(moves, move{hold, by})
	}
	if len(short) > 0 {
		return short, nil
	}
	for _, m := range moves {
		why := "sold"
		if m.by < 0 {
			why = "returned"
		}
		if err := tx.MoveStock(m.hold.StockID, -m.by, why, author, &row.OrderID, now); err != nil {
			return nil, err
		}
		if err := tx.SaveHold(&m.hold); err != nil {
			return nil, err
		}
	}
	return nil, nil
}
