package store

import "ruvo/internal/core/money"

// A CardCharge is what the simulated bank remembers of an attempt. What it gave
// back lies below zero.
type CardCharge struct {
	Attempt  string `gorm:"primaryKey"`
	Amount   money.Amount
	Outcome  string
	Reason   string
	Confirms bool
}

// CardCharge finds an attempt in the simulated bank's books.
func (tx *Tx) CardCharge(attempt string) (CardCharge, error) {
	return first[CardCharge](tx, "attempt = ?", attempt)
}

// CardCharges lists the simulated bank's books.
func (tx *Tx) CardCharges() ([]CardCharge, error) { return list[CardCharge](tx, "attempt", "true") }

// AddCardCharge adds an attempt to the simulated bank's books.
func (tx *Tx) AddCardCharge(c *CardCharge) error { return tx.db.Create(c).Error }

// SaveCardCharge keeps an attempt in the simulated bank's books.
func (tx *Tx) SaveCardCharge(c *CardCharge) error { return tx.db.Save(c).Error }
