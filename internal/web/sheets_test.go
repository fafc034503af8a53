package web

import (
	"maps"
	"slices"
	"strings"
	"testing"

	"ruvo/api"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
)

// wrapped is a sheet's content: wrapping that costs something and is work.
func wrapped(silk int) fields {
	return fields{"name": "Wrapping", "rule": fields{}, "questions": []fields{{
		"key": "wrap", "kind": "one_choice", "moment": "choosing", "wording": "Wrapped?", "settings": fields{"choices": []fields{{"code": "silk", "label": "In silk"}, {"code": "box", "label": "In a box"}}},
	}}, "charges": []fields{
		{"on": "wrap", "choice": "silk", "effect": "adds", "rate": fields{"amount": silk}}, {"on": "wrap", "choice": "box", "effect": "adds", "rate": fields{"amount": silk + 200}},
	}, "steps": []fields{
		{"key": "wrap_it", "title": "Wrap it", "minutes": fields{"fixed": 15}, "needs": []string{"wrap"}, "start": fields{"on": "payment"}, "due": fields{"rule": "working_days", "count": 2}},
	}}
}

// An extra is priced once, in a sheet, for two products; one of them has it at a
// figure of its own. A new price reaches both, and the last orders of both are
// compared first.
func TestASheetPricesItsProducts(t *testing.T) {
	h := open(t, nil)
	d, c := h.desk(), h.client()
	s := read[api.SheetView](t, d.want(200, "POST", "/api/desk/sheets", fields{"name": "Wrapping"}))
	at := "/api/desk/sheets/" + itoa(s.Id)
	put := func(silk int) {
		body := wrapped(silk)
		body["version"] = s.Version
		s = read[api.SheetView](t, d.want(200, "PUT", at, body))
	}
	put(500)
	if len(s.Charges) != 2 || len(s.Steps) != 1 || s.Says[0] != "adds 5.00" || len(s.Findings) != 0 {
		t.Fatalf("%+v", s)
	}
	s = read[api.SheetView](t, d.want(200, "POST", at+"/publish", fields{"version": s.Version}))
	link := func(at string, use product.SheetUse) {
		p := read[api.DeskProduct](t, d.want(200, "GET", at, nil))
		p.Draft.Sheets = append(p.Draft.Sheets, use)
		p = read[api.DeskProduct](t, d.want(200, "PUT", at+"/draft", fields{"version": p.Version, "draft": p.Draft}))
		d.want(200, "POST", at+"/publish", fields{"version": p.Version})
	}
	lamp, frame := "/api/desk/products/7", "/api/desk/products/6"
	link(lamp, product.SheetUse{Sheet: product.SheetID(s.Id)})
	link(frame, product.SheetUse{Sheet: product.SheetID(s.Id), Figures: []product.SheetFigure{
		{Place: "charges.wrap.silk.1.rate", Amount: new(money.Amount(650).Fine())}, {Place: "steps.wrap_it.minutes", Minutes: new(25)},
	}})
	price := func(slug string) int {
		e := read[api.Evaluation](t, c.want(200, "POST", "/api/shop/products/"+slug+"/evaluate", fields{"quantity": 1, "answers": fields{"wrap": "silk"}}))
		for _, l := range e.Slip.Lines {
			if l.Label == "In silk" {
				return int(l.Amount)
			}
		}
		return 0
	}
	if a, b := price("red-lamp"), price("oak-frame"); a != 500 || b != 650 {
		t.Errorf("%d and %d", a, b)
	}
	try := read[api.TrialResult](t, d.want(200, "POST", frame+"/try", fields{"draft": read[api.DeskProduct](t, d.want(200, "GET", frame, nil)).Draft, "quantity": 1, "answers": fields{"wrap": "silk"}}))
	if len(*try.Figures) != 3 || *(*try.Figures)[0].Amount != money.Amount(500).Fine() || (*try.Figures)[2].Of != "Wrap it" || len(*try.LinkedCharges) != 2 || try.Items[len(try.Items)-1].Minutes != 25 {
		t.Errorf("%+v of %+v", *try.Figures, try.Items)
	}
	c.buys(fields{"product": "red-lamp", "quantity": 1, "answers": fields{"engraving": "Vega", "wrap": "silk"}})
	put(600)
	if len(s.Reach) != 2 || s.Reach[0].Before.Most == s.Reach[0].After.Most && s.Reach[1].Before.Most == s.Reach[1].After.Most {
		t.Errorf("%+v", s.Reach)
	}
	replay := read[api.Replay](t, d.want(200, "POST", at+"/replay", nil))
	if replay.Orders < 2 || len(replay.Rows) != 1 || replay.Rows[0].New-replay.Rows[0].Old != 100 {
		t.Errorf("%+v", replay)
	}
	d.want(200, "POST", at+"/publish", fields{"version": s.Version})
	if a, b := price("red-lamp"), price("oak-frame"); a != 600 || b != 650 {
		t.Errorf("%d and %d", a, b)
	}
	h.audit() // the order keeps what was agreed
	// What is wrong with a sheet's charges is told with its place, and nothing is published.
	bad := wrapped(600)
	bad["version"], bad["charges"] = s.Version, []fields{{"on": "ghost", "effect": "adds", "rate": fields{"amount": 1}}}
	s = read[api.SheetView](t, d.want(200, "PUT", at, bad))
	d.refused(422, "charges[0] draft", "POST", at+"/publish", fields{"version": s.Version})
	d.refused(400, "charges[1].rate.amount type", "PUT", at, fields{"version": s.Version, "name": "W", "rule": fields{}, "questions": []fields{}, "charges": []fields{{"effect": "adds", "rate": fields{}}, {"effect": "adds", "rate": fields{"amount": "much"}}}})
}

