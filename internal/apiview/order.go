package apiview

import (
	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/store"
	"time"
)

// History shows the changes of a line's answers, the newest first, to those
// who may see questions up to a moment.
func History(tx *store.Tx, l *docket.Line, upto question.Moment) ([]api.Change, error) {
	rows, err := tx.Changes(l.Row.ID)
	views := []api.Change{}
	for i := len(rows) - 1; i >= 0; i-- {
		c := rows[i]
		if item, ok := l.Edition.Item(c.Key); ok && item.Moment.Rank() > upto.Rank() {
			continue
		}
		views = append(views, api.Change{Key: string(c.Key), Wording: l.Wording(c.Key), Old: c.Old, New: c.New, By: c.Author, At: c.At})
	}
	return views, err
}

// A When is the day it is, and what has happened of an order's work.
type When struct {
	Today calendar.Day
	Done  ledger.Progress
}

// WhenOf tells it of one order.
func WhenOf(tx *store.Tx, id int64, now time.Time) (When, error) {
	b, err := tx.Business()
	if err != nil {
		return When{}, err
	}
	all, err := tx.Progress([]int64{id})
	return When{calendar.DayOf(now.In(b.Location())), all[id]}, err
}

// Money shows what of an order was paid, given back, is held, open and on its
// way.
func Money(o *store.Order, a *ledger.Account, when When, l words.Language) api.OrderMoney {
	b := a.Balance()
	surplus, _ := a.Surplus(b.Security())
	m := api.OrderMoney{
		Slip: o.Slip.In(l), State: o.State, Paid: int(b.Paid), Returned: int(b.Returned), Kept: int(b.Kept()), Held: int(b.Security()),
		Open: int(b.Open()), Overpaid: int(surplus), Returning: int(a.Going(ledger.ToReturn) + a.Going(ledger.ToRelease)),
		Parts: []api.OpenPart{}, Ledger: []api.LedgerEntry{},
	}
	_, otherwise := a.Sources(ledger.ToReturn, a.Returnable())
	m.ByCard = int(a.Returnable() - otherwise)
	_, otherwise = a.Sources(ledger.ToRelease, a.Releasable())
	m.HeldByCard = int(a.Releasable() - otherwise)
	parts := ledger.Parts(a.Entries)
	m.DueNow = int(ledger.DueNow(parts, when.Today, when.Done))
	for _, p := range parts {
		due, over := p.Is(when.Today, when.Done)
		m.Parts = append(m.Parts, api.OpenPart{Due: p.Due, Amount: int(p.Amount), Words: charge.Due{Day: p.Due}.Said(l), Now: due, Overdue: over})
	}
	for _, e := range a.Entries {
		m.Ledger = append(m.Ledger, api.LedgerEntry{
			Kind: api.LedgerEntryKind(e.Kind), Amount: int(e.Amount), At: e.At, Way: api.LedgerEntryWay(e.Way), Due: text(e.Due), By: text(e.Author), Reason: text(e.Reason), Note: text(e.Note),
		})
	}
	if o.State == order.Awaiting {
		m.Awaited = int(ledger.Awaited(a.Entries, o.Slip.Held))
	}
	if t := a.Coming(); t != nil {
		asked := api.OrderMoneyAsked(t.State)
		m.Asked = &asked
	}
	if o.Buyer.Business {
		m.Buyer = &o.Buyer
	}
	if o.Group != "" {
		m.Group = &o.Group
	}
	return m
}

// Former shows the slips that an order had before answers changed its price.
func Former(tx *store.Tx, id int64, l words.Language) ([]api.FormerSlip, error) {
	rows, err := tx.FormerSlips(id)
	views := []api.FormerSlip{}
	for _, f := range rows {
		views = append(views, api.FormerSlip{Until: f.Until, Slip: f.Slip.In(l)})
	}
	return views, err
}

// PriceChange shows what a change of answers makes of an order's price.
func PriceChange(before *charge.Slip, o *store.Order, a *ledger.Account, l words.Language) api.PriceChange {
	over, _ := a.Surplus(o.Slip.Held)
	return api.PriceChange{Before: before.In(l), After: o.Slip.In(l), Open: int(a.Balance().Open()), Overpaid: int(over)}
}
