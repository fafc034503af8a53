package web

import (
	"archive/zip"
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/core/workplan"
)

// finishes sends a finished file.
func (c *client) finishes(name string, data []byte) string {
	c.t.Helper()
	u := read[api.Upload](c.t, c.want(200, "POST", "/api/desk/finished", fields{"name": name, "size": len(data)}))
	return c.appends(200, u.Id, 0, data).Id
}

func (c *client) docket(line int64) api.Docket {
	c.t.Helper()
	return read[api.Docket](c.t, c.want(200, "GET", "/api/desk/dockets/"+itoa(line), nil))
}

func (c *client) page(link string) api.OrderPage {
	c.t.Helper()
	return read[api.OrderPage](c.t, c.want(200, "GET", "/api/shop/orders/"+link, nil))
}

// wrong expects one field to be refused for a reason.
func (c *client) wrong(key, code, method, path string, body any) {
	c.t.Helper()
	c.refused(422, key+" "+code, method, path, body)
}

func secretOf(path string) string { return path[strings.LastIndex(path, "/")+1:] }

// work tells a docket's work: "letter+1 ready".
func workOf(d api.Docket) string {
	var all []string
	for _, w := range d.Work {
		name := w.Step
		if w.Round > 0 {
			name += fmt.Sprintf("+%d", w.Round)
		}
		all = append(all, name+" "+string(w.State))
	}
	return strings.Join(all, ", ")
}

