package booking

import (
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
)

// Each day says what closes it, or what is the matter with each of its times.
func TestWhyADayIsAsItIs(t *testing.T) {
	r := evenings()
	r.Closures = []calendar.Closure{{From: day("2026-12-04"), To: day("2026-12-05"), Reason: "the barn is painted"}}
	q := query("2026-11-24 09:30", "2026-11-24", "2026-11-24")
	q.Off = func(d calendar.Day) (string, bool) { return "Christmas Day", d == day("2026-12-25") }
	full := day("2026-11-27").At(1110, berlin)
	q.Taken = []Taken{{Start: full, End: full.Add(150 * time.Minute), People: 8}}
	for on, want := range map[string]string{
		"2026-11-23": "This day is over.",
		"2026-11-25": "It has no hours on this weekday: Wed.",
		"2026-11-27": "18:30 is sold out. 21:30 has 8 of 8 places left.",
		"2026-12-04": "It is closed: the barn is painted.",
		"2026-12-25": "You are closed: Christmas Day.",
		"2027-03-05": "It can be booked 60 days ahead, until Sat 23 Jan 2027.",
	} {
		if got := said(r.Day(day(on), q)); got != want {
			t.Errorf("%s: %q, want %q", on, got, want)
		}
	}
	bare := *r
	bare.Closures = []calendar.Closure{{From: day("2026-12-04"), To: day("2026-12-04")}}
	if got := said(bare.Day(day("2026-12-04"), q)); got != "It is closed." {
		t.Errorf("%q", got)
	}
	q.Off = func(d calendar.Day) (string, bool) { return "", d == day("2026-12-05") }
	if got := said(bare.Day(day("2026-12-05"), q)); got != "You are closed." {
		t.Errorf("%q", got)
	}
	q.Off = func(d calendar.Day) (string, bool) { return "Christmas Day", d == day("2026-12-25") }
	r.After = 45
	if got, want := said(r.Day(day("2026-11-27"), q)), "18:30 is sold out. 21:30 is too close to another booking: 45 minutes are needed between them."; got != want {
		t.Errorf("%q, want %q", got, want)
	}
	r.Through, r.Until = true, new(day("2026-12-30"))
	if got := said(r.Day(day("2026-12-25"), q)); got != "18:30 has 8 of 8 places left. 21:30 has 8 of 8 places left." {
		t.Errorf("it is open through holidays: %q", got)
	}
	if got := said(r.Day(day("2027-01-02"), q)); got != "It can be booked until Wed 30 Dec 2026." {
		t.Errorf("%q", got)
	}
	r = evenings()
	q.Now = day("2026-11-27").At(17*60, berlin)
	if got := said(r.Day(day("2026-11-27"), q)); got != "It must be booked 24 hours ahead." {
		t.Errorf("%q", got)
	}
	r.Week[time.Monday] = []calendar.Span{{From: 600, To: 660}}
	if got := said(r.Day(day("2026-11-30"), q)); got != "Its hours leave no room for 150 minutes." {
		t.Errorf("%q", got)
	}
}

func said(d Day) string {
	var list []string
	for _, m := range d.Why {
		list = append(list, m.Say(words.English))
	}
	return strings.Join(list, " ")
}

// Somebody who is away at noon is there for the rest of the day.
func TestAwayAtNoon(t *testing.T) {
	r := evenings()
	r.Needs = []Need{{Name: "Guide", Of: []ResourceID{1}}}
	q := query("2026-11-24 09:30", "2026-11-27", "2026-11-27")
	mila := Resource{ID: 1, Name: "Mila", Week: &calendar.Week{}}
	mila.Week[time.Friday] = []calendar.Span{{From: 600, To: 1140}} // not to the end of an evening
	mila.Closures = []calendar.Closure{{From: day("2026-11-27"), To: day("2026-11-27"), Time: &calendar.Span{From: 700, To: 740}, Reason: "lunch"}}
	q.Resources = map[ResourceID]Resource{1: mila}
	if got := said(r.Day(day("2026-11-27"), q)); !strings.Contains(got, "Its hours leave no room for 150 minutes.") {
		t.Errorf("%q", got)
	}
	mila.Closures[0].Time = nil
	q.Resources[1] = mila
	if got := said(r.Day(day("2026-11-27"), q)); got != "Nobody is there on this day: Guide." {
		t.Errorf("away: %q", got)
	}
}
