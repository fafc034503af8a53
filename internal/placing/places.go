package placing

import (
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/product"
	"ruvo/internal/store"
)

// Query asks for what can be booked of a product up to its horizon, as if one order
// line had not booked; nil of a product that is not booked.
func Query(tx *store.Tx, productID int64, e *product.Edition, zone *time.Location, now time.Time, except int64) (*booking.Query, error) {
	if e.Booking == nil {
		return nil, nil
	}
	today := calendar.DayOf(now.In(zone))
	b, err := tx.Business()
	if err != nil {
		return nil, err
	}
	q := &booking.Query{
		From: today, To: today.Add(e.Booking.Horizon), Now: now, Zone: zone, Product: productID, Off: b.Hours().Off,
		Resources: Resources(&b),
	}
	needs := e.Booking.Uses()
	if productID == 0 && len(needs) == 0 {
		return q, nil
	}
	q.Taken, err = tx.Taken(productID, needs, now, q.To.Add(farthestStay).At(0, zone), now, except)
	return q, err
}

// Resources gives the resources of a business by their numbers.
func Resources(b *store.Business) map[booking.ResourceID]booking.Resource {
	m := make(map[booking.ResourceID]booking.Resource, len(b.Resources))
	for _, r := range b.Resources {
		m[r.ID] = r
	}
	return m
}

// farthestStay is how far beyond the horizon the bookings are looked at, in days:
// a stay that begins within it can end so late.
const farthestStay = 1100

// Book keeps a place for an order line, instead of the one that it may have.
func Book(tx *store.Tx, b *store.Booking, rule *booking.Rule, p booking.Place, resources map[booking.ResourceID]booking.Resource) error {
	b.StartAt, b.EndAt, b.FromAt, b.ToAt = p.Start.UTC(), p.End.UTC(), p.From.UTC(), p.To.UTC()
	b.Private = rule.Alone()
	if err := tx.SaveBooking(b); err != nil {
		return err
	}
	var with []store.BookingResource
	for _, id := range p.With {
		with = append(with, store.BookingResource{ResourceID: id, Name: resources[id].Name})
	}
	return tx.SetTaken(b.ID, with)
}
