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
	"ruvo/internal/standin/cards"
)

// race has buyers buy at once, and gives how many got it.
func (h *house) race(buyers int, line func(i int) fields) int {
	var all sync.WaitGroup
	var mu sync.Mutex
	got := 0
	for i := range buyers {
		all.Go(func() {
			c := h.client().from(fmt.Sprintf("203.0.113.%d", 1+i%200))
			at := checkout()
			if a := c.send("PUT", at, basket(line(i))); a.status != 200 {
				return
			}
			if p, _ := c.paying(at, cards.Works, fmt.Sprintf("attempt-%04d", i)); p.State == "settled" {
				mu.Lock()
				got++
				mu.Unlock()
			}
		})
	}
	all.Wait()
	return got
}

// Many want the last cabin, the last telescope of two, the dome and the last person,
// over products that share them: never twice, never none.
func TestNothingIsSoldTwice(t *testing.T) {
	h := open(t, nil)
	cabin := func(i int) fields { // three nights that all meet in one
		l := stay()
		l["answers"].(fields)["cabin"] = "juniper"
		first := []string{"2026-12-16", "2026-12-17", "2026-12-18"}[i%3]
		l["answers"].(fields)["stay"] = fields{"start": first + "T15:00:00+01:00", "end": "2026-12-19T10:00:00+01:00", "people": 1}
		return l
	}
	if n := h.race(200, cabin); n != 1 {
		t.Errorf("the last cabin was sold %d times", n)
	}
	telescope := func(i int) fields {
		from, to := 11+i%3, 14+i%2
		return fields{"product": "telescope-hire", "quantity": 1, "answers": fields{"nights_out": fields{"start": fmt.Sprintf("2026-12-%dT16:00:00+01:00", from), "end": fmt.Sprintf("2026-12-%dT11:00:00+01:00", to), "people": 1}}}
	}
	if n := h.race(100, telescope); n != 2 {
		t.Errorf("two telescopes were sold %d times", n)
	}
	if n := h.race(100, func(i int) fields {
		return lesson([]string{"2026-12-04T10:45:00+01:00", "2026-12-04T11:30:00+01:00"}[i%2], []int{45, 90, 120}[i%3])
	}); n < 1 || n > 2 {
		t.Errorf("the dome was sold %d times", n)
	}
	h.audit()
}

// A thousand times two want the same dome, one of them as long as the other two lessons
// together: each time just one gets it, and once its time is over it is free again.
func TestAThousandRaces(t *testing.T) {
	h := open(t, nil)
	start := time.Date(2027, 1, 12, 13, 0, 0, 0, time.UTC)
	for round := range 1000 {
		var both sync.WaitGroup
		var got atomic.Int32
		for i := range 2 {
			both.Go(func() {
				at := start.Add(time.Duration(i*(round%2)*45) * time.Minute)
				line := lesson(at.Format(time.RFC3339), []int{90, 45}[i], int64(4+(round+i)%2))
				req := api.CheckoutRequest{Name: "Ada Quill", Email: "ada@example.org", Terms: &agreed, Lines: []api.BasketLine{{Product: "lesson-at-the-telescope", Quantity: 1, Answers: answersOf(line)}}}
				if _, err := h.server.Shop.PutCheckout(t.Context(), strings.TrimPrefix(checkout(), "/api/shop/checkouts/"), req, "en"); err == nil {
					got.Add(1)
				}
			})
		}
		both.Wait()
		if got.Load() != 1 {
			t.Fatalf("round %d: %d got it", round, got.Load())
		}
		h.ahead.Add(int64(16 * time.Minute))
	}
	h.audit()
}

// A booking is moved by the seller, given back by its customer, and what comes free is
// offered to who waits and bought by somebody else, all at once: whoever is faster,
// nothing is had twice, and nothing is lost.
func TestMovedGivenBackAndOfferedAtOnce(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	for round := range 12 {
		c := h.client()
		day := time.Date(2026, 12, 1+7*(round%4), 13, 90*(round/4), 0, 0, time.UTC) // Tuesdays
		lines := lesson(day.Format(time.RFC3339), 45, 5)
		at := c.buys(lines)
		c.want(200, "POST", "/api/shop/products/lesson-at-the-telescope/waiting", fields{"name": "Nils", "email": fmt.Sprintf("nils%d@example.org", round), "people": 1, "start": day, "end": day.Add(45 * time.Minute)})
		line := read[api.OrderPage](t, c.want(200, "GET", at, nil)).Lines[0]
		b := c.bookingOf(d, at)
		var all sync.WaitGroup
		all.Go(func() { // to the next day, at the same time
			d.send("POST", "/api/desk/dockets/"+itoa(b.Line)+"/booking", fields{"version": b.Version, "day": day.AddDate(0, 0, 1).Format(time.DateOnly), "silent": true})
		})
		all.Go(func() { c.send("POST", at+"/cancel", fields{"lines": []int64{line.Id}}) })
		all.Go(func() { h.server.Waiting.Round(t.Context()) })
		all.Go(func() { h.client().send("PUT", checkout(), basket(lines)) })
		all.Wait()
		h.waits()
		h.audit()
		// It was given back, or stands where it was moved to.
		docket := read[api.Docket](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(b.Line), nil))
		if (docket.Cancelled != nil) != (docket.Booking == nil) {
			t.Errorf("round %d: cancelled %v, and its booking %+v", round, docket.Cancelled, docket.Booking)
		}
	}
}

func answersOf(line fields) api.Answers {
	raw, err := json.Marshal(line["answers"])
	if err != nil {
		panic(err)
	}
	var a api.Answers
	if err := json.Unmarshal(raw, &a); err != nil {
		panic(err)
	}
	return a
}
