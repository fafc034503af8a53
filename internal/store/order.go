package store

import (
	"encoding/json"
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// The states of an order.
const (
	OrderOpen    = "open"    // waits for its payment
	OrderConfirm = "confirm" // the customer's bank asks for a confirmation
	OrderPaid    = "paid"
	// OrderCancelled was paid and will not be worked on.
	OrderCancelled = "cancelled"
)

// An Order is what is bought in one checkout.
type Order struct {
	ID        int64
	Number    *int64 // given at payment
	Checkout  string // hash of the name that the browser gave the checkout
	Name      string
	Email     string
	Language  string
	Slip      charge.Slip `gorm:"serializer:json"`
	Total     money.Amount
	Currency  money.Currency
	State     string
	CreatedAt time.Time
	PaidAt    *time.Time
	HeldUntil *time.Time

	// What its slip is made from besides its lines.
	Terms    charge.Terms    `gorm:"serializer:json"`
	Coupons  []charge.Coupon `gorm:"serializer:json"`
	Tip      money.Amount
	Group    string // the customer's group when it was prepared
	Buyer    Buyer  `gorm:"serializer:json"`
	Reversed bool   // the buyer owes the tax
	PricedOn string // the day whose prices it has

	Received    money.Amount // of its total
	Held        money.Amount // as security, not given back yet
	Refunded    money.Amount
	CancelledAt *time.Time
}

// Open gives what of its total was not received yet; nothing of an order that
// was cancelled.
func (o *Order) Open() money.Amount {
	if o.State != OrderPaid {
		return 0
	}
	return max(o.Total-o.Received, 0)
}

// A Buyer is what a business tells of itself for the invoice.
type Buyer struct {
	Business bool   `json:"business,omitempty"`
	Company  string `json:"company,omitempty"`
	TaxID    string `json:"tax_id,omitempty"`
	Country  string `json:"country,omitempty"` // ISO 3166-1 alpha-2
}

// The states of a brief.
const (
	BriefWaiting  = "waiting"
	BriefComplete = "complete"
	BriefChanged  = "changed"
	BriefClosed   = "closed"
)

// An OrderLine is one product of an order with its answers.
type OrderLine struct {
	ID         int64
	OrderID    int64
	Position   int
	Parent     int // the position of the line that it is an add-on of; 0 for none
	ProductID  int64
	EditionID  int64
	Quantity   int
	Answers    map[string]json.RawMessage `gorm:"serializer:json"`
	Later      []question.Key             `gorm:"serializer:json"`
	Slip       charge.Slip                `gorm:"serializer:json"`
	Version    int                        // counts the changes of its answers
	Brief      string
	Missing    []question.Key `gorm:"serializer:json"`
	BriefedAt  *time.Time     // when the brief became complete
	ClosedAt   *time.Time
	RemindedAt *time.Time
	PromisedAt *time.Time
	OpenItems  int
	Paid       bool
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

// OrderByNumber finds an order that was paid.
func (tx *Tx) OrderByNumber(number int64) (Order, error) {
	return first[Order](tx, "number = ?", number)
}

// OrdersSince lists orders paid from a time on that were not cancelled.
func (tx *Tx) OrdersSince(t time.Time) ([]Order, error) {
	return list[Order](tx, "id", "state = ? AND paid_at >= ?", OrderPaid, t.UTC())
}

// OrdersWaiting lists orders of which something is open or held, the oldest
// first.
func (tx *Tx) OrdersWaiting() ([]Order, error) {
	return list[Order](tx, "id", "number IS NOT NULL AND (state = ? AND received < total OR held > 0)", OrderPaid)
}

// NextNumber gives the number for the next order that is paid.
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

// ReplaceLines takes away the lines of an order that is not paid, with the
// places held for them, to make room for new ones.
func (tx *Tx) ReplaceLines(order int64) error {
	return tx.db.Exec("DELETE FROM order_lines WHERE order_id = ? AND NOT paid", order).Error
}

// PaidLines calls back for every line of a paid order, in order.
func (tx *Tx) PaidLines(each func(OrderLine) error) error {
	last := int64(0)
	for {
		var lines []OrderLine
		if err := tx.db.Where("paid AND id > ?", last).Order("id").Limit(500).Find(&lines).Error; err != nil || len(lines) == 0 {
			return err
		}
		for _, l := range lines {
			last = l.ID
			if err := each(l); err != nil {
				return err
			}
		}
	}
}

// LastAnswers gives the answers of a product's newest paid lines.
func (tx *Tx) LastAnswers(product int64, most int) ([]map[string]json.RawMessage, error) {
	var rows []OrderLine
	err := tx.db.Select("answers").Where("paid AND product_id = ?", product).Order("id DESC").Limit(most).Find(&rows).Error
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