// A chart is made, handed over, looked at, changed in the included round and in one
// that is paid for, and accepted; only then is the order done.
func TestHandingOver(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	link := secretOf(c.buys(chart()))
	line := d.newest().Line
	hands := d.docket(line).Hands
	if hands.Step != "letter" || !hands.Whole || hands.Message == nil || len(hands.Steps) != 3 || *hands.Steps[1].Left != 1 {
		t.Fatalf("%+v", hands)
	}
	path := "/api/desk/dockets/" + itoa(line) + "/handovers"
	picture := d.finishes("chart.png", pngOf(t, 600, 400))
	given := read[api.Docket](t, d.want(200, "POST", path, fields{
		"files": []string{picture, d.finishes("chart.txt", []byte("how to print it"))}, "links": []fields{{"title": "", "address": "https://example.org/more"}},
		"message": "Here it is, {{customer}}: “{{title}}”.", "step": "letter", "whole": true, "finish": true,
	}))
	if got := workOf(given); got != "compute done, letter done, hand_over done" {
		t.Errorf("the work: %s", got)
	}
	if given.Handed == nil || h.mails(itoa(given.Number), "finished") != 1 {
		t.Errorf("handed over %v", given.Handed)
	}
	p := c.page(link)
	o := (*p.Lines[0].Handovers)[0]
	if o.Message != "Here it is, Ada Quill: “The night we met”." || o.Links[0].Title != "example.org" || o.State != "given" || !o.Asks || o.Left != 1 || *o.Silent != "2026-12-01" || *o.Until != "2027-11-24" {
		t.Errorf("%+v", o)
	}
	if o.Files[0].Shows != "picture" || *o.Files[0].Width != 600 || o.Files[1].Shows != "other" {
		t.Errorf("%+v", o.Files)
	}

	// It is shown in the page and saved, all of it or a part; the seller sees both.
	file := "/api/shop/orders/" + link + "/handed/" + itoa(o.Files[0].Id)
	answer := "/api/shop/orders/" + link + "/handovers/" + itoa(o.Id)
	c.want(200, "POST", answer, fields{"action": "open"})
	shown := c.want(200, "GET", file+"?as=view", nil)
	if shown.header.Get("Content-Type") != "image/png" || shown.header.Get("Content-Disposition") != "" || !strings.Contains(shown.header.Get("Content-Security-Policy"), "sandbox") || len(shown.body) < 100 {
		t.Errorf("%v", shown.header)
	}
	if part := c.want(206, "GET", file+"?as=view", nil, "Range", "bytes=1-3"); string(part.body) != "PNG" {
		t.Errorf("a part: %q", part.body)
	}
	text := "/api/shop/orders/" + link + "/handed/" + itoa(o.Files[1].Id)
	if saved := c.want(200, "GET", text+"?as=view", nil); saved.header.Get("Content-Type") != "application/octet-stream" || !strings.Contains(saved.header.Get("Content-Disposition"), "chart.txt") {
		t.Errorf("%v", saved.header)
	}
	c.want(200, "GET", file+"?as=download", nil)
	if small := c.want(200, "GET", file+"?as=thumbnail", nil); small.header.Get("Content-Type") != "image/jpeg" {
		t.Errorf("%v", small.header)
	}
	all := c.want(200, "GET", answer+"/files.zip", nil)
	packed, err := zip.NewReader(bytes.NewReader(all.body), int64(len(all.body)))
	must(t, err)
	if len(packed.File) != 2 || packed.File[0].Name != "chart.png" {
		t.Errorf("%d files", len(packed.File))
	}
	seen := (*d.docket(line).Handovers)[0]
	if seen.Opened == nil || seen.Files[0].Opened == nil || seen.Files[0].Downloaded == nil || *seen.Files[0].Downloads != 2 || seen.Files[1].Downloads == nil {
		t.Errorf("%+v", seen)
	}
	d.want(200, "GET", "/api/desk/handed/"+itoa(o.Files[0].Id)+"?as=thumbnail", nil)

	// Changes: the included round, with what was asked beside its work.
	mark := fields{"file": o.Files[0].Id, "x": 0.5, "y": 0.25, "w": 0.1, "h": 0.1, "words": "A larger title"}
	c.wrong("words", "changes_empty", "POST", answer, fields{"action": "changes"})
	c.wrong("marks", "mark_file", "POST", answer, fields{"action": "changes", "words": "x", "marks": []fields{{"file": o.Files[1].Id, "x": 0, "y": 0, "words": "x"}}})
	c.refused(409, "", "POST", answer, fields{"action": "changes", "words": "x", "agreed": 900}) // it costs nothing
	p = read[api.OrderPage](t, c.want(200, "POST", answer, fields{"action": "changes", "words": "Nearly.", "marks": []fields{mark}}))
	if o = (*p.Lines[0].Handovers)[0]; o.State != "changes" || o.Requests[0].Words != "Nearly." || len(o.Requests[0].Marks) != 1 || p.Money.Open != 0 {
		t.Errorf("%+v", o)
	}
	c.refused(409, "", "POST", answer, fields{"action": "changes", "words": "and again"}) // pressed twice
	c.refused(409, "", "POST", answer, fields{"action": "accept"})
	docket := d.docket(line)
	if got := workOf(docket); got != "compute done, letter done, hand_over done, letter+1 ready" || docket.Handed != nil {
		t.Errorf("%s, handed over %v", got, docket.Handed)
	}
	if w := docket.Work[3]; w.Asked == nil || w.Asked.Words != "Nearly." || w.Asked.Files[0].Name != "chart.png" {
		t.Errorf("%+v", w.Asked)
	}
	if said := (*docket.Replans)[0].Said; !strings.Contains(strings.Join(said, " "), "asked for changes") {
		t.Errorf("%v", said)
	}

	// The second round is beyond what was included: agreed to, charged, paid for.
	again := func(name string) {
		t.Helper()
		d.want(200, "POST", path, fields{"files": []string{d.finishes(name, pngOf(t, 600, 400))}, "step": "letter", "whole": true, "finish": true})
		p = c.page(link)
		o = (*p.Lines[0].Handovers)[0]
		answer = "/api/shop/orders/" + link + "/handovers/" + itoa(o.Id)
	}
	again("chart 2.png")
	if o.Left != 0 || o.Price == nil || *o.Price != 900 || !o.Latest || (*p.Lines[0].Handovers)[1].Latest {
		t.Errorf("%+v", o)
	}
	c.refused(409, "", "POST", answer, fields{"action": "changes", "words": "The line thinner"})
	p = read[api.OrderPage](t, c.want(200, "POST", answer, fields{"action": "changes", "words": "The line thinner", "agreed": 900}))
	if p.Slip.Total != 4500 || p.Money.Open != 900 {
		t.Errorf("costs %d, %d open", p.Slip.Total, p.Money.Open)
	}
	if last := p.Lines[0].Slip.Lines[len(p.Lines[0].Slip.Lines)-1]; last.Part != "rounds" || last.Label != "Letter the title" || !strings.Contains(last.Why, "beyond the included rounds") {
		t.Errorf("%+v", last)
	}
	again("chart 3.png")
	p = read[api.OrderPage](t, c.want(200, "POST", answer, fields{"action": "accept"}))
	if o = (*p.Lines[0].Handovers)[0]; o.State != "accepted" || *o.AnsweredBy != "Ada Quill" || p.Lines[0].Handed == nil {
		t.Errorf("%+v", o)
	}
	c.refused(409, "", "POST", answer, fields{"action": "changes", "words": "too late"})
	d.want(200, "POST", "/api/desk/handovers/"+itoa(o.Id), fields{"action": "reopen"})
	h.later(10 * 24 * time.Hour) // silence does not count for what the seller opened again
	must(t, h.server.Handing.Tend(t.Context()))
	if o = (*c.page(link).Lines[0].Handovers)[0]; o.State != "given" || o.Silent != nil {
		t.Errorf("opened again: %+v", o)
	}
	c.want(200, "POST", answer, fields{"action": "accept"})
}

