// Package payment moves money: it notes each attempt before the payment service
// is asked, records what the service says, and asks again about what it did not
// answer. Shop and desk decide what is to be moved.
package payment

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/docket"
	"ruvo/internal/placing"
	"ruvo/internal/port"
	"ruvo/internal/store"
)

// Attempts runs the attempts to move money.
type Attempts struct {
	Store    *store.Store
	Editions *docket.Editions
	Service  port.Payments
	Now      func() time.Time
	// Hold is how long the service may wait for a customer's word.
	Hold time.Duration
}

// Begin notes an attempt. The service is asked once the transaction is kept,
// with Charge or Return.
func (p *Attempts) Begin(tx *store.Tx, o *store.Order, a *store.Attempt) error {
	a.OrderID, a.State, a.CreatedAt = o.ID, ledger.Asked, p.Now().UTC()
	a.AskAt = store.Time(p.Now().Add(port.Pause(0)))
	return tx.AddAttempt(a)
}

// Back notes attempts to give money back to the customer, one for each payment
// that it came in by. What vouchers paid goes back to them; what came in otherwise
// cannot go back by itself and is left.
func (p *Attempts) Back(tx *store.Tx, o *store.Order, purpose ledger.Purpose, amount money.Amount, author, note string) (list []store.Attempt, left money.Amount, err error) {
	account, err := tx.Account(o.ID)
	if err != nil {
		return nil, 0, err
	}
	from, left := account.Sources(purpose, amount)
	for i, s := range from {
		a := store.Attempt{
			Name: fmt.Sprintf("%s-%d-%d", purpose, o.ID, len(account.Attempts)+1+i), Purpose: purpose, Of: s.Of, Amount: s.Amount, Author: author, Note: note,
		}
		if err := p.Begin(tx, o, &a); err != nil {
			return nil, 0, err
		}
		list = append(list, a)
	}
	if purpose == ledger.ToReturn {
		n, err := placing.ToVouchers(tx, o, left, author, note, p.Now())
		return list, left - n, err
	}
	return list, left, nil
}

// A Then is what is done in the transaction that records an answer, once it is
// recorded. It tells and decides nothing, so that it cannot undo the record. Of
// the order it has the head only while the attempt goes on waiting.
type Then func(tx *store.Tx, o *store.Order, a store.Attempt)

// Start asks the service for the page on which the customer pays, and records
// its answer. When the service does not answer, the attempt stays asked: it is
// asked about again by Round, and no error is made of it.
func (p *Attempts) Start(ctx context.Context, a store.Attempt, w port.Wanted, then Then) (store.Attempt, error) {
	w.Attempt, w.Amount, w.Held = a.Name, a.Amount, a.Held
	r, err := p.Service.Start(ctx, w)
	return p.heard(ctx, a, r, err, then)
}

// Return asks the service to give back the money of an attempt and records its
// answer, as Start does.
func (p *Attempts) Return(ctx context.Context, a store.Attempt) (store.Attempt, error) {
	r, err := p.giveBack(ctx, a)
	return p.heard(ctx, a, r, err, nil)
}

func (p *Attempts) giveBack(ctx context.Context, a store.Attempt) (port.Receipt, error) {
	var o store.Order
	err := p.Store.Read(ctx, func(tx *store.Tx) (err error) {
		o, err = tx.OrderByID(a.OrderID)
		return err
	})
	if err != nil {
		return port.Receipt{}, err
	}
	g := port.Giving{Attempt: a.Name, Of: a.Of, Amount: a.Amount, Currency: o.Currency}
	if a.Purpose == ledger.ToRelease {
		return p.Service.Release(ctx, g)
	}
	return p.Service.Return(ctx, g)
}

// Look asks the service what became of an attempt by now and records it, as
// when the customer comes back from its page.
func (p *Attempts) Look(ctx context.Context, a store.Attempt, then Then) (store.Attempt, error) {
	r, err := p.Service.Ask(ctx, a.Name)
	return p.heard(ctx, a, r, err, then)
}

// End ends a payment that the customer goes away from, and records what the
// service says: it has the last word.
func (p *Attempts) End(ctx context.Context, a store.Attempt, then Then) (store.Attempt, error) {
	r, err := p.Service.End(ctx, a.Name)
	return p.heard(ctx, a, r, err, then)
}

