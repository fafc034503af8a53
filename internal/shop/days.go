package shop

import (
	"context"
	"errors"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/ics"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// BookingFile writes what an order line books, for a calendar.
func (s *Shop) BookingFile(ctx context.Context, secret string, id int64, l words.Language) (string, error) {
	text := ""
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		o, _, err := s.letIn(tx, secret, l)
		if err != nil {
			return err
		}
		line, err := docket.OpenByID(tx, s.Editions, id, s.Now())
		if errors.Is(err, store.ErrNotFound) || err == nil && line.Row.OrderID != o.ID {
			return problem.NotFound(l, "no_line")
		}
		if err != nil {
			return err
		}
		events := line.Events(line.With, line.State() == order.Cancelled)
		if len(events) == 0 {
			return problem.NotFound(l, "no_booking")
		}
		text = ics.Write(ics.MethodFor(events[0]), "", events, s.Now())
		return nil
	})
	return text, err
}

// Days shows what can be booked of a product on some days, for the answers given
// so far.
func (s *Shop) Days(ctx context.Context, slug string, asked api.DaysAsked, l words.Language) (api.BookableDays, error) {
	view := api.BookableDays{Days: []api.BookableDay{}}
	a, err := apiview.ReadAsked(asked, l)
	if err != nil {
		return view, err
	}
	err = s.Store.Read(ctx, func(tx *store.Tx) error {
		p, e, err := s.onSale(ctx, tx, slug, l)
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		q, err := placing.Query(tx, p.ID, e, b.Location(), s.Now(), 0)
		if err != nil || q == nil {
			return err
		}
		if _, err := mine(ctx, tx, q, s.Now()); err != nil {
			return err
		}
		ev := s.decoded(b, p, e, api.Answering{Answers: asked.Answers, Quantity: asked.Quantity}, l)
		if ev.facts.Group, err = groupOf(ctx, tx); err != nil {
			return err
		}
		ev.facts.Checks = evaluate.Held
		r := evaluate.Evaluate(e, ev.answers, ev.facts)
		q.Wish = apiview.WishOf(r.Wish(e, ev.facts), asked)
		view = apiview.Days(e.Booking, *q, a, l)
		if a.Begin == nil {
			apiview.Price(&view, e, r.Input(e, ev.facts))
			apiview.PriceCourses(&view, e, ev.answers, ev.facts, a.People)
		}
		return nil
	})
	return view, err
}
