package web

import (
	"strings"
	"testing"

	"ruvo/api"
	"ruvo/internal/standin/cards"
)

// An answer that changes the price is changed once the customer agreed to the
// new total, where the product lets them.
func TestAnAnswerChangesThePrice(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	desk.change(1, func(d *api.Draft) { d.Reprices = true })
	o, link := c.orders(chart()) // 36.00
	at := link + "/lines/" + itoa(o.Lines[0].Id) + "/answers"
	longer := fields{"title": strings.Repeat("x", 34)} // ten letters more than 24, at 0.60
	version := 1
	body := func(answers fields, agreed int) fields {
		b := fields{"version": version, "answers": answers}
		if agreed > 0 {
			b["agreed"] = agreed
		}
		return b
	}
	p := read[api.PriceChange](t, c.want(200, "POST", at+"/preview", body(longer, 0)))
	if p.Before.Total != 3600 || p.After.Total != 4200 || p.Open != 600 || p.Overpaid != 0 {
		t.Errorf("%+v", p)
	}
	for _, refused := range []int{0, 3600, 4300} {
		c.refused(409, "", "PATCH", at, body(longer, refused))
	}
	if v := read[api.OrderPage](t, c.want(200, "GET", link, nil)); v.Slip.Total != 3600 || len(*v.Former) != 0 || v.Lines[0].Version != 1 {
		t.Errorf("a preview or a refusal changed something: %+v", v.Money)
	}
	v := read[api.OrderPage](t, c.want(200, "PATCH", at, body(longer, 4200)))
	if v.Slip.Total != 4200 || v.Money.Open != 600 || v.Money.DueNow != 600 || len(*v.Former) != 1 || (*v.Former)[0].Slip.Total != 3600 || v.Lines[0].Slip.Total != 4200 {
		t.Errorf("%+v", v.Money)
	}
	if p := c.pays(link, cards.Works, "the-difference"); p.State != "settled" {
		t.Errorf("%+v", p)
	}
	h.agree()
	version = 2
	v = read[api.OrderPage](t, c.want(200, "PATCH", at, body(fields{"title": "Short"}, 3600)))
	if v.Money.Open != 0 || v.Money.Overpaid != 600 || v.Money.Kept != 4200 {
		t.Errorf("%+v", v.Money)
	}
	if m := desk.moves(o.Number, "return", fields{}); m.Overpaid != 0 || m.Returned != 600 {
		t.Errorf("%+v", m)
	}
	// Once something was credited, the price stays.
	desk.moves(o.Number, "return", fields{"amount": 100, "note": "for the wait"})
	version = 3
	c.refused(422, "title price_settled", "PATCH", at, body(longer, 4200))
	h.agree()
}

// While a payment is under way, nothing changes the price.
func TestThePriceStaysWhileItIsPaid(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	desk.change(3, func(d *api.Draft) { d.Reprices = true })
	o, link := c.orders(desk.inParts())
	c.want(200, "POST", link+"/pay", try("the-rest-one"))
	at := link + "/lines/" + itoa(o.Lines[0].Id) + "/answers"
	c.refused(422, "pictures price_settled", "PATCH", at, fields{"version": 1, "answers": fields{"pictures": 6}, "agreed": 4600})
	c.want(200, "POST", link+"/leave", nil)
	v := read[api.OrderPage](t, c.want(200, "PATCH", at, fields{"version": 1, "answers": fields{"pictures": 6}, "agreed": 4600}))
	// 7.00 of 28.00 were paid; now 46.00 are charged, the difference at once.
	if v.Money.Open != 3900 || v.Money.DueNow != 1800 {
		t.Errorf("%+v", v.Money)
	}
	h.agree()
}

// What other answers take more of is taken from stock, and what they take less
// of is put back; what is not there is refused.
func TestStockFollowsAnswers(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	desk.change(1, func(d *api.Draft) { d.Reprices = true })
	wall := desk.counts(fields{"product": 1, "question": "size", "choice": "wall", "pieces": 1})
	o, link := c.orders(chart())
	at := link + "/lines/" + itoa(o.Lines[0].Id) + "/answers"
	p := read[api.PriceChange](t, c.want(200, "POST", at+"/preview", fields{"version": 1, "answers": fields{"size": "wall"}}))
	v := read[api.OrderPage](t, c.want(200, "PATCH", at, fields{"version": 1, "answers": fields{"size": "wall"}, "agreed": p.After.Total}))
	if left := desk.stocked(wall); left.Pieces != 0 || v.Slip.Total != p.After.Total {
		t.Errorf("%+v", left)
	}
	other, link2 := c.orders(chart())
	c.refused(422, "size sold_out_choice", "PATCH", link2+"/lines/"+itoa(other.Lines[0].Id)+"/answers", fields{"version": 1, "answers": fields{"size": "wall"}, "agreed": p.After.Total})
	c.want(200, "PATCH", at, fields{"version": 2, "answers": fields{"size": "large"}, "agreed": 3600})
	if left := desk.stocked(wall); left.Pieces != 1 {
		t.Errorf("%+v", left)
	}
	h.agree()
}

// An order from before something was counted took nothing of it: its answers can
// change whatever is left, and nothing moves.
func TestAnswersFromBeforeCounting(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	o, link := c.orders(chart())
	whole := desk.counts(fields{"product": 1, "pieces": 0})
	large := desk.counts(fields{"product": 1, "question": "size", "choice": "large", "pieces": 3})
	c.want(200, "PATCH", link+"/lines/"+itoa(o.Lines[0].Id)+"/answers", fields{"version": 1, "answers": fields{"title": "Another night"}})
	if a, b := desk.stocked(whole), desk.stocked(large); a.Pieces != 0 || b.Pieces != 3 {
		t.Errorf("%+v, %+v", a, b)
	}
	h.audit()
}
