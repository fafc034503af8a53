package shop

import (
	"context"
	"errors"
	"time"

	"ruvo/api"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/link"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

type contextKey int

const customerKey contextKey = iota

// WithCustomer tells whose pass a request came with: a mail address that its
// owner proved by opening a link sent to it.
func WithCustomer(ctx context.Context, email string) context.Context {
	return context.WithValue(ctx, customerKey, email)
}

func customer(ctx context.Context) string {
	email, _ := ctx.Value(customerKey).(string)
	return email
}

// groupOf gives the key of the customer's group; empty for none.
func groupOf(ctx context.Context, tx *store.Tx) (string, error) {
	email := customer(ctx)
	if email == "" {
		return "", nil
	}
	g, err := tx.GroupOf(email)
	if errors.Is(err, store.ErrNotFound) {
		return "", nil
	}
	return g.Key, err
}

// Pass tells whose pass the browser has, and of which group they are.
func (s *Shop) Pass(ctx context.Context) (api.Pass, error) {
	email := customer(ctx)
	if email == "" {
		return api.Pass{}, nil
	}
	v := api.Pass{Email: &email}
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		g, err := tx.GroupOf(email)
		if errors.Is(err, store.ErrNotFound) {
			return nil
		}
		v.Group = &g.Name
		return err
	})
	return v, err
}

// passLife is how long a link that was sent opens a group's prices.
const passLife = 48 * time.Hour

// AskPass sends a mail whose link signs a customer in: it opens the prices of their
// group, and all that they ordered. With an invitation the address joins a group once
// the link is opened. The answer is the same whatever the address, so nobody learns who
// is a member or bought something.
func (s *Shop) AskPass(ctx context.Context, r api.PassRequest, l words.Language) error {
	email := question.MailAddress(r.Email)
	if email == "" {
		return problem.Invalid(l, []api.FieldError{problem.Field(l, "email", "email", nil)})
	}
	if err := s.mayMail(ctx, email, l); err != nil {
		return err
	}
	return s.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		invited := r.Invite != nil && *r.Invite != ""
		group, err := tx.GroupOf(email)
		if invited {
			if group, err = tx.GroupByInvite(link.Hash(*r.Invite)); err != nil {
				return problem.Missing(err, l, "no_invite")
			}
		}
		known := err == nil
		if errors.Is(err, store.ErrNotFound) {
			known, err = tx.HasOrders(email)
		}
		if err != nil || !known {
			return err
		}
		token := link.Secret()
		pass := store.Pass{Hash: link.Hash(token), Email: email, CreatedAt: s.Now().UTC()}
		if err := tx.AddPass(pass); err != nil {
			return err
		}
		address := b.Address + "/pass/" + token
		if invited {
			address += "?invite=" + *r.Invite
		}
		p := words.Params{"business": b.Name, "group": group.Name, "link": address}
		kind := "mail.pass."
		if group.Name == "" {
			kind = "mail.signs_in."
		}
		return tx.WriteMessage(store.Message{
			Key: "pass-" + pass.Hash, Way: store.ByMail, Recipient: email, Subject: l.Say(kind+"subject", p), Body: l.Say(kind+"body", p), CreatedAt: s.Now().UTC(),
		})
	})
}

// PassTime is for how long a pass that was opened holds in a browser.
const PassTime = 12 * time.Hour

// OpenPass opens the link that was sent to a mail address, which works once, and
// gives the address with a secret by which the browser is known from then on. It
// takes the place of the secret that the browser had before. Opened with an
// invitation, the address joins its group.
func (s *Shop) OpenPass(ctx context.Context, token, invite, before string, l words.Language) (email, secret string, err error) {
	now := s.Now()
	err = s.Store.Write(ctx, func(tx *store.Tx) error {
		p, err := tx.PassByHash(link.Hash(token))
		if errors.Is(err, store.ErrNotFound) || err == nil && (p.OpenedAt != nil || now.Sub(p.CreatedAt) > passLife) {
			return problem.NotFound(l, "no_pass")
		}
		if err != nil {
			return err
		}
		if invite != "" {
			g, err := tx.GroupByInvite(link.Hash(invite))
			if err != nil {
				return problem.Missing(err, l, "no_invite")
			}
			if err := tx.Join(store.Member{Email: p.Email, GroupID: g.ID, Joined: "link", CreatedAt: now.UTC()}); err != nil {
				return err
			}
		}
		if err := tx.DropPassSession(link.Hash(before)); err != nil {
			return err
		}
		email, secret = p.Email, link.Secret()
		if err := tx.AddPassSession(store.PassSession{Hash: link.Hash(secret), Email: email, CreatedAt: now.UTC()}); err != nil {
			return err
		}
		return tx.OpenedPass(p.Hash, now)
	})
	return email, secret, err
}

// Opened gives whose pass a browser opened; empty for nobody's.
func (s *Shop) Opened(ctx context.Context, secret string) (string, error) {
	if secret == "" {
		return "", nil
	}
	email := ""
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		p, err := tx.PassSessionByHash(link.Hash(secret))
		if err == nil && s.Now().Sub(p.CreatedAt) <= PassTime {
			email = p.Email
		}
		if errors.Is(err, store.ErrNotFound) {
			err = nil
		}
		return err
	})
	return email, err
}

// DropPass forgets a browser.
func (s *Shop) DropPass(ctx context.Context, secret string) error {
	return s.Store.Write(ctx, func(tx *store.Tx) error { return tx.DropPassSession(link.Hash(secret)) })
}
