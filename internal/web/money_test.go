package web

import (
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/link"
	"ruvo/internal/port"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// A bank behind a line that can be slow or broken.
type line struct {
	port.Payments
	arrived chan struct{} // told when a payment arrived,
	slow    chan struct{} // which then waits for this, when it is there
	broken  atomic.Bool   // answers are lost
	deaf    atomic.Bool   // questions never arrive
}

var errLine = errors.New("no answer")

func (l *line) lose(r port.Receipt, err error) (port.Receipt, error) {
	if l.broken.Load() {
		return port.Receipt{}, errLine
	}
	return r, err
}

func (l *line) Start(ctx context.Context, w port.Wanted) (port.Receipt, error) {
	if l.slow != nil {
		close(l.arrived)
		<-l.slow
	}
	if l.deaf.Load() {
		return port.Receipt{}, errLine
	}
	return l.lose(l.Payments.Start(ctx, w))
}

func (l *line) Return(ctx context.Context, g port.Giving) (port.Receipt, error) {
	if l.deaf.Load() {
		return port.Receipt{}, errLine
	}
	return l.lose(l.Payments.Return(ctx, g))
}

func (l *line) Release(ctx context.Context, g port.Giving) (port.Receipt, error) {
	if l.deaf.Load() {
		return port.Receipt{}, errLine
	}
	return l.lose(l.Payments.Release(ctx, g))
}

func (l *line) Ask(ctx context.Context, attempt string) (port.Receipt, error) {
	if l.deaf.Load() {
		return port.Receipt{}, errLine
	}
	return l.lose(l.Payments.Ask(ctx, attempt))
}

// along opens a house whose bank is behind such a line.
func along(t *testing.T) (*house, *line) {
	t.Helper()
	l := &line{}
	h := open(t, func(bank port.Payments) port.Payments {
		l.Payments = bank
		return l
	})
	return h, l
}

// books gives what the bank moved in all.
func (h *house) books() (sum money.Amount) {
	h.t.Helper()
	all, err := h.bank.Moved(h.t.Context())
	must(h.t, err)
	for _, m := range all {
		sum += m.Amount
	}
	return sum
}

// ledgers gives what all ledgers say moved by card.
func (h *house) ledgers() (sum money.Amount) {
	h.t.Helper()
	must(h.t, h.store.Read(h.t.Context(), func(tx *store.Tx) error {
		orders, err := tx.Ordered(0, 10_000)
		if err != nil {
			return err
		}
		for _, o := range orders {
			entries, err := tx.Entries(o.ID)
			if err != nil {
				return err
			}
			for _, e := range entries {
				switch {
				case e.Way != ledger.Card:
				case e.Kind == ledger.Paid, e.Kind == ledger.Held:
					sum += e.Amount
				case e.Kind == ledger.Returned, e.Kind == ledger.Released:
					sum -= e.Amount
				}
			}
		}
		return nil
	}))
	return sum
}

// agree wants the bank's books and the ledgers to say the same.
func (h *house) agree() {
	h.t.Helper()
	if b, l := h.books(), h.ledgers(); b != l {
		h.t.Errorf("the bank moved %d, the ledgers say %d", b, l)
	}
	h.audit()
}

// later lets time pass and has the application do what its time has come for.
func (h *house) later(d time.Duration) {
	h.t.Helper()
	h.ahead.Add(int64(d))
	must(h.t, h.server.Attempts.Round(h.t.Context()))
}

func (c *client) money(number int64, move string, refund bool) api.OrderMoney {
	c.t.Helper()
	how := map[bool]string{true: "all", false: "keep"}[refund]
	return read[api.OrderMoney](c.t, c.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/%s", number, move), fields{"how": how, "restock": true}))
}

// inParts has the photographs paid in two parts, with a deposit.
func (c *client) inParts() fields {
	c.t.Helper()
	c.change(3, func(d *api.Draft) {
		part := percentOf("25")
		d.Payment, d.Deposit = &api.PaymentPlan{Portion: charge.Portion{Percent: &part}, Rest: "handover"}, 1500
	})
	return fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}}
}

