package web

import (
	"context"
	"fmt"
	"regexp"
	"strings"
	"testing"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
)

var passLink = regexp.MustCompile(`/pass/([\w-]+)(?:\?invite=([\w-]+))?`)

// lastMail gives the newest mail.
func (h *house) lastMail() store.Message {
	h.t.Helper()
	var m []store.Message
	must(h.t, h.store.Read(context.Background(), func(tx *store.Tx) (err error) {
		m, err = tx.LatestMessages(1)
		return err
	}))
	return m[0]
}

// change changes a draft and publishes it.
func (c *client) change(product int, change func(*api.Draft)) {
	c.t.Helper()
	at := fmt.Sprintf("/api/desk/products/%d", product)
	p := read[api.DeskProduct](c.t, c.want(200, "GET", at, nil))
	change(&p.Draft)
	p = read[api.DeskProduct](c.t, c.want(200, "PUT", at+"/draft", fields{"version": p.Version, "draft": p.Draft}))
	c.want(200, "POST", at+"/publish", fields{"version": p.Version})
}

func TestCustomerGroups(t *testing.T) {
	h := open(t, nil)
	desk := h.desk()
	groups := read[[]api.CustomerGroup](t, desk.want(200, "POST", "/api/desk/groups", fields{"name": "Sky schools", "domains": []string{"@sky-school.example.org"}}))
	var g api.CustomerGroup
	for _, x := range groups {
		if x.Name == "Sky schools" {
			g = x
		}
	}
	if g.Key != "sky-schools" || g.Invite == nil || !strings.HasPrefix(*g.Invite, "http://shop.example.org/join/") {
		t.Fatalf("%+v", g)
	}
	desk.refused(422, "name group_name, domains domain", "POST", "/api/desk/groups", fields{"name": " ", "domains": []string{"no domain"}})
	off := amountOf(2000)
	desk.change(3, func(d *api.Draft) {
		d.Prices = append(d.Prices, api.Special{Label: "Sky schools", Group: g.Key, Portion: charge.Portion{Amount: off}})
	})
	desk.change(4, func(d *api.Draft) { d.Groups = []string{g.Key} })
	photos := fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}}
	total := func(c *client) string {
		v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{photos}}))
		n := len(read[api.ShopFront](t, c.want(200, "GET", "/api/shop", nil)).Products)
		e := read[api.Evaluation](t, c.want(200, "POST", "/api/shop/products/photo-rescue/evaluate", fields{"quantity": 1, "answers": photos["answers"]}))
		return fmt.Sprint(v.Slip.Total, " ", e.Slip.Total, " ", n)
	}
	stranger := h.client()
	all := len(read[api.ShopFront](t, desk.want(200, "GET", "/api/shop", nil)).Products)
	if got := total(stranger); got != fmt.Sprint("2800 2800 ", all) {
		t.Error(got)
	}
	stranger.refused(404, "", "GET", "/api/shop/products/gift-voucher", nil)

	// By mail domain: the link in the mail proves whose address it is.
	teacher := h.client()
	teacher.want(204, "POST", "/api/shop/pass", fields{"email": "Ida@Sky-School.example.org"})
	m := h.lastMail()
	if m.Recipient != "Ida@Sky-School.example.org" && m.Recipient != "ida@sky-school.example.org" || !strings.Contains(m.Body, "Sky schools") {
		t.Fatalf("%+v", m)
	}
	token := passLink.FindStringSubmatch(m.Body)[1]
	teacher.refused(404, "", "POST", "/api/shop/pass/open", fields{"token": "wrong"})
	pass := read[api.Pass](t, teacher.want(200, "POST", "/api/shop/pass/open", fields{"token": token}))
	if pass.Group == nil || *pass.Group != "Sky schools" || total(teacher) != fmt.Sprint("2000 2000 ", all+1) {
		t.Errorf("%+v %s", pass, total(teacher))
	}
	link := teacher.buys(photos)
	if o := read[api.OrderPage](t, teacher.want(200, "GET", link, nil)); o.Slip.Total != 2000 || !strings.Contains(o.Slip.Lines[0].Why, "Sky schools: 20.00 instead of 28.00") {
		t.Errorf("%+v", o.Slip)
	}
	teacher.want(200, "DELETE", "/api/shop/pass", nil)
	if got := total(teacher); got != fmt.Sprint("2800 2800 ", all) {
		t.Error(got)
	}
	// By the sign-up link, whatever the address; and by hand.
	friend := h.client()
	invite := (*g.Invite)[strings.LastIndex(*g.Invite, "/")+1:]
	friend.refused(404, "", "POST", "/api/shop/pass", fields{"email": "pip@example.org", "invite": "nothing"})
	friend.want(204, "POST", "/api/shop/pass", fields{"email": "pip@example.org", "invite": invite})
	found := passLink.FindStringSubmatch(h.lastMail().Body)
	friend.want(200, "POST", "/api/shop/pass/open", fields{"token": found[1], "invite": found[2]})
	if got := total(friend); got != fmt.Sprint("2000 2000 ", all+1) {
		t.Error(got)
	}
	desk.want(200, "POST", fmt.Sprintf("/api/desk/groups/%d/members", g.Id), fields{"emails": []string{"ola@example.org"}})
	groups = read[[]api.CustomerGroup](t, desk.want(200, "GET", "/api/desk/groups", nil))
	for _, x := range groups {
		if x.Id == g.Id && fmt.Sprint(x.Members) != "[{ola@example.org hand} {pip@example.org link}]" {
			t.Errorf("%v", x.Members)
		}
	}
	// Nobody learns whose address belongs to a group: no mail, the same answer.
	before := h.lastMail().ID
	h.client().want(204, "POST", "/api/shop/pass", fields{"email": "nobody@example.org"})
	if h.lastMail().ID != before {
		t.Error("a mail went to somebody of no group")
	}
	h.client().refused(422, "email email", "POST", "/api/shop/pass", fields{"email": "nobody"})
	desk.want(200, "DELETE", fmt.Sprintf("/api/desk/groups/%d/members", g.Id), fields{"emails": []string{"pip@example.org"}})
	if got := total(friend); got != fmt.Sprint("2800 2800 ", all) {
		t.Error(got)
	}
	h.audit()
	desk.want(200, "DELETE", fmt.Sprintf("/api/desk/groups/%d", g.Id), nil)
	h.audit()
}

