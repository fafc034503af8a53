package store

import (
	"cmp"
	"encoding/json"
	"errors"
	"time"

	"ruvo/internal/core/brief"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"

	"gorm.io/gorm"
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
	OrderedAt *time.Time // when it began to await its transfer; nil when it was paid at once
	HeldUntil *time.Time
	RemindAt  *time.Time // of the transfer that is awaited

	// What its slip is made from besides its lines.
	Terms    charge.Terms    `gorm:"serializer:json"`
	Coupons  []charge.Coupon `gorm:"serializer:json"`
	Vouchers []charge.Purse  `gorm:"serializer:json"` // as they were when it was prepared
	Tip      money.Amount
	Group    string      // the customer's group when it was prepared
	Buyer    order.Buyer `gorm:"serializer:json"`
	Reversed bool        // the buyer owes the tax
	PricedOn string      // the day whose prices it has

	CancelledAt *time.Time
	ProvenAt    *time.Time // when a link that was mailed was first opened

	ByHand    bool             // the seller placed it for a caller
	Recipient *order.Recipient `gorm:"serializer:json"` // nil of what the buyer keeps
	Basket    condition.Whole  `gorm:"serializer:json"` // what was in the basket
	TellAt    *time.Time       // when the recipient is told; nil when nobody is
	ToldAt    *time.Time

	TermsVersion int // of the terms of sale that it was placed under; 0 for none
	NewsVersion  int // of the text about news that was agreed to with it; 0 for none
}

// Since gives when it was ordered: when it began to await its transfer, or was
// paid.
func (o *Order) Since() time.Time { return When(cmp.Or(o.OrderedAt, o.PlacedAt, &o.CreatedAt)) }

// An OrderLine is one product of an order with its answers.
type OrderLine struct {
	ID        int64
	OrderID   int64
	Position  int
	Parent    int // the position of the line that it is an add-on of; 0 for none
	ProductID int64
	EditionID int64
	Quantity  int
	Answers   map[string]json.RawMessage `gorm:"serializer:json"`
	Later     []question.Key             `gorm:"serializer:json"`
	Slip      charge.Slip                `gorm:"serializer:json"`
	Version   int                        // counts the changes of its answers
	Brief     order.Brief
	Missing   []question.Key `gorm:"serializer:json"`
	BriefedAt *time.Time     // when the brief became complete
	ClosedAt  *time.Time
	ClosesAt  *time.Time // when the brief closes by itself
	Reopened  bool       // by hand: it closes by hand only
	// Halves is what was said of questions and is no answer yet.
	Halves      map[question.Key]brief.Half `gorm:"serializer:json"`
	CancelledAt *time.Time
	RemindedAt  *time.Time
	PromisedAt  *time.Time
	Promise     *Promise         `gorm:"serializer:json"` // why that day
	Entries     workplan.Entries `gorm:"serializer:json"` // of its lists, as work was last planned for
	TurnAt      *time.Time       // not before this do its items take their turn in the queue
	Rush        bool             // its items go before those of others
	OpenItems   int
	Placed      bool
	SeenAt      *time.Time // by the seller, who opened it

	// Shown is what became of what steps made that the customer was shown.
	Shown    map[workplan.StepKey]workplan.Shown `gorm:"serializer:json"`
	GivenAt  *time.Time                          // when the seller gave all of it
	HandedAt *time.Time                          // when all of it was handed over, or done where nothing is
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

// SaveNumbered keeps how far an order is, and gives it the next number.
func (tx *Tx) SaveNumbered(o *Order) error {
	var n int64
	err := tx.db.Raw(`UPDATE orders SET number = (SELECT COALESCE(MAX(number), 1000) + 1 FROM orders), state = ?, ordered_at = ?, placed_at = ?, held_until = ?, remind_at = ?
		WHERE id = ? RETURNING number`, o.State, o.OrderedAt, o.PlacedAt, o.HeldUntil, o.RemindAt, o.ID).Scan(&n).Error
	o.Number = &n
	return err
}

// OrderHead finds an order without what was ordered: how far it is, and when.
func (tx *Tx) OrderHead(id int64) (Order, error) {
	var o Order
	err := tx.db.Select("id", "number", "state", "created_at", "ordered_at", "placed_at", "held_until").Where("id = ?", id).Take(&o).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		err = ErrNotFound
	}
	return o, err
}

