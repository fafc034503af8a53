package web

import (
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/standin/cards"
)

// orders buys lines and gives the order page and its path.
func (c *client) orders(lines ...fields) (api.OrderPage, string) {
	c.t.Helper()
	link := c.buys(lines...)
	return read[api.OrderPage](c.t, c.want(200, "GET", link, nil)), link
}

func (c *client) moves(number int64, move string, how fields) api.OrderMoney {
	c.t.Helper()
	return read[api.OrderMoney](c.t, c.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/%s", number, move), how))
}

func photos() fields {
	return fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}}
}

// Money is given back by amount and by line, with a reason, split by tax, and
// never more than was paid.
func TestGivingMoneyBack(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	o, _ := c.orders(chart(), photos()) // 36.00 and 28.00, with 19 % in both
	at := fmt.Sprintf("/api/desk/orders/%d/return", o.Number)
	for _, bad := range []struct {
		body  fields
		codes string
	}{
		{fields{"amount": 500}, "note money_why"}, {fields{"amount": 6401, "note": "too much"}, "amount more_than_charged"},
		{fields{"amount": -5, "note": "below zero"}, "amount money_amount"}, {fields{"amount": 0, "note": "nothing"}, "amount money_amount"},
		{fields{"amount": 500, "note": "x", "way": "stamps"}, "way money_way"}, {fields{"amount": 500, "note": "x", "way": "cash", "day": "2026-11-25"}, "day money_day"},
		{fields{"amount": 500, "note": "x", "way": "cash", "day": "2026-11-23"}, "day money_day"}, {fields{"amount": 500, "note": "x", "way": "cash", "day": "soon"}, "day money_day"},
	} {
		desk.refused(422, bad.codes, "POST", at, bad.body)
	}
	desk.refused(400, "currency unknown", "POST", at, fields{"amount": 500, "note": "x", "currency": "JPY"})
	desk.refused(422, "amount required", "POST", at+"/preview", fields{})
	p := read[api.MovePreview](t, desk.want(200, "POST", at+"/preview", fields{"amount": 640}))
	// 6.40 of 64.00: a tenth off each line, 3.60 and 2.80; 19 % in it are 1.02.
	if p.Total != 640 || p.ByCard != 640 || p.Otherwise != 0 || p.Open != 0 || len(p.Lines) != 2 || p.Lines[0].Off != 360 || p.Lines[1].Off != 280 || p.Taxes[0].Amount != 102 || p.Taxes[0].Net != 538 {
		t.Errorf("%+v", p)
	}
	if m := read[api.OrderPage](t, c.want(200, "GET", "/api/shop/orders/"+h.linkTo(o.Number), nil)).Money; m.Returned != 0 {
		t.Error("a preview moved money")
	}
	if m := desk.moves(o.Number, "return", fields{"amount": 640, "note": "a tenth off, for the wait"}); m.Returned != 640 || m.Kept != 5760 || m.Open != 0 || m.Overpaid != 0 {
		t.Errorf("%+v", m)
	}
	line := o.Lines[1].Id
	m := desk.moves(o.Number, "return", fields{"lines": []int64{line}, "note": "the pictures were too dark"})
	if m.Returned != 640+2520 || m.Open != 0 {
		t.Errorf("%+v", m)
	}
	last := m.Ledger[len(m.Ledger)-1]
	if last.Kind != "returned" || *last.Note != "the pictures were too dark" || *last.By != "Ilse Brandt" {
		t.Errorf("%+v", last)
	}
	desk.refused(409, "", "POST", at, fields{"lines": []int64{line}, "note": "once more"})
	desk.refused(422, "amount more_than_charged", "POST", at, fields{"amount": 3241, "note": "all of it and a cent"})
	if m := desk.moves(o.Number, "return", fields{"amount": 3240, "note": "all that is left"}); m.Kept != 0 || m.Returned != 6400 {
		t.Errorf("%+v", m)
	}
	desk.refused(409, "", "POST", at, fields{})
	h.agree()
}

