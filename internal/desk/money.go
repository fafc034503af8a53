package desk

import (
	"cmp"
	"context"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// months is how far back the overview of the money goes.
const months = 12

// Money shows what came in by month, in the business's currency, and the orders
// of which something is open or held.
func (d *Desk) Money(ctx context.Context, l words.Language) (api.MoneyView, error) {
	view := api.MoneyView{Months: []api.MoneyMonth{}, Waiting: []api.WaitingMoney{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		view.Currency = string(b.Currency)
		zone := b.Location()
		since := d.Now().In(zone).AddDate(0, -months+1, 0)
		orders, err := tx.OrdersSince(since.AddDate(0, 0, 1-since.Day()))
		if err != nil {
			return err
		}
		for _, o := range orders {
			if o.Currency != b.Currency {
				continue
			}
			month := o.PaidAt.In(zone).Format("2006-01")
			i := slices.IndexFunc(view.Months, func(m api.MoneyMonth) bool { return m.Month == month })
			if i < 0 {
				i = len(view.Months)
				view.Months = append(view.Months, api.MoneyMonth{Month: month, Taxes: []api.MonthTax{}})
			}
			addOrder(&view.Months[i], &o)
		}
		slices.SortFunc(view.Months, func(a, b api.MoneyMonth) int { return cmp.Compare(b.Month, a.Month) })
		open, err := tx.OrdersWaiting()
		if err != nil {
			return err
		}
		for _, o := range open {
			lines, err := tx.Lines(o.ID)
			if err != nil || len(lines) == 0 {
				return err
			}
			w := api.WaitingMoney{Line: lines[0].ID, Number: *o.Number, Customer: o.Name, Open: int(o.Open()), Held: int(o.Held)}
			for _, due := range o.Slip.Due {
				if due.Day != "" && w.Due == "" {
					w.Due = due.Said(l)
				}
			}
			view.Waiting = append(view.Waiting, w)
		}
		return nil
	})
	return view, err
}

// addOrder adds an order to the sums of its month.
func addOrder(m *api.MoneyMonth, o *store.Order) {
	m.Orders++
	m.Total += int(o.Total)
	for _, line := range o.Slip.Lines {
		switch line.Part {
		case charge.PartGiven, charge.PartTip:
			m.Given += int(line.Amount)
		case charge.PartCoupon:
			m.Coupons -= int(line.Amount)
		}
	}
	for _, t := range o.Slip.Taxes {
		i := slices.IndexFunc(m.Taxes, func(x api.MonthTax) bool { return x.Percent == t.Percent.String() })
		if i < 0 {
			i = len(m.Taxes)
			m.Taxes = append(m.Taxes, api.MonthTax{Percent: t.Percent.String()})
		}
		m.Taxes[i].Net += int(t.Net)
		m.Taxes[i].Amount += int(t.Amount)
	}
}
