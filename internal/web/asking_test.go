package web

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3filter"

	"ruvo/api"
	"ruvo/internal/store"
)

func init() {
	for _, t := range []string{"application/zip", "image/jpeg"} {
		openapi3filter.RegisterBodyDecoder(t, openapi3filter.FileBodyDecoder)
	}
	openapi3filter.RegisterBodyDecoder("text/csv", openapi3filter.FileBodyDecoder)
}

// prepared is a checkout of a chart that waits for its payment.
func (h *house) prepared(c *client) string {
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	return at
}

// sells publishes a ready-made product.
func (h *house) sells(title, ready string) api.DeskProduct {
	h.t.Helper()
	d := h.desk()
	p := read[api.DeskProduct](h.t, d.want(200, "POST", "/api/desk/products", fields{"title": title, "ready": ready}))
	return read[api.DeskProduct](h.t, d.want(200, "POST", fmt.Sprintf("/api/desk/products/%d/publish", p.Id), fields{"version": p.Version}))
}

// Every ready-made product can be published as it is.
func TestReadyMadeProducts(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	all := read[[]api.ReadyMade](t, d.want(200, "GET", "/api/desk/ready", nil))
	if len(all) != 5 {
		t.Errorf("%+v", all)
	}
	for _, r := range all {
		if p := h.sells("Our "+r.Title, r.Name); p.Edition != 1 || len(p.Draft.Questions) != r.Questions {
			t.Errorf("%+v", p)
		}
	}
	copied := read[api.DeskProduct](t, d.want(200, "POST", "/api/desk/products", fields{"title": "Another chart", "product": 1}))
	if copied.Draft.Title != "Another chart" || len(copied.Draft.Charges) != 7 || copied.Edition != 0 {
		t.Errorf("%+v", copied.Draft)
	}
	d.refused(404, "", "POST", "/api/desk/products", fields{"title": "x", "ready": "../secret"})
	d.refused(404, "", "POST", "/api/desk/products", fields{"title": "x", "product": 999})
}

func stay() fields {
	return fields{"product": "observatory-cabin", "quantity": 1, "later": []string{"arrival"}, "answers": fields{
		"stay": fields{"start": "2026-12-09T15:00:00+01:00", "end": "2026-12-12T10:00:00+01:00", "people": 1}, "cabin": "larch", "beds": 2, "phone": "030 23125 014",
		"invoice": fields{"name": "Ada Quill", "street": "Hill 3", "code": "14467", "city": "Potsdam", "country": "DE"},
	}}
}

