package web

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"io"
	"mime"
	"mime/multipart"
	"net/http"
	"net/mail"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/transfer"
	"ruvo/internal/message"
	"ruvo/internal/standin"
	"ruvo/internal/standin/bank"
	"ruvo/internal/standin/cards"
)

const account = "DE52000000000012345678" // of the sample business

// transfers orders by transfer, and gives the order page and its path.
func (c *client) transfers(lines ...fields) (api.OrderPage, string) {
	c.t.Helper()
	return c.transfersAs("ada@example.org", lines...)
}

func (c *client) transfersAs(email string, lines ...fields) (api.OrderPage, string) {
	c.t.Helper()
	at, body := checkout(), basket(lines...)
	body["email"] = email
	c.want(200, "PUT", at, body)
	p := read[api.Payment](c.t, c.want(200, "POST", at+"/pay", fields{"attempt": "attempt-0001", "way": "transfer"}))
	if p.State != "awaiting" || p.Link == nil {
		c.t.Fatalf("%+v", p)
	}
	link := "/api/shop/orders/" + *p.Link
	return read[api.OrderPage](c.t, c.want(200, "GET", link, nil)), link
}

// of gives a transfer with an order's reference.
func of(number int64, amount money.Amount) bank.Transfer {
	return bank.Transfer{Day: calendar.DayOf(today), Amount: amount, Currency: "EUR", Payer: "Quill, Ada", Reference: transfer.Reference(number)}
}

func camt(t *testing.T, list ...bank.Transfer) []byte {
	t.Helper()
	raw, err := bank.Statement{Account: account, Transfers: list}.CAMT()
	must(t, err)
	return raw
}

func table(t *testing.T, list ...bank.Transfer) []byte {
	t.Helper()
	raw, err := bank.Statement{Account: account, Transfers: list}.Table()
	must(t, err)
	return raw
}

// upload sends a statement.
func (c *client) upload(name string, body []byte) answer {
	c.t.Helper()
	req, err := http.NewRequest("POST", c.site.URL+"/api/desk/statements?name="+name, bytes.NewReader(body))
	must(c.t, err)
	req.Header.Set("Content-Type", "application/octet-stream")
	res, err := c.http.Do(req)
	must(c.t, err)
	defer res.Body.Close()
	raw, err := io.ReadAll(res.Body)
	must(c.t, err)
	return answer{status: res.StatusCode, body: raw, header: res.Header}
}

// reads reads a statement, has it looked at, and gives its report.
func (c *client) reads(name string, body []byte) api.StatementPage {
	c.t.Helper()
	a := c.upload(name, body)
	if a.status != 200 {
		c.t.Fatalf("%s: %d %s", name, a.status, a.body)
	}
	must(c.t, c.server.Clerk.Round(c.t.Context()))
	return read[api.StatementPage](c.t, c.want(200, "GET", fmt.Sprintf("/api/desk/statements/%d", read[api.StatementView](c.t, a).Id), nil))
}

// outcomes gives what became of each row of a statement.
func outcomes(p api.StatementPage) string {
	var all []string
	for _, r := range p.Rows {
		all = append(all, string(r.Outcome))
	}
	return strings.Join(all, " ")
}

func (h *house) mails(number, subject string) (n int) {
	h.t.Helper()
	for _, m := range read[[]api.Message](h.t, h.desk().want(200, "GET", "/api/desk/outbox", nil)) {
		if strings.Contains(m.Subject, subject) && strings.Contains(m.Subject, number) {
			n++
		}
	}
	return n
}

