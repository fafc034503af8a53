package booking

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// cabins are two equal ones, let by the night from 15:00 to 10:00.
func cabins() (*Rule, Query) {
	r := &Rule{By: ByNight, Places: 4, Horizon: 400, Stays: &Stays{Arrive: 900, Depart: 600}, Needs: []Need{{Name: "Cabin", Of: []ResourceID{1}}}}
	q := query("2026-11-24 09:30", "2026-11-24", "2026-12-31")
	q.Product, q.Resources = 1, map[ResourceID]Resource{1: {ID: 1, Name: "Cabin", Number: 2}}
	return r, q
}

func stay(r *Rule, from, to string) question.Booking {
	return question.Booking{Start: day(from).At(r.Stays.Arrive, berlin).UTC(), End: day(to).At(r.Stays.Depart, berlin).UTC(), People: 2}
}

// take books a stay, or says why not.
func take(t *testing.T, r *Rule, q *Query, from, to string) string {
	t.Helper()
	p, f := one(r.Take(stay(r, from, to), *q, words.English))
	if f != nil {
		return f.Message(words.English)
	}
	q.Taken = append(q.Taken, Taken{Start: p.Start, End: p.End, From: p.From, To: p.To, People: 2, Product: q.Product, Private: true, With: p.With})
	return ""
}

func TestStaysOfTwoCabins(t *testing.T) {
	r, q := cabins()
	r.Seasons = []Season{
		{Name: "Meteors", Yearly: true, From: Edge{Day: day("2000-12-10")}, To: Edge{Day: day("2000-12-16")}, Span: &Span{Least: 3}},
		{Name: "Week by week", From: Edge{Day: day("2026-12-27")}, To: Edge{Day: day("2027-01-10")}, Span: &Span{Least: 7, Begin: []time.Weekday{time.Saturday}, End: []time.Weekday{time.Saturday}}},
	}
	r.Fixed = []FixedStay{{Name: "Christmas", Yearly: true, From: Edge{Day: day("2000-12-23")}, To: Edge{Day: day("2000-12-27")}}}
	r.Stays.LeastOn[time.Friday] = 2
	r.Closures = []calendar.Closure{{From: day("2026-12-05"), To: day("2026-12-06"), Reason: "the roof is mended"}}
	if err := r.Validate(); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct{ from, to, want string }{
		{"2026-11-25", "2026-11-27", ""},
		{"2026-11-26", "2026-11-28", ""},
		{"2026-11-26", "2026-11-27", "Cabin is booked. Choose other days."},
		{"2026-11-27", "2026-11-29", ""},                                               // comes when the first ones leave
		{"2026-11-28", "2026-11-29", ""},                                               // and when the second ones leave
		{"2026-12-04", "2026-12-05", "It takes at least 2 nights. Choose other days."}, // a Friday
		{"2026-12-03", "2026-12-06", "It is closed: the roof is mended. Choose other days."},
		{"2026-12-03", "2026-12-05", ""}, // leaves on the day of the closure
		{"2026-12-12", "2026-12-14", "In “Meteors” it takes at least 3 nights. Choose other days."},
		{"2026-12-22", "2026-12-24", "“Christmas” is booked only whole, from Wed 23 Dec 2026 to Sun 27 Dec 2026. Choose other days."},
		{"2026-12-23", "2026-12-26", "“Christmas” is booked only whole, from Wed 23 Dec 2026 to Sun 27 Dec 2026. Choose other days."},
		{"2026-12-23", "2026-12-27", ""},
		{"2026-12-20", "2026-12-23", ""}, // leaves when it begins
		{"2026-12-28", "2027-01-04", "In “Week by week” it begins on Sat only. Choose other days."},
		{"2027-01-02", "2027-01-08", "In “Week by week” it takes at least 7 nights. Choose other days."},
		{"2027-01-02", "2027-01-10", "In “Week by week” it ends on Sat only. Choose other days."},
		{"2027-01-02", "2027-01-09", ""},
		{"2026-11-24", "2026-11-24", "It ends before it begins. Choose other days."},
		{"2028-01-24", "2028-01-25", "It can be booked 400 days ahead, until Wed 29 Dec 2027. Choose other days."},
	} {
		if got := take(t, r, &q, c.from, c.to); got != c.want {
			t.Errorf("%s to %s: %q, want %q", c.from, c.to, got, c.want)
		}
	}
	odd := stay(r, "2026-12-01", "2026-12-03")
	odd.Start = odd.Start.Add(time.Hour)
	if got := code(r.Check(odd, q, words.English)); got != "opening_gone" {
		t.Errorf("arriving at another hour: %q", got)
	}
	for on, want := range map[string]string{
		"2026-12-06": "It is closed: the roof is mended.",
		"2026-12-24": "“Christmas” is booked only whole, from Wed 23 Dec 2026 to Sun 27 Dec 2026. 1 is free this night.",
		"2026-11-26": "Cabin is booked. Cabin is booked.",
		"2026-12-01": "A stay can begin. 2 are free this night.",
	} {
		if got := said(r.Day(day(on), q)); got != want {
			t.Errorf("%s: %q, want %q", on, got, want)
		}
	}
}