// What came in by hand is given back by hand; it is noted with its way, its day
// and a note.
func TestMoneyByHand(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	o, link := c.orders(desk.inParts()) // 7.00 now by card, 21.00 later, 15.00 held
	h.ahead.Store(int64(3 * 24 * time.Hour))
	desk = h.desk()
	if m := desk.moves(o.Number, "receive", fields{"amount": 1000, "way": "transfer", "day": "2026-11-25", "note": "statement 12"}); m.Open != 1100 {
		t.Errorf("%+v", m)
	}
	m := desk.moves(o.Number, "receive", fields{"amount": 1500, "way": "cash"})
	if m.Open != 0 || m.Overpaid != 400 || m.Paid != 3200 || m.ByCard != 700 {
		t.Errorf("%+v", m)
	}
	at := m.Ledger[len(m.Ledger)-2].At.In(time.FixedZone("CET", 3600)).Format("2006-01-02")
	if at != "2026-11-25" || m.Ledger[len(m.Ledger)-2].Way != "transfer" {
		t.Errorf("it came in on %s: %+v", at, m.Ledger)
	}
	// By card as much goes back as came in by card: all of what is too much.
	path := fmt.Sprintf("/api/desk/orders/%d/", o.Number)
	if m := desk.moves(o.Number, "return", fields{}); m.Returned != 400 || m.Overpaid != 0 || m.ByCard != 300 {
		t.Errorf("%+v", m)
	}
	if m := desk.moves(o.Number, "return", fields{"amount": 1000, "way": "cash", "note": "he came by"}); m.Returned != 1400 || m.Kept != 1800 || m.Open != 0 {
		t.Errorf("%+v", m)
	}
	// The rest, 18.00: 3.00 by card, and the rest waits to be given back by hand.
	p := read[api.MovePreview](t, desk.want(200, "POST", path+"cancel/preview", fields{"how": "all"}))
	if p.Total != 1800 || p.ByCard != 300 || p.Otherwise != 1500 || p.Held != 1500 {
		t.Errorf("%+v", p)
	}
	if m := desk.moves(o.Number, "cancel", fields{"how": "all", "restock": true}); m.State != "cancelled" || m.Returned != 1700 || m.Overpaid != 1500 || m.Held != 0 {
		t.Errorf("%+v", m)
	}
	desk.refused(422, "amount not_by_card", "POST", path+"return", fields{})
	if m := desk.moves(o.Number, "return", fields{"way": "transfer"}); m.Overpaid != 0 || m.Kept != 0 {
		t.Errorf("%+v", m)
	}
	if page := read[api.OrderPage](t, c.want(200, "GET", link, nil)); page.Money.State != "cancelled" {
		t.Errorf("%+v", page.Money)
	}
	h.agree()
}

// A customer cancels within the rule and is told beforehand what comes back;
// beyond the rule they are told to write.
func TestACustomerCancels(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	evening := c.evening(8, 2)
	for _, o := range read[[]api.Opening](t, c.want(200, "GET", "/api/shop/products/evening-under-the-stars/openings", nil)) {
		if o.Left == 8 && o.Start.After(today.AddDate(0, 0, 9)) {
			evening = with(evening, fields{"evening": fields{"start": o.Start.Format(time.RFC3339), "people": 2}})
			break
		}
	}
	basketed := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": []fields{evening}}))
	if len(basketed.Cancelling) != 1 || basketed.Cancelling[0].Rules[0] != "Up to 7 days before the booking: all of it comes back." {
		t.Errorf("%+v", basketed.Cancelling)
	}
	o, link := c.orders(evening) // 48.00
	ids := []int64{o.Lines[0].Id}
	if o.Cancels == nil || !*(*o.Cancels)[0].Self || (*o.Cancels)[0].Off != 4800 {
		t.Errorf("%+v", o.Cancels)
	}
	start, err := time.Parse(time.RFC3339, evening["answers"].(fields)["evening"].(fields)["start"].(string))
	must(t, err)
	h.ahead.Store(int64(start.Add(-4 * 24 * time.Hour).Sub(today))) // between 7 and 2 days before
	p := read[api.MovePreview](t, c.want(200, "POST", link+"/cancel/preview", fields{"lines": ids}))
	if p.Total != 2400 || p.ByCard != 2400 || p.Lines[0].Words != "Up to 2 days before the booking: 50 % of 48.00" {
		t.Errorf("%+v", p)
	}
	c.refused(409, "", "POST", link+"/cancel", fields{"lines": ids, "total": 4800}) // as it was shown before
	c.refused(409, "", "POST", link+"/cancel", fields{"lines": []int64{}})
	h.ahead.Store(int64(start.Add(-25 * time.Hour).Sub(today)))
	c.refused(409, "", "POST", link+"/cancel", fields{"lines": ids, "total": 0})
	h.ahead.Store(int64(start.Add(-4 * 24 * time.Hour).Sub(today)))
	left := h.left(start)
	after := read[api.OrderPage](t, c.want(200, "POST", link+"/cancel", fields{"lines": ids, "total": 2400}))
	if after.Money.State != "cancelled" || after.Money.Returned != 2400 || after.Money.Kept != 2400 || after.Lines[0].Cancelled == nil {
		t.Errorf("%+v", after.Money)
	}
	if h.left(start) != left+2 {
		t.Errorf("%d places are left, %d before", h.left(start), left)
	}
	c.refused(409, "", "POST", link+"/cancel", fields{"lines": ids, "total": 2400})
	found := false
	for _, m := range read[[]api.Message](t, h.desk().want(200, "GET", "/api/desk/outbox", nil)) {
		found = found || m.To == "ada@example.org" && m.Subject == fmt.Sprintf("Cancelled: your order %d at Fernlight Sky Studio", o.Number)
	}
	if !found {
		t.Error("nobody was told by mail")
	}
	h.agree()
}

