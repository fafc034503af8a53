package booking

import (
	"cmp"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

var berlin = func() *time.Location {
	z, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		panic(err)
	}
	return z
}()

func day(s string) calendar.Day {
	d, err := calendar.ParseDay(s)
	if err != nil {
		panic(err)
	}
	return d
}

// evenings are Fridays and Saturdays, two starts each, eight places.
func evenings() *Rule {
	r := &Rule{Length: 150, Grid: 150, Places: 8, Notice: 24, Horizon: 60}
	for _, d := range []time.Weekday{time.Friday, time.Saturday} {
		r.Week[d] = []calendar.Span{{From: 18*60 + 30, To: 21 * 60}, {From: 21*60 + 30, To: 24 * 60}}
	}
	return r
}

func query(now, from, to string) Query {
	at, err := time.ParseInLocation("2006-01-02 15:04", now, berlin)
	if err != nil {
		panic(err)
	}
	return Query{From: day(from), To: day(to), Now: at, Zone: berlin}
}

func starts(openings []Opening) []string {
	var list []string
	for _, o := range openings {
		list = append(list, fmt.Sprintf("%s %d", o.Start.In(berlin).Format("Mon 2 15:04"), o.Left))
	}
	return list
}

func TestOpenings(t *testing.T) {
	taken := []Taken{
		{Start: day("2026-11-27").At(1110, berlin), End: day("2026-11-27").At(1260, berlin), People: 3},
		{Start: day("2026-11-27").At(1110, berlin), End: day("2026-11-27").At(1260, berlin), People: 5},
		{Start: day("2026-11-28").At(1290, berlin), End: day("2026-11-28").At(1440, berlin), People: 2},
	}
	for _, c := range []struct {
		name string
		q    Query
		with func(*Rule)
		want []string
	}{
		{"two evenings", query("2026-11-24 09:30", "2026-11-24", "2026-11-29"), nil, []string{"Fri 27 18:30 0", "Fri 27 21:30 8", "Sat 28 18:30 8", "Sat 28 21:30 6"}},
		{"notice of a day", query("2026-11-26 19:00", "2026-11-26", "2026-11-29"), nil, []string{"Fri 27 21:30 8", "Sat 28 18:30 8", "Sat 28 21:30 6"}},
		{"on the minute of the notice", query("2026-11-26 18:30", "2026-11-26", "2026-11-27"), nil, []string{"Fri 27 18:30 0", "Fri 27 21:30 8"}},
		{"a horizon of three days", query("2026-11-24 09:30", "2026-11-24", "2026-12-31"), func(r *Rule) { r.Horizon = 3 }, []string{"Fri 27 18:30 0", "Fri 27 21:30 8"}},
		{"a day off", query("2026-11-24 09:30", "2026-11-24", "2026-11-29"), func(r *Rule) { r.Closures = []calendar.Closure{{From: day("2026-11-27"), To: day("2026-11-27")}} }, []string{"Sat 28 18:30 8", "Sat 28 21:30 6"}},
		{"a length that does not fit twice", query("2026-11-24 09:30", "2026-11-27", "2026-11-27"), func(r *Rule) { r.Length = 151 }, nil},
		{"a finer grid", query("2026-11-24 09:30", "2026-11-27", "2026-11-27"), func(r *Rule) { r.Length, r.Grid = 60, 60; r.Week[time.Friday] = r.Week[time.Friday][:1] }, []string{"Fri 27 18:30 0", "Fri 27 19:30 0"}},
		{"no day", query("2026-11-24 09:30", "2026-11-29", "2026-11-24"), nil, nil},
	} {
		r := evenings()
		if c.with != nil {
			c.with(r)
		}
		c.q.Taken = taken
		if got := starts(r.Openings(c.q)); !slices.Equal(got, c.want) {
			t.Errorf("%s: %q, want %q", c.name, got, c.want)
		}
	}
}

