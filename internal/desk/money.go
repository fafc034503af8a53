package desk

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// waitingPage is how many orders one request lists that do not balance.
const waitingPage = 50

// Periods that money is summed by.
const (
	byDay   = "day"
	byWeek  = "week"
	byMonth = "month"
)

// shownPeriods is how many periods are shown when nobody says from when.
var shownPeriods = map[string]int{byDay: 31, byWeek: 26, byMonth: 12}

// mostDays bounds the span of a question about money.
const mostDays = 3700

// A MoneyQuery says which days are summed, and by what. Days are ISO 8601 in the
// business's zone; empty ones take the last periods.
type MoneyQuery struct {
	By, From, To string
	Currency     string // one that is sold in; empty for the business's own
	After        int64  // where the list of what waits goes on
}

// Money shows what came in and went back by day, week or month, each on its own
// day, in the business's currency; what was ordered then; what is due, overdue,
// held and to be returned by now; and, after a place in the list, the orders of
// which something is open, overpaid or held.
func (d *Desk) Money(ctx context.Context, q MoneyQuery, l words.Language) (api.MoneyView, error) {
	view := api.MoneyView{Periods: []api.MoneyPeriod{}, Waiting: []api.WaitingMoney{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		sums, err := q.currency(&b, l)
		if err != nil {
			return err
		}
		view.Currency, view.Currencies = string(sums), []string{}
		for _, c := range b.Currencies() {
			view.Currencies = append(view.Currencies, string(c))
		}
		today := calendar.DayOf(d.Now().In(b.Location()))
		by, from, to, err := q.span(today, l)
		if err != nil {
			return err
		}
		view.By, view.From, view.To = api.MoneyViewBy(by), from.String(), to.String()
		days, err := tx.DaySums(sums, from.String(), to.String())
		if err != nil {
			return err
		}
		for day := from; !day.After(to); day = day.Add(1) { // also those in which nothing was
			if n := len(view.Periods); n == 0 || view.Periods[n-1].Period != periodOf(day, by) {
				view.Periods = append(view.Periods, api.MoneyPeriod{Period: periodOf(day, by), From: day.String(), Taxes: []api.PeriodTax{}, Ways: []api.PeriodWay{}})
			}
			view.Periods[len(view.Periods)-1].To = day.String()
		}
		slices.Reverse(view.Periods)
		at := map[string]int{}
		for i, p := range view.Periods {
			at[p.Period] = i
		}
		for _, s := range days {
			day, err := calendar.ParseDay(s.Day)
			if err != nil {
				return err
			}
			addSum(&view.Periods[at[periodOf(day, by)]], s)
		}
		for i := range view.Periods {
			p := &view.Periods[i]
			slices.SortFunc(p.Ways, func(a, b api.PeriodWay) int { return cmp.Compare(a.Way, b.Way) })
		}
		if view.Now, err = d.moneyNow(tx, sums, today); err != nil {
			return err
		}
		return d.waitingMoney(tx, q.After, &view, l)
	})
	return view, err
}

// currency reads in which currency is summed: sums of several would be of none.
func (q MoneyQuery) currency(b *store.Business, l words.Language) (money.Currency, error) {
	c := cmp.Or(money.Currency(q.Currency), b.Currency)
	if !b.Sells(c) {
		return c, problem.Invalid(l, []api.FieldError{problem.Field(l, "currency", "currency_unsold", words.Params{"currency": q.Currency})})
	}
	return c, nil
}

// span reads which days are asked about, and by what they are summed.
func (q MoneyQuery) span(today calendar.Day, l words.Language) (by string, from, to calendar.Day, err error) {
	var wrong []api.FieldError
	if by = cmp.Or(q.By, byMonth); shownPeriods[by] == 0 {
		wrong = append(wrong, problem.Field(l, "by", "money_by", nil))
	}
	read := func(key, text string, otherwise calendar.Day) calendar.Day {
		if text == "" {
			return otherwise
		}
		day, err := calendar.ParseDay(text)
		if err != nil {
			wrong = append(wrong, problem.Field(l, key, "day", nil))
		}
		return day
	}
	to = read("to", q.To, today)
	n := shownPeriods[by]
	switch by {
	case byDay:
		from = to.Add(1 - n)
	case byWeek:
		from = to.Add(-7*(n-1) - (int(to.Weekday())+6)%7)
	default:
		at := time.Date(to.Year, to.Month, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 1-n, 0)
		from = calendar.DayOf(at)
	}
	from = read("from", q.From, from)
	if len(wrong) == 0 && (from.After(to) || to.Since(from) > mostDays) {
		wrong = append(wrong, problem.Field(l, "from", "money_span", nil))
	}
	if len(wrong) > 0 {
		err = problem.Invalid(l, wrong)
	}
	return by, from, to, err
}

