package web

import (
	"encoding/base64"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/ics"
	"ruvo/internal/message"
	"ruvo/internal/standin"
)

// A booking comes as a calendar entry with the mail and on the order page; when it
// is moved or cancelled, the same entry follows with a higher number.
func TestBookingsReachCalendars(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	v := d.settings()
	v.Settings.Contact = "hello@fernlight.example.org"
	d.want(200, "PUT", "/api/desk/settings", fields{"version": v.Version, "settings": v.Settings})
	at := c.buys(lesson("2026-12-02T14:30:00+01:00", 45, 5))
	b := c.bookingOf(d, at)
	file := c.want(200, "GET", at+"/lines/"+itoa(b.Line)+"/booking.ics", nil)
	busy, err := ics.Read(strings.NewReader(string(file.body)), time.UTC, today, today.AddDate(0, 1, 0))
	must(t, err)
	if len(busy) != 1 || !busy[0].Start.Equal(b.Start) || busy[0].End.Sub(busy[0].Start) != 45*time.Minute || busy[0].Summary != "A lesson at the telescope" {
		t.Errorf("%+v", busy)
	}
	d.want(200, "POST", "/api/desk/dockets/"+itoa(b.Line)+"/booking", fields{"version": b.Version, "day": "2026-12-03", "time": "14:30"})
	page := read[api.OrderPage](t, c.want(200, "GET", at, nil))
	c.want(200, "POST", at+"/cancel", fields{"lines": []int64{page.Lines[0].Id}})
	box := standin.Mail{Folder: t.TempDir()}
	must(t, (&message.Postman{Store: h.store, Mailer: box, Texter: box, Now: h.now}).Round(t.Context()))
	found := map[string]string{}
	names, err := filepath.Glob(filepath.Join(box.Folder, "*.eml"))
	must(t, err)
	for _, name := range names {
		raw, err := os.ReadFile(name)
		must(t, err)

		_, part, attached := strings.Cut(string(raw), "Content-Type: text/calendar;")
		if !attached || !strings.Contains(string(raw), "To: "+page.Email) {
			continue
		}
		head, body, _ := strings.Cut(part, "\r\n\r\n")
		body, _, _ = strings.Cut(body, "--")
		text, err := base64.StdEncoding.DecodeString(strings.ReplaceAll(body, "\r\n", ""))
		must(t, err)
		method := "none"
		for _, m := range []string{"REQUEST", "CANCEL", "PUBLISH"} {
			if strings.Contains(head+part[:200], "method="+m) {
				method = m
			}
		}
		kind, _, _ := strings.Cut(filepath.Base(name), "-")
		found[kind] = method
		for _, want := range []string{"METHOD:" + method, "UID:booking-" + itoa(b.Line) + "@", "SEQUENCE:" + map[string]string{"order": itoa(int64(b.Version)), "moved": itoa(int64(b.Version + 1)), "cancelled": itoa(int64(b.Version + 2))}[kind] + "\r\n"} {
			if !strings.Contains(string(text), want) {
				t.Errorf("the mail %s has no %s in\n%s", kind, want, text)
			}
		}
	}
	if found["order"] != "REQUEST" || found["moved"] != "REQUEST" || found["cancelled"] != "CANCEL" {
		t.Errorf("mails brought %v", found)
	}
	h.audit()
}

