package desk

import (
	"context"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// WhyDay says of a day what can be booked on it of each product that is on sale,
// and which rule or booking makes it so.
func (d *Desk) WhyDay(ctx context.Context, day string, l words.Language) ([]api.DayWhy, error) {
	list := []api.DayWhy{}
	on, err := calendar.ParseDay(day)
	if err != nil {
		return nil, problem.Invalid(l, []api.FieldError{problem.Field(l, "day", "day", nil)})
	}
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		return d.eachBookable(tx, b, func(p store.Product, e *product.Edition, q *booking.Query) error {
			is := e.Booking.Day(on, *q)
			one := api.DayWhy{Product: p.ID, Title: e.Title, Why: []string{}, Openings: apiview.Openings(is.Openings, b.Location())}
			for _, why := range is.Why {
				one.Why = append(one.Why, why.Say(l))
			}
			list = append(list, one)
			return nil
		})
	})
	return list, err
}

// eachBookable goes through the products on sale that are booked for a time, with
// what their openings are computed from now.
func (d *Desk) eachBookable(tx *store.Tx, b store.Business, do func(p store.Product, e *product.Edition, q *booking.Query) error) error {
	products, err := tx.Products()
	if err != nil {
		return err
	}
	for _, p := range products {
		if p.EditionID == nil {
			continue
		}
		e, err := d.Editions.Get(tx, *p.EditionID)
		if err != nil {
			return err
		}
		q, err := placing.Query(tx, p.ID, e, b.Location(), d.Now(), 0)
		if err != nil {
			return err
		}
		if q == nil {
			continue
		}
		if err := do(p, e, q); err != nil {
			return err
		}
	}
	return nil
}