// An add-on is a line of its own that stands and falls with its parent.
func TestAddOns(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	desk.change(1, func(d *api.Draft) { d.AddOns = []api.AddOn{{Product: 3, Most: 2}} })
	page := read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/sky-chart", nil))
	if len(*page.AddOns) != 1 || (*page.AddOns)[0].Page.Slug != "photo-rescue" || (*page.AddOns)[0].From != 2800 || (*page.AddOns)[0].Most != 1 {
		t.Fatalf("%+v", page.AddOns)
	}
	photos := fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}, "parent": 1}
	link := c.buys(chart(), photos)
	o := read[api.OrderPage](t, c.want(200, "GET", link, nil))
	d := read[api.Docket](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/dockets/%d", o.Lines[1].Id), nil))
	if o.Slip.Total != 6400 || len(o.Lines) != 2 || d.Parent == nil || d.Parent.Line != o.Lines[0].Id {
		t.Errorf("%+v %+v", o.Slip, d.Parent)
	}
	with := func(line fields, key string, value any) fields {
		out := fields{}
		for k, v := range line {
			out[k] = v
		}
		out[key] = value
		return out
	}
	c.refused(422, "lines.0.product add_on", "PUT", checkout(), basket(photos))
	c.refused(422, "lines.0.product add_on", "PUT", checkout(), basket(with(photos, "parent", 7)))
	c.refused(422, "lines.1.product add_on", "PUT", checkout(), basket(with(photos, "parent", 0), with(chart(), "parent", 1)))
	c.refused(422, "lines.1.quantity quantity", "PUT", checkout(), basket(chart(), with(photos, "quantity", 2)))
	h.audit()

	// A product without a price of its own is an order form for others.
	form := read[api.DeskProduct](t, desk.want(200, "POST", "/api/desk/products", fields{"title": "Two of ours"}))
	desk.change(int(form.Id), func(d *api.Draft) { d.AddOns = []api.AddOn{{Product: 1}, {Product: 3, Most: 2}} })
	page = read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/"+form.Slug, nil))
	if !*page.Form {
		t.Error("it is no order form")
	}
	line := fields{"product": form.Slug, "quantity": 1, "answers": fields{}}
	c.refused(422, "lines.0.add_ons choose_one", "PUT", checkout(), basket(line))
	o = read[api.OrderPage](t, c.want(200, "GET", c.buys(line, photos), nil))
	if o.Slip.Total != 2800 || len(o.Slip.Lines) != 1 {
		t.Errorf("%+v", o.Slip)
	}
	h.audit()
}

