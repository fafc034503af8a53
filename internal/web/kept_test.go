package web

import (
	"strings"
	"testing"

	"ruvo/api"
)

// A time is kept by hand, of a product or of a person; nobody can book it, the day says
// why, and it can be let go. What was booked in it before stays, and is told.
func TestKeptTimes(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	at := c.buys(lesson("2026-12-02T14:30:00+01:00", 45, 5))
	keep := fields{"resource": 6, "day": "2026-12-02", "time": "14:00", "last": "2026-12-02", "ends": "17:00", "reason": "The roof is mended"}
	made := read[api.KeptMade](t, d.want(200, "POST", "/api/desk/kept", keep))
	if len(made.Bookings) != 1 || made.Bookings[0].Line != c.bookingOf(d, at).Line || made.Kept.Name != "The dome" || made.Kept.Minutes != 180 {
		t.Errorf("%+v", made)
	}
	c.refused(422, "lines.0.lesson opening_sold_out", "PUT", checkout(), basket(lesson("2026-12-02T16:00:00+01:00", 45)))
	c.want(200, "PUT", checkout(), basket(lesson("2026-12-02T17:30:00+01:00", 45)))
	view := read[api.CalendarView](t, d.want(200, "GET", "/api/desk/calendar?from=2026-12-01&to=2026-12-05", nil))
	if len(view.Kept) != 1 || view.Kept[0].Reason != "The roof is mended" || view.Kept[0].Author != "Ilse Brandt" {
		t.Errorf("%+v", view.Kept)
	}
	d.want(204, "DELETE", "/api/desk/kept/"+itoa(made.Kept.Id), nil)
	d.refused(404, "", "DELETE", "/api/desk/kept/"+itoa(made.Kept.Id), nil)
	c.want(200, "PUT", checkout(), basket(lesson("2026-12-02T16:00:00+01:00", 45)))

	// Places of an evening, then all of it.
	evening := fields{"product": 2, "day": "2026-12-04", "time": "18:30", "last": "2026-12-04", "ends": "21:00", "people": 3}
	left := func() int {
		for _, x := range read[[]api.Opening](t, c.want(200, "GET", "/api/shop/products/evening-under-the-stars/openings", nil)) {
			if x.Day == "2026-12-04" && x.Time == "18:30" {
				return x.Left
			}
		}
		return -1
	}
	before := left()
	places := read[api.KeptMade](t, d.want(200, "POST", "/api/desk/kept", evening))
	if now := left(); now != before-3 {
		t.Errorf("%d places of %d are left beside three that are kept", now, before)
	}
	d.want(200, "POST", "/api/desk/kept", with2(with2(evening, "people", nil), "reason", "Ours"))
	if now := left(); now != 0 {
		t.Errorf("%d places of an evening that is kept", now)
	}
	there := whyOf(d, "2026-12-02", 5)
	if want := "There from 14:00 to 20:00.\n14:30–15:15: booked, Ada Quill (A lesson at the telescope)\n19:00–20:30: booked, Saskia Dunmore (Six evenings: find your way in the sky)"; !strings.HasPrefix(there, want) {
		t.Errorf("Tobin is said to be\n%s", there)
	}
	said := false
	for _, w := range read[[]api.DayWhy](t, d.want(200, "GET", "/api/desk/calendar/2026-12-04", nil)) {
		said = said || w.Product == 2 && strings.Contains(strings.Join(w.Why, "\n"), "18:30: Kept free by hand: Ours")
	}
	if !said {
		t.Error("the day does not say that it is kept")
	}
	d.want(204, "DELETE", "/api/desk/kept/"+itoa(places.Kept.Id), nil)

	// A cabin of which one night is kept, and a meeting of a course.
	night := fields{"product": 5, "day": "2026-12-10", "time": "15:00", "last": "2026-12-11", "ends": "10:00", "reason": "Inspection"}
	d.want(200, "POST", "/api/desk/kept", night)
	c.refused(422, "lines.0.stay stay", "PUT", checkout(), basket(stay()))
	d.want(200, "POST", "/api/desk/kept", fields{"product": 17, "day": "2027-03-03", "time": "00:00", "last": "2027-03-03", "ends": "24:00"})
	if spring := c.courses(1)[2]; spring.Room || spring.Taken || *spring.Why != "Kept free by hand." {
		t.Errorf("%+v", spring)
	}
	for want, f := range map[string]fields{
		"product kept_of_what":      with2(keep, "product", 2),
		"resource resource_unknown": with2(keep, "resource", 99),
		"product not_sold":          with2(evening, "product", 99),
		"ends booking_order":        with2(keep, "ends", "13:00"),
		"day day, last day":         with2(with2(keep, "day", "soon"), "last", "later"),
		"time time, ends time":      with2(with2(keep, "time", "noon"), "ends", "25:00"),
		"people kept_people":        with2(keep, "people", 2),
	} {
		d.refused(422, want, "POST", "/api/desk/kept", f)
	}
	c.refused(401, "", "POST", "/api/desk/kept", keep)
	h.audit()
}

