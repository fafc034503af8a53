package shop

import (
	"context"
	"errors"
	"net/http"
	"regexp"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/link"
	"ruvo/internal/payment"
	"ruvo/internal/placing"
	"ruvo/internal/port"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

var (
	cardCode    = regexp.MustCompile(`^[0-9]{3}$`)
	attemptName = regexp.MustCompile(`^[0-9a-zA-Z_-]{8,64}$`)
)

// Pay pays a checkout with a card. The attempt's name makes a repeat harmless:
// a doubled click or a request sent again gets the first outcome.
//
// The payment service is asked between two transactions: the first holds the
// places and notes the attempt, the second records the answer. Without an
// answer the payment is asked about again until there is one.
func (s *Shop) Pay(ctx context.Context, name string, card api.Card, l words.Language) (api.Payment, error) {
	if card.Number == "" {
		if free, err := s.free(ctx, name, l); err != nil || free != nil {
			return deref(free), err
		}
	}
	if wrong := s.card(card, l); len(wrong) > 0 {
		return api.Payment{}, problem.Invalid(l, wrong)
	}
	return s.pay(ctx, card, l, func(tx *store.Tx) (paying, error) {
		o, err := s.checkout(tx, name, l)
		return paying{
			order: o, act: order.Pay, attempt: hash(name + card.Attempt), purpose: ledger.ToPlace, amount: o.Slip.Now() + o.Slip.Held, held: o.Slip.Held,
		}, err
	})
}

// PayRest pays with a card what of an order is still open. As with the first
// payment, an attempt that is repeated under its name is not charged twice.
func (s *Shop) PayRest(ctx context.Context, secret string, card api.Card, l words.Language) (api.Payment, error) {
	if wrong := s.card(card, l); len(wrong) > 0 {
		return api.Payment{}, problem.Invalid(l, wrong)
	}
	return s.pay(ctx, card, l, func(tx *store.Tx) (paying, error) {
		o, err := s.byLink(tx, secret, l)
		if err != nil {
			return paying{}, err
		}
		a, err := tx.Account(o.ID)
		if err != nil {
			return paying{}, err
		}
		return paying{order: o, act: order.PayRest, attempt: hash(secret + card.Attempt), purpose: ledger.ToPay, amount: a.Balance().Open()}, nil
	})
}

// paying is a payment that a customer asks for.
type paying struct {
	order   store.Order
	act     order.Act
	attempt string
	purpose ledger.Purpose
	amount  money.Amount
	held    money.Amount
}

// pay begins a payment, asks the service, and tells what became of it. Another
// attempt that waits for the customer's word is given up first: they took
// another card instead.
func (s *Shop) pay(ctx context.Context, card api.Card, l words.Language, find func(*store.Tx) (paying, error)) (api.Payment, error) {
	for {
		var a store.Attempt
		var other *store.Attempt
		var done *api.Payment
		err := s.Store.Write(ctx, func(tx *store.Tx) error {
			p, err := find(tx)
			if err == nil {
				a, other, done, err = s.begin(ctx, tx, p, card, l)
			}
			return err
		})
		switch {
		case err != nil:
			return api.Payment{}, err
		case done != nil:
			return *done, nil
		case other != nil:
			if err := s.Attempts.GiveUp(ctx, *other); err != nil {
				return api.Payment{}, problem.Say(http.StatusConflict, l, "paying", nil)
			}
			continue
		}
		return s.told(l, func(then payment.Then) error {
			_, err := s.Attempts.Charge(ctx, a, card.Number, then)
			return err
		})
	}
}

// begin notes an attempt to pay, or finds what stands in its way: the one of
// the same name, or another one that waits for the customer's word.
func (s *Shop) begin(ctx context.Context, tx *store.Tx, p paying, card api.Card, l words.Language) (a store.Attempt, other *store.Attempt, done *api.Payment, err error) {
	o := p.order
	a, err = tx.AttemptByName(p.attempt)
	switch {
	case err == nil && a.State != ledger.Asked: // its outcome is known
		v, err := s.paid(tx, &o, a, l)
		return a, nil, &v, err
	case err == nil:
		return a, nil, nil, nil
	case !errors.Is(err, store.ErrNotFound):
		return a, nil, nil, err
	}
	attempts, err := tx.Attempts(o.ID)
	if err != nil {
		return a, nil, nil, err
	}
	for _, w := range attempts {
		switch {
		case w.Purpose.Back() || !w.State.Waiting():
		case w.State == ledger.Confirm:
			return a, &w, nil, nil
		default:
			return a, nil, nil, problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
		}
	}
	if code := o.State.Refused(p.act); code != "" {
		if code == order.WhenPlaced {
			v, err := s.placed(tx, &o, l)
			return a, nil, &v, err
		}
		return a, nil, nil, problem.Say(http.StatusConflict, l, code, nil)
	}
	if card.Total != nil && p.act == order.Pay && money.Amount(*card.Total) != o.Total {
		return a, nil, nil, problem.Say(http.StatusConflict, l, "price_changed", nil)
	}
	if p.amount <= 0 {
		return a, nil, nil, problem.Say(http.StatusConflict, l, "nothing_open", nil)
	}
	if err := s.mayPay(ctx, o.ID, l); err != nil {
		return a, nil, nil, err
	}
	number := port.Digits(card.Number)
	a = store.Attempt{Name: p.attempt, Purpose: p.purpose, Amount: p.amount, Held: p.held, Last4: number[len(number)-4:]}
	if err := s.Attempts.Begin(tx, &o, &a); err != nil || p.act != order.Pay {
		return a, nil, nil, err
	}
	o.State = order.Paying
	return a, nil, nil, s.regain(ctx, tx, &o, l)
}

// regain has a checkout's places and pieces held while it is paid.
func (s *Shop) regain(ctx context.Context, tx *store.Tx, o *store.Order, l words.Language) error {
	before, err := s.held(tx, o)
	if err != nil {
		return err
	}
	if err := placing.Regain(tx, s.Editions, o, s.Now(), s.Hold, l); err != nil {
		return err
	}
	if err := s.keepHeld(ctx, tx, o, before); err != nil {
		return err
	}
	return tx.SaveOrder(o)
}

// free completes a checkout that costs nothing, for which no bank is asked;
// nothing comes back for one that does cost something.
func (s *Shop) free(ctx context.Context, name string, l words.Language) (*api.Payment, error) {
	var done *api.Payment
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := s.checkout(tx, name, l)
		if err != nil {
			return err
		}
		switch code := o.State.Refused(order.Pay); {
		case code == order.WhenPlaced:
			p, err := s.placed(tx, &o, l)
			done = &p
			return err
		case code != "":
			return problem.Say(http.StatusConflict, l, code, nil)
		case o.Slip.Now()+o.Slip.Held != 0:
			return nil
		}
		if err := s.mayMail(ctx, o.Email, l); err != nil {
			return err
		}
		if err := placing.Regain(tx, s.Editions, &o, s.Now(), s.Hold, l); err != nil {
			return err
		}
		if err := placing.Place(tx, s.Editions, &o, s.Now()); err != nil {
			return err
		}
		p, err := s.placed(tx, &o, l)
		done = &p
		return err
	})
	return done, err
}