// What waits for the customer's acceptance begins with it; silence counts when that was
// said; what was taken back is not there any more.
func TestAcceptance(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	var mural, chartLine api.OrderRow
	for _, r := range read[api.OrderList](t, d.want(200, "GET", "/api/desk/orders", nil)).Rows {
		if r.Title == "Your night on a wall" {
			mural = r
		}
	}
	path := func(line int64) string { return "/api/desk/dockets/" + itoa(line) + "/handovers" }
	if got := workOf(d.docket(mural.Line)); got != "draw ready, print waiting" {
		t.Fatalf("the wall: %s", got)
	}
	promised := *d.docket(mural.Line).Promised
	hands := d.docket(mural.Line).Hands
	if hands.Step != "draw" || hands.Whole {
		t.Errorf("%+v", hands)
	}
	first := read[api.Docket](t, d.want(200, "POST", path(mural.Line), fields{"files": []string{d.finishes("wall.png", pngOf(t, 90, 60))}, "step": "draw", "whole": false, "finish": true}))
	if got := workOf(first); got != "draw done, print waiting" || first.Work[1].Waits[0].For != "acceptance" || first.Handed != nil {
		t.Errorf("the wall: %s, %+v", got, first.Work[1].Waits)
	}
	shown := (*first.Handovers)[0]
	link := h.linkTo(mural.Number)
	answer := "/api/shop/orders/" + link + "/handovers/" + itoa(shown.Id)
	back := read[api.Docket](t, d.want(200, "POST", "/api/desk/handovers/"+itoa(shown.Id), fields{"action": "withdraw"}))
	if (*back.Handovers)[0].State != "withdrawn" {
		t.Errorf("%+v", back.Handovers)
	}
	c.refused(404, "", "POST", answer, fields{"action": "accept"})
	c.refused(404, "", "GET", "/api/shop/orders/"+link+"/handed/"+itoa(shown.Files[0].Id), nil)
	c.refused(404, "", "GET", answer+"/files.zip", nil)
	second := read[api.Docket](t, d.want(200, "POST", path(mural.Line), fields{"files": []string{d.finishes("wall.png", pngOf(t, 90, 60))}, "step": "draw", "whole": false}))
	answer = "/api/shop/orders/" + link + "/handovers/" + itoa((*second.Handovers)[0].Id)
	h.later(5 * 24 * time.Hour)
	c.want(200, "POST", answer, fields{"action": "accept"})
	d = h.desk()
	if after := d.docket(mural.Line); workOf(after) != "draw done, print ready" || *after.Promised <= promised {
		t.Errorf("the wall: %s, promised %s, was %s", workOf(after), *after.Promised, promised)
	}

	// A chart is shown, and nobody says a word for the days that were said.
	c.buys(chart())
	chartLine.Line = d.newest().Line
	d.want(200, "POST", path(chartLine.Line), fields{"files": []string{d.finishes("chart.png", pngOf(t, 90, 60))}, "step": "letter", "whole": true, "finish": true})
	tend := func() { t.Helper(); must(t, h.server.Handing.Tend(t.Context())) }
	h.later(7 * 24 * time.Hour)
	tend()
	if o := (*h.desk().docket(chartLine.Line).Handovers)[0]; o.State != "given" {
		t.Errorf("too early: %+v", o)
	}
	h.later(24 * time.Hour)
	tend()
	tend()
	o := (*h.desk().docket(chartLine.Line).Handovers)[0]
	if o.State != "accepted" || o.AnsweredBy != nil || h.mails(itoa(h.desk().docket(chartLine.Line).Number), "taken as accepted") != 1 {
		t.Errorf("%+v", o)
	}

	// Its files are kept for a year, with word a week before.
	h.later((365 - 7 - 7) * 24 * time.Hour)
	tend()
	tend()
	number := itoa(h.desk().docket(chartLine.Line).Number)
	if n := h.mails(number, "save your files"); n != 1 {
		t.Errorf("%d mails about the end", n)
	}
	link = h.linkTo(h.desk().docket(chartLine.Line).Number)
	file := "/api/shop/orders/" + link + "/handed/" + itoa(o.Files[0].Id)
	c.want(200, "GET", file, nil)
	h.later(8 * 24 * time.Hour)
	tend()
	c.refused(410, "", "GET", file, nil)
	if gone := (*h.desk().docket(chartLine.Line).Handovers)[0]; gone.Files[0].Gone == nil {
		t.Errorf("%+v", gone)
	}
}

