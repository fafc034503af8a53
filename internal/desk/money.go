package desk

import (
	"cmp"
	"context"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// months is how far back the overview of the money goes.
const months = 12

// waitingPage is how many orders one request lists that do not balance.
const waitingPage = 50

// Money shows what came in and went back by month, each on its own day, in the
// business's currency; what was ordered in these months; and, after a place in
// the list, the orders of which something is open, overpaid or held.
func (d *Desk) Money(ctx context.Context, after int64, l words.Language) (api.MoneyView, error) {
	view := api.MoneyView{Months: []api.MoneyMonth{}, Waiting: []api.WaitingMoney{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		view.Currency = string(b.Currency)
		now := d.Now().In(b.Location())
		sums, err := tx.MonthSums(b.Currency, now.AddDate(0, 1-months, 1-now.Day()).Format("2006-01"))
		if err != nil {
			return err
		}
		for _, s := range sums {
			addSum(&view, s)
		}
		slices.SortFunc(view.Months, func(a, b api.MoneyMonth) int { return cmp.Compare(b.Month, a.Month) })
		return d.waitingMoney(tx, after, &view, l)
	})
	return view, err
}

// addSum puts a sum into its month.
func addSum(view *api.MoneyView, s store.MonthSum) {
	i := slices.IndexFunc(view.Months, func(m api.MoneyMonth) bool { return m.Month == s.Month })
	if i < 0 {
		i = len(view.Months)
		view.Months = append(view.Months, api.MoneyMonth{Month: s.Month, Taxes: []api.MonthTax{}})
	}
	m, amount := &view.Months[i], int(s.Amount)
	switch s.What {
	case string(ledger.Paid):
		m.Paid = amount
	case string(ledger.Returned):
		m.Returned = amount
	case string(ledger.Held):
		m.Held = amount
	case string(ledger.Released):
		m.Released = amount
	case string(ledger.Ordered):
		m.Orders, m.Charged = s.N, amount
	case string(ledger.Given):
		m.Given = amount
	case string(ledger.ByCoupons):
		m.Coupons = amount
	case string(ledger.TaxOf):
		m.Taxes = append(m.Taxes, api.MonthTax{Percent: s.Rate, Net: int(s.Net), Amount: amount})
	}
}

// waitingMoney lists the orders that do not balance.
func (d *Desk) waitingMoney(tx *store.Tx, after int64, view *api.MoneyView, l words.Language) error {
	ids, err := tx.Unbalanced(after, waitingPage+1)
	if err != nil {
		return err
	}
	if len(ids) > waitingPage {
		ids = ids[:waitingPage]
		view.More = &ids[waitingPage-1]
	}
	list, err := d.waitingOrders(tx, ids, l)
	view.Waiting = append(view.Waiting, list...)
	return err
}

// waitingOrders shows what of orders is open, paid too much or held.
func (d *Desk) waitingOrders(tx *store.Tx, ids []int64, l words.Language) ([]api.WaitingMoney, error) {
	b, err := tx.Business()
	if err != nil {
		return nil, err
	}
	today := calendar.DayOf(d.Now().In(b.Location()))
	done, err := tx.Progress(ids)
	if err != nil {
		return nil, err
	}
	views := []api.WaitingMoney{}
	for _, id := range ids {
		o, err := tx.OrderByID(id)
		if err != nil {
			return nil, err
		}
		entries, err := tx.Entries(id)
		if err != nil {
			return nil, err
		}
		lines, err := tx.Lines(id)
		if err != nil {
			return nil, err
		}
		sum := ledger.Sum(entries)
		w := api.WaitingMoney{Customer: o.Name, Currency: string(o.Currency), Open: int(sum.Open()), Overpaid: int(sum.Overpaid()), Held: int(sum.Security())}
		if o.Number != nil {
			w.Number = *o.Number
		}
		if len(lines) > 0 {
			w.Line = lines[0].ID
		}
		parts := ledger.Parts(entries)
		if len(parts) > 0 {
			w.Due = charge.Due{Day: parts[0].Due}.Said(l)
		}
		for _, p := range parts {
			if _, over := p.Is(today, done[id]); over {
				w.Overdue += int(p.Amount)
			}
		}
		views = append(views, w)
	}
	return views, nil
}

// mostOverdue is how many orders with an overdue part Today lists.
const mostOverdue = 20

// overdue lists the orders of which a part is overdue.
func (d *Desk) overdue(tx *store.Tx, b store.Business, l words.Language) ([]api.WaitingMoney, error) {
	ids, err := tx.PerhapsOverdue(calendar.DayOf(d.Now().In(b.Location())))
	if err != nil {
		return nil, err
	}
	list := []api.WaitingMoney{}
	for part := range slices.Chunk(ids, waitingPage) {
		views, err := d.waitingOrders(tx, part, l)
		if err != nil {
			return nil, err
		}
		for _, w := range views {
			if w.Overdue > 0 && len(list) < mostOverdue {
				list = append(list, w)
			}
		}
		if len(list) == mostOverdue {
			break
		}
	}
	return list, nil
}
