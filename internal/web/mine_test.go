package web

import (
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/api"
)

// signsIn asks for a sign-in mail and opens its link.
func (c *client) signsIn(h *house, email string) api.Pass {
	c.t.Helper()
	c.want(204, "POST", "/api/shop/pass", fields{"email": email})
	token := passLink.FindStringSubmatch(h.lastMail().Body)[1]
	return read[api.Pass](c.t, c.want(200, "POST", "/api/shop/pass/open", fields{"token": token}))
}

// A customer signs in by a mail on another device, sees all that is theirs, and changes
// or forgets what is kept of them; nobody else learns who ordered.
func TestAllThatIsMine(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c := h.client()
	c.buys(chart())
	c.buys(chart(), photos())
	c.refused(401, "", "GET", "/api/shop/mine", nil)
	other := h.client()
	before := h.rows("outbox")
	other.want(204, "POST", "/api/shop/pass", fields{"email": "nobody@example.org"})
	if h.rows("outbox") != before {
		t.Error("an address that never ordered was written to")
	}
	if p := other.signsIn(h, "Ada@Example.org"); p.Email == nil || *p.Email != "ada@example.org" || p.Group != nil {
		t.Errorf("%+v", p)
	}
	mine := read[api.Mine](t, other.want(200, "GET", "/api/shop/mine", nil))
	if len(mine.Orders) != 2 || len(mine.Orders[0].Lines) != 2 || mine.Name != "Ada Quill" || mine.Orders[1].Lines[0].Promised == nil {
		t.Fatalf("%+v", mine)
	}
	link := read[api.MyLink](t, other.want(200, "POST", "/api/shop/mine/orders/"+itoa(mine.Orders[1].Number), nil)).Link
	if other.page(link).Number != mine.Orders[1].Number {
		t.Error("the link leads elsewhere")
	}
	other.want(404, "POST", "/api/shop/mine/orders/1001", nil) // somebody else's

	// Files that were handed over are there, and lead on with a link to their order; so do
	// messages, the newest first.
	c.want(200, "POST", "/api/shop/orders/"+link+"/talk", fields{"text": "Where is it?"})
	h.ahead.Add(int64(time.Minute))
	d := h.desk()
	line := c.page(link).Lines[0].Id
	d.want(200, "POST", "/api/desk/dockets/"+itoa(line)+"/talk", fields{"text": "Here it is."})
	d.want(200, "POST", "/api/desk/dockets/"+itoa(line)+"/handovers", fields{"message": "Enjoy.", "files": []string{d.finishes("chart.png", pngOf(t, 40, 30))}, "whole": true})
	mine = read[api.Mine](t, other.want(200, "GET", "/api/shop/mine", nil))
	if len(mine.Files) != 1 || mine.Files[0].File.Name != "chart.png" || mine.Files[0].Number != mine.Orders[1].Number || !mine.Orders[1].Lines[0].Files || mine.Orders[0].Lines[0].Files {
		t.Fatalf("%+v", mine.Files)
	}
	again := read[api.MyLink](t, other.want(200, "POST", "/api/shop/mine/orders/"+itoa(mine.Files[0].Number), nil)).Link
	if a := other.send("GET", "/api/shop/orders/"+again+"/"+mine.Files[0].Path+"?as=download", nil); a.status != 200 {
		t.Errorf("the file is not there: %d", a.status)
	}
	if len(mine.Talk) != 2 || mine.Talk[0].Talk.Text != "Here it is." || mine.Talk[1].Number != mine.Orders[1].Number {
		t.Errorf("%+v", mine.Talk)
	}
	other.want(200, "DELETE", "/api/shop/pass", nil)
	other.refused(401, "", "GET", "/api/shop/mine", nil)
}

// mailedLink is the private link in the newest mail.
func (h *house) mailedLink() string {
	body := h.lastMail().Body
	return strings.Fields(body[strings.Index(body, "/o/")+3:])[0]
}