// Many files find their orders by name, by a pattern or by a scanned label; one that
// fits two is told so and given to neither.
func TestMatchingFinishedFiles(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	c.buys(chart(), with(chart(), fields{"title": "Second"}))
	newest := d.newest()
	n := itoa(newest.Number)
	m := read[api.FinishedMatches](t, d.want(200, "POST", "/api/desk/finished/match", fields{"names": []string{n + ".png", "1036-frame.jpg", "nothing.txt", "Noor Halvorsen 3.png"}}))
	if len(m.Matches[0].Lines) != 2 || *m.Matches[0].By != "number" || len(m.Matches[1].Lines) == 0 || len(m.Matches[2].Lines) != 0 || *m.Matches[3].By != "customer" {
		t.Errorf("%+v", m.Matches)
	}
	m = read[api.FinishedMatches](t, d.want(200, "POST", "/api/desk/finished/match", fields{"names": []string{n + ".png"}, "lines": []int64{newest.Line}, "pattern": "{{order}}"}))
	if len(m.Matches[0].Lines) != 1 || m.Matches[0].Lines[0] != newest.Line || *m.Matches[0].By != "pattern" {
		t.Errorf("%+v", m.Matches)
	}
	for _, code := range []string{n, "https://any.example/desk/orders/" + itoa(newest.Line)} {
		if m = read[api.FinishedMatches](t, d.want(200, "POST", "/api/desk/finished/match", fields{"names": []string{}, "code": code})); m.Lines[0].Number != newest.Number {
			t.Errorf("%s: %+v", code, m.Lines)
		}
	}
	d.refused(404, "", "POST", "/api/desk/finished/match", fields{"names": []string{}, "code": "nonsense"})
	d.refused(404, "", "POST", "/api/desk/finished/match", fields{"names": []string{}, "code": "99999"})
	d.wrong("pattern", "name_pattern", "POST", "/api/desk/finished/match", fields{"names": []string{"a"}, "pattern": "{{shoe}}"})
}

