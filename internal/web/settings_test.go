package web

import (
	"slices"
	"strings"
	"testing"

	"ruvo/api"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
)

func (c *client) settings() api.SettingsView {
	c.t.Helper()
	return read[api.SettingsView](c.t, c.want(200, "GET", "/api/desk/settings", nil))
}

func (c *client) sets(v api.SettingsView, change func(*api.Settings)) api.SettingsView {
	c.t.Helper()
	change(&v.Settings)
	return read[api.SettingsView](c.t, c.want(200, "PUT", "/api/desk/settings", fields{"version": v.Version, "settings": v.Settings}))
}

// Settings are kept as they are sent, refused with what somebody else changed
// meanwhile, and taken back one by one.
func TestSettings(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	v := d.settings()
	if v.Settings.Name != "Fernlight Sky Studio" || v.Settings.Zone != "Europe/Berlin" || len(v.Regions) != 16 || len(v.Holidays) == 0 || v.ChangedBy != nil {
		t.Fatalf("%+v", v)
	}
	d.refused(409, "", "POST", "/api/desk/settings/undo", fields{"version": v.Version})
	next := d.sets(v, func(s *api.Settings) {
		s.Name, s.Contact, s.Region = "Fernlight", " hello@fernlight.example.org ", "DE-BY"
	})
	if next.Settings.Name != "Fernlight" || next.Settings.Contact != "hello@fernlight.example.org" || next.Version != v.Version+1 || *next.ChangedBy != "Ilse Brandt" || len(next.Holidays) <= len(v.Holidays) {
		t.Errorf("%+v", next)
	}
	if front := read[api.ShopFront](t, h.client().want(200, "GET", "/api/shop", nil)); front.Business != "Fernlight" {
		t.Errorf("%+v", front)
	}
	stale := v.Settings
	stale.Tagline = "Come and see"
	d.refused(409, "contact setting_changed, name setting_changed, region setting_changed", "PUT", "/api/desk/settings", fields{"version": v.Version, "settings": stale})
	back := read[api.SettingsView](t, d.want(200, "POST", "/api/desk/settings/undo", fields{"version": next.Version}))
	if back.Settings.Name != "Fernlight Sky Studio" || back.Settings.Region != "" || back.Version != next.Version+1 {
		t.Errorf("%+v", back)
	}
	if again := read[api.SettingsView](t, d.want(200, "POST", "/api/desk/settings/undo", fields{"version": back.Version})); again.Settings.Name != "Fernlight" {
		t.Errorf("what was undone is not done again: %+v", again)
	}
	if same := d.sets(d.settings(), func(*api.Settings) {}); same.Version != back.Version+1 {
		t.Errorf("saying the same is a change: %d", same.Version)
	}
	wrong := d.settings().Settings
	wrong.Name, wrong.Contact, wrong.Zone, wrong.Country, wrong.Region, wrong.Language = " ", "nobody", "Mars/Olympus", "XX", "DE-BY", "fr"
	wrong.Week[1] = []calendar.Span{{From: 600, To: 720}, {From: 660, To: 780}}
	wrong.Closures = []calendar.Closure{{From: calendar.Day{Year: 2026, Month: 12, Number: 24}, To: calendar.Day{Year: 2026, Month: 12, Number: 20}}}
	d.refused(422, "name business_name, contact email, language choice, zone zone, country choice, region region, week[1] week_order, closures[0].to closure_order", "PUT", "/api/desk/settings", fields{"version": d.settings().Version, "settings": wrong})
	d.refused(422, "name business_name, contact email, language choice, zone zone, country choice, region region, week[1] week_order, closures[0].to closure_order", "POST", "/api/desk/settings/preview", wrong)
	h.client().refused(401, "", "GET", "/api/desk/settings", nil)
	h.audit()
}

// A day off closes the openings on it, after it was told what stands in them; a
// holiday that is worked on does not; and each day says why.
func TestDaysOffCloseOpenings(t *testing.T) {
	h := open(t, nil)
	d, c := h.desk(), h.client()
	link := c.buys(c.evening(8, 2))
	line := read[api.OrderPage](t, c.want(200, "GET", link, nil)).Lines[0]
	openings := func() (days map[string]int) {
		days = map[string]int{}
		for _, o := range read[[]api.Opening](t, c.want(200, "GET", "/api/shop/products/evening-under-the-stars/openings", nil)) {
			days[o.Day]++
		}
		return days
	}
	why := func(day string) string {
		for _, w := range read[[]api.DayWhy](t, d.want(200, "GET", "/api/desk/calendar/"+day, nil)) {
			if w.Product == 2 {
				return strings.Join(w.Why, " ")
			}
		}
		return "it is not told"
	}
	if n := openings()["2026-12-25"]; n != 0 || why("2026-12-25") != "You are closed: Weihnachtstag." {
		t.Errorf("%d openings at Christmas: %s", n, why("2026-12-25"))
	}
	day := ""
	for _, b := range read[api.CalendarView](t, d.want(200, "GET", "/api/desk/calendar", nil)).Bookings {
		if b.Line == line.Id {
			day = b.Day
		}
	}
	v := d.settings()
	off, err := calendar.ParseDay(day)
	must(t, err)
	v.Settings.Closures = append(v.Settings.Closures, calendar.Closure{From: off, To: off, Reason: "a wedding"})
	impact := read[api.SettingsImpact](t, d.want(200, "POST", "/api/desk/settings/preview", v.Settings))
	stands := false
	for _, b := range impact.Bookings {
		stands = stands || b.Line == line.Id
	}
	if impact.Closing < openings()[day] || impact.Closing == 0 || !stands || impact.Opening != 0 {
		t.Errorf("%+v", impact)
	}
	v = d.sets(v, func(*api.Settings) {})
	if n := openings()[day]; n != 0 || why(day) != "You are closed: a wedding." {
		t.Errorf("%d openings are left: %s", n, why(day))
	}
	christmas := ""
	for _, x := range v.Holidays {
		if x.Day == "2026-12-25" {
			christmas = x.Name
		}
	}
	v = d.sets(v, func(s *api.Settings) { s.Open = []string{christmas} })
	if n := openings()["2026-12-25"]; n != 2 || !strings.Contains(why("2026-12-25"), "18:30 has 8 of 8 places left.") {
		t.Errorf("%d openings: %s", n, why("2026-12-25"))
	}
	d.refused(422, "day day", "GET", "/api/desk/calendar/soon", nil)
	// What was booked stands all the same.
	if page := read[api.OrderPage](t, c.want(200, "GET", link, nil)); page.Money.State != "placed" {
		t.Errorf("%+v", page.Money)
	}
	h.audit()
}

