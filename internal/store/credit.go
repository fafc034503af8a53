package store

import (
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
)

// A Credit is what of an order is no longer charged, as it was computed when
// that was decided. Credits are only added.
type Credit struct {
	ID      int64
	OrderID int64
	At      time.Time
	Kind    string // the reason of its ledger entry
	Author  string
	Note    string
	Total   money.Amount
	Credit  charge.Credit      `gorm:"serializer:json"`
	Lines   []charge.Cancelled `gorm:"serializer:json"` // of what was cancelled
}

// Credits lists an order's credits, the oldest first.
func (tx *Tx) Credits(order int64) ([]Credit, error) {
	return list[Credit](tx, "id", "order_id = ?", order)
}

// CreditsOf lists the credits of orders, by order, the oldest first.
func (tx *Tx) CreditsOf(orders []int64) (map[int64][]Credit, error) {
	rows, err := list[Credit](tx, "id", "order_id IN (SELECT value FROM json_each(?))", idList(orders))
	all := map[int64][]Credit{}
	for _, r := range rows {
		all[r.OrderID] = append(all[r.OrderID], r)
	}
	return all, err
}

// AddCredit keeps a credit.
func (tx *Tx) AddCredit(c *Credit) error { return tx.db.Create(c).Error }

// A FormerSlip is the slip that an order had until an answer changed its price.
type FormerSlip struct {
	ID      int64
	OrderID int64
	Until   time.Time
	Slip    charge.Slip `gorm:"serializer:json"`
}

// FormerSlips lists the slips that an order had, the oldest first.
func (tx *Tx) FormerSlips(order int64) ([]FormerSlip, error) {
	return list[FormerSlip](tx, "id", "order_id = ?", order)
}

// AddFormerSlip keeps a slip that an order no longer has.
func (tx *Tx) AddFormerSlip(s *FormerSlip) error { return tx.db.Create(s).Error }
