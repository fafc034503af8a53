package web

import (
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/core/brief"
)

// saves saves what is typed at a line's questions, as whoever typed it saw the page.
func (c *client) saves(link string, answers fields, more fields) api.BriefSaved {
	c.t.Helper()
	page := c.page(link)
	was := fields{}
	for k := range answers {
		was[k] = page.Lines[0].Answers[k]
		for _, h := range page.Lines[0].Halves {
			if h.Key == k {
				was[k] = h.Value
			}
		}
	}
	body := fields{"answers": answers, "was": was}
	for k, v := range more {
		body[k] = v
	}
	return read[api.BriefSaved](c.t, c.want(200, "POST", "/api/shop/orders/"+link+"/lines/"+itoa(page.Lines[0].Id)+"/brief", body))
}

func halves(p api.OrderPage) map[string]api.HalfAnswer {
	all := map[string]api.HalfAnswer{}
	for _, h := range p.Lines[0].Halves {
		all[h.Key] = h
	}
	return all
}

// later is a chart whose title is told later, and that is a gift.
func untold() fields {
	line := with(chart(), fields{"title": nil, "gift": true, "recipient": "Bea"})
	line["later"] = []string{"title"}
	return line
}

// What is typed is saved field by field: what is right counts, what is not right yet is
// kept and counts for nothing, and typing on is one change of the history.
func TestBriefSavesItself(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	link := secretOf(c.buys(untold()))
	line := d.newest().Line
	c.saves(link, fields{"title": "The"}, nil)
	h.ahead.Add(int64(4 * time.Second))
	saved := c.saves(link, fields{"title": "The night", "dedication": strings.Repeat("x", 301)}, nil)
	p := saved.Page.Lines[0]
	if string(p.Answers["title"]) != `"The night"` || p.Answers["dedication"] != nil || len(saved.Others) != 0 {
		t.Errorf("answered %s, %s", p.Answers["title"], p.Answers["dedication"])
	}
	half := halves(saved.Page)["dedication"]
	if len(half.Faults) != 1 || half.Faults[0].Code != "longest" || half.Priced || half.Unknown || len(half.Value) != 303 {
		t.Errorf("half: %.200v", half)
	}
	if len(p.Missing) != 1 || p.Missing[0] != "dedication" || p.Brief != "waiting" {
		t.Errorf("missing %v, %s", p.Missing, p.Brief)
	}
	if len(p.History) != 1 || p.History[0].New != "The night" || p.History[0].Old != "" {
		t.Errorf("history %+v", p.History)
	}
	for _, a := range d.docket(line).Answers {
		if a.Key == "dedication" && (a.Half == nil || len(a.Half.Words) != 301 || !a.Missing) {
			t.Errorf("at the desk: %.300v", a)
		}
	}
	p = c.saves(link, fields{"dedication": "Ten years."}, nil).Page.Lines[0]
	if len(p.Halves) != 0 || p.Brief != "complete" || len(p.Missing) != 0 {
		t.Errorf("%+v, %s", p.Halves, p.Brief)
	}
	// A required answer that is emptied keeps counting until there is another one.
	p = c.saves(link, fields{"dedication": nil}, nil).Page.Lines[0]
	if string(p.Answers["dedication"]) != `"Ten years."` || len(p.Halves) != 1 || p.Halves[0].Faults[0].Code != "required" {
		t.Errorf("emptied: %s, %+v", p.Answers["dedication"], p.Halves)
	}
	p = c.saves(link, fields{"dedication": "Ten years."}, nil).Page.Lines[0]
	if len(p.Halves) != 0 {
		t.Errorf("typed again: %+v", p.Halves)
	}
	at := "/api/shop/orders/" + link + "/lines/" + itoa(line) + "/brief"
	c.wrong("stars", "unknown", "POST", at, fields{"answers": fields{"stars": 7, "place": "Bergen"}})
	c.wrong("file_name", "unknown", "POST", at, fields{"answers": fields{"file_name": "x"}}) // the desk's own
	c.wrong("dedication", "too_long", "POST", at, fields{"answers": fields{"dedication": strings.Repeat("x", brief.MostHalf)}})
	if got := string(c.page(link).Lines[0].Answers["place"]); got != `"Lofthus"` {
		t.Errorf("half of a refused save was kept: %s", got)
	}
	d.want(200, "POST", "/api/desk/dockets/"+itoa(line)+"/close", nil)
	c.refused(409, "", "POST", at, fields{"answers": fields{"place": "Bergen"}})
}

