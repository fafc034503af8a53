package web

import (
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/voucher"
	"ruvo/internal/standin/cards"
)

// gift is a voucher of a worth.
func gift(worth, units int) fields {
	f := fields{"product": "gift-voucher", "quantity": units, "answers": fields{"value": worth, "name": "Bea"}}
	if units > 1 {
		f["answers"].(fields)["spare"] = true
	}
	return f
}

// voucher buys one and gives its code and the order that it was sold with.
func (c *client) voucher(worth int) (string, api.OrderPage) {
	c.t.Helper()
	o, _ := c.orders(gift(worth, 1))
	if o.Lines[0].Vouchers == nil || len(*o.Lines[0].Vouchers) != 1 {
		c.t.Fatalf("no voucher was sold: %+v", o.Lines[0])
	}
	return (*o.Lines[0].Vouchers)[0].Code, o
}

func (c *client) rest(code string) int {
	c.t.Helper()
	return read[api.VoucherView](c.t, c.want(200, "POST", "/api/shop/vouchers", fields{"code": code})).Rest
}

// paysWith pays lines with codes, and by card what is left to pay.
func (c *client) paysWith(codes []string, lines ...fields) (api.OrderPage, string) {
	c.t.Helper()
	at := checkout()
	c.want(200, "PUT", at, whole(basket(lines...), fields{"coupons": codes}))
	link := c.pay(at)
	return read[api.OrderPage](c.t, c.want(200, "GET", link, nil)), link
}

func (c *client) month() api.MoneyPeriod {
	c.t.Helper()
	return read[api.MoneyView](c.t, c.want(200, "GET", "/api/desk/money", nil)).Periods[0]
}

func taxOf(p api.MoneyPeriod, percent string) int {
	for _, t := range p.Taxes {
		if t.Percent == percent {
			return t.Amount
		}
	}
	return 0
}

