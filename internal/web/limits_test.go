package web

import (
	"fmt"
	"net/http"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/demo"
	"ruvo/internal/core/calendar"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// throttled sends a request and expects to be told how long to wait, in a
// problem document (RFC 9457) and in the header that RFC 9110, 10.2.3, has for
// it.
func (c *client) throttled(method, path string, body any) {
	c.t.Helper()
	a := c.want(http.StatusTooManyRequests, method, path, body)
	p := read[problemDocument](c.t, a)
	if a.header.Get("Content-Type") != "application/problem+json" || a.header.Get("Retry-After") == "" || strings.HasPrefix(p.Title, "problem.") {
		c.t.Errorf("%s %s: Retry-After %q, %+v", method, path, a.header.Get("Retry-After"), p)
	}
}

// What nobody types: a thousand requests at once. Somebody else, and the same
// sender a moment later, are served.
func TestManyRequests(t *testing.T) {
	h := guarded(t)
	c, other := h.client().from("203.0.113.1"), h.client().from("203.0.113.2")
	for range 1000 {
		c.want(200, "GET", "/api/shop", nil)
	}
	c.throttled("GET", "/api/shop", nil)
	other.want(200, "GET", "/api/shop", nil)
	h.ahead.Add(int64(time.Second))
	for range 50 {
		c.want(200, "GET", "/api/shop", nil)
	}
	c.throttled("GET", "/api/shop", nil)
	c.want(200, "GET", "/healthz", nil) // whoever watches over us is no customer
}

// Whoever sends X-Forwarded-For and is no proxy of ours is believed nothing, and
// whoever is, only about the last sender before it. A network of 64 bits is one
// sender.
func TestWhoSends(t *testing.T) {
	h := opened(t, func(c *Config) { c.Limits = nil })
	c := h.client().from("203.0.113.1")
	for range 5 {
		c.refused(401, "", "POST", "/api/desk/session", fields{"email": demo.Email, "password": "wrong"})
	}
	c.from("203.0.113.2").throttled("POST", "/api/desk/session", fields{"email": demo.Email, "password": "wrong"})

	h = guarded(t)
	fail := func(sender string, times int) {
		t.Helper()
		for range times {
			h.client().from(sender).refused(401, "", "POST", "/api/desk/session", fields{"email": demo.Email, "password": "wrong"})
		}
	}
	fail("198.51.100.9, 203.0.113.1", 5) // the first is what the sender says of itself
	h.client().from("192.0.2.4, 203.0.113.1").throttled("POST", "/api/desk/session", fields{"email": demo.Email, "password": "wrong"})
	fail("203.0.113.2", 1)
	fail("2001:db8:1:1::5", 3)
	fail("2001:db8:1:1:ffff::1", 2)
	h.client().from("2001:db8:1:1::9").throttled("POST", "/api/desk/session", fields{"email": demo.Email, "password": "wrong"})
	fail("2001:db8:1:2::5", 1)
}

// Codes are looked at once something is in the basket; twenty different ones in a
// row, and then one in three minutes. The same one again, as with everything
// that is typed beside it, costs nothing.
func TestGuessingCodes(t *testing.T) {
	h := guarded(t)
	h.desk().coupon(fields{"code": "NOVA-TEN", "percent": "10"}, 0, 0)
	h.desk().coupon(fields{"code": "OLD-NOVA", "percent": "10", "to": "2026-11-24"}, 0, 0)
	h.ahead.Add(int64(24 * time.Hour))
	c := h.client().from("203.0.113.1")
	basket := func(line []fields, codes ...string) fields { return fields{"lines": line, "coupons": codes} }
	var told []string
	for _, code := range []string{"NOVA-TEN", "OLD-NOVA", "NEVER-WAS"} {
		v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", basket([]fields{}, code)))
		told = append(told, *v.Coupons[0].Message)
	}
	if told[0] != told[1] || told[0] != told[2] || !strings.Contains(told[0], "once something is in the basket") {
		t.Errorf("an empty basket tells codes apart: %q", told)
	}
	line := []fields{chart()}
	for i := range 20 {
		for range 3 {
			c.want(200, "POST", "/api/shop/basket", basket(line, fmt.Sprintf("GUESS-%d", i)))
		}
	}
	c.throttled("POST", "/api/shop/basket", basket(line, "NOVA-TEN"))
	c.want(200, "POST", "/api/shop/basket", basket(line, "GUESS-3"))
	h.client().from("203.0.113.2").want(200, "POST", "/api/shop/basket", basket(line, "NOVA-TEN"))
	h.ahead.Add(int64(3 * time.Minute))
	v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", basket(line, "NOVA-TEN")))
	if v.Coupons[0].Message != nil {
		t.Errorf("%+v", v.Coupons)
	}
	c.throttled("POST", "/api/shop/basket", basket(line, "GUESS-20"))
}

// Ten tries to pay one checkout, then one in five minutes; the bank hears of no
// other. What was tried before under its name is told again.
func TestTryingCards(t *testing.T) {
	h := guarded(t)
	c := h.client().from("203.0.113.1")
	at := h.prepared(c)
	for i := range 10 {
		c.pays(at, cards.Declined, fmt.Sprintf("attempt-%d", i))
	}
	before := h.charges()
	c.throttled("POST", at+"/pay", try("attempt-10"))
	c.from("203.0.113.2").throttled("POST", at+"/pay", try("attempt-10")) // it is one checkout
	c.pays(at, cards.Declined, "attempt-3")
	if h.charges() != before {
		t.Error("the bank was asked all the same")
	}
	// Other checkouts of the same sender: forty tries in all.
	for i := range 3 {
		next := h.prepared(c)
		for j := range 10 {
			c.pays(next, cards.Declined, fmt.Sprintf("attempt-%d-%d", i, j))
		}
	}
	last := h.prepared(c)
	c.throttled("POST", last+"/pay", try("attempt-last"))
	h.client().from("203.0.113.3").pay(h.prepared(c))
	h.ahead.Add(int64(5 * time.Minute))
	if p := c.pays(at, cards.Works, "attempt-10"); p.State != "settled" {
		t.Errorf("%+v", p)
	}
	h.audit()
}

// charges counts what the bank was asked.
func (h *house) charges() (n int) {
	h.t.Helper()
	must(h.t, storetest.SQL(h.t, filepath.Join(h.store.Folder(), cards.File)).QueryRow("SELECT COUNT(*) FROM movements").Scan(&n))
	return n
}

// An address gets five mails that nobody paid for, whoever asks for them and
// whether it belongs to a group or not, so that nobody learns which.
func TestManyMails(t *testing.T) {
	h := guarded(t)
	desk := h.desk()
	desk.want(200, "POST", "/api/desk/groups", fields{"name": "Night club", "domains": []string{"club.example.org"}})
	for n, email := range []string{"ida@club.example.org", "nobody@example.org"} {
		for i := range 5 {
			h.client().from(fmt.Sprintf("203.0.113.%d", 10*n+i)).want(204, "POST", "/api/shop/pass", fields{"email": email})
		}
		h.client().from("203.0.113.99").throttled("POST", "/api/shop/pass", fields{"email": email})
	}
	h.ahead.Add(int64(10 * time.Minute))
	c := h.client().from("203.0.113.99")
	c.want(204, "POST", "/api/shop/pass", fields{"email": "ida@club.example.org"})
	c.throttled("POST", "/api/shop/pass", fields{"email": "ida@club.example.org"})
	for i := range 18 {
		c.want(204, "POST", "/api/shop/pass", fields{"email": fmt.Sprintf("%d@club.example.org", i)})
	}
	c.want(204, "POST", "/api/shop/pass", fields{"email": "last@club.example.org"})
	c.throttled("POST", "/api/shop/pass", fields{"email": "one-more@club.example.org"})
	// Orders that cost nothing bring mail too.
	desk.coupon(fields{"code": "NOVA-GIFT", "percent": "100"}, 0, 0)
	free := func(status int) {
		t.Helper()
		at := checkout()
		buyer := h.client().from("203.0.113.50")
		buyer.want(200, "PUT", at, whole(basket(chart()), fields{"coupons": []string{"NOVA-GIFT"}}))
		buyer.want(status, "POST", at+"/pay", try("attempt-0001"))
	}
	for range 5 {
		free(200)
	}
	free(429)

	// So do those who get such an order as a present, whoever gives it.
	give := func(status int, n int, recipient fields) string {
		t.Helper()
		at := checkout()
		buyer := h.client().from(fmt.Sprintf("203.0.113.%d", 100+n))
		body := whole(basket(chart()), fields{"coupons": []string{"NOVA-GIFT"}, "email": fmt.Sprintf("buyer%d@example.org", n), "recipient": recipient})
		buyer.want(200, "PUT", at, body)
		a := buyer.want(status, "POST", at+"/pay", try("attempt-0001"))
		if status != 200 {
			return ""
		}
		return *read[api.Payment](t, a).Link
	}
	stranger := fields{"name": "Matti", "email": "matti@example.org", "words": "Buy my pills."}
	for n := range 5 {
		give(200, n, stranger)
	}
	give(429, 5, stranger)
	later := give(200, 6, fields{"name": "Matti", "email": "soon@example.org", "from": calendar.DayOf(today.AddDate(0, 0, 7)).String()})
	h.client().throttled("PUT", "/api/shop/orders/"+later+"/recipient", stranger)
}

// openings gives so many lines that book, each another opening.
func (c *client) openings(n int) []fields {
	c.t.Helper()
	var lines []fields
	for _, o := range read[[]api.Opening](c.t, c.want(200, "GET", "/api/shop/products/evening-under-the-stars/openings", nil)) {
		if o.Left > 0 && len(lines) < n {
			lines = append(lines, fields{"product": "evening-under-the-stars", "quantity": 1, "answers": fields{
				"evening": fields{"start": o.Start.Format(time.RFC3339), "people": 1}, "languages": []string{"en"},
			}})
		}
	}
	return lines
}

// left adds up the places that can be booked.
func (c *client) left() (n int) {
	c.t.Helper()
	for _, o := range read[[]api.Opening](c.t, c.want(200, "GET", "/api/shop/products/evening-under-the-stars/openings", nil)) {
		n += o.Left
	}
	return n
}

// An honest customer's place is held while they pay, also when they change
// something; whoever holds much of it, or for ever, without paying holds nothing
// any more, but can still buy.
func TestHoldingEverything(t *testing.T) {
	h := guarded(t)
	c, other := h.client().from("203.0.113.1"), h.client().from("203.0.113.2")
	all := other.left()

	// Everything that there is, in one request.
	many := c.openings(40)
	if len(many) < 21 {
		t.Fatalf("there are only %d openings", len(many))
	}
	at := checkout()
	v := read[api.Checkout](t, c.want(200, "PUT", at, basket(many...)))
	if v.HeldUntil != nil || other.left() != all {
		t.Errorf("%d of %d places are left, held until %v", other.left(), all, v.HeldUntil)
	}
	// A dozen lessons are held, and an hour of changing them.
	dozen := checkout()
	for range 4 {
		v = read[api.Checkout](t, c.want(200, "PUT", dozen, basket(many[:6]...)))
		if v.HeldUntil == nil || other.left() != all-6 {
			t.Errorf("%d of %d places are left, held until %v", other.left(), all, v.HeldUntil)
		}
		h.ahead.Add(int64(10 * time.Minute))
	}
	// In the end the sender has nothing left to hold with.
	for range 12 {
		c.want(200, "PUT", dozen, basket(many[:6]...))
		h.ahead.Add(int64(10 * time.Minute))
	}
	v = read[api.Checkout](t, c.want(200, "PUT", dozen, basket(many[:6]...)))
	if v.HeldUntil != nil || other.left() != all {
		t.Errorf("after hours %d of %d places are left, held until %v", other.left(), all, v.HeldUntil)
	}
	// A card that is declined holds nothing either.
	c.pays(dozen, cards.Declined, "attempt-0001")
	if other.left() != all {
		t.Errorf("after a declined card %d of %d places are left", other.left(), all)
	}
	// Somebody else is held their place, and both can buy.
	if v := read[api.Checkout](t, other.want(200, "PUT", checkout(), basket(many[0]))); v.HeldUntil == nil {
		t.Error("somebody else is held nothing")
	}
	p := c.pays(dozen, cards.Works, "attempt-0002")
	if p.State != "settled" || other.left() != all-7 {
		t.Errorf("%+v, %d of %d places are left", p, other.left(), all)
	}
	h.audit()
}

// What was held is not taken away from somebody who has nothing left to hold
// with and asks again; it lasts no longer, and no more is held beside it.
func TestWhatIsHeldStaysHeld(t *testing.T) {
	h := guarded(t)
	c := h.client().from("203.0.113.1")
	many := c.openings(24)
	at := checkout()
	held := func(lines ...fields) *time.Time {
		t.Helper()
		return read[api.Checkout](t, c.want(200, "PUT", at, basket(lines...))).HeldUntil
	}
	first := held(many[0])
	all := read[api.Checkout](t, c.want(200, "PUT", checkout(), basket(many[1:20]...)))
	if first == nil || all.HeldUntil == nil {
		t.Fatalf("twenty lines are held until %v and %v", first, all.HeldUntil)
	}
	h.ahead.Add(int64(time.Minute))
	if again := held(many[0]); again == nil || !again.Equal(*first) {
		t.Errorf("held until %v, and then until %v", first, again)
	}
	if other := held(many[20]); other == nil || !other.Equal(*first) {
		t.Errorf("another opening instead is held until %v, want %v", other, first)
	}
	if more := held(many[20], many[21]); more != nil {
		t.Errorf("one more is held until %v", more)
	}
}

// Two lines of one order want the last place, and nothing is held for it: one of
// them is told so when it is paid.
func TestOneOrderDoesNotOverbookItself(t *testing.T) {
	h := guarded(t)
	c := h.client().from("203.0.113.1")
	line := c.evening(8, 5)
	v := read[problemDocument](t, c.want(422, "PUT", checkout(), basket(line, line)))
	if v.codes() == "" {
		t.Errorf("%+v", v)
	}
	at := checkout()
	three := c.evening(8, 3)
	c.want(200, "PUT", at, basket(three, three))
	h.ahead.Add(int64(16 * time.Minute)) // nothing is held any more
	other := h.client().from("203.0.113.2")
	other.buys(func() fields {
		l := c.evening(8, 1)
		l["answers"].(fields)["evening"] = fields{"start": three["answers"].(fields)["evening"].(fields)["start"], "people": 4}
		return l
	}())
	p := read[problemDocument](t, c.want(422, "POST", at+"/pay", try("attempt-0001")))
	if len(p.Errors) != 1 || !strings.HasPrefix(p.Errors[0].Key, "lines.1.evening") {
		t.Errorf("four places were left for twice three: %+v", p)
	}
	h.audit()
}

// Twenty people at once hold the last piece, from one sender: no more is held
// than there is, and limits make no one buy what is gone.
func TestLimitsUnderALoad(t *testing.T) {
	h := guarded(t)
	desk := h.desk()
	id := desk.counts(fields{"product": 3, "pieces": 5})
	c := h.client().from("203.0.113.1")
	var all sync.WaitGroup
	var mu sync.Mutex
	sold := 0
	for i := range 20 {
		all.Go(func() {
			at := checkout()
			c.send("PUT", at, basket(fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 2}}))
			if p, _ := c.paying(at, cards.Works, fmt.Sprintf("attempt-%04d", i)); p.State == "settled" {
				mu.Lock()
				sold++
				mu.Unlock()
			}
		})
	}
	all.Wait()
	if left := desk.stocked(id); sold != 5 || left.Pieces != 0 {
		t.Errorf("%d sold, %+v", sold, left)
	}
	h.audit()
}

