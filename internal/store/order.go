package store

import (
	"encoding/json"
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
)

// An Order is what is bought in one checkout.
type Order struct {
	ID        int64
	Number    *int64 // given when it is placed
	Checkout  string // hash of the name that the browser gave the checkout
	Name      string
	Email     string
	Language  string
	Slip      charge.Slip `gorm:"serializer:json"`
	Total     money.Amount
	Currency  money.Currency
	State     order.State
	CreatedAt time.Time
	PlacedAt  *time.Time
	HeldUntil *time.Time

	// What its slip is made from besides its lines.
	Terms    charge.Terms    `gorm:"serializer:json"`
	Coupons  []charge.Coupon `gorm:"serializer:json"`
	Tip      money.Amount
	Group    string      // the customer's group when it was prepared
	Buyer    order.Buyer `gorm:"serializer:json"`
	Reversed bool        // the buyer owes the tax
	PricedOn string      // the day whose prices it has

	CancelledAt *time.Time
	ProvenAt    *time.Time // when a link that was mailed was first opened
}

// An OrderLine is one product of an order with its answers.
type OrderLine struct {
	ID          int64
	OrderID     int64
	Position    int
	Parent      int // the position of the line that it is an add-on of; 0 for none
	ProductID   int64
	EditionID   int64
	Quantity    int
	Answers     map[string]json.RawMessage `gorm:"serializer:json"`
	Later       []question.Key             `gorm:"serializer:json"`
	Slip        charge.Slip                `gorm:"serializer:json"`
	Version     int                        // counts the changes of its answers
	Brief       order.Brief
	Missing     []question.Key `gorm:"serializer:json"`
	BriefedAt   *time.Time     // when the brief became complete
	ClosedAt    *time.Time
	CancelledAt *time.Time
	RemindedAt  *time.Time
	PromisedAt  *time.Time
	OpenItems   int
	Placed      bool
}

// A Change is one change of an answer, in the words of the time.
type Change struct {
	ID     int64
	LineID int64
	Key    question.Key
	Old    string
	New    string
	Author string
	At     time.Time
}

// TableName is answer_changes.
func (Change) TableName() string { return "answer_changes" }

// OrderByCheckout finds an order by its checkout's hash.
func (tx *Tx) OrderByCheckout(hash string) (Order, error) {
	return first[Order](tx, "checkout = ?", hash)
}

// OrderByID finds an order.
func (tx *Tx) OrderByID(id int64) (Order, error) { return first[Order](tx, "id = ?", id) }

// SaveOrder adds or updates an order.
func (tx *Tx) SaveOrder(o *Order) error { return tx.db.Save(o).Error }

// OrderByNumber finds an order that was placed.
func (tx *Tx) OrderByNumber(number int64) (Order, error) {
	return first[Order](tx, "number = ?", number)
}

// OrdersPlaced lists orders placed in a stretch of time that were not
// cancelled.
func (tx *Tx) OrdersPlaced(from, to time.Time) ([]Order, error) {
	return list[Order](tx, "id", "state = ? AND placed_at >= ? AND placed_at < ?", order.Placed, from.UTC(), to.UTC())
}

// NextNumber gives the number for the next order that is placed.
func (tx *Tx) NextNumber() (int64, error) {
	var n int64
	err := tx.db.Raw("SELECT COALESCE(MAX(number), 1000) + 1 FROM orders").Scan(&n).Error
	return n, err
}

// Lines lists an order's lines.
func (tx *Tx) Lines(order int64) ([]OrderLine, error) {
	return list[OrderLine](tx, "position", "order_id = ?", order)
}

// LineByID finds an order line.
func (tx *Tx) LineByID(id int64) (OrderLine, error) { return first[OrderLine](tx, "id = ?", id) }

// SaveLine adds or updates an order line.
func (tx *Tx) SaveLine(l *OrderLine) error { return tx.db.Save(l).Error }

// ReplaceLines takes away the lines of an order that is not placed, with the
// places held for them, to make room for new ones.
func (tx *Tx) ReplaceLines(order int64) error {
	return tx.db.Exec("DELETE FROM order_lines WHERE order_id = ? AND NOT placed", order).Error
}

// PlacedOrders lists orders that were placed, cancelled or not, by id, those
// after one.
func (tx *Tx) PlacedOrders(after int64, most int) ([]Order, error) {
	var rows []Order
	err := tx.db.Where("(number IS NOT NULL OR state IN ?) AND id > ?", []order.State{order.Placed, order.Cancelled}, after).Order("id").Limit(most).Find(&rows).Error
	return rows, err
}

// LastAnswers gives the answers of a product's newest placed lines.
func (tx *Tx) LastAnswers(product int64, most int) ([]map[string]json.RawMessage, error) {
	var rows []OrderLine
	err := tx.db.Select("answers").Where("placed = 1 AND product_id = ?", product).Order("id DESC").Limit(most).Find(&rows).Error
	list := make([]map[string]json.RawMessage, len(rows))
	for i, r := range rows {
		list[i] = r.Answers
	}
	return list, err
}

// AddChanges keeps changes of answers.
func (tx *Tx) AddChanges(c []Change) error {
	if len(c) == 0 {
		return nil
	}
	return tx.db.Create(&c).Error
}

// Changes lists the changes of a line's answers, the oldest first.
func (tx *Tx) Changes(line int64) ([]Change, error) {
	return list[Change](tx, "id", "line_id = ?", line)
}

// SweepCheckouts takes away the checkouts that were begun before a time, hold
// nothing any more and have neither money nor an attempt whose outcome is not
// known, with all that belongs to them. It gives how many.
func (tx *Tx) SweepCheckouts(before, now time.Time) (int, error) {
	var ids []int64
	err := tx.db.Model(&Order{}).
		Where("state = ? AND created_at < ? AND (held_until IS NULL OR held_until < ?) AND NOT EXISTS (SELECT 1 FROM attempts a WHERE a.order_id = orders.id AND (a.state <> ? OR a.created_at >= ?)) AND NOT EXISTS (SELECT 1 FROM ledger_entries e WHERE e.order_id = orders.id)",
			order.Prepared, before.UTC(), now.UTC(), ledger.Refused, before.UTC()).
		Limit(500).Pluck("id", &ids).Error
	if err != nil || len(ids) == 0 {
		return 0, err
	}
	for _, statement := range []string{
		"DELETE FROM coupon_uses WHERE order_id IN ?",
		"DELETE FROM attempts WHERE order_id IN ?", // that were refused
		"UPDATE uploads SET order_id = NULL WHERE order_id IN ?",
		"DELETE FROM order_lines WHERE order_id IN ?", // with bookings and pieces that they held
		"DELETE FROM orders WHERE id IN ?",
	} {
		if err := tx.db.Exec(statement, ids).Error; err != nil {
			return 0, err
		}
	}
	return len(ids), nil
}
