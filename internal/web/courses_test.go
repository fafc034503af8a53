package web

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/ics"
	"ruvo/internal/store"
)

// courseDays asks what can be booked of the course of the sample business.
func (c *client) courses(people int) []api.CourseShown {
	c.t.Helper()
	v := read[api.BookableDays](c.t, c.want(200, "POST", "/api/shop/products/six-evenings/days", fields{"answers": fields{}, "quantity": 1, "people": people, "from": "2026-11-24", "to": "2026-11-30"}))
	if v.Courses == nil {
		c.t.Fatal("there are no courses")
	}
	return *v.Courses
}

// booking gives what a customer books of a course.
func courseBooking(s api.CourseShown, people int) fields {
	var meetings []fields
	for _, m := range s.Times {
		meetings = append(meetings, fields{"start": m.Start, "end": m.End})
	}
	return fields{"start": s.Times[0].Start, "end": s.Times[len(s.Times)-1].End, "people": people, "meetings": meetings, "of": s.Of}
}

func courseLine(s api.CourseShown, people int) fields {
	return fields{"product": "six-evenings", "quantity": 1, "answers": fields{"course": courseBooking(s, people)}}
}

// A course is booked as one, joined later for its part of the price, moved meeting by
// meeting or into another one, and given back; each state comes as a calendar too.
func TestACourseFromBookingToGivingBack(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	list := c.courses(1)
	if len(list) != 3 || len(list[0].Times) != 4 || list[0].Of != 6 || *list[0].Price != 12000 || list[0].Left != 4 {
		t.Fatalf("%+v", list[0])
	}
	if full := list[1]; full.Room || !full.Taken || full.Left != 0 || *full.Price != 18000 {
		t.Errorf("%+v", full)
	}
	c.refused(422, "lines.0.course opening_sold_out", "PUT", checkout(), basket(courseLine(list[1], 1)))
	part := courseBooking(list[2], 1)
	part["meetings"] = part["meetings"].([]fields)[2:]
	c.refused(422, "lines.0.course type_booking", "PUT", checkout(), basket(fields{"product": "six-evenings", "quantity": 1, "answers": fields{"course": part}}))
	part["start"] = list[2].Times[2].Start
	c.refused(422, "lines.0.course course_gone", "PUT", checkout(), basket(fields{"product": "six-evenings", "quantity": 1, "answers": fields{"course": part}}))
	c.refused(422, "lines.0.course opening_gone", "PUT", checkout(), basket(fields{"product": "six-evenings", "quantity": 1, "answers": fields{"course": fields{"start": list[2].Times[0].Start, "end": list[2].Times[0].End, "people": 1}}}))
	// Joined at the third meeting: four of six for two thirds of the price, for two.
	at := c.buys(courseLine(list[0], 2))
	page := read[api.OrderPage](t, c.want(200, "GET", at, nil))
	line := page.Lines[0]
	if page.Slip.Total != 24000 || page.Slip.Lines[0].Why != "2 people × 180.00; for 4 of 6 meetings" {
		t.Errorf("%d %+v", page.Slip.Total, page.Slip.Lines)
	}
	if left := c.courses(1)[0].Left; left != 2 {
		t.Errorf("%d places are left", left)
	}
	read := func() []ics.Busy {
		file := string(c.want(200, "GET", at+"/lines/"+itoa(line.Id)+"/booking.ics", nil).body)
		busy, err := ics.Read(strings.NewReader(file), time.UTC, today.AddDate(0, 0, -30), today.AddDate(1, 0, 0))
		must(t, err)
		return busy
	}
	if busy := read(); len(busy) != 4 || !busy[0].Start.Equal(list[0].Times[0].Start) {
		t.Errorf("%+v", busy)
	}
	b := c.bookingOf(d, at)
	if b.Meeting == nil || *b.Meeting != 3 || *b.Meetings != 6 || b.With[0].Name != "Tobin Aske" {
		t.Errorf("%+v", b)
	}
	h.audit()
	h.moveCourse(c, d, at, line.Id, list)
	// Given back, all its places are free again.
	c.want(200, "POST", at+"/cancel", fields{"lines": []int64{line.Id}})
	for i, s := range c.courses(1) {
		if want := []int{4, 0, 8}[i]; s.Left != want {
			t.Errorf("%s has %d places left", s.Name, s.Left)
		}
	}
	if busy := read(); len(busy) != 0 { // all cancelled
		t.Errorf("%+v", busy)
	}
	h.audit()
}