func (p *Attempts) heard(ctx context.Context, a store.Attempt, r port.Receipt, err error, then Then) (store.Attempt, error) {
	if err != nil {
		slog.Warn("the payment service did not answer", "attempt", a.ID, "error", err)
		return a, nil
	}
	// What the service said must be kept, also when whoever asked went away.
	return p.Answer(context.WithoutCancel(ctx), a.Name, r, then)
}

// Answer records the service's word on an attempt: what the ledger learns of
// it, and what becomes of the order. What came in and is not asked for, since
// the order was paid otherwise, changed or cancelled meanwhile, goes back.
func (p *Attempts) Answer(ctx context.Context, name string, r port.Receipt, then Then) (store.Attempt, error) {
	var a store.Attempt
	var back []store.Attempt
	err := p.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		if a, err = tx.AttemptByName(name); err != nil {
			return err
		}
		if a.State.Waiting() && r.State.Waiting() {
			return p.waits(tx, &a, r, then)
		}
		o, err := tx.OrderByID(a.OrderID)
		if err != nil {
			return err
		}
		back, err = p.answer(tx, &o, &a, r)
		if err == nil && then != nil {
			then(tx, &o, a)
		}
		return err
	})
	if err != nil {
		return a, err
	}
	for _, b := range back {
		if _, err := p.Return(ctx, b); err != nil {
			return a, err
		}
	}
	return a, nil
}

// waits records that an attempt waits, and for what: no money moved, and the order
// stays as it is.
func (p *Attempts) waits(tx *store.Tx, a *store.Attempt, r port.Receipt, then Then) error {
	t := a.Ledger()
	t.Answer(r.State, r.Reason, p.Now())
	if a.State, a.Page, a.Fee = t.State, "", r.Fee; t.State == ledger.Confirm {
		a.Page = r.Page
	}
	a.AskAt = store.Time(p.next(*a, p.Now()))
	if err := tx.SaveAttempt(a); err != nil || then == nil {
		return err
	}
	o, err := tx.OrderHead(a.OrderID)
	if err == nil {
		then(tx, &o, *a)
	}
	return err
}

func (p *Attempts) answer(tx *store.Tx, o *store.Order, a *store.Attempt, r port.Receipt) ([]store.Attempt, error) {
	now := p.Now()
	b, err := tx.Business()
	if err != nil {
		return nil, err
	}
	t := a.Ledger()
	waited := t.State.Waiting()
	if t.State != ledger.Settled {
		t.Fee = r.Fee
	}
	entries := t.Answer(r.State, r.Reason, now)
	for i := range entries {
		entries[i].Author, entries[i].Note = a.Author, a.Note
	}
	if a.Page = r.Page; t.State != ledger.Confirm {
		a.Page = ""
	}
	a.State, a.Reason, a.Fee, a.AskAt = t.State, t.Reason, t.Fee, nil
	if a.State.Waiting() {
		a.AskAt = store.Time(p.next(*a, now))
	}
	if err := tx.SaveAttempt(a); err != nil {
		return nil, err
	}
	placed := false
	if next := o.State.After(a.Ledger(), waited); next == order.Placed && o.State != order.Placed {
		placed = true
		err = placing.Place(tx, p.Editions, o, now, entries...)
	} else if next != o.State {
		o.State = next
		err = tx.SaveProgress(o)
	}
	if err == nil && !placed {
		err = tx.AddEntries(o, entries, b.Location())
	}
	if err == nil && len(entries) > 0 && !placed {
		err = placing.Settle(tx, p.Editions, o, now)
	}
	if err != nil {
		return nil, err
	}
	// What places an order is what is due when ordering, to the cent.
	if len(entries) == 0 || a.Purpose.Back() || placed {
		return nil, nil
	}
	return p.surplus(tx, o)
}

// surplus notes attempts to give back what an order does not ask for.
func (p *Attempts) surplus(tx *store.Tx, o *store.Order) ([]store.Attempt, error) {
	balances, err := tx.Balances([]int64{o.ID})
	if err != nil {
		return nil, err
	}
	deposit := o.State.Deposit(o.Slip.Held)
	if b := balances[o.ID]; b.Overpaid() == 0 && b.Security() <= deposit {
		return nil, nil
	}
	account, err := tx.Account(o.ID)
	if err != nil {
		return nil, err
	}
	paid, held := account.Surplus(deposit)
	var back []store.Attempt
	for _, s := range []struct {
		purpose ledger.Purpose
		amount  money.Amount
	}{{ledger.ToReturn, paid}, {ledger.ToRelease, held}} {
		if s.amount <= 0 {
			continue
		}
		b, _, err := p.Back(tx, o, s.purpose, s.amount, "", "")
		if err != nil {
			return nil, err
		}
		back = append(back, b...)
	}
	return back, nil
}