// The cabin is asked for with every kind of question, and signed for.
func TestEveryKindInOneOrder(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	for _, b := range []struct {
		codes   string
		answers fields
	}{
		{"lines.0.phone phone", fields{"phone": "12"}},
		{"lines.0.invoice.city required, lines.0.invoice.code postcode", fields{"invoice": fields{"name": "A", "street": "B", "code": "1", "city": "", "country": "DE"}}},
		{"lines.0.stay stay", fields{"stay": fields{"start": "2026-12-08T15:00:00+01:00", "end": "2026-12-12T10:00:00+01:00", "people": 1}}},
		{"lines.0.from choice", fields{"from": "elsewhere"}},
		{"lines.0.arrival time_step", fields{"arrival": "17:31"}},
	} {
		c.refused(422, b.codes, "PUT", checkout(), basket(with(stay(), b.answers)))
	}
	// A cradle is only offered in the larger cabin, so here it counts nowhere.
	e := read[api.Evaluation](t, c.want(200, "POST", "/api/shop/products/observatory-cabin/evaluate", fields{"quantity": 1, "answers": with(stay(), fields{"baskets": fields{"cradle": 1, "supper": 2}})["answers"]}))
	if e.Slip.Total != 17100+2*6800+900+2*1900 || e.Picture != "cabin-larch.svg" {
		t.Errorf("%+v %s", e.Slip, e.Picture)
	}
	at := c.buys(stay())
	page := read[api.OrderPage](t, c.want(200, "GET", at, nil))
	line := page.Lines[0]
	answers := at + "/lines/" + itoa(line.Id) + "/answers"
	deed := "I take the cabin over as it is described, use it with care and give it back clean. For damage beyond use I pay what the repair costs."
	c.refused(422, "guests.0.name required, rules consent_version, signed signed_text", "PATCH", answers, fields{"version": line.Version, "answers": fields{
		"guests": []fields{{"born": "2000-01-01"}}, "rules": fields{"agreed": true, "version": "1"}, "signed": fields{"name": "Ada", "text": "no"},
	}})
	page = read[api.OrderPage](t, c.want(200, "PATCH", answers, fields{"version": line.Version, "answers": fields{
		"arrival": "16:30", "guests": []fields{{"name": "Ada"}, {"name": "Ben", "eats": []string{"nuts"}}}, "rules": fields{"agreed": true, "version": "3"},
		"signed": fields{"strokes": [][]int{{0, 0, 9, 9, 20, 0, 30, 9, 40, 0}}, "text": deed, "at": "2001-01-01T00:00:00Z"},
	}}))
	said := map[string]string{}
	for _, a := range page.Lines[0].Asked {
		if a.Words != nil {
			said[a.Key] = *a.Words
		}
	}
	if said["signed"] != "signed by hand, Tue 24 Nov 2026, 09:30" || said["guests"] != "Ada\nBen, nuts" || said["rules"] != "agreed to version 3, Tue 24 Nov 2026, 09:30" {
		t.Errorf("%q", said)
	}
	if string(page.Lines[0].Answers["phone"]) != `"+493023125014"` || page.Lines[0].Brief != "complete" {
		t.Errorf("%s, %s", page.Lines[0].Answers["phone"], page.Lines[0].Brief)
	}
	mail := ""
	must(t, h.store.Read(t.Context(), func(tx *store.Tx) error {
		m, err := tx.LatestMessages(1)
		mail = m[0].Body
		return err
	}))
	if !strings.Contains(mail, "Address for the invoice: Ada Quill, Hill 3, 14467 Potsdam, Germany") || strings.Contains(mail, "030") {
		t.Errorf("the receipt reads %s", mail)
	}
	d := h.desk()
	docket := read[api.Docket](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(line.Id), nil))
	for _, a := range docket.Answers {
		if a.Key == "signed" && (a.Strokes == nil || a.Document == nil || !strings.Contains(*a.Document, "use it with care")) {
			t.Errorf("%+v", a)
		}
	}

	// The desk fills its own question, and another for the customer once its price is agreed to.
	fill := "/api/desk/dockets/" + itoa(line.Id) + "/answers"
	d.refused(422, "key_box pattern", "PATCH", fill, fields{"version": docket.Version, "answers": fields{"key_box": "12"}})
	d.refused(422, "beds_of_moss unknown", "PATCH", fill, fields{"version": docket.Version, "answers": fields{"beds_of_moss": 1}})
	d.refused(409, "", "PATCH", fill, fields{"version": docket.Version, "answers": fields{"beds": 1}})
	d.refused(409, "", "PATCH", fill, fields{"version": docket.Version - 1, "answers": fields{"key_box": "1234"}})
	docket = read[api.Docket](t, d.want(200, "PATCH", fill, fields{"version": docket.Version, "answers": fields{"key_box": "1234"}}))
	if string(docket.Filled["key_box"]) != `"1234"` || docket.History[0].By != "Ilse Brandt" {
		t.Errorf("%v %+v", docket.Filled, docket.History[0])
	}

	// What belongs to the person is offered to whoever has their link.
	k := read[api.Known](t, c.want(200, "GET", at+"/known", nil))
	if k.Name != "Ada Quill" || string(k.Answers["phone"].Answer) != `"+493023125014"` || k.Answers["invoice"].Kind != "postal_address" {
		t.Errorf("%+v", k)
	}
	c.refused(404, "", "GET", "/api/shop/orders/AAAAAAAAAAAAAAAAAAAAAA/known", nil)
	h.audit()
}