// SaveOrder adds or updates an order.
func (tx *Tx) SaveOrder(o *Order) error { return tx.db.Save(o).Error }

// AddCheckout adds the row of a checkout, so that its lines can hold places; what
// it comes to is saved once they do.
func (tx *Tx) AddCheckout(o *Order) error {
	return tx.db.Raw("INSERT INTO orders (checkout, name, email, language, slip, total, currency, state, created_at) VALUES (?, ?, ?, ?, '{}', 0, '', ?, ?) RETURNING id",
		o.Checkout, o.Name, o.Email, o.Language, o.State, o.CreatedAt).Scan(&o.ID).Error
}

// SaveProgress keeps how far an order is; what it is of stays as it was kept.
func (tx *Tx) SaveProgress(o *Order) error {
	return tx.db.Exec("UPDATE orders SET number = ?, state = ?, ordered_at = ?, placed_at = ?, cancelled_at = ?, proven_at = ?, held_until = ?, remind_at = ? WHERE id = ?",
		o.Number, o.State, o.OrderedAt, o.PlacedAt, o.CancelledAt, o.ProvenAt, o.HeldUntil, o.RemindAt, o.ID).Error
}

// OrderByNumber finds an order that was placed.
func (tx *Tx) OrderByNumber(number int64) (Order, error) {
	return first[Order](tx, "number = ?", number)
}

// OrdersPlaced lists orders placed in a stretch of time that were not
// cancelled.
func (tx *Tx) OrdersPlaced(from, to time.Time) ([]Order, error) {
	return list[Order](tx, "id", "state = ? AND placed_at >= ? AND placed_at < ?", order.Placed, from.UTC(), to.UTC())
}

// CountAwaiting counts the orders of a mail address that await their transfers.
func (tx *Tx) CountAwaiting(email string) (int64, error) {
	var n int64
	err := tx.db.Model(&Order{}).Where("state = ? AND email = ?", order.Awaiting, email).Count(&n).Error
	return n, err
}

// CountAwaitingAll counts the orders that await their transfers.
func (tx *Tx) CountAwaitingAll() (int64, error) {
	var n int64
	err := tx.db.Model(&Order{}).Where("state = ?", order.Awaiting).Count(&n).Error
	return n, err
}

// AwaitingIDs gives the orders that await their transfers.
func (tx *Tx) AwaitingIDs() (map[int64]bool, error) {
	var ids []int64
	err := tx.db.Model(&Order{}).Where("state = ?", order.Awaiting).Pluck("id", &ids).Error
	all := make(map[int64]bool, len(ids))
	for _, id := range ids {
		all[id] = true
	}
	return all, err
}

// AwaitingOrders lists the orders that await their transfers, those whose time
// ends first.
func (tx *Tx) AwaitingOrders(most int) ([]Order, error) {
	var rows []Order
	err := tx.db.Where("state = ?", order.Awaiting).Order("held_until, id").Limit(most).Find(&rows).Error
	return rows, err
}

// Lines lists an order's lines.
func (tx *Tx) Lines(order int64) ([]OrderLine, error) {
	return list[OrderLine](tx, "position", "order_id = ?", order)
}

// LineHeads lists an order's lines without their answers and slips.
func (tx *Tx) LineHeads(order int64) ([]OrderLine, error) {
	var rows []OrderLine
	err := tx.db.Select("id", "order_id", "position", "product_id", "edition_id", "quantity", "version", "placed").Where("order_id = ?", order).Order("position").Find(&rows).Error
	return rows, err
}

// LineByID finds an order line.
func (tx *Tx) LineByID(id int64) (OrderLine, error) { return first[OrderLine](tx, "id = ?", id) }

