package web

import (
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/api"
)

// evaluation gives what the basket says of a line.
func (c *client) evaluation(line fields) api.Evaluation {
	c.t.Helper()
	view := read[api.BasketView](c.t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{line}}))
	return *view.Lines[0].Evaluation
}

// newest gives the docket of the newest order.
func (c *client) newest() api.Docket {
	c.t.Helper()
	rows := read[api.OrderList](c.t, c.want(200, "GET", "/api/desk/orders", nil)).Rows
	return read[api.Docket](c.t, c.want(200, "GET", "/api/desk/dockets/"+itoa(rows[0].Line), nil))
}

// What the shop says before payment is what is promised, with why; a rush buys an
// earlier day.
func TestPromisesBeforePayment(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	usual := c.evaluation(chart())
	if usual.Promise == nil || usual.Promise.Rush || usual.Promise.Rest || usual.RushOf == nil || *usual.RushOf != "rush" {
		t.Fatalf("%+v", usual.Promise)
	}
	days := *usual.Rushes
	rushed := c.evaluation(with(chart(), fields{"rush": true}))
	if !rushed.Promise.Rush || rushed.Promise.Day >= usual.Promise.Day || days["yes"] != rushed.Promise.Words || days["no"] != usual.Promise.Words {
		t.Errorf("usually %+v, rushed %+v, days %v", usual.Promise, rushed.Promise, days)
	}
	if later := c.evaluation(fields{"product": "sky-chart", "quantity": 1, "answers": with(chart(), fields{"title": nil})["answers"], "later": []string{"title"}}); !later.Promise.Rest {
		t.Errorf("%+v", later.Promise)
	}
	c.buys(chart())
	docket := d.newest()
	if docket.Promised == nil || *docket.Promised != usual.Promise.Day || docket.Promise == nil || docket.Promise.Own != 43 || docket.Promise.Slack != 1 || docket.Promise.Ahead == 0 || *docket.Promise.Late {
		t.Errorf("promised %v, %+v", docket.Promised, docket.Promise)
	}
	page := c.evaluation(lesson("2026-12-02T14:30:00+01:00", 45, 5))
	if page.Promise != nil && page.Promise.Day <= "2026-12-02" {
		t.Errorf("a lesson is promised before it is held: %+v", page.Promise)
	}

	// More orders come, and the rush among them: the first promise stays.
	c.buys(with(chart(), fields{"rush": true}))
	if rush := d.newest(); *rush.Promised != rushed.Promise.Day && *rush.Promised > usual.Promise.Day {
		t.Errorf("the rush is promised for %s", *rush.Promised)
	}
	again := read[api.Docket](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(docket.Line), nil))
	if *again.Promised != *docket.Promised {
		t.Errorf("the promise moved from %s to %s", *docket.Promised, *again.Promised)
	}

	// By hand, with a mail; into the past it cannot be.
	path := "/api/desk/dockets/" + itoa(docket.Line) + "/promise"
	d.refused(422, "day promise_past", "PUT", path, fields{"day": "2026-11-01"})
	d.refused(422, "day type_date", "PUT", path, fields{"day": "soon"})
	d.refused(404, "", "PUT", "/api/desk/dockets/9999/promise", fields{"day": "2026-12-20"})
	put := read[api.Docket](t, d.want(200, "PUT", path, fields{"day": "2026-12-18", "tell": true, "word": "The ink is late."}))
	if *put.Promised != "2026-12-18" || *put.Promise.Author != "Ilse Brandt" {
		t.Errorf("%+v", put.Promise)
	}
	told := false
	for _, m := range read[[]api.Message](t, d.want(200, "GET", "/api/desk/outbox", nil)) {
		told = told || strings.Contains(m.Subject, "ready by Fri 18 Dec") && strings.Contains(m.Body, "The ink is late.")
	}
	if !told {
		t.Error("nobody wrote of the new day")
	}
}