// What belongs to the whole order is the same on all of its lines.
func TestAnswersOfTheWholeOrder(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	c.refused(422, "lines.1.heard order_wide", "PUT", checkout(), basket(with(chart(), fields{"heard": "fair"}), with(rescue(), fields{"heard": "net"})))
	at := c.buys(with(chart(), fields{"heard": "fair"}), with(rescue(), fields{"heard": "fair"}))
	page := read[api.OrderPage](t, c.want(200, "GET", at, nil))
	page = read[api.OrderPage](t, c.want(200, "PATCH", at+"/lines/"+itoa(page.Lines[0].Id)+"/answers", fields{"version": page.Lines[0].Version, "answers": fields{"heard": "friend"}}))
	for _, l := range page.Lines {
		if string(l.Answers["heard"]) != `"friend"` || len(l.History) != 1 {
			t.Errorf("%s, %+v", l.Answers["heard"], l.History)
		}
	}
	h.audit()
}

// A voucher's words are asked for each voucher.
func TestAnswersOfEachUnit(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	voucher := func(words ...string) fields {
		return fields{"product": "gift-voucher", "quantity": 2, "answers": fields{"value": 2500, "name": "Bea", "spare": true, "words": words}}
	}
	c.refused(422, "lines.0.words.1 longest", "PUT", checkout(), basket(voucher("For you", strings.Repeat("x", 201))))
	at := c.buys(voucher("For you", "For him", "For nobody"))
	for _, a := range read[api.OrderPage](t, c.want(200, "GET", at, nil)).Lines[0].Asked {
		if a.Key == "words" && *a.Words != "1: For you\n2: For him" {
			t.Errorf("%q", *a.Words)
		}
	}
	h.audit()
}

// The states of a draft are kept: what was typed without a pause is undone
// together, by anybody, and can be done again.
func TestUndoingADraft(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	at := "/api/desk/products/1"
	p := read[api.DeskProduct](t, d.want(200, "GET", at, nil))
	type change struct {
		title     string
		continues bool
	}
	for _, c := range []change{{"A", false}, {"Ab", true}, {"Abc", true}, {"Other", false}} {
		p.Draft.Title = c.title
		p = read[api.DeskProduct](t, d.want(200, "PUT", at+"/draft", fields{"version": p.Version, "draft": p.Draft, "continues": c.continues}))
	}
	walk := func(direction, want string, undo, redo bool) {
		t.Helper()
		p = read[api.DeskProduct](t, d.want(200, "POST", at+"/draft/"+direction, fields{"version": p.Version}))
		if p.Draft.Title != want || p.CanUndo != undo || p.CanRedo != redo {
			t.Errorf("%s: %q, undo %v, redo %v", direction, p.Draft.Title, p.CanUndo, p.CanRedo)
		}
	}
	walk("undo", "Abc", true, true)
	walk("undo", "Sky chart for your night", false, true)
	if p.Changed {
		t.Error("the first state differs from what is on sale")
	}
	d.refused(409, "", "POST", at+"/draft/undo", fields{"version": p.Version})
	walk("redo", "Abc", true, true)
	walk("redo", "Other", true, false)
	walk("undo", "Abc", true, true)
	d.refused(409, "", "POST", at+"/draft/redo", fields{"version": p.Version - 1})
	p.Draft.Title = "Elsewhere"
	p = read[api.DeskProduct](t, d.want(200, "PUT", at+"/draft", fields{"version": p.Version, "draft": p.Draft, "continues": true}))
	if p.CanRedo {
		t.Error("what was undone is still ahead after something new")
	}
	said := read[[]string](t, d.want(200, "GET", at+"/differences", nil))
	if len(said) != 1 || said[0] != "The title reads “Elsewhere” instead of “Sky chart for your night”." {
		t.Errorf("%q", said)
	}
	walk("undo", "Abc", true, true)

	one := read[api.Presence](t, d.want(200, "POST", at+"/presence/one", nil))
	two := read[api.Presence](t, d.want(200, "POST", at+"/presence/two", nil))
	if len(one.Others) != 0 || !slices.Equal(two.Others, []string{"Ilse Brandt"}) || two.Version != p.Version {
		t.Errorf("%+v, %+v", one, two)
	}
	h.ahead.Store(int64(time.Minute))
	if later := read[api.Presence](t, d.want(200, "POST", at+"/presence/two", nil)); len(later.Others) != 0 {
		t.Errorf("who left is still there: %+v", later)
	}
}

