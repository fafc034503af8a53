package web

import (
	"path/filepath"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/core/agreement"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// agreement gives one kind of the texts as the desk sees them.
func (c *client) agreement(kind string) api.Agreement {
	c.t.Helper()
	for _, a := range read[[]api.Agreement](c.t, c.want(200, "GET", "/api/desk/agreements", nil)) {
		if string(a.Kind) == kind {
			return a
		}
	}
	c.t.Fatalf("there is no %s", kind)
	return api.Agreement{}
}

// An order is placed under the terms of sale that its customer could read; another text
// is another version, and what was ordered before keeps its own.
func TestOrdersKeepTheTermsTheyWerePlacedUnder(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	body := basket(chart())
	delete(body, "terms")
	c.refused(422, "terms terms_unread", "PUT", checkout(), body)
	body["terms"] = terms - 1
	c.refused(422, "terms terms_changed", "PUT", checkout(), body)

	before := secretOf(c.buys(chart()))
	if page := c.page(before); page.Terms == nil || page.Terms.Version != terms || !strings.Contains(page.Terms.Html, "<h2>What you buy</h2>") {
		t.Fatalf("%+v", page.Terms)
	}
	if mail := h.lastMail(); !strings.Contains(mail.Body, "terms of sale, version 2") || !strings.Contains(mail.Body, "Pictures that you send us stay yours.") {
		t.Errorf("the mail does not have what was agreed to: %s", mail.Body)
	}

	change := fields{"kind": "terms", "after": terms, "text": "All sales are final. <script>alert(1)</script>"}
	d.want(200, "POST", "/api/desk/agreements", change)
	d.refused(409, "", "POST", "/api/desk/agreements", change) // somebody else did meanwhile
	d.wrong("text", "agreement", "POST", "/api/desk/agreements", fields{"kind": "terms", "after": terms + 1, "text": change["text"]})
	d.wrong("text", "agreement", "POST", "/api/desk/agreements", fields{"kind": "terms", "after": terms + 1, "text": strings.Repeat("a", 60_001)})
	d.refused(422, "kind choice", "POST", "/api/desk/agreements", fields{"kind": "manners", "after": 0, "text": "Be nice."})

	at := checkout()
	c.refused(422, "terms terms_changed", "PUT", at, basket(chart()))
	view := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{chart()}}))
	if got := view.Agreements[0]; got.Version != terms+1 || strings.Contains(got.Html, "<script") {
		t.Errorf("%+v", got)
	}
	c.want(200, "PUT", at, whole(basket(chart()), fields{"terms": terms + 1}))
	after := c.page(secretOf(c.pay(at)))
	if old := c.page(before); old.Terms.Version != terms || after.Terms.Version != terms+1 {
		t.Errorf("version %d, and %d afterwards", old.Terms.Version, after.Terms.Version)
	}
	if docket := d.docket(after.Lines[0].Id); docket.Terms == nil || docket.Terms.Version != terms+1 {
		t.Errorf("the docket says %+v", docket.Terms)
	}
	if a := d.agreement("terms"); a.Versions[0].Orders != 1 || a.Versions[1].Orders == 0 || a.Versions[1].By != "Ilse Brandt" {
		t.Errorf("%+v", a.Versions)
	}

	// Without a text nothing is asked, and nothing was agreed to.
	d.want(200, "POST", "/api/desk/agreements", fields{"kind": "terms", "after": terms + 1, "text": " "})
	delete(body, "terms")
	at = checkout()
	c.want(200, "PUT", at, body)
	if page := c.page(secretOf(c.pay(at))); page.Terms != nil {
		t.Errorf("%+v", page.Terms)
	}
}

// What was agreed to cannot be changed or lost by a mistake of ours either.
func TestAgreedTextsNeverChange(t *testing.T) {
	h := open(t, nil)
	for _, statement := range []string{"UPDATE agreement_texts SET text = 'other'", "DELETE FROM agreement_texts"} {
		if _, err := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File)).Exec(statement); err == nil {
			t.Errorf("%s is done", statement)
		}
	}
}