// Whoever has its address reads a calendar, until somebody ends it.
func TestFeeds(t *testing.T) {
	h := open(t, nil)
	c, d, stranger := h.client(), h.desk(), h.client()
	c.buys(lesson("2026-12-02T14:30:00+01:00", 45, 5))
	c.buys(lesson("2026-12-03T14:30:00+01:00", 45, 4))
	count := func(address string) int {
		t.Helper()
		_, path, _ := strings.Cut(address, "/api/")
		busy, err := ics.Read(strings.NewReader(string(stranger.want(200, "GET", "/api/"+path, nil).body)), time.UTC, today, today.AddDate(1, 0, 0))
		must(t, err)
		return len(busy)
	}
	all := read[api.FeedMade](t, d.want(200, "POST", "/api/desk/feeds", fields{"shows": "all"}))
	tobin := read[api.FeedMade](t, d.want(200, "POST", "/api/desk/feeds", fields{"shows": "resource", "resource": 5}))
	work := read[api.FeedMade](t, d.want(200, "POST", "/api/desk/feeds", fields{"shows": "work"}))
	if a, b, w := count(all.Address), count(tobin.Address), count(work.Address); a != 44 || b != 37 || w < 20 {
		t.Errorf("all %d, Tobin's %d, work %d", a, b, w)
	}
	d.refused(422, "resource resource_unknown", "POST", "/api/desk/feeds", fields{"shows": "resource", "resource": 99})
	d.refused(422, "shows choice", "POST", "/api/desk/feeds", fields{"shows": "secrets"})
	left := read[api.FeedsView](t, d.want(200, "DELETE", "/api/desk/feeds/"+itoa(all.View.Feeds[0].Id), nil))
	if len(left.Feeds) != 2 {
		t.Errorf("%d are left", len(left.Feeds))
	}
	_, path, _ := strings.Cut(all.Address, "/api/")
	stranger.refused(404, "", "GET", "/api/"+path, nil)
	stranger.want(401, "GET", "/api/desk/feeds", nil)
}

// A calendar that somebody keeps elsewhere closes times of a person, also for what is
// sold of them, until it is read anew or taken away.
func TestCalendarsKeptElsewhereCloseTimes(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	choir := "BEGIN:VCALENDAR\nVERSION:2.0\nBEGIN:VEVENT\nUID:1\nDTSTART;TZID=Europe/Berlin:20261125T140000\nDTEND;TZID=Europe/Berlin:20261125T170000\nRRULE:FREQ=WEEKLY\nEXDATE;TZID=Europe/Berlin:20261209T140000\nSUMMARY:Choir\nEND:VEVENT\nEND:VCALENDAR\n"
	v := read[api.FeedsView](t, d.want(200, "PUT", "/api/desk/resources/5/closed", fields{"source": "Tobin's own", "text": choir}))
	if len(v.Closed) != 1 || v.Closed[0].Times < 150 || v.Closed[0].Resource.Name != "Tobin Aske" {
		t.Errorf("%+v", v.Closed)
	}
	c.refused(422, "lines.0.lesson opening_sold_out", "PUT", checkout(), basket(lesson("2026-12-02T16:00:00+01:00", 45, 5)))
	c.want(200, "PUT", checkout(), basket(lesson("2026-12-09T16:00:00+01:00", 45, 5))) // the exception
	c.want(200, "PUT", checkout(), basket(lesson("2026-12-02T17:30:00+01:00", 45, 5))) // after it
	week := read[api.CalendarView](t, d.want(200, "GET", "/api/desk/calendar?from=2026-11-30&to=2026-12-06", nil))
	if b := week.Resources[4].Busy; len(b) != 1 || b[0].Day != "2026-12-02" || b[0].Time != "14:00" || b[0].Summary != "Choir" {
		t.Errorf("%+v", week.Resources[4])
	}
	for text, want := range map[string]string{"": "", "hello": "text ics", strings.ReplaceAll(choir, "Europe/Berlin", "Gondor/Tirith"): "text ics", strings.ReplaceAll(choir, "T170000", "T120000"): "text ics"} {
		if want == "" {
			continue
		}
		d.refused(422, want, "PUT", "/api/desk/resources/5/closed", fields{"source": "Other", "text": text})
	}
	d.refused(422, "source resource_name", "PUT", "/api/desk/resources/5/closed", fields{"source": " ", "text": choir})
	d.refused(404, "", "PUT", "/api/desk/resources/77/closed", fields{"source": "x", "text": choir})
	if v = read[api.FeedsView](t, d.want(200, "PUT", "/api/desk/resources/5/closed", fields{"source": "Tobin's own", "text": ""})); len(v.Closed) != 0 {
		t.Errorf("%+v", v.Closed)
	}
	c.want(200, "PUT", checkout(), basket(lesson("2026-12-02T16:00:00+01:00", 45, 5)))
}
