package shop

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"time"

	"ruvo/api"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/link"
	"ruvo/internal/message"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

const (
	basketLife = 30 * 24 * time.Hour // that nobody touched
	mostBasket = 200_000             // bytes of one
)

var entryName = regexp.MustCompile(`^[A-Za-z0-9_-]{1,64}$`)

// readBasket says what of a basket cannot be kept.
func readBasket(b order.Basket, l words.Language) error {
	if len(b.Entries) > order.MostLines {
		return problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	}
	for i, e := range b.Entries {
		if !entryName.MatchString(e.ID) || e.Of != "" && !entryName.MatchString(e.Of) {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, fmt.Sprintf("entries.%d.id", i), "entry_name", nil)})
		}
	}
	if raw, err := json.Marshal(b); err != nil || len(raw) > mostBasket {
		return problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	}
	return nil
}

// MyBasket gives the basket of somebody who signed in.
func (s *Shop) MyBasket(ctx context.Context, l words.Language) (order.Basket, error) {
	var b order.Basket
	email := customer(ctx)
	if email == "" {
		return b, problem.Say(http.StatusUnauthorized, l, "sign_in", nil)
	}
	err := s.Store.Read(ctx, func(tx *store.Tx) (err error) {
		b, err = tx.BasketOf(email)
		b = b.Merged(order.Basket{})
		return err
	})
	return b, err
}

// MergeBasket puts what a device has into the basket of somebody who signed in, and
// gives what it comes to.
func (s *Shop) MergeBasket(ctx context.Context, with order.Basket, l words.Language) (order.Basket, error) {
	var b order.Basket
	email := customer(ctx)
	if email == "" {
		return b, problem.Say(http.StatusUnauthorized, l, "sign_in", nil)
	}
	if err := readBasket(with, l); err != nil {
		return b, err
	}
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.BasketOf(email)
		if err != nil {
			return err
		}
		b = kept.Merged(with)
		return tx.SaveBasket(store.Basket{Email: email, Basket: b, UpdatedAt: s.Now().UTC()})
	})
	return b, err
}

// KeepBasket keeps a basket and mails a link to it, with which it is brought back on any
// device. Whoever asks learns nothing of the address.
func (s *Shop) KeepBasket(ctx context.Context, email string, entries []order.Entry, l words.Language) error {
	address := question.MailAddress(email)
	if address == "" {
		return problem.Invalid(l, []api.FieldError{problem.Field(l, "email", "email", nil)})
	}
	kept := order.Basket{Entries: entries}
	if len(entries) == 0 {
		return problem.Invalid(l, []api.FieldError{problem.Field(l, "entries", "empty_basket", nil)})
	}
	if err := readBasket(kept, l); err != nil {
		return err
	}
	if err := s.mayMail(ctx, address, l); err != nil {
		return err
	}
	return s.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		secret := link.Secret()
		if err := tx.KeepBasket(store.KeptBasket{Hash: link.Hash(secret), Basket: kept, At: s.Now().UTC()}); err != nil {
			return err
		}
		return message.WriteBasket(tx, b, address, s.address(ctx, b)+"/basket/"+secret, l, s.Now())
	})
}

// KeptBasket gives a basket by the link that was mailed.
func (s *Shop) KeptBasket(ctx context.Context, secret string, l words.Language) (order.Basket, error) {
	var b order.Basket
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		k, err := tx.KeptBasketByHash(link.Hash(secret))
		b = k.Basket
		return problem.Missing(err, l, "no_basket")
	})
	return b, err
}
