package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/port"
	"ruvo/internal/standin/cards"
	"ruvo/internal/storetest"
)

// notify sends a body as a notice and gives the status and problem of the
// answer.
func (h *house) notify(head http.Header, body []byte) (int, string) {
	h.t.Helper()
	r := httptest.NewRequest("POST", NoticesPath, bytes.NewReader(body))
	r.Header = head
	w := httptest.NewRecorder()
	h.server.ServeHTTP(w, r)
	var p struct{ Type string }
	json.Unmarshal(w.Body.Bytes(), &p)
	return w.Code, p.Type[strings.LastIndex(p.Type, "/")+1:]
}

func (h *house) rows(table string) (n int) {
	h.t.Helper()
	must(h.t, storetest.SQL(h.t, h.store.Folder()+"/ruvo.db").QueryRow("SELECT COUNT(*) FROM "+table).Scan(&n))
	return n
}

// A notice that is forged, stale, changed, malformed or too large is refused
// with a word and leaves nothing; one that comes again changes nothing.
func TestNoticesThatAreRefused(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	p := read[api.Payment](t, c.want(200, "POST", at+"/pay", try("attempt-0001")))
	must(t, h.bank.Deliver(t.Context())) // that it was begun
	before := h.rows("notices")
	c.atBank(*p.Page, cards.DoPay, cards.Works)
	attempt := ""
	must(t, storetest.SQL(t, h.store.Folder()+"/ruvo.db").QueryRow("SELECT name FROM attempts ORDER BY id DESC").Scan(&attempt))
	body := []byte(fmt.Sprintf(`{"id": "notice-1", "attempt": %q, "state": "settled"}`, attempt))
	signed := func(body []byte) http.Header {
		head := http.Header{}
		h.bank.Sign(head, body)
		return head
	}
	good := signed(body)
	for name, c := range map[string]struct {
		head   http.Header
		body   []byte
		ahead  time.Duration
		status int
		code   string
	}{
		"unsigned":         {http.Header{}, body, 0, 403, "notice_forged"},
		"changed":          {good, bytes.Replace(body, []byte("notice-1"), []byte("notice-2"), 1), 0, 403, "notice_forged"},
		"signed by chance": {http.Header{"Simulated-Instant": good["Simulated-Instant"], "Simulated-Signature": {"AAAA"}}, body, 0, 403, "notice_forged"},
		"stale":            {good, body, 6 * time.Minute, 400, "notice_stale"},
		"from the future":  {good, body, -6 * time.Minute, 400, "notice_stale"},
		"no JSON":          {signed([]byte("settled!")), []byte("settled!"), 0, 400, "notice_malformed"},
		"of nothing":       {signed([]byte("{}")), []byte("{}"), 0, 400, "notice_malformed"},
		"too large":        {good, bytes.Repeat([]byte("x"), largestNotice+1), 0, 413, "too_large"},
	} {
		h.ahead.Store(int64(c.ahead))
		if status, code := h.notify(c.head, c.body); status != c.status || code != c.code {
			t.Errorf("%s: %d %s, want %d %s", name, status, code, c.status, c.code)
		}
		h.ahead.Store(0)
	}
	if n := h.rows("notices"); n != before {
		t.Errorf("%d notices were kept, %d before", n, before)
	}
	if h.paidOrders() != 0 {
		t.Error("a notice that was refused placed an order")
	}
	for range 3 { // it comes, and comes again
		if status, _ := h.notify(good, body); status != 202 {
			t.Errorf("%d", status)
		}
		must(t, h.server.Attempts.WorkNotices(t.Context()))
	}
	about := []byte(`{"id": "notice-3", "attempt": "nothing of ours", "state": "settled"}`)
	if status, _ := h.notify(signed(about), about); status != 202 {
		t.Errorf("%d", status)
	}
	must(t, h.server.Attempts.WorkNotices(t.Context()))
	if n := h.rows("notices WHERE work_at IS NOT NULL"); n != 0 || h.rows("notices") != before+2 || h.paidOrders() != 1 {
		t.Errorf("%d notices wait, %d orders", n, h.paidOrders())
	}
	h.ahead.Store(int64(25 * time.Hour))
	must(t, h.server.Attempts.Sweep(t.Context()))
	if n := h.rows("notices"); n != 0 {
		t.Errorf("%d notices are kept for ever", n)
	}
	h.agree()
}

// A notice waits when the service that it is from does not answer, and so does
// not get lost.
func TestANoticeThatCannotBeWorkedOn(t *testing.T) {
	h, bank := along(t)
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	p := read[api.Payment](t, c.want(200, "POST", at+"/pay", try("attempt-0001")))
	c.atBank(*p.Page, cards.DoPay, cards.Works)
	bank.broken.Store(true)
	h.noticed()
	if h.paidOrders() != 0 || h.rows("notices WHERE work_at IS NOT NULL AND tries = 1") == 0 {
		t.Error("the notice does not wait")
	}
	bank.broken.Store(false)
	h.ahead.Add(int64(10 * time.Second))
	must(t, h.server.Attempts.WorkNotices(t.Context()))
	if h.paidOrders() != 1 {
		t.Error("the notice was not worked on again")
	}
	h.agree()
}

// A letterbox holds notices back, to bring them in any order.
type letterbox struct{ held []*http.Request }

