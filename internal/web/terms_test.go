package web

import (
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
)

// terms changes the business's terms.
func (c *client) terms(change func(*api.BusinessTerms)) api.BusinessTerms {
	c.t.Helper()
	b := read[api.BusinessTerms](c.t, c.want(200, "GET", "/api/desk/terms", nil))
	change(&b)
	return read[api.BusinessTerms](c.t, c.want(200, "PUT", "/api/desk/terms", b))
}

func (c *client) coupon(rule fields, most, each int) []api.CouponRow {
	c.t.Helper()
	return read[[]api.CouponRow](c.t, c.want(200, "POST", "/api/desk/coupons", fields{"coupon": rule, "most_uses": most, "most_each": each}))
}

func amountOf(n int64) *money.Amount {
	a := money.Amount(n)
	return &a
}

func percentOf(s string) decimal.Decimal { return decimal.RequireFromString(s) }

func whole(f fields, more fields) fields {
	for k, v := range more {
		f[k] = v
	}
	return f
}

func TestCoupons(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	desk.coupon(fields{"code": "nova-ten", "percent": "10"}, 0, 1)
	rows := desk.coupon(fields{"code": "NOVA-FIVE", "amount": 500, "products": []int{3}, "combines": true, "to": "2026-11-24", "least_order": 1000}, 2, 0)
	if len(rows) < 2 || rows[0].Says != "takes off 5.00 of 1 product from 10.00 on until Tue 24 Nov 2026, beside others too" {
		t.Errorf("%+v", rows[0])
	}
	desk.refused(422, "coupon.code coupon_there", "POST", "/api/desk/coupons", fields{"coupon": fields{"code": "NOVA-TEN", "percent": "5"}, "most_uses": 0, "most_each": 0})
	desk.refused(422, "coupon coupon", "POST", "/api/desk/coupons", fields{"coupon": fields{"code": "x", "percent": "5"}, "most_uses": 0, "most_each": 0})
	photos := fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}}

	v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{chart()}, "coupons": []string{" nova-ten ", "NOVA-TEN", "nova-five", "what"}}))
	said := []string{}
	for _, x := range v.Coupons {
		said = append(said, x.Code+" "+fmt.Sprint(x.Message == nil))
	}
	if strings.Join(said, ", ") != "NOVA-TEN true, NOVA-TEN false, NOVA-FIVE false, WHAT false" || v.Slip.Total != 3240 || len(v.Faults) != 3 {
		t.Errorf("%v %+v", said, v.Slip)
	}
	at := checkout()
	c.refused(422, "coupons.0 coupon_products", "PUT", at, whole(basket(chart()), fields{"coupons": []string{"NOVA-FIVE"}}))
	o := read[api.Checkout](t, c.want(200, "PUT", at, whole(basket(chart(), photos), fields{"coupons": []string{"NOVA-FIVE"}})))
	if o.Slip.Total != 3600+2800-500 || o.HeldUntil == nil {
		t.Errorf("%+v", o)
	}
	c.pay(at)
	// Of two uses one is paid; the other one is held by a checkout that runs.
	other := h.client()
	other.want(200, "PUT", checkout(), whole(basket(photos), fields{"coupons": []string{"NOVA-FIVE"}}))
	h.client().refused(422, "coupons.0 coupon_used", "PUT", checkout(), whole(basket(photos), fields{"coupons": []string{"NOVA-FIVE"}}))
	h.ahead.Store(int64(h.server.Shop.Hold))
	h.client().want(200, "PUT", checkout(), whole(basket(photos), fields{"coupons": []string{"NOVA-FIVE"}}))
	// Once for each customer.
	at = checkout()
	c.want(200, "PUT", at, whole(basket(chart()), fields{"coupons": []string{"NOVA-TEN"}}))
	c.pay(at)
	c.refused(422, "coupons.0 coupon_used", "PUT", checkout(), whole(basket(chart()), fields{"coupons": []string{"NOVA-TEN"}}))
	rows = read[[]api.CouponRow](t, desk.want(200, "GET", "/api/desk/coupons", nil))
	if rows[0].Used != 1 || rows[0].Given != 500 || rows[0].Held != 1 || rows[1].Used != 1 || rows[1].Given != 360 {
		t.Errorf("%+v", rows[:2])
	}
	desk.want(200, "POST", fmt.Sprintf("/api/desk/coupons/%d/off", rows[1].Id), nil)
	h.client().refused(422, "coupons.0 coupon_unknown", "PUT", checkout(), whole(basket(chart()), fields{"coupons": []string{"NOVA-TEN"}}))
	h.audit()
}

func TestManyCoupons(t *testing.T) {
	desk := open(t, nil).desk()
	before := len(read[[]api.CouponRow](t, desk.want(200, "GET", "/api/desk/coupons", nil)))
	rows := read[[]api.CouponRow](t, desk.want(200, "POST", "/api/desk/coupons", fields{"coupon": fields{"code": "FAIR", "amount": 300}, "most_uses": 1, "most_each": 0, "many": 200}))
	seen := map[string]bool{}
	for _, r := range rows[:200] {
		if !strings.HasPrefix(r.Coupon.Code, "FAIR-") || len(r.Coupon.Code) != 13 || r.Batch != "FAIR" || r.MostUses != 1 {
			t.Fatalf("%+v", r)
		}
		seen[r.Coupon.Code] = true
	}
	if len(rows) != before+200 || len(seen) != 200 {
		t.Errorf("%d coupons, %d codes", len(rows), len(seen))
	}
	desk.refused(422, "many coupon_numbers", "POST", "/api/desk/coupons", fields{"coupon": fields{"code": "FAIR", "amount": 300}, "most_uses": 1, "most_each": 0, "many": 5001})
}