// Work that begins between two changes sees what stood there: they stay two.
func TestTypingAroundTheStartOfWork(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	link := secretOf(c.buys(untold()))
	c.saves(link, fields{"place": "Berg"}, nil)
	d.want(200, "POST", "/api/desk/work/start", fields{"items": []int64{d.work(d.newest().Line, "compute").Id}})
	h.ahead.Add(int64(time.Second))
	c.saves(link, fields{"place": "Bergen"}, nil)
	h.ahead.Add(int64(time.Second))
	p := c.saves(link, fields{"place": "Bergen, Norway"}, nil).Page.Lines[0]
	if len(p.History) != 2 || p.History[0].Old != "Berg" || p.History[0].New != "Bergen, Norway" || p.History[1].Old != "Lofthus" {
		t.Errorf("%+v", p.History)
	}
	h.ahead.Add(int64(11 * time.Minute))
	if p = c.saves(link, fields{"place": "Oslo"}, nil).Page.Lines[0]; len(p.History) != 3 {
		t.Errorf("after a while: %+v", p.History)
	}
}

// Two devices on one brief: each field by itself, and of the same field the later one is
// told.
func TestTwoDevices(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	link := secretOf(c.buys(untold()))
	at := "/api/shop/orders/" + link + "/lines/" + itoa(d.newest().Line) + "/brief"
	save := func(answers, was fields) api.BriefSaved {
		t.Helper()
		return read[api.BriefSaved](t, c.want(200, "POST", at, fields{"answers": answers, "was": was}))
	}
	save(fields{"title": "Phone"}, fields{"title": nil})
	late := save(fields{"title": "Laptop", "dedication": "Hello"}, fields{"title": nil})
	if len(late.Others) != 1 || late.Others[0] != "title" || string(late.Page.Lines[0].Answers["title"]) != `"Phone"` || string(late.Page.Lines[0].Answers["dedication"]) != `"Hello"` {
		t.Errorf("%v, %s", late.Others, late.Page.Lines[0].Answers)
	}
	if mine := save(fields{"title": "Laptop"}, fields{"title": "Phone"}); len(mine.Others) != 0 || string(mine.Page.Lines[0].Answers["title"]) != `"Laptop"` {
		t.Errorf("kept mine: %v", mine.Others)
	}
	if again := save(fields{"title": "Laptop"}, fields{"title": nil}); len(again.Others) != 0 { // sent twice
		t.Errorf("the same again: %v", again.Others)
	}
}

// What changes the price is kept half until its customer agrees to the price.
func TestPricedWhileTyping(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	link := secretOf(c.buys(untold()))
	long := "The night on which we met by the sea" // 28 letters, four beyond those that are free, at 0.60
	saved := c.saves(link, fields{"title": long}, nil)
	if half := halves(saved.Page)["title"]; half.Priced || len(half.Faults) != 1 || half.Faults[0].Code != "price_changes" {
		t.Errorf("where prices stay: %+v", half)
	}
	d.change(1, func(d *api.Draft) { d.Reprices = true })
	link = secretOf(c.buys(untold()))
	saved = c.saves(link, fields{"title": long, "dedication": "Hello"}, nil)
	half, before := halves(saved.Page)["title"], saved.Page.Slip.Total
	if !half.Priced || len(half.Faults) != 0 || before != 3600 || string(saved.Page.Lines[0].Answers["dedication"]) != `"Hello"` {
		t.Errorf("%+v of %d", half, before)
	}
	at := "/api/shop/orders/" + link + "/lines/" + itoa(d.newest().Line) + "/brief"
	body := fields{"answers": fields{"title": long}, "was": fields{"title": long}, "agreed": 3601}
	c.refused(409, "", "POST", at, body)
	body["agreed"] = 3840
	done := read[api.BriefSaved](t, c.want(200, "POST", at, body)).Page
	if done.Slip.Total != 3840 || done.Money.Open != 240 || len(done.Lines[0].Halves) != 0 || string(done.Lines[0].Answers["title"]) != `"`+long+`"` {
		t.Errorf("%d, %d open", done.Slip.Total, done.Money.Open)
	}
}

