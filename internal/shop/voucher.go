package shop

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/order"
	"ruvo/internal/core/voucher"
	"ruvo/internal/core/words"
	"ruvo/internal/limit"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// voucher takes over a voucher that an order is to be paid with, if there is one
// of that code; one that pays nothing is told and left out.
func (s *Shop) voucher(tx *store.Tx, o *store.Order, at int, code string, t *totalled, l words.Language) (found bool, err error) {
	v, err := tx.VoucherByCode(voucher.Plain(code))
	if errors.Is(err, store.ErrNotFound) {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	is, err := tx.VoucherState(&v, s.Now(), o.ID)
	if err != nil {
		return false, err
	}
	refused := is.Refused(o.Currency, s.today(tx))
	if slices.ContainsFunc(o.Vouchers, func(p charge.Purse) bool { return p.Code == v.Code }) {
		refused = "voucher_twice"
	}
	view := api.CouponView{Code: code}
	if refused != "" {
		f := problem.Field(l, fmt.Sprintf("coupons.%d", at), refused, s.voucherParams(&v, is, l))
		view.Message = &f.Message
		t.wrong = append(t.wrong, f)
	} else {
		rest := int(is.Free())
		view.Rest = &rest
		o.Vouchers = append(o.Vouchers, v.Purse(is.Free()))
		t.paying = append(t.paying, len(t.coupons))
	}
	t.coupons = append(t.coupons, view)
	return true, nil
}

func (s *Shop) voucherParams(v *store.Voucher, is voucher.State, l words.Language) words.Params {
	return words.Params{"currency": string(v.Currency), "day": l.Day(is.Until)}
}

// today gives the day that it is where the business is.
func (s *Shop) today(tx *store.Tx) calendar.Day {
	b, err := tx.Business()
	if err != nil {
		return calendar.DayOf(s.Now().UTC())
	}
	return calendar.DayOf(s.Now().In(b.Location()))
}

// dropEmpty leaves out the vouchers that pay nothing of this order, and tells of
// them.
func (t *totalled) dropEmpty(o *store.Order, l words.Language) bool {
	dropped := false
	for i := len(t.slip.Vouchers) - 1; i >= 0; i-- {
		if t.slip.Vouchers[i].Amount > 0 {
			continue
		}
		code := "voucher_idle"
		if o.Vouchers[i].Percent != nil {
			code = "voucher_idle_rate"
		}
		f := problem.Field(l, fmt.Sprintf("coupons.%d", t.paying[i]), code, nil)
		v := &t.coupons[t.paying[i]]
		v.Message, v.Rest = &f.Message, nil
		t.wrong = append(t.wrong, f)
		o.Vouchers, t.paying = slices.Delete(o.Vouchers, i, i+1), slices.Delete(t.paying, i, i+1)
		dropped = true
	}
	return dropped
}

// vouchers tells beside each voucher what it pays.
func (t *totalled) vouchers(o *store.Order) {
	for i, use := range t.slip.Vouchers {
		pays, rest := int(use.Amount), int(o.Vouchers[i].Rest-use.Amount)
		v := &t.coupons[t.paying[i]]
		v.Pays, v.Rest = &pays, &rest
	}
}

// PayRestByVoucher pays what of an order is still open with a voucher, as far as
// it goes. A deposit is never held of one. Sent twice it pays no more: by then
// nothing is open, or nothing left.
func (s *Shop) PayRestByVoucher(ctx context.Context, secret, code string, l words.Language) (api.OrderPage, error) {
	code = voucher.Plain(code)
	if wait := s.Limits.Code(limit.Sender(ctx), code); wait > 0 {
		return api.OrderPage{}, problem.Throttled(l, "many_codes", wait)
	}
	refused := func(code string, p words.Params) error {
		return problem.Invalid(l, []api.FieldError{problem.Field(l, "code", code, p)})
	}
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, secret, l)
		if err != nil {
			return err
		}
		if code := o.State.Refused(order.PayRest); code != "" {
			return problem.Say(http.StatusConflict, l, code, nil)
		}
		account, err := tx.Account(o.ID)
		if err != nil {
			return err
		}
		if account.Coming() != nil {
			return problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
		}
		open := account.Balance().Open()
		if open == 0 {
			return problem.Say(http.StatusConflict, l, "nothing_open", nil)
		}
		v, err := tx.VoucherByCode(code)
		if errors.Is(err, store.ErrNotFound) {
			return refused("voucher_unknown", nil)
		}
		if err != nil {
			return err
		}
		is, err := tx.VoucherState(&v, s.Now(), o.ID)
		if err != nil {
			return err
		}
		if code := is.Refused(o.Currency, s.today(tx)); code != "" {
			return refused(code, s.voucherParams(&v, is, l))
		}
		paid, err := placing.PayByVoucher(tx, s.Editions, &o, &v, is.Free(), open, s.Now())
		if err == nil && paid == 0 {
			err = refused("voucher_idle_rate", nil)
		}
		return err
	})
	if err != nil {
		return api.OrderPage{}, err
	}
	return s.OrderPage(ctx, secret, l)
}

// Voucher tells whoever has a voucher's code what is left of it and what it was
// used for, without saying by whom.
func (s *Shop) Voucher(ctx context.Context, code string, l words.Language) (api.VoucherView, error) {
	var view api.VoucherView
	if wait := s.Limits.Code(limit.Sender(ctx), voucher.Plain(code)); wait > 0 {
		return view, problem.Throttled(l, "many_codes", wait)
	}
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		v, err := tx.VoucherByCode(voucher.Plain(code))
		if errors.Is(err, store.ErrNotFound) {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "code", "voucher_unknown", nil)})
		}
		if err != nil {
			return err
		}
		is, err := tx.VoucherState(&v, s.Now(), 0)
		if err != nil {
			return err
		}
		entries, err := tx.VoucherEntries(v.ID)
		if err != nil {
			return err
		}
		view = api.VoucherView{Code: voucher.Spaced(v.Code), Currency: string(v.Currency), Worth: int(v.Worth), Rest: int(is.Rest), Held: int(is.Held), Entries: []api.VoucherEntry{}}
		if v.Until != "" {
			view.Until = &v.Until
		}
		if refused := is.Refused(v.Currency, s.today(tx)); refused != "" && refused != "voucher_held" {
			said := problem.Field(l, "code", refused, s.voucherParams(&v, is, l)).Message
			view.Message = &said
		}
		for _, e := range slices.Backward(entries) {
			view.Entries = append(view.Entries, api.VoucherEntry{Kind: api.VoucherEntryKind(e.Kind), Amount: int(e.Amount), At: e.At})
		}
		return nil
	})
	return view, err
}
