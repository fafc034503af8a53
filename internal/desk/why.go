package desk

import (
	"context"
	"slices"

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
		err = d.eachBookable(tx, b, func(p store.Product, e *product.Edition, q *booking.Query) error {
			is := e.Booking.Day(on, *q)
			one := api.DayWhy{Product: p.ID, Title: e.Title, Why: []string{}, Openings: apiview.Openings(is.Openings, b.Location())}
			for _, why := range is.Why {
				one.Why = append(one.Why, why.Say(l))
			}
			list = append(list, one)
			return nil
		})
		if err != nil {
			return err
		}
		of, err := d.whyResources(tx, &b, on, l)
		list = append(list, of...)
		return err
	})
	return list, err
}

// whyResources says of each person, room and thing when it is there on a day, and
// what has it.
func (d *Desk) whyResources(tx *store.Tx, b *store.Business, on calendar.Day, l words.Language) ([]api.DayWhy, error) {
	zone := b.Location()
	from, to := on.At(0, zone), on.Add(1).At(0, zone)
	rows, err := tx.BookingsBetween(from, to)
	if err != nil {
		return nil, err
	}
	booked, err := d.bookings(tx, *b, rows)
	if err != nil {
		return nil, err
	}
	kept, err := keptRows(tx, b, from, to)
	if err != nil {
		return nil, err
	}
	busy, err := busyRows(tx, b, from, to)
	if err != nil {
		return nil, err
	}
	// at says from when to when something is, on other days with their names.
	at := func(day, time, last, ends string) string {
		said := func(of, clock string) string {
			if of == on.String() {
				return clock
			}
			x, err := calendar.ParseDay(of)
			if err != nil {
				return clock
			}
			return l.Day(x) + ", " + clock
		}
		return said(day, time) + "–" + said(last, ends)
	}
	var list []api.DayWhy
	for _, r := range b.Resources {
		one := api.DayWhy{Resource: &r.ID, Title: r.Name, Why: []string{}, Openings: []api.Opening{}}
		say := func(code string, pairs ...string) { one.Why = append(one.Why, l.Fill(code, pairs...)) }
		for _, why := range r.Day(on) {
			one.Why = append(one.Why, why.Say(l))
		}
		for _, x := range booked {
			if slices.ContainsFunc(x.With, func(w api.ResourceName) bool { return w.Id == r.ID }) {
				say("why.booked_by", "time", at(x.Day, x.Time, x.Last, x.Ends), "name", x.Customer, "product", x.Product)
			}
		}
		for _, k := range kept {
			if k.ResourceId != nil && *k.ResourceId == r.ID {
				say("why.kept_at", "time", at(k.Day, k.Time, k.Last, k.Ends), "reason", k.Reason)
			}
		}
		for _, x := range busy[r.ID] {
			say("why.elsewhere", "time", at(x.Day, x.Time, x.Last, x.Ends), "summary", x.Summary)
		}
		list = append(list, one)
	}
	return list, nil
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
