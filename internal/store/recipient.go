package store

import (
	"encoding/json"
	"time"

	"ruvo/internal/core/order"
)

// SaveRecipient keeps for whom an order is, and when they are and were told of it.
func (tx *Tx) SaveRecipient(o *Order) error {
	raw, err := json.Marshal(o.Recipient)
	if err != nil {
		return err
	}
	return tx.db.Exec("UPDATE orders SET recipient = ?, tell_at = ?, told_at = ? WHERE id = ?", string(raw), o.TellAt, o.ToldAt, o.ID).Error
}

// ToTell lists the orders whose recipients are to be told by an instant.
func (tx *Tx) ToTell(now time.Time) ([]Order, error) {
	return list[Order](tx, "id", "tell_at IS NOT NULL AND told_at IS NULL AND tell_at <= ? AND state = ?", now.UTC(), order.Placed)
}

// RevokeGifts ends the links of an order's recipient.
func (tx *Tx) RevokeGifts(order int64, at time.Time) error {
	return tx.db.Model(&Link{}).Where("order_id = ? AND recipient AND revoked_at IS NULL", order).Update("revoked_at", at.UTC()).Error
}
