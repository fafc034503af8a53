package web

import (
	"context"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"

	"ruvo/api"
	"ruvo/demo"
	"ruvo/internal/audit"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/store"
)

func TestSignIn(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	for _, path := range []string{"/api/desk/session", "/api/desk/today", "/api/desk/orders", "/api/desk/outbox", "/api/desk/products"} {
		c.refused(401, "", "GET", path, nil)
	}
	c.refused(401, "", "POST", "/api/desk/work/finish", fields{"items": []int{1}})
	c.refused(401, "", "POST", "/api/desk/session", fields{"email": demo.Email, "password": "wrong"})
	c.refused(401, "", "POST", "/api/desk/session", fields{"email": "nobody@example.org", "password": demo.Password})
	c.refused(400, "email type", "POST", "/api/desk/session", fields{"email": 1, "password": ""})
	a := c.want(200, "POST", "/api/desk/session", fields{"email": strings.ToUpper(demo.Email), "password": demo.Password})
	cookie := a.header.Get("Set-Cookie")
	for _, want := range []string{"HttpOnly", "SameSite=Strict", "Path=/"} {
		if !strings.Contains(cookie, want) {
			t.Errorf("the session's cookie lacks %s: %s", want, cookie)
		}
	}
	c.want(200, "GET", "/api/desk/session", nil)
	c.want(204, "DELETE", "/api/desk/session", nil)
	c.refused(401, "", "GET", "/api/desk/session", nil)
}

// A cookie that was there before the sign-in does not become a session.
func TestSessionIsRenewed(t *testing.T) {
	h := open(t, nil)
	c := h.desk()
	at, _ := url.Parse(h.site.URL)
	old := c.http.Jar.Cookies(at)
	c.want(200, "POST", "/api/desk/session", fields{"email": demo.Email, "password": demo.Password})
	for i, cookie := range c.http.Jar.Cookies(at) {
		if cookie.Value == old[i].Value {
			t.Errorf("%s is the same after a sign-in", cookie.Name)
		}
	}
	if all := read[[]api.DeskSession](t, c.want(200, "GET", "/api/desk/sessions", nil)); len(all) != 1 {
		t.Errorf("the session of before goes on: %+v", all)
	}
	for _, path := range []string{"/api/%64esk/today", "//api/desk/today", "/api/desk/../desk/today", "/API/DESK/TODAY", "/api/desk%2ftoday", "/api/shop/../desk/today"} {
		if a := h.client().send("GET", path, nil); a.status < 400 && a.header.Get("Content-Type") == "application/json" {
			t.Errorf("%s: %d %.80s", path, a.status, a.body)
		}
	}
}

func TestSignInIsThrottled(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	wrong := fields{"email": demo.Email, "password": "wrong"}
	for range 5 {
		c.refused(401, "", "POST", "/api/desk/session", wrong)
	}
	p := c.refused(429, "", "POST", "/api/desk/session", fields{"email": demo.Email, "password": demo.Password})
	if !strings.Contains(p.Title, "seconds") {
		t.Errorf("it does not say how long: %s", p.Title)
	}
	h.ahead.Add(int64(3e9))
	c.want(200, "POST", "/api/desk/session", fields{"email": demo.Email, "password": demo.Password})
}

func TestOtherSitesAreRefused(t *testing.T) {
	c := open(t, nil).desk()
	for _, headers := range [][]string{{"Origin", "https://evil.example.org"}, {"Sec-Fetch-Site", "cross-site"}, {"Sec-Fetch-Site", "same-site"}} {
		a := c.send("POST", "/api/desk/products", fields{"title": "Theirs"}, headers...)
		if a.status != 403 || !strings.Contains(string(a.body), "other sites") {
			t.Errorf("%v: %d %s", headers, a.status, a.body)
		}
	}
	c.want(200, "POST", "/api/desk/products", fields{"title": "Ours"}, "Sec-Fetch-Site", "same-origin")
	if v := read[api.LogPage](t, c.want(200, "GET", "/api/desk/log?text=POST+/api/desk/products", nil)); v.Total != 3 {
		t.Errorf("the log has %+v", v.Entries)
	}
}

