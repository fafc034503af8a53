package store

import (
	"errors"
	"slices"
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/order"
)

// A Booking is a place taken by an order line, or held for it: one for each meeting
// of a course, else one.
type Booking struct {
	ID        int64
	LineID    int64
	ProductID int64
	StartAt   time.Time
	EndAt     time.Time
	FromAt    time.Time // what nothing else may have of what it takes
	ToAt      time.Time
	Private   bool
	Forced    bool // the seller put it there whatever stood against it
	People    int
	Sold      bool
	HeldUntil *time.Time
	NoShowAt  *time.Time // when somebody said that nobody came
	Meeting   int        // of a course, from 1; 0 of anything else
	Meetings  int        // that the whole course has
}

// A BookingResource is what a booking takes, with the name that it had then.
type BookingResource struct {
	BookingID  int64
	ResourceID booking.ResourceID
	Name       string
}

// longestHold is longer than anything is held for a checkout. What is said to be
// held beyond it was held while the clock was wrong.
const longestHold = time.Hour

// Taken lists the bookings and the places still held, of a product and of the
// resources that it needs, that touch a stretch of time, leaving out that of one
// order line. While a payment is under way its places are held, however long that takes.
func (tx *Tx) Taken(product int64, needs []booking.ResourceID, from, to, now time.Time, except int64) ([]booking.Taken, error) {
	var rows []Booking
	err := tx.db.Raw(`SELECT b.* FROM bookings b JOIN order_lines l ON l.id = b.line_id JOIN orders o ON o.id = l.order_id
		WHERE (b.product_id = ? OR b.id IN (SELECT booking_id FROM booking_resources WHERE resource_id IN ?)) AND b.to_at > ? AND b.from_at < ?
		AND (b.sold OR b.held_until > ? AND b.held_until < ? OR o.state IN ?) AND l.id <> ?`,
		product, needs, from.Add(-24*time.Hour).UTC(), to.UTC(), now.UTC(), now.Add(longestHold).UTC(), order.Holding(), except).Scan(&rows).Error
	if err != nil {
		return nil, err
	}
	var with map[int64][]BookingResource
	if len(needs) > 0 {
		if with, err = tx.With(rows); err != nil {
			return nil, err
		}
	}
	taken := make([]booking.Taken, len(rows))
	for i, r := range rows {
		taken[i] = booking.Taken{Start: r.StartAt, End: r.EndAt, From: r.FromAt, To: r.ToAt, People: r.People, Product: r.ProductID, Private: r.Private}
		for _, w := range with[r.ID] {
			taken[i].With = append(taken[i].With, w.ResourceID)
		}
	}
	offered, err := tx.offered(product, needs, from, to, now)
	if err != nil {
		return nil, err
	}
	taken = append(taken, offered...)
	if len(needs) == 0 {
		return taken, nil
	}
	busy, err := tx.Busy(needs, from, to)
	for _, b := range busy {
		taken = append(taken, booking.Taken{Start: b.StartAt, End: b.EndAt, Private: true, With: []booking.ResourceID{b.ResourceID}, Whole: true})
	}
	kept, kerr := tx.keptResources(needs, from, to)
	for _, k := range kept {
		taken = append(taken, booking.Taken{Start: k.StartAt, End: k.EndAt, Private: true, With: []booking.ResourceID{k.ResourceID}, Whole: true})
	}
	return taken, errors.Join(err, kerr)
}