// People, rooms and things are kept like the other settings: told what an absence
// closes and who has booked them then, undone, refused with the place of what is
// wrong, and never given the number of one that is gone.
func TestPeopleAndRoomsInTheSettings(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	at := c.buys(lesson("2026-12-02T14:30:00+01:00", 45, 5))
	b := c.bookingOf(d, at)
	v := d.settings()
	if len(v.Settings.Resources) != 7 || v.NextResource != 8 {
		t.Fatalf("%+v, next %d", v.Settings.Resources, v.NextResource)
	}
	away := v.Settings
	away.Resources = slices.Clone(v.Settings.Resources)
	day := calendar.Day{Year: 2026, Month: 12, Number: 2}
	away.Resources[4].Closures = []calendar.Closure{{From: day, To: day, Reason: "a course"}}
	impact := read[api.SettingsImpact](t, d.want(200, "POST", "/api/desk/settings/preview", away))
	if len(impact.Bookings) != 1 || impact.Bookings[0].Line != b.Line {
		t.Errorf("%+v", impact)
	}
	away.Resources[3].Closures = away.Resources[4].Closures // then nobody teaches
	if impact = read[api.SettingsImpact](t, d.want(200, "POST", "/api/desk/settings/preview", away)); impact.Closing < 10 {
		t.Errorf("%d close", impact.Closing)
	}
	// A thing whose nights nobody can have.
	mended := v.Settings
	mended.Resources = slices.Clone(v.Settings.Resources)
	mended.Resources[1].Closures = []calendar.Closure{{From: day, To: day.Add(13)}}
	mended.Resources[0].Closures = mended.Resources[1].Closures
	if impact = read[api.SettingsImpact](t, d.want(200, "POST", "/api/desk/settings/preview", mended)); impact.Closing < 8 || len(impact.Bookings) != 1 {
		t.Errorf("%d nights close, %d stand in them", impact.Closing, len(impact.Bookings))
	}
	put := func(s api.Settings) fields { return fields{"version": v.Version, "settings": s} }
	bad := func(change func(*booking.Resource), want string) {
		t.Helper()
		s := v.Settings
		s.Resources = append(slices.Clone(v.Settings.Resources), booking.Resource{ID: 8, Name: "Moonlight"})
		change(&s.Resources[7])
		d.refused(422, want, "PUT", "/api/desk/settings", put(s))
	}
	bad(func(r *booking.Resource) { r.Name = " " }, "resources[7].name resource_name")
	bad(func(r *booking.Resource) { r.Name = "tobin aske" }, "resources[7].name resource_twice")
	bad(func(r *booking.Resource) { r.ID = 3 }, "resources[7].name resource_twice")
	bad(func(r *booking.Resource) { r.Number = -1 }, "resources[7].number resource_number")
	bad(func(r *booking.Resource) { r.Closures = []calendar.Closure{{From: day, To: day.Add(-1)}} }, "resources[7].closures[0].to closure_order")
	bad(func(r *booking.Resource) { r.Week = &calendar.Week{1: {{From: 600, To: 700}, {From: 650, To: 800}}} }, "resources[7].week[1] week_order")
	bad(func(r *booking.Resource) { r.Skills = []string{""} }, "resources[7].skills resource_skills")
	fewer := v.Settings
	fewer.Resources = v.Settings.Resources[:5]
	v = read[api.SettingsView](t, d.want(200, "PUT", "/api/desk/settings", put(fewer)))
	back := v.Settings
	back.Resources = append(slices.Clone(v.Settings.Resources), booking.Resource{ID: 6, Name: "Another dome"})
	d.refused(422, "resources[5].id resource_gone_number", "PUT", "/api/desk/settings", put(back))
	c.refused(422, "lines.0.lesson opening_gone", "PUT", checkout(), basket(lesson("2026-12-04T14:30:00+01:00", 45))) // without a dome
	p := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/15", nil))
	if !slices.ContainsFunc(p.Findings, func(f api.Finding) bool { return strings.Contains(f.Text, "not in the settings any more") }) {
		t.Errorf("%+v", p.Findings)
	}
	d.want(200, "POST", "/api/desk/settings/undo", fields{"version": v.Version})
	c.want(200, "PUT", checkout(), basket(lesson("2026-12-04T14:30:00+01:00", 45)))
	if b = c.bookingOf(d, at); b.With[1].Name != "The dome" {
		t.Errorf("%+v", b.With)
	}
}
