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
		From: today, Now: now, Zone: zone, Product: productID, Off: b.Hours().Off, Gaps: b.Hours().Gaps,
		Resources: Resources(&b),
	}
	q.To = e.Booking.Farthest(q)
	if q.Kept, err = tx.KeptOf(productID, now, q.To.Add(farthestStay).At(0, zone)); err != nil {
		return nil, err
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

// Book keeps places for an order line, instead of those that it may have. Of is how
// many meetings the course has that they are of; 0 for what is none.
func Book(tx *store.Tx, b store.Booking, of int, rule *booking.Rule, places []booking.Place, resources map[booking.ResourceID]booking.Resource) error {
	if err := tx.FreePlaces(b.LineID); err != nil {
		return err
	}
	b.Private = rule.Alone()
	for i, p := range places {
		row := b
		row.StartAt, row.EndAt, row.FromAt, row.ToAt = p.Start.UTC(), p.End.UTC(), p.From.UTC(), p.To.UTC()
		if of > 0 {
			row.Meeting, row.Meetings = of-len(places)+i+1, of
		}
		if err := tx.SaveBooking(&row); err != nil {
			return err
		}
		var with []store.BookingResource
		for _, id := range p.With {
			with = append(with, store.BookingResource{ResourceID: id, Name: resources[id].Name})
		}
		if err := tx.SetTaken(row.ID, with); err != nil {
			return err
		}
	}
	return nil
}