// "Not known yet" is told on both sides, and goes with the answer.
func TestNotKnownYet(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	link := secretOf(c.buys(untold()))
	said := c.saves(link, fields{}, fields{"unknown": fields{"title": true}})
	if half := halves(said.Page)["title"]; !half.Unknown || len(said.Page.Lines[0].Missing) != 2 {
		t.Errorf("%+v", half)
	}
	for _, a := range d.newest().Answers {
		if a.Key == "title" && (a.Half == nil || !a.Half.Unknown) {
			t.Errorf("at the desk: %+v", a)
		}
	}
	if after := c.saves(link, fields{"title": "Now I know"}, nil).Page.Lines[0]; len(after.Halves) != 0 {
		t.Errorf("%+v", after.Halves)
	}
	c.saves(link, fields{}, fields{"unknown": fields{"dedication": true}})
	if after := c.saves(link, fields{}, fields{"unknown": fields{"dedication": false}}).Page.Lines[0]; len(after.Halves) != 0 {
		t.Errorf("%+v", after.Halves)
	}
}

// A brief closes at its day, once nothing is missing; from then on changes are asked for,
// and the seller takes or refuses them.
func TestClosingAndAsking(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	d.change(1, func(d *api.Draft) {
		d.Reprices = true
		d.Brief = &brief.Terms{Closes: brief.AfterOrder, Days: 1, Thanks: "Thank you, {{customer}}: “{{title}}”.", Address: "https://example.org/thanks"}
	})
	link := secretOf(c.buys(untold()))
	line := d.newest().Line
	p := c.page(link).Lines[0]
	if p.Closes == nil || *p.Closes != "2026-11-25" || p.Thanks != nil {
		t.Fatalf("closes %v, thanks %v", p.Closes, p.Thanks)
	}
	sweep := func() { must(t, h.server.Desk.Sweep(t.Context())) }
	h.ahead.Add(int64(50 * time.Hour))
	sweep()
	if got := c.page(link).Lines[0].Brief; got != "waiting" {
		t.Fatalf("closed with answers missing: %s", got)
	}
	p = c.saves(link, fields{"title": "Us", "dedication": "Hello"}, nil).Page.Lines[0]
	if p.Thanks == nil || *p.Thanks != "Thank you, Ada Quill: “Us”." || p.Next == nil {
		t.Errorf("thanks %v", p.Thanks)
	}
	sweep()
	if p = c.page(link).Lines[0]; p.Brief != "closed" || len(p.Locked) == 0 {
		t.Fatalf("open after its day: %s", p.Brief)
	}
	ask := "/api/shop/orders/" + link + "/lines/" + itoa(line) + "/amendments"
	c.wrong("title", "amend_same", "POST", ask, fields{"key": "title", "value": "Us"})
	c.wrong("title", "longest", "POST", ask, fields{"key": "title", "value": strings.Repeat("x", 41)})
	c.wrong("file_name", "unknown", "POST", ask, fields{"key": "file_name", "value": "x"})
	c.want(200, "POST", ask, fields{"key": "title", "value": "Them"})
	page := read[api.OrderPage](t, c.want(200, "POST", ask, fields{"key": "title", "value": "The night on which we met by the sea", "why": "It rhymes."}))
	a := (*page.Lines[0].Amendments)[0]
	if len(*page.Lines[0].Amendments) != 1 || a.State != "asked" || a.Old != "Us" || a.Why != "It rhymes." {
		t.Errorf("%+v", a)
	}
	d = h.desk() // two days later one signs in again
	today := read[api.Today](t, d.want(200, "GET", "/api/desk/today", nil))
	if today.Amendments == nil || !slices.ContainsFunc(*today.Amendments, func(a api.AmendmentOpen) bool { return a.Line == line }) {
		t.Errorf("on Today: %+v", today.Amendments)
	}
	at := "/api/desk/amendments/" + itoa(a.Id)
	d.refused(409, "", "POST", at, fields{"take": true}) // it changes the price
	change := read[api.PriceChange](t, d.want(200, "POST", at+"/preview", nil))
	if change.After.Total != 3840 || change.Open != 240 {
		t.Errorf("%+v", change)
	}
	taken := read[api.Docket](t, d.want(200, "POST", at, fields{"take": true, "agreed": 3840, "reply": "With pleasure."}))
	if (*taken.Amendments)[0].State != "taken" || taken.History[0].By != "Ilse Brandt" || h.mails(itoa(taken.Number), "changed as you asked") != 1 {
		t.Errorf("%+v, %+v", (*taken.Amendments)[0], taken.History[0])
	}
	d.refused(409, "", "POST", at, fields{"take": false})

	page = read[api.OrderPage](t, c.want(200, "POST", ask, fields{"key": "place", "value": "Bergen"}))
	first := (*page.Lines[0].Amendments)[0].Id
	page = read[api.OrderPage](t, c.want(200, "DELETE", "/api/shop/orders/"+link+"/amendments/"+itoa(first), nil))
	if (*page.Lines[0].Amendments)[0].State != "withdrawn" {
		t.Errorf("%+v", page.Lines[0].Amendments)
	}
	d.refused(409, "", "POST", "/api/desk/amendments/"+itoa(first), fields{"take": true})
	page = read[api.OrderPage](t, c.want(200, "POST", ask, fields{"key": "place", "value": "Oslo"}))
	d.want(200, "POST", "/api/desk/amendments/"+itoa((*page.Lines[0].Amendments)[0].Id), fields{"take": false})
	p = c.page(link).Lines[0]
	if (*p.Amendments)[0].State != "refused" || string(p.Answers["place"]) != `"Lofthus"` || h.mails(itoa(taken.Number), "it stays as it was") != 1 {
		t.Errorf("%+v", (*p.Amendments)[0])
	}
	// Opened again by hand it stays open.
	d.want(200, "POST", "/api/desk/dockets/"+itoa(line)+"/reopen", nil)
	sweep()
	if got := c.page(link).Lines[0]; got.Brief == "closed" || got.Closes != nil {
		t.Errorf("%s, closes %v", got.Brief, got.Closes)
	}
	c.wrong("place", "amend_open", "POST", ask, fields{"key": "place", "value": "Rome"})
}