// While the bank is asked, the checkout stays what the bank was asked about.
func TestACheckoutBeingPaidDoesNotChange(t *testing.T) {
	h, bank := along(t)
	bank.slow, bank.arrived = make(chan struct{}), make(chan struct{})
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	paid := make(chan answer)
	go func() {
		_, a := c.paying(at, cards.Works, "attempt-0001")
		paid <- a
	}()
	<-bank.arrived
	if v := read[api.Checkout](t, h.client().want(200, "GET", at, nil)); v.State != "paying" {
		t.Errorf("%+v", v)
	}
	c.refused(409, "", "PUT", at, basket(chart(), chart(), chart()))
	close(bank.slow)
	if a := <-paid; a.status != 200 {
		t.Fatalf("%d %s", a.status, a.body)
	}
	v := read[api.Checkout](t, c.want(200, "GET", at, nil))
	o := read[api.OrderPage](t, c.want(200, "GET", "/api/shop/orders/"+*v.Payment.Link, nil))
	if o.Slip.Total != 3600 || o.Money.Paid != 3600 || o.Money.Open != 0 || len(o.Lines) != 1 {
		t.Errorf("%+v", o.Money)
	}
	h.agree()
}

// Going back from the bank's question to change the basket gives the payment
// up; the bank cannot settle it any more.
func TestGoingBackFromTheBanksQuestion(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	page := *c.pays(at, cards.Confirms, "attempt-0001").Page
	if v := read[api.Checkout](t, c.want(200, "GET", at, nil)); v.State != "paying" || v.Payment.State != "confirm" || *v.Payment.Page != page {
		t.Errorf("after a reload: %+v", v)
	}
	if v := read[api.Checkout](t, c.want(200, "PUT", at, basket(chart(), chart()))); v.State != "prepared" || v.Slip.Total != 7200 {
		t.Errorf("%+v", v)
	}
	c.atBank(page, cards.DoConfirm, "") // comes too late
	c.refused(409, "", "POST", at+"/leave", nil)
	c.pays(at, cards.Works, "the-other-card")
	h.agree()
}

// A customer who takes another card instead of answering the bank's question
// pays once. Should the bank settle the first one all the same, that money goes
// back by itself.
func TestTheRestIsPaidOnce(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	link := c.buys(desk.inParts())
	c.pays(link, cards.Confirms, "rest-one")
	c.pays(link, cards.Works, "rest-two")
	c.refused(409, "", "POST", link+"/leave", nil)
	o := read[api.OrderPage](t, c.want(200, "GET", link, nil))
	if o.Money.Paid != 2800 || o.Money.Open != 0 || o.Money.Overpaid != 0 {
		t.Errorf("%+v", o.Money)
	}
	h.agree()

	// The bank says yes to the first one after all: its books and ours.
	var first store.Attempt
	must(t, h.store.Write(t.Context(), func(tx *store.Tx) error {
		orders, err := tx.Ordered(0, 10_000)
		if err != nil {
			return err
		}
		all, err := tx.Attempts(orders[len(orders)-1].ID)
		for _, a := range all {
			if a.Purpose == ledger.ToPay && a.State == ledger.Refused {
				first = a
			}
		}
		if err != nil {
			return err
		}
		return nil
	}))
	sql := storetest.SQL(t, filepath.Join(h.store.Folder(), cards.File))
	if _, err := sql.Exec("UPDATE movements SET state = 'settled', reason = '', moved_at = created_at WHERE attempt = ?", first.Name); err != nil {
		t.Fatal(err)
	}
	for range 2 { // the notice comes twice
		_, err := h.server.Attempts.Answer(t.Context(), first.Name, port.Receipt{State: ledger.Settled}, nil)
		must(t, err)
	}
	o = read[api.OrderPage](t, c.want(200, "GET", link, nil))
	if o.Money.Paid != 2800+2100 || o.Money.Returned != 2100 || o.Money.Overpaid != 0 || o.Money.Open != 0 {
		t.Errorf("%+v", o.Money)
	}
	h.agree()
}

