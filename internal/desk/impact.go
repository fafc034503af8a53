package desk

import (
	"context"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// PreviewSettings says what other settings would change: what can be booked now and
// could not be then, which bookings stand in that or take somebody who is not there
// then, and which work would be due at another time.
func (d *Desk) PreviewSettings(ctx context.Context, s api.Settings, l words.Language) (api.SettingsImpact, error) {
	view := api.SettingsImpact{Bookings: []api.BookingRow{}}
	next, wrong := readSettings(s, l)
	if len(wrong) > 0 {
		return view, problem.Invalid(l, wrong)
	}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		other := b
		other.Set(next)
		closing, err := d.closing(tx, &b, &other, &view)
		if err != nil {
			return err
		}
		standing, err := d.standing(tx, &b, &other, closing)
		if err != nil {
			return err
		}
		rows, err := d.bookings(tx, b, standing)
		if err != nil {
			return err
		}
		view.Bookings = append(view.Bookings, rows...)
		if !timed(b.Settings(), next) {
			return nil
		}
		return d.eachOpen(tx, other, func(line *docket.Line) error {
			view.Work += len(line.Result.Diff.Update)
			return nil
		})
	})
	return view, err
}

// begins are the seconds at which something of a product can begin.
func begins(r *booking.Rule, q booking.Query) map[int64]bool {
	m := map[int64]bool{}
	for _, o := range r.Openings(q) {
		m[o.Start.Unix()] = true
	}
	for _, a := range r.Arrivals(q) {
		if a.Why == nil {
			m[a.At.Unix()] = true
		}
	}
	return m
}

// closing counts what could not be booked any more, or could be then, and gives the
// seconds at which it begins, by product.
func (d *Desk) closing(tx *store.Tx, b, other *store.Business, view *api.SettingsImpact) (map[int64]map[int64]bool, error) {
	closing := map[int64]map[int64]bool{}
	err := d.eachBookable(tx, *b, func(p store.Product, e *product.Edition, q *booking.Query) error {
		then := *q
		then.Zone, then.Off, then.Gaps, then.Resources = other.Location(), other.Hours().Off, other.Hours().Gaps, placing.Resources(other)
		gone := begins(e.Booking, *q)
		for start := range begins(e.Booking, then) {
			if !gone[start] {
				view.Opening++
			}
			delete(gone, start)
		}
		view.Closing += len(gone)
		closing[p.ID] = gone
		return nil
	})
	return closing, err
}

// standing lists the bookings to come that begin when nothing could be booked any
// more, or take somebody or something that is not there then.
func (d *Desk) standing(tx *store.Tx, b, other *store.Business, closing map[int64]map[int64]bool) ([]store.Booking, error) {
	sold, err := tx.SoldBookings(d.Now(), d.Now().AddDate(10, 0, 0))
	if err != nil {
		return nil, err
	}
	with, err := tx.With(sold)
	if err != nil {
		return nil, err
	}
	now, then := placing.Resources(b), placing.Resources(other)
	return slices.DeleteFunc(sold, func(s store.Booking) bool {
		away := slices.ContainsFunc(with[s.ID], func(w store.BookingResource) bool {
			was, is := now[w.ResourceID], then[w.ResourceID]
			return was.Has(s.StartAt, s.EndAt, b.Location()) && !is.Has(s.StartAt, s.EndAt, other.Location())
		})
		return !closing[s.ProductID][s.StartAt.Unix()] && !away
	}), nil
}