// Source: the tz database. Berlin's clock skips 02:00 to 03:00 on 29 March
// 2026, and has 02:00 to 03:00 twice on 25 October 2026.
func TestOpeningsThroughClockChanges(t *testing.T) {
	r := &Rule{Length: 30, Grid: 30, Places: 1, Horizon: 400}
	r.Week[time.Sunday] = []calendar.Span{{From: 60, To: 240}}
	clock := func(d string) []string {
		var list []string
		for _, o := range r.Openings(query("2026-01-01 00:00", d, d)) {
			list = append(list, o.Start.In(berlin).Format("15:04"))
		}
		return list
	}
	if got, want := clock("2026-03-29"), []string{"01:00", "01:30", "03:00", "03:30"}; !slices.Equal(got, want) {
		t.Errorf("on the day of the skip %v, want %v", got, want)
	}
	if got, want := clock("2026-10-25"), []string{"01:00", "01:30", "02:00", "02:30", "03:00", "03:30"}; !slices.Equal(got, want) {
		t.Errorf("on the long night %v, want %v", got, want)
	}
}

// A slow, obvious version: for each minute of a day, is it a start; and for
// each minute of an opening, who is there.
func TestOpeningsMinuteByMinute(t *testing.T) {
	r := rand.New(rand.NewPCG(41, 42))
	for range 60 {
		rule := &Rule{Length: 15 * (r.IntN(8) + 1), Grid: 15 * (r.IntN(6) + 1), Places: r.IntN(6) + 1, Notice: r.IntN(30), Horizon: r.IntN(10) + 1, After: 15 * r.IntN(4)}
		for d := range rule.Week {
			if from := 15 * r.IntN(60); r.IntN(3) > 0 {
				rule.Week[d] = []calendar.Span{{From: from, To: min(from+15*(r.IntN(24)+1), 1440)}}
			}
		}
		q := query("2026-03-27 10:20", "2026-03-27", "2026-03-31") // around a clock change
		for range r.IntN(12) {
			start := q.From.Add(r.IntN(5)).At(15*r.IntN(96), berlin)
			end := start.Add(time.Duration(15*(r.IntN(10)+1)) * time.Minute)
			q.Taken = append(q.Taken, Taken{Start: start, End: end, To: end.Add(time.Duration(rule.After) * time.Minute), People: r.IntN(3) + 1})
		}
		own := Season{Name: "x", From: Edge{Day: q.From.Add(r.IntN(4))}, Places: r.IntN(6), Length: 15 * r.IntN(8), Grid: 15 * r.IntN(5)}
		if own.To = (Edge{Day: own.From.Day.Add(r.IntN(3))}); r.IntN(2) == 0 {
			rule.Seasons = []Season{own}
		}
		in := func(d calendar.Day) *Rule { // what holds for what begins on a day
			x := *rule
			if len(rule.Seasons) > 0 && !d.Before(own.From.Day) && !d.After(own.To.Day) {
				x.Length, x.Grid, x.Places = cmp.Or(own.Length, x.Length), cmp.Or(own.Grid, x.Grid), cmp.Or(own.Places, x.Places)
			}
			return &x
		}
		offs := map[calendar.Day]bool{q.From.Add(r.IntN(5)): r.IntN(2) == 0}
		q.Off = func(d calendar.Day) (string, bool) { return "away", offs[d] }
		if rule.Through = r.IntN(4) == 0; r.IntN(3) == 0 {
			rule.Closures = []calendar.Closure{{From: q.From.Add(r.IntN(3)), To: q.From.Add(3)}}
		}
		if r.IntN(3) == 0 {
			rule.Until = new(q.From.Add(r.IntN(5)))
		}
		gaps := map[calendar.Day][]calendar.Span{}
		for range r.IntN(4) { // some hours of some days, the product's or the business's
			from := 15 * r.IntN(80)
			c := calendar.Closure{From: q.From.Add(r.IntN(4)), Time: &calendar.Span{From: from, To: from + 15*(1+r.IntN(16))}}
			c.To = c.From.Add(r.IntN(2))
			for d := c.From; !d.After(c.To); d = d.Add(1) {
				gaps[d] = append(gaps[d], *c.Time)
			}
			rule.Closures = append(rule.Closures, c)
		}
		shutFor := func(d calendar.Day, start, end time.Time) bool {
			for at := start; at.Before(end); at = at.Add(time.Minute) {
				local := at.In(berlin)
				for _, g := range gaps[calendar.DayOf(local)] {
					// By instants: an hour that comes twice is closed as long as it lasts.
					if on := calendar.DayOf(local); !at.Before(on.At(g.From, berlin)) && at.Before(on.At(g.To, berlin)) {
						return true
					}
				}
			}
			return false
		}
		shut := func(d calendar.Day) bool {
			for _, c := range rule.Closures {
				if c.Time != nil {
					continue
				}
				for x := c.From; !x.After(c.To); x = x.Add(1) {
					if x == d {
						return true
					}
				}
			}
			return offs[d] && !rule.Through || rule.Until != nil && d.After(*rule.Until)
		}
		var want []string
		for d := q.From; !d.After(q.To) && d.Since(calendar.DayOf(q.Now)) <= rule.Horizon; d = d.Add(1) {
			here := in(d)
			for m := range 1440 {
				for _, s := range rule.Week[d.Weekday()] {
					start := d.At(m, berlin)
					end := start.Add(time.Duration(here.Length) * time.Minute)
					if shut(d) || shutFor(d, start, end) || m < s.From || m >= s.To || (m-s.From)%here.Grid != 0 || start.Hour()*60+start.Minute() != m || end.After(d.At(s.To, berlin)) || start.Before(q.Now.Add(time.Duration(rule.Notice)*time.Hour)) {
						continue
					}
					most, together, others := 0, 0, false
					pad := time.Duration(rule.After) * time.Minute
					for _, b := range q.Taken {
						if b.Start.Equal(start) && b.End.Equal(end) {
							together += b.People
						}
					}
					for at := start; at.Before(end.Add(pad)); at = at.Add(time.Minute) {
						n := 0
						for _, b := range q.Taken {
							if !at.Before(b.Start) && at.Before(b.End) && at.Before(end) {
								n += b.People
							}
							others = others || !at.Before(b.Start) && at.Before(b.End.Add(pad))
						}
						most = max(most, n)
					}
					switch {
					case rule.After > 0 && together > 0: // it is shared, whatever else is there
						most = together
					case rule.After > 0 && others:
						most = here.Places
					}
					want = append(want, starts([]Opening{{Start: start, Left: here.Places - most}})...)
				}
			}
		}
		if got := starts(rule.Openings(q)); !slices.Equal(got, want) {
			t.Fatalf("%+v:\n got %q\nwant %q", rule, got, want)
		}
	}
}