func TestHeaders(t *testing.T) {
	c := open(t, nil).client()
	a := c.want(200, "GET", "/api/shop", nil)
	for name, want := range map[string]string{
		"X-Content-Type-Options": "nosniff", "Referrer-Policy": "same-origin", "Cache-Control": "no-store", "Content-Security-Policy": "default-src 'none'",
	} {
		if got := a.header.Get(name); !strings.Contains(got, want) {
			t.Errorf("%s is %q", name, got)
		}
	}
	if a.header.Get("X-Request-Id") == "" {
		t.Error("a request has no id")
	}
}

func TestDeskPages(t *testing.T) {
	c := open(t, nil).desk()
	now := read[api.Today](t, c.want(200, "GET", "/api/desk/today", nil))
	if len(now.Work) == 0 || len(now.Customers) == 0 || len(now.Coming) == 0 || len(now.Load) != 10 {
		t.Errorf("today: %d, %d, %d, %d", len(now.Work), len(now.Customers), len(now.Coming), len(now.Load))
	}
	for _, i := range now.Work {
		if i.State == "waiting" {
			t.Errorf("%s waits for something and not for me", i.Title)
		}
	}
	all := read[api.OrderList](t, c.want(200, "GET", "/api/desk/orders", nil)).Rows
	states := map[api.BriefState]int{}
	for _, r := range all {
		states[r.Brief]++
		c.want(200, "GET", "/api/desk/dockets/"+itoa(r.Line), nil)
	}
	if len(all) != 45 || len(states) != 4 {
		t.Errorf("%d order lines in the states %v", len(all), states)
	}
	for query, want := range map[string]func(api.OrderRow) bool{
		"brief=waiting":  func(r api.OrderRow) bool { return r.Brief == "waiting" && r.Missing > 0 },
		"brief=changed":  func(r api.OrderRow) bool { return r.Brief == "changed" },
		"work=done":      func(r api.OrderRow) bool { return r.Open == 0 },
		"work=open":      func(r api.OrderRow) bool { return r.Open > 0 },
		"product=2":      func(r api.OrderRow) bool { return r.Title == "Evening under the stars" && r.Booked != nil },
		"text=maren":     func(r api.OrderRow) bool { return r.Customer == "Maren Oduya" },
		"text=1005":      func(r api.OrderRow) bool { return r.Number == 1005 },
		"text=jorun@":    func(r api.OrderRow) bool { return r.Customer == "Jorun Pettibone" },
		"text=%25":       func(api.OrderRow) bool { return false },
		"text=%27%20OR1": func(api.OrderRow) bool { return false },
	} {
		rows := read[api.OrderList](t, c.want(200, "GET", "/api/desk/orders?"+query, nil)).Rows
		if len(rows) == 0 && !strings.HasPrefix(query, "text=%") {
			t.Errorf("%s finds nothing", query)
		}
		for _, r := range rows {
			if !want(r) {
				t.Errorf("%s finds %+v", query, r)
			}
		}
	}
	work := read[api.WorkByDay](t, c.want(200, "GET", "/api/desk/work", nil))
	days := []string{}
	for _, d := range work.Days {
		days = append(days, d.Day)
	}
	if !slices.IsSorted(days) || len(work.Waiting) == 0 || len(work.Late) == 0 {
		t.Errorf("days %v, %d waiting, %d late", days, len(work.Waiting), len(work.Late))
	}
	for _, s := range read[[]api.StepRow](t, c.want(200, "GET", "/api/desk/steps", nil)) {
		sheet := read[api.Worksheet](t, c.want(200, "GET", "/api/desk/worksheets/"+itoa(s.Product)+"/"+s.Step, nil))
		if len(sheet.Rows) != s.Open || len(sheet.Columns) == 0 {
			t.Errorf("%s has %d open, its worksheet %d rows and %d columns", s.Title, s.Open, len(sheet.Rows), len(sheet.Columns))
		}
	}
	calendar := read[api.CalendarView](t, c.want(200, "GET", "/api/desk/calendar", nil))
	if len(calendar.Days) != 28 || len(calendar.Bookings) != 18 || len(now.Coming) != 10 { // three people meet for four evenings of a course
		t.Errorf("%d days, %d bookings, %d come up", len(calendar.Days), len(calendar.Bookings), len(now.Coming))
	}
	if csv := string(c.want(200, "GET", "/api/desk/calendar.csv?from=2026-12-01&to=2026-12-31", nil).body); !strings.Contains(csv, `"Hanne Solbakk","Nights in the observatory cabin","1","2026-12-09","15:00","2026-12-12","10:00","4020","Juniper cabin","false"`) {
		t.Error(csv)
	}
	c.refused(422, "to closure_order", "GET", "/api/desk/calendar?from=2026-12-02&to=2026-12-01", nil)
	c.refused(422, "from day", "GET", "/api/desk/calendar?from=2026-13-02", nil)
	c.refused(404, "", "GET", "/api/desk/dockets/9999", nil)
	c.refused(404, "", "GET", "/api/desk/worksheets/9999/letter", nil)
	c.refused(404, "", "POST", "/api/desk/dockets/1/explode", nil)
	c.want(400, "GET", "/api/desk/orders?product=x", nil)
}