func (l *letterbox) RoundTrip(r *http.Request) (*http.Response, error) {
	raw, err := io.ReadAll(r.Body)
	again := httptest.NewRequest("POST", NoticesPath, bytes.NewReader(raw))
	again.Header = r.Header.Clone()
	again.GetBody = func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(raw)), nil }
	l.held = append(l.held, again)
	return &http.Response{StatusCode: 202, Body: io.NopCloser(strings.NewReader("")), Request: r}, err
}

// Ten thousand times something happens around payments, in random order: they
// begin, are paid, declined or left on the bank's page, which behaves in every
// way; notices come late, twice, never and out of order; the shop asks by
// itself. Whatever happens, each order is paid once or not at all, and the
// bank's list and the ledgers agree in the end.
func TestTenThousandEventsAroundPayments(t *testing.T) {
	if testing.Short() {
		t.Skip("it takes half a minute")
	}
	h := open(t, nil)
	box := &letterbox{}
	h.bank.Client = &http.Client{Transport: box}
	c := h.client()
	r := rand.New(rand.NewPCG(91, 92))
	type paying struct{ at, page string }
	var open []paying
	pick := func(list []string) string { return list[r.IntN(len(list))] }
	begin := func() {
		at := checkout()
		c.want(200, "PUT", at, basket(chart()))
		open = append(open, paying{at: at})
	}
	try := func(i int) {
		a := c.send("POST", open[i].at+"/pay", try(fmt.Sprintf("attempt-%d", r.IntN(1_000_000)+1_000)))
		if a.status == 200 {
			if p := read[api.Payment](t, a); p.Page != nil {
				open[i].page = *p.Page
			}
		} else if a.status != 409 {
			t.Fatalf("paying: %d %s", a.status, a.body)
		}
	}
	for range 80 {
		begin()
	}
	for event := range 10_000 {
		i := r.IntN(len(open))
		switch n := r.IntN(100); {
		case n < 3 || n < 8 && open[i].page == "":
			try(i)
		case n < 28 && open[i].page != "":
			c.atBank(open[i].page, pick([]string{cards.DoPay, cards.DoPay, cards.DoConfirm, cards.DoRefuse, cards.DoLeave}), pick([]string{cards.Works, cards.Works, cards.Declined, cards.Confirms}))
		case n < 30:
			must(t, h.bank.Behave(t.Context(), cards.Behaviour{
				Notices:  pick([]string{cards.NoticeBefore, cards.NoticeAfter, cards.NoticeTwice, cards.NoticeLate, cards.NoticeNever, cards.NoticeShuffled}),
				Confirms: pick([]string{cards.ConfirmsByCard, cards.ConfirmsAlways, cards.ConfirmsNever}),
				Declines: pick([]string{cards.DeclinesByCard, cards.DeclinesByCard, cards.DeclinesOld}),
				Silent:   pick([]string{cards.SilentNever, cards.SilentNever, cards.SilentBefore, cards.SilentAfter}),
				Returns:  pick([]string{cards.ReturnsAtOnce, cards.ReturnsLater}),
			}))
		case n < 36:
			h.ahead.Add(int64(time.Duration(r.IntN(10)) * time.Second))
			must(t, h.bank.Deliver(t.Context()))
		case n < 39:
			must(t, h.server.Attempts.Round(t.Context()))
		case n < 42:
			must(t, h.server.Attempts.WorkNotices(t.Context()))
		case n < 52:
			// Led back, or loaded again: who sees that nothing was paid begins anew.
			if a := c.send("GET", open[i].at, nil); a.status == 200 && read[api.Checkout](t, a).State == "prepared" {
				try(i)
			}
		case n < 53:
			c.send("POST", open[i].at+"/leave", nil)
		case len(box.held) > 0: // a notice comes, and may come again
			k := r.IntN(len(box.held))
			again := box.held[k].Clone(t.Context())
			again.Body, _ = box.held[k].GetBody()
			w := httptest.NewRecorder()
			h.server.ServeHTTP(w, again)
			if w.Code != 202 && w.Code != 400 { // taken, or stale by now
				t.Fatalf("event %d: a notice was answered with %d %s", event, w.Code, w.Body)
			}
		}
	}
	must(t, h.bank.Behave(t.Context(), cards.Behaviour{}))
	for range 40 {
		must(t, h.bank.Late(t.Context()))
		h.later(holdTime)
		must(t, h.server.Attempts.WorkNotices(t.Context()))
	}
	placed := 0
	for _, p := range open {
		v := read[api.Checkout](t, h.client().send("GET", p.at, nil))
		if v.State == "placed" {
			placed++
		} else if v.State != "prepared" && v.State != "" {
			t.Errorf("%s is still %s", p.at, v.State)
		}
	}
	if n := h.rows("attempts WHERE state IN ('asked', 'confirm')"); n != 0 {
		t.Errorf("of %d attempts no answer is known", n)
	}
	t.Logf("%d notices, %d attempts, %d orders", len(box.held), h.rows("attempts"), h.paidOrders())
	if h.paidOrders() < 40 {
		t.Errorf("only %d orders were paid, so little was tried", h.paidOrders())
	}
	h.agree()
}

var _ port.Payments = (*line)(nil)