// left counts the places left at an instant.
func (h *house) left(start time.Time) int {
	h.t.Helper()
	for _, o := range read[[]api.Opening](h.t, h.client().want(200, "GET", "/api/shop/products/evening-under-the-stars/openings", nil)) {
		if o.Start.Equal(start) {
			return o.Left
		}
	}
	return 0
}

// One line of an order is cancelled: its work goes, what is finished stays, and
// the other line goes on. Line by line comes to the same as all at once.
func TestCancellingALine(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	o, link := c.orders(chart(), photos())
	docket := func(i int) api.Docket {
		return read[api.Docket](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/dockets/%d", o.Lines[i].Id), nil))
	}
	first := docket(0).Work[0]
	desk.want(200, "POST", "/api/desk/work/finish", fields{"items": []int64{first.Id}})
	before := len(docket(0).Work)
	// Work began on the chart, so by the rules nothing of it comes back any more;
	// the photographs come back whole.
	p := read[api.MovePreview](t, desk.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/cancel/preview", o.Number), fields{"how": "rule"}))
	if p.Total != 2800 || p.Lines[0].Off != 0 || p.Lines[1].Off != 2800 {
		t.Errorf("%+v", p)
	}
	m := desk.moves(o.Number, "cancel", fields{"how": "amount", "amount": 1800, "lines": []int64{o.Lines[0].Id}, "note": "half, as agreed"})
	if m.State != "placed" || m.Returned != 1800 {
		t.Errorf("%+v", m)
	}
	if d := docket(0); d.Cancelled == nil || len(d.Work) >= before || len(d.Work) == 0 || d.Work[0].Done == nil {
		t.Errorf("the chart's work: %+v", d.Work)
	}
	desk.refused(409, "", "POST", fmt.Sprintf("/api/desk/dockets/%d/reopen", o.Lines[0].Id), nil)
	c.refused(422, "title closed", "PATCH", fmt.Sprintf("%s/lines/%d/answers", link, o.Lines[0].Id), fields{"version": docket(0).Version, "answers": fields{"title": "Another"}})
	if d := docket(1); d.Cancelled != nil || len(d.Work) == 0 {
		t.Errorf("the photographs: %+v", d)
	}
	h.audit()
	after := read[api.OrderPage](t, c.want(200, "POST", link+"/cancel", fields{"lines": []int64{o.Lines[1].Id}, "total": 2800}))
	if after.Money.State != "cancelled" || after.Money.Returned != 4600 || after.Money.Kept != 1800 {
		t.Errorf("%+v", after.Money)
	}
	h.agree()
}

// What is still open of what stays charged stays due after cancelling, and no
// more is given back than was paid.
func TestCancellingWhatIsNotPaidYet(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	var half charge.CancelRule
	half.From = charge.FromAlways
	part := percentOf("50")
	half.Percent = &part
	desk.change(3, func(d *api.Draft) { d.Cancelling = &charge.Cancelling{Rules: []charge.CancelRule{half}} })
	o, link := c.orders(desk.inParts()) // 7.00 of 28.00 are paid
	m := desk.moves(o.Number, "cancel", fields{"how": "rule"})
	if m.State != "cancelled" || m.Open != 700 || m.Returned != 0 || m.Kept != 700 || m.Held != 0 {
		t.Errorf("%+v", m)
	}
	// It is still paid on the order page.
	if p := c.pays(link, cards.Works, "the-rest-of-it"); p.State != "settled" {
		t.Errorf("%+v", p)
	}
	if m := read[api.OrderPage](t, c.want(200, "GET", link, nil)).Money; m.Open != 0 || m.Kept != 1400 {
		t.Errorf("%+v", m)
	}
	h.agree()
}

// What is due can be transferred: the account is read as people write it, and
// one with a typing mistake is refused at its field and changes nothing.
func TestTheAccountForTransfers(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	o, link := c.orders(desk.inParts())
	page := func() api.OrderPage { return read[api.OrderPage](t, c.want(200, "GET", link, nil)) }
	if f := page().Transfer; f == nil || f.Amount != 2100 || f.Reference != "RF70 1043" || f.Code == nil || !strings.Contains(*f.Code, "EUR21.00") {
		t.Errorf("%+v", f)
	}
	terms := func() fields {
		var v fields
		must(t, json.Unmarshal(desk.want(200, "GET", "/api/desk/terms", nil).body, &v))
		return v
	}
	for account, codes := range map[string]string{
		`{"holder": "Ilse", "iban": "DE88370400440532013000"}`: "account account", `{"iban": "DE89370400440532013000"}`: "account account", `{"holder": "Ilse"}`: "account account",
	} {
		v := terms()
		v["account"] = json.RawMessage(account)
		desk.refused(422, codes, "PUT", "/api/desk/terms", v)
	}
	if !strings.HasPrefix(page().Transfer.Iban, "DE52 0000") {
		t.Errorf("%+v", page().Transfer)
	}
	v := terms()
	v["account"] = fields{"holder": "Ilse Brandt", "iban": " de89 3704 0044 0532 0130 00", "bic": "cobadeff"}
	desk.want(200, "PUT", "/api/desk/terms", v)
	if f := page().Transfer; f.Iban != "DE89 3704 0044 0532 0130 00" || *f.Bic != "COBADEFF" {
		t.Errorf("%+v", f)
	}
	desk.moves(o.Number, "receive", fields{"way": "transfer"})
	if page().Transfer != nil {
		t.Error("what is paid is asked for again")
	}
	v = terms()
	v["account"] = fields{}
	desk.want(200, "PUT", "/api/desk/terms", v)
	_, other := c.orders(desk.inParts())
	if f := read[api.OrderPage](t, c.want(200, "GET", other, nil)).Transfer; f != nil {
		t.Errorf("without an account: %+v", f)
	}
}

// Several people settle one order at once: what is open comes in once, and what
// goes back never is more than was paid, whoever is first.
func TestSettlingAtOnce(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	desks := []*client{h.desk(), h.desk(), h.desk()}
	o, _ := c.orders(desks[0].inParts())
	at := fmt.Sprintf("/api/desk/orders/%d/", o.Number)
	all := func(move string, how fields) (done int) {
		var wait sync.WaitGroup
		var n atomic.Int64
		for i := range 9 {
			wait.Go(func() {
				switch a := desks[i%3].send("POST", at+move, how); a.status {
				case 200:
					n.Add(1)
				case 409, 422:
				default:
					t.Errorf("%s: %d %s", move, a.status, a.body)
				}
			})
		}
		wait.Wait()
		return int(n.Load())
	}
	if n := all("receive", fields{"way": "cash"}); n != 1 {
		t.Errorf("what was open came in %d times", n)
	}
	if n := all("return", fields{"amount": 1000, "way": "cash", "note": "for the wait"}); n != 2 { // of 28.00
		t.Errorf("10.00 of 28.00 went back %d times", n)
	}
	if n := all("cancel", fields{"how": "all"}); n != 1 {
		t.Errorf("it was cancelled %d times", n)
	}
	m := read[api.OrderPage](t, c.want(200, "GET", "/api/shop/orders/"+h.linkTo(o.Number), nil)).Money
	if m.Paid != 2800 || m.Returned > 2800 || m.State != "cancelled" {
		t.Errorf("%+v", m)
	}
	h.agree()
}