// A voucher that was sold here pays here, in parts; its sale is not taxed, what
// it pays is; what comes back of that goes back to it.
func TestAVoucherSoldHerePaysHere(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	before := desk.month()
	code, sale := c.voucher(100_00)
	if len(sale.Slip.Taxes) != 1 || sale.Slip.Taxes[0].Amount != 0 || sale.Slip.Taxes[0].Exempt != "Voucher: taxed when it is used" || sale.Slip.Total != 100_00 {
		t.Errorf("%+v", sale.Slip)
	}
	if m := h.lastMail(); !strings.Contains(m.Body, "Voucher "+code+", worth €100.00, good until Sat 24 Nov 2029") || !strings.Contains(m.Body, "/voucher") {
		t.Errorf("%s", m.Body)
	}
	if w := desk.work(sale.Lines[0].Id, "draw"); !strings.Contains(w.Instructions, code) {
		t.Errorf("who draws it reads %q", w.Instructions)
	}
	sold := desk.month()
	if sold.Vouchers-before.Vouchers != 100_00 || sold.Paid-before.Paid != 100_00 || taxOf(sold, "19") != taxOf(before, "19") {
		t.Errorf("%+v", sold)
	}

	typed := strings.ToLower(strings.ReplaceAll(code, "-", " "))
	v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{chart()}, "coupons": []string{typed, code, "AAAA-BBBB-CCCC-DDDD"}}))
	if one := v.Coupons[0]; one.Pays == nil || *one.Pays != 36_00 || *one.Rest != 64_00 || one.Message != nil {
		t.Errorf("%+v", one)
	}
	if v.Coupons[1].Message == nil || v.Coupons[2].Message == nil || v.Slip.Total != 36_00 || len(v.Slip.Vouchers) != 1 || v.Slip.ToPay() != 0 {
		t.Errorf("%+v %+v", v.Coupons, v.Slip)
	}
	// All of it is paid: no bank is asked.
	paid, _ := c.paysWith([]string{code}, chart())
	if paid.Money.Open != 0 || paid.Money.Paid != 36_00 || paid.Money.ByCard != 0 || h.books() != h.ledgers() || c.rest(code) != 64_00 {
		t.Errorf("%+v", paid.Money)
	}
	if m := h.lastMail(); !strings.Contains(m.Body, "Paid: €36.00, of which €36.00 with a voucher.") {
		t.Errorf("%s", m.Body)
	}
	used := desk.month()
	if used.Paid != sold.Paid || used.ByVoucher-sold.ByVoucher != 36_00 || taxOf(used, "19")-taxOf(sold, "19") != 5_75 || used.Charged-sold.Charged != 36_00 {
		t.Errorf("%+v", used)
	}
	// 3 × 28.00 are more than is left: the rest is paid by card.
	part, _ := c.paysWith([]string{code}, photos(), photos(), photos())
	if part.Money.Paid != 84_00 || part.Money.ByCard != 20_00 || c.rest(code) != 0 {
		t.Errorf("%+v", part.Money)
	}
	if v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{chart()}, "coupons": []string{code}})); v.Coupons[0].Message == nil || *v.Coupons[0].Message != "Nothing is left on this voucher." {
		t.Errorf("%+v", v.Coupons)
	}

	// Cancelled, the card gets its 20.00 back, and the voucher what it paid.
	at := fmt.Sprintf("/api/desk/orders/%d/cancel", part.Number)
	p := read[api.MovePreview](t, desk.want(200, "POST", at+"/preview", fields{"how": "all"}))
	if p.Total != 84_00 || p.ByCard != 20_00 || p.ByVoucher != 64_00 || p.Otherwise != 0 {
		t.Errorf("%+v", p)
	}
	if m := desk.moves(part.Number, "cancel", fields{"how": "all"}); m.Kept != 0 || m.Overpaid != 0 || c.rest(code) != 64_00 {
		t.Errorf("%+v, and %d is left", m, c.rest(code))
	}
	// A quarter of the first order is given back: all of it to the voucher.
	if m := desk.moves(paid.Number, "return", fields{"amount": 9_00, "note": "a fold in the paper"}); m.Returned != 9_00 || c.rest(code) != 73_00 {
		t.Errorf("%+v, and %d is left", m, c.rest(code))
	}
	if end := desk.month(); taxOf(end, "19")-taxOf(sold, "19") != 5_75-1_44 || end.ByVoucher-sold.ByVoucher != 27_00 {
		t.Errorf("%+v", end)
	}
	// What was used cannot be sold back, and a voucher buys no voucher.
	desk.refused(409, "", "POST", fmt.Sprintf("/api/desk/orders/%d/cancel/preview", sale.Number), fields{"how": "all"})
	desk.refused(409, "", "POST", fmt.Sprintf("/api/desk/orders/%d/cancel", sale.Number), fields{"how": "all"})
	c.refused(422, "coupons.0 voucher_idle", "PUT", checkout(), whole(basket(gift(20_00, 1)), fields{"coupons": []string{code}}))
	h.agree()
}

// A voucher that was not used is worth nothing once its sale is cancelled; one
// that was lost is blocked; and one whose time is over pays no more.
func TestAVoucherThatPaysNoMore(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	code, sale := c.voucher(50_00)
	desk.moves(sale.Number, "cancel", fields{"how": "all"})
	if v := read[api.VoucherView](t, c.want(200, "POST", "/api/shop/vouchers", fields{"code": code})); v.Rest != 0 || v.Entries[0].Kind != "voided" || v.Row != nil {
		t.Errorf("%+v", v)
	}
	lost, _ := c.voucher(30_00)
	page := read[api.VoucherPage](t, desk.want(200, "GET", "/api/desk/vouchers?left=true&text="+strings.ReplaceAll(lost, "-", ""), nil))
	if len(page.Rows) != 1 || page.Rows[0].Code != lost || page.Rows[0].Rest != 30_00 || page.Rows[0].Buyer != "Ada Quill" || page.Rows[0].Until == nil {
		t.Fatalf("%+v", page)
	}
	at := fmt.Sprintf("/api/desk/vouchers/%d", page.Rows[0].Id)
	if v := read[api.VoucherView](t, desk.want(200, "PUT", at, fields{"blocked": true, "note": "lost in the post"})); !v.Row.Blocked || *v.Row.Note != "lost in the post" {
		t.Errorf("%+v", v)
	}
	asks := func(codes string, with string) {
		t.Helper()
		c.refused(422, codes, "PUT", checkout(), whole(basket(chart()), fields{"coupons": []string{with}}))
	}
	asks("coupons.0 voucher_blocked", lost)
	desk.want(200, "PUT", at, fields{"blocked": false})
	entries := read[api.VoucherView](t, desk.want(200, "GET", at, nil)).Entries
	if len(entries) != 1 || entries[0].Kind != "issued" || entries[0].Order == nil {
		t.Errorf("%+v", entries)
	}
	asks("coupons.0 voucher_empty", code)
	asks("coupons.0 coupon_unknown", "AAAA-BBBB-CCCC-DDDD")
	c.refused(422, "code voucher_unknown", "POST", "/api/shop/vouchers", fields{"code": "AAAA"})
	desk.refused(404, "", "GET", "/api/desk/vouchers/99999", nil)
	h.ahead.Store(int64(37 * 31 * 24 * time.Hour))
	asks("coupons.0 voucher_over", lost)
	if v := read[api.VoucherView](t, c.want(200, "POST", "/api/shop/vouchers", fields{"code": lost})); v.Message == nil || v.Rest != 30_00 {
		t.Errorf("%+v", v)
	}
	h.agree()
}

