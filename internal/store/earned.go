package store

import (
	"time"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/workplan"
)

// LastOrders lists the newest orders placed from an instant on that were not
// cancelled, at most so many, the newest first.
func (tx *Tx) LastOrders(from time.Time, to time.Time, most int) ([]Order, error) {
	var rows []Order
	err := tx.db.Where("state = ? AND placed_at >= ? AND placed_at < ?", order.Placed, from.UTC(), to.UTC()).Order("placed_at DESC, id DESC").Limit(most).Find(&rows).Error
	return rows, err
}

// FeesOf sums what payment services kept of the payments of orders.
func (tx *Tx) FeesOf(orders []int64) (map[int64]money.Amount, error) {
	var rows []struct {
		OrderID int64
		Amount  money.Amount
	}
	err := tx.db.Raw("SELECT order_id, SUM(amount) AS amount FROM ledger_entries WHERE kind = ? AND order_id IN (SELECT value FROM json_each(?)) GROUP BY order_id", ledger.Fee, idList(orders)).Scan(&rows).Error
	all := make(map[int64]money.Amount, len(rows))
	for _, r := range rows {
		all[r.OrderID] = r.Amount
	}
	return all, err
}

// LinesOfOrders lists the lines of orders, by order and place.
func (tx *Tx) LinesOfOrders(orders []int64) (map[int64][]OrderLine, error) {
	rows, err := list[OrderLine](tx, "order_id, position", "order_id IN (SELECT value FROM json_each(?))", idList(orders))
	all := make(map[int64][]OrderLine, len(orders))
	for _, r := range rows {
		all[r.OrderID] = append(all[r.OrderID], r)
	}
	return all, err
}

// ItemsOfLines lists the work items of order lines.
func (tx *Tx) ItemsOfLines(lines []int64) (map[int64][]WorkItem, error) {
	rows, err := list[WorkItem](tx, "id", "line_id IN (SELECT value FROM json_each(?))", idList(lines))
	all := make(map[int64][]WorkItem, len(lines))
	for _, r := range rows {
		all[r.LineID] = append(all[r.LineID], r)
	}
	return all, err
}

// MeasuredItems lists the finished items whose time was measured, the newest first: of
// one step, or of all with no product.
func (tx *Tx) MeasuredItems(product int64, step workplan.StepKey, most int) ([]WorkItem, error) {
	q := tx.db.Where("done_at IS NOT NULL AND NOT set_aside AND taken > 0 AND step <> ''")
	if product != 0 {
		q = q.Where("product_id = ? AND step = ?", product, step)
	}
	var rows []WorkItem
	err := q.Order("done_at DESC, id DESC").Limit(most).Find(&rows).Error
	return rows, err
}