// Two people, a doubled click and an answer that is lost give money back once.
func TestMoneyGoesBackOnce(t *testing.T) {
	h, bank := along(t)
	desk, c := h.desk(), h.client()
	before := h.books()
	o := read[api.OrderPage](t, c.want(200, "GET", c.buys(desk.inParts()), nil))
	bank.broken.Store(true)
	var wait sync.WaitGroup
	for _, move := range []string{"release", "cancel", "cancel", "release", "cancel"} {
		wait.Go(func() {
			desk.send("POST", fmt.Sprintf("/api/desk/orders/%d/%s", o.Number, move), fields{"how": "all", "restock": true})
		})
	}
	wait.Wait()
	bank.broken.Store(false)
	for range 12 {
		h.later(time.Hour)
	}
	m := read[api.OrderPage](t, c.want(200, "GET", "/api/shop/orders/"+h.linkTo(o.Number), nil)).Money
	if m.Paid != 700 || m.Returned != 700 || m.Held != 0 || m.Returning != 0 || h.books() != before {
		t.Errorf("%+v, the bank's books are %d and were %d", m, h.books(), before)
	}
	desk = h.desk() // half a day later everybody signs in again
	desk.refused(409, "", "POST", fmt.Sprintf("/api/desk/orders/%d/cancel", o.Number), fields{"how": "all", "restock": true})
	desk.refused(409, "", "POST", fmt.Sprintf("/api/desk/orders/%d/return", o.Number), fields{"how": "all", "restock": true})
	h.agree()
}

// linkTo makes a new private link to an order.
func (h *house) linkTo(number int64) (secret string) {
	h.t.Helper()
	must(h.t, h.store.Write(h.t.Context(), func(tx *store.Tx) error {
		o, err := tx.OrderByNumber(number)
		if err != nil {
			return err
		}
		secret, err = link.New(tx, o.ID, h.now())
		return err
	}))
	return secret
}

// When the bank does not answer, it is asked again by itself, after pauses that
// grow; a page that is loaded again sees how far it is.
func TestTheBankIsAskedAgain(t *testing.T) {
	h, bank := along(t)
	c := h.client()
	at := checkout()
	evening := c.evening(8, 2)
	c.want(200, "PUT", at, basket(evening))
	bank.broken.Store(true)
	if p := c.pays(at, cards.Works, "attempt-0001"); p.State != "asked" {
		t.Fatalf("%+v", p)
	}
	// A doubled click, and the page loaded again.
	if p := c.pays(at, cards.Works, "attempt-0001"); p.State != "asked" {
		t.Errorf("%+v", p)
	}
	if v := read[api.Checkout](t, c.want(200, "GET", at, nil)); v.State != "paying" || v.Payment.State != "asked" {
		t.Errorf("%+v", v)
	}
	tries := func() (n int) {
		must(t, h.store.Read(t.Context(), func(tx *store.Tx) error {
			all, err := tx.AttemptsToAsk(h.now().AddDate(1, 0, 0))
			for _, a := range all {
				n += a.Tries
			}
			return err
		}))
		return n
	}
	for range 60 {
		h.later(time.Second)
	}
	if n := tries(); n < 2 || n > 4 { // after 5, 10 and 20 seconds, about
		t.Errorf("asked %d times within a minute", n)
	}
	// Its places stay its own, however long it takes.
	h.later(2 * time.Hour)
	booked := evening["answers"].(fields)["evening"].(fields)
	h.client().refused(422, "lines.0.evening opening_full", "PUT", checkout(), basket(with(evening, fields{"evening": fields{"start": booked["start"], "people": 7}})))
	c.paysUnheard()
	bank.broken.Store(false)
	h.later(2 * time.Hour)
	v := read[api.Checkout](t, c.want(200, "GET", at, nil))
	if v.State != "placed" || v.Payment.State != "settled" || v.Payment.Link == nil {
		t.Errorf("%+v", v)
	}
	h.agree()
}