// Where answers close with the work, those that work uses are closed once it begins, and
// the others stay open.
func TestClosingWithTheWork(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	d.change(1, func(d *api.Draft) { d.Brief = &brief.Terms{Closes: brief.WithWork} })
	link := secretOf(c.buys(untold()))
	line := d.newest().Line
	d.want(200, "POST", "/api/desk/work/start", fields{"items": []int64{d.work(line, "compute").Id}})
	p := c.page(link).Lines[0]
	if got := strings.Join(p.Locked, " "); got != "night place" {
		t.Errorf("closed: %s", got)
	}
	at := "/api/shop/orders/" + link + "/lines/" + itoa(line) + "/brief"
	c.wrong("place", "closed", "POST", at, fields{"answers": fields{"place": "Bergen"}})
	c.saves(link, fields{"title": "Us"}, nil)
	c.want(200, "POST", "/api/shop/orders/"+link+"/lines/"+itoa(line)+"/amendments", fields{"key": "place", "value": "Bergen"})
}

// A file that belongs to somebody else's order is not taken by naming it in a brief.
func TestAFileOfSomebodyElse(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	theirs := h.client()
	own := theirs.uploads("own.png", pngOf(t, 700, 500), 1<<20)
	link := secretOf(theirs.buys(photos()))
	scans := func(file string) fields { return fields{"scans": []fields{{"file": file, "caption": "x"}}} }
	theirs.saves(link, scans(own.Id), nil)
	c := h.client()
	mine := secretOf(c.buys(photos()))
	saved := c.saves(mine, scans(own.Id), nil)
	if half := halves(saved.Page)["scans"]; len(half.Faults) == 0 {
		t.Errorf("taken: %+v", saved.Page.Lines[0].Answers)
	}
	if p := theirs.page(link).Lines[0]; !strings.Contains(string(p.Answers["scans"]), own.Id) || len(p.Halves) != 0 {
		t.Errorf("theirs: %s, %+v", p.Answers["scans"], p.Halves)
	}
}
