package shop

import (
	"context"

	"ruvo/api"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// Known tells what belongs to the person who placed an order: what they answered
// in it, to whoever has its private link; and what is kept of them from other
// orders, to whoever has a link that was mailed to their address.
func (s *Shop) Known(ctx context.Context, link string, l words.Language) (api.Known, error) {
	view := api.Known{Answers: map[string]api.KnownAnswer{}}
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		o, mailed, err := s.letIn(tx, link, l)
		if err != nil {
			return err
		}
		view.Name, view.Email = o.Name, o.Email
		lines, err := docket.Lines(tx, s.Editions, &o, s.Now())
		if err != nil {
			return err
		}
		var all []store.CustomerAnswer
		for _, line := range lines {
			all = append(all, line.OfCustomer(s.Now())...)
		}
		if mailed {
			kept, err := tx.CustomerAnswers(o.Email)
			if err != nil {
				return err
			}
			all = append(all, kept...) // what was said last
		}
		for _, a := range all {
			view.Answers[string(a.Key)] = api.KnownAnswer{Kind: string(a.Kind), Answer: a.Answer}
		}
		return nil
	})
	return view, err
}