// A clock that was wrong for a while leaves nothing behind: what was held, put
// off or refused then is free, tried and allowed again.
func TestTheClockJumps(t *testing.T) {
	h := guarded(t)
	c, other := h.client().from("203.0.113.1"), h.client().from("203.0.113.2")
	all := other.left()
	day := int64(24 * time.Hour)
	h.ahead.Store(day)
	c.want(200, "PUT", checkout(), basket(c.openings(1)...))
	for range 5 {
		c.refused(401, "", "POST", "/api/desk/session", fields{"email": demo.Email, "password": "wrong"})
	}
	desk := h.desk()
	h.ahead.Store(0)
	if n := other.left(); n != all {
		t.Errorf("%d of %d places are left, though the clock is back", n, all)
	}
	desk.refused(401, "", "GET", "/api/desk/today", nil) // a session from tomorrow
	h.desk().want(200, "GET", "/api/desk/today", nil)
	c.throttled("POST", "/api/desk/session", fields{"email": demo.Email, "password": demo.Password})
	h.ahead.Store(int64(3 * time.Second))
	c.want(200, "POST", "/api/desk/session", fields{"email": demo.Email, "password": demo.Password})
	db := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File))
	_, err := db.Exec("UPDATE outbox SET sent_at = NULL, next_at = ? WHERE id = 1", today.Add(72*time.Hour).UTC())
	must(t, err)
	must(t, h.store.Read(t.Context(), func(tx *store.Tx) error {
		m, err := tx.MessagesToSend(h.now(), 10)
		if len(m) == 0 || m[0].ID != 1 {
			t.Errorf("a mail that was put off for days waits: %v", m)
		}
		return err
	}))
	// A year ahead and back: everything is served.
	for _, at := range []int64{365 * day, -365 * day, 0} {
		h.ahead.Store(at)
		must(t, h.server.Shop.Sweep(t.Context()))
		must(t, h.server.Desk.Sweep(t.Context()))
		h.client().want(200, "GET", "/api/shop", nil)
		h.desk().want(200, "GET", "/api/desk/today", nil)
	}
	h.client().buys(chart())
	h.audit()
}
