package web

import (
	"fmt"
	"strings"
	"testing"

	"ruvo/api"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/standin/cards"
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

// A sheet's amounts are given anew at the sheet, before or after those of the
// products; nothing is sold with amounts of both.
func TestASheetInAnotherCurrency(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	gift := fields{"key": "gift", "kind": "amount", "moment": "choosing", "wording": "A gift on top", "settings": fields{"least": 500}}
	s := read[api.SheetView](t, desk.want(200, "POST", "/api/desk/sheets", fields{"name": "Gifts"}))
	at := fmt.Sprintf("/api/desk/sheets/%d", s.Id)
	keep := func(s api.SheetView, more fields) api.SheetView {
		t.Helper()
		body := whole(fields{"version": s.Version, "name": s.Name, "questions": s.Questions, "rule": s.Rule}, more)
		return read[api.SheetView](t, desk.want(200, "PUT", at, body))
	}
	s = keep(s, fields{"questions": []fields{gift}, "rule": fields{"all": true, "except": []int{1, 2, 4, 5, 6, 7, 8, 9, 10, 11, 12}}})
	if s.Currency != "EUR" || s.SellsIn != "EUR" {
		t.Errorf("%s, sold in %s", s.Currency, s.SellsIn)
	}
	s = read[api.SheetView](t, desk.want(200, "POST", at+"/publish", fields{"version": s.Version}))
	c.want(200, "GET", "/api/shop/products/photo-rescue", nil)

	desk.sellsIn("JPY")
	named := func() (names []string) {
		for _, u := range *read[api.BusinessTerms](t, desk.want(200, "GET", "/api/desk/terms", nil)).Unpriced {
			if u.Sheet != nil {
				names = append(names, u.Title)
			}
		}
		return names
	}
	if names := named(); len(names) != 1 || names[0] != "Gifts" {
		t.Errorf("sheets to be given anew: %v", names)
	}
	// The product cannot go first: its sheet's 5.00 would be 500 yen.
	p := read[api.DeskProduct](t, desk.want(200, "GET", "/api/desk/products/3", nil))
	r := read[api.Repriced](t, desk.want(200, "POST", "/api/desk/products/3/reprice", fields{"draft": p.Draft}))
	amounts := fields{}
	for _, a := range r.Amounts {
		if strings.Contains(a.Place, "gift") {
			t.Errorf("the product asks for its sheet's %+v", a)
		}
		amounts[a.Place] = a.Was
	}
	r = read[api.Repriced](t, desk.want(200, "POST", "/api/desk/products/3/reprice", fields{"draft": p.Draft, "amounts": amounts}))
	p = read[api.DeskProduct](t, desk.want(200, "PUT", "/api/desk/products/3/draft", fields{"version": p.Version, "draft": r.Draft}))
	refused := desk.want(422, "POST", "/api/desk/products/3/publish", fields{"version": p.Version})
	if !strings.Contains(string(refused.body), "comes from a sheet with amounts in EUR") {
		t.Error(string(refused.body))
	}

	// The sheet can, and does not stumble over the products that still cannot.
	s = read[api.SheetView](t, desk.want(200, "GET", at, nil))
	if s.Currency != "EUR" || s.SellsIn != "JPY" {
		t.Errorf("%s, sold in %s", s.Currency, s.SellsIn)
	}
	sheet := fields{"draft": fields{"title": s.Name, "currency": s.Currency, "price": 0, "tax": "0", "questions": s.Questions}}
	asked := read[api.Repriced](t, desk.want(200, "POST", "/api/desk/products/0/reprice", sheet))
	if len(asked.Amounts) != 1 || asked.Amounts[0].Was != money.Amount(500).Fine() {
		t.Errorf("%+v", asked)
	}
	given := read[api.Repriced](t, desk.want(200, "POST", "/api/desk/products/0/reprice", whole(sheet, fields{"amounts": fields{asked.Amounts[0].Place: 800}})))
	desk.refused(422, "currency choice", "PUT", at, fields{"version": s.Version, "name": s.Name, "rule": s.Rule, "questions": given.Draft.Questions, "currency": "USD"})
	s = keep(s, fields{"questions": given.Draft.Questions, "currency": "JPY"})
	if names := named(); len(names) != 1 { // kept and not published
		t.Errorf("before it is published, to be given anew: %v", names)
	}
	s = read[api.SheetView](t, desk.want(200, "POST", at+"/publish", fields{"version": s.Version}))
	if names := named(); s.Currency != "JPY" || len(names) > 0 {
		t.Errorf("%s, and still %v", s.Currency, names)
	}
	c.want(404, "GET", "/api/shop/products/photo-rescue", nil)
	p = read[api.DeskProduct](t, desk.want(200, "GET", "/api/desk/products/3", nil))
	desk.want(200, "POST", "/api/desk/products/3/publish", fields{"version": p.Version})
	if page := string(c.want(200, "GET", "/api/shop/products/photo-rescue", nil).body); !strings.Contains(page, `"least":800`) {
		t.Error(page)
	}

	// Back to the old currency, what was published in it has yen from the sheet.
	desk.sellsIn("EUR")
	for _, row := range read[[]api.ProductRow](t, desk.want(200, "GET", "/api/desk/products", nil)) {
		if row.Id == 3 && row.Unsold == nil {
			t.Error("a product in yen is sold for euro")
		}
	}
	h.agree()
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
	c.pays(bought, cards.Works, "attempt-0001")
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
	if r.From != "EUR" || r.To != "JPY" || r.Draft != nil || len(r.Amounts) < 3 || r.Amounts[0].Place != "price" || r.Amounts[0].Was != p.Draft.Price.Fine() {
		t.Errorf("%+v", r)
	}
	missing := desk.want(422, "POST", "/api/desk/products/3/reprice", fields{"draft": p.Draft, "amounts": fields{"price": 3200}})
	if body := string(missing.body); strings.Contains(body, `"key":"price"`) || strings.Count(body, "Give this") != len(r.Amounts)-1 {
		t.Error(body)
	}
	formula := desk.want(422, "POST", "/api/desk/products/3/reprice", fields{"amounts": fields{}, "draft": fields{
		"title": "Lamp", "currency": "EUR", "price": 100, "tax": "0", "values": []fields{{"name": "oil", "formula": "quantity * 5"}}}})
	if body := string(formula.body); !strings.Contains(body, `"code":"new_formula","key":"values.oil.formula"`) || !strings.Contains(body, `"code":"new_amount","key":"price"`) {
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
	c.pays(bought, cards.Works, "attempt-0001")
	if now := took(); inEuro == 0 || now != inEuro {
		t.Errorf("%d before, %d after an order in yen", inEuro, now)
	}

	// What was ordered stays what it was.
	if after := read[api.OrderPage](t, c.want(200, "GET", link, nil)); after.Slip.Currency != "EUR" || after.Slip.Total != before.Slip.Total {
		t.Errorf("%+v", after.Slip)
	}
	h.audit()
}
