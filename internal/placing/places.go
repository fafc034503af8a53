package placing

import (
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/product"
	"ruvo/internal/store"
)

// Query asks for a product's openings up to its horizon.
func Query(tx *store.Tx, productID int64, e *product.Edition, zone *time.Location, now time.Time, except int64) (*booking.Query, error) {
	if e.Booking == nil {
		return nil, nil
	}
	today := calendar.DayOf(now.In(zone))
	b, err := tx.Business()
	if err != nil {
		return nil, err
	}
	q := &booking.Query{From: today, To: today.Add(e.Booking.Horizon), Now: now, Zone: zone, Off: b.Hours().Off}
	if productID == 0 {
		return q, nil
	}
	q.Taken, err = tx.Taken(productID, now, q.To.Add(1).At(0, zone), now, except)
	return q, err
}