// SaveLine adds or updates an order line. What it is of stays as it was kept.
func (tx *Tx) SaveLine(l *OrderLine) error {
	if l.ID == 0 {
		return tx.db.Create(l).Error
	}
	if l.Placed {
		tx.works(l.ID)
	}
	var texts [8]string
	for i, v := range []any{l.Answers, l.Later, &l.Slip, l.Missing, l.Entries, l.Promise, l.Shown, l.Halves} {
		raw, err := json.Marshal(v)
		if err != nil {
			return err
		}
		texts[i] = string(raw)
	}
	return tx.db.Exec(`UPDATE order_lines SET answers = ?, later = ?, slip = ?, missing = ?, quantity = ?, version = ?, brief = ?,
		briefed_at = ?, closed_at = ?, cancelled_at = ?, reminded_at = ?, promised_at = ?, open_items = ?, placed = ?,
		entries = ?, promise = ?, turn_at = ?, rush = ?, shown = ?, given_at = ?, handed_at = ?, halves = ?, closes_at = ?, reopened = ? WHERE id = ?`,
		texts[0], texts[1], texts[2], texts[3], l.Quantity, l.Version, l.Brief,
		l.BriefedAt, l.ClosedAt, l.CancelledAt, l.RemindedAt, l.PromisedAt, l.OpenItems, l.Placed,
		texts[4], texts[5], l.TurnAt, l.Rush, texts[6], l.GivenAt, l.HandedAt, texts[7], l.ClosesAt, l.Reopened, l.ID).Error
}

// SaveLineWords keeps what a line's answers read like, in small letters, to be searched
// in.
func (tx *Tx) SaveLineWords(line int64, words string) error {
	return tx.db.Exec("INSERT INTO line_words (line_id, words) VALUES (?, ?) ON CONFLICT DO UPDATE SET words = excluded.words WHERE words <> excluded.words", line, words).Error
}

// ReplaceLines takes away the lines of an order that is not placed, with the
// places held for them, to make room for new ones.
func (tx *Tx) ReplaceLines(order int64) error {
	return tx.db.Exec("DELETE FROM order_lines WHERE order_id = ? AND NOT placed", order).Error
}

// Ordered lists what was ordered, in whatever state, by id, those after one.
func (tx *Tx) Ordered(after int64, most int) ([]Order, error) {
	var rows []Order
	err := tx.db.Where("(number IS NOT NULL OR state IN ?) AND id > ?", []order.State{order.Awaiting, order.Placed, order.Cancelled, order.Lapsed}, after).Order("id").Limit(most).Find(&rows).Error
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

// MergeChanges keeps changes of answers that were typed: one that follows another of
// the same answer by the same author, made since an instant, becomes part of it. Where it
// ends as it began, nothing was changed.
func (tx *Tx) MergeChanges(changes []Change, since time.Time) error {
	var fresh []Change
	for _, c := range changes {
		var last []Change
		if err := tx.db.Where("line_id = ? AND key = ?", c.LineID, c.Key).Order("id DESC").Limit(1).Find(&last).Error; err != nil {
			return err
		}
		if len(last) == 0 || last[0].Author != c.Author || !last[0].At.After(since) {
			fresh = append(fresh, c)
			continue
		}
		var err error
		if last[0].Old == c.New {
			err = tx.db.Delete(&last[0]).Error
		} else {
			err = tx.db.Model(&last[0]).Updates(map[string]any{"new": c.New, "at": c.At}).Error
		}
		if err != nil {
			return err
		}
	}
	return tx.AddChanges(fresh)
}

// ClosingLines lists the lines whose brief closes by itself by an instant, with nothing
// still to answer.
func (tx *Tx) ClosingLines(now time.Time) ([]OrderLine, error) {
	return list[OrderLine](tx, "id", "closes_at IS NOT NULL AND closes_at <= ? AND closed_at IS NULL AND brief <> 'waiting'", now.UTC())
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
		"DELETE FROM voucher_holds WHERE order_id IN ?",
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

// OrderedSince counts the lines of a product that were ordered since an instant.
func (tx *Tx) OrderedSince(product int64, from time.Time) (n int, err error) {
	err = tx.db.Raw(`SELECT COUNT(*) FROM order_lines l JOIN orders o ON o.id = l.order_id
		WHERE l.product_id = ? AND l.placed AND COALESCE(o.ordered_at, o.placed_at) >= ?`, product, from.UTC()).Scan(&n).Error
	return n, err
}