// Nobody gets news without their word; who gave it is listed with its day and can take it
// back with one press, from the order or signed in.
func TestNewsIsFreelyAgreedTo(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	who := func(email string) api.CustomerPage {
		t.Helper()
		return read[api.CustomerPage](t, d.want(200, "GET", "/api/desk/customer?email="+email, nil))
	}
	c.buys(chart())
	if p := who("ada@example.org"); len(p.News) != 0 {
		t.Errorf("%+v", p.News)
	}
	at := checkout()
	c.wrong("news", "news_changed", "PUT", at, whole(basket(chart()), fields{"news": 7}))
	c.want(200, "PUT", at, whole(basket(chart()), fields{"news": 1}))
	if p := who("ada@example.org"); len(p.News) != 0 {
		t.Error("it counts before anything is ordered")
	}
	link := secretOf(c.pay(at))
	p := who("ada@example.org")
	if len(p.News) != 1 || !p.News[0].Agreed || p.News[0].Version != 1 || p.News[0].Proven || p.News[0].Number == nil {
		t.Fatalf("%+v", p.News)
	}
	readers := func() (all []string) {
		t.Helper()
		for _, r := range read[api.CustomerList](t, d.want(200, "GET", "/api/desk/customers?news=true", nil)).Rows {
			if r.News == nil {
				t.Errorf("%s is listed and may not be written", r.Email)
			}
			all = append(all, r.Email)
		}
		return all
	}
	had := len(readers())
	if had < 2 || readers()[0] != "ada@example.org" {
		t.Errorf("%v", readers())
	}
	table := string(d.want(200, "GET", "/api/desk/news.csv", nil).body)
	if !strings.Contains(table, `"ada@example.org","Ada Quill","`+today.Format("2006-01-02")+`","1","`) || strings.Count(table, "\r\n") != had+1 {
		t.Errorf("%s", table)
	}

	// Whoever has the mailed link shows that the address is theirs.
	c.want(204, "POST", "/api/shop/orders/"+h.mailedLink()+"/press", nil)
	if p := who("ada@example.org"); !p.News[0].Proven {
		t.Errorf("%+v", p.News)
	}
	news := "/api/shop/orders/" + link + "/news"
	h.ahead.Add(int64(time.Hour))
	for range 2 { // pressed twice
		if v := read[api.NewsView](t, c.want(200, "PUT", news, fields{"agreed": false})); v.Since != nil || v.Text == nil {
			t.Errorf("%+v", v)
		}
	}
	if p := who("ada@example.org"); len(p.News) != 2 || p.News[0].Agreed || len(readers()) != had-1 {
		t.Errorf("%+v", p.News)
	}
	c.refused(404, "", "PUT", "/api/shop/orders/"+strings.Repeat("a", 22)+"/news", fields{"agreed": true})
	c.refused(401, "", "PUT", "/api/shop/mine/news", fields{"agreed": true})
	other := h.client()
	other.signsIn(h, "ada@example.org")
	if v := read[api.NewsView](t, other.want(200, "PUT", "/api/shop/mine/news", fields{"agreed": true})); v.Since == nil {
		t.Errorf("%+v", v)
	}
	if mine := read[api.Mine](t, other.want(200, "GET", "/api/shop/mine", nil)); mine.News.Since == nil || !mine.News.Since.Equal(h.now()) {
		t.Errorf("%+v", mine.News)
	}

	// What was said on the phone is noted with who noted it.
	noted := read[api.CustomerPage](t, d.want(200, "PUT", "/api/desk/customer/news", fields{"email": "Ada@example.org", "agreed": false}))
	if noted.News[0].By == nil || *noted.News[0].By != "Ilse Brandt" || noted.News[0].Agreed {
		t.Errorf("%+v", noted.News)
	}
	d.refused(404, "", "PUT", "/api/desk/customer/news", fields{"email": "nobody@example.org", "agreed": true})

	// What was agreed to with an order does not undo what was said while its transfer was on
	// its way.
	d.want(200, "PUT", "/api/desk/customer/news", fields{"email": "ada@example.org", "agreed": true})
	at = checkout()
	c.want(200, "PUT", at, whole(basket(chart()), fields{"news": 1}))
	awaits := read[api.Payment](t, c.want(200, "POST", at+"/pay", fields{"attempt": "attempt-0001", "way": "transfer"}))
	h.ahead.Add(int64(time.Hour))
	c.want(200, "PUT", news, fields{"agreed": false})
	d.want(200, "POST", "/api/desk/orders/"+itoa(c.page(*awaits.Link).Number)+"/accept", fields{})
	if p := who("ada@example.org"); p.News[0].Agreed {
		t.Errorf("a transfer undid a word that was said after it: %+v", p.News[0])
	}

	// With no text there is nothing to agree to, and stopping it still works.
	d.want(200, "PUT", "/api/desk/customer/news", fields{"email": "ada@example.org", "agreed": true})
	d.want(200, "POST", "/api/desk/agreements", fields{"kind": "news", "after": 1, "text": ""})
	c.want(200, "PUT", news, fields{"agreed": false})
	c.refused(409, "", "PUT", news, fields{"agreed": true})
	c.want(200, "PUT", checkout(), whole(basket(chart()), fields{"news": 1})) // an old page asks still
}