// However many pay with one voucher at once, it pays no more than it is worth.
func TestManyPayWithOneVoucher(t *testing.T) {
	h := open(t, nil)
	code, _ := h.client().voucher(100_00)
	var wg sync.WaitGroup
	for range 12 {
		wg.Go(func() {
			c := h.client()
			at := checkout()
			if c.send("PUT", at, whole(basket(chart()), fields{"coupons": []string{code}})).status == 200 {
				c.paying(at, cards.Works, "attempt-0001")
			}
		})
	}
	wg.Wait()
	var used, worth int
	for _, e := range read[api.VoucherView](t, h.client().want(200, "POST", "/api/shop/vouchers", fields{"code": code})).Entries {
		if e.Kind == api.VoucherEntryKind(voucher.Used) {
			used += e.Amount
		} else {
			worth += e.Amount
		}
	}
	if used != 100_00 || worth != 100_00 || h.client().rest(code) != 0 {
		t.Errorf("%d of %d was used", used, worth)
	}
	h.agree()
}

// While somebody is about to pay with a voucher, nobody else does; when they do
// not, it is free again. A card that is declined takes nothing off it.
func TestAVoucherIsHeld(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	code, _ := c.voucher(20_00)
	with := fields{"coupons": []string{code}}
	at := checkout()
	c.want(200, "PUT", at, whole(basket(chart()), with))
	c.refused(422, "coupons.0 voucher_held", "PUT", checkout(), whole(basket(photos()), with))
	if p, _ := c.paying(at, cards.Declined, "attempt-0001"); p.State != "refused" || c.rest(code) != 20_00 {
		t.Errorf("%+v", p)
	}
	h.later(40 * time.Minute)
	other := checkout()
	c.want(200, "PUT", other, whole(basket(photos()), with))
	c.refused(422, "coupons.0 voucher_held", "POST", at+"/pay", try("attempt-0002"))
	c.pay(other)
	c.refused(422, "coupons.0 voucher_empty", "POST", at+"/pay", try("attempt-0003"))
	c.want(200, "PUT", at, basket(chart()))
	if p := c.pays(at, cards.Works, "attempt-0004"); p.State != "settled" {
		t.Errorf("%+v", p)
	}
	h.agree()
}

