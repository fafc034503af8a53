package shop

import (
	"context"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/words"
	"ruvo/internal/placing"
	"ruvo/internal/store"
)

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
		ev := s.decoded(b, p, e, api.Answering{Answers: asked.Answers, Quantity: asked.Quantity}, l)
		if ev.facts.Group, err = groupOf(ctx, tx); err != nil {
			return err
		}
		ev.facts.Checks = evaluate.Held
		r := evaluate.Evaluate(e, ev.answers, ev.facts)
		q.Wish = apiview.WishOf(r.Wish(e, ev.facts), asked)
		view = apiview.Days(e.Booking, *q, a, l)
		return nil
	})
	return view, err
}