// Orders are listed the newest first, by customer, or by what is promised, each
// both ways, and in pages that follow each other.
func TestOrdersInOrder(t *testing.T) {
	c := open(t, nil).desk()
	listed := func(query string) api.OrderList {
		return read[api.OrderList](t, c.want(200, "GET", "/api/desk/orders?"+query, nil))
	}
	never := "9999"
	promise := func(r api.OrderRow) string {
		if r.Promised == nil {
			return never
		}
		return *r.Promised
	}
	for query, inOrder := range map[string]func(a, b api.OrderRow) bool{
		"":                             func(a, b api.OrderRow) bool { return a.Line > b.Line },
		"turned=true":                  func(a, b api.OrderRow) bool { return a.Line < b.Line },
		"sort=customer":                func(a, b api.OrderRow) bool { return a.Customer <= b.Customer },
		"sort=customer&turned=true":    func(a, b api.OrderRow) bool { return a.Customer >= b.Customer },
		"sort=promised":                func(a, b api.OrderRow) bool { return promise(a) <= promise(b) },
		"sort=promised&turned=true":    func(a, b api.OrderRow) bool { return promise(a) >= promise(b) },
		"sort=promised&brief=complete": func(a, b api.OrderRow) bool { return promise(a) <= promise(b) },
	} {
		rows := listed(query).Rows
		if len(rows) < 5 {
			t.Errorf("%s lists %d", query, len(rows))
		}
		for i := 1; i < len(rows); i++ {
			if !inOrder(rows[i-1], rows[i]) {
				t.Errorf("%s: %+v comes before %+v", query, rows[i-1], rows[i])
			}
		}
	}
	if first, second := listed(""), listed("page=2"); first.More || len(second.Rows) > 0 || second.More {
		t.Errorf("%d orders fill one page, and the next has %d", len(first.Rows), len(second.Rows))
	}
	for bad, status := range map[string]int{"sort=price": 422, "page=0": 422, "page=-1": 422, "page=x": 400, "turned=perhaps": 400} {
		c.want(status, "GET", "/api/desk/orders?"+bad, nil)
	}
}

// work finds the newest item of a step on a docket.
func (c *client) work(line int64, step string) api.WorkItem {
	c.t.Helper()
	d := read[api.Docket](c.t, c.want(200, "GET", "/api/desk/dockets/"+itoa(line), nil))
	var found api.WorkItem
	for _, w := range d.Work {
		if w.Step == step {
			found = w
		}
	}
	if found.Id == 0 {
		c.t.Fatalf("there is no %s", step)
	}
	return found
}