// Questions of a product go into a sheet with their charges and steps; what is
// computed stays the same, and another product can use them.
func TestQuestionsIntoASheet(t *testing.T) {
	h := open(t, nil)
	d, c := h.desk(), h.client()
	at := "/api/desk/products/1"
	p := read[api.DeskProduct](t, d.want(200, "GET", at, nil))
	total := func() int {
		return int(read[api.Evaluation](t, c.want(200, "POST", "/api/shop/products/sky-chart/evaluate", fields{"quantity": 1, "answers": chart()["answers"]})).Slip.Total)
	}
	was := total()
	p = read[api.DeskProduct](t, d.want(200, "POST", at+"/take", fields{"version": p.Version, "questions": []string{"title", "paper"}, "name": "On the chart"}))
	if len(p.Draft.Sheets) == 0 || len(p.Linked) != 3 || !p.Changed || len(p.Findings) > 1 {
		t.Fatalf("%+v of %+v", p.Linked, p.Findings)
	}
	sheets := read[[]api.SheetRow](t, d.want(200, "GET", "/api/desk/sheets", nil))
	var made api.SheetRow
	for _, s := range sheets {
		if s.Name == "On the chart" {
			made = s
		}
	}
	view := read[api.SheetView](t, d.want(200, "GET", "/api/desk/sheets/"+itoa(made.Id), nil))
	if len(view.Questions) != 2 || len(view.Charges) != 1 || !view.Published || len(view.Used) != 1 {
		t.Errorf("%+v", view)
	}
	d.want(200, "POST", at+"/publish", fields{"version": p.Version})
	if now := total(); now != was {
		t.Errorf("the chart costs %d instead of %d", now, was)
	}
	// One more goes into the sheet that is there; what is on sale asks it once.
	p = read[api.DeskProduct](t, d.want(200, "GET", at, nil))
	p = read[api.DeskProduct](t, d.want(200, "POST", at+"/take", fields{"version": p.Version, "questions": []string{"line"}, "sheet": made.Id}))
	if len(p.Linked) != 4 || total() != was {
		t.Errorf("%+v", p.Linked)
	}
	page := read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/sky-chart", nil))
	seen := 0
	for _, q := range page.Questions {
		if q.Key == "line" {
			seen++
		}
	}
	if seen != 1 {
		t.Errorf("the colour of the line is asked %d times", seen)
	}
	for body, want := range map[string]string{
		`"questions":["ghost"],"name":"X"`: "no question “ghost”", `"questions":[],"name":"X"`: "answer this",
	} {
		out := d.refused(422, "questions sheet_take", "POST", at+"/take", `{"version":`+itoa(int64(p.Version))+`,`+body+`}`)
		if !strings.Contains(out.Errors[0].Message, want) {
			t.Errorf("%s: %s", body, out.Errors[0].Message)
		}
	}
	d.refused(422, "name title", "POST", at+"/take", fields{"version": p.Version, "questions": []string{"size"}})
	d.refused(409, "", "POST", at+"/take", fields{"version": 1, "questions": []string{"size"}, "name": "X"})
	h.audit()
}