// periodOf names the period that a day belongs to: the day, its ISO 8601 week,
// or its month.
func periodOf(day calendar.Day, by string) string {
	switch by {
	case byDay:
		return day.String()
	case byWeek:
		year, week := time.Date(day.Year, day.Month, day.Number, 0, 0, 0, 0, time.UTC).ISOWeek()
		return fmt.Sprintf("%04d-W%02d", year, week)
	}
	return day.String()[:7]
}

// addSum puts a sum into its period.
func addSum(p *api.MoneyPeriod, s store.DaySum) {
	amount := int(s.Amount)
	way := func() *api.PeriodWay {
		i := slices.IndexFunc(p.Ways, func(w api.PeriodWay) bool { return string(w.Way) == string(s.Way) })
		if i < 0 {
			i = len(p.Ways)
			p.Ways = append(p.Ways, api.PeriodWay{Way: api.PeriodWayWay(s.Way)})
		}
		return &p.Ways[i]
	}
	switch s.What {
	case string(ledger.Paid):
		if s.Way != ledger.Voucher { // that came in when it was sold
			p.Paid += amount
		}
		way().Paid += amount
	case string(ledger.Returned):
		if s.Way != ledger.Voucher {
			p.Returned += amount
		}
		way().Returned += amount
	case string(ledger.Held):
		p.Held += amount
	case string(ledger.Released):
		p.Released += amount
	case string(ledger.Fee):
		p.Fees += amount
	case string(ledger.Ordered):
		p.Orders, p.Charged = p.Orders+s.N, p.Charged+amount
	case string(ledger.Given):
		p.Given += amount
	case string(ledger.ByCoupons):
		p.Coupons += amount
	case string(ledger.Sold):
		p.Vouchers += amount
	case string(ledger.ByVoucher):
		p.ByVoucher += amount
	case string(ledger.TaxOf):
		i := slices.IndexFunc(p.Taxes, func(t api.PeriodTax) bool { return t.Percent == s.Rate })
		if i < 0 {
			i = len(p.Taxes)
			p.Taxes = append(p.Taxes, api.PeriodTax{Percent: s.Rate})
		}
		p.Taxes[i].Net, p.Taxes[i].Amount = p.Taxes[i].Net+int(s.Net), p.Taxes[i].Amount+amount
	}
}

// moneyNow sums what is open, due, overdue, held and to be returned by now.
func (d *Desk) moneyNow(tx *store.Tx, c money.Currency, today calendar.Day) (api.MoneyNow, error) {
	var now api.MoneyNow
	all, err := tx.Unsettled()
	if err != nil {
		return now, err
	}
	done, err := tx.Progress(withEvents(all))
	if err != nil {
		return now, err
	}
	waits, err := tx.AwaitingIDs()
	if err != nil {
		return now, err
	}
	for id, u := range all {
		if u.Currency != c {
			continue
		}
		now.Open += int(u.Balance.Open())
		now.Overpaid += int(u.Balance.Overpaid())
		now.Held += int(u.Balance.Security())
		for _, p := range u.Parts {
			due, over := p.Is(today, done[id])
			if due {
				now.Due += int(p.Amount)
			}
			if due && waits[id] {
				now.Awaiting += int(p.Amount)
			}
			if over {
				now.Overdue += int(p.Amount)
			}
		}
	}
	return now, nil
}

// withEvents lists the orders of which a part is due with an event.
func withEvents(all map[int64]store.Unsettled) []int64 {
	var ids []int64
	for id, u := range all {
		if slices.ContainsFunc(u.Parts, func(p ledger.Part) bool { return p.Due == charge.Begin || p.Due == charge.Handover }) {
			ids = append(ids, id)
		}
	}
	return ids
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
		w.Awaiting = o.State == order.Awaiting
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

// overdue lists the orders of which a part is overdue, the oldest first.
func (d *Desk) overdue(tx *store.Tx, b store.Business, l words.Language) ([]api.WaitingMoney, error) {
	all, err := tx.Unsettled()
	if err != nil {
		return nil, err
	}
	done, err := tx.Progress(withEvents(all))
	if err != nil {
		return nil, err
	}
	today := calendar.DayOf(d.Now().In(b.Location()))
	var ids []int64
	for id, u := range all {
		if slices.ContainsFunc(u.Parts, func(p ledger.Part) bool { _, over := p.Is(today, done[id]); return over }) {
			ids = append(ids, id)
		}
	}
	slices.Sort(ids)
	return d.waitingOrders(tx, ids[:min(len(ids), mostOverdue)], l)
}
