package web

import (
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/api"
)

// lesson asks for so many minutes with somebody, or with anybody.
func lesson(start string, minutes int, with ...int64) fields {
	at, err := time.Parse(time.RFC3339, start)
	if err != nil {
		panic(err)
	}
	b := fields{"start": start, "end": at.Add(time.Duration(minutes) * time.Minute), "people": 1}
	if len(with) > 0 {
		b["with"] = with
	}
	return fields{"product": "lesson-at-the-telescope", "quantity": 1, "answers": fields{"lesson": b}}
}

func (c *client) bookingOf(desk *client, at string) api.BookingRow {
	c.t.Helper()
	page := read[api.OrderPage](c.t, c.want(200, "GET", at, nil))
	d := read[api.Docket](c.t, desk.want(200, "GET", "/api/desk/dockets/"+itoa(page.Lines[0].Id), nil))
	if d.Booking == nil {
		c.t.Fatal("nothing is booked")
	}
	return *d.Booking
}

// A lesson takes a person and the dome; nobody else has either at the time, of
// whatever product.
func TestPeopleAndRoomsAcrossProducts(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	one := c.buys(lesson("2026-12-02T14:30:00+01:00", 45, 5))
	b := c.bookingOf(d, one)
	if len(b.With) != 2 || b.With[0].Name != "Tobin Aske" || b.With[1].Name != "The dome" {
		t.Errorf("it takes %+v", b.With)
	}
	c.refused(422, "lines.0.lesson opening_sold_out", "PUT", checkout(), basket(lesson("2026-12-02T14:30:00+01:00", 45, 4))) // the dome is taken
	c.refused(422, "lines.0.lesson opening_sold_out", "PUT", checkout(), basket(lesson("2026-12-02T13:45:00+01:00", 45)))    // and tidied
	c.refused(422, "lines.0.lesson length_gone", "PUT", checkout(), basket(lesson("2026-12-02T16:00:00+01:00", 50)))
	c.refused(422, "lines.0.lesson resource_gone", "PUT", checkout(), basket(lesson("2026-12-02T16:00:00+01:00", 45, 6)))
	c.refused(422, "lines.0.lesson booking_order", "PUT", checkout(), basket(fields{"product": "lesson-at-the-telescope", "quantity": 1, "answers": fields{"lesson": fields{"start": "2026-12-02T16:00:00Z", "end": "2026-12-02T15:00:00Z", "people": 1}}}))
	// What hours, people and rooms leave is told day by day.
	days := read[api.BookableDays](t, c.want(200, "POST", "/api/shop/products/lesson-at-the-telescope/days", fields{"answers": fields{}, "quantity": 1, "people": 1, "from": "2026-12-01", "to": "2026-12-06", "length": 90, "with": []int{5}}))
	said := []string{}
	for _, x := range days.Days {
		free := 0
		for _, o := range x.Openings {
			if o.Room {
				free++
			}
		}
		said = append(said, x.Day[8:]+" "+string(x.State)+" "+itoa(int64(free)))
	}
	if got := strings.Join(said, ", "); got != "01 free 7, 02 free 2, 03 free 6" {
		t.Errorf("Tobin has %s", got)
	}
	c.refused(422, "from day, to day", "POST", "/api/shop/products/lesson-at-the-telescope/days", fields{"answers": fields{}, "quantity": 1, "people": 1, "from": "x", "to": ""})
	h.audit()
}

// The seller moves what is booked: told what that breaks, what it costs and which
// work moves along; the customer gets a mail. Nothing is moved by looking.
func TestTheSellerMovesABooking(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	at := c.buys(lesson("2026-12-02T14:30:00+01:00", 45, 5))
	c.buys(lesson("2026-12-03T14:30:00+01:00", 45, 5))
	b := c.bookingOf(d, at)
	path := "/api/desk/dockets/" + itoa(b.Line) + "/booking"
	move := fields{"version": b.Version, "day": "2026-12-03", "time": "14:30", "minutes": 90}
	p := read[api.BookingMoved](t, d.want(200, "POST", path+"/preview", move))
	if p.Against == nil || p.Before != 3600 || p.After != 7200 || p.Items != 2 {
		t.Errorf("before it is done: %+v", p)
	}
	if still := c.bookingOf(d, at); still.Day != "2026-12-02" || still.Version != b.Version {
		t.Errorf("looking moved it: %+v", still)
	}
	d.refused(422, "lesson opening_sold_out", "POST", path, move)
	d.refused(409, "", "POST", path, with2(move, "time", "16:45")) // the price is not agreed to
	moved := read[api.BookingMoved](t, d.want(200, "POST", path, with2(with2(with2(move, "time", "16:45"), "agreed", 7200), "word", "The dome is warm again.")))
	if moved.Against != nil || moved.After != 7200 {
		t.Errorf("%+v", moved)
	}
	now := c.bookingOf(d, at)
	if now.Day != "2026-12-03" || now.Time != "16:45" || now.Minutes != 90 {
		t.Errorf("it is at %+v", now)
	}
	d.refused(409, "", "POST", path, with2(move, "day", "2026-12-04")) // an older state
	d.refused(422, "day day", "POST", path, fields{"version": now.Version, "day": "soon"})
	d.refused(422, "minutes minutes", "POST", path, fields{"version": now.Version, "day": "2026-12-03", "minutes": 2})
	// With somebody else, in the dome as before: nothing stands against it.
	by := read[api.BookingMoved](t, d.want(200, "POST", path, fields{"version": now.Version, "day": "2026-12-03", "with": []int{4, 6}, "agreed": 7200, "silent": true}))
	if now = c.bookingOf(d, at); by.Against != nil || !slices.Equal(by.With, []string{"Ilse Brandt", "The dome"}) || now.With[0].Name != "Ilse Brandt" || now.With[1].Name != "The dome" {
		t.Errorf("%+v, %+v", by, now.With)
	}
	if text := d.instructions(now.Line, "Prepare the lesson"); !strings.Contains(text, "with Ilse Brandt, The dome.") {
		t.Errorf("the work is told %s", text)
	}
	d.refused(422, "with resource_unknown", "POST", path, fields{"version": now.Version, "day": "2026-12-03", "with": []int{99}})
	// Anyway: beside somebody else.
	d.want(200, "POST", path, fields{"version": now.Version, "day": "2026-12-03", "time": "14:30", "minutes": 90, "anyway": true, "agreed": 7200, "silent": true})
	mails := 0
	for _, m := range read[[]api.Message](t, d.want(200, "GET", "/api/desk/outbox", nil)) {
		if strings.HasPrefix(m.Subject, "Moved: ") {
			mails++
			if !strings.Contains(m.Body, "It was: Wed 2 Dec 2026, 14:30–15:15, 1 person\nIt is now: Thu 3 Dec 2026, 16:45–18:15, 1 person, Tobin Aske, The dome\n\nThe dome is warm again.\n") {
				t.Errorf("%s", m.Body)
			}
		}
	}
	if mails != 1 {
		t.Errorf("%d mails tell of a move", mails)
	}
	h.audit()
}