// What is wrong with a handover is told, and nothing of it is stored.
func TestHandoversThatAreRefused(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	c.buys(chart())
	line := d.newest()
	path := "/api/desk/dockets/" + itoa(line.Line) + "/handovers"
	whole := d.finishes("a.png", pngOf(t, 9, 9))
	half := read[api.Upload](t, d.want(200, "POST", "/api/desk/finished", fields{"name": "half.png", "size": 500})).Id
	theirs := c.uploads("theirs.png", pngOf(t, 9, 9), 1000).Id
	for codes, body := range map[string]fields{
		"files:handover_empty":  {"files": []string{}, "whole": true, "message": " "},
		"files:no_upload":       {"files": []string{theirs}, "whole": true},
		"files:upload_part":     {"files": []string{half}, "whole": true},
		"files:file_twice":      {"files": []string{whole, whole}, "whole": true},
		"step:handover_step":    {"files": []string{whole}, "whole": true, "step": "dance"},
		"message:message_field": {"files": []string{whole}, "whole": true, "message": "{{file_name}}"},
		"links:link_address":    {"files": []string{}, "whole": true, "links": []fields{{"title": "x", "address": "javascript:alert(1)"}}},
	} {
		key, code, _ := strings.Cut(codes, ":")
		d.wrong(key, code, "POST", path, body)
	}
	d.wrong("size", "file_empty", "POST", "/api/desk/finished", fields{"name": "a", "size": 0})
	d.wrong("size", "finished_size", "POST", "/api/desk/finished", fields{"name": "a", "size": 21_000_000_000})
	if d.docket(line.Line).Handovers != nil {
		t.Error("something was stored")
	}
	// Cancelled meanwhile.
	d.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/cancel", line.Number), fields{"how": "all", "restock": true})
	if p := d.refused(409, "", "POST", path, fields{"files": []string{whole}, "whole": true}); !strings.HasSuffix(p.Type, "cancelled") {
		t.Errorf("%+v", p)
	}
	// Somebody else's link opens nothing of it.
	other := secretOf(c.buys(chart()))
	var mine api.OrderRow
	for _, r := range read[api.OrderList](t, d.want(200, "GET", "/api/desk/orders", nil)).Rows {
		if r.Handed == nil && r.Open > 0 && r.Line != d.newest().Line {
			mine = r
		}
	}
	given := read[api.Docket](t, d.want(200, "POST", "/api/desk/dockets/"+itoa(mine.Line)+"/handovers", fields{"files": []string{whole}, "whole": true}))
	id := (*given.Handovers)[0]
	c.refused(404, "", "POST", "/api/shop/orders/"+other+"/handovers/"+itoa(id.Id), fields{"action": "accept"})
	c.refused(404, "", "GET", "/api/shop/orders/"+other+"/handed/"+itoa(id.Files[0].Id), nil)
}