// A link in a mail proves nothing by being opened; a press does. From then on what is
// kept of a person is theirs to change, and to have forgotten.
func TestAPressProves(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c := h.client()
	c.buys(stay())
	link := h.mailedLink()
	if p := c.page(link); p.Unproven == nil || !*p.Unproven {
		t.Error("it is proven before anybody opened it")
	}
	kept := func() map[string]api.MyAnswer {
		t.Helper()
		all := map[string]api.MyAnswer{}
		for _, a := range read[api.Mine](t, c.want(200, "GET", "/api/shop/mine", nil)).Answers {
			all[a.Key] = a
		}
		return all
	}
	c.signsIn(h, "ada@example.org")
	if got := kept(); len(got) != 0 {
		t.Errorf("a mail program opened it, and %v is kept", got)
	}
	c.want(204, "POST", "/api/shop/orders/"+link+"/press", nil)
	if p := c.page(link); *p.Unproven {
		t.Error("a press did not prove it")
	}
	if a := kept()["phone"]; string(a.Answer) != `"+493023125014"` || a.Wording != "Phone" || a.Question == nil {
		t.Fatalf("%+v", a)
	}
	at := "/api/shop/mine/answers/phone"
	c.wrong("phone", "phone", "PUT", at, fields{"answer": "12"})
	c.want(200, "PUT", at, fields{"answer": "+493023125099"})
	if a := kept()["phone"]; string(a.Answer) != `"+493023125099"` {
		t.Errorf("changed to %s", a.Answer)
	}
	c.refused(404, "", "PUT", "/api/shop/mine/answers/shoe_size", fields{"answer": 44})
	c.want(200, "PUT", at, fields{"answer": nil})
	if _, still := kept()["phone"]; still {
		t.Error("it was not forgotten")
	}
}

// The seller sees customers as people: what they ordered and paid, what they wrote, what
// is noted of them; doubles are one person once that is said, and two again; a table
// comes in and goes out.
func TestCustomers(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	link := secretOf(c.buys(chart()))
	c.buys(photos())
	c.want(200, "POST", "/api/shop/orders/"+link+"/talk", fields{"text": "Hello."})
	at := checkout()
	c.want(200, "PUT", at, fields{"name": "ada quill", "email": "ada.quill@example.org", "terms": terms, "lines": []fields{chart()}, "tip": 500})
	c.pay(at)
	list := read[api.CustomerList](t, d.want(200, "GET", "/api/desk/customers", nil))
	if list.Rows[0].Email != "ada.quill@example.org" || list.Rows[1].Orders != 2 || list.Rows[1].Spent != 3600+2800 {
		t.Errorf("%+v", list.Rows[:2])
	}
	if found := read[api.CustomerList](t, d.want(200, "GET", "/api/desk/customers?text=quill&sort=spent", nil)); len(found.Rows) != 2 || found.Rows[0].Spent < found.Rows[1].Spent {
		t.Errorf("%+v", found.Rows)
	}
	who := func(email string) api.CustomerPage {
		t.Helper()
		return read[api.CustomerPage](t, d.want(200, "GET", "/api/desk/customer?email="+email, nil))
	}
	p := who("Ada@example.org")
	if len(p.Orders) != 2 || p.Money[0].Paid != 6400 || p.Money[0].Orders != 2 || len(p.Talk) != 1 || p.Talk[0].Talk.Text != "Hello." || len(p.Doubles) != 1 {
		t.Fatalf("%+v", p)
	}
	d.refused(404, "", "GET", "/api/desk/customer?email=nobody@example.org", nil)
	d.want(200, "PUT", "/api/desk/customer", fields{"email": "ada@example.org", "note": "Likes blue.", "facts": []fields{{"name": "Dog", "value": "Orion"}, {"name": "", "value": ""}}})
	d.wrong("facts", "customer_fact", "PUT", "/api/desk/customer", fields{"email": "ada@example.org", "note": "", "facts": []fields{{"name": "", "value": "x"}}})
	d.wrong("email", "email", "PUT", "/api/desk/customer", fields{"email": "ada", "note": "", "facts": []fields{}})
	d.want(200, "PUT", "/api/desk/customer", fields{"email": "ada.quill@example.org", "note": "Pays by card.", "facts": []fields{}})

	d.wrong("into", "customer_same", "POST", "/api/desk/customers/merge", fields{"email": "ada@example.org", "into": "ada@example.org"})
	d.refused(404, "", "POST", "/api/desk/customers/merge", fields{"email": "ada@example.org", "into": "nobody@example.org"})
	one := read[api.CustomerPage](t, d.want(200, "POST", "/api/desk/customers/merge", fields{"email": "ada.quill@example.org", "into": "ada@example.org"}))
	if len(one.Orders) != 3 || one.Note != "Likes blue.\n\nPays by card." || len(one.Others) != 1 || len(one.Doubles) != 0 || one.Money[0].Given != 500 {
		t.Errorf("%+v", one)
	}
	if found := read[api.CustomerList](t, d.want(200, "GET", "/api/desk/customers?text=quill", nil)); len(found.Rows) != 1 || found.Rows[0].Orders != 3 {
		t.Errorf("%+v", found.Rows)
	}
	if who("ada.quill@example.org").Email != "ada@example.org" {
		t.Error("the other address leads elsewhere")
	}
	apart := read[api.CustomerPage](t, d.want(200, "POST", "/api/desk/customers/merge", fields{"email": "ada.quill@example.org"}))
	if len(apart.Orders) != 1 || len(who("ada@example.org").Orders) != 2 {
		t.Errorf("%+v", apart)
	}

	table := "mail;name;note;Shoe size\nnew@example.org;Newcomer;=from a fair;44\nnot an address;X;;\nada@example.org;;;39\n"
	got := read[api.CustomersImported](t, d.want(200, "POST", "/api/desk/customers/import", fields{"table": table}))
	if got.Added != 1 || got.Changed != 1 || len(got.Wrong) != 1 || got.Wrong[0].Row != 3 {
		t.Errorf("%+v", got)
	}
	if p := who("new@example.org"); p.Name != "Newcomer" || p.Note != "=from a fair" || p.Facts[0].Value != "44" || len(p.Orders) != 0 {
		t.Errorf("%+v", p)
	}
	if p := who("ada@example.org"); len(p.Facts) != 2 || !strings.HasPrefix(p.Note, "Likes blue.") {
		t.Errorf("%+v", p)
	}
	d.wrong("table", "csv_mail", "POST", "/api/desk/customers/import", fields{"table": "name\nAda\n"})
	d.wrong("table", "csv", "POST", "/api/desk/customers/import", fields{"table": ""})
	out := string(d.want(200, "GET", "/api/desk/customers.csv", nil).body)
	if !strings.Contains(out, `"new@example.org","Newcomer","0"`) || !strings.Contains(out, `"'=from a fair"`) {
		t.Errorf("%.600s", out)
	}
}

