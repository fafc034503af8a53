package web

import (
	"fmt"
	"strings"
	"testing"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/standin"
)

// sellsIn changes the business's currency, saying that its terms' amounts are
// in it.
func (c *client) sellsIn(currency string) {
	c.t.Helper()
	c.terms(func(b *api.BusinessTerms) { b.Currency, b.AmountsIn = currency, &currency })
}

// repriced gives a product's amounts anew, the same in minor units, and
// publishes it.
func (c *client) repriced(id int) {
	c.t.Helper()
	at := fmt.Sprintf("/api/desk/products/%d/reprice", id)
	c.change(id, func(d *api.Draft) {
		r := read[api.Repriced](c.t, c.want(200, "POST", at, fields{"draft": d}))
		amounts, formulas := fields{}, fields{}
		for _, a := range r.Amounts {
			if a.Formula != nil {
				formulas[a.Place] = *a.Formula
			} else {
				amounts[a.Place] = a.Was
			}
		}
		r = read[api.Repriced](c.t, c.want(200, "POST", at, fields{"draft": d, "amounts": amounts, "formulas": formulas}))
		*d = *r.Draft
	})
}

// Amounts are never taken for amounts of another currency. When the business
// changes its own, nothing is sold whose amounts are not given anew, and it is
// told which those are.
func TestTheBusinessChangesItsCurrency(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	desk.coupon(fields{"code": "TEN-OFF", "amount": 1000}, 0, 0)
	desk.coupon(fields{"code": "A-TENTH", "percent": "10"}, 0, 0)
	link := c.buys(chart())
	bought := checkout()
	c.want(200, "PUT", bought, whole(basket(chart()), fields{"coupons": []string{"A-TENTH"}}))
	c.want(200, "POST", bought+"/pay", card(standin.CardWorks))
	before := read[api.OrderPage](t, c.want(200, "GET", link, nil))

	terms := read[api.BusinessTerms](t, desk.want(200, "GET", "/api/desk/terms", nil))
	terms.Currency = "JPY"
	desk.refused(422, "currency terms_currency", "PUT", "/api/desk/terms", terms)
	eur := "EUR"
	terms.AmountsIn = &eur
	desk.refused(422, "currency terms_currency", "PUT", "/api/desk/terms", terms)
	if now := read[api.BusinessTerms](t, desk.want(200, "GET", "/api/desk/terms", nil)); now.Currency != "EUR" || len(*now.Unpriced) > 0 {
		t.Errorf("%+v", now)
	}

	desk.sellsIn("JPY")
	now := read[api.BusinessTerms](t, desk.want(200, "GET", "/api/desk/terms", nil))
	rows := read[[]api.ProductRow](t, desk.want(200, "GET", "/api/desk/products", nil))
	if len(*now.Unpriced) != len(rows) || (*now.Unpriced)[0].Currency != "EUR" {
		t.Errorf("%d of %d products: %+v", len(*now.Unpriced), len(rows), now.Unpriced)
	}
	for _, r := range rows {
		if r.Currency != "EUR" || r.Errors == 0 || r.Edition > 0 && r.Unsold == nil {
			t.Errorf("%+v", r)
		}
	}
	if front := read[api.ShopFront](t, c.want(200, "GET", "/api/shop", nil)); len(front.Products) != 0 {
		t.Errorf("%+v", front.Products)
	}
	c.want(404, "GET", "/api/shop/products/photo-rescue", nil)
	c.refused(422, "lines.0.product not_sold", "PUT", checkout(), basket(chart()))
	p := read[api.DeskProduct](t, desk.want(200, "GET", "/api/desk/products/3", nil))
	if p.Draft.Currency != "EUR" || p.Draft.Price != 2800 || !product.Broken(p.Findings) {
		t.Errorf("%s %d %+v", p.Draft.Currency, p.Draft.Price, p.Findings)
	}
	p.Draft.Summary = "Mended."
	p = read[api.DeskProduct](t, desk.want(200, "PUT", "/api/desk/products/3/draft", fields{"version": p.Version, "draft": p.Draft}))
	desk.want(422, "POST", "/api/desk/products/3/publish", fields{"version": p.Version})

	// What is missing is named, amount by amount, and nothing is kept.
	r := read[api.Repriced](t, desk.want(200, "POST", "/api/desk/products/3/reprice", fields{"draft": p.Draft}))
	if r.From != "EUR" || r.To != "JPY" || r.Draft != nil || len(r.Amounts) < 3 || r.Amounts[0].Place != "price" || r.Amounts[0].Was != int64(p.Draft.Price) {
		t.Errorf("%+v", r)
	}
	missing := desk.want(422, "POST", "/api/desk/products/3/reprice", fields{"draft": p.Draft, "amounts": fields{"price": 3200}})
	if body := string(missing.body); strings.Contains(body, `"key":"price"`) || strings.Count(body, "Give this") != len(r.Amounts)-1 {
		t.Error(body)
	}
	desk.repriced(3)
	c.want(200, "GET", "/api/shop/products/photo-rescue", nil)
	if now := read[api.BusinessTerms](t, desk.want(200, "GET", "/api/desk/terms", nil)); len(*now.Unpriced) != len(rows)-1 {
		t.Errorf("%+v", now.Unpriced)
	}

	// A coupon's amount stays in its currency; a percentage is in none.
	photos := fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}}
	c.refused(422, "coupons.0 coupon_currency", "PUT", checkout(), whole(basket(photos), fields{"coupons": []string{"TEN-OFF"}}))
	c.want(200, "PUT", checkout(), whole(basket(photos), fields{"coupons": []string{"A-TENTH"}}))

	// What it took off is counted in its own currency alone.
	took := func() (given int) {
		for _, r := range read[[]api.CouponRow](t, desk.want(200, "GET", "/api/desk/coupons", nil)) {
			if r.Coupon.Code == "A-TENTH" {
				given = r.Given
			}
		}
		return given
	}
	inEuro := took()
	bought = checkout()
	c.want(200, "PUT", bought, whole(basket(photos), fields{"coupons": []string{"A-TENTH"}}))
	c.want(200, "POST", bought+"/pay", card(standin.CardWorks))
	if now := took(); inEuro == 0 || now != inEuro {
		t.Errorf("%d before, %d after an order in yen", inEuro, now)
	}

	// What was ordered stays what it was.
	if after := read[api.OrderPage](t, c.want(200, "GET", link, nil)); after.Slip.Currency != "EUR" || after.Slip.Total != before.Slip.Total {
		t.Errorf("%+v", after.Slip)
	}
	h.audit()
}