// A hire by the day, with a day between two of them to clean and charge.
func TestHireWithTurnaround(t *testing.T) {
	r := &Rule{By: ByDay, Places: 2, Horizon: 60, Stays: &Stays{Arrive: 540, Depart: 1080, Turnaround: 1, Span: Span{Most: 5}}}
	q := query("2026-11-24 08:30", "2026-11-24", "2026-12-31")
	q.Product = 1
	q.Off = func(d calendar.Day) (string, bool) { return "closed on Sundays", d.Weekday() == time.Sunday }
	for _, c := range []struct{ from, to, want string }{
		{"2026-11-25", "2026-11-26", ""},
		{"2026-11-27", "2026-11-27", "It is booked. Choose other days."}, // the day between
		{"2026-11-24", "2026-11-24", "It is booked. Choose other days."}, // it needs its own day after
		{"2026-11-28", "2026-11-30", ""},                                 // over a Sunday
		{"2026-12-04", "2026-12-06", "You are closed: closed on Sundays. Choose other days."},
		{"2026-12-03", "2026-12-08", "It takes at most 5 days. Choose other days."},
	} {
		if got := take(t, r, &q, c.from, c.to); got != c.want {
			t.Errorf("%s to %s: %q, want %q", c.from, c.to, got, c.want)
		}
	}
	for _, b := range []question.Booking{stay(r, "2026-11-25", "2026-11-26"), stay(r, "2026-11-25", "2026-11-25")} {
		if got, want := r.Units(b), calendar.DayOf(b.End.In(berlin)).Since(day("2026-11-25"))+1; got != want {
			t.Errorf("%d days, want %d", got, want)
		}
	}
}

// A night is a night through both clock changes. Source: the tz database. Berlin
// and Lisbon change on 29 March and 25 October 2026, Lord Howe by half an hour on 5
// April and 4 October 2026.
func TestNightsThroughClockChanges(t *testing.T) {
	for zone, days := range map[string][]string{"Europe/Berlin": {"2026-03-28", "2026-10-24"}, "Europe/Lisbon": {"2026-03-28", "2026-10-24"}, "Australia/Lord_Howe": {"2026-04-04", "2026-10-03"}} {
		at, err := time.LoadLocation(zone)
		if err != nil {
			t.Fatal(err)
		}
		r, _ := cabins()
		for _, from := range days {
			for n := 1; n < 4; n++ {
				b := question.Booking{Start: day(from).At(900, at), End: day(from).Add(n).At(600, at), People: 1}
				q := Query{Now: day("2026-01-01").At(0, at), Zone: at, Product: 1, Resources: map[ResourceID]Resource{1: {ID: 1}}}
				if p, f := one(r.Take(b, q, words.English)); f != nil || r.Units(b) != n {
					t.Errorf("%s from %s: %d nights of %d, %v %v", zone, from, r.Units(b), n, p, f)
				}
			}
		}
	}
}

// Samoa had no 30 December 2011. Source: the tz database, Pacific/Apia. A stay over
// it has one night less than its days say, and both calendars agree that it can be
// booked.
func TestADayThatWasLeftOut(t *testing.T) {
	apia, err := time.LoadLocation("Pacific/Apia")
	if err != nil {
		t.Fatal(err)
	}
	r, _ := cabins()
	b := question.Booking{Start: day("2011-12-29").At(900, apia), End: day("2011-12-31").At(600, apia), People: 1}
	q := Query{Now: day("2011-12-01").At(0, apia), Zone: apia, Product: 1, Resources: map[ResourceID]Resource{1: {ID: 1}}}
	if _, f := r.Take(b, q, words.English); f != nil || r.Units(b) != 1 {
		t.Errorf("%v, %d nights", f, r.Units(b))
	}
}