func TestCheck(t *testing.T) {
	r := evenings()
	r.LeastPeople, r.MostPeople = 2, 6
	q := query("2026-11-24 09:30", "2026-11-24", "2026-11-24")
	full := day("2026-11-27").At(1110, berlin)
	half := day("2026-11-28").At(1110, berlin)
	q.Taken = []Taken{{Start: full, End: full.Add(150 * time.Minute), People: 8}, {Start: half, End: half.Add(150 * time.Minute), People: 5}}
	for _, c := range []struct {
		start  time.Time
		people int
		want   string
	}{
		{half, 3, ""}, {half, 4, "opening_full"}, {half, 1, "people_least"}, {half, 7, "people_most"}, {full, 2, "opening_sold_out"},
		{half.Add(time.Minute), 2, "opening_gone"}, {day("2026-11-25").At(1110, berlin), 2, "opening_gone"},
		{day("2027-06-05").At(1110, berlin), 2, "opening_gone"}, {day("2026-11-20").At(1110, berlin), 2, "opening_gone"},
	} {
		code := ""
		if f := r.Check(question.Booking{Start: c.start, People: c.people}, q, words.English); f != nil {
			code = f.Code
			if f.Message(words.English) == "fault."+code {
				t.Errorf("%s has no words", code)
			}
		}
		if code != c.want {
			t.Errorf("%v for %d: %q, want %q", c.start, c.people, code, c.want)
		}
	}
}