func TestWorkOnAnOrder(t *testing.T) {
	h := open(t, nil)
	desk, buyer := h.desk(), h.client()
	at := buyer.buys(chart())
	line := read[api.OrderPage](t, buyer.want(200, "GET", at, nil)).Lines[0]
	do := func(action, step string) {
		t.Helper()
		desk.want(200, "POST", "/api/desk/work/"+action, fields{"items": []int64{desk.work(line.Id, step).Id}})
	}
	cannot := func(action, step string) {
		t.Helper()
		desk.refused(409, "", "POST", "/api/desk/work/"+action, fields{"items": []int64{desk.work(line.Id, step).Id}})
	}
	title := func(version int, text string) {
		t.Helper()
		buyer.want(200, "PATCH", at+"/lines/"+itoa(line.Id)+"/answers", fields{"version": version, "answers": fields{"title": text}})
	}
	cannot("start", "letter")
	cannot("finish", "letter")
	cannot("undo", "compute")
	do("finish", "compute")
	do("finish", "compute") // pressed twice
	cannot("start", "compute")
	do("start", "letter")
	title(1, "The night we left")
	if w := desk.work(line.Id, "letter"); w.State != "started" || len(w.Marks) != 1 || w.Marks[0].Old != "The night we met" || w.Marks[0].New != "The night we left" {
		t.Errorf("%+v", w)
	}
	do("finish", "letter")
	title(2, "The night we stayed")
	if w := desk.work(line.Id, "letter"); w.Round != 1 || w.State != "ready" {
		t.Errorf("%+v", w)
	}
	d := read[api.Docket](t, desk.want(200, "GET", "/api/desk/dockets/"+itoa(line.Id), nil))
	i := slices.IndexFunc(d.Answers, func(a api.DocketAnswer) bool { return a.Key == "title" })
	if d.Brief != "changed" || *d.Answers[i].Old != "The night we left" || len(d.History) != 2 {
		t.Errorf("%+v", d)
	}
	sheet := read[api.Worksheet](t, desk.want(200, "GET", "/api/desk/worksheets/1/letter", nil))
	row := slices.IndexFunc(sheet.Rows, func(r api.WorksheetRow) bool { return r.Item.Line == line.Id })
	if row < 0 || sheet.Rows[row].Cells["title"].Words != "The night we stayed" || *sheet.Rows[row].Cells["title"].Old != "The night we left" {
		t.Errorf("%+v", sheet.Rows)
	}
	first := d.Work[1]
	if first.Round != 0 || first.State != "done" {
		t.Fatalf("%+v", first)
	}
	desk.refused(409, "", "POST", "/api/desk/work/undo", fields{"items": []int64{first.Id}})
	do("finish", "letter")
	do("undo", "letter")
	do("finish", "letter")
	do("finish", "hand_over")
	if d := read[api.Docket](t, desk.want(200, "GET", "/api/desk/dockets/"+itoa(line.Id), nil)); d.Brief != "complete" {
		t.Errorf("the brief is %s", d.Brief)
	}
	desk.refused(404, "", "POST", "/api/desk/work/start", fields{"items": []int64{987654}})
	desk.refused(404, "", "POST", "/api/desk/work/dance", fields{"items": []int64{first.Id}})
	h.audit()
}

// One item that cannot be finished leaves all of them as they were.
func TestManyItemsTogetherOrNotAtAll(t *testing.T) {
	h := open(t, nil)
	desk := h.desk()
	line := read[api.OrderPage](t, desk.want(200, "GET", desk.buys(chart()), nil)).Lines[0].Id
	ready, waits := desk.work(line, "compute"), desk.work(line, "hand_over")
	desk.refused(409, "", "POST", "/api/desk/work/finish", fields{"items": []int64{ready.Id, waits.Id}})
	if desk.work(line, "compute").State != "ready" {
		t.Error("one of two items was finished")
	}
}

