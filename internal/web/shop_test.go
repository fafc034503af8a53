package web

import (
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/standin/cards"
)

func TestShopPages(t *testing.T) {
	c := open(t, nil).client()
	front := read[api.ShopFront](t, c.want(200, "GET", "/api/shop", nil))
	if len(front.Products) != 15 || front.Business != "Fernlight Sky Studio" {
		t.Errorf("%+v", front)
	}
	for _, p := range front.Products {
		page := read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/"+p.Slug, nil))
		for _, q := range page.Questions {
			if q.Moment == "briefing" || q.Moment == "desk" {
				t.Errorf("%s: %q is shown before payment", p.Slug, q.Key)
			}
		}
		c.want(200, "GET", "/api/shop/products/"+p.Slug+"/openings", nil)
		c.want(200, "POST", "/api/shop/products/"+p.Slug+"/evaluate", fields{"quantity": 1, "answers": fields{}})
	}
	if front.Products[0].Price != 2400 || front.Products[1].Price != 2400 || front.Products[3].Hint != "decided" || front.Products[4].Price != 17100 {
		t.Errorf("the prices on the shelf: %+v", front.Products)
	}
	c.refused(404, "", "GET", "/api/shop/products/ghost", nil)
	c.refused(404, "", "GET", "/api/nowhere", nil)
	c.want(200, "GET", "/healthz", nil)
}

func TestEvaluationSpeaksTheCustomersLanguage(t *testing.T) {
	c := open(t, nil).client()
	body := fields{"quantity": 1, "answers": fields{"title": strings.Repeat("x", 30), "rush": true}}
	e := read[api.Evaluation](t, c.want(200, "POST", "/api/shop/products/sky-chart/evaluate", body, "Accept-Language", "de-AT"))
	if e.Slip.Lines[1].Why != "6 letters nach 24 × 0,60" || e.Faults[0].Message != "Bitte beantworten." {
		t.Errorf("%+v", e)
	}
}

// Each row is a hostile request and what it is told.
func TestBadInput(t *testing.T) {
	c := open(t, nil).client()
	evaluate := "/api/shop/products/sky-chart/evaluate"
	mega := strings.Repeat("x", 5<<20)
	for _, r := range []struct {
		status int
		codes  string
		body   any
	}{
		{400, "quantity type", `{"quantity":"one","answers":{}}`},
		{400, "quantity type", `{"quantity":1.5,"answers":{}}`},
		{400, "price unknown", `{"quantity":1,"answers":{},"price":1}`},
		{400, "answers type", `{"quantity":1,"answers":[]}`},
		{400, "body syntax", `{"quantity":1,"answers":{}`},
		{400, "body syntax", `{"quantity":1,"answers":{}} {}`},
		{400, "body syntax", `not json`},
		{400, "body type", `[]`},
		{413, "", fields{"quantity": 1, "answers": fields{"title": mega}}},
	} {
		c.refused(r.status, r.codes, "POST", evaluate, r.body)
	}
	// What is wrong with an answer is part of the evaluation.
	for in, want := range map[string]string{
		`{"title":7}`: "title type_text", `{"ghost":1}`: "ghost unknown", `{"about_card":"x"}`: "about_card unknown", `{"night":"2023-02-29"}`: "night day",
		`{"night":"1850-01-01"}`: "night earliest", `{"fund":-5}`: "fund least", `{"fund":1e30}`: "fund type_amount", `{"size":"enormous"}`: "size choice", `{"gift":"yes"}`: "gift type_yes_no",
	} {
		e := read[api.Evaluation](t, c.want(200, "POST", evaluate, `{"quantity":1,"answers":`+in+`}`))
		found := false
		for _, f := range e.Faults {
			found = found || f.Key+" "+f.Code == want
		}
		if !found || e.Ready {
			t.Errorf("%s: %+v, want %s", in, e.Faults, want)
		}
	}
	for q, want := range map[string]bool{"0": true, "-3": true, "2": true, "999999999999": true, "1": false} {
		e := read[api.Evaluation](t, c.want(200, "POST", evaluate, `{"quantity":`+q+`,"answers":{}}`))
		if (e.Faults[0].Key == "quantity") != want {
			t.Errorf("quantity %s: %+v", q, e.Faults)
		}
	}
}