// What a sheet asks is counted across all products that use it; an answer of the whole
// order stands on each of its lines and counts once.
func TestAnswersToASheet(t *testing.T) {
	h := open(t, nil)
	d, c := h.desk(), h.client()
	count := func() map[string]int {
		t.Helper()
		table := read[api.AnswerTable](t, d.want(200, "GET", "/api/desk/sheets/2/answers", nil))
		if len(table.Columns) != 1 || table.Columns[0].Key != "heard" || table.Title != "How people find us" {
			t.Fatalf("%+v", table.Columns)
		}
		n := map[string]int{}
		for _, one := range *table.Columns[0].Counts {
			n[one.What] = one.N
		}
		return n
	}
	before := count()
	c.buys(with(chart(), fields{"heard": "fair"}), with(rescue(), fields{"heard": "fair"}))
	c.buys(with(rescue(), fields{"heard": "net"}))
	c.buys(with(chart(), fields{"title": "Nobody told us"}))
	after := count()
	if after["a fair"] != before["a fair"]+1 || after["the net"] != before["the net"]+1 || after["a friend"] != before["a friend"] {
		t.Errorf("%v, and then %v", before, after)
	}
	table := read[api.AnswerTable](t, d.want(200, "GET", "/api/desk/sheets/2/answers", nil))
	if len(table.Rows) < 4 || table.Rows[1].Product != "Photo rescue" || table.Rows[2].Cells["heard"].Words != table.Rows[3].Cells["heard"].Words {
		t.Errorf("%+v", table.Rows[:4])
	}
	chart := read[api.AnswerTable](t, d.want(200, "GET", "/api/desk/products/1/answers", nil))
	for _, col := range chart.Columns {
		if (col.Sheet != nil) != (col.Key == "heard") {
			t.Errorf("%s comes from sheet %v", col.Key, col.Sheet)
		}
	}
	// What was answered while a product used the sheet still counts, and still stands there.
	p := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/1", nil))
	p.Draft.Sheets = slices.DeleteFunc(p.Draft.Sheets, func(u product.SheetUse) bool { return u.Sheet == 2 })
	p = read[api.DeskProduct](t, d.want(200, "PUT", "/api/desk/products/1/draft", fields{"version": p.Version, "draft": p.Draft}))
	d.want(200, "POST", "/api/desk/products/1/publish", fields{"version": p.Version})
	if now := count(); !maps.Equal(now, after) {
		t.Errorf("%v, and then without the chart %v", after, now)
	}
	if again := read[api.AnswerTable](t, d.want(200, "GET", "/api/desk/sheets/2/answers", nil)); again.All != table.All {
		t.Errorf("%d rows, and then without the chart %d", table.All, again.All)
	}
	d.refused(404, "", "GET", "/api/desk/sheets/99/answers", nil)
	unused := read[api.SheetView](t, d.want(200, "POST", "/api/desk/sheets", fields{"name": "Not used"}))
	if table := read[api.AnswerTable](t, d.want(200, "GET", "/api/desk/sheets/"+itoa(unused.Id)+"/answers", nil)); len(table.Rows) != 0 {
		t.Errorf("%+v", table.Rows)
	}
}