func TestReminding(t *testing.T) {
	h := open(t, nil)
	c := h.desk()
	waiting := read[api.OrderList](t, c.want(200, "GET", "/api/desk/orders?brief=waiting", nil)).Rows[0]
	d := read[api.Docket](t, c.want(200, "POST", "/api/desk/dockets/"+itoa(waiting.Line)+"/remind", nil))
	if d.Reminded == nil {
		t.Error("the docket does not say that the customer was reminded")
	}
	mail := read[[]api.Message](t, c.want(200, "GET", "/api/desk/outbox", nil))[0]
	if mail.To != d.Email || !strings.Contains(mail.Body, "http://shop.example.org/o/") {
		t.Errorf("%+v", mail)
	}
	link := mail.Body[strings.Index(mail.Body, "/o/")+3:]
	h.client().want(200, "GET", "/api/shop/orders/"+link[:strings.IndexByte(link, '\n')], nil)
	complete := read[api.OrderList](t, c.want(200, "GET", "/api/desk/orders?brief=complete", nil)).Rows[0]
	c.refused(409, "", "POST", "/api/desk/dockets/"+itoa(complete.Line)+"/remind", nil)
}

// A text message goes to the customer's own number, with a link that opens the
// order, and to nobody who gave none.
func TestRemindingByTextMessage(t *testing.T) {
	h := open(t, nil)
	c := h.desk()
	reached, unknown := 0, 0
	for _, row := range read[api.OrderList](t, c.want(200, "GET", "/api/desk/orders?brief=waiting", nil)).Rows {
		at := "/api/desk/dockets/" + itoa(row.Line)
		d := read[api.Docket](t, c.want(200, "GET", at, nil))
		if d.Phone == "" {
			unknown++
			c.refused(409, "", "POST", at+"/remind_text", nil)
			continue
		}
		reached++
		if d = read[api.Docket](t, c.want(200, "POST", at+"/remind_text", nil)); d.Reminded == nil {
			t.Error("the docket does not say that the customer was reminded")
		}
		text := read[[]api.Message](t, c.want(200, "GET", "/api/desk/outbox", nil))[0]
		if text.Way != "text" || text.To != d.Phone || !strings.HasPrefix(text.To, "+") || text.Subject != "" {
			t.Errorf("%+v", text)
		}
		h.client().want(200, "GET", "/api/shop/orders/"+text.Body[strings.Index(text.Body, "/o/")+3:], nil)
	}
	if reached == 0 || unknown == 0 {
		t.Errorf("of those whose brief waits, %d gave a number and %d none", reached, unknown)
	}
}

// A product that is edited while an order runs: the order keeps its edition,
// the shop sells the next one.
func TestEditingWhileAnOrderRuns(t *testing.T) {
	h := open(t, nil)
	desk, buyer := h.desk(), h.client()
	at := buyer.buys(chart())
	p := read[api.DeskProduct](t, desk.want(200, "GET", "/api/desk/products/1", nil))
	if p.Edition != 1 || p.Changed || len(p.Findings) > 0 {
		t.Fatalf("%+v", p)
	}
	d := p.Draft
	more := money.Amount(9900)
	d.Charges[3].Rate.Amount = new(more.Fine()) // the large file
	d.Questions = d.Questions[:len(d.Questions)-1]
	kept := read[api.DeskProduct](t, desk.want(200, "PUT", "/api/desk/products/1/draft", fields{"version": p.Version, "draft": d}))
	if !kept.Changed || kept.Edition != 1 {
		t.Errorf("%+v", kept)
	}
	// Somebody else still has the older state before them.
	desk.refused(409, "", "PUT", "/api/desk/products/1/draft", fields{"version": p.Version, "draft": p.Draft})
	desk.refused(409, "", "POST", "/api/desk/products/1/publish", fields{"version": p.Version})
	for range 2 { // pressed twice
		if out := read[api.DeskProduct](t, desk.want(200, "POST", "/api/desk/products/1/publish", fields{"version": kept.Version})); out.Edition != 2 || out.Changed {
			t.Errorf("%+v", out)
		}
	}
	if l := read[api.OrderPage](t, buyer.want(200, "GET", at, nil)).Lines[0]; l.Slip.Total != 3600 || l.Page.Edition != 1 {
		t.Errorf("the running order costs %d under edition %d", l.Slip.Total, l.Page.Edition)
	}
	v := read[api.BasketView](t, buyer.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{chart()}}))
	if v.Slip.Total != 9900 {
		t.Errorf("the shop sells at %d", v.Slip.Total)
	}
	h.audit()
}