func TestEditionsCanBeRead(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	at := "/api/desk/products/2"
	p := read[api.DeskProduct](t, d.want(200, "GET", at, nil))
	p.Draft.Title = "Night on the hill"
	p = read[api.DeskProduct](t, d.want(200, "PUT", at+"/draft", fields{"version": p.Version, "draft": p.Draft}))
	d.want(200, "POST", at+"/publish", fields{"version": p.Version})
	rows := read[[]api.EditionRow](t, d.want(200, "GET", at+"/editions", nil))
	if len(rows) != 2 || !rows[0].OnSale || rows[0].Number != 2 || rows[1].Orders != 6 {
		t.Errorf("%+v", rows)
	}
	e := read[api.EditionView](t, d.want(200, "GET", at+"/editions/1", nil))
	for _, q := range e.Draft.Questions {
		if q.Sheet != 0 {
			t.Errorf("%s comes from a sheet", q.Key)
		}
	}
	if said := read[[]string](t, d.want(200, "GET", at+"/differences?from=1", nil)); len(said) != 1 {
		t.Errorf("%q", said)
	}
	d.refused(404, "", "GET", at+"/editions/9", nil)
	d.refused(404, "", "GET", "/api/desk/products/99/editions", nil)
}

// A sheet reaches the products that use it when it is published, all or none.
func TestSheetsReachTheirProducts(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	at := "/api/desk/sheets/1"
	s := read[api.SheetView](t, d.want(200, "GET", at, nil))
	if len(s.Used) != 3 || len(s.Reach) != 0 || s.Changed {
		t.Errorf("%+v", s)
	}
	s.Questions[0].Wording = "The way here"
	put := func() {
		s = read[api.SheetView](t, d.want(200, "PUT", at, fields{"version": s.Version, "name": s.Name, "questions": s.Questions, "rule": s.Rule}))
	}
	put()
	if len(s.Reach) != 3 || !s.Reach[0].Sold || !s.Changed {
		t.Errorf("%+v", s.Reach)
	}
	product := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/2", nil))
	if product.Edition != 1 || product.Linked[0].Wording != "How do you come?" {
		t.Errorf("the change arrived before it was published: %+v", product.Linked)
	}
	s = read[api.SheetView](t, d.want(200, "POST", at+"/publish", fields{"version": s.Version}))
	product = read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/2", nil))
	if product.Edition != 2 || product.Linked[0].Wording != "The way here" || product.Changed || s.Changed {
		t.Errorf("%+v", product)
	}

	// A product may have it differently, or go without it.
	product.Draft.Sheets = []api.SheetUse{{Sheet: 1, Changes: []api.SheetShift{{Key: "way", Wording: "How?", Choices: []string{"car", "bus"}}}}}
	product = read[api.DeskProduct](t, d.want(200, "PUT", "/api/desk/products/2/draft", fields{"version": product.Version, "draft": product.Draft}))
	if q := product.Linked[0]; q.Wording != "How?" || strings.Contains(string(q.Settings), "bicycle") || !product.Changed {
		t.Errorf("%+v", q)
	}
	product.Draft.Sheets = []api.SheetUse{{Sheet: 1, Detached: true}}
	product = read[api.DeskProduct](t, d.want(200, "PUT", "/api/desk/products/2/draft", fields{"version": product.Version, "draft": product.Draft}))
	if len(product.Linked) != 0 {
		t.Errorf("%+v", product.Linked)
	}

	// A key that a product has already would break what is on sale.
	s.Questions[0].Key = "guests"
	s.Questions = s.Questions[:1]
	put()
	p := d.refused(422, "Evening under the stars draft, Nights in the observatory cabin draft", "POST", at+"/publish", fields{"version": s.Version})
	if !strings.Contains(p.Errors[0].Message, "Two questions have the key") {
		t.Errorf("%+v", p.Errors)
	}
	d.refused(409, "", "PUT", at, fields{"version": 1, "name": s.Name, "questions": s.Questions, "rule": s.Rule})
	d.refused(422, "name title", "PUT", at, fields{"version": s.Version, "name": " ", "questions": s.Questions, "rule": s.Rule})
	d.refused(409, "", "DELETE", at, nil)
	d.refused(404, "", "GET", "/api/desk/sheets/99", nil)

	mine := read[api.SheetView](t, d.want(200, "POST", "/api/desk/sheets", fields{"name": "Mine", "ready": "stay"}))
	copied := read[api.SheetView](t, d.want(200, "POST", "/api/desk/sheets", fields{"name": "Copy", "sheet": mine.Id}))
	if len(mine.Questions) != 6 || len(copied.Questions) != 6 {
		t.Errorf("%d, %d questions", len(mine.Questions), len(copied.Questions))
	}
	d.want(204, "DELETE", fmt.Sprintf("/api/desk/sheets/%d", copied.Id), nil)
	if all := read[[]api.SheetRow](t, d.want(200, "GET", "/api/desk/sheets", nil)); len(all) != 3 || all[0].Name != "Before you come" {
		t.Errorf("%+v", all)
	}
	h.audit()
}