// The last orders are evaluated against the draft before it is published.
func TestReplay(t *testing.T) {
	h := open(t, nil)
	desk := h.desk()
	p := read[api.DeskProduct](t, desk.want(200, "GET", "/api/desk/products/1", nil))
	replay := func() api.Replay {
		return read[api.Replay](t, desk.want(200, "POST", "/api/desk/products/1/replay", fields{"draft": p.Draft}))
	}
	if r := replay(); r.Orders < 10 || r.Same != r.Orders {
		t.Errorf("%d of %d are the same: %+v", r.Same, r.Orders, r.Rows)
	}
	for i := range p.Draft.Charges {
		if c := &p.Draft.Charges[i]; c.Choice == "large" {
			c.Rate.Amount = new(money.Amount(3900).Fine())
		}
	}
	for i := range p.Draft.Questions {
		if q := &p.Draft.Questions[i]; q.Key == "title" {
			q.Settings = []byte(`{"most":20}`)
		}
	}
	r := replay()
	dearer, invalid := 0, 0
	for _, row := range r.Rows {
		if len(row.Moved) > 0 && *row.Moved[0].Old == 3600 && *row.Moved[0].New == 3900 && row.New-row.Old >= 300 {
			dearer++
		}
		if len(row.Invalid) > 0 && row.Invalid[0].Key == "title" {
			invalid++
		}
	}
	if dearer == 0 || invalid == 0 || r.Same+len(r.Rows) != r.Orders {
		t.Errorf("%d dearer, %d invalid of %+v", dearer, invalid, r)
	}
}

// A stay is paid in part, the rest later, and its deposit is held.
func TestPaidInPartsAndDeposit(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	desk.change(3, func(d *api.Draft) {
		part := percentOf("25")
		d.Payment, d.Deposit = &api.PaymentPlan{Portion: charge.Portion{Percent: &part}, Rest: "handover"}, 1500
	})
	photos := fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}}
	link := c.buys(photos)
	o := read[api.OrderPage](t, c.want(200, "GET", link, nil))
	if o.Money.Paid != 700 || o.Money.Open != 2100 || o.Money.Held != 1500 || o.Slip.Due[1].Amount != 2100 {
		t.Errorf("%+v", o.Money)
	}
	if p := c.pays(link, cards.Declined, "rest-one"); p.State != "refused" {
		t.Errorf("%+v", p)
	}
	p := c.pays(link, cards.Confirms, "rest-two")
	if p.State != "confirm" {
		t.Errorf("%+v", p)
	}
	c.atBank(*p.Page, cards.DoConfirm, "")
	h.noticed()
	if m := read[api.OrderPage](t, c.want(200, "GET", link, nil)).Money; m.Open != 0 || m.Asked != nil {
		t.Errorf("%+v", m)
	}
	c.refused(409, "", "POST", link+"/pay", try("rest-three"))
	at := fmt.Sprintf("/api/desk/orders/%d/", o.Number)
	if m := read[api.OrderMoney](t, desk.want(200, "POST", at+"release", fields{})); m.Held != 0 || m.Paid != 2800 || m.Open != 0 {
		t.Errorf("%+v", m)
	}
	desk.refused(409, "", "POST", at+"release", fields{})
	desk.refused(409, "", "POST", at+"receive", fields{})
	other := read[api.OrderPage](t, c.want(200, "GET", c.buys(photos), nil))
	if m := read[api.OrderMoney](t, desk.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/receive", other.Number), fields{})); m.Open != 0 || m.Paid != 2800 {
		t.Errorf("%+v", m)
	}
	if m := read[api.OrderMoney](t, desk.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/cancel", other.Number), fields{"how": "all", "restock": true})); m.Returned != 700 || m.Overpaid != 2100 || m.Held != 0 { // what came in otherwise cannot go back by card
		t.Errorf("%+v", m)
	}
	h.audit()
}