// What never arrived at the bank ends as not paid, and cannot arrive later.
func TestAPaymentThatNeverArrived(t *testing.T) {
	h, bank := along(t)
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	bank.deaf.Store(true)
	c.pays(at, cards.Works, "attempt-0001")
	bank.deaf.Store(false)
	h.later(10 * time.Second) // it may still be on its way
	if v := read[api.Checkout](t, c.want(200, "GET", at, nil)); v.State != "paying" {
		t.Errorf("%+v", v)
	}
	for range 3 {
		h.later(5 * time.Minute)
	}
	v := read[api.Checkout](t, c.want(200, "GET", at, nil))
	if v.State != "prepared" || v.Payment.State != "refused" {
		t.Errorf("%+v", v)
	}
	c.pays(at, cards.Works, "another-try")
	h.agree()
}

// A question of the bank that nobody answers gives its places free in the end.
func TestABanksQuestionLeftOpen(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(c.evening(3, 3)))
	c.pays(at, cards.Confirms, "attempt-0001")
	h.later(holdTime + time.Minute)
	if v := read[api.Checkout](t, c.want(200, "GET", at, nil)); v.State != "prepared" || v.Payment.State != "refused" {
		t.Errorf("%+v", v)
	}
	h.later(holdTime)
	other := h.client()
	other.want(200, "PUT", checkout(), basket(other.evening(3, 3)))
}

// A cancelled order is not paid again through its checkout.
func TestACancelledOrderIsNotPaidAgain(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	c.pay(at)
	number := *read[api.Checkout](t, c.want(200, "GET", at, nil)).Payment.Number
	if m := desk.money(number, "cancel", true); m.State != "cancelled" || m.Returned != 3600 || m.Open != 0 {
		t.Errorf("%+v", m)
	}
	if v := read[api.Checkout](t, c.want(200, "PUT", at, basket(chart(), chart()))); v.State != "cancelled" || v.Slip.Total != 3600 {
		t.Errorf("%+v", v)
	}
	c.refused(409, "", "POST", at+"/pay", try("once-more"))
	c.refused(409, "", "POST", at+"/pay", try("nothing-due"))
	h.agree()
}

// The checkout's name gives the private link for a short while after placing,
// and never once the desk replaced it.
func TestTheCheckoutIsNoKeyForEver(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	at, other := checkout(), checkout()
	for _, a := range []string{at, other} {
		c.want(200, "PUT", a, basket(chart()))
		c.pay(a)
		if p := c.pays(a, cards.Works, "attempt-0001"); p.Link == nil {
			t.Errorf("%+v", p)
		}
	}
	line := read[api.OrderPage](t, c.want(200, "GET", "/api/shop/orders/"+*read[api.Checkout](t, c.want(200, "GET", other, nil)).Payment.Link, nil)).Lines[0].Id
	desk.want(200, "POST", fmt.Sprintf("/api/desk/dockets/%d/relink", line), nil)
	c.refused(409, "", "POST", other+"/pay", try("attempt-0001"))
	c.refused(409, "", "GET", other, nil)
	h.ahead.Store(int64(61 * time.Minute))
	c.refused(409, "", "POST", at+"/pay", try("attempt-0001"))
	c.refused(409, "", "GET", at, nil)
	c.refused(409, "", "POST", at+"/leave", nil)
}