// An order by transfer waits with all that it takes; its transfer, read from a
// statement, places it.
func TestOrderingByTransfer(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	p := read[api.Payment](t, c.want(200, "POST", at+"/pay", fields{"attempt": "attempt-0001", "way": "transfer", "total": 3600}))
	if p.State != "awaiting" || p.Number == nil || p.Link == nil || p.Page != nil {
		t.Fatalf("%+v", p)
	}
	// A doubled click, the back button and a reload find the same order.
	for _, again := range []answer{
		c.want(200, "POST", at+"/pay", fields{"attempt": "attempt-0001", "way": "transfer"}), c.want(200, "POST", at+"/pay", fields{"attempt": "attempt-0002"}),
	} {
		if a := read[api.Payment](t, again); a.State != "awaiting" || *a.Number != *p.Number {
			t.Errorf("%+v", a)
		}
	}
	for _, again := range []answer{c.want(200, "PUT", at, basket(chart(), chart())), c.want(200, "GET", at, nil)} {
		if v := read[api.Checkout](t, again); v.State != "awaiting" {
			t.Errorf("%+v", v)
		}
	}
	link := "/api/shop/orders/" + *p.Link
	o := read[api.OrderPage](t, c.want(200, "GET", link, nil))
	// Five working days from Tuesday, 24 November, and three more.
	if o.Money.State != "awaiting" || o.Awaiting == nil || o.Awaiting.Missing != 3600 || o.Awaiting.Until != "2026-12-04" || o.Transfer == nil || o.Transfer.Amount != 3600 {
		t.Errorf("%+v %+v", o.Awaiting, o.Transfer)
	}
	id := itoa(o.Lines[0].Id)
	c.refused(422, "title closed", "PATCH", link+"/lines/"+id+"/answers", fields{"version": o.Lines[0].Version, "answers": fields{"title": "Another"}})
	c.refused(409, "", "POST", link+"/cancel/preview", fields{"lines": []int64{}})
	// At the desk it is found by its number, is no work yet and no turnover.
	page := read[api.TransferPage](t, desk.want(200, "GET", "/api/desk/transfers", nil))
	if a := page.Awaiting; len(a) != 3 || a[2].Missing != 3600 || a[2].Number != *p.Number { // with two of the demo
		t.Errorf("%+v", page.Awaiting)
	}
	list := read[api.OrderList](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/orders?text=%d", *p.Number), nil))
	if len(list.Rows) != 1 || list.Rows[0].State != "awaiting" {
		t.Errorf("%+v", list.Rows)
	}
	d := read[api.Docket](t, desk.want(200, "GET", "/api/desk/dockets/"+id, nil))
	if d.Money.State != "awaiting" || len(d.Work) != 0 {
		t.Errorf("%+v", d.Money)
	}
	desk.refused(409, "", "POST", "/api/desk/dockets/"+id+"/close", nil)
	desk.want(200, "GET", fmt.Sprintf("/api/desk/orders.csv?text=%d", *p.Number), nil)
	h.agree()

	s := desk.reads("monday.xml", camt(t, of(*p.Number, 3600)))
	if outcomes(s) != "booked" || s.Rows[0].Order.Number != *p.Number || !strings.Contains(s.Rows[0].Why, "36.00") {
		t.Fatalf("%+v", s)
	}
	o = read[api.OrderPage](t, c.want(200, "GET", link, nil))
	if o.Money.State != "placed" || o.Money.Open != 0 || o.Money.Paid != 3600 || o.Awaiting != nil || o.Transfer != nil {
		t.Errorf("%+v", o.Money)
	}
	if d = read[api.Docket](t, desk.want(200, "GET", "/api/desk/dockets/"+id, nil)); len(d.Work) == 0 {
		t.Error("an order that is placed has no work")
	}
	if e := o.Money.Ledger[len(o.Money.Ledger)-1]; e.Way != "transfer" || e.Kind != "paid" {
		t.Errorf("%+v", e)
	}
	h.agree()

	// The same file again, and the same transfer in another file, change nothing.
	if again := desk.reads("monday.xml", camt(t, of(*p.Number, 3600))); again.Statement.Id != s.Statement.Id || h.rows("statements") != 1 {
		t.Errorf("%+v", again.Statement)
	}
	if s := desk.reads("week.xml", camt(t, of(*p.Number, 3600), bank.Transfer{Day: calendar.DayOf(today), Amount: 100, Currency: "EUR", Payer: "Somebody"})); outcomes(s) != "known unknown" {
		t.Errorf("%+v", s.Rows)
	}
	h.agree()
}

// What is held for a transfer is given free when its days are over, after a
// reminder; a transfer that comes then takes it up again if it is still there.
func TestATransferThatDoesNotCome(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	stock := desk.counts(fields{"product": 1, "question": "size", "choice": "large", "pieces": 1, "low": 0})
	o, link := c.transfers(chart())
	h.client().refused(422, "lines.0.size sold_out_choice", "PUT", checkout(), basket(chart()))
	round := func(until time.Time) {
		t.Helper()
		h.ahead.Store(int64(until.Sub(today)))
		must(t, h.server.Clerk.Round(t.Context()))
		desk = h.desk() // who was away for days signs in again
	}
	day := func(n int) time.Time { return time.Date(2026, 12, n, 18, 0, 0, 0, today.Location()) }
	round(time.Date(2026, 11, 30, 18, 0, 0, 0, today.Location()))
	if n := h.mails(fmt.Sprint(o.Number), "still to transfer"); n != 0 {
		t.Error("reminded before its time")
	}
	round(day(1))
	round(day(2))
	if n := h.mails(fmt.Sprint(o.Number), "still to transfer"); n != 1 {
		t.Errorf("%d reminders", n)
	}
	// It is held to the last hour, however long that is.
	h.client().refused(422, "lines.0.size sold_out_choice", "PUT", checkout(), basket(chart()))
	if p := read[api.OrderPage](t, c.want(200, "GET", link, nil)); p.Money.State != "awaiting" {
		t.Errorf("%+v", p.Money)
	}
	round(day(4))
	p := read[api.OrderPage](t, c.want(200, "GET", link, nil))
	if p.Money.State != "lapsed" || p.Money.Open != 0 || p.Transfer != nil || h.mails(fmt.Sprint(o.Number), "given free") != 1 {
		t.Errorf("%+v", p.Money)
	}
	if r := desk.stocked(stock); r.Left != 1 || r.Held != 0 {
		t.Errorf("%+v", r)
	}
	h.agree()
	// Its money comes after all, and the piece is still there.
	late := of(o.Number, 3600)
	late.Day = calendar.DayOf(day(4))
	if s := desk.reads("late.xml", camt(t, late)); outcomes(s) != "booked" {
		t.Errorf("%+v", s.Rows)
	}
	if p = read[api.OrderPage](t, c.want(200, "GET", link, nil)); p.Money.State != "placed" || p.Money.Open != 0 || p.Money.Overpaid != 0 {
		t.Errorf("%+v", p.Money)
	}
	if r := desk.stocked(stock); r.Pieces != 0 {
		t.Errorf("%+v", r)
	}
	h.agree()

	// Another one comes too late: somebody else took the last piece.
	desk.want(200, "PATCH", "/api/desk/stock", fields{"ids": []int64{stock}, "add": 1, "why": "delivery"})
	o, link = c.transfers(chart())
	round(day(28))
	if p = read[api.OrderPage](t, c.want(200, "GET", link, nil)); p.Money.State != "lapsed" {
		t.Fatalf("%+v", p.Money)
	}
	h.client().buys(chart())
	late = of(o.Number, 3600)
	late.Day = calendar.DayOf(day(28))
	s := desk.reads("later.xml", camt(t, late))
	if outcomes(s) != "booked" || !strings.Contains(s.Rows[0].Why, "given free") {
		t.Errorf("%+v", s.Rows)
	}
	if p = read[api.OrderPage](t, c.want(200, "GET", link, nil)); p.Money.State != "lapsed" || p.Money.Overpaid != 3600 || h.mails(fmt.Sprint(o.Number), "came late") != 1 {
		t.Errorf("%+v", p.Money)
	}
	h.agree()
	if m := desk.moves(o.Number, "return", fields{"way": "transfer", "note": "too late"}); m.Overpaid != 0 || m.Returned != 3600 {
		t.Errorf("%+v", m)
	}
	h.agree()
}

// Less, more, in two parts, and with a deposit: each has an outcome that says
// what it did.
func TestLessAndMoreThanAwaited(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	o, link := c.transfers(chart())
	money := func() api.OrderMoney { return read[api.OrderPage](t, c.want(200, "GET", link, nil)).Money }
	s := desk.reads("1.xml", camt(t, of(o.Number, 3000)))
	if !strings.Contains(s.Rows[0].Why, "30.00 came in of") || !strings.Contains(s.Rows[0].Why, "waiting for €6.00") || h.mails(fmt.Sprint(o.Number), "€6.00 still to transfer") != 1 {
		t.Errorf("%q", s.Rows[0].Why)
	}
	if p := read[api.OrderPage](t, c.want(200, "GET", link, nil)); p.Awaiting == nil || p.Awaiting.Missing != 600 || p.Awaiting.Came != 3000 || p.Transfer.Amount != 600 {
		t.Errorf("%+v", p.Awaiting)
	}
	h.agree()
	// When its days are over it is left to the seller, since something came in.
	h.ahead.Store(int64(30 * 24 * time.Hour))
	must(t, h.server.Clerk.Round(t.Context()))
	desk = h.desk()
	if page := read[api.TransferPage](t, desk.want(200, "GET", "/api/desk/transfers", nil)); len(page.Awaiting) != 1 || !page.Awaiting[0].Over || page.Awaiting[0].Number != o.Number {
		t.Errorf("%+v", page.Awaiting)
	}
	more := of(o.Number, 700)
	more.Day = more.Day.Add(29)
	s = desk.reads("2.xml", camt(t, more))
	if m := money(); m.State != "placed" || m.Overpaid != 100 || !strings.Contains(s.Rows[0].Why, "€1.00 too much") {
		t.Errorf("%+v %q", m, s.Rows[0].Why)
	}
	h.agree()

	// A deposit is taken apart from what is paid, and the second part stays open.
	o, link = c.transfers(desk.inParts()) // 28.00 in two parts, with 15.00 as a deposit
	if p := read[api.OrderPage](t, c.want(200, "GET", link, nil)); p.Awaiting.Missing != 700+1500 || p.Money.Awaited != 700+1500 {
		t.Errorf("%+v", p.Awaiting)
	}
	first := of(o.Number, 1000)
	first.Day = first.Day.Add(30)
	desk.reads("3.xml", camt(t, first))
	if m := money(); m.State != "awaiting" || m.Paid != 700 || m.Held != 300 {
		t.Errorf("%+v", m)
	}
	first.Amount = 1200
	desk.reads("4.xml", camt(t, first))
	if m := money(); m.State != "placed" || m.Paid != 700 || m.Held != 1500 || m.Open != 2100 {
		t.Errorf("%+v", m)
	}
	h.agree()
	first.Amount = 2100
	s = desk.reads("5.xml", camt(t, first))
	if m := money(); m.Open != 0 || !strings.Contains(s.Rows[0].Why, "all of it is paid") {
		t.Errorf("%+v %q", m, s.Rows[0].Why)
	}
	h.agree()
	// The deposit goes back as it came.
	if m := money(); m.HeldByCard != 0 {
		t.Errorf("%+v", m)
	}
	desk.refused(422, "amount not_by_card", "POST", fmt.Sprintf("/api/desk/orders/%d/release", o.Number), fields{})
	if m := desk.moves(o.Number, "release", fields{"way": "transfer"}); m.Held != 0 {
		t.Errorf("%+v", m)
	}
	h.agree()
}

// How customers pay is chosen for the business and for products.
func TestWaysToPay(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	ways := func(lines ...fields) string {
		t.Helper()
		var all []string
		for _, w := range read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", fields{"lines": lines})).Ways {
			one := string(w.Way)
			if w.Refused != nil {
				one += " refused"
			}
			all = append(all, one)
		}
		return strings.Join(all, ", ")
	}
	terms := func(ways ...string) {
		t.Helper()
		var v fields
		must(t, decode(bytes.NewReader(desk.want(200, "GET", "/api/desk/terms", nil).body), &v))
		v["ways"] = ways
		desk.want(200, "PUT", "/api/desk/terms", v)
	}
	if got := ways(chart()); got != "card, transfer" {
		t.Error(got)
	}
	// What begins before a transfer can come in is paid by card.
	soon := c.evening(8, 1)
	if got := ways(soon); got != "card, transfer refused" {
		t.Error(got)
	}
	at := checkout()
	c.want(200, "PUT", at, basket(soon))
	c.refused(409, "", "POST", at+"/pay", fields{"attempt": "attempt-0001", "way": "transfer"})
	desk.change(1, func(d *api.Draft) { d.Ways = []ledger.Way{ledger.Transfer} })
	if got := ways(chart()); got != "transfer" {
		t.Error(got)
	}
	at = checkout()
	c.want(200, "PUT", at, basket(chart()))
	c.refused(409, "", "POST", at+"/pay", try("attempt-0001"))
	desk.change(3, func(d *api.Draft) { d.Ways = []ledger.Way{ledger.Card} })
	if got := ways(chart(), photos()); got != "" {
		t.Error(got)
	}
	terms("card")
	if got := ways(photos()); got != "card" {
		t.Error(got)
	}
	if got := ways(chart()); got != "" { // it takes transfers alone, and the business none
		t.Error(got)
	}

	if !strings.Contains(string(desk.want(200, "GET", "/api/desk/products/1", nil).body), "It can be paid in no way") {
		t.Error("nothing is said of it")
	}
	var v fields
	must(t, decode(bytes.NewReader(desk.want(200, "GET", "/api/desk/terms", nil).body), &v))
	v["ways"], v["account"] = []string{"transfer"}, fields{}
	desk.refused(422, "ways ways_account", "PUT", "/api/desk/terms", v)
	delete(v, "account") // the one that there is stays
	desk.want(200, "PUT", "/api/desk/terms", v)
	delete(v, "ways")
	v["account"] = fields{}
	desk.refused(422, "ways ways_account", "PUT", "/api/desk/terms", v)
	v["ways"] = []string{"card", "card"}
	desk.refused(422, "ways ways", "PUT", "/api/desk/terms", v)
}

