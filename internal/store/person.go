package store

import (
	"strings"

	"ruvo/internal/core/order"
)

// OrdersByMail lists the orders of a mail address that were placed, or wait for their
// transfer, the newest first, at most so many.
func (tx *Tx) OrdersByMail(email string, most int) ([]Order, error) {
	var rows []Order
	err := tx.db.Where("lower(email) = ? AND +state IN ?", strings.ToLower(email), []order.State{order.Awaiting, order.Placed, order.Cancelled}).Order("id DESC").Limit(most).Find(&rows).Error
	return rows, err
}

// HasOrders says whether a mail address ordered anything.
func (tx *Tx) HasOrders(email string) (bool, error) {
	rows, err := tx.OrdersByMail(email, 1)
	return len(rows) > 0, err
}

// ForgetCustomerAnswer forgets an answer that was kept of a person.
func (tx *Tx) ForgetCustomerAnswer(email, key string) error {
	return tx.db.Where("email = ? AND key = ?", strings.ToLower(email), key).Delete(&CustomerAnswer{}).Error
}