func TestPublishingRefusesMistakes(t *testing.T) {
	c := open(t, nil).desk()
	c.refused(422, "title title", "POST", "/api/desk/products", fields{"title": "   "})
	c.refused(422, "title title", "POST", "/api/desk/products", fields{"title": strings.Repeat("x", 121)})
	p := read[api.DeskProduct](t, c.want(200, "POST", "/api/desk/products", fields{"title": "Lesson: the winter sky"}))
	if p.Slug != "lesson-the-winter-sky" || p.Edition != 0 {
		t.Errorf("%+v", p)
	}
	if q := read[api.DeskProduct](t, c.want(200, "POST", "/api/desk/products", fields{"title": "Lesson, the winter sky"})); q.Slug != "lesson-the-winter-sky-2" {
		t.Errorf("two products share an address: %s", q.Slug)
	}
	at := "/api/desk/products/" + itoa(p.Id)
	gift := func(key, needs string) fields {
		return fields{"key": key, "kind": "yes_no", "moment": "choosing", "wording": key, "when": fields{"answer": needs, "op": "answered"}}
	}
	draft := fields{"title": "Lesson", "currency": "EUR", "price": 100, "tax": "19", "questions": []fields{gift("a", "b"), gift("b", "a")}}
	kept := read[api.DeskProduct](t, c.want(200, "PUT", at+"/draft", fields{"version": 1, "draft": draft}))
	out := c.refused(422, "questions[0] draft", "POST", at+"/publish", fields{"version": kept.Version})
	if !strings.Contains(out.Errors[0].Message, "a → b → a") {
		t.Errorf("the keys of the cycle are not told in order: %s", out.Errors[0].Message)
	}
	c.want(404, "GET", "/api/shop/products/lesson-the-winter-sky", nil)
	c.refused(400, "draft.price type", "PUT", at+"/draft", `{"version":2,"draft":{"title":"x","currency":"EUR","price":"cheap","tax":"19"}}`)
	c.refused(400, "draft.surprise unknown", "PUT", at+"/draft", `{"version":2,"draft":{"title":"x","surprise":1}}`)
	for in, want := range map[string]string{
		`"price":1`: "draft.tax missing", `"tax":"19"`: "draft.price missing", `"price":null,"tax":"19"`: "draft.price missing", `"price":1,"tax":"nineteen"`: "draft.tax type",
		`"price":1,"tax":"19","charges":[{},{"effect":"adds","rate":{"amount":"1,5"}}]`:     "draft.charges[1].rate.amount type",
		`"price":1,"tax":"19","charges":[{"effect":"adds","rate":{"amount":1,"bands":[]}}]`: "draft.charges[0].rate.bands unknown",
		`"price":1,"tax":"19","questions":[{"key":"a"},{"key":7}]`:                          "draft.questions[1].key type",
		`"price":1,"tax":"19","prices":[{"group":"a","from":"1 June"}]`:                     "draft.prices[0].from type",
		`"price":1,"price":2,"tax":"19"`:                                                    "draft.price twice",
		`"price":1,"tax":"19","steps":[{"key":"a","title":"A","minutes":{"fixed":"ten"}}]`:  "draft.steps[0].minutes.fixed type",
		`"price":1,"tax":"19","charges":[{"effect":"adds","rate":{"amount":0.0000001}}]`:    "draft.charges[0].rate.amount type",
		`"price":1.5,"tax":"19"`: "draft.price type",
	} {
		c.refused(400, want, "PUT", at+"/draft", `{"version":2,"draft":{"title":"x","currency":"EUR",`+in+`}}`)
	}
	given := c.refused(400, "draft.tax type", "PUT", at+"/draft", `{"version":2,"draft":{"title":"x","currency":"EUR","price":1,"tax":"nineteen"}}`)
	if got := given.Errors[0].Message; got != `Give a number, written like 1.5 instead of "nineteen".` {
		t.Errorf("it does not say what was given and what would be right: %s", got)
	}
	if a := c.want(400, "PUT", at+"/draft", `{"version":2,"draft":{"title":"x","booking":{"week":[["9 to 5"]]}}}`); !strings.Contains(string(a.body), "09:00-17:30") {
		t.Errorf("it does not say how hours are written: %s", a.body)
	}
	c.refused(404, "", "GET", "/api/desk/products/9999", nil)
}