func TestBasket(t *testing.T) {
	c := open(t, nil).client()
	line := chart()
	line["edition"] = 999
	v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{line, {"product": "ghost", "quantity": 1, "answers": fields{}}, with(chart(), fields{"rush": true})}}))
	if v.Ready || !v.Lines[0].Newer || v.Lines[1].Sold || v.Slip.Total != 3600+4680 {
		t.Errorf("%+v", v)
	}
	if empty := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{}})); empty.Ready {
		t.Error("an empty basket is not ready")
	}
}

func TestCheckoutRefuses(t *testing.T) {
	c := open(t, nil).client()
	mail := func(address string) fields {
		b := basket(chart())
		b["email"] = address
		return b
	}
	for _, r := range []struct {
		codes string
		body  fields
	}{
		{"lines empty_basket", basket()},
		{"name name", fields{"name": "  ", "email": "ada@example.org", "terms": terms, "lines": []fields{chart()}}},
		{"name name", fields{"name": strings.Repeat("x", 121), "email": "ada@example.org", "terms": terms, "lines": []fields{chart()}}},
		{"name name", fields{"name": "Ada\r\nBcc: x", "email": "ada@example.org", "terms": terms, "lines": []fields{chart()}}},
		{"email email", mail("ada")}, {"email email", mail("ada@localhost")}, {"email email", mail("Ada <ada@example.org>")}, {"email email", mail("")},
		{"email email", mail("ada@example..org")}, {"email email", mail(strings.Repeat("a", 250) + "@example.org")},
		{"lines.0.product not_sold", basket(fields{"product": "ghost", "quantity": 1, "answers": fields{}})},
		{"lines.1.title required", basket(chart(), with(chart(), fields{"title": nil}))},
		{"lines.0.title longest", basket(with(chart(), fields{"title": strings.Repeat("x", 41)}))},
		{"lines.0.title longest", basket(with(chart(), fields{"title": strings.Repeat("x", 1<<20)}))},
		{"lines.0.price unknown", basket(with(chart(), fields{"price": 1}))},
		{"lines.0.file_name unknown", basket(with(chart(), fields{"file_name": "mine"}))},
		{"lines.0.quantity quantity", basket(fields{"product": "sky-chart", "quantity": 5, "answers": chart()["answers"]})},
	} {
		c.refused(422, r.codes, "PUT", checkout(), r.body)
	}
	c.refused(404, "", "PUT", "/api/shop/checkouts/short", basket(chart()))
	if n := c.paidOrders(); n != 0 {
		t.Errorf("%d orders more; something was stored half", n)
	}
}

func TestCardRefuses(t *testing.T) {
	c := open(t, nil).client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	for _, bad := range []string{"", "short", strings.Repeat("x", 65), "no spaces in it"} {
		c.refused(422, "attempt required", "POST", at+"/pay", try(bad))
	}
	// A card's number has no place here.
	c.refused(400, "number unknown", "POST", at+"/pay", fields{"attempt": "attempt-0001", "number": cards.Works})
	c.refused(404, "", "POST", checkout()+"/pay", try("attempt-0001"))
}