// An order that awaits its transfer can be paid by card after all, be taken up
// or given free at the desk, and be noted as paid in cash.
func TestWhileATransferIsAwaited(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	money := func(link string) api.OrderMoney {
		return read[api.OrderPage](t, c.want(200, "GET", link, nil)).Money
	}
	_, link := c.transfers(chart())
	if p := c.pays(link, cards.Declined, "attempt-0002"); p.State != "refused" || money(link).State != "awaiting" {
		t.Errorf("%+v", p)
	}
	if p := c.pays(link, cards.Works, "attempt-0003"); p.State != "settled" || money(link).State != "placed" || money(link).Open != 0 {
		t.Errorf("%+v %+v", p, money(link))
	}
	h.agree()

	o, link := c.transfers(chart())
	if m := desk.moves(o.Number, "accept", nil); m.State != "placed" || m.Open != 3600 {
		t.Errorf("%+v", m)
	}
	desk.refused(409, "", "POST", fmt.Sprintf("/api/desk/orders/%d/accept", o.Number), fields{})
	if s := desk.reads("x.xml", camt(t, of(o.Number, 3600))); outcomes(s) != "booked" || money(link).Open != 0 {
		t.Errorf("%+v", s.Rows)
	}

	o, link = c.transfers(chart())
	desk.moves(o.Number, "receive", fields{"way": "cash"})
	if m := money(link); m.State != "placed" || m.Paid != 3600 {
		t.Errorf("%+v", m)
	}

	o, link = c.transfers(chart())
	if p := read[api.OrderPage](t, c.want(200, "POST", link+"/cancel", fields{"lines": []int64{}})); p.Money.State != "lapsed" || h.mails(fmt.Sprint(o.Number), "is given up") != 1 {
		t.Errorf("%+v", p.Money)
	}
	c.refused(409, "", "POST", link+"/cancel", fields{"lines": []int64{}})
	// Money for it does not make an order of what the customer gave up; the seller can.
	if s := desk.reads("late.xml", camt(t, of(o.Number, 3600))); outcomes(s) != "booked" || money(link).State != "lapsed" || money(link).Overpaid != 3600 {
		t.Errorf("%+v %+v", s.Rows, money(link))
	}
	if m := desk.moves(o.Number, "receive", fields{"amount": 100, "way": "cash"}); m.State != "placed" || m.Overpaid != 100 {
		t.Errorf("%+v", m)
	}

	o, link = c.transfers(chart())
	desk.moves(o.Number, "free", nil)
	if m := money(link); m.State != "lapsed" || m.Open != 0 {
		t.Errorf("%+v", m)
	}
	for _, move := range []string{"free", "accept", "cancel"} {
		desk.refused(409, "", "POST", fmt.Sprintf("/api/desk/orders/%d/%s", o.Number, move), fields{})
	}
	c.refused(409, "", "POST", link+"/pay", try("attempt-0004"))
	h.agree()
}