// The desk tries a draft that nobody keeps, with mistakes and all.
func TestTryingADraft(t *testing.T) {
	c := open(t, nil).desk()
	for id, answers := range map[string]fields{
		"1": {"title": "The night we met in Lofthus harbour", "size": "large", "gone": 1}, "2": {"blankets": 3}, "3": {"pictures": 7}, "4": {"value": 5000},
	} {
		p := read[api.DeskProduct](t, c.want(200, "GET", "/api/desk/products/"+id, nil))
		r := read[api.TrialResult](t, c.want(200, "POST", "/api/desk/products/"+id+"/try", fields{"draft": p.Draft, "quantity": 1, "answers": answers}))
		if len(r.Items) == 0 || r.Evaluation.Slip.Total == 0 || (id == "2") != (len(r.Openings) > 0) {
			t.Errorf("%s: %d items, %d, %d openings", id, len(r.Items), r.Evaluation.Slip.Total, len(r.Openings))
		}
		p.Draft.Questions[0].Kind = "telepathy"
		p.Draft.Currency = "EURO"
		broken := read[api.TrialResult](t, c.want(200, "POST", "/api/desk/products/"+id+"/try", fields{"draft": p.Draft, "quantity": 0, "answers": answers}))
		if len(broken.Findings) == 0 {
			t.Errorf("%s: nothing is wrong with telepathy", id)
		}
	}
}

// ruvo check finds what was changed behind the application's back.
func TestAuditFindsTampering(t *testing.T) {
	for name, change := range map[string]func(*store.OrderLine){
		"a slip":     func(l *store.OrderLine) { l.Slip.Lines[0].Amount++ },
		"an answer":  func(l *store.OrderLine) { delete(l.Answers, "size") },
		"a quantity": func(l *store.OrderLine) { l.Quantity = 7 },
		"a brief":    func(l *store.OrderLine) { l.Brief = order.Waiting },
		"missing":    func(l *store.OrderLine) { l.Missing = append(l.Missing, "title") },
	} {
		h := open(t, nil)
		must(t, h.store.Write(t.Context(), func(tx *store.Tx) error {
			l, err := tx.LineByID(3)
			if err != nil {
				return err
			}
			change(&l)
			return tx.SaveLine(&l)
		}))
		_, found, err := audit.Run(context.Background(), h.store, h.now())
		must(t, err)
		if len(found) == 0 {
			t.Errorf("%s was changed, and nothing was found", name)
		}
	}
}

// A panic is answered as a problem document that tells nothing of itself.
func TestPanicsAreProblems(t *testing.T) {
	h := open(t, nil)
	h.server.Desk = nil
	c := h.client()
	c.refused(500, "", "POST", "/api/desk/session", fields{"email": "a", "password": "b"})
	if a := c.send("GET", "/api/shop", nil); a.status != http.StatusOK {
		t.Errorf("after a panic the server answers %d", a.status)
	}
}
