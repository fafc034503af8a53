package web

import (
	"testing"

	"ruvo/api"
	"ruvo/internal/core/order"
)

// The checkout is laid out as a whole: what is left out is neither asked nor taken, and
// what nobody can order without cannot be left out.
func TestTheCheckoutIsLaidOut(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	d.refused(422, "sections arrangement", "PUT", "/api/desk/checkout", fields{"sections": []fields{{"name": "person", "off": true}}})
	d.refused(422, "sections arrangement", "PUT", "/api/desk/checkout", fields{"sections": []fields{{"name": "parcel"}}})
	kept := read[order.Arrangement](t, d.want(200, "PUT", "/api/desk/checkout", fields{"steps": true, "sections": []fields{{"name": "tip", "off": true}, {"name": "recipient", "off": true}, {"name": "business", "off": true}}}))
	if len(kept.Sections) != 7 || kept.Sections[0].Name != "tip" || !kept.Steps {
		t.Errorf("%+v", kept)
	}
	view := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{chart()}, "buyer": fields{"business": true, "company": "A"}}))
	if view.Asking.Tip != nil || view.Asking.Business || !view.Arrangement.Steps {
		t.Errorf("%+v", view.Asking)
	}
	at := checkout()
	body := basket(chart())
	body["recipient"] = fields{"name": "Matti"}
	c.want(200, "PUT", at, body)
	if page := c.page(secretOf(c.pay(at))); page.Recipient != nil {
		t.Errorf("%+v", page.Recipient)
	}
	body["tip"] = 200
	c.refused(422, "tip unknown", "PUT", checkout(), body)

	// The questions stand in the seller's order, each named once.
	asked := func() (keys []string) {
		t.Helper()
		for _, q := range read[[]api.CheckoutQuestion](t, d.want(200, "GET", "/api/desk/checkout/questions", nil)) {
			keys = append(keys, q.Key)
		}
		return keys
	}
	before := asked()
	last := before[len(before)-1]
	d.refused(422, "questions arrangement", "PUT", "/api/desk/checkout", fields{"questions": []string{last, last}})
	d.want(200, "PUT", "/api/desk/checkout", fields{"questions": []string{last}})
	if after := asked(); len(after) != len(before) || after[0] != last || after[1] != before[0] {
		t.Errorf("%v, and then %v", before, after)
	}
	if view := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{chart()}})); len(view.Arrangement.Questions) != 1 {
		t.Errorf("%+v", view.Arrangement)
	}
}