// The whole path over the API: a chart with a title to follow, paid, answered,
// changed; and the history and the work that this makes.
func TestOrderPage(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	line := with(chart(), fields{"title": nil, "gift": true, "recipient": "Bea"})
	line["later"] = []string{"title"}
	at := c.buys(line)
	page := read[api.OrderPage](t, c.want(200, "GET", at, nil))
	l := page.Lines[0]
	if l.Brief != "waiting" || strings.Join(l.Missing, " ") != "title dedication" || l.Slip.Total != 3600 || l.Promised != nil {
		t.Fatalf("%+v", l)
	}
	answers := at + "/lines/" + itoa(l.Id) + "/answers"
	change := func(status int, codes string, version int, a fields) {
		t.Helper()
		body := fields{"version": version, "answers": a}
		if status != 200 {
			c.refused(status, codes, "PATCH", answers, body)
			return
		}
		l = read[api.OrderPage](t, c.want(200, "PATCH", answers, body)).Lines[0]
	}
	change(422, "title longest", 1, fields{"title": strings.Repeat("x", 41)})
	change(422, "title price_changes", 1, fields{"title": strings.Repeat("x", 30)})
	change(422, "size price_changes", 1, fields{"size": "wall"})
	change(422, "file_name unknown", 1, fields{"file_name": "x"})
	change(422, "ghost unknown", 1, fields{"ghost": "x"})
	change(422, "paper required", 1, fields{"paper": nil})
	change(409, "", 7, fields{"title": "Ada"})
	change(200, "", 1, fields{"title": "Ada", "dedication": "For you"})
	if l.Brief != "complete" || l.Version != 2 || len(l.History) != 2 || l.Promised == nil {
		t.Fatalf("%+v", l)
	}
	change(422, "recipient not_asked", 2, fields{"recipient": "Eve", "gift": false})
	change(200, "", 2, fields{"title": "Ada Lovelace"})
	if l.History[0].Old != "Ada" || l.History[0].New != "Ada Lovelace" || l.History[0].By != "customer" {
		t.Errorf("%+v", l.History)
	}

	desk := h.desk()
	docket := "/api/desk/dockets/" + itoa(l.Id)
	desk.want(200, "POST", docket+"/close", nil)
	change(422, "title closed", 3, fields{"title": "Too late"})
	desk.want(200, "POST", docket+"/reopen", nil)
	desk.want(200, "POST", docket+"/relink", nil)
	p := c.refused(410, "", "GET", at, nil)
	if strings.Contains(string(p.Title)+p.Detail, "Ada") {
		t.Error("a revoked link reveals something")
	}
	c.refused(410, "", "PATCH", answers, fields{"version": 3, "answers": fields{}})
	c.refused(404, "", "GET", "/api/shop/orders/AAAAAAAAAAAAAAAAAAAAAA", nil)
	h.audit()
}

// A link opens its own order's lines and no other's.
func TestLinkOpensOnlyItsOrder(t *testing.T) {
	c := open(t, nil).client()
	mine := c.buys(chart())
	other := read[api.OrderPage](t, c.want(200, "GET", c.buys(chart()), nil))
	c.refused(404, "", "PATCH", mine+"/lines/"+itoa(other.Lines[0].Id)+"/answers", fields{"version": 1, "answers": fields{"title": "x"}})
}

func itoa(n int64) string {
	if n < 10 {
		return string(rune('0' + n))
	}
	return itoa(n/10) + itoa(n%10)
}

// evening is a basket line for some people at an opening that has room.
func (c *client) evening(left, people int) fields {
	c.t.Helper()
	for _, o := range read[[]api.Opening](c.t, c.want(200, "GET", "/api/shop/products/evening-under-the-stars/openings", nil)) {
		if o.Left == left {
			return fields{"product": "evening-under-the-stars", "quantity": 1, "answers": fields{
				"evening": fields{"start": o.Start.Format(time.RFC3339), "people": people}, "languages": []string{"en"},
			}}
		}
	}
	c.t.Fatalf("no opening has %d places left", left)
	return nil
}

func TestBookedTimeCannotBeChanged(t *testing.T) {
	c := open(t, nil).client()
	at := c.buys(c.evening(8, 3))
	l := read[api.OrderPage](t, c.want(200, "GET", at, nil)).Lines[0]
	other := c.evening(8, 2)["answers"].(fields)["evening"]
	c.refused(422, "evening booked", "PATCH", at+"/lines/"+itoa(l.Id)+"/answers", fields{"version": 1, "answers": fields{"evening": other}})
	if strings.Join(l.Locked, " ") != "evening" {
		t.Errorf("locked: %v", l.Locked)
	}
}