// A file is laid beside an item and stays with it when its work is planned anew, and
// through the sweep; one lies beside all items of a step.
func TestFilesBesideWork(t *testing.T) {
	h := open(t, nil)
	defer h.audit()
	c, d := h.client(), h.desk()
	link := secretOf(c.buys(chart()))
	line := d.newest().Line
	letter := d.docket(line).Work[1]
	own := d.finishes("colours.png", pngOf(t, 40, 30))
	put := read[api.WorkItem](t, d.want(200, "PUT", itemPath(letter), fields{"version": letter.Version, "files": []string{own}}))
	if put.Files == nil || (*put.Files)[0].Name != "colours.png" || (*put.Files)[0].Width != 40 {
		t.Fatalf("%+v", put.Files)
	}
	d.refused(422, "files no_upload", "PUT", itemPath(letter), fields{"version": put.Version, "files": []string{strings.Repeat("A", 22)}})
	p := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/1", nil))
	guide := d.finishes("how to letter.txt", []byte("slowly"))
	steps := p.Draft.Steps
	steps[1].Files = append(steps[1].Files, workplan.File{File: guide, Name: "How to letter"})
	p.Draft.Steps = steps
	p = read[api.DeskProduct](t, d.want(200, "PUT", "/api/desk/products/1/draft", fields{"version": p.Version, "draft": p.Draft}))
	d.want(200, "POST", "/api/desk/products/1/publish", fields{"version": p.Version})
	page := c.page(link).Lines[0]
	c.want(200, "PATCH", "/api/shop/orders/"+link+"/lines/"+itoa(line)+"/answers", fields{"version": page.Version, "answers": fields{"title": "Another night"}})
	h.later(48 * time.Hour)
	must(t, h.server.Shop.Sweep(t.Context()))
	d = h.desk()
	if w := d.docket(line).Work[1]; w.Files == nil || len(*w.Files) != 1 || !strings.Contains(w.Instructions, "Another night") {
		t.Errorf("%+v", w)
	}
	d.want(200, "GET", "/api/desk/beside/"+own+"?as=thumbnail", nil)
	c.buys(chart())
	if w := d.docket(d.newest().Line).Work[1]; w.Beside == nil || (*w.Beside)[0].Name != "How to letter" {
		t.Errorf("%+v", w.Beside)
	}
	if got := d.want(200, "GET", "/api/desk/beside/"+guide+"?as=view", nil); string(got.body) != "slowly" || got.header.Get("Content-Type") != "application/octet-stream" {
		t.Errorf("%q as %s", got.body, got.header.Get("Content-Type"))
	}
	h.client().refused(401, "", "GET", "/api/desk/beside/"+guide, nil)
	pdf := d.want(200, "GET", "/api/desk/worksheets/1/letter/sheet.pdf?paper=letter&large=true", nil)
	if !strings.HasPrefix(string(pdf.body), "%PDF") || !strings.Contains(pdf.header.Get("Content-Disposition"), "letter.pdf") {
		t.Errorf("%v", pdf.header)
	}
}

// A film of more than four gigabytes, more than 32 bits count, goes on where it stopped,
// is handed over, and its end can be asked for alone.
func TestAFilmOfMoreThanFourGigabytes(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	const large = 4_400_000_000
	u := read[api.Upload](t, d.want(200, "POST", "/api/desk/finished", fields{"name": "film.mp4", "size": large + 5}))
	path := filepath.Join(Uploads(h.store.Folder()), u.Id)
	head := append([]byte("\x00\x00\x00\x18ftypmp42\x00\x00\x00\x00mp42isom"), make([]byte, 40)...)
	must(t, os.MkdirAll(filepath.Dir(path), 0o700))
	must(t, os.WriteFile(path, head, 0o600))
	must(t, os.Truncate(path, large)) // the rest are holes, as if it had been sent
	if now := read[api.Upload](t, c.want(200, "GET", "/api/shop/uploads/"+u.Id, nil)); now.Received != large {
		t.Fatalf("%d bytes are there", now.Received)
	}
	if done := c.appends(200, u.Id, large, []byte("ended")); *done.Type != "video/mp4" {
		t.Fatalf("%+v", done)
	}
	link := secretOf(c.buys(chart()))
	given := read[api.Docket](t, d.want(200, "POST", "/api/desk/dockets/"+itoa(d.newest().Line)+"/handovers", fields{"files": []string{u.Id}, "whole": true}))
	f := (*given.Handovers)[0].Files[0]
	if f.Shows != "film" || f.Size != large+5 {
		t.Errorf("%+v", f)
	}
	file := "/api/shop/orders/" + link + "/handed/" + itoa(f.Id) + "?as=view"
	if end := c.want(206, "GET", file, nil, "Range", fmt.Sprintf("bytes=%d-", large)); string(end.body) != "ended" {
		t.Errorf("it ends with %q", end.body)
	}
	c.want(416, "GET", file, nil, "Range", fmt.Sprintf("bytes=%d-", large+100))
}
