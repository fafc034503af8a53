package shop

import (
	"context"
	"net/http"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/crediting"
	"ruvo/internal/message"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// PreviewCancel says what cancelling lines of an order would come to, and
// changes nothing.
func (s *Shop) PreviewCancel(ctx context.Context, secret string, req api.SelfCancel, l words.Language) (api.MovePreview, error) {
	var view api.MovePreview
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		c, err := s.cancelling(tx, secret, req, l)
		if err != nil {
			return err
		}
		view = api.MovePreview{Lines: apiview.Cancelled(c.Order, c.list, l), Taxes: c.credit.Taxes, Total: int(c.credit.Total)}
		account, err := tx.Account(c.Row.ID)
		if err != nil {
			return err
		}
		after := account.After(c.credit.Total, false)
		view.ByCard, view.ByVoucher, view.Otherwise, view.Open = int(after.ByCard), int(after.ByVoucher), int(after.Otherwise), int(after.Open)
		if len(c.ids) == len(c.Alive()) {
			view.Held = int(account.Releasable())
		}
		return nil
	})
	return view, err
}

// undoing is what a customer wants to cancel, and what that comes to.
type undoing struct {
	*crediting.Order
	ids    []int64
	list   []charge.Cancelled
	credit charge.Credit
}

// cancelling reckons what cancelling comes to for a customer, and refuses what
// the rules do not let them do by themselves.
func (s *Shop) cancelling(tx *store.Tx, secret string, req api.SelfCancel, l words.Language) (undoing, error) {
	o, err := s.byLink(tx, secret, l)
	if err != nil {
		return undoing{}, err
	}
	if code := o.State.Refused(order.Cancel); code != "" {
		return undoing{}, problem.Say(http.StatusConflict, l, code, nil)
	}
	c, err := crediting.Open(tx, s.Editions, &o, s.Now())
	if err != nil {
		return undoing{}, err
	}
	u := undoing{Order: c, ids: c.With(req.Lines)}
	u.list = c.Cancelling(u.ids, nil)
	if !order.SelfCancel(u.list) {
		return u, problem.Say(http.StatusConflict, l, "cancel_not_self", nil)
	}
	u.credit = c.Credit(order.Offs(u.list))
	return u, placing.Unspent(tx, &o, u.ids, l)
}

// giveUp gives free what an order holds that awaits its transfer, as its customer
// wishes.
func (s *Shop) giveUp(tx *store.Tx, o *store.Order, l words.Language) error {
	account, err := tx.Account(o.ID)
	if err == nil && account.Coming() != nil {
		err = problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
	}
	if err != nil {
		return err
	}
	return placing.Lapse(tx, s.Editions, o, l.Say("author.customer", nil), true, s.Now())
}

// Cancel cancels lines of an order as far as the rules let its customer, gives
// back what was paid beyond what is then charged, and writes of it. What has
// changed since the customer looked is told instead of done. An order that awaits
// its transfer is given up.
func (s *Shop) Cancel(ctx context.Context, secret string, req api.SelfCancel, l words.Language) (api.OrderPage, error) {
	if err := s.leaveLater(ctx, secret, l); err != nil {
		return api.OrderPage{}, err
	}
	var back []store.Attempt
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, secret, l)
		if err == nil && o.State.Refused(order.GiveFree) == "" {
			return s.giveUp(tx, &o, l)
		}
		u, err := s.cancelling(tx, secret, req, l)
		if err != nil {
			return err
		}
		if req.Total != nil && money.Amount(*req.Total) != u.credit.Total {
			return problem.Say(http.StatusConflict, l, "cancel_changed", nil)
		}
		if err := placing.Cancel(tx, s.Editions, u.Row, u.ids, true, "", s.Now()); err != nil {
			return err
		}
		if err := u.Keep(tx, u.credit, ledger.Cancelling, u.list, "", ""); err != nil {
			return err
		}
		account, err := tx.Account(u.Row.ID)
		if err != nil {
			return err
		}
		if account.Coming() != nil {
			return problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
		}
		paid, held := account.Surplus(u.Row.State.Deposit(u.Row.Slip.Held))
		for p, n := range map[ledger.Purpose]money.Amount{ledger.ToReturn: paid, ledger.ToRelease: held} {
			if n == 0 {
				continue
			}
			list, _, err := s.Attempts.Back(tx, u.Row, p, n, "", "")
			if err != nil {
				return err
			}
			back = append(back, list...)
		}
		return message.WriteCancelled(tx, u.Those(u.ids), u.credit.Total, paid, s.Now())
	})
	if err != nil {
		return api.OrderPage{}, err
	}
	for _, a := range back {
		if _, err := s.Attempts.Return(ctx, a); err != nil {
			return api.OrderPage{}, err
		}
	}
	return s.OrderPage(ctx, secret, l)
}

// leaveLater gives up a payment of the rest that waits for the customer, since
// they cancel instead.
func (s *Shop) leaveLater(ctx context.Context, secret string, l words.Language) error {
	var a *store.Attempt
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, secret, l)
		if err == nil {
			a, err = awaited(tx, o.ID)
		}
		return err
	})
	if err == nil && a != nil && s.Attempts.GiveUp(ctx, *a) != nil {
		err = problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
	}
	return err
}

// cancels fills in what cancelling would come to, on the page of an order.
func (s *Shop) cancels(tx *store.Tx, o *store.Order, page *api.OrderPage, l words.Language) error {
	c, err := crediting.Open(tx, s.Editions, o, s.Now())
	if err != nil {
		return err
	}
	var sets []apiview.RuleSet
	for _, line := range c.Lines {
		if line.Row.CancelledAt == nil {
			sets = append(sets, apiview.RuleSet{Title: line.Edition.Title, Rules: crediting.Rules(o.Terms, line)})
		}
	}
	rules := apiview.CancelRules(sets, o.Currency, l)
	page.Cancelling = &rules
	if o.State.Refused(order.Cancel) == "" {
		list := apiview.Cancelled(c, c.Cancelling(c.Alive(), nil), l)
		page.Cancels = &list
	}
	return nil
}
