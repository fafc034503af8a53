package store

import (
	"time"
)

// A Link lets a customer in to one order. The link itself is not kept.
type Link struct {
	Hash      string `gorm:"primaryKey"`
	OrderID   int64
	CreatedAt time.Time
	RevokedAt *time.Time
	// Mailed says that it went to the order's mail address and nowhere else, so
	// that whoever has it has shown the address to be theirs.
	Mailed bool
	// Recipient says that it is of whom the order is for, who sees nothing of its price.
	Recipient bool
}

// TableName is order_links.
func (Link) TableName() string { return "order_links" }

// AddLink keeps a private link's hash.
func (tx *Tx) AddLink(l Link) error {
	return tx.insert("order_links (hash, order_id, created_at, revoked_at, mailed, recipient)", [][]any{{l.Hash, l.OrderID, l.CreatedAt, l.RevokedAt, l.Mailed, l.Recipient}})
}

// LinkByHash finds a private link.
func (tx *Tx) LinkByHash(hash string) (Link, error) { return first[Link](tx, "hash = ?", hash) }

// RevokeLinks ends all private links of an order.
func (tx *Tx) RevokeLinks(order int64, at time.Time) error {
	return tx.db.Model(&Link{}).Where("order_id = ? AND NOT recipient AND revoked_at IS NULL", order).Update("revoked_at", at.UTC()).Error
}

// LinksOf counts the private links of an order that nobody ended and that were
// made after a time.
func (tx *Tx) LinksOf(order int64, after time.Time) (int, error) {
	var n int64
	err := tx.db.Model(&Link{}).Where("order_id = ? AND NOT recipient AND revoked_at IS NULL AND created_at > ?", order, after.UTC()).Count(&n).Error
	return int(n), err
}

// Relinked says whether private links of an order were replaced.
func (tx *Tx) Relinked(order int64) (bool, error) {
	var n int64
	err := tx.db.Model(&Link{}).Where("order_id = ? AND NOT recipient AND revoked_at IS NOT NULL", order).Count(&n).Error
	return n > 0, err
}
