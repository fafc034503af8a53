package web

import (
	"fmt"
	"testing"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
)

// listed has the business sell in francs too, rounded to 0.05, and gives the photo
// rescue a price list in which every amount is half as much again.
func (c *client) listed() {
	c.t.Helper()
	c.terms(func(b *api.BusinessTerms) {
		b.Further = &[]api.FurtherTerms{{Currency: "CHF", Terms: charge.Terms{
			RoundTo: 5, Tip: &charge.Tip{Label: "Thank you", Least: 100, Tax: percentOf("19")},
			Charges: []charge.OrderCharge{{Label: "Small order", Effect: charge.Adds, Portion: charge.Portion{Amount: amountOf(102)}, Below: 100_00, Tax: percentOf("19")}},
		}}}
	})
	p := read[api.DeskProduct](c.t, c.want(200, "GET", "/api/desk/products/3", nil))
	list := product.PriceList{Currency: "CHF", Amounts: map[string]product.Listed{}}
	for _, at := range p.Draft.Listable() {
		list.Amounts[at.Place] = product.Listed{Amount: at.Was + at.Was/2, Formula: at.Formula, Was: at.Was, WasFormula: at.Formula}
	}
	c.change(3, func(d *api.Draft) { d.PriceLists = []product.PriceList{list} })
}

var francs = []string{"Ruvo-Currency", "CHF"}

// A customer sees and pays one currency: the products that have a price list, by
// it, under the terms of that currency. Nothing is converted.
func TestSellingInAnotherCurrency(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	desk.listed()
	front := read[api.ShopFront](t, c.want(200, "GET", "/api/shop", nil, francs...))
	own := read[api.ShopFront](t, c.want(200, "GET", "/api/shop", nil))
	if front.Currency != "CHF" || fmt.Sprint(front.Currencies) != "[EUR CHF]" || own.Currency != "EUR" {
		t.Errorf("%s %v, %s", front.Currency, front.Currencies, own.Currency)
	}
	for i, p := range front.Products {
		want := "EUR"
		if p.Slug == "photo-rescue" || p.Slug == "sky-chart" {
			want = "CHF"
			if p.Slug == "photo-rescue" && p.Price != own.Products[i].Price*3/2 {
				t.Errorf("%+v, %+v", p, own.Products[i])
			}
		}
		if p.Currency != want {
			t.Errorf("%s is shown in %s", p.Slug, p.Currency)
		}
	}
	if f := read[api.ShopFront](t, c.want(200, "GET", "/api/shop", nil, "Ruvo-Currency", "USD")); f.Currency != "EUR" {
		t.Errorf("nothing is sold in dollars: %s", f.Currency)
	}
	e := read[api.Evaluation](t, c.want(200, "POST", "/api/shop/products/photo-rescue/evaluate", fields{"quantity": 1, "answers": photos()["answers"]}, francs...))
	if e.Slip.Currency != "CHF" || e.Slip.Total != 42_00 {
		t.Errorf("%+v", e.Slip)
	}
	// In one order there is one currency.
	v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{photos(), gift(50_00, 1)}}, francs...))
	if f := v.Lines[1].Evaluation.Faults; v.Ready || len(f) != 1 || f[0].Code != "not_in_currency" || v.Slip.Currency != "CHF" || v.Slip.Total != 43_00 {
		t.Errorf("%+v %+v", v.Slip, f)
	}
	// 42.00 and 1.02 for a small order are 43.02, in francs 43.00.
	if last := v.Slip.Lines[len(v.Slip.Lines)-1]; last.Part != charge.PartRound || last.Amount != -2 || v.Asking.Tip == nil || v.Asking.Tip.Least != 100 {
		t.Errorf("%+v %+v", v.Slip, v.Asking)
	}
	at := checkout()
	if p := read[problemDocument](t, c.want(422, "PUT", at, basket(photos(), gift(50_00, 1)), francs...)); p.codes() != "lines.1.quantity not_in_currency" {
		t.Errorf("%+v", p)
	}
	desk.coupon(fields{"code": "FRANC", "amount": 500, "currency": "CHF"}, 0, 0)
	desk.refused(422, "coupon.currency currency_unsold", "POST", "/api/desk/coupons", fields{"coupon": fields{"code": "YEN", "amount": 500, "currency": "JPY"}, "most_uses": 0, "most_each": 0})
	c.refused(422, "coupons.0 coupon_currency", "PUT", checkout(), whole(basket(photos()), fields{"coupons": []string{"FRANC"}}))
	c.want(200, "PUT", at, whole(basket(photos()), fields{"coupons": []string{"franc"}, "tip": 200}), francs...)
	link := c.pay(at)
	o := read[api.OrderPage](t, c.want(200, "GET", link, nil)) // whatever is wished now
	if o.Slip.Currency != "CHF" || o.Slip.Total != 40_00 || o.Money.Paid != 40_00 || o.Lines[0].Slip.Currency != "CHF" {
		t.Errorf("%+v %+v", o.Slip, o.Money)
	}
	// An answer is changed: it is priced in francs again, as it was.
	line := o.Lines[0]
	if again := read[api.Docket](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/dockets/%d", line.Id), nil)); again.Currency != "CHF" || again.Slip.Total != 42_00 {
		t.Errorf("%+v", again.Slip)
	}
	m := read[api.MoneyView](t, desk.want(200, "GET", "/api/desk/money?currency=CHF", nil))
	if m.Currency != "CHF" || m.Periods[0].Paid != 40_00 || fmt.Sprint(m.Currencies) != "[EUR CHF]" {
		t.Errorf("%+v", m.Periods[0])
	}
	if all := read[api.EntryPage](t, desk.want(200, "GET", "/api/desk/money/entries?kind=paid&currency=CHF&from=2026-11-01", nil)); all.Count != 1 || all.Amount != 40_00 || all.Currency != "CHF" {
		t.Errorf("%+v", all)
	}
	desk.refused(422, "currency currency_unsold", "GET", "/api/desk/money?currency=USD", nil)
	if m := desk.moves(o.Number, "return", fields{"amount": 10_00, "note": "a quarter"}); m.Returned != 10_00 {
		t.Errorf("%+v", m)
	}
	replay := read[api.Replay](t, desk.want(200, "POST", "/api/desk/products/3/replay", nil))
	// The one order of before was priced by another list.
	if len(replay.Rows) != 1 || replay.Rows[0].Currency != "CHF" || replay.Rows[0].Old != 46_00 || replay.Rows[0].New != 60_00 || replay.Same != replay.Orders-1 {
		t.Errorf("%+v", replay)
	}
	h.agree()
}