// A slow, obvious version: for each night of a stay, who is there, what closes it,
// and what its season asks for.
func TestStaysNightByNight(t *testing.T) {
	rnd := rand.New(rand.NewPCG(61, 62))
	zero, can, cannot := day("2026-11-01"), 0, 0
	for range 150 {
		r, q := cabins()
		if rnd.IntN(2) == 0 {
			r.By, r.Stays.Arrive, r.Stays.Depart = ByDay, 540, 1080
		}
		number := 1 + rnd.IntN(3)
		q.Resources[1] = Resource{ID: 1, Name: "Cabin", Number: number}
		r.Stays.Span, r.Stays.Turnaround = span(rnd), rnd.IntN(3)
		for i := range rnd.IntN(4) {
			from := zero.Add(rnd.IntN(50))
			s := Season{Name: fmt.Sprint(i), From: Edge{Day: from}, To: Edge{Day: from.Add(rnd.IntN(15))}, Rank: rnd.IntN(2)}
			switch rnd.IntN(3) {
			case 0:
				s.Closed = true
			case 1:
				own := span(rnd)
				s.Span = &own
			}
			r.Seasons = append(r.Seasons, s)
		}
		if rnd.IntN(3) == 0 {
			from := zero.Add(23 + rnd.IntN(20))
			r.Fixed = []FixedStay{{Name: "F", From: Edge{Day: from}, To: Edge{Day: from.Add(3)}}}
		}
		if rnd.IntN(3) == 0 {
			r.Closures = []calendar.Closure{{From: zero.Add(30), To: zero.Add(30 + rnd.IntN(4))}}
		}
		if r.Validate() != nil {
			continue
		}
		off := zero.Add(20 + rnd.IntN(30))
		q.Off = func(d calendar.Day) (string, bool) { return "", d == off }
		units := func(from, to calendar.Day) (list []calendar.Day) { // its days or nights
			for d := from; d.Before(to) || r.By == ByDay && d == to; d = d.Add(1) {
				list = append(list, d)
			}
			return list
		}
		season := func(d calendar.Day) *Season {
			var best *Season
			for i := range r.Seasons {
				if s := &r.Seasons[i]; !d.Before(s.From.Day) && !d.After(s.To.Day) && (best == nil || s.Rank >= best.Rank) {
					best = s
				}
			}
			return best
		}
		var stays [][]calendar.Day
		slow := func(from, to calendar.Day) bool {
			mine := units(from, to)
			if len(mine) == 0 || from.Before(calendar.DayOf(q.Now)) || from == calendar.DayOf(q.Now) && r.Stays.Arrive < 9*60+30 || from == off || to == off {
				return false
			}
			rules, ends := &r.Stays.Span, &r.Stays.Span
			if s := season(from); s != nil && s.Span != nil {
				rules = s.Span
			}
			if s := season(to); s != nil && s.Span != nil {
				ends = s.Span
			}
			whole := false
			for _, f := range r.Fixed {
				whole = from == f.From.Day && to == f.To.Day
				for _, d := range units(f.From.Day, f.To.Day) {
					if !whole && slices.Contains(mine, d) {
						return false
					}
				}
			}
			if s := season(to); s != nil && s.Closed && (r.By == ByDay || slices.Contains(mine, to)) {
				return false
			}
			for _, d := range mine {
				if s := season(d); s != nil && s.Closed {
					return false
				}
				for _, c := range r.Closures {
					if !d.Before(c.From) && !d.After(c.To) {
						return false
					}
				}
			}
			least := max(rules.Least, 1)
			if n := rules.LeastOn[from.Weekday()]; n > 0 {
				least = n
			}
			if !whole && (len(mine) < least || rules.Most > 0 && len(mine) > rules.Most ||
				len(rules.Begin) > 0 && !slices.Contains(rules.Begin, from.Weekday()) || len(ends.End) > 0 && !slices.Contains(ends.End, to.Weekday())) {
				return false
			}
			// With the days of turnaround behind each, no day has more than there are.
			long := func(list []calendar.Day) []calendar.Day {
				for range r.Stays.Turnaround {
					list = append(slices.Clone(list), list[len(list)-1].Add(1))
				}
				return list
			}
			for _, d := range long(mine) {
				n := 0
				for _, s := range stays {
					if slices.Contains(long(s), d) {
						n++
					}
				}
				if n >= number {
					return false
				}
			}
			return true
		}
		for range 60 {
			from := zero.Add(20 + rnd.IntN(40))
			to := from.Add(rnd.IntN(9))
			want := slow(from, to)
			got := take(t, r, &q, from.String(), to.String())
			if (got == "") != want {
				t.Fatalf("%+v of %d with %+v: %s to %s is %q, slowly %v\ntaken %v", r, number, r.Stays, from, to, got, want, stays)
			}
			if want {
				can++
				stays = append(stays, units(from, to))
			} else {
				cannot++
			}
		}
		// What is shown as a beginning is one, and nothing else is.
		for _, d := range r.Arrivals(q) {
			any := false
			for n := range 60 {
				any = any || slow(d.Day, d.Day.Add(n))
			}
			if any != (d.Why == nil) {
				t.Fatalf("%+v with %+v off %s, taken %v: a stay can begin on %s: %v, but it says %v", r, r.Stays, off, stays, d.Day, any, d.Why)
			}
		}
	}
	if can < 300 || cannot < 300 {
		t.Errorf("%d could be booked, %d not: too little was tried", can, cannot)
	}
}

func span(rnd *rand.Rand) Span {
	s := Span{Least: rnd.IntN(4)}
	if rnd.IntN(2) == 0 {
		s.Most = s.Least + 1 + rnd.IntN(9)
	}
	if rnd.IntN(3) == 0 {
		s.LeastOn[rnd.IntN(7)] = 1 + rnd.IntN(3)
	}
	if rnd.IntN(3) == 0 {
		s.Begin = []time.Weekday{time.Weekday(rnd.IntN(7)), time.Weekday(rnd.IntN(7))}
	}
	if rnd.IntN(3) == 0 {
		s.End = []time.Weekday{time.Weekday(rnd.IntN(7))}
	}
	return s
}
