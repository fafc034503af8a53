package desk

import (
	"cmp"
	"context"
	"slices"
	"strconv"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

const pageOfEntries = 100

// An EntryQuery chooses entries, or the shares of a figure, that a figure of the
// money page adds up. Empty fields choose all.
type EntryQuery struct {
	From, To, Kind, Way, Figure, Percent string
	Currency                             string // one that is sold in; empty for the business's own
	Before                               int64
}

// filter reads a query.
func (q EntryQuery) filter(b store.Business, l words.Language) (store.EntryFilter, error) {
	f := store.EntryFilter{Currency: cmp.Or(money.Currency(q.Currency), b.Currency), From: q.From, To: q.To, Way: ledger.Way(q.Way), Figure: ledger.Figure(q.Figure), Percent: q.Percent}
	var wrong []api.FieldError
	for key, day := range map[string]string{"from": q.From, "to": q.To} {
		if _, err := calendar.ParseDay(day); day != "" && err != nil {
			wrong = append(wrong, problem.Field(l, key, "day", nil))
		}
	}
	if q.Kind != "" {
		if k := ledger.Kind(q.Kind); slices.Contains(ledger.Kinds(), k) {
			f.Kinds = []ledger.Kind{k}
		} else {
			wrong = append(wrong, problem.Field(l, "kind", "unknown", nil))
		}
	}
	if f.Way != "" && !slices.Contains([]ledger.Way{ledger.Card, ledger.Voucher, ledger.AnyMoney}, f.Way) && !slices.Contains(ledger.ByHand(), f.Way) {
		wrong = append(wrong, problem.Field(l, "way", "unknown", nil))
	}
	if !b.Sells(f.Currency) {
		wrong = append(wrong, problem.Field(l, "currency", "currency_unsold", words.Params{"currency": q.Currency}))
	}
	if f.Figure != "" && !slices.Contains([]ledger.Figure{ledger.Ordered, ledger.Given, ledger.ByCoupons, ledger.Sold, ledger.ByVoucher, ledger.TaxOf}, f.Figure) {
		wrong = append(wrong, problem.Field(l, "figure", "unknown", nil))
	}
	if len(wrong) > 0 {
		return f, problem.Invalid(l, wrong)
	}
	return f, nil
}

// Entries lists the entries that a figure of the money page adds up, with what
// they come to.
func (d *Desk) Entries(ctx context.Context, q EntryQuery, l words.Language) (api.EntryPage, error) {
	view := api.EntryPage{Entries: []api.MoneyEntry{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		f, err := q.filter(b, l)
		if err != nil {
			return err
		}
		n, net, amount, err := tx.SumEntries(f)
		if err != nil {
			return err
		}
		view.Currency, view.Count, view.Net, view.Amount = string(f.Currency), n, int(net), int(amount)
		rows, err := tx.ListEntries(f, q.Before, pageOfEntries+1)
		if len(rows) > pageOfEntries {
			rows = rows[:pageOfEntries]
			view.More = &rows[pageOfEntries-1].ID
		}
		for _, r := range rows {
			e := api.MoneyEntry{
				Id: r.ID, Day: r.Day, Number: r.Number, Line: r.Line, Customer: r.Customer, Kind: string(r.Kind), Way: string(r.Way), Amount: int(r.Amount), Net: int(r.Net),
				Reason: r.Reason, Note: r.Note, By: r.Author,
			}
			if r.Figure != "" {
				e.Kind, e.Reason = string(r.Figure), r.Percent
			}
			view.Entries = append(view.Entries, e)
		}
		return err
	})
	return view, err
}

// ExportEntries writes the entries of all ledgers as a table, the newest first.
func (d *Desk) ExportEntries(ctx context.Context, q EntryQuery, l words.Language) (Download, error) {
	if err := d.exporting(ctx, entriesExported, ""); err != nil {
		return Download{}, err
	}
	rows := [][]string{{"entry", "order", "customer", "day", "time", "kind", "way", "amount", "currency", "due", "by", "reason", "note", "attempt"}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		f, err := q.filter(b, l)
		if err != nil {
			return err
		}
		f.Currency, f.Figure = "", "" // all of them, each with its currency
		for before := int64(0); len(rows) <= mostExported; {
			page, err := tx.ListEntries(f, before, 1000)
			if err != nil || len(page) == 0 {
				return err
			}
			for _, r := range page {
				before = r.ID
				rows = append(rows, []string{
					strconv.FormatInt(r.ID, 10), strconv.FormatInt(r.Number, 10), r.Customer, r.Day, r.At.In(b.Location()).Format("15:04:05"), string(r.Kind), string(r.Way),
					r.Amount.Plain(r.Currency), string(r.Currency), r.Due, r.Author, r.Reason, r.Note, r.Attempt,
				})
			}
		}
		return nil
	})
	if err != nil {
		return Download{}, err
	}
	return table("entries.csv", rows)
}