// The orders are narrowed by money, days, customer, what was answered, and whether they
// are new; a filter has a name.
func TestNarrowingTheOrders(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	c.buys(with(chart(), fields{"place": "Xanadu"}))
	numbers := func(query string) (list []api.OrderRow) {
		t.Helper()
		return read[api.OrderList](t, d.want(200, "GET", "/api/desk/orders?"+query, nil)).Rows
	}
	fresh := d.newest()
	if rows := numbers("new=true"); rows[0].Line != fresh.Line || !rows[0].New {
		t.Errorf("%+v", rows[0])
	}
	session := func() int { return read[api.Session](t, d.want(200, "GET", "/api/desk/session", nil)).New }
	before := session()
	d.want(204, "POST", "/api/desk/dockets/"+itoa(fresh.Line)+"/seen", nil)
	if session() != before-1 || numbers("answers=xanadu")[0].New {
		t.Error("an opened order is still new")
	}
	if rows := numbers("answers=xanadu"); len(rows) != 1 {
		t.Errorf("%d rows", len(rows))
	}
	if rows := numbers("customer=Ada@example.org"); len(rows) != 1 || rows[0].Customer != "Ada Quill" {
		t.Errorf("%+v", rows)
	}
	for _, r := range numbers("money=open") {
		if r.Due <= 0 {
			t.Errorf("%d is paid", r.Number)
		}
	}
	for _, r := range numbers("money=settled") {
		if r.Due > 0 {
			t.Errorf("%d has %d open", r.Number, r.Due)
		}
	}
	if rows := numbers("from=2026-11-24&to=2026-11-24"); len(rows) == 0 || rows[len(rows)-1].Placed.Before(rows[0].Placed.AddDate(0, 0, -1)) {
		t.Errorf("%+v", rows)
	}
	if rows := numbers("to=2020-01-01"); len(rows) != 0 {
		t.Errorf("%+v", rows)
	}
	d.refused(422, "from earned_day", "GET", "/api/desk/orders?from=yesterday", nil)
	if out := string(d.want(200, "GET", "/api/desk/orders.csv?answers=xanadu", nil).body); strings.Count(out, "\r\n") != 2 {
		t.Errorf("%.300s", out)
	}
	kept := read[[]api.SavedFilter](t, d.want(200, "POST", "/api/desk/filters", fields{"name": "To pay", "query": "money=open"}))
	saved := read[[]api.SavedFilter](t, d.want(200, "POST", "/api/desk/filters", fields{"name": "To pay", "query": "money=open&work=open"}))
	at := slices.IndexFunc(saved, func(f api.SavedFilter) bool { return f.Name == "To pay" })
	if len(saved) != len(kept) || at < 0 || saved[at].Query != "money=open&work=open" {
		t.Fatalf("%+v", saved)
	}
	d.wrong("name", "filter_name", "POST", "/api/desk/filters", fields{"name": " ", "query": "x=1"})
	d.wrong("query", "filter_empty", "POST", "/api/desk/filters", fields{"name": "x", "query": ""})
	if left := read[[]api.SavedFilter](t, d.want(200, "DELETE", "/api/desk/filters/"+itoa(saved[at].Id), nil)); len(left) != len(saved)-1 {
		t.Errorf("%+v", left)
	}
}
