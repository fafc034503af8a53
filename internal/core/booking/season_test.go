package booking

import (
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// Source: the Gregorian Easter as tabulated by the Astronomical Applications
// Department of the U.S. Naval Observatory, and the first Sundays of Advent of the
// same years as in church calendars; from memory.
func TestMovableFeasts(t *testing.T) {
	for year, want := range map[int][3]string{
		2022: {"2022-04-17", "2022-06-05", "2022-11-27"},
		2023: {"2023-04-09", "2023-05-28", "2023-12-03"},
		2024: {"2024-03-31", "2024-05-19", "2024-12-01"},
		2025: {"2025-04-20", "2025-06-08", "2025-11-30"},
		2026: {"2026-04-05", "2026-05-24", "2026-11-29"},
		2027: {"2027-03-28", "2027-05-16", "2027-11-28"},
		2028: {"2028-04-16", "2028-06-04", "2028-12-03"},
		2038: {"2038-04-25", "2038-06-13", "2038-11-28"},
	} {
		for i, f := range []Feast{"easter", "pentecost", "advent"} {
			if got := (Edge{Feast: f}).in(year, true); got.String() != want[i] {
				t.Errorf("%s of %d is %s, want %s", f, year, got, want[i])
			}
		}
	}
	if got := (Edge{Feast: "good_friday", Plus: -3}).in(2026, true); got.String() != "2026-03-31" {
		t.Errorf("three days before Good Friday: %s", got)
	}
}

func TestSeasons(t *testing.T) {
	edge := func(d string) Edge { return Edge{Day: day(d)} }
	r, _ := cabins()
	r.Seasons = []Season{
		{Name: "winter", Yearly: true, From: edge("2000-12-20"), To: edge("2000-02-29")},
		{Name: "summer", Yearly: true, From: edge("2000-06-01"), To: edge("2000-08-31")},
		{Name: "eclipse", From: edge("2026-08-08"), To: edge("2026-08-16"), Rank: 1},
		{Name: "later", From: edge("2026-08-16"), To: edge("2026-08-20"), Rank: 1},
		{Name: "Easter", Yearly: true, From: Edge{Feast: "good_friday"}, To: Edge{Feast: "easter", Plus: 1}},
	}
	if err := r.Validate(); err != nil {
		t.Fatal(err)
	}
	for on, want := range map[string]string{
		"2026-12-19": "", "2026-12-20": "winter", "2027-01-01": "winter", "2027-02-28": "winter", "2027-03-01": "", "2028-02-29": "winter", "2028-03-01": "",
		"2026-06-01": "summer", "2026-08-07": "summer", "2026-08-08": "eclipse", "2026-08-15": "eclipse", "2026-08-16": "later", "2026-08-20": "later", "2026-08-21": "summer", "2027-08-10": "summer",
		"2026-04-02": "", "2026-04-03": "Easter", "2026-04-06": "Easter", "2026-04-07": "", "2027-03-26": "Easter", "2027-03-30": "",
	} {
		got := ""
		if s := r.SeasonOn(day(on)); s != nil {
			got = s.Name
		}
		if got != want {
			t.Errorf("%s lies in %q, want %q", on, got, want)
		}
	}
	if one, other, on, found := r.Rivals(day("2026-01-01")); !found || one != "eclipse" || other != "later" || on != day("2026-08-16") {
		t.Errorf("rivals %q and %q on %s", one, other, on)
	}
	if _, _, _, found := r.Rivals(day("2027-01-01")); found {
		t.Error("there are rivals a year later")
	}
}

// A season has hours, notice and closed days of its own for openings too.
func TestSeasonsOfOpenings(t *testing.T) {
	r := evenings()
	none, early := 0, calendar.Week{}
	early[time.Saturday] = []calendar.Span{{From: 1020, To: 1200}}
	edge := func(d string) Edge { return Edge{Day: day(d)} }
	r.Seasons = []Season{
		{Name: "dark months", From: edge("2026-11-28"), To: edge("2026-12-05"), Week: &early, Notice: &none},
		{Name: "holidays", From: edge("2026-12-11"), To: edge("2026-12-31"), Closed: true},
	}
	if err := r.Validate(); err != nil {
		t.Fatal(err)
	}
	got := starts(r.Openings(query("2026-11-28 10:00", "2026-11-27", "2026-12-31")))
	if want := []string{"Sat 28 17:00 8", "Sat 5 17:00 8"}; len(got) != 2 || got[0] != want[0] || got[1] != want[1] {
		t.Errorf("%q, want %q", got, want)
	}
	q := query("2026-11-24 10:00", "2026-11-24", "2026-11-24")
	for on, want := range map[string]string{
		"2026-12-04": "In “dark months” it has no hours on this weekday: Fri.",
		"2026-12-11": "It is closed: holidays.",
	} {
		if got := said(r.Day(day(on), q)); got != want {
			t.Errorf("%s: %q, want %q", on, got, want)
		}
	}
}

func TestSeasonsThatMakeNoSense(t *testing.T) {
	edge := func(d string) Edge { return Edge{Day: day(d)} }
	whole := Season{Name: "summer", From: edge("2026-06-01"), To: edge("2026-08-31")}
	for name, change := range map[string]func(*Rule, *Season){
		"no name":                   func(_ *Rule, s *Season) { s.Name = "" },
		"no first day":              func(_ *Rule, s *Season) { s.From = Edge{} },
		"an unknown feast":          func(_ *Rule, s *Season) { s.Yearly, s.From = true, Edge{Feast: "yule"} },
		"a feast in one year":       func(_ *Rule, s *Season) { s.From = Edge{Feast: "easter"} },
		"ends before":               func(_ *Rule, s *Season) { s.To = edge("2026-05-01") },
		"far from a feast":          func(_ *Rule, s *Season) { s.Yearly, s.From = true, Edge{Feast: "easter", Plus: 400} },
		"least above most":          func(_ *Rule, s *Season) { s.Span = &Span{Least: 5, Most: 4} },
		"an eighth weekday":         func(_ *Rule, s *Season) { s.Span = &Span{Begin: []time.Weekday{7}} },
		"negative notice":           func(_ *Rule, s *Season) { n := -1; s.Notice = &n },
		"never between":             func(_ *Rule, s *Season) { s.Span = &Span{Most: 2, Begin: []time.Weekday{1}, End: []time.Weekday{5}} },
		"least on another day":      func(_ *Rule, s *Season) { s.Span = &Span{Begin: []time.Weekday{1}, LeastOn: [7]int{2: 3}} },
		"no stays":                  func(r *Rule, _ *Season) { r.Stays = nil },
		"leaves before it comes":    func(r *Rule, _ *Season) { r.By = ByDay },
		"a fixed stay without days": func(r *Rule, _ *Season) { r.Fixed = []FixedStay{{Name: "x"}} },
		"a fixed stay of no night": func(r *Rule, _ *Season) {
			r.Fixed = []FixedStay{{Name: "x", From: edge("2026-12-24"), To: edge("2026-12-24")}}
		},
		"arrival on the next day": func(r *Rule, _ *Season) { r.Stays.Arrive = 1440 },
		"too long a turnaround":   func(r *Rule, _ *Season) { r.Stays.Turnaround = 61 },
	} {
		r, _ := cabins()
		s := whole
		change(r, &s)
		r.Seasons = []Season{s}
		if r.Validate() == nil {
			t.Errorf("%s was taken", name)
		}
	}
}

// In summer the meadow has more places, tables of at least two, longer evenings; the
// house needs a day more between two stays.
func TestSeasonsOfTheirOwnMeasure(t *testing.T) {
	r := evenings()
	r.Seasons = []Season{{Name: "December", Yearly: true, From: Edge{Day: day("2026-12-01")}, To: Edge{Day: day("2026-12-31")}, Places: 12, LeastPeople: 2, MostPeople: 9, Length: 120, Grid: 60}}
	if err := r.Validate(); err != nil {
		t.Fatal(err)
	}
	q := query("2026-11-24 09:30", "2026-11-28", "2026-12-04")
	if got := starts(r.Openings(q)); !slices.Equal(got, []string{"Sat 28 18:30 8", "Sat 28 21:30 8", "Fri 4 18:30 12", "Fri 4 21:30 12"}) {
		t.Errorf("%q", got)
	}
	if least, most := r.People(); least != 1 || most != 9 {
		t.Errorf("from %d to %d", least, most)
	}
	at := func(d string, minutes, people int) question.Booking {
		start := day(d).At(1110, berlin)
		return question.Booking{Start: start, End: start.Add(time.Duration(minutes) * time.Minute), People: people}
	}
	for want, b := range map[string]question.Booking{"": at("2026-12-04", 120, 9), "people_least": at("2026-12-04", 120, 1), "people_most": at("2026-11-28", 150, 9), "length_gone": at("2026-12-04", 150, 4)} {
		if _, f := r.Take(b, q, words.English); code(f) != want {
			t.Errorf("%v for %d: %q, want %q", b.Start, b.People, code(f), want)
		}
	}
	// Farther ahead, with an hour between two in December.
	ahead := evenings()
	ahead.Length, ahead.Grid, ahead.Horizon = 60, 30, 3
	ahead.Seasons = []Season{{Name: "December", Yearly: true, From: Edge{Day: day("2026-12-01")}, To: Edge{Day: day("2026-12-31")}, Horizon: 10, After: new(60)}}
	aq := query("2026-11-24 09:30", "2026-11-24", "2026-12-31")
	aq.Taken = []Taken{{Start: day("2026-12-04").At(1110, berlin), End: day("2026-12-04").At(1170, berlin), People: 8}}
	got := starts(ahead.Openings(aq))
	if len(got) != 16 || !slices.Equal(got[8:], []string{"Fri 4 18:30 0", "Fri 4 19:00 0", "Fri 4 19:30 0", "Fri 4 20:00 0", "Fri 4 21:30 8", "Fri 4 22:00 8", "Fri 4 22:30 8", "Fri 4 23:00 8"}) {
		t.Errorf("%q", got)
	}
	if why := said(ahead.Day(day("2026-12-05"), aq)); !strings.Contains(why, "10 days") {
		t.Errorf("beyond: %s", why)
	}
	if why := said(ahead.Day(day("2026-11-28"), aq)); !strings.Contains(why, "3 days") {
		t.Errorf("beyond in November: %s", why)
	}
	for want, s := range map[string]Season{
		"booking.least_number_people_greater_than": {LeastPeople: 9},
		"booking.hours_leave_no_room_length":       {Length: 300},
		"booking.starts_must_lie_between_5":        {Grid: 1},
		"booking.places_must_lie_between_1":        {Places: -1},
		"booking.season_turnaround":                {Turnaround: new(1)},
	} {
		s.Name, s.From, s.To = "x", Edge{Day: day("2026-12-01")}, Edge{Day: day("2026-12-02")}
		r := evenings()
		r.Seasons = []Season{s}
		var told *words.Message
		if err := r.Validate(); !errors.As(err, &told) || !strings.Contains(told.Say(words.English), words.Tell(want).Say(words.English)) {
			t.Errorf("%+v: %v, want %s", s, err, want)
		}
	}
	house, hq := cabins()
	house.Needs, house.Stays.Turnaround = nil, 0
	house.Seasons = []Season{{Name: "December", Yearly: true, From: Edge{Day: day("2026-12-01")}, To: Edge{Day: day("2026-12-31")}, Turnaround: new(1)}}
	take(t, house, &hq, "2026-12-04", "2026-12-07")
	if got := take(t, house, &hq, "2026-12-07", "2026-12-09"); got == "" {
		t.Error("a stay begins on the day of turnaround")
	}
	if got := take(t, house, &hq, "2026-12-08", "2026-12-10"); got != "" {
		t.Errorf("after it: %s", got)
	}
}