// What a voucher pays of an order that awaits its transfer is paid at once, and
// comes back to it when the transfer does not come.
func TestAVoucherAndATransfer(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	code, _ := c.voucher(20_00)
	order := func() (api.OrderPage, string) {
		at := checkout()
		c.want(200, "PUT", at, whole(basket(chart()), fields{"coupons": []string{code}}))
		p := read[api.Payment](t, c.want(200, "POST", at+"/pay", fields{"attempt": "attempt-0001", "way": "transfer"}))
		link := "/api/shop/orders/" + *p.Link
		return read[api.OrderPage](t, c.want(200, "GET", link, nil)), link
	}
	o, link := order()
	if o.Awaiting == nil || o.Awaiting.Missing != 16_00 || c.rest(code) != 0 {
		t.Fatalf("%+v, and %d is left", o.Awaiting, c.rest(code))
	}
	c.want(200, "POST", link+"/cancel", fields{"lines": []int{}})
	if c.rest(code) != 20_00 {
		t.Errorf("%d is left of a voucher whose order was given up", c.rest(code))
	}
	o, _ = order()
	if p := desk.reads("day.xml", camt(t, of(o.Number, 16_00))); outcomes(p) != "booked" {
		t.Fatalf("%+v", p)
	}
	if m := desk.moves(o.Number, "cancel", fields{"how": "all"}); m.Overpaid != 16_00 || m.Returned != 20_00 || c.rest(code) != 20_00 {
		t.Errorf("%+v, and %d is left", m, c.rest(code))
	}
	h.agree()
}

// What is still open of an order is paid with a voucher on its page, as far as it
// goes, and an order that awaits its transfer is placed so.
func TestPayingTheRestWithAVoucher(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	small, _ := c.voucher(10_00)
	large, _ := c.voucher(80_00)
	o, link := c.orders(desk.inParts()) // 7.00 now by card, 21.00 later, 15.00 held
	page := read[api.OrderPage](t, c.want(200, "POST", link+"/voucher", fields{"code": small}))
	if page.Money.Open != 11_00 || page.Money.Held != 15_00 || c.rest(small) != 0 {
		t.Errorf("%+v", page.Money)
	}
	c.refused(422, "code voucher_empty", "POST", link+"/voucher", fields{"code": small})
	c.refused(422, "code voucher_unknown", "POST", link+"/voucher", fields{"code": "nothing"})
	page = read[api.OrderPage](t, c.want(200, "POST", link+"/voucher", fields{"code": large}))
	if page.Money.Open != 0 || c.rest(large) != 69_00 {
		t.Errorf("%+v", page.Money)
	}
	c.refused(409, "", "POST", link+"/voucher", fields{"code": large})
	waits, link := c.transfers(chart())
	if waits.Awaiting == nil {
		t.Fatal("it awaits no transfer")
	}
	if page = read[api.OrderPage](t, c.want(200, "POST", link+"/voucher", fields{"code": large})); page.Money.State != "placed" || c.rest(large) != 33_00 {
		t.Errorf("%+v", page.Money)
	}
	desk.moves(o.Number, "cancel", fields{"how": "all"})
	if c.rest(small) != 10_00 || c.rest(large) != 44_00 {
		t.Errorf("%d and %d are left", c.rest(small), c.rest(large))
	}
	h.agree()
}

// A voucher that was taxed when it was sold pays only what is taxed so, and that
// is not taxed again.
func TestAVoucherTaxedWhenItWasSold(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	id := 0
	for _, p := range read[[]api.ProductRow](t, desk.want(200, "GET", "/api/desk/products", nil)) {
		if p.Slug == "gift-voucher" {
			id = int(p.Id)
		}
	}
	desk.change(id, func(d *api.Draft) { d.Voucher = &charge.Voucher{Tax: charge.TaxedWhenSold} })
	before := desk.month()
	code, sale := c.voucher(50_00)
	sold := desk.month()
	if sale.Slip.Taxes[0].Amount != 7_98 || taxOf(sold, "19")-taxOf(before, "19") != 7_98 {
		t.Errorf("%+v", sale.Slip.Taxes)
	}
	c.paysWith([]string{code}, chart())
	paid, _ := c.paysWith([]string{code}, photos())
	if used := desk.month(); taxOf(used, "19")-taxOf(sold, "19") != 5_75+4_47-7_98 || paid.Slip.Vouchers[0].Tax.Amount != money.Amount(7_98-5_75) {
		t.Errorf("%+v %+v", used.Taxes, paid.Slip.Vouchers)
	}
	if page := read[api.VoucherPage](t, desk.want(200, "GET", "/api/desk/vouchers", nil)); *page.Rows[0].Taxed != "19" || page.Rows[0].Rest != 0 {
		t.Errorf("%+v", page.Rows[0])
	}
	h.agree()
}
