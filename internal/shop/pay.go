package shop

import (
	"context"
	"errors"
	"net/http"
	"regexp"

	"ruvo/api"
	"ruvo/internal/apiview"
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

var attemptName = regexp.MustCompile(`^[0-9a-zA-Z_-]{8,64}$`)

// The paths that the payment service leads customers back to.
const (
	backToCheckout = "/checkout?step=pay&back"
	backToOrder    = "/paid"
)

// Pay begins to pay a checkout, and gives the page of the payment service on
// which the customer does it; what costs nothing is placed at once. The
// attempt's name makes a repeat harmless: a doubled click or a request sent
// again gets the first outcome.
//
// The payment service is asked between two transactions: the first holds the
// places and notes the attempt, the second records the answer. Without an
// answer the payment is asked about again until there is one.
func (s *Shop) Pay(ctx context.Context, name string, req api.PayRequest, l words.Language) (api.Payment, error) {
	return s.pay(ctx, req, l, func(tx *store.Tx) (paying, error) {
		o, err := s.checkout(tx, name, l)
		return paying{
			order: o, act: order.Pay, attempt: hash(name + req.Attempt), purpose: ledger.ToPlace, amount: o.Slip.ToPay() + o.Slip.Held, held: o.Slip.Held, back: backToCheckout,
		}, err
	})
}

// PayRest begins to pay what of an order is still open. As with the first
// payment, an attempt that is repeated under its name is not charged twice.
func (s *Shop) PayRest(ctx context.Context, secret string, req api.PayRequest, l words.Language) (api.Payment, error) {
	return s.pay(ctx, req, l, func(tx *store.Tx) (paying, error) {
		o, err := s.byLink(tx, secret, l)
		if err != nil {
			return paying{}, err
		}
		a, err := tx.Account(o.ID)
		if err != nil {
			return paying{}, err
		}
		when, err := apiview.WhenOf(tx, o.ID, s.Now())
		amount := a.Balance().Open()
		if req.All != nil && !*req.All {
			amount = ledger.DueNow(ledger.Parts(a.Entries), when.Today, when.Done)
		}
		held := money.Amount(0)
		if o.State == order.Awaiting {
			held = max(o.Slip.Held-a.Balance().Security(), 0)
			if req.All != nil && !*req.All {
				amount = ledger.Awaited(a.Entries, 0)
			}
		}
		return paying{order: o, act: order.PayRest, attempt: hash(secret + req.Attempt), purpose: ledger.ToPay, amount: amount + held, held: held, back: backToOrder}, err
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
	back    string // the path to come back to
}

// pay begins a payment, asks the service, and tells what became of it. Another
// attempt that waits for the customer is given up first: they begin anew.
func (s *Shop) pay(ctx context.Context, req api.PayRequest, l words.Language, find func(*store.Tx) (paying, error)) (api.Payment, error) {
	if !attemptName.MatchString(req.Attempt) {
		return api.Payment{}, problem.Invalid(l, []api.FieldError{problem.Field(l, "attempt", "required", nil)})
	}
	for {
		var b begun
		err := s.Store.Write(ctx, func(tx *store.Tx) error {
			p, err := find(tx)
			if err == nil {
				b, err = s.begin(ctx, tx, p, req, l)
			}
			return err
		})
		switch {
		case err != nil:
			return api.Payment{}, err
		case b.done != nil:
			return *b.done, nil
		case b.other != nil:
			if err := s.Attempts.GiveUp(ctx, *b.other); err != nil {
				return api.Payment{}, problem.Say(http.StatusConflict, l, "paying", nil)
			}
			continue
		}
		return s.told(l, func(then payment.Then) error {
			_, err := s.Attempts.Start(ctx, b.attempt, b.wanted, then)
			return err
		})
	}
}

// begun is a payment that was begun: the attempt and what to ask the service
// for; or what stands in its way.
type begun struct {
	attempt store.Attempt
	wanted  port.Wanted
	other   *store.Attempt // waits for the customer
	done    *api.Payment   // there is nothing more to ask for
}

// begin notes an attempt to pay, or finds what stands in its way: the one of
// the same name, or another one that waits for the customer.
func (s *Shop) begin(ctx context.Context, tx *store.Tx, p paying, req api.PayRequest, l words.Language) (begun, error) {
	o := p.order
	done := func(v api.Payment, err error) (begun, error) { return begun{done: &v}, err }
	refused := func(code string) (begun, error) {
		return begun{}, problem.Say(http.StatusConflict, l, code, nil)
	}
	b, err := tx.Business()
	if err != nil {
		return begun{}, err
	}
	wanted := port.Wanted{Currency: o.Currency, About: b.Name, Back: s.address(ctx, b) + p.back, Language: string(l)}
	if wanted.Currency == "" {
		wanted.Currency = o.Slip.Currency
	}
	attempts, err := tx.Attempts(o.ID)
	if err != nil {
		return begun{}, err
	}
	for _, a := range attempts {
		switch {
		case a.Name != p.attempt:
		case a.State != ledger.Asked: // its outcome is known
			return done(s.paid(tx, &o, a, l))
		default:
			return begun{attempt: a, wanted: wanted}, nil
		}
	}
	for _, w := range attempts {
		switch {
		case w.Purpose.Back() || !w.State.Waiting():
		case w.State == ledger.Confirm:
			return begun{other: &w}, nil
		default:
			return refused(order.WhilePaying)
		}
	}
	if code := o.State.Refused(p.act); code != "" {
		if code == order.WhenPlaced || code == order.WhenAwaiting {
			return done(s.placed(tx, &o, l))
		}
		return refused(code)
	}
	if req.Total != nil && p.act == order.Pay && money.Amount(*req.Total) != o.Total {
		return refused("price_changed")
	}
	if p.amount <= 0 {
		if p.act == order.Pay {
			return done(s.free(ctx, tx, &o, l))
		}
		return refused("nothing_open")
	}
	way := ledger.Card
	if req.Way != nil {
		way = ledger.Way(*req.Way)
	}
	lines, err := tx.LineHeads(o.ID)
	if err != nil {
		return begun{}, err
	}
	if err := s.mayPayBy(tx, lines, p.act, way, l); err != nil {
		return begun{}, err
	}
	if way == ledger.Transfer {
		if p.act != order.Pay { // how is on the order page
			return refused("way_not_taken")
		}
		return done(s.await(ctx, tx, &o, lines, l))
	}
	if err := s.mayPay(ctx, o.ID, l); err != nil {
		return begun{}, err
	}
	a := store.Attempt{Name: p.attempt, Purpose: p.purpose, Amount: p.amount, Held: p.held}
	if err := s.Attempts.Begin(tx, &o, &a); err != nil || p.act != order.Pay {
		return begun{attempt: a, wanted: wanted}, err
	}
	o.State = order.Paying
	return begun{attempt: a, wanted: wanted}, s.regain(ctx, tx, &o, lines, l)
}

// regain has a checkout's places and pieces held while it is paid.
func (s *Shop) regain(ctx context.Context, tx *store.Tx, o *store.Order, lines []store.OrderLine, l words.Language) error {
	before, err := s.held(tx, o)
	if err != nil {
		return err
	}
	if err := placing.Regain(tx, s.Editions, o, lines, s.Now(), s.Hold, l); err != nil {
		return err
	}
	if err := s.keepHeld(ctx, tx, o, before); err != nil {
		return err
	}
	return tx.SaveProgress(o)
}

// free places a checkout that costs nothing, for which no bank is asked.
func (s *Shop) free(ctx context.Context, tx *store.Tx, o *store.Order, l words.Language) (api.Payment, error) {
	if err := s.mayMail(ctx, o.Email, l); err != nil {
		return api.Payment{}, err
	}
	if err := s.mayTell(ctx, tx, o, l); err != nil {
		return api.Payment{}, err
	}
	lines, err := tx.LineHeads(o.ID)
	if err != nil {
		return api.Payment{}, err
	}
	if err := placing.Regain(tx, s.Editions, o, lines, s.Now(), s.Hold, l); err != nil {
		return api.Payment{}, err
	}
	if err := placing.Place(tx, s.Editions, o, s.Now()); err != nil {
		return api.Payment{}, err
	}
	return s.placed(tx, o, l)
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

// Leave ends a checkout's payment that waits for the customer: they do not want
// to go on with it.
func (s *Shop) Leave(ctx context.Context, name string, l words.Language) (api.Payment, error) {
	return s.leave(ctx, order.Word, l, func(tx *store.Tx) (store.Order, error) { return s.checkout(tx, name, l) })
}

// LeaveRest ends a later payment that waits for the customer.
func (s *Shop) LeaveRest(ctx context.Context, secret string, l words.Language) (api.Payment, error) {
	return s.leave(ctx, order.PayRest, l, func(tx *store.Tx) (store.Order, error) { return s.byLink(tx, secret, l) })
}

// leave ends the payment that waits for the customer. The service has the last
// word: one that was settled a moment ago is told as settled.
func (s *Shop) leave(ctx context.Context, act order.Act, l words.Language, find func(*store.Tx) (store.Order, error)) (api.Payment, error) {
	var a *store.Attempt
	var done *api.Payment
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := find(tx)
		if err != nil {
			return err
		}
		if code := o.State.Refused(act); code == order.WhenPlaced || code == order.WhenAwaiting {
			p, err := s.placed(tx, &o, l)
			done = &p
			return err
		}
		if a, err = awaited(tx, o.ID); err == nil && a == nil {
			err = problem.Say(http.StatusConflict, l, "nothing_to_leave", nil)
		}
		return err
	})
	if err != nil || done != nil {
		return deref(done), err
	}
	return s.told(l, func(then payment.Then) error {
		_, err := s.Attempts.End(ctx, *a, then)
		return err
	})
}

// awaited finds the payment of an order that waits for the customer; nil when
// there is none.
func awaited(tx *store.Tx, id int64) (*store.Attempt, error) {
	all, err := tx.Attempts(id)
	for i := range all {
		if all[i].State == ledger.Confirm {
			return &all[i], err
		}
	}
	return nil, err
}

// look asks the payment service about an order's payment that waits, since its
// customer is here and may have paid; it says whether the answer was recorded,
// and then ran.
func (s *Shop) look(ctx context.Context, find func(*store.Tx) (*store.Attempt, error), then payment.Then) (recorded bool, err error) {
	var a *store.Attempt
	err = s.Store.Read(ctx, func(tx *store.Tx) (err error) {
		a, err = find(tx)
		return err
	})
	if err != nil || a == nil {
		return false, err
	}
	_, err = s.Attempts.Look(ctx, *a, func(tx *store.Tx, o *store.Order, a store.Attempt) {
		recorded = true
		if then != nil {
			then(tx, o, a)
		}
	})
	return recorded, err
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
	case a.Purpose == ledger.ToPlace && o.State.IsOrdered():
		return s.placed(tx, o, l)
	case a.State == ledger.Refused:
		reason := l.Say("card."+a.Reason, nil)
		return api.Payment{State: api.PaymentStateRefused, Reason: &reason}, nil
	}
	v := api.Payment{State: api.PaymentState(a.State), Number: o.Number}
	if a.State == ledger.Confirm {
		amount := int(a.Amount)
		v.Page, v.Amount = &a.Page, &amount
	}
	return v, nil
}

// placed answers for an order that was placed, or awaits its transfer, shortly
// after it was ordered with a private link of its own: the links are kept hashed,
// so the one in the mail cannot be shown again.
func (s *Shop) placed(tx *store.Tx, o *store.Order, l words.Language) (api.Payment, error) {
	v := api.Payment{State: api.PaymentStateSettled, Number: o.Number}
	if o.State == order.Awaiting {
		v.State = api.PaymentStateAwaiting
	}
	replaced, err := tx.Relinked(o.ID)
	if err != nil {
		return v, err
	}
	switch code := order.LinkRefused(o.State, o.Since(), replaced, s.Now()); code {
	case "":
		secret, err := link.New(tx, o.ID, s.Now())
		v.Link = &secret
		return v, err
	default:
		return v, problem.Say(http.StatusConflict, l, code, nil)
	}
}