func TestPicturesOfTheSeller(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	add := func(status int, body []byte) answer {
		return d.want(status, "POST", "/api/desk/pictures", string(body), "Content-Type", "application/octet-stream")
	}
	name := read[api.Picture](t, add(200, pngOf(t, 3000, 1000))).Name
	if again := read[api.Picture](t, add(200, pngOf(t, 3000, 1000))).Name; again != name || !strings.HasPrefix(name, "own-") {
		t.Errorf("%s and %s", name, again)
	}
	if all := read[[]string](t, d.want(200, "GET", "/api/desk/pictures", nil)); len(all) != 1 || all[0] != name {
		t.Errorf("%v", all)
	}
	for _, bad := range [][]byte{nil, []byte("<svg onload=alert(1)>"), []byte("GIF89a")} {
		if p := read[problemDocument](t, add(422, bad)); p.codes() != "picture file_type" {
			t.Errorf("%+v", p)
		}
	}
	h.client().refused(401, "", "GET", "/api/desk/pictures", nil)
}

// The day on which a draft is tried can be set, and must be one.
func TestTryingOnAnotherDay(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	p := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/5", nil))
	try := func(day string) api.TrialResult {
		return read[api.TrialResult](t, d.want(200, "POST", "/api/desk/products/5/try", fields{"draft": p.Draft, "quantity": 1, "answers": stay()["answers"], "day": day}))
	}
	if r := try("2026-11-24"); len(r.Evaluation.Faults) != 1 || r.Efforts[0].Fields != 6 { // the arrival
		t.Errorf("%+v %+v", r.Evaluation.Faults, r.Efforts)
	}
	if r := try("2026-12-08"); len(r.Evaluation.Faults) != 2 {
		t.Errorf("%+v", r.Evaluation.Faults)
	}
	d.refused(422, "day day", "POST", "/api/desk/products/5/try", fields{"draft": p.Draft, "quantity": 1, "answers": fields{}, "day": "2026-02-30"})
}

// The same answer given in another way is stored the same, so that changing
// nothing is no change: no history, no mark on the work.
func TestSayingTheSameAgainIsNoChange(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := c.buys(stay())
	line := read[api.OrderPage](t, c.want(200, "GET", at, nil)).Lines[0]
	answers := at + "/lines/" + itoa(line.Id) + "/answers"
	for _, phone := range []string{"+49 30 23125 014", "030/23125014", "(030) 23 125 014", "+493023125014"} {
		page := read[api.OrderPage](t, c.want(200, "PATCH", answers, fields{"version": line.Version, "answers": fields{"phone": phone}}))
		line = page.Lines[0]
		if string(line.Answers["phone"]) != `"+493023125014"` || len(line.History) != 0 {
			t.Errorf("%s: %s, %+v", phone, line.Answers["phone"], line.History)
		}
	}
	rules := fields{"agreed": true, "version": "3"}
	line = read[api.OrderPage](t, c.want(200, "PATCH", answers, fields{"version": line.Version, "answers": fields{"rules": rules}})).Lines[0]
	h.ahead.Store(int64(3 * time.Hour))
	line = read[api.OrderPage](t, c.want(200, "PATCH", answers, fields{"version": line.Version, "answers": fields{"rules": rules}})).Lines[0]
	if len(line.History) != 1 || !strings.Contains(string(line.Answers["rules"]), "2026-11-24T08:30:00Z") {
		t.Errorf("%s, %+v", line.Answers["rules"], line.History)
	}
	c.refused(409, "", "PATCH", answers, fields{"version": line.Version - 1, "answers": fields{"phone": "030 1"}})
	h.audit()
}