func TestRulesThatMakeNoSense(t *testing.T) {
	for name, change := range map[string]func(*Rule){
		"no length":          func(r *Rule) { r.Length = 0 },
		"longer than a day":  func(r *Rule) { r.Length = 1441 },
		"no grid":            func(r *Rule) { r.Grid = 0 },
		"no places":          func(r *Rule) { r.Places = 0 },
		"least above most":   func(r *Rule) { r.LeastPeople, r.MostPeople = 5, 4 },
		"least above places": func(r *Rule) { r.LeastPeople = 9 },
		"negative notice":    func(r *Rule) { r.Notice = -1 },
		"no horizon":         func(r *Rule) { r.Horizon = 0 },
		"never open":         func(r *Rule) { r.Week = calendar.Week{} },
		"no room":            func(r *Rule) { r.Length = 200 },
		"spans overlap":      func(r *Rule) { r.Week[5] = []calendar.Span{{From: 600, To: 900}, {From: 800, To: 1000}} },
		"hours of nights": func(r *Rule) {
			r.By, r.Stays, r.Closures = ByNight, &Stays{Arrive: 900, Depart: 600}, []calendar.Closure{{From: day("2026-12-01"), To: day("2026-12-01"), Time: &calendar.Span{From: 60, To: 120}}}
		},
		"closure ends too soon": func(r *Rule) { r.Closures = []calendar.Closure{{From: day("2026-12-02"), To: day("2026-12-01")}} },
	} {
		r := evenings()
		change(r)
		if r.Validate() == nil {
			t.Errorf("%s was taken", name)
		}
	}
	if err := evenings().Validate(); err != nil {
		t.Error(err)
	}
}

// BenchmarkOpenings asks for a month with 10 000 bookings.
func BenchmarkOpenings(b *testing.B) {
	r := &Rule{Length: 60, Grid: 30, Places: 20, Horizon: 60}
	for d := range r.Week {
		r.Week[d] = []calendar.Span{{From: 480, To: 1200}}
	}
	q := query("2026-11-01 00:00", "2026-11-01", "2026-11-30")
	rnd := rand.New(rand.NewPCG(1, 1))
	for range 10_000 {
		start := q.From.Add(rnd.IntN(30)).At(480+30*rnd.IntN(23), berlin)
		q.Taken = append(q.Taken, Taken{Start: start, End: start.Add(time.Hour), People: 1})
	}
	for b.Loop() {
		r.Openings(q)
	}
}

// Hours of single days stand instead of the weekly ones, of the product and of whom it
// takes, also on a day off of the business; the product's own days off stay.
func TestHoursOfSingleDays(t *testing.T) {
	r := evenings()
	r.Exceptions = []calendar.Exception{
		{Day: day("2026-11-28"), Time: calendar.Span{From: 15 * 60, To: 17*60 + 30}}, // a Saturday, at tea instead
		{Day: day("2026-12-01"), Time: calendar.Span{From: 1110, To: 1260}}, {Day: day("2026-12-02"), Time: calendar.Span{From: 1110, To: 1260}},
	}
	r.Closures = []calendar.Closure{{From: day("2026-12-02"), To: day("2026-12-02")}}
	if err := r.Validate(); err != nil {
		t.Fatal(err)
	}
	q := query("2026-11-24 09:30", "2026-11-27", "2026-12-03")
	q.Off = func(d calendar.Day) (string, bool) { return "away", d == day("2026-12-01") }
	if got := starts(r.Openings(q)); !slices.Equal(got, []string{"Fri 27 18:30 8", "Fri 27 21:30 8", "Sat 28 15:00 8", "Tue 1 18:30 8"}) {
		t.Errorf("%q", got)
	}
	r.Needs = []Need{{Name: "Guide", Of: []ResourceID{1}}}
	q.Resources = map[ResourceID]Resource{1: {ID: 1, Name: "Mila", Week: &calendar.Week{}, Exceptions: []calendar.Exception{{Day: day("2026-12-01"), Time: calendar.Span{From: 1080, To: 1320}}}}}
	if got := starts(r.Openings(q)); !slices.Equal(got, []string{"Tue 1 18:30 8"}) {
		t.Errorf("with Mila: %q", got)
	}
	r.Exceptions = append(r.Exceptions, calendar.Exception{Day: day("2026-12-01"), Time: calendar.Span{From: 1200, To: 1300}})
	if r.Validate() == nil {
		t.Error("hours that overlap were taken")
	}
}
