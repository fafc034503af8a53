package web

import (
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/store"
)

func (h *house) waits() {
	h.t.Helper()
	must(h.t, h.server.Waiting.Round(h.t.Context()))
}

// turnOf reads the secret of the newest turn that was mailed to an address; empty for
// none.
func (h *house) turnOf(email string) (secret string) {
	h.t.Helper()
	must(h.t, h.store.Read(h.t.Context(), func(tx *store.Tx) error {
		rows, err := tx.LatestMessages(50)
		for _, m := range rows {
			if at := strings.Index(m.Body, "?turn="); secret == "" && m.Recipient == email && at > 0 {
				secret = strings.Fields(m.Body[at+len("?turn="):])[0]
			}
		}
		return err
	}))
	return secret
}

// What is booked up is waited for. Once it comes free, whoever waits the longest gets
// it held for them for a while, then the next; nobody else can have it meanwhile.
func TestWaitingForWhatIsBookedUp(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	booked := lesson("2026-12-02T14:30:00+01:00", 45)
	at := c.buys(booked)
	want := func(name string) fields {
		return fields{"name": name, "email": strings.ToLower(name) + "@example.org", "people": 1, "start": "2026-12-02T14:30:00+01:00", "end": "2026-12-02T15:15:00+01:00"}
	}
	path := "/api/shop/products/lesson-at-the-telescope/waiting"
	if w := read[api.Waiting](t, c.want(200, "POST", path, want("Nils"))); w.Hours != 12 {
		t.Errorf("%+v", w)
	}
	h.ahead.Add(int64(time.Minute))
	c.want(200, "POST", path, want("Runa"))
	c.want(200, "POST", path, want("Nils")) // he waits once
	c.refused(409, "", "POST", path, with2(with2(want("Eske"), "start", "2026-12-02T16:00:00+01:00"), "end", "2026-12-02T16:45:00+01:00"))
	c.refused(422, "start opening_gone", "POST", path, with2(with2(want("Eske"), "start", "2026-12-06T16:00:00+01:00"), "end", "2026-12-06T16:45:00+01:00"))
	c.refused(422, "end booking_order", "POST", path, with2(want("Eske"), "end", "2026-12-02T14:00:00+01:00"))
	c.refused(422, "email email", "POST", path, with2(want("Eske"), "email", "nobody"))
	if w := read[api.CalendarView](t, d.want(200, "GET", "/api/desk/calendar", nil)).Waits; len(w) != 2 || w[0].Name != "Nils" || w[0].Until != nil {
		t.Errorf("%+v", w)
	}
	h.waits()
	if h.turnOf("nils@example.org") != "" {
		t.Error("nothing is free, and it is Nils's turn")
	}

	page := read[api.OrderPage](t, c.want(200, "GET", at, nil))
	c.want(200, "POST", at+"/cancel", fields{"lines": []int64{page.Lines[0].Id}})
	h.waits()
	h.waits()
	nils := h.turnOf("nils@example.org")
	if nils == "" || h.turnOf("runa@example.org") != "" {
		t.Fatal("it is not the turn of who waits the longest")
	}
	turn := read[api.Turn](t, c.want(200, "GET", "/api/shop/turns/"+nils, nil))
	if !turn.Start.Equal(time.Date(2026, 12, 2, 13, 30, 0, 0, time.UTC)) || turn.Until.Sub(h.now()) != 12*time.Hour {
		t.Errorf("%+v", turn)
	}
	c.refused(422, "lines.0.lesson opening_sold_out", "PUT", checkout(), basket(booked)) // held for Nils
	c.refused(404, "", "GET", "/api/shop/turns/"+strings.Repeat("A", 22), nil)

	h.ahead.Add(int64(13 * time.Hour)) // he does not answer
	h.waits()
	h.waits()
	c.refused(410, "", "GET", "/api/shop/turns/"+nils, nil)
	runa := h.turnOf("runa@example.org")
	if runa == "" {
		t.Fatal("it is not the turn of the next one")
	}
	mine := h.client()
	mine.turn = runa
	mine.buys(booked)
	c.refused(410, "", "GET", "/api/shop/turns/"+runa, nil)
	h.waits()
	h.audit()
}

// A turn can be left to the next one, and what is waited for in vain is over once it
// begins.
func TestLeavingATurn(t *testing.T) {
	h := open(t, nil)
	c := h.client()
	at := c.buys(stay())
	c.buys(stay()) // the second cabin of two
	path := "/api/shop/products/observatory-cabin/waiting"
	for _, name := range []string{"Nils", "Runa"} {
		h.ahead.Add(int64(time.Minute))
		c.want(200, "POST", path, fields{"name": name, "email": strings.ToLower(name) + "@example.org", "people": 1, "start": "2026-12-09T15:00:00+01:00", "end": "2026-12-12T10:00:00+01:00"})
	}
	page := read[api.OrderPage](t, c.want(200, "GET", at, nil))
	c.want(200, "POST", at+"/cancel", fields{"lines": []int64{page.Lines[0].Id}})
	h.waits()
	nils := h.turnOf("nils@example.org")
	c.want(204, "DELETE", "/api/shop/turns/"+nils, nil)
	c.refused(410, "", "DELETE", "/api/shop/turns/"+nils, nil)
	h.waits()
	if h.turnOf("runa@example.org") == "" {
		t.Error("it is not the turn of the next one")
	}
	h.ahead.Add(int64(30 * 24 * time.Hour))
	h.waits()
	must(t, h.store.Read(t.Context(), func(tx *store.Tx) error {
		open, err := tx.OpenWaits()
		if len(open) != 2 { // for a course of the sample business
			t.Errorf("%d still wait", len(open))
		}
		return err
	}))
}