// Money counts what came in on its own day, and the oldest month from its first
// morning on.
func TestMoneyCountsTheDayItCameIn(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	month := func(name string) api.MoneyPeriod {
		for _, m := range read[api.MoneyView](t, desk.want(200, "GET", "/api/desk/money", nil)).Periods {
			if m.Period == name {
				return m
			}
		}
		return api.MoneyPeriod{}
	}
	before := month("2026-11")
	link := c.buys(desk.inParts())
	number := read[api.OrderPage](t, c.want(200, "GET", link, nil)).Number
	// Seven in the evening of 31 December, UTC, is still December here.
	h.ahead.Store(int64(time.Date(2026, 12, 31, 22, 30, 0, 0, time.UTC).Sub(today)))
	desk = h.desk()
	c.pays(link, cards.Works, "attempt-0001")
	// Half past midnight on 1 January here, December in UTC.
	h.ahead.Store(int64(time.Date(2026, 12, 31, 23, 30, 0, 0, time.UTC).Sub(today)))
	desk.money(number, "cancel", true)
	nov, dec, jan := month("2026-11"), month("2026-12"), month("2027-01")
	if nov.Paid-before.Paid != 700 || nov.Charged-before.Charged != 2800 || nov.Held-before.Held != 1500 || nov.Orders-before.Orders != 1 {
		t.Errorf("November: %+v, before %+v", nov, before)
	}
	if dec.Paid != 2100 || dec.Orders != 0 || dec.Charged != 0 {
		t.Errorf("December: %+v", dec)
	}
	if jan.Returned != 2800 || jan.Released != 1500 || jan.Charged != -2800 || jan.Orders != -1 || jan.Paid != 0 {
		t.Errorf("January: %+v", jan)
	}
	// A year on, November begins with what came in on its first morning.
	h.ahead.Store(int64(time.Date(2027, 10, 31, 12, 0, 0, 0, time.UTC).Sub(today)))
	desk = h.desk()
	if now := month("2026-11"); now.Paid != nov.Paid {
		t.Errorf("a year on November is %+v", now)
	}
	h.agree()
}

// The docket says what its line costs with coupons and what is still open, and
// the margin counts what is really earned.
func TestADocketSaysWhatIsPaid(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	desk.change(3, func(d *api.Draft) { d.Cost = 500 })
	photos := desk.inParts()
	desk.want(200, "POST", "/api/desk/coupons", fields{"coupon": fields{"code": "HALF-OFF", "percent": "50"}, "most_uses": 0, "most_each": 0})
	at := checkout()
	c.want(200, "PUT", at, whole(basket(photos), fields{"coupons": []string{"HALF-OFF"}}))
	o := read[api.OrderPage](t, c.want(200, "GET", c.pay(at), nil))
	d := read[api.Docket](t, desk.want(200, "GET", fmt.Sprintf("/api/desk/dockets/%d", o.Lines[0].Id), nil))
	// 28.00 less 14.00; 19 % of tax are in it, so 11.76 without; 5.00 of cost
	// for each of two pictures or for one order, as the product says.
	if d.Price != 1400 || d.Money.Paid != 350 || d.Money.Open != 1050 || *d.Margin != 1176-*d.Cost {
		t.Errorf("price %d, paid %d, open %d, margin %d, cost %d", d.Price, d.Money.Paid, d.Money.Open, *d.Margin, *d.Cost)
	}
	if d.Money.Kept != 350 || d.Money.ByCard != 350 {
		t.Errorf("kept %d, of which %d can go back by card", d.Money.Kept, d.Money.ByCard)
	}
	p := read[api.DeskProduct](t, desk.want(200, "GET", "/api/desk/products/3", nil))
	try := read[api.TrialResult](t, desk.want(200, "POST", "/api/desk/products/3/try", fields{"draft": p.Draft, "quantity": 1, "answers": fields{}}))
	if try.Margin == nil || *try.Margin != int(try.Evaluation.Slip.Net())-*try.Cost {
		t.Errorf("the bench says a margin of %v of %d", try.Margin, try.Evaluation.Slip.Total)
	}
	p.Draft.Cost = 0
	if try := read[api.TrialResult](t, desk.want(200, "POST", "/api/desk/products/3/try", fields{"draft": p.Draft, "quantity": 1, "answers": fields{}})); try.Margin != nil || try.Cost != nil {
		t.Errorf("without a cost there is a margin of %d", *try.Margin)
	}
}
