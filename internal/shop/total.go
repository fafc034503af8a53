package shop

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/limit"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// whole is what a customer gives for the whole order besides its lines.
type whole struct {
	coupons *[]string
	tip     *int
	buyer   *order.Buyer
}

// totalled is the slip of a whole order with what is wrong with it.
type totalled struct {
	slip    charge.Slip
	coupons []api.CouponView
	ids     []int64 // of the coupons that count
	paying  []int   // the places among the codes of the vouchers that pay
	wrong   []api.FieldError
	asking  api.Asking
}

// total prices a whole order: it takes over the business's terms, looks at
// coupons, tip and buyer, and makes the slip. A coupon that does not count is
// left out and told.
func (s *Shop) total(ctx context.Context, tx *store.Tx, b store.Business, o *store.Order, w whole, lines []charge.OrderLine, rounding money.Rounding, l words.Language) (totalled, error) {
	t := totalled{coupons: []api.CouponView{}, wrong: []api.FieldError{}}
	sells := currency(ctx, &b)
	o.Terms, o.PricedOn, o.Language = b.TermsIn(sells), calendar.DayOf(s.Now().In(b.Location())).String(), string(l)
	o.Vouchers = nil
	o.Coupons, o.Tip, o.Buyer, o.Reversed, o.Currency = nil, 0, order.Buyer{}, false, sells
	s.buyer(b, o, w.buyer, &t, l)
	s.tip(&b, o, w.tip, &t, l)
	if w.coupons != nil {
		if err := s.coupons(ctx, tx, o, *w.coupons, lines, &t, l); err != nil {
			return t, err
		}
	}
	t.slip = docket.SlipOf(o, rounding, lines)
	if t.dropIdle(o, l) {
		t.slip = docket.SlipOf(o, rounding, lines)
	}
	if t.dropEmpty(o, l) {
		t.slip = docket.SlipOf(o, rounding, lines)
	}
	t.vouchers(o)
	o.Slip, o.Total = t.slip, t.slip.Total
	return t, nil
}

// dropIdle leaves out the coupons that take nothing off, so that none is used
// up for nothing, and tells of them.
func (t *totalled) dropIdle(o *store.Order, l words.Language) bool {
	idle := t.slip.Idle()
	for i := len(o.Coupons) - 1; i >= 0; i-- {
		if !slices.Contains(idle, o.Coupons[i].Code) {
			continue
		}
		at := slices.IndexFunc(t.coupons, func(v api.CouponView) bool { return v.Code == o.Coupons[i].Code })
		f := problem.Field(l, fmt.Sprintf("coupons.%d", at), "coupon_idle", nil)
		t.coupons[at].Message = &f.Message
		t.wrong = append(t.wrong, f)
		o.Coupons, t.ids = slices.Delete(o.Coupons, i, i+1), slices.Delete(t.ids, i, i+1)
	}
	return len(idle) > 0
}

func (s *Shop) tip(b *store.Business, o *store.Order, tip *int, t *totalled, l words.Language) {
	if !b.Checkout.Shows(order.OfTip) {
		o.Terms.Tip = nil
	}
	t.asking.Tip = o.Terms.Tip
	if tip == nil || *tip == 0 {
		return
	}
	a := money.Amount(*tip)
	if code := o.Terms.Tip.Refused(a); code != "" {
		p := words.Params{}
		if o.Terms.Tip != nil {
			p["least"], p["most"] = l.Amount(o.Terms.Tip.Least, o.Currency), l.Amount(o.Terms.Tip.Most, o.Currency)
		}
		t.wrong = append(t.wrong, problem.Field(l, "tip", code, p))
		return
	}
	o.Tip = a
}

// buyer takes over what a business tells of itself.
func (s *Shop) buyer(b store.Business, o *store.Order, buyer *order.Buyer, t *totalled, l words.Language) {
	if !b.Checkout.Shows(order.OfBusiness) {
		o.Terms.Business = false
	}
	t.asking.Business = o.Terms.Business
	if buyer == nil {
		return
	}
	read, asks, faults := buyer.Read(o.Terms, b.Country)
	if t.asking.TaxId = asks; buyer.Business && o.Terms.Business && o.Terms.Reverse {
		list := []api.Country{}
		for _, c := range question.AllCountries(l) {
			list = append(list, api.Country{Code: c.Code, Name: c.Name})
		}
		t.asking.Countries = &list
	}
	t.wrong = append(t.wrong, problem.Fields(l, "", faults)...)
	o.Buyer, o.Reversed = read, read.Reversed()
}

// coupons finds the coupons and vouchers by their codes, and those among them
// that count: customers do not know which of the two theirs is. Before anything is in the basket no code is looked up.
func (s *Shop) coupons(ctx context.Context, tx *store.Tx, o *store.Order, codes []string, lines []charge.OrderLine, t *totalled, l words.Language) error {
	if len(codes) > order.MostCoupons {
		codes = codes[:order.MostCoupons]
	}
	day := docket.Ordered(o)
	for i, given := range codes {
		code := strings.ToUpper(strings.TrimSpace(given))
		refused := ""
		if len(lines) == 0 {
			f := problem.Field(l, fmt.Sprintf("coupons.%d", i), "coupon_later", nil)
			t.coupons, t.wrong = append(t.coupons, api.CouponView{Code: code, Message: &f.Message}), append(t.wrong, f)
			continue
		}
		if wait := s.Limits.Code(limit.Sender(ctx), code); wait > 0 {
			return problem.Throttled(l, "many_codes", wait)
		}
		c, err := tx.CouponByCode(code)
		switch {
		case errors.Is(err, store.ErrNotFound) || err == nil && c.Off:
			refused = "coupon_unknown"
		case err != nil:
			return err
		default:
			if refused = c.Rule.Refused(lines, day, o.Coupons); refused != "" {
				break
			}
			uses, err := tx.CouponUses(c.ID, o.Email, s.Now(), o.ID)
			if err != nil {
				return err
			}
			if c.Limit().Spent(uses, o.Email != "") {
				refused = "coupon_used"
			}
		}
		v := api.CouponView{Code: code}
		if refused == "coupon_unknown" {
			found, err := s.voucher(tx, o, i, code, t, l)
			if err != nil {
				return err
			}
			if found {
				continue
			}
		}
		if refused != "" {
			f := problem.Field(l, fmt.Sprintf("coupons.%d", i), refused, words.Params{"currency": string(c.Rule.Currency)})
			v.Message = &f.Message
			t.wrong = append(t.wrong, f)
		} else {
			o.Coupons = append(o.Coupons, c.Rule)
			t.ids = append(t.ids, c.ID)
		}
		t.coupons = append(t.coupons, v)
	}
	return nil
}