// With too much work sales stop, or slow down to so many a day, by themselves.
func TestTooMuchWork(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	first := c.evaluation(chart()).Promise.Day
	d.sets(d.settings(), func(s *api.Settings) { s.Work.Latest, s.Work.Beyond = 1, "stop" })
	if e := c.evaluation(chart()); e.Ready || !slices.ContainsFunc(e.Faults, func(f api.FieldError) bool { return f.Code == "too_much_work" }) {
		t.Errorf("it is sold for %s: %+v", first, e.Faults)
	}
	c.refused(422, "lines.0.quantity too_much_work", "PUT", checkout(), basket(chart()))
	d.sets(d.settings(), func(s *api.Settings) { s.Work.Beyond, s.Work.Daily = "slow", 2 })
	h.ahead.Add(int64(24 * time.Hour)) // a day of which nothing is sold yet
	c.buys(chart())
	c.buys(chart())
	c.refused(422, "lines.0.quantity enough_today", "PUT", checkout(), basket(chart()))
	h.ahead.Add(int64(24 * time.Hour))
	c.want(200, "PUT", checkout(), basket(chart()))
	c.buys(chart())
	d = h.desk() // the old session is over by now
	v := d.settings()
	for _, wrong := range []string{"slack", "beyond", "daily"} {
		s := v.Settings
		switch wrong {
		case "slack":
			s.Work.Slack = -1
		case "beyond":
			s.Work.Beyond = "later"
		case "daily":
			s.Work.Daily = 0
		}
		d.refused(422, "work promise_terms", "PUT", "/api/desk/settings", fields{"version": v.Version, "settings": s})
	}
}

// item finds an open item by its title, of the newest order that has it.
func (c *client) item(title string) api.WorkItem {
	c.t.Helper()
	work := read[api.WorkByDay](c.t, c.want(200, "GET", "/api/desk/work?most=1000", nil))
	all := slices.Concat(work.Late, work.Waiting)
	for _, d := range work.Days {
		all = append(all, d.Items...)
	}
	slices.SortFunc(all, func(a, b api.WorkItem) int { return int(b.Id - a.Id) })
	for _, i := range all {
		if i.Title == title {
			return i
		}
	}
	c.t.Fatalf("there is no %q", title)
	return api.WorkItem{}
}

func itemPath(i api.WorkItem) string { return "/api/desk/items/" + itoa(i.Id) }

// What people decide about an item stays whatever is planned again; what comes of it
// is told before; somebody else's decision in between is not lost.
func TestDecidingAboutWork(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	link := c.buys(chart())
	i := d.item("Letter the title")
	path := itemPath(i)
	ahead := read[api.Foresight](t, d.want(200, "POST", path+"/foresee", fields{"version": 0, "priority": 1}))
	if ahead.Ends == "" || ahead.Ends > *i.Ends {
		t.Errorf("put first it is done on %q, not %q", ahead.Ends, *i.Ends)
	}
	if now := d.item("Letter the title"); now.Priority != nil || *now.Version != 0 {
		t.Errorf("looking ahead changed it: %+v", now)
	}
	done := read[api.WorkItem](t, d.want(200, "PUT", path, fields{"version": 0, "assigned": 5, "own_due": "2026-12-10", "priority": 1, "note": "With the broad pen"}))
	if *done.Assigned != 5 || *done.OwnDue != "2026-12-10" || *done.DueDay != "2026-12-10" || *done.Note != "With the broad pen" || *done.Person != 5 {
		t.Errorf("%+v", done)
	}
	d.refused(409, "", "PUT", path, fields{"version": 0, "assigned": 4})
	page := read[api.OrderPage](t, c.want(200, "GET", link, nil))
	c.want(200, "PATCH", link+"/lines/"+itoa(page.Lines[0].Id)+"/answers", fields{"version": page.Lines[0].Version, "answers": fields{"title": "The night we met, again"}})
	now := d.item("Letter the title")
	if *now.Assigned != 5 || *now.OwnDue != "2026-12-10" || *now.Note != "With the broad pen" || now.Minutes <= i.Minutes {
		t.Errorf("after planning again: %+v", now)
	}
	docket := d.newest()
	if docket.Replans == nil || !strings.Contains(strings.Join((*docket.Replans)[0].Said, " "), "“Letter the title” takes 29 min instead of 23.") {
		t.Errorf("planning again says %+v", docket.Replans)
	}
	for want, f := range map[string]fields{
		"assigned no_person": {"version": 1, "assigned": 99}, "own_due type_date": {"version": 1, "own_due": "soon"},
	} {
		d.refused(422, want, "PUT", path, f)
		d.refused(422, want, "POST", path+"/foresee", f)
	}
	d.refused(404, "", "PUT", "/api/desk/items/99999", fields{"version": 0})
	d.refused(404, "", "GET", path+"/papers/0", nil)

	// A helper leaves: their work is told as nobody's, and nothing else is lost.
	d.sets(d.settings(), func(s *api.Settings) {
		s.Resources = slices.DeleteFunc(s.Resources, func(r api.Resource) bool { return r.ID == 7 })
	})
	load := read[api.WorkLoad](t, d.want(200, "GET", "/api/desk/load", nil))
	told := map[string]bool{}
	for _, i := range load.Nobody {
		told[*i.PlannedFor] = true
	}
	if !told["whoever can: packing"] || !told["somebody who is not there any more"] {
		t.Errorf("nobody is told of: %v", told)
	}
}