// Tables of people say who agreed elsewhere; what people said here counts more.
func TestNewsComesInWithATable(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	table := "mail,name,news\nlou@example.org,Lou,2026-03-31\nmo@example.org,Mo,soon\nbrisa@example.org,Brisa,2020-01-01\nlate@example.org,Late,2090-01-01\nkai@example.org,Kai,\n"
	got := read[api.CustomersImported](t, d.want(200, "POST", "/api/desk/customers/import", fields{"table": table}))
	if len(got.Wrong) != 2 || got.Wrong[0].Row != 3 || got.Wrong[1].Row != 5 {
		t.Errorf("%+v", got)
	}
	out := string(d.want(200, "GET", "/api/desk/customers.csv", nil).body)
	if !strings.Contains(out, `"lou@example.org","Lou","0","0.00","EUR","","2026-03-31",`) || !strings.Contains(out, `"kai@example.org","Kai","0","0.00","EUR","","",`) || strings.Contains(out, "2020-01-01") {
		t.Errorf("%s", out)
	}
	// What was saved can be taken in again, and changes nothing.
	if got := read[api.CustomersImported](t, d.want(200, "POST", "/api/desk/customers/import", fields{"table": out})); len(got.Wrong) != 0 {
		t.Errorf("%+v", got.Wrong)
	}
	if again := string(d.want(200, "GET", "/api/desk/customers.csv", nil).body); again != out {
		t.Errorf("%s\n%s", out, again)
	}
	// Further addresses of a person are theirs.
	one := read[api.CustomerPage](t, d.want(200, "POST", "/api/desk/customers/merge", fields{"email": "lou@example.org", "into": "kai@example.org"}))
	if len(one.News) != 1 || one.News[0].Email != "lou@example.org" {
		t.Errorf("%+v", one.News)
	}
	if list := read[api.CustomerList](t, d.want(200, "GET", "/api/desk/customers?news=true&text=kai", nil)); len(list.Rows) != 1 || list.Rows[0].News == nil {
		t.Errorf("%+v", list.Rows)
	}
}

// A call to the seller is no agreement to a text.
func TestWhoCallsAgreedToNothing(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	placed := read[api.PlacedByHand](t, d.want(200, "POST", "/api/desk/orders", fields{"name": "Lou", "email": "lou@example.org", "line": chart(), "paid": "cash"}))
	if docket := d.docket(placed.Line); docket.Terms != nil {
		t.Errorf("%+v", docket.Terms)
	}
	must(t, h.store.Read(t.Context(), func(tx *store.Tx) error {
		texts, err := tx.Agreements()
		if texts[agreement.Terms].Version != terms {
			t.Errorf("%+v", texts)
		}
		return err
	}))
}
