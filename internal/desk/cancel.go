package desk

import (
	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/crediting"
	"ruvo/internal/message"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// The ways to reckon what comes back when the seller cancels.
const (
	byRule   = "rule"   // what the rules say
	byAll    = "all"    // all of it
	byKept   = "keep"   // what was paid is kept, and nothing more is asked for
	byAmount = "amount" // an amount
)

// cancelled reckons what cancelling comes to.
func (m *moving) cancelled(c *crediting.Order, ids []int64, how api.MoneyMove) ([]charge.Cancelled, error) {
	kind := byRule
	if how.How != nil {
		kind = string(*how.How)
	}
	all := func(_ int, left money.Amount) *money.Amount { return &left }
	spread := func(amount money.Amount) crediting.Choice {
		var of []int
		var weights []int64
		for _, x := range c.Cancelling(ids, all) {
			if x.Left > 0 {
				of, weights = append(of, x.Of), append(weights, int64(x.Left))
			}
		}
		off := map[int]money.Amount{}
		for i, n := range money.Split(amount, weights) {
			off[of[i]] = n
		}
		return func(of int, _ money.Amount) *money.Amount { n := off[of]; return &n }
	}
	switch kind {
	case byRule:
		return c.Cancelling(ids, nil), nil
	case byAll:
		return c.Cancelling(ids, all), nil
	case byKept:
		return c.Cancelling(ids, spread(min(m.account.Balance().Open(), total(c.Cancelling(ids, all))))), nil
	}
	if how.Amount == nil {
		return nil, problem.Invalid(m.language, []api.FieldError{problem.Field(m.language, "amount", "required", nil)})
	}
	if most := total(c.Cancelling(ids, all)); money.Amount(*how.Amount) > most {
		return nil, m.tooMuch("more_than_charged", most)
	}
	return c.Cancelling(ids, spread(money.Amount(*how.Amount))), nil
}

func total(list []charge.Cancelled) money.Amount {
	var sum money.Amount
	for _, c := range list {
		sum += c.Off
	}
	return sum
}

// cancel cancels lines of an order, or all that is left of it.
func (m *moving) cancel(how api.MoneyMove, b by) ([]store.Attempt, error) {
	c, err := crediting.Open(m.tx, m.Editions, m.order, m.Now())
	if err != nil {
		return nil, err
	}
	ids, err := m.lines(c, how)
	if err != nil {
		return nil, err
	}
	list, err := m.cancelled(c, ids, how)
	if err != nil {
		return nil, err
	}
	credit := c.Credit(order.Offs(list))
	if err := placing.Cancel(m.tx, m.Editions, m.order, ids, how.Restock != nil && *how.Restock, m.author, m.Now()); err != nil {
		return nil, err
	}
	if err := c.Keep(m.tx, credit, ledger.Cancelling, list, m.author, b.note); err != nil {
		return nil, err
	}
	if m.account, err = m.tx.Account(m.order.ID); err != nil {
		return nil, err
	}
	surplus, held := m.account.Surplus(m.order.State.Deposit(m.order.Slip.Held))
	attempts, err := m.back(ledger.ToReturn, surplus, by{way: ledger.Card, at: b.at, note: b.note, part: true})
	if err != nil {
		return nil, err
	}
	released, err := m.back(ledger.ToRelease, held, by{way: ledger.Card, at: b.at, note: b.note, part: true})
	if err != nil {
		return nil, err
	}
	return append(attempts, released...), message.WriteCancelled(m.tx, c.Those(ids), credit.Total, surplus, m.Now())
}

// lines gives the lines that are to be cancelled: those that are named, with the
// add-ons that belong to them, or all that are left.
func (m *moving) lines(c *crediting.Order, how api.MoneyMove) ([]int64, error) {
	ids := c.Alive()
	if how.Lines != nil {
		ids = c.With(*how.Lines)
	}
	if len(ids) == 0 {
		return nil, m.nothing()
	}
	return ids, placing.Unspent(m.tx, m.order, ids, m.language)
}