// What is offered to keep the promise of a late order keeps it, and no other one comes late
// by it; an order that is in time needs none.
func TestHelpForLateOrdersHelps(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	late := func() (lines []int64) {
		t.Helper()
		for _, l := range read[api.WorkLoad](t, d.want(200, "GET", "/api/desk/load", nil)).Late {
			lines = append(lines, l.Line)
		}
		return lines
	}
	before, tried := late(), 0
	for _, line := range before {
		for _, way := range read[[]api.Help](t, d.want(200, "GET", "/api/desk/load/"+itoa(line)+"/help", nil)) {
			tried++
			versions := map[int64]int{}
			put := func(decision fields) {
				t.Helper()
				for _, item := range way.Items {
					decision["version"] = versions[item.Id]
					versions[item.Id] = *read[api.WorkItem](t, d.want(200, "PUT", "/api/desk/items/"+itoa(item.Id), decision)).Version
				}
			}
			for _, item := range way.Items {
				versions[item.Id] = item.Version
			}
			if way.Assigned != nil {
				put(fields{"assigned": *way.Assigned})
			} else {
				put(fields{"priority": *way.Priority})
			}
			now := late()
			if slices.Contains(now, line) {
				t.Errorf("line %d is late in spite of %+v", line, way)
			}
			for _, l := range now {
				if !slices.Contains(before, l) {
					t.Errorf("line %d is late by %+v", l, way)
				}
			}
			if way.Assigned != nil {
				put(fields{"assigned": 0})
			} else {
				put(fields{"priority": 0})
			}
			if !slices.Equal(late(), before) {
				t.Fatalf("%+v cannot be taken back", way)
			}
		}
	}
	if tried == 0 {
		t.Error("nothing helps anybody")
	}
	if ways := read[[]api.Help](t, d.want(200, "GET", "/api/desk/load/1/help", nil)); len(ways) != 0 {
		t.Errorf("an order that is done needs %+v", ways)
	}
	d.refused(404, "", "GET", "/api/desk/load/999999/help", nil)
}

// The load is what is placed into hours, never more than there are.
func TestTheLoadFitsTheHours(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	load := read[api.WorkLoad](t, d.want(200, "GET", "/api/desk/load", nil))
	if len(load.People) != 3 || len(load.Days) != 10 {
		t.Fatalf("%d people, %d days", len(load.People), len(load.Days))
	}
	planned := 0
	for _, day := range load.Days {
		for _, p := range day.Loads {
			if p.Planned > p.Hours {
				t.Errorf("%s: %d of %d", day.Day, p.Planned, p.Hours)
			}
			planned += p.Planned
		}
	}
	if planned == 0 {
		t.Error("nothing is planned")
	}
	who := read[api.Session](t, d.want(200, "PUT", "/api/desk/me", fields{"person": 4}))
	if who.Person == nil || *who.Person != 4 {
		t.Errorf("%+v", who)
	}
	d.refused(422, "person no_person", "PUT", "/api/desk/me", fields{"person": 1})
	mine := read[api.WorkByDay](t, d.want(200, "GET", "/api/desk/work?person=4", nil))
	for _, day := range mine.Days {
		for _, i := range day.Items {
			if *i.Person != 4 {
				t.Errorf("%s is not Ilse's", i.Title)
			}
		}
	}
}

