package shop

import (
	"context"

	"ruvo/api"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// Known tells whoever has the private link of an order what is kept of the
// person who placed it.
func (s *Shop) Known(ctx context.Context, link string, l words.Language) (api.Known, error) {
	view := api.Known{Answers: map[string]api.KnownAnswer{}}
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, link, l)
		if err != nil {
			return err
		}
		view.Name, view.Email = o.Name, o.Email
		kept, err := tx.CustomerAnswers(o.Email)
		for _, a := range kept {
			view.Answers[string(a.Key)] = api.KnownAnswer{Kind: string(a.Kind), Answer: a.Answer}
		}
		return err
	})
	return view, err
}
