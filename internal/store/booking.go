package store

import (
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/order"
)

// A Booking is a place taken by an order line, or held for it.
type Booking struct {
	ID        int64
	LineID    int64
	ProductID int64
	StartAt   time.Time
	EndAt     time.Time
	People    int
	Sold      bool
	HeldUntil *time.Time
}

// Taken lists the bookings of a product and the places still held that touch
// a stretch of time, leaving out those of one order. While a payment is under
// way its places are held, however long that takes.
func (tx *Tx) Taken(product int64, from, to, now time.Time, except int64) ([]booking.Taken, error) {
	var rows []Booking
	err := tx.db.Raw(`SELECT b.* FROM bookings b JOIN order_lines l ON l.id = b.line_id JOIN orders o ON o.id = l.order_id
		WHERE b.product_id = ? AND b.start_at >= ? AND b.start_at < ? AND (b.sold OR b.held_until > ? OR o.state = ?) AND l.order_id <> ?`,
		product, from.Add(-24*time.Hour).UTC(), to.UTC(), now.UTC(), order.Paying, except).Scan(&rows).Error
	taken := make([]booking.Taken, len(rows))
	for i, r := range rows {
		taken[i] = booking.Taken{Start: r.StartAt, End: r.EndAt, People: r.People}
	}
	return taken, err
}

// SaveBooking adds or updates a booking.
func (tx *Tx) SaveBooking(b *Booking) error { return tx.db.Save(b).Error }

// BookingOf finds the booking of an order line.
func (tx *Tx) BookingOf(line int64) (Booking, error) { return first[Booking](tx, "line_id = ?", line) }

// BookingsOf finds the bookings of several order lines by line.
func (tx *Tx) BookingsOf(lines []int64) (map[int64]Booking, error) {
	rows, err := list[Booking](tx, "id", "line_id IN ?", lines)
	m := make(map[int64]Booking, len(rows))
	for _, b := range rows {
		m[b.LineID] = b
	}
	return m, err
}

// FreePlace gives the place of an order line free.
func (tx *Tx) FreePlace(line int64) error {
	return tx.db.Where("line_id = ?", line).Delete(&Booking{}).Error
}

// SoldBookings lists the bookings that begin in a stretch of time, in order.
func (tx *Tx) SoldBookings(from, to time.Time) ([]Booking, error) {
	return list[Booking](tx, "start_at, id", "sold AND start_at >= ? AND start_at < ?", from.UTC(), to.UTC())
}