// instructions reads what is to be done at a step of a docket.
func (c *client) instructions(line int64, step string) string {
	c.t.Helper()
	for _, i := range read[api.Docket](c.t, c.want(200, "GET", "/api/desk/dockets/"+itoa(line), nil)).Work {
		if i.Title == step {
			return i.Instructions
		}
	}
	return ""
}

func with2(f fields, key string, v any) fields {
	next := fields{}
	for k, x := range f {
		next[k] = x
	}
	next[key] = v
	return next
}

// Customers move what they booked as long as cancelling would give all of it back,
// and see what that does to the price first.
func TestTheCustomerMovesABooking(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	at := c.buys(stay())
	page := read[api.OrderPage](t, c.want(200, "GET", at, nil))
	line := page.Lines[0]
	for _, k := range line.Locked {
		if k == "stay" {
			t.Error("a stay that was just booked cannot be moved")
		}
	}
	path := at + "/lines/" + itoa(line.Id)
	days := read[api.BookableDays](t, c.want(200, "POST", path+"/days", fields{"answers": fields{}, "quantity": 1, "people": 1, "from": "2026-12-09", "to": "2026-12-13"}))
	if len(days.Days) != 5 || days.Days[0].State != api.BookableDayStateFree { // its own stay is not in its way
		t.Errorf("%+v", days.Days)
	}
	longer := fields{"version": line.Version, "answers": fields{"stay": fields{"start": "2026-12-10T15:00:00+01:00", "end": "2026-12-16T10:00:00+01:00", "people": 1}}}
	p := read[api.PriceChange](t, c.want(200, "POST", path+"/answers/preview", longer))
	if p.After.Total-p.Before.Total != 3*6800 {
		t.Errorf("three nights more cost %d", p.After.Total-p.Before.Total)
	}
	c.refused(409, "", "PATCH", path+"/answers", longer)
	c.want(200, "PATCH", path+"/answers", with2(longer, "agreed", p.After.Total))
	if b := c.bookingOf(d, at); b.Day != "2026-12-10" || b.Last != "2026-12-16" || len(b.With) != 1 || b.With[0].Name != "Larch cabin" {
		t.Errorf("%+v", b)
	}
	line = read[api.OrderPage](t, c.want(200, "GET", at, nil)).Lines[0]
	c.refused(422, "stay stay", "PATCH", path+"/answers", fields{"version": line.Version, "answers": fields{"stay": fields{"start": "2026-12-14T15:00:00+01:00", "end": "2026-12-16T10:00:00+01:00", "people": 1}}})
	// A lesson within a day cannot be given back for nothing, and so not be moved.
	soon := c.buys(lesson("2026-11-26T14:30:00+01:00", 45))
	h.ahead.Store(int64(30 * time.Hour))
	l := read[api.OrderPage](t, c.want(200, "GET", soon, nil)).Lines[0]
	c.refused(422, "lesson booked", "PATCH", soon+"/lines/"+itoa(l.Id)+"/answers", fields{"version": l.Version, "answers": fields{"lesson": lesson("2026-12-02T14:30:00+01:00", 45)["answers"].(fields)["lesson"]}})
	h.audit()
}

// Nobody came: it is marked once it has begun, and can be taken back.
func TestNobodyCame(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	at := c.buys(lesson("2026-11-26T14:30:00+01:00", 45))
	b := c.bookingOf(d, at)
	act := "/api/desk/dockets/" + itoa(b.Line) + "/"
	d.refused(409, "", "POST", act+"no_show", nil)
	h.ahead.Store(int64(72 * time.Hour))
	d = h.desk()
	d.want(200, "POST", act+"no_show", nil)
	if b = c.bookingOf(d, at); b.NoShow == nil {
		t.Error("it is not marked")
	}
	d.want(200, "POST", act+"showed", nil)
	if b = c.bookingOf(d, at); b.NoShow != nil {
		t.Error("it is still marked")
	}
}
