package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/standin/cards"
)

// under sends a POST under an idempotency key.
func (c *client) under(key, path string, body any) answer {
	c.t.Helper()
	raw, err := json.Marshal(body)
	must(c.t, err)
	req, err := http.NewRequest("POST", c.site.URL+path, bytes.NewReader(raw))
	must(c.t, err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Idempotency-Key", key)
	res, err := c.http.Do(req)
	must(c.t, err)
	defer res.Body.Close()
	got, err := io.ReadAll(res.Body)
	must(c.t, err)
	return answer{status: res.StatusCode, body: got}
}

// The same key and request get the first answer and do nothing again; another
// request gets a 422.
func TestIdempotencyKey(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	o, _ := c.orders(desk.inParts())
	at := fmt.Sprintf("/api/desk/orders/%d/receive", o.Number)
	body := fields{"amount": 500, "way": "cash"}
	first := desk.under(`"key-0001"`, at, body)
	if first.status != 200 {
		t.Fatalf("%d %s", first.status, first.body)
	}
	var all sync.WaitGroup
	for range 5 {
		all.Go(func() {
			if again := desk.under("key-0001", at, body); again.status != 200 || !bytes.Equal(again.body, first.body) {
				t.Errorf("%d %s", again.status, again.body)
			}
		})
	}
	all.Wait()
	if m := read[api.OrderMoney](t, first); m.Paid != 700+500 || h.rows("ledger_entries WHERE kind = 'paid' AND way = 'cash'") != 1 {
		t.Errorf("%+v", m)
	}
	for name, other := range map[string]answer{
		"another body": desk.under("key-0001", at, fields{"amount": 501, "way": "cash"}),
		"another path": desk.under("key-0001", strings.Replace(at, "receive", "return", 1), body),
	} {
		if other.status != 422 || !strings.Contains(string(other.body), "key_reused") {
			t.Errorf("%s: %d %s", name, other.status, other.body)
		}
	}
	for _, bad := range []string{"short", "with spaces in it", `"half quoted`, strings.Repeat("k", 129)} {
		if a := desk.under(bad, at, body); a.status != 400 || !strings.Contains(string(a.body), "key_form") {
			t.Errorf("%q: %d %s", bad, a.status, a.body)
		}
	}
	// What was refused was not done, and may be tried again once it is right.
	if a := desk.under("key-0002", at, fields{"amount": -1}); a.status != 422 {
		t.Errorf("%d", a.status)
	}
	if a := desk.under("key-0002", at, fields{"amount": 100}); a.status != 200 {
		t.Errorf("%d %s", a.status, a.body)
	}
	// Somebody else's key is another one, and nobody is let in by a key.
	if a := h.client().under("key-0001", at, body); a.status != 401 {
		t.Errorf("%d %s", a.status, a.body)
	}
	// What only computes keeps nothing.
	n := h.rows("answered_requests")
	if a := desk.under("key-0003", at[:len(at)-len("receive")]+"cancel/preview", fields{"how": "all"}); a.status != 200 || h.rows("answered_requests") != n {
		t.Errorf("%d", a.status)
	}
	h.ahead.Store(int64(25 * time.Hour))
	must(t, h.server.sweepKeys(t.Context()))
	if n := h.rows("answered_requests"); n != 0 {
		t.Errorf("%d keys are kept for ever", n)
	}
	h.agree()
}

// Twenty requests at once under one key do it once: the others are told that it
// is worked on, or get its answer. Answers are kept so that only the key opens
// them.
func TestOneKeyAtOnce(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	c.pays(at, cards.Works, "attempt-0001")
	var all sync.WaitGroup
	links := sync.Map{}
	for range 20 {
		all.Go(func() {
			switch a := c.under("one-key-for-all", at+"/pay", fields{"attempt": "attempt-0001"}); a.status {
			case 200:
				var p api.Payment
				if err := json.Unmarshal(a.body, &p); err != nil || p.Link == nil {
					t.Errorf("%s", a.body)
					return
				}
				links.Store(*p.Link, true)
			case 409:
			default:
				t.Errorf("%d %s", a.status, a.body)
			}
		})
	}
	all.Wait()
	n := 0
	links.Range(func(link, _ any) bool {
		n++
		if h.rows(fmt.Sprintf("answered_requests WHERE instr(answer, '%s') > 0", link)) != 0 {
			t.Error("a private link stands in the database")
		}
		return true
	})
	if n != 1 {
		t.Errorf("%d different answers", n)
	}
}