// whyOf reads what a day says of a person, a room or a thing.
func whyOf(d *client, day string, resource int64) string {
	d.t.Helper()
	for _, w := range read[[]api.DayWhy](d.t, d.want(200, "GET", "/api/desk/calendar/"+day, nil)) {
		if w.Resource != nil && *w.Resource == resource {
			return strings.Join(w.Why, "\n")
		}
	}
	return ""
}

// The seller takes down an order for somebody: it is checked and priced as in the shop,
// and paid in cash, or stays open until the customer pays.
func TestAnOrderByHand(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	order := fields{"line": lesson("2026-12-02T14:30:00+01:00", 45, 5), "name": "Orla Fenwick", "email": "orla@example.org", "language": "de", "total": 3600}
	d.refused(422, "name name, email email", "POST", "/api/desk/orders", with2(with2(order, "name", ""), "email", "nobody"))
	d.refused(422, "lines.0.lesson required", "POST", "/api/desk/orders", with2(order, "line", fields{"product": "lesson-at-the-telescope", "quantity": 1, "answers": fields{}}))
	d.refused(409, "", "POST", "/api/desk/orders", with2(order, "total", 100))
	c.refused(401, "", "POST", "/api/desk/orders", order)
	if h.paidOrders() != 0 {
		t.Error("what was refused placed an order")
	}
	placed := read[api.PlacedByHand](t, d.want(200, "POST", "/api/desk/orders", order))
	docket := read[api.Docket](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(placed.Line), nil))
	if docket.Money.Open != 3600 || docket.Money.Paid != 0 || docket.Booking == nil || docket.Booking.With[0].Name != "Tobin Aske" {
		t.Errorf("%+v %+v", docket.Money, docket.Booking)
	}
	d.refused(422, "lines.0.lesson opening_sold_out", "POST", "/api/desk/orders", order) // now it is taken
	cash := with2(with2(order, "line", lesson("2026-12-03T14:30:00+01:00", 90, 5)), "paid", "cash")
	paid := read[api.PlacedByHand](t, d.want(200, "POST", "/api/desk/orders", with2(cash, "total", 7200)))
	docket = read[api.Docket](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(paid.Line), nil))
	if docket.Money.Open != 0 || docket.Money.Paid != 7200 || paid.Number != placed.Number+1 {
		t.Errorf("%+v", docket.Money)
	}
	// What takes a deposit needs it before.
	hire := fields{"product": "telescope-hire", "quantity": 1, "answers": fields{"nights_out": fields{"start": "2026-12-11T16:00:00+01:00", "end": "2026-12-14T11:00:00+01:00", "people": 1}}}
	d.refused(422, "paid deposit_first", "POST", "/api/desk/orders", with2(with2(order, "line", hire), "total", nil))
	held := read[api.PlacedByHand](t, d.want(200, "POST", "/api/desk/orders", with2(with2(cash, "line", hire), "total", nil)))
	docket = read[api.Docket](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(held.Line), nil))
	if docket.Money.Held == 0 || docket.Money.Open != 0 {
		t.Errorf("%+v", docket.Money)
	}
	german := false
	for _, m := range read[[]api.Message](t, d.want(200, "GET", "/api/desk/outbox", nil)) {
		german = german || m.To == "orla@example.org" && strings.Contains(m.Subject, "Bestellung")
	}
	if !german {
		t.Error("the customer gets no mail in their language")
	}
	h.audit()
}