// moveCourse has the seller move one meeting, and the customer the whole.
func (h *house) moveCourse(c, d *client, at string, line int64, list []api.CourseShown) {
	t := h.t
	path := "/api/desk/dockets/" + itoa(line) + "/booking"
	version := c.bookingOf(d, at).Version
	move := fields{"version": version, "day": "2026-12-04", "time": "17:00", "meeting": 4}
	d.refused(422, "meeting meeting", "POST", path, with2(move, "meeting", 2))
	d.refused(422, "day meetings_overlap", "POST", path, with2(with2(move, "day", "2026-12-09"), "time", "19:30"))
	d.refused(422, "course course_gone", "POST", path, with2(move, "course", "No such course"))
	d.refused(422, "course stay", "POST", path, with2(with2(move, "day", "2027-01-06"), "time", "19:30")) // Tobin leads another one then
	moved := read[api.BookingMoved](t, d.want(200, "POST", path, move))
	if moved.Against != nil || moved.After != moved.Before || !slices.Equal(moved.With, []string{"Tobin Aske"}) {
		t.Errorf("%+v", moved)
	}
	docket := read[api.Docket](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(line), nil))
	if m := *docket.Meetings; len(m) != 4 || m[1].Day != "2026-12-04" || m[1].Time != "17:00" || *m[1].Meeting != 4 || m[0].Day != "2026-11-25" {
		t.Errorf("%+v", m)
	}
	if left := c.courses(1)[0].Left; left != 2 { // the other three meetings are as full as before
		t.Errorf("%d places are left", left)
	}
	h.audit()
	// Nobody came to the first, once it has begun.
	act := "/api/desk/dockets/" + itoa(line) + "/no_show?meeting="
	d.refused(409, "", "POST", act+"4", nil)
	d.refused(404, "", "POST", act+"1", nil)
	// Into the one in spring: the whole of it, for the whole price, which the customer
	// has to be told of.
	whole := fields{"version": moved.Version, "day": "2026-12-04", "course": "In spring"}
	p := read[api.BookingMoved](t, d.want(200, "POST", path+"/preview", whole))
	if p.Before != 24000 || p.After != 36000 || p.Against != nil {
		t.Errorf("%+v", p)
	}
	d.refused(409, "", "POST", path, whole)
	moved = read[api.BookingMoved](t, d.want(200, "POST", path, with2(whole, "agreed", 36000)))
	if n := len(*read[api.Docket](t, d.want(200, "GET", "/api/desk/dockets/"+itoa(line), nil)).Meetings); n != 6 {
		t.Errorf("%d meetings are booked", n)
	}
	// The customer moves back into the one that has begun, by themselves: cancelling
	// would give all back so long before spring.
	change := fields{"version": moved.Version, "answers": fields{"course": courseBooking(list[0], 2)}, "agreed": 24000}
	h.ahead.Add(int64(time.Minute))
	c.want(200, "PATCH", at+"/lines/"+itoa(line)+"/answers", change)
	mail := h.lastMoved()
	if n := strings.Count(mail, "METHOD:PUBLISH"); n != 1 || strings.Count(mail, "METHOD:CANCEL") != 1 || strings.Count(mail, "BEGIN:VEVENT") != 6 || strings.Count(mail, "STATUS:CANCELLED") != 2 {
		t.Errorf("two meetings fewer are told as\n%s", mail)
	}
	// And into spring again, where it can be given back.
	version = c.bookingOf(d, at).Version
	d.want(200, "POST", path, with2(with2(whole, "version", version), "agreed", 36000))
	h.audit()
}

// lastMoved gives the calendar that goes along with the newest mail that tells of a move.
func (h *house) lastMoved() (calendar string) {
	h.t.Helper()
	must(h.t, h.store.Read(h.t.Context(), func(tx *store.Tx) error {
		rows, err := tx.LatestMessages(20)
		newest := int64(0)
		for _, m := range rows {
			if m.ID > newest && strings.HasPrefix(m.Subject, "Moved: ") {
				newest, calendar = m.ID, m.Calendar
			}
		}
		return err
	}))
	return calendar
}