// Work by hand, on an order and on none, and what comes again.
func TestWorkByHand(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	c.buys(chart())
	docket := d.newest()
	own := read[api.WorkItem](t, d.want(200, "POST", "/api/desk/items", fields{"title": "Call about the frame", "minutes": 10, "line": docket.Line, "due": "2026-11-30"}))
	if after := d.newest(); len(after.Work) != len(docket.Work)+1 || *after.Promised != *docket.Promised {
		t.Errorf("the docket has %d items, promised %s", len(after.Work), *after.Promised)
	}
	d.want(200, "POST", "/api/desk/work/finish", fields{"items": []int64{own.Id}})
	d.refused(409, "", "DELETE", itemPath(own), nil)
	ink := read[api.WorkItem](t, d.want(200, "POST", "/api/desk/items", fields{"title": "Buy ink", "minutes": 20, "due": "2026-11-27", "assigned": 7, "repeats": "FREQ=WEEKLY"}))
	if ink.Line != 0 || !*ink.ByHand || *ink.DueDay != "2026-11-27" || *ink.Person != 7 {
		t.Errorf("%+v", ink)
	}
	for range 2 { // pressed twice
		d.want(200, "POST", "/api/desk/work/finish", fields{"items": []int64{ink.Id}})
	}
	next := d.item("Buy ink")
	if *next.DueDay != "2026-12-04" || next.Id == ink.Id {
		t.Errorf("it comes again on %s", *next.DueDay)
	}
	d.want(200, "POST", "/api/desk/work/undo", fields{"items": []int64{ink.Id}})
	if back := d.item("Buy ink"); back.Id != ink.Id {
		t.Errorf("taken back, there is %+v", back)
	}
	d.want(200, "PUT", itemPath(ink), fields{"version": 0, "title": "Buy red ink"})
	d.want(200, "POST", "/api/desk/work/undo", fields{"items": []int64{ink.Id}})
	d.want(204, "DELETE", itemPath(ink), nil)
	d.refused(404, "", "DELETE", itemPath(ink), nil)
	d.refused(409, "", "DELETE", itemPath(d.item("Letter the title")), nil)
	for want, f := range map[string]fields{
		"title item_title": {"title": " "}, "due type_date": {"title": "x", "due": "later"}, "minutes item_minutes": {"title": "x", "minutes": 200_000},
		"assigned no_person": {"title": "x", "assigned": 1}, "repeats item_repeats": {"title": "x", "repeats": "FREQ=SECONDLY"},
	} {
		d.refused(422, want, "POST", "/api/desk/items", f)
	}
	d.refused(404, "", "POST", "/api/desk/items", fields{"title": "x", "line": 9999})
}

