package web

import (
	"fmt"
	"strings"
	"testing"

	"ruvo/api"
	"ruvo/internal/store"
)

// An address is one, however it is typed: for a coupon's limit, for a group's
// prices, and for what is kept of a person.
func TestOneFormOfAMailAddress(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	desk.want(200, "POST", "/api/desk/coupons", fields{"coupon": fields{"code": "ONCE-EACH", "percent": "10"}, "most_uses": 0, "most_each": 1})
	order := func(email string) fields {
		return whole(fields{"name": "Ada Quill", "email": email, "terms": terms, "lines": []fields{chart()}}, fields{"coupons": []string{"ONCE-EACH"}})
	}
	at := checkout()
	c.want(200, "PUT", at, order("ada@example.org"))
	c.pay(at)
	for _, email := range []string{"Ada@example.org", "ADA@EXAMPLE.ORG", " ada@Example.org "} {
		c.refused(422, "coupons.0 coupon_used", "PUT", checkout(), order(email))
	}
	groups := read[[]api.CustomerGroup](t, desk.want(200, "POST", "/api/desk/groups", fields{"name": "The club", "domains": []string{}}))
	id := groups[len(groups)-1].Id
	for _, g := range groups {
		if g.Name == "The club" {
			id = g.Id
		}
	}
	desk.want(200, "POST", fmt.Sprintf("/api/desk/groups/%d/members", id), fields{"emails": []string{"Ola@Example.org"}})
	before := h.lastMail().ID
	c.want(204, "POST", "/api/shop/pass", fields{"email": "OLA@example.ORG"})
	m := h.lastMail()
	if m.ID == before || m.Recipient != "ola@example.org" {
		t.Fatalf("%+v", m)
	}
	token := passLink.FindStringSubmatch(m.Body)[1]
	if p := read[api.Pass](t, c.want(200, "POST", "/api/shop/pass/open", fields{"token": token})); p.Group == nil || *p.Group != "The club" {
		t.Errorf("%+v", p)
	}
}

// A coupon that takes nothing off is not used up, and one that nobody could use
// is not made.
func TestCouponsThatDoNothing(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	made := func(coupon fields) fields { return fields{"coupon": coupon, "most_uses": 1, "most_each": 0} }
	desk.want(200, "POST", "/api/desk/coupons", made(fields{"code": "JUST-ONE", "percent": "50"}))
	gift := fields{"product": "gift-voucher", "quantity": 1, "answers": fields{"value": 5000, "for_name": "Ben"}}
	page := read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/gift-voucher", nil))
	for _, q := range page.Questions { // whatever it asks, it is worth what the customer says
		if _, there := gift["answers"].(fields)[q.Key]; q.Required && !there && q.Kind == "short_text" {
			gift["answers"].(fields)[q.Key] = "Ben"
		}
	}
	v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{gift}, "coupons": []string{"JUST-ONE"}}))
	if len(v.Coupons) != 1 || v.Coupons[0].Message == nil || !strings.Contains(*v.Coupons[0].Message, "kept for another one") {
		t.Errorf("%+v", v.Coupons)
	}
	at := checkout()
	c.want(200, "PUT", at, whole(basket(chart()), fields{"coupons": []string{"JUST-ONE"}}))
	if o := read[api.OrderPage](t, c.want(200, "GET", c.pay(at), nil)); o.Slip.Total != 1800 {
		t.Errorf("%+v", o.Slip)
	}
	desk.refused(422, "coupon.products coupon_product", "POST", "/api/desk/coupons", made(fields{"code": "NOT-THERE", "percent": "50", "products": []int{9999}}))
	desk.refused(422, "coupon.to coupon_over", "POST", "/api/desk/coupons", made(fields{"code": "TOO-LATE", "percent": "50", "to": "2026-11-23"}))
	desk.want(200, "POST", "/api/desk/coupons", made(fields{"code": "LAST-DAY", "percent": "50", "to": "2026-11-24"}))
	h.audit()
}

// A product whose edition cannot be computed as it was published is not sold,
// and the desk says why.
func TestAnEditionThatCannotBeComputed(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	var slug string
	must(t, h.store.Write(t.Context(), func(tx *store.Tx) error {
		p, err := tx.ProductByID(3)
		if err != nil {
			return err
		}
		e, err := tx.EditionByID(*p.EditionID)
		if err != nil {
			return err
		}
		// As a milder rule of an earlier release would have let pass.
		e.ID, e.Number = 0, e.Number+1
		e.Content.Charges[0].Per = "moon"
		if err := tx.AddEdition(&e); err != nil {
			return err
		}
		p.EditionID, slug = &e.ID, p.Slug
		return tx.SaveProduct(&p)
	}))
	c.refused(404, "", "GET", "/api/shop/products/"+slug, nil)
	for _, p := range read[api.ShopFront](t, c.want(200, "GET", "/api/shop", nil)).Products {
		if p.Slug == slug {
			t.Error("it is on the shelf")
		}
	}
	line := fields{"product": slug, "quantity": 1, "answers": fields{"pictures": 2}}
	c.refused(422, "lines.0.product not_sold", "PUT", checkout(), basket(line))
	c.refused(404, "", "POST", "/api/shop/products/"+slug+"/evaluate", fields{"quantity": 1, "answers": fields{}})
	p := read[api.DeskProduct](t, desk.want(200, "GET", "/api/desk/products/3", nil))
	if p.Unsold == nil || len(*p.Unsold) != 1 || (*p.Unsold)[0].Part != "charge" {
		t.Errorf("%+v", p.Unsold)
	}
	for _, row := range read[[]api.ProductRow](t, desk.want(200, "GET", "/api/desk/products", nil)) {
		if (row.Id == 3) != (row.Unsold != nil && *row.Unsold) {
			t.Errorf("%+v", row)
		}
	}
	// Publishing what is right sells it again.
	desk.change(3, func(d *api.Draft) { d.Summary = "Mended." })
	if p = read[api.DeskProduct](t, desk.want(200, "GET", "/api/desk/products/3", nil)); p.Unsold != nil {
		t.Errorf("%+v", p.Unsold)
	}
	c.want(200, "GET", "/api/shop/products/"+slug, nil)
}