// Nobody holds everything by ordering and not transferring.
func TestAwaitingHasALimit(t *testing.T) {
	h := guarded(t)
	c := h.client()
	order := func(email string) answer {
		at := checkout()
		body := basket(chart())
		body["email"] = email
		c.want(200, "PUT", at, body)
		return c.send("POST", at+"/pay", fields{"attempt": "attempt-0001", "way": "transfer"})
	}
	for i := range 5 {
		if a := order("ada@example.org"); a.status != 200 {
			t.Fatalf("order %d: %d %s", i, a.status, a.body)
		}
	}
	if a := order("ada@example.org"); a.status != 409 || !strings.Contains(string(a.body), "await") {
		t.Errorf("%d %s", a.status, a.body)
	}
	refused := false
	for i := range 20 {
		a := order(fmt.Sprintf("ada%d@example.org", i))
		refused = refused || a.status == 429
	}
	if !refused {
		t.Error("one sender can have any number of orders wait")
	}
}

// The mail of an order by transfer has the account, the reference and the payment
// code as a picture.
func TestTheMailOfATransfer(t *testing.T) {
	h := open(t, nil)
	o, _ := h.client().transfers(chart())
	post := standin.Mail{Folder: filepath.Join(t.TempDir(), "post")}
	must(t, (&message.Postman{Store: h.store, Mailer: post, Texter: post, Now: h.now}).Round(t.Context()))
	files, err := filepath.Glob(filepath.Join(post.Folder, "awaiting-*.eml"))
	if err != nil || len(files) != 1 {
		t.Fatal(files, err)
	}
	raw, err := os.ReadFile(files[0])
	must(t, err)
	letter, err := mail.ReadMessage(bytes.NewReader(raw))
	must(t, err)
	kind, params, err := mime.ParseMediaType(letter.Header.Get("Content-Type"))
	if err != nil || kind != "multipart/mixed" {
		t.Fatal(kind, err)
	}
	parts := multipart.NewReader(letter.Body, params["boundary"])
	text, err := parts.NextPart()
	must(t, err)
	body, err := io.ReadAll(text)
	must(t, err)
	for _, want := range []string{"DE52 0000 0000 0012 3456 78", transfer.Spaced(transfer.Reference(o.Number)), "€36.00", "Fri 4 Dec"} {
		if !strings.Contains(string(body), want) {
			t.Errorf("the mail does not say %q:\n%s", want, body)
		}
	}
	picture, err := parts.NextPart()
	must(t, err)
	png, err := io.ReadAll(base64.NewDecoder(base64.StdEncoding, picture))
	if err != nil || !bytes.HasPrefix(png, []byte("\x89PNG\r\n")) || picture.FileName() != "transfer.png" {
		t.Errorf("%d bytes of %q, %v", len(png), picture.FileName(), err)
	}
	if told, ok := post.Text(strings.TrimSuffix(filepath.Base(files[0]), ".eml")); !ok || !strings.Contains(told, "RF") {
		t.Errorf("%q", told)
	}
}