// A question that an edition asks no more stays readable in the orders that
// were asked it.
func TestSwitchingAQuestionOff(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	at := c.buys(with(chart(), fields{"line": "#b08d3c"}))
	p := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/1", nil))
	for i := range p.Draft.Questions {
		if k := p.Draft.Questions[i].Key; k == "line" || k == "gift" {
			p.Draft.Questions[i].Off = true
		}
	}
	p = read[api.DeskProduct](t, d.want(200, "PUT", "/api/desk/products/1/draft", fields{"version": p.Version, "draft": p.Draft}))
	d.want(200, "POST", "/api/desk/products/1/publish", fields{"version": p.Version})
	page := read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/sky-chart", nil))
	if slices.ContainsFunc(page.Questions, func(q api.QuestionView) bool { return q.Key == "line" }) {
		t.Error("a question that is switched off is on the page")
	}
	e := read[api.Evaluation](t, c.want(200, "POST", "/api/shop/products/sky-chart/evaluate", fields{"quantity": 1, "answers": with(chart(), fields{"line": "#b08d3c", "gift": true})["answers"]}))
	if slices.ContainsFunc(e.Asked, func(a api.AskedQuestion) bool { return a.Key == "line" || a.Key == "recipient" }) {
		t.Errorf("%+v", e.Asked)
	}
	old := read[api.OrderPage](t, c.want(200, "GET", at, nil)).Lines[0]
	i := slices.IndexFunc(old.Asked, func(a api.AskedQuestion) bool { return a.Key == "line" })
	if i < 0 || old.Asked[i].Words == nil || !strings.HasPrefix(*old.Asked[i].Words, "Brass, #b08d3c; text in black") {
		t.Errorf("%+v", old.Asked)
	}
	h.audit()
}

// The mail address of an order is typed by anybody. What was kept of the person
// it belongs to is told only to whoever has a link that was mailed there, and an
// order of somebody else changes none of it.
func TestTypingAnAddressYieldsNothing(t *testing.T) {
	h := open(t, nil)
	cabin := func(phone string) fields { return with(stay(), fields{"phone": phone}) }
	buys := func(phone string) (client *client, at, mailed string) {
		t.Helper()
		client = h.client()
		at = client.buys(cabin(phone))
		body := h.lastMail().Body
		mailed = "/api/shop/orders/" + strings.Fields(body[strings.Index(body, "/o/")+3:])[0]
		return client, at, mailed
	}
	known := func(c *client, at string) string {
		t.Helper()
		return string(read[api.Known](t, c.want(200, "GET", at+"/known", nil)).Answers["phone"].Answer)
	}
	ada, bought, mailed := buys("030 23125 014")
	if got := known(ada, bought); got != `"+493023125014"` { // within that one order
		t.Errorf("her own browser is told %s", got)
	}
	ada.want(200, "GET", mailed, nil)
	ada.want(204, "POST", mailed+"/press", nil)

	// Somebody else orders under her address.
	eve, theirs, sent := buys("030 23125 999")
	eve.want(200, "GET", theirs, nil)
	if got := known(eve, theirs); got != `"+493023125999"` {
		t.Errorf("whoever types her address is told %s", got)
	}
	eve.want(200, "GET", bought[:len(bought)-22]+theirs[len(theirs)-22:], nil)
	if got := known(ada, mailed); got != `"+493023125014"` {
		t.Errorf("an order under her address made it %s", got)
	}
	// Even if she opens the mail that it brought her.
	ada.want(200, "GET", sent, nil)
	ada.want(204, "POST", sent+"/press", nil)
	if got := known(ada, mailed); got != `"+493023125014"` {
		t.Errorf("opening its mail made it %s", got)
	}
	// What she herself says anew is kept.
	page := read[api.OrderPage](t, ada.want(200, "GET", mailed, nil))
	change := fields{"version": page.Lines[0].Version, "answers": fields{"phone": "030 23125 015"}}
	ada.want(200, "PATCH", mailed+"/lines/"+itoa(page.Lines[0].Id)+"/answers", change)
	if got := known(ada, sent); got != `"+493023125015"` {
		t.Errorf("after she changed it herself it is %s", got)
	}
	h.audit()
}
