package web

import (
	"fmt"
	"sync"
	"testing"

	"ruvo/api"
	"ruvo/internal/standin/cards"
)

func (c *client) stock(body fields) []api.StockRow {
	c.t.Helper()
	return read[[]api.StockRow](c.t, c.want(200, "POST", "/api/desk/stock", body))
}

func (c *client) stocked(id int64) api.StockRow {
	c.t.Helper()
	for _, r := range read[[]api.StockRow](c.t, c.want(200, "GET", "/api/desk/stock", nil)) {
		if r.Id == id {
			return r
		}
	}
	c.t.Fatalf("%d is not counted", id)
	return api.StockRow{}
}

// counts begins to count something of a product and gives its id.
func (c *client) counts(body fields) int64 {
	c.t.Helper()
	id := int64(0)
	for _, r := range c.stock(body) {
		id = max(id, r.Id)
	}
	return id
}

// Three are left and two hundred people want one at once, several times over:
// three get one, and nobody else.
func TestTheLastPiecesAreNeverOversold(t *testing.T) {
	for round := range 3 {
		h := open(t, nil)
		desk := h.desk()
		id := desk.counts(fields{"product": 3, "pieces": 3})
		photos := fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}}
		var wg sync.WaitGroup
		var mu sync.Mutex
		held, paid := 0, 0
		shared := h.client() // one connection pool for all
		for i := range 200 {
			wg.Go(func() {
				at := checkout()
				ok := shared.send("PUT", at, basket(photos)).status == 200
				sold := false
				if ok {
					p, _ := shared.paying(at, cards.Works, fmt.Sprintf("attempt-%d-%d", round, i))
					sold = p.State == "settled"
				}
				mu.Lock()
				defer mu.Unlock()
				if ok {
					held++
				}
				if sold {
					paid++
				}
			})
		}
		wg.Wait()
		if held != 3 || paid != 3 {
			t.Errorf("%d held and %d paid for the last 3", held, paid)
		}
		if r := desk.stocked(id); r.Pieces != 0 || r.State != "out" || r.Held != 0 {
			t.Errorf("%+v", r)
		}
		h.audit()
	}
}