// Who waits for a course that is booked up gets all of its meetings held.
func TestWaitingForACourse(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	full := c.courses(1)[1]
	path := "/api/shop/products/six-evenings/waiting"
	want := courseBooking(full, 1)
	want["name"], want["email"] = "Nils", "nils@example.org"
	c.refused(422, "start opening_gone", "POST", path, with2(with2(want, "meetings", nil), "of", nil))
	c.want(200, "POST", path, want)
	// Two of the sample business wait before Nils. Two places come free.
	gideon := read[api.OrderList](t, d.want(200, "GET", "/api/desk/orders?text=Gideon", nil)).Rows[0]
	d.want(200, "POST", "/api/desk/orders/"+itoa(gideon.Number)+"/cancel", fields{"how": "all", "restock": false})
	h.waits()
	if h.turnOf("liesbet@example.org") == "" || h.turnOf("nils@example.org") == "" || h.turnOf("anton@example.org") != "" {
		t.Error("two places are for one, and the other one; two more want both")
	}
	if s := c.courses(1)[1]; s.Room {
		t.Errorf("what is held can be had: %+v", s)
	}
	secret := h.turnOf("nils@example.org")
	turn := read[api.Turn](t, c.want(200, "GET", "/api/shop/turns/"+secret, nil))
	if turn.Meetings == nil || len(*turn.Meetings) != 6 || *turn.Of != 6 {
		t.Errorf("%+v", turn)
	}
	nils := h.client()
	nils.turn = secret
	nils.buys(courseLine(full, 1))
	rows := read[api.CalendarView](t, d.want(200, "GET", "/api/desk/calendar?from=2027-01-01&to=2027-01-31", nil))
	if len(rows.Waits) != 2 || rows.Waits[0].Meetings != 6 {
		t.Errorf("%+v", rows.Waits)
	}
	h.audit()
}

// Sixty want the eight places of a course, alone or in pairs: never more, and none is
// left that anybody could have had.
func TestTheLastPlacesOfACourse(t *testing.T) {
	h := open(t, nil)
	list := h.client().courses(1)
	if n := h.race(60, func(i int) fields { return courseLine(list[2], 1+i%2) }); n < 4 || n > 8 {
		t.Errorf("%d got a course of eight places", n)
	}
	after := h.client().courses(1)[2]
	if after.Left > 1 {
		t.Errorf("%d places were refused", after.Left)
	}
	h.audit()
}

// A course that makes no sense is told where it stands, before it is on sale.
func TestACourseThatCannotBePublished(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	id := int64(0)
	for _, p := range read[[]api.ProductRow](t, d.want(200, "GET", "/api/desk/products", nil)) {
		if p.Slug == "six-evenings" {
			id = p.Id
		}
	}
	p := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/"+itoa(id), nil))
	try := func() api.TrialResult {
		return read[api.TrialResult](t, d.want(200, "POST", "/api/desk/products/"+itoa(id)+"/try", fields{"draft": p.Draft, "quantity": 1, "answers": fields{}}))
	}
	p.Draft.Booking.Courses[1].Name = p.Draft.Booking.Courses[0].Name
	if f := try().Findings; len(f) == 0 || !strings.Contains(fmt.Sprint(f), "two courses are called") {
		t.Errorf("%+v", f)
	}
	p.Draft.Booking.Courses = p.Draft.Booking.Courses[:1]
	days := read[api.BookableDays](t, d.want(200, "POST", "/api/desk/products/"+itoa(id)+"/days", fields{
		"trial": fields{"draft": p.Draft, "quantity": 1, "answers": fields{}}, "asked": fields{"answers": fields{}, "quantity": 1, "people": 1, "from": "2026-11-24", "to": "2026-12-31"},
	}))
	if *days.Count != 1 || len(*days.Broken) != 4*6 { // what was booked of the course that is gone
		t.Errorf("%d can be booked, %d would break", *days.Count, len(*days.Broken))
	}
}
