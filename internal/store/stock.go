package store

import (
	"slices"
	"time"

	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
)

// A Stock counts the pieces on hand of a product, or of one of its choices; or of
// a choice of a sheet, once for all products that use it.
type Stock struct {
	ID        int64
	ProductID *int64       // nil for a sheet's
	SheetID   *int64       // nil for a product's
	Question  question.Key // empty for the product itself
	Choice    string
	Pieces    int
	Low       int  // from how many on it is low
	Closes    bool // sold out, it closes the whole product
}

// A StockHold is what an order line takes, or holds for its checkout.
type StockHold struct {
	ID        int64
	StockID   int64
	LineID    int64
	Pieces    int
	Taken     bool
	HeldUntil *time.Time
}

// A StockMove is one change of the pieces on hand.
type StockMove struct {
	ID      int64
	StockID int64
	Delta   int
	Pieces  int // afterwards
	Why     string
	Author  string
	OrderID *int64
	At      time.Time
}

// TableName is stock_changes.
func (StockMove) TableName() string { return "stock_changes" }

// Stocks lists all that is counted.
func (tx *Tx) Stocks() ([]Stock, error) {
	return list[Stock](tx, "product_id, question, choice", "true")
}

// StocksOf lists what is counted of a product by itself.
func (tx *Tx) StocksOf(product int64) ([]Stock, error) {
	if !tx.counted(product) {
		return nil, nil
	}
	return list[Stock](tx, "id", "product_id = ?", product)
}

// StocksOfSheet lists what is counted of a sheet, for all products that use it.
func (tx *Tx) StocksOfSheet(sheet int64) ([]Stock, error) {
	return list[Stock](tx, "id", "sheet_id = ?", sheet)
}

// StocksWith lists what is counted of a product and of the sheets that it uses.
// What it counts by itself it does not share.
func (tx *Tx) StocksWith(id int64, sheets []product.SheetID) ([]Stock, error) {
	if !tx.counted(id) {
		return nil, nil
	}
	rows, err := list[Stock](tx, "sheet_id IS NOT NULL, id", "product_id = ? OR sheet_id IN ?", id, sheets)
	var own []Stock
	for _, s := range rows {
		if s.SheetID != nil && slices.ContainsFunc(own, func(o Stock) bool { return o.Question == s.Question && o.Choice == s.Choice }) {
			continue
		}
		own = append(own, s)
	}
	return own, err
}

// StockByID finds what is counted.
func (tx *Tx) StockByID(id int64) (Stock, error) { return first[Stock](tx, "id = ?", id) }

// SaveStock adds or updates what is counted.
func (tx *Tx) SaveStock(s *Stock) error {
	tx.catalogue = true
	return tx.db.Save(s).Error
}

// DropStock stops counting.
func (tx *Tx) DropStock(id int64) error {
	tx.catalogue = true
	return tx.db.Delete(&Stock{}, id).Error
}

// HeldStock gives how many pieces running checkouts hold, leaving out one
// order line. While a payment is under way its pieces are held.
func (tx *Tx) HeldStock(now time.Time, except int64) (map[int64]int, error) {
	var rows []struct {
		StockID int64
		N       int
	}
	err := tx.db.Raw(`SELECT h.stock_id, SUM(h.pieces) AS n FROM stock_holds h JOIN order_lines l ON l.id = h.line_id JOIN orders o ON o.id = l.order_id
		WHERE NOT h.taken AND (h.held_until > ? AND h.held_until < ? OR o.state IN ?) AND h.line_id <> ? GROUP BY h.stock_id`, now.UTC(), now.Add(longestHold).UTC(), order.Holding(), except).Scan(&rows).Error
	held := make(map[int64]int, len(rows))
	for _, r := range rows {
		held[r.StockID] = r.N
	}
	return held, err
}

// HoldsOf lists what an order line takes or holds.
func (tx *Tx) HoldsOf(line *OrderLine) ([]StockHold, error) {
	if !tx.counted(line.ProductID) {
		return nil, nil
	}
	return list[StockHold](tx, "id", "line_id = ?", line.ID)
}

// SaveHold adds or updates what an order line takes or holds.
func (tx *Tx) SaveHold(h *StockHold) error { return tx.db.Save(h).Error }

// MoveStock changes the pieces on hand and keeps who and what changed it. There
// are never fewer than none; the change that is kept is what was left of it.
func (tx *Tx) MoveStock(id int64, delta int, why, author string, order *int64, at time.Time) error {
	s, err := tx.StockByID(id)
	if err != nil {
		return err
	}
	delta = max(delta, -s.Pieces)
	if delta == 0 {
		return nil
	}
	s.Pieces += delta
	if err := tx.db.Model(&Stock{}).Where("id = ?", id).Update("pieces", s.Pieces).Error; err != nil {
		return err
	}
	return tx.db.Create(&StockMove{StockID: id, Delta: delta, Pieces: s.Pieces, Why: why, Author: author, OrderID: order, At: at.UTC()}).Error
}

// StockMoves lists the newest changes of the pieces on hand.
func (tx *Tx) StockMoves(id int64, most int) ([]StockMove, error) {
	var rows []StockMove
	err := tx.db.Where("stock_id = ?", id).Order("id DESC").Limit(most).Find(&rows).Error
	return rows, err
}

// StockSums adds up the changes of everything that is counted.
func (tx *Tx) StockSums() (map[int64]int, error) {
	var rows []struct {
		StockID int64
		N       int
	}
	err := tx.db.Raw("SELECT stock_id, SUM(delta) AS n FROM stock_changes GROUP BY stock_id").Scan(&rows).Error
	sums := make(map[int64]int, len(rows))
	for _, r := range rows {
		sums[r.StockID] = r.N
	}
	return sums, err
}
