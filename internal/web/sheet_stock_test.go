package web

import (
	"encoding/json"
	"fmt"
	"sync"
	"testing"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
)

// lamps makes a sheet that asks for a lamp on loan, used by the chart and the
// photo rescue, and gives its id.
func (c *client) lamps() int64 {
	c.t.Helper()
	s := read[api.SheetView](c.t, c.want(200, "POST", "/api/desk/sheets", fields{"name": "Lamps on loan"}))
	ask := product.Question{Question: question.Question{
		Key: "lamp", Kind: "one_choice", Wording: "A lamp on loan?", Moment: question.Choosing,
		Settings: json.RawMessage(`{"choices": [{"code": "red", "label": "Red"}, {"code": "white", "label": "White"}]}`),
	}}
	at := fmt.Sprintf("/api/desk/sheets/%d", s.Id)
	s = read[api.SheetView](c.t, c.want(200, "PUT", at, fields{"version": s.Version, "name": s.Name, "questions": []product.Question{ask}, "rule": s.Rule}))
	c.want(200, "POST", at+"/publish", fields{"version": s.Version})
	for _, id := range []int{1, 3} {
		c.change(id, func(d *api.Draft) { d.Sheets = append(d.Sheets, api.SheetUse{Sheet: product.SheetID(s.Id)}) })
	}
	return s.Id
}

// A choice of a sheet is counted once for all products that use it, and never
// oversold; a product that counts it by itself does not share.
func TestASheetsChoiceIsCountedOnce(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	sheet := desk.lamps()
	for _, bad := range []struct {
		status int
		codes  string
		body   fields
	}{
		{422, "product stock_of", fields{"pieces": 2}},
		{422, "product stock_of", fields{"sheet": sheet, "product": 1, "pieces": 2}},
		{422, "choice stock_choice", fields{"sheet": sheet, "pieces": 2}},
		{422, "choice stock_choice", fields{"sheet": sheet, "question": "lamp", "choice": "green", "pieces": 2}},
		{404, "", fields{"sheet": 99, "pieces": 2}},
	} {
		desk.refused(bad.status, bad.codes, "POST", "/api/desk/stock", bad.body)
	}
	id := desk.counts(fields{"sheet": sheet, "question": "lamp", "choice": "red", "pieces": 3})
	if r := desk.stocked(id); r.Title != "Lamps on loan" || r.Label != "A lamp on loan?: Red" || r.Product != nil || *r.Sheet != sheet {
		t.Errorf("%+v", r)
	}
	desk.refused(422, "choice stock_there", "POST", "/api/desk/stock", fields{"sheet": sheet, "question": "lamp", "choice": "red", "pieces": 2})
	lit := func(f fields) fields { return with(f, fields{"lamp": "red"}) }
	link := c.buys(lit(chart()))
	c.buys(lit(photos()))
	c.buys(photos())
	if r := desk.stocked(id); r.Pieces != 1 {
		t.Errorf("%+v", r)
	}
	// Both products at once, in one order: only one lamp is left.
	c.refused(422, "lines.1.lamp sold_out_choice", "PUT", checkout(), basket(lit(chart()), lit(photos())))
	var wg sync.WaitGroup
	var mu sync.Mutex
	held := 0
	for i := range 20 {
		wg.Go(func() {
			line := lit(chart())
			if i%2 == 0 {
				line = lit(photos())
			}
			if h.client().send("PUT", checkout(), basket(line)).status == 200 {
				mu.Lock()
				held++
				mu.Unlock()
			}
		})
	}
	wg.Wait()
	if held != 1 {
		t.Errorf("%d hold the last lamp", held)
	}
	page := read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/photo-rescue", nil))
	for _, q := range page.Questions {
		if q.Key == "lamp" && (q.ChoicesLeft == nil || (*q.ChoicesLeft)["red"] != 0) {
			t.Errorf("%+v", q.ChoicesLeft)
		}
	}
	number := read[api.OrderPage](t, c.want(200, "GET", link, nil)).Number
	desk.moves(number, "cancel", fields{"how": "all", "restock": true})
	if r := desk.stocked(id); r.Pieces != 2 {
		t.Errorf("%+v", r)
	}
	own := desk.counts(fields{"product": 3, "question": "lamp", "choice": "red", "pieces": 9})
	c.buys(lit(photos()))
	if r, shared := desk.stocked(own), desk.stocked(id); r.Pieces != 8 || shared.Pieces != 2 {
		t.Errorf("%+v %+v", r, shared)
	}
	desk.want(200, "DELETE", fmt.Sprintf("/api/desk/stock/%d", id), nil)
	h.audit()
}
