package store

import (
	"strconv"
	"strings"
	"time"

	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
)

// A LineFilter narrows the list of order lines. Zero fields do not.
type LineFilter struct {
	Product int64
	Brief   order.Brief
	Work    string // "open" or "done"
	Text    string // part of a name, an address or a number
	Before  int64  // only smaller ids
	Most    int
}

// A ListedLine is a row of the list of orders.
type ListedLine struct {
	OrderLine
	Number   int64
	Name     string
	Email    string
	Currency money.Currency
	PlacedAt time.Time
	State    order.State
	Total    money.Amount
}

// ListLines lists the lines of orders that were placed, the newest first.
func (tx *Tx) ListLines(f LineFilter) ([]ListedLine, error) {
	q := tx.db.Table("order_lines l").Select("l.*, o.number, o.name, o.email, o.currency, o.placed_at, o.state, o.total").
		Joins("JOIN orders o ON o.id = l.order_id").Where("l.placed")
	if f.Product != 0 {
		q = q.Where("l.product_id = ?", f.Product)
	}
	if f.Brief != "" {
		q = q.Where("l.brief = ?", f.Brief)
	}
	switch f.Work {
	case "open":
		q = q.Where("l.open_items > 0")
	case "done":
		q = q.Where("l.open_items = 0")
	}
	if n, err := strconv.ParseInt(f.Text, 10, 64); err == nil {
		q = q.Where("o.number = ?", n)
	} else if f.Text != "" {
		like := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(f.Text) + "%"
		q = q.Where(`o.name LIKE ? ESCAPE '\' OR o.email LIKE ? ESCAPE '\'`, like, like)
	}
	if f.Before > 0 {
		q = q.Where("l.id < ?", f.Before)
	}
	var rows []ListedLine
	err := q.Order("l.id DESC").Limit(f.Most).Scan(&rows).Error
	return rows, err
}

// OrdersOf finds the orders of lines by their ids.
func (tx *Tx) OrdersOf(ids []int64) (map[int64]Order, error) {
	rows, err := list[Order](tx, "id", "id IN ?", ids)
	m := make(map[int64]Order, len(rows))
	for _, o := range rows {
		m[o.ID] = o
	}
	return m, err
}