// With gives what bookings take, by their numbers, with the names that it had then.
func (tx *Tx) With(rows []Booking) (map[int64][]BookingResource, error) {
	ids := make([]int64, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	with := map[int64][]BookingResource{}
	for part := range slices.Chunk(ids, 500) {
		list, err := list[BookingResource](tx, "booking_id, rowid", "booking_id IN ?", part)
		if err != nil {
			return nil, err
		}
		for _, w := range list {
			with[w.BookingID] = append(with[w.BookingID], w)
		}
	}
	return with, nil
}

// SaveBooking adds or updates a booking.
func (tx *Tx) SaveBooking(b *Booking) error {
	tx.peopled = true
	return tx.db.Save(b).Error
}

// SetTaken says anew what a booking takes.
func (tx *Tx) SetTaken(b int64, with []BookingResource) error {
	tx.peopled = true
	if err := tx.db.Where("booking_id = ?", b).Delete(&BookingResource{}).Error; err != nil || len(with) == 0 {
		return err
	}
	for i := range with {
		with[i].BookingID = b
	}
	return tx.db.Create(&with).Error
}

// BookingsOf lists the bookings of an order line, in order; none where there is none.
func (tx *Tx) BookingsOf(line int64) ([]Booking, error) {
	return list[Booking](tx, "start_at, id", "line_id = ?", line)
}

// BookingsByLine finds the bookings of several order lines, each line's in order.
func (tx *Tx) BookingsByLine(lines []int64) (map[int64][]Booking, error) {
	rows, err := list[Booking](tx, "start_at, id", "line_id IN ?", lines)
	m := make(map[int64][]Booking, len(lines))
	for _, b := range rows {
		m[b.LineID] = append(m[b.LineID], b)
	}
	return m, err
}

// FreePlaces gives the places of an order line free.
func (tx *Tx) FreePlaces(line int64) error {
	tx.peopled = true
	return tx.db.Where("line_id = ?", line).Delete(&Booking{}).Error
}

// SoldBookings lists the bookings that begin in a stretch of time, in order.
func (tx *Tx) SoldBookings(from, to time.Time) ([]Booking, error) {
	return list[Booking](tx, "start_at, id", "sold AND start_at >= ? AND start_at < ?", from.UTC(), to.UTC())
}

// BookingsBetween lists the bookings that touch a stretch of time, in order.
func (tx *Tx) BookingsBetween(from, to time.Time) ([]Booking, error) {
	return list[Booking](tx, "start_at, id", "sold AND end_at > ? AND start_at < ?", from.UTC(), to.UTC())
}

// AllTaken lists what all sold bookings take, by resource, and those of products that
// take none by product, each with its line; those that the seller put where they are
// whatever stood against it are left out.
func (tx *Tx) AllTaken() (resources, products map[int64][]LineTaken, err error) {
	rows, err := list[Booking](tx, "id", "sold AND NOT forced")
	if err != nil {
		return nil, nil, err
	}
	with, err := tx.With(rows)
	if err != nil {
		return nil, nil, err
	}
	resources, products = map[int64][]LineTaken{}, map[int64][]LineTaken{}
	for _, r := range rows {
		t := LineTaken{r.LineID, booking.Taken{Start: r.StartAt, End: r.EndAt, From: r.FromAt, To: r.ToAt, People: r.People, Product: r.ProductID, Private: r.Private}}
		for _, w := range with[r.ID] {
			resources[w.ResourceID] = append(resources[w.ResourceID], t)
		}
		if len(with[r.ID]) == 0 {
			products[r.ProductID] = append(products[r.ProductID], t)
		}
	}
	return resources, products, nil
}

// A LineTaken is what the booking of an order line takes.
type LineTaken struct {
	Line int64
	booking.Taken
}

// Held is what a checkout has held of a product: how many lines, and for how
// long all of them together.
type Held struct {
	Lines int
	Time  time.Duration
}

// HeldLines tells what a checkout holds of places, pieces and coupons, by
// product; coupons are those of none.
func (tx *Tx) HeldLines(order int64, now time.Time) (map[int64]Held, error) {
	var rows []struct {
		ProductID int64
		LineID    int64
		HeldUntil time.Time
	}
	err := tx.db.Raw(`SELECT b.product_id, b.line_id, b.held_until FROM bookings b JOIN order_lines l ON l.id = b.line_id WHERE l.order_id = ? AND NOT b.sold AND b.held_until > ?
		UNION SELECT l.product_id, l.id, h.held_until FROM stock_holds h JOIN order_lines l ON l.id = h.line_id WHERE l.order_id = ? AND NOT h.taken AND h.pieces > 0 AND h.held_until > ?
		UNION SELECT 0, u.id, u.held_until FROM coupon_uses u WHERE u.order_id = ? AND NOT u.taken AND u.held_until > ?`,
		order, now.UTC(), order, now.UTC(), order, now.UTC()).Scan(&rows).Error
	held := map[int64]Held{}
	for _, r := range rows {
		h := held[r.ProductID]
		h.Lines++
		h.Time += r.HeldUntil.Sub(now)
		held[r.ProductID] = h
	}
	return held, err
}

// HoldUntil says anew until when a checkout holds what it holds. While its
// payment is under way it is held all the same.
func (tx *Tx) HoldUntil(order int64, until time.Time) error {
	for _, statement := range []string{
		"UPDATE bookings SET held_until = ? WHERE NOT sold AND line_id IN (SELECT id FROM order_lines WHERE order_id = ?)",
		"UPDATE stock_holds SET held_until = ? WHERE NOT taken AND line_id IN (SELECT id FROM order_lines WHERE order_id = ?)",
		"UPDATE coupon_uses SET held_until = ? WHERE NOT taken AND order_id = ?",
		"UPDATE voucher_holds SET held_until = ? WHERE order_id = ?",
	} {
		if err := tx.db.Exec(statement, until.UTC(), order).Error; err != nil {
			return err
		}
	}
	return nil
}
