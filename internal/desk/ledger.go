package desk

import (
	"context"
	"errors"
	"net/http"
	"strconv"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// The moves of money that the desk makes.
const (
	moveCancel  = "cancel"  // the order, and what goes back with it
	moveRelease = "release" // the security deposit
	moveReturn  = "return"  // what was paid too much
	moveReceive = "receive" // the rest came in by other means than a card
)

var moveEvents = map[string]event{moveCancel: orderCancelled, moveRelease: depositReleased, moveReturn: moneyReturned, moveReceive: moneyReceived}

var moveActs = map[string]order.Act{moveCancel: order.Cancel, moveRelease: order.Release, moveReturn: order.Return, moveReceive: order.Receive}

// MoveMoney cancels an order, gives back its security deposit or what was paid
// too much, or notes that the rest came in by other means than a card.
//
// What goes back is noted as an attempt together with all else, before the
// payment service is asked; so two people, a doubled click or an end of the
// process in between give nothing back twice, and what the service did not
// answer is asked about again.
func (d *Desk) MoveMoney(ctx context.Context, number int64, move string, how api.MoneyMove, author string, l words.Language) (api.OrderMoney, error) {
	act, ok := moveActs[move]
	if !ok {
		return api.OrderMoney{}, problem.NotFound(l, "not_found")
	}
	if err := d.leavePayment(ctx, number, l); err != nil {
		return api.OrderMoney{}, err
	}
	var id int64
	var back []store.Attempt
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := d.order(tx, number, l)
		if err != nil {
			return err
		}
		id = o.ID
		if code := o.State.Refused(act); code != "" {
			return problem.Say(http.StatusConflict, l, code, nil)
		}
		account, err := tx.Account(o.ID)
		if err != nil {
			return err
		}
		if account.Coming() != nil {
			return problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
		}
		m := moving{Desk: d, tx: tx, order: &o, account: account, author: author, language: l}
		if back, err = m.move(move, how); err != nil {
			return err
		}
		return d.log(ctx, tx, moveEvents[move], strconv.FormatInt(number, 10))
	})
	if err != nil {
		return api.OrderMoney{}, err
	}
	for _, a := range back {
		if _, err := d.Attempts.Return(ctx, a); err != nil {
			return api.OrderMoney{}, err
		}
	}
	return d.money(ctx, id, l)
}

// money shows the money of an order as it is now.
func (d *Desk) money(ctx context.Context, id int64, l words.Language) (api.OrderMoney, error) {
	var view api.OrderMoney
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		o, err := tx.OrderByID(id)
		if err != nil {
			return err
		}
		account, err := tx.Account(id)
		if err == nil {
			view = apiview.Money(&o, account, l)
		}
		return err
	})
	return view, err
}

func (d *Desk) order(tx *store.Tx, number int64, l words.Language) (store.Order, error) {
	o, err := tx.OrderByNumber(number)
	return o, problem.Missing(err, l, "no_order")
}

// leavePayment gives up a payment of the rest that waits for the customer's
// word: the desk does not wait for it.
func (d *Desk) leavePayment(ctx context.Context, number int64, l words.Language) error {
	var all []store.Attempt
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		o, err := d.order(tx, number, l)
		if err == nil {
			all, err = tx.Attempts(o.ID)
		}
		return err
	})
	for _, a := range all {
		if err == nil && a.State == ledger.Confirm && d.Attempts.GiveUp(ctx, a) != nil {
			err = problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
		}
	}
	return err
}

// moving is one move of an order's money, inside its transaction.
type moving struct {
	*Desk
	tx       *store.Tx
	order    *store.Order
	account  *ledger.Account
	author   string
	language words.Language
}

// move keeps what is decided, and gives the attempts that are to be made.
func (m *moving) move(move string, how api.MoneyMove) ([]store.Attempt, error) {
	switch move {
	case moveReceive:
		open := m.account.Balance().Open()
		if open == 0 {
			return nil, m.nothing()
		}
		return nil, m.add(ledger.Entry{Kind: ledger.Paid, Amount: open, At: m.Now(), Way: ledger.Hand, Author: m.author})
	case moveRelease:
		return m.back(false, true)
	case moveReturn:
		return m.back(true, false)
	}
	// The charge falls first; what was paid beyond it goes back.
	returned := m.account.Returnable()
	if !how.Refund {
		returned = 0
	}
	if err := m.add(m.account.Cancelling(returned, m.Now(), m.author)...); err != nil {
		return nil, err
	}
	if err := placing.Cancel(m.tx, m.Editions, m.order, how.Restock, m.author, m.Now()); err != nil {
		return nil, err
	}
	attempts, err := m.back(how.Refund, true)
	var p *problem.Problem
	if errors.As(err, &p) { // nothing goes back, which is no mistake here
		return nil, nil
	}
	return attempts, err
}

func (m *moving) nothing() error {
	return problem.Say(http.StatusConflict, m.language, "nothing_open", nil)
}

func (m *moving) add(entries ...ledger.Entry) error {
	b, err := m.tx.Business()
	if err != nil {
		return err
	}
	m.account.Entries = append(m.account.Entries, entries...)
	return m.tx.AddEntries(m.order, entries, b.Location())
}

// back notes attempts to give back what was paid too much, the deposit, or both.
func (m *moving) back(paid, deposit bool) ([]store.Attempt, error) {
	surplus, held := m.account.Surplus(0)
	var list []store.Attempt
	note := func(wanted bool, p ledger.Purpose, amount money.Amount) error {
		if !wanted || amount == 0 {
			return nil
		}
		attempts, _, err := m.Attempts.Back(m.tx, m.order, p, amount, m.author, "")
		list = append(list, attempts...)
		return err
	}
	if err := errors.Join(note(paid, ledger.ToReturn, surplus), note(deposit, ledger.ToRelease, held)); err != nil {
		return nil, err
	}
	if len(list) == 0 {
		return nil, m.nothing()
	}
	return list, nil
}