// A draft is tried in a further currency, with what it lacks told; and with
// products that are taken along.
func TestTryingInAnotherCurrencyAndWithAddOns(t *testing.T) {
	h := open(t, nil)
	desk := h.desk()
	desk.listed()
	p := read[api.DeskProduct](t, desk.want(200, "GET", "/api/desk/products/3", nil))
	try := func(more fields) api.TrialResult {
		t.Helper()
		return read[api.TrialResult](t, desk.want(200, "POST", "/api/desk/products/3/try", whole(fields{"draft": p.Draft, "quantity": 1, "answers": photos()["answers"]}, more)))
	}
	if r := try(fields{"currency": "CHF"}); r.Evaluation.Slip.Total != 42_00 || r.Range.Least != try(fields{}).Range.Least*3/2 || fmt.Sprint(*r.SoldIn) != "[EUR CHF]" || len(*r.Listable) == 0 {
		t.Errorf("%+v %v", r.Evaluation.Slip, r.Range)
	}
	desk.refused(422, "currency list_none", "POST", "/api/desk/products/3/try", fields{"draft": p.Draft, "quantity": 1, "answers": fields{}, "currency": "USD"})
	p.Draft.Price += 100
	said := ""
	for _, f := range try(fields{}).Findings {
		if f.Key == "price_lists" {
			said += f.Text
		}
	}
	if said != "In CHF these were given when another amount stood there: price. Look at them again." {
		t.Errorf("%s", said)
	}
	delete(p.Draft.PriceLists[0].Amounts, "price")
	at := "/api/desk/products/3"
	kept := read[api.DeskProduct](t, desk.want(200, "PUT", at+"/draft", fields{"version": p.Version, "draft": p.Draft}))
	desk.want(200, "POST", at+"/publish", fields{"version": kept.Version})
	for _, c := range read[api.ShopFront](t, h.client().want(200, "GET", "/api/shop", nil, francs...)).Products {
		if c.Slug == "photo-rescue" && c.Currency != "EUR" {
			t.Error("it is sold by a list that is not whole")
		}
	}

	set := api.DeskProduct{}
	for _, row := range read[[]api.ProductRow](t, desk.want(200, "GET", "/api/desk/products", nil)) {
		if row.Slug == "first-night-set" {
			set = read[api.DeskProduct](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/products/%d", row.Id), nil))
		}
	}
	taken := []api.TriedAddOn{{Product: 1, Quantity: 0}}
	var sum money.Amount
	for _, a := range set.Draft.AddOns {
		taken = append(taken, api.TriedAddOn{Product: a.Product, Quantity: 1})
	}
	r := read[api.TrialResult](t, desk.want(200, "POST", fmt.Sprintf("/api/desk/products/%d/try", set.Id), fields{"draft": set.Draft, "quantity": 1, "answers": fields{}, "add_ons": taken}))
	bundled := false
	for _, l := range r.Whole.Lines {
		sum += l.Amount
		bundled = bundled || l.Part == charge.PartBundle
	}
	if !bundled || sum != r.Whole.Total || set.Draft.Bundle == nil || r.Whole.Total < set.Draft.Bundle.Price {
		t.Errorf("%+v", r.Whole)
	}
}