func TestStockFromHoldToReturn(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	id := desk.counts(fields{"product": 1, "question": "size", "choice": "large", "pieces": 2, "low": 1})
	desk.refused(422, "choice stock_there", "POST", "/api/desk/stock", fields{"product": 1, "question": "size", "choice": "large", "pieces": 2})
	desk.refused(422, "choice stock_choice", "POST", "/api/desk/stock", fields{"product": 1, "question": "size", "choice": "tiny", "pieces": 2})
	desk.refused(422, "choice stock_choice, pieces pieces", "POST", "/api/desk/stock", fields{"product": 1, "question": "night", "pieces": -2})

	first := checkout()
	c.want(200, "PUT", first, basket(chart()))
	if r := desk.stocked(id); r.Held != 1 || r.Left != 1 || r.State != "low" || r.Label != "Size of the file: Large, 50 × 70 cm" {
		t.Errorf("%+v", r)
	}
	// The page tells how few are left.
	page := read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/sky-chart", nil))
	for _, q := range page.Questions {
		if q.Key == "size" && (q.ChoicesLeft == nil || (*q.ChoicesLeft)["large"] != 1) {
			t.Errorf("%+v", q.ChoicesLeft)
		}
	}
	second := checkout()
	h.client().want(200, "PUT", second, basket(chart()))
	third := h.client()
	third.refused(422, "lines.0.size sold_out_choice", "PUT", checkout(), basket(chart()))
	third.want(200, "PUT", checkout(), basket(with(chart(), fields{"size": "small"})))
	// A hold that ran out is taken by somebody else, and who comes back is told.
	h.ahead.Store(int64(h.server.Shop.Hold) + 1)
	link := third.buys(chart())
	fourth := checkout()
	third.want(200, "PUT", fourth, basket(chart()))
	third.pay(fourth)
	c.refused(422, "lines.0.size sold_out_choice", "POST", first+"/pay", try("attempt-0001"))
	if r := desk.stocked(id); r.Pieces != 0 || r.State != "out" {
		t.Errorf("%+v", r)
	}
	e := read[api.Evaluation](t, c.want(200, "POST", "/api/shop/products/sky-chart/evaluate", fields{"quantity": 1, "answers": chart()["answers"]}))
	if e.Ready || e.Faults[0].Key != "size" {
		t.Errorf("%+v", e.Faults)
	}
	// The order is cancelled and its piece goes back.
	number := read[api.OrderPage](t, c.want(200, "GET", link, nil)).Number
	m := read[api.OrderMoney](t, desk.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/cancel", number), fields{"how": "all", "restock": true}))
	if m.State != "cancelled" || m.Returned != 3600 || m.Open != 0 {
		t.Errorf("%+v", m)
	}
	desk.refused(409, "", "POST", fmt.Sprintf("/api/desk/orders/%d/cancel", number), fields{"how": "all", "restock": true})
	desk.refused(404, "", "POST", "/api/desk/orders/99/cancel", fields{"how": "all", "restock": true})
	if r := desk.stocked(id); r.Pieces != 1 {
		t.Errorf("%+v", r)
	}
	desk.want(200, "PATCH", "/api/desk/stock", fields{"ids": []int64{id}, "add": 5, "why": "delivery"})
	desk.want(200, "PATCH", "/api/desk/stock", fields{"ids": []int64{id}, "set": 4, "low": 4})
	desk.refused(422, "pieces pieces", "PATCH", "/api/desk/stock", fields{"ids": []int64{id}, "set": 4, "add": 4})
	var said []string
	for _, x := range read[[]api.StockMove](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/stock/%d/changes", id), nil)) {
		said = append(said, fmt.Sprint(x.Delta, " ", x.Why, " ", x.By, " ", x.Number != nil))
	}
	want := "[-2 counted Ilse Brandt false 5 delivery Ilse Brandt false 1 returned Ilse Brandt true -1 sold Ada Quill true -1 sold Ada Quill true 2 counted Ilse Brandt false]"
	if fmt.Sprint(said) != want {
		t.Errorf("%v", said)
	}
	h.audit()
	desk.want(200, "DELETE", fmt.Sprintf("/api/desk/stock/%d", id), nil)
	h.audit()
}

// A choice that closes its product when it is sold out.
func TestAChoiceThatClosesTheProduct(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	id := desk.counts(fields{"product": 1, "question": "paper", "choice": "wine", "pieces": 0, "closes": true})
	front := read[api.ShopFront](t, c.want(200, "GET", "/api/shop", nil))
	if front.Products[0].SoldOut == nil || !*front.Products[0].SoldOut {
		t.Errorf("%+v", front.Products[0])
	}
	c.refused(422, "lines.0.quantity sold_out", "PUT", checkout(), basket(chart()))
	desk.want(200, "PATCH", "/api/desk/stock", fields{"ids": []int64{id}, "closes": false})
	c.want(200, "PUT", checkout(), basket(chart()))
}

// A cancelled order makes no work, frees its place, and stays as it was ordered.
func TestCancelling(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	before := len(read[[]api.Opening](t, c.want(200, "GET", "/api/shop/products/evening-under-the-stars/openings", nil)))
	link := c.buys(c.evening(8, 2))
	page := read[api.OrderPage](t, c.want(200, "GET", link, nil))
	desk.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/cancel", page.Number), fields{"how": "keep"})
	d := read[api.Docket](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/dockets/%d", page.Lines[0].Id), nil))
	if len(d.Work) != 0 || d.Money.State != "cancelled" || d.Money.Returned != 0 || d.Brief != "closed" || d.Slip.Total != page.Slip.Total {
		t.Errorf("%+v", d.Money)
	}
	desk.refused(409, "", "POST", fmt.Sprintf("/api/desk/dockets/%d/reopen", page.Lines[0].Id), nil)
	if after := len(read[[]api.Opening](t, c.want(200, "GET", "/api/shop/products/evening-under-the-stars/openings", nil))); after != before {
		t.Errorf("%d openings, %d before", after, before)
	}
	if p := read[api.OrderPage](t, c.want(200, "GET", link, nil)); p.Money.State != "cancelled" {
		t.Errorf("%+v", p.Money)
	}
	h.audit()
}
