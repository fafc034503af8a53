package shop

import (
	"context"
	"net/http"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/agreement"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// agreed notes at a checkout what its customer agreed to, in which version, and says what
// is wrong with it. Who orders by a call to the seller agreed to nothing here.
func (s *Shop) agreed(tx *store.Tx, o *store.Order, req *api.CheckoutRequest, l words.Language) ([]api.FieldError, error) {
	texts, err := tx.Agreements()
	if err != nil || o.ByHand {
		return nil, err
	}
	o.TermsVersion, o.NewsVersion = 0, 0
	terms, news := texts[agreement.Terms], texts[agreement.News]
	if code := terms.Of().Refused(deref(req.Terms)); code != "" {
		return []api.FieldError{problem.Field(l, "terms", code, nil)}, nil
	}
	if terms.Of().Asked() {
		o.TermsVersion = terms.Version
	}
	if said := deref(req.News); said != 0 && news.Of().Asked() {
		if said != news.Version {
			return []api.FieldError{problem.Field(l, "news", "news_changed", nil)}, nil
		}
		o.NewsVersion = news.Version
	}
	return nil, nil
}

// SayNews keeps what somebody with a private link to an order says about news: the mail
// address that it was ordered with is asked about.
func (s *Shop) SayNews(ctx context.Context, secret string, yes bool, l words.Language) (api.NewsView, error) {
	return s.sayNews(ctx, yes, l, func(tx *store.Tx) (string, *int64, error) {
		o, err := s.byLink(tx, secret, l)
		return o.Email, &o.ID, err
	})
}

// SayMyNews keeps what somebody who signed in says about news.
func (s *Shop) SayMyNews(ctx context.Context, yes bool, l words.Language) (api.NewsView, error) {
	return s.sayNews(ctx, yes, l, func(*store.Tx) (string, *int64, error) {
		email := customer(ctx)
		if email == "" {
			return "", nil, problem.Say(http.StatusUnauthorized, l, "sign_in", nil)
		}
		return email, nil, nil
	})
}

func (s *Shop) sayNews(ctx context.Context, yes bool, l words.Language, who func(*store.Tx) (string, *int64, error)) (api.NewsView, error) {
	var view api.NewsView
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		email, id, err := who(tx)
		if err != nil {
			return err
		}
		before, err := apiview.News(tx, email)
		if err != nil {
			return err
		}
		w := store.NewsWord{Email: email, Agreed: yes, OrderID: id, At: s.Now()}
		if yes {
			if before.Text == nil {
				return problem.Say(http.StatusConflict, l, "no_news", nil)
			}
			w.Version = before.Text.Version
		}
		if view = before; (before.Since != nil) == yes { // said already
			return nil
		}
		if err := tx.AddNewsWord(w); err != nil {
			return err
		}
		view, err = apiview.News(tx, email)
		return err
	})
	return view, err
}