// next gives when an attempt is asked about again: after pauses that grow, and
// when the customer's time on the service's page is over.
func (p *Attempts) next(a store.Attempt, now time.Time) time.Time {
	at := now.Add(port.Pause(a.Tries))
	if over := a.CreatedAt.Add(p.Hold); a.State == ledger.Confirm && now.Before(over) && over.Before(at) {
		return over
	}
	return at
}

// GiveUp ends an attempt that waits for the customer, since they went on
// without it. The service has the last word: an attempt that it settled
// a moment ago is settled.
func (p *Attempts) GiveUp(ctx context.Context, a store.Attempt) error {
	a, err := p.End(ctx, a, nil)
	if err == nil && a.State.Waiting() {
		err = ErrUnanswered
	}
	return err
}

// ErrUnanswered is returned when the payment service does not answer and the
// use case cannot go on without its word.
var ErrUnanswered = errors.New("the payment service does not answer")

// arriving is how long an attempt may be on its way to the service.
const arriving = time.Minute

// Ask asks the service about an attempt of which no answer is known, and
// records what it says. What never arrived there is ended, so that it cannot
// arrive later. Restarted says that no request can be on its way any more.
func (p *Attempts) Ask(ctx context.Context, a store.Attempt, restarted bool) error {
	var r port.Receipt
	var err error
	switch {
	case a.Purpose.Back(): // giving back is asked for by name, as often as it takes
		r, err = p.giveBack(ctx, a)
	case a.State == ledger.Confirm && p.Now().Sub(a.CreatedAt) >= p.Hold:
		r, err = p.Service.End(ctx, a.Name)
	default:
		r, err = p.Service.Ask(ctx, a.Name)
		if errors.Is(err, port.ErrNoAttempt) && (restarted || p.Now().Sub(a.CreatedAt) > arriving) {
			r, err = p.Service.End(ctx, a.Name)
		}
	}
	if err == nil && !r.State.Waiting() {
		_, err = p.Answer(ctx, a.Name, r, nil)
		if err == nil {
			slog.Info("the payment service answered", "attempt", a.ID, "state", r.State)
		}
		return err
	}
	// No word yet: later again, after a longer pause each time.
	return p.Store.Write(ctx, func(tx *store.Tx) error {
		now, lost := tx.AttemptByName(a.Name)
		if lost != nil || !now.State.Waiting() {
			return lost
		}
		now.Tries++
		if err == nil && r.State == ledger.Confirm {
			now.State, now.Page = ledger.Confirm, r.Page
		}
		now.AskAt = store.Time(p.next(now, p.Now()))
		return tx.SaveAttempt(&now)
	})
}

// Round asks about the attempts whose time has come.
func (p *Attempts) Round(ctx context.Context) error { return p.round(ctx, p.Now(), false) }

// Restarted asks about every attempt of which no answer is known: the process
// may have ended between the service's answer and its record.
func (p *Attempts) Restarted(ctx context.Context) error {
	return p.round(ctx, p.Now().AddDate(1, 0, 0), true)
}

func (p *Attempts) round(ctx context.Context, until time.Time, restarted bool) error {
	var due []store.Attempt
	err := p.Store.Read(ctx, func(tx *store.Tx) (err error) {
		due, err = tx.AttemptsToAsk(until)
		return err
	})
	if err != nil {
		return err
	}
	var failed []error
	for _, a := range due {
		if err := p.Ask(ctx, a, restarted); err != nil {
			failed = append(failed, fmt.Errorf("attempt %d: %w", a.ID, err))
		}
	}
	return errors.Join(failed...)
}

// Run asks until the context ends, looking every interval.
func (p *Attempts) Run(ctx context.Context, interval time.Duration) {
	tick := time.NewTicker(interval)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		if err := errors.Join(p.Round(ctx), p.WorkNotices(ctx)); err != nil && ctx.Err() == nil {
			slog.Error("asking about payments", "error", err)
		}
	}
}