// deref gives what is pointed at; the zero value for nil.
func deref[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}

// checkout finds an order by its checkout's name.
func (s *Shop) checkout(tx *store.Tx, name string, l words.Language) (store.Order, error) {
	o, err := tx.OrderByCheckout(hash(name))
	return o, problem.Missing(err, l, "no_checkout")
}

// card checks what can be checked before the bank is asked.
func (s *Shop) card(card api.Card, l words.Language) []api.FieldError {
	var wrong []api.FieldError
	if len(card.Number) > 40 || !port.ValidNumber(card.Number) {
		wrong = append(wrong, problem.Field(l, "number", "card_number", nil))
	}
	last, err := time.Parse("01/06", strings.ReplaceAll(card.Expiry, " ", ""))
	if err != nil || !last.AddDate(0, 1, 0).After(s.Now()) {
		wrong = append(wrong, problem.Field(l, "expiry", "card_expiry", nil))
	}
	if !cardCode.MatchString(card.Code) {
		wrong = append(wrong, problem.Field(l, "code", "card_code", nil))
	}
	if !attemptName.MatchString(card.Attempt) {
		wrong = append(wrong, problem.Field(l, "attempt", "required", nil))
	}
	return wrong
}

// Confirm passes the customer's word on a checkout's payment to their bank.
func (s *Shop) Confirm(ctx context.Context, name string, approve bool, l words.Language) (api.Payment, error) {
	return s.confirm(ctx, approve, l, func(tx *store.Tx) (store.Order, *api.Payment, error) {
		o, err := s.checkout(tx, name, l)
		if err != nil || o.State.Refused(order.Word) != order.WhenPlaced {
			return o, nil, err
		}
		p, err := s.placed(tx, &o, l)
		return o, &p, err
	})
}

