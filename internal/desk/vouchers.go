package desk

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/voucher"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// voucherPage is how many vouchers one request lists.
const voucherPage = 50

// Vouchers lists the vouchers that were sold, the newest first, and what is left
// of all of them.
func (d *Desk) Vouchers(ctx context.Context, text string, left bool, before int64) (api.VoucherPage, error) {
	view := api.VoucherPage{Rows: []api.VoucherRow{}, Sums: []api.VoucherSum{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		rows, err := tx.Vouchers(strings.TrimSpace(text), left, before, voucherPage+1)
		if err != nil {
			return err
		}
		if len(rows) > voucherPage {
			rows = rows[:voucherPage]
			view.More = &rows[voucherPage-1].ID
		}
		today := calendar.DayOf(d.Now().In(b.Location()))
		for i := range rows {
			view.Rows = append(view.Rows, voucherRow(&rows[i], today))
		}
		sums, err := tx.VoucherSums()
		for _, s := range sums {
			view.Sums = append(view.Sums, api.VoucherSum{Currency: string(s.Currency), Rest: int(s.Rest), Count: s.N})
		}
		return err
	})
	return view, err
}

func voucherRow(v *store.VoucherRow, today calendar.Day) api.VoucherRow {
	is := v.State(v.Rest, 0)
	row := api.VoucherRow{
		Id: v.ID, Code: voucher.Spaced(v.Code), Currency: string(v.Currency), Worth: int(v.Worth), Rest: int(v.Rest), Sold: v.CreatedAt,
		Number: v.Number, Line: &v.LineID, Buyer: v.Name, Blocked: v.Blocked, Over: v.Until != "" && today.After(is.Until),
	}
	if v.Until != "" {
		row.Until = &v.Until
	}
	if v.Note != "" {
		row.Note = &v.Note
	}
	if v.Percent != "" {
		row.Taxed = &v.Percent
	}
	return row
}

// Voucher tells what happened with a voucher, and by which orders.
func (d *Desk) Voucher(ctx context.Context, id int64, l words.Language) (api.VoucherView, error) {
	var view api.VoucherView
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		view, err = d.voucher(tx, id, l)
		return err
	})
	return view, err
}

func (d *Desk) voucher(tx *store.Tx, id int64, l words.Language) (api.VoucherView, error) {
	v, err := tx.VoucherByID(id)
	if errors.Is(err, store.ErrNotFound) {
		return api.VoucherView{}, problem.NotFound(l, "no_voucher")
	}
	if err != nil {
		return api.VoucherView{}, err
	}
	b, err := tx.Business()
	if err != nil {
		return api.VoucherView{}, err
	}
	is, err := tx.VoucherState(&v, d.Now(), 0)
	if err != nil {
		return api.VoucherView{}, err
	}
	sold, err := tx.OrderByID(v.OrderID)
	if err != nil {
		return api.VoucherView{}, err
	}
	row := voucherRow(&store.VoucherRow{Voucher: v, Rest: is.Rest, Number: *sold.Number, Name: sold.Name}, calendar.DayOf(d.Now().In(b.Location())))
	view := api.VoucherView{Row: &row, Code: row.Code, Currency: row.Currency, Worth: row.Worth, Rest: row.Rest, Held: int(is.Held), Until: row.Until, Entries: []api.VoucherEntry{}}
	entries, err := tx.VoucherEntries(id)
	if err != nil {
		return view, err
	}
	for _, e := range slices.Backward(entries) {
		o, err := tx.OrderByID(e.OrderID)
		if err != nil {
			return view, err
		}
		one := api.VoucherEntry{Kind: api.VoucherEntryKind(e.Kind), Amount: int(e.Amount), At: e.At}
		if o.Number != nil {
			n := int(*o.Number)
			one.Order = &n
		}
		if e.Author != "" {
			one.By = &e.Author
		}
		view.Entries = append(view.Entries, one)
	}
	return view, nil
}

// BlockVoucher blocks a voucher, or has it pay again. What it paid stays paid.
func (d *Desk) BlockVoucher(ctx context.Context, id int64, how api.VoucherBlock, l words.Language) (api.VoucherView, error) {
	var view api.VoucherView
	note := ""
	if how.Note != nil && how.Blocked {
		note = strings.TrimSpace(*how.Note)
	}
	if len(note) > 500 {
		return view, problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	}
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		v, err := tx.VoucherByID(id)
		if errors.Is(err, store.ErrNotFound) {
			return problem.NotFound(l, "no_voucher")
		}
		if err != nil {
			return err
		}
		if err := tx.BlockVoucher(id, how.Blocked, note); err != nil {
			return err
		}
		what := voucherFreed
		if how.Blocked {
			what = voucherBlocked
		}
		if err := d.log(ctx, tx, what, voucher.Spaced(v.Code)); err != nil {
			return err
		}
		view, err = d.voucher(tx, id, l)
		return err
	})
	return view, err
}