// Guests have a card each; one who is taken off while somebody writes it is told, and
// can be set aside; what is done stays.
func TestWorkForEachGuest(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	p := read[api.DeskProduct](t, d.want(200, "POST", "/api/desk/products", fields{"title": "Cards for a table", "ready": "made-to-order-file"}))
	draft := fields{"title": "Cards for a table", "currency": "EUR", "price": 900, "tax": "19",
		"questions": []fields{{"key": "guests", "kind": "repeat", "moment": "briefing", "wording": "Guests", "required": true, "settings": fields{
			"questions": []fields{{"key": "name", "kind": "short_text", "moment": "briefing", "wording": "Name", "required": true}}}}},
		"steps": []fields{
			{"key": "card", "title": "Letter the card for {{name}}", "for": fields{"each": "entry", "of": "guests"}, "who": fields{"skill": "lettering"}, "minutes": fields{"fixed": 5},
				"start": fields{"on": "brief"}, "due": fields{"rule": "working_days", "count": 2}, "checklist": []string{"Spelt as {{name}}"}, "papers": []fields{{"title": "Names", "text": "# Table\n\n{{guests}}"}}},
			{"key": "send", "title": "Send the cards", "minutes": fields{"fixed": 10}, "start": fields{"on": "step", "step": "card"}, "due": fields{"rule": "working_days", "count": 1}},
		}}
	p = read[api.DeskProduct](t, d.want(200, "PUT", "/api/desk/products/"+itoa(p.Id)+"/draft", fields{"version": p.Version, "draft": draft}))
	p = read[api.DeskProduct](t, d.want(200, "POST", "/api/desk/products/"+itoa(p.Id)+"/publish", fields{"version": p.Version}))
	link := c.buys(fields{"product": p.Slug, "quantity": 1, "answers": fields{}})
	version := 1
	guests := func(names ...string) {
		t.Helper()
		list := []fields{}
		for _, n := range names {
			list = append(list, fields{"name": n})
		}
		page := read[api.OrderPage](t, c.want(200, "GET", link, nil))
		version = page.Lines[0].Version
		c.want(200, "PATCH", link+"/lines/"+itoa(page.Lines[0].Id)+"/answers", fields{"version": version, "answers": fields{"guests": list}})
	}
	has := func(want string) {
		t.Helper()
		var got []string
		for _, w := range d.newest().Work {
			s := w.Title + " " + string(w.State)
			if w.Unneeded != nil {
				s += " unneeded"
			}
			if w.Aside != nil {
				s += " aside"
			}
			got = append(got, s)
		}
		slices.Sort(got)
		if s := strings.Join(got, ", "); s != want {
			t.Errorf("\n got %s\nwant %s", s, want)
		}
	}
	has("Send the cards waiting") // nobody is named yet
	if docket := d.newest(); docket.Promised != nil {
		t.Errorf("it is promised for %s before anybody is named", *docket.Promised)
	}
	guests("Mila", "Ben", "Zoe")
	has("Letter the card for Ben ready, Letter the card for Mila ready, Letter the card for Zoe ready, Send the cards waiting")
	if docket := d.newest(); docket.Promised == nil || docket.Promise.Own != 25 {
		t.Errorf("%+v", docket.Promise)
	}
	mila, zoe := d.item("Letter the card for Mila"), d.item("Letter the card for Zoe")
	paper := read[api.PaperView](t, d.want(200, "GET", itemPath(mila)+"/papers/0", nil))
	if paper.Title != "Names" || !strings.Contains(paper.Html, "<p>Mila</p>") {
		t.Errorf("%+v", paper)
	}
	ticked := read[api.WorkItem](t, d.want(200, "PUT", itemPath(mila), fields{"version": 0, "ticked": []string{"Spelt as Mila", "nothing"}}))
	if c := (*ticked.Checks)[0]; c.Text != "Spelt as Mila" || !c.Done {
		t.Errorf("%+v", ticked.Checks)
	}
	d.want(200, "POST", "/api/desk/work/finish", fields{"items": []int64{mila.Id}})
	d.want(200, "POST", "/api/desk/work/start", fields{"items": []int64{zoe.Id}})
	d.refused(409, "", "POST", "/api/desk/work/aside", fields{"items": []int64{zoe.Id}})
	guests("Ben")
	guests("Ben", "Ada")
	has("Letter the card for Ada ready, Letter the card for Ben ready, Letter the card for Mila done, Letter the card for Zoe started unneeded, Send the cards waiting")
	d.want(200, "POST", "/api/desk/work/aside", fields{"items": []int64{zoe.Id}})
	has("Letter the card for Ada ready, Letter the card for Ben ready, Letter the card for Mila done, Letter the card for Zoe done aside, Send the cards waiting")
	d.want(200, "POST", "/api/desk/work/undo", fields{"items": []int64{zoe.Id}})
	d.want(200, "POST", "/api/desk/work/aside", fields{"items": []int64{zoe.Id}})
	said := ""
	for _, r := range *d.newest().Replans {
		said += strings.Join(r.Said, " ") + "\n"
	}
	for _, want := range []string{"“Letter the card for Ada” came along.", "“Letter the card for Zoe” is not needed any more, but was begun."} {
		if !strings.Contains(said, want) {
			t.Errorf("%q is not said in %s", want, said)
		}
	}
	// Cancelled while somebody letters: set aside, and nothing is open.
	d.want(200, "POST", "/api/desk/work/start", fields{"items": []int64{d.item("Letter the card for Ben").Id}})
	docket := d.newest()
	d.want(200, "POST", "/api/desk/items", fields{"title": "Call first", "line": docket.Line})
	begun := read[api.WorkItem](t, d.want(200, "POST", "/api/desk/items", fields{"title": "Cut the paper", "line": docket.Line}))
	d.want(200, "POST", "/api/desk/work/start", fields{"items": []int64{begun.Id}})
	d.want(200, "POST", "/api/desk/orders/"+itoa(docket.Number)+"/cancel", fields{"how": "all"})
	if after := d.newest().Work; slices.ContainsFunc(after, func(w api.WorkItem) bool { return w.Title == "Call first" }) {
		t.Error("what was added by hand outlives its order")
	}
	for _, w := range d.newest().Work {
		if w.State != "done" {
			t.Errorf("of a cancelled order there is %+v", w)
		}
	}
}