// ConfirmRest passes the customer's word for a later payment on to their bank.
func (s *Shop) ConfirmRest(ctx context.Context, secret string, approve bool, l words.Language) (api.Payment, error) {
	return s.confirm(ctx, approve, l, func(tx *store.Tx) (store.Order, *api.Payment, error) {
		o, err := s.byLink(tx, secret, l)
		return o, nil, err
	})
}

// confirm passes the customer's word on to their bank. Find tells the order,
// and what there is to say when it was placed already.
func (s *Shop) confirm(ctx context.Context, approve bool, l words.Language, find func(*store.Tx) (store.Order, *api.Payment, error)) (api.Payment, error) {
	var a store.Attempt
	var done *api.Payment
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, paid, err := find(tx)
		if err != nil || paid != nil {
			done = paid
			return err
		}
		attempts, err := tx.Attempts(o.ID)
		if err != nil {
			return err
		}
		for _, w := range attempts {
			if w.State == ledger.Confirm {
				a = w
			}
		}
		if a.ID == 0 {
			return problem.Say(http.StatusConflict, l, "nothing_to_confirm", nil)
		}
		return nil
	})
	if err != nil {
		return api.Payment{}, err
	}
	if done != nil {
		return *done, nil
	}
	return s.told(l, func(then payment.Then) error {
		_, err := s.Attempts.Confirm(ctx, a, approve, then)
		return err
	})
}

// told asks the payment service and tells what became of the attempt, by what
// is recorded of its answer; that no answer came when none is.
func (s *Shop) told(l words.Language, ask func(payment.Then) error) (api.Payment, error) {
	v, told := api.Payment{State: api.PaymentStateAsked}, error(nil)
	err := ask(func(tx *store.Tx, o *store.Order, a store.Attempt) {
		v, told = s.paid(tx, o, a, l)
	})
	return v, errors.Join(err, told)
}

// paid tells what became of an attempt to pay an order.
func (s *Shop) paid(tx *store.Tx, o *store.Order, a store.Attempt, l words.Language) (api.Payment, error) {
	switch {
	case a.Purpose == ledger.ToPlace && o.State.IsPlaced():
		return s.placed(tx, o, l)
	case a.State == ledger.Refused:
		reason := l.Say("card."+a.Reason, nil)
		return api.Payment{State: api.PaymentStateRefused, Reason: &reason}, nil
	}
	return api.Payment{State: api.PaymentState(a.State), Number: o.Number}, nil
}

// placed answers for a placed order, shortly after it was placed with a private
// link of its own: the links are kept hashed, so the one in the mail cannot be
// shown again.
func (s *Shop) placed(tx *store.Tx, o *store.Order, l words.Language) (api.Payment, error) {
	v := api.Payment{State: api.PaymentStateSettled, Number: o.Number}
	replaced, err := tx.Relinked(o.ID)
	if err != nil {
		return v, err
	}
	switch code := order.LinkRefused(o.State, store.When(o.PlacedAt), replaced, s.Now()); code {
	case "":
		secret, err := link.New(tx, o.ID, s.Now())
		v.Link = &secret
		return v, err
	default:
		return v, problem.Say(http.StatusConflict, l, code, nil)
	}
}