// A coupon for one use is used once, whoever pays at the same time.
func TestOneUseIsOneUse(t *testing.T) {
	h := open(t, nil)
	h.desk().coupon(fields{"code": "ONLY-ONE", "percent": "50"}, 1, 0)
	var wg sync.WaitGroup
	var mu sync.Mutex
	taken := 0
	for range 20 {
		wg.Go(func() {
			status := h.client().send("PUT", checkout(), whole(basket(chart()), fields{"coupons": []string{"ONLY-ONE"}})).status
			mu.Lock()
			defer mu.Unlock()
			if status == 200 {
				taken++
			}
		})
	}
	wg.Wait()
	if taken != 1 {
		t.Errorf("%d checkouts have a coupon for one", taken)
	}
}

func TestTipsAndChargesOfTheOrder(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	small := amountOf(350)
	b := desk.terms(func(b *api.BusinessTerms) {
		b.Terms.Charges = []charge.OrderCharge{{Label: "Handling of small orders", Effect: charge.Adds, Portion: charge.Portion{Amount: small}, Below: 3000, Tax: decimal.NewFromInt(19)}}
		b.Terms.Tip = &charge.Tip{Label: "For those on the hill", Least: 100, Most: 5000, Suggestions: []money.Amount{200, 500}}
	})
	if len(*b.Stale) > 0 {
		t.Errorf("%v compute in another way", *b.Stale)
	}
	photos := fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}}
	v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{photos}, "tip": 200}))
	if v.Slip.Total != 2800+350+200 || v.Asking.Tip == nil || len(v.Slip.Taxes) != 2 {
		t.Errorf("%+v", v.Slip)
	}
	c.refused(422, "tip tip_least", "PUT", checkout(), whole(basket(photos), fields{"tip": 50}))
	c.refused(422, "tip tip_most", "PUT", checkout(), whole(basket(photos), fields{"tip": 5001}))
	c.refused(422, "tip tip_least", "PUT", checkout(), whole(basket(photos), fields{"tip": -5}))
	at := checkout()
	c.want(200, "PUT", at, whole(basket(photos), fields{"tip": 500}))
	c.pay(at)
	// What changes later changes no order that was made.
	desk.terms(func(b *api.BusinessTerms) { b.Terms = charge.Terms{} })
	h.audit()
	desk.refused(422, "currency currency_code, rounding rounding, few few, terms terms", "PUT", "/api/desk/terms",
		fields{"currency": "GOLD", "rounding": "up", "tax_added": false, "show_zero": false, "few": -1, "currencies": []string{}, "terms": fields{"tip": fields{"label": "", "tax": "0"}}})
}

// Prices without tax, and a business of another country that owes the tax
// itself. The tax id is asked only then.
func TestBusinessCustomers(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	b := desk.terms(func(b *api.BusinessTerms) { b.TaxAdded, b.Terms.Business, b.Terms.Reverse = true, true, true })
	if len(*b.Stale) < 5 {
		t.Errorf("only %v compute in another way", *b.Stale)
	}
	p := read[api.DeskProduct](t, desk.want(200, "GET", "/api/desk/products/3", nil))
	desk.want(200, "POST", "/api/desk/products/3/publish", fields{"version": p.Version})
	photos := fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}}
	ask := func(buyer fields) api.BasketView {
		return read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{photos}, "buyer": buyer}))
	}
	for _, row := range []struct {
		buyer  fields
		total  money.Amount
		asked  bool
		faults string
	}{
		{fields{}, 3332, false, ""},
		{fields{"business": true}, 3332, false, "buyer.company"},
		{fields{"business": true, "company": "Kettle & Sons", "country": "DE", "tax_id": "DE123456789"}, 3332, false, ""},
		{fields{"business": true, "company": "Kettle & Sons", "country": "NL"}, 3332, true, ""},
		{fields{"business": true, "company": "Kettle & Sons", "country": "NL", "tax_id": "AT123"}, 3332, true, "buyer.tax_id"},
		{fields{"business": true, "company": "Kettle & Sons", "country": "QQ"}, 3332, false, "buyer.country"},
		{fields{"business": true, "company": "Kettle & Sons", "country": "NL", "tax_id": "nl 1234.56789 b01"}, 2800, true, ""},
		{fields{"business": true, "company": "Kettle & Sons", "country": "GR", "tax_id": "EL123456789"}, 2800, true, ""},
	} {
		v := ask(row.buyer)
		var keys []string
		for _, f := range v.Faults {
			keys = append(keys, f.Key)
		}
		if v.Slip.Total != row.total || v.Asking.TaxId != row.asked || strings.Join(keys, " ") != row.faults {
			t.Errorf("%v: %d, asked %v, %v", row.buyer, v.Slip.Total, v.Asking.TaxId, keys)
		}
	}
	at := checkout()
	c.want(200, "PUT", at, whole(basket(photos), fields{"buyer": fields{"business": true, "company": "Kettle & Sons", "country": "NL", "tax_id": "NL123456789B01"}}))
	c.pay(at)
	h.audit()
}
