package store

import (
	"time"

	"ruvo/internal/core/money"
)

// A Payment is one attempt to pay an order.
type Payment struct {
	ID        int64
	OrderID   int64
	Attempt   string
	State     string // pending, paid, declined, confirm
	Amount    money.Amount
	Last4     string
	Reason    string
	CreatedAt time.Time
	Purpose   string // PayOrder or PayRest
}

// What a payment is for.
const (
	PayOrder = ""     // what is due when ordering, with what is held
	PayRest  = "rest" // what is due later
)

// PaymentByAttempt finds an attempt to pay.
func (tx *Tx) PaymentByAttempt(attempt string) (Payment, error) {
	return first[Payment](tx, "attempt = ?", attempt)
}

// LastPayment finds the newest attempt to pay an order in a state.
func (tx *Tx) LastPayment(order int64, state string) (Payment, error) {
	var p []Payment
	err := tx.db.Where("order_id = ? AND state = ?", order, state).Order("id DESC").Limit(1).Find(&p).Error
	if err == nil && len(p) == 0 {
		return Payment{}, ErrNotFound
	}
	if err != nil {
		return Payment{}, err
	}
	return p[0], nil
}

// WaitingPayments lists an order's attempts that wait for the bank or for a
// word to it.
func (tx *Tx) WaitingPayments(order int64) ([]Payment, error) {
	return list[Payment](tx, "id", "order_id = ? AND state IN ('pending', 'confirm')", order)
}

// PendingPayments lists attempts whose outcome was never recorded.
func (tx *Tx) PendingPayments() ([]Payment, error) {
	return list[Payment](tx, "id", "state = 'pending'")
}

// SavePayment adds or updates an attempt.
func (tx *Tx) SavePayment(p *Payment) error { return tx.db.Save(p).Error }

// A CardCharge is what the simulated bank remembers of an attempt.
type CardCharge struct {
	Attempt  string `gorm:"primaryKey"`
	Amount   money.Amount
	Outcome  string
	Reason   string
	Confirms bool
}

// CardCharge finds an attempt in the simulated bank's ledger.
func (tx *Tx) CardCharge(attempt string) (CardCharge, error) {
	return first[CardCharge](tx, "attempt = ?", attempt)
}

// AddCardCharge adds an attempt to the simulated bank's ledger.
func (tx *Tx) AddCardCharge(c *CardCharge) error { return tx.db.Create(c).Error }

// SaveCardCharge keeps an attempt in the simulated bank's ledger.
func (tx *Tx) SaveCardCharge(c *CardCharge) error { return tx.db.Save(c).Error }
