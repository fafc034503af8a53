package web

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
)

func (h *house) paidOrders() (n int) {
	h.t.Helper()
	must(h.t, h.store.Read(context.Background(), func(tx *store.Tx) error {
		all, err := tx.Ordered(0, 10_000)
		n = len(all) - 42 // of the demo
		return err
	}))
	return n
}

func TestDeclinedThenPaid(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	p := c.pays(at, cards.Declined, "first-try")
	if p.State != "refused" || p.Reason == nil || !strings.Contains(*p.Reason, "not enough money") || p.Link != nil {
		t.Fatalf("%+v", p)
	}
	if h.paidOrders() != 0 {
		t.Error("a declined payment made an order")
	}
	// The same attempt keeps its outcome, whatever card is named now.
	if again := c.pays(at, cards.Works, "first-try"); again.State != "refused" {
		t.Errorf("%+v", again)
	}
	if paid := c.pays(at, cards.Works, "second-try"); paid.State != "settled" || *paid.Number != 1043 {
		t.Errorf("%+v", paid)
	}
	unknown := checkout()
	c.want(200, "PUT", unknown, basket(chart()))
	if p := c.pays(unknown, "4242424242424242", "third-try"); p.State != "refused" {
		t.Errorf("%+v", p)
	}
	h.audit()
}

func TestConfirmation(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	c.refused(409, "", "POST", at+"/leave", nil)
	pay := func(name string) string {
		p := c.pays(at, cards.Confirms, name)
		if p.State != "confirm" || p.Page == nil {
			t.Fatalf("%+v", p)
		}
		return *p.Page
	}
	c.atBank(pay("first-try"), cards.DoRefuse, "")
	// Led back, with no notice yet: the page asks by itself.
	if v := read[api.Checkout](t, c.want(200, "GET", at, nil)); v.State != "prepared" || v.Payment.State != "refused" || !strings.Contains(*v.Payment.Reason, "not confirmed") {
		t.Fatalf("%+v", v)
	}
	page := pay("second-try")
	for range 2 { // pressed twice
		c.atBank(page, cards.DoConfirm, "")
		if v := read[api.Checkout](t, c.want(200, "GET", at, nil)); v.Payment.State != "settled" || *v.Payment.Number != 1043 {
			t.Fatalf("%+v", v)
		}
	}
	if h.paidOrders() != 1 {
		t.Errorf("%d orders", h.paidOrders())
	}
	h.agree()
}

// A doubled click, a request sent again, and ten at once make one order.
func TestPayingAgainMakesOneOrder(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	var wait sync.WaitGroup
	for range 10 {
		wait.Go(func() {
			if _, a := c.paying(at, cards.Works, "one-and-only"); a.status != 200 {
				t.Errorf("status %d: %s", a.status, a.body)
			}
		})
	}
	wait.Wait()
	if h.paidOrders() != 1 {
		t.Errorf("%d orders", h.paidOrders())
	}
	if v := read[api.Checkout](t, c.want(200, "PUT", at, basket(chart(), chart()))); v.State != "placed" || v.Slip.Total != 3600 {
		t.Errorf("a paid checkout changed: %+v", v)
	}
	mails := read[[]api.Message](t, h.desk().want(200, "GET", "/api/desk/outbox", nil))
	n := 0
	for _, m := range mails {
		if m.To == "ada@example.org" {
			n++
		}
	}
	if n != 1 {
		t.Errorf("%d mails", n)
	}
}

// What a browser says about money is only a question: a total that does not
// agree is refused, one that is sent with the answers is no known field.
func TestTamperedPrices(t *testing.T) {
	c := open(t, nil).client()
	at := checkout()
	line := chart()
	line["price"] = 1
	c.refused(400, "lines[0].price unknown", "PUT", at, basket(line))
	c.want(200, "PUT", at, basket(chart()))
	body := try("attempt-0001")
	body["total"] = 1
	c.refused(409, "", "POST", at+"/pay", body)
	body["total"] = 3600
	if p := read[api.Payment](t, c.want(200, "POST", at+"/pay", body)); p.State != "confirm" {
		t.Errorf("%+v", p)
	}
}

// Whoever holds the last place gets it; the other is told at once. When the
// time of holding is over, the place is free again.
func TestTheLastPlace(t *testing.T) {
	h := open(t, nil)
	one, two := h.client(), h.client()
	line := one.evening(3, 3)
	a, b := checkout(), checkout()
	one.want(200, "PUT", a, basket(line))
	two.refused(422, "lines.0.evening opening_sold_out", "PUT", b, basket(line))
	one.want(200, "PUT", a, basket(line)) // holding again is no problem for the same checkout

	h.ahead.Store(int64(16 * time.Minute))
	two.want(200, "PUT", b, basket(line))
	one.refused(422, "lines.0.evening opening_sold_out", "POST", a+"/pay", try("attempt-0001"))
	two.pays(b, cards.Works, "attempt-0001")

	three := h.client()
	three.refused(422, "lines.0.evening opening_sold_out", "PUT", checkout(), basket(line))
	h.audit()
}

// Many buyers at once never get more places than there are.
func TestPlacesAreNeverSoldTwice(t *testing.T) {
	h := open(t, nil)
	line := h.client().evening(8, 2)
	var wait sync.WaitGroup
	var mu sync.Mutex
	sold := 0
	for i := range 12 {
		at := checkout()
		wait.Go(func() {
			c := h.client()
			if a := c.send("PUT", at, basket(line)); a.status != 200 {
				return
			}
			if p, _ := c.paying(at, cards.Works, fmt.Sprintf("buyer-%04d", i)); p.State == "settled" {
				mu.Lock()
				sold += 2
				mu.Unlock()
			}
		})
	}
	wait.Wait()
	if sold != 8 {
		t.Errorf("%d places were sold of 8", sold)
	}
	h.audit()
}

// Two lines of one basket share the places, too.
func TestOneBasketCannotBookTwice(t *testing.T) {
	c := open(t, nil).client()
	line := c.evening(3, 2)
	c.refused(422, "lines.1.evening opening_full", "PUT", checkout(), basket(line, line))
}

// An attempt whose outcome was never recorded is settled at the next start:
// what the bank charged becomes an order, what never reached it does not.
func TestSettlingAfterACrash(t *testing.T) {
	for _, charged := range []bool{true, false} {
		h, bank := along(t)
		c := h.client()
		at := checkout()
		c.want(200, "PUT", at, basket(c.evening(8, 2)))
		bank.broken.Store(charged)
		bank.deaf.Store(!charged)
		if p := c.pays(at, cards.Works, "attempt-0001"); p.State != "asked" {
			t.Errorf("%+v", p)
		}
		if charged { // on the bank's page, which the shop never heard of
			c.paysUnheard()
		}
		c.refused(409, "", "POST", at+"/pay", try("another-try"))
		bank.broken.Store(false)
		bank.deaf.Store(false)
		for range 2 {
			must(t, h.server.Attempts.Restarted(t.Context()))
		}
		want := 0
		if charged {
			want = 1
		}
		if n := h.paidOrders(); n != want {
			t.Errorf("charged %v: %d orders, want %d", charged, n, want)
		}
		h.agree()
	}
}
