package booking

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// lessons are on weekdays from 9 to 12, of 30, 60 or 90 minutes, with Tobin or
// Mila, who is there from 10.
func lessons() (*Rule, Query) {
	r := &Rule{Length: 30, Lengths: []int{30, 60, 90}, Grid: 30, Places: 2, Horizon: 60, Private: true, Needs: []Need{{Name: "Teacher", Of: []ResourceID{1, 2}, Choose: true}}}
	late := calendar.Week{}
	for d := time.Monday; d <= time.Friday; d++ {
		r.Week[d] = []calendar.Span{{From: 540, To: 720}}
		late[d] = []calendar.Span{{From: 600, To: 720}}
	}
	q := query("2026-11-24 08:00", "2026-11-25", "2026-11-25")
	q.Product = 1
	q.Resources = map[ResourceID]Resource{1: {ID: 1, Name: "Tobin"}, 2: {ID: 2, Name: "Mila", Week: &late}}
	return r, q
}

func at(d string, minutes int) time.Time { return day(d).At(minutes, berlin) }

func booked(start time.Time, minutes int, with ...ResourceID) question.Booking {
	return question.Booking{Start: start.UTC(), End: start.Add(time.Duration(minutes) * time.Minute).UTC(), People: 1, With: with}
}

func code(f *question.Fault) string {
	if f == nil {
		return ""
	}
	return f.Code
}

func TestLessonsWithAPerson(t *testing.T) {
	r, q := lessons()
	if err := r.Validate(); err != nil {
		t.Fatal(err)
	}
	// Tobin is at another product from 9:30 to 10:30.
	q.Taken = []Taken{{Start: at("2026-11-25", 570), End: at("2026-11-25", 630), People: 1, Product: 2, Private: true, With: []ResourceID{1}}}
	for _, c := range []struct {
		b    question.Booking
		want string
		with ResourceID
	}{
		{booked(at("2026-11-25", 540), 30), "", 1},
		{booked(at("2026-11-25", 540), 60), "opening_sold_out", 0}, // Tobin is away half of it, Mila not there yet
		{booked(at("2026-11-25", 600), 30), "", 2},
		{booked(at("2026-11-25", 600), 30, 1), "opening_sold_out", 0},
		{booked(at("2026-11-25", 600), 30, 2), "", 2},
		{booked(at("2026-11-25", 630), 60), "", 2}, // both are free: Mila is booked less
		{booked(at("2026-11-25", 630), 60, 1), "", 1},
		{booked(at("2026-11-25", 630), 90), "", 2},
		{booked(at("2026-11-25", 660), 90), "opening_gone", 0}, // over the end of the hours
		{booked(at("2026-11-25", 630), 45), "length_gone", 0},
		{booked(at("2026-11-25", 630), 30, 3), "resource_gone", 0},
	} {
		p, f := one(r.Take(c.b, q, words.English))
		if code(f) != c.want || f == nil && !slices.Equal(p.With, []ResourceID{c.with}) {
			t.Errorf("%v for %v with %v: %q %v, want %q %d", c.b.Start.In(berlin), c.b.End.Sub(c.b.Start), c.b.With, code(f), p.With, c.want, c.with)
		}
	}
	// What is said of a day when somebody is chosen, and nobody is left.
	q.Wish.With = []ResourceID{1}
	q.Wish.Length = 60
	if got, want := said(r.Day(day("2026-11-25"), q)), "09:00: Tobin is booked. 09:30: Tobin is booked. 10:00: Tobin is booked. 10:30 is free. 11:00 is free."; got != want {
		t.Errorf("%q, want %q", got, want)
	}
	away := q.Resources[1]
	away.Closures = []calendar.Closure{{From: day("2026-11-25"), To: day("2026-11-26"), Reason: "a conference"}}
	q.Resources[1] = away
	if got := said(r.Day(day("2026-11-25"), q)); got != "Nobody is there on this day: Teacher." {
		t.Errorf("%q", got)
	}
	delete(q.Resources, 1) // taken out of the settings
	if got := code(r.Check(booked(at("2026-11-25", 600), 30, 1), q, words.English)); got != "opening_gone" {
		t.Errorf("with somebody who is gone: %q", got)
	}
}

// Everybody of an opening that is shared has one room; another product finds it
// taken, with what is needed around it.
func TestASharedOpeningTakesItsRoomOnce(t *testing.T) {
	r := evenings()
	r.Needs, r.After = []Need{{Name: "Dome", Of: []ResourceID{7}}}, 30
	q := query("2026-11-24 09:30", "2026-11-27", "2026-11-27")
	q.Product, q.Resources = 1, map[ResourceID]Resource{7: {ID: 7, Name: "The dome"}}
	start := at("2026-11-27", 1110)
	for i := range 4 {
		p, f := one(r.Take(question.Booking{Start: start, People: 2}, q, words.English))
		if f != nil || !slices.Equal(p.With, []ResourceID{7}) {
			t.Fatalf("booking %d: %v %+v", i, f, p)
		}
		q.Taken = append(q.Taken, Taken{Start: p.Start, End: p.End, From: p.From, To: p.To, People: 2, Product: 1, With: p.With})
	}
	if got := code(r.Check(question.Booking{Start: start, People: 1}, q, words.English)); got != "opening_sold_out" {
		t.Errorf("a ninth person: %q", got)
	}
	other := &Rule{Length: 30, Grid: 30, Places: 1, Horizon: 60, Needs: r.Needs}
	other.Week[time.Friday] = []calendar.Span{{From: 1080, To: 1320}}
	q.Product = 2
	var free []string
	for _, o := range other.Openings(q) {
		if o.Left > 0 {
			free = append(free, o.Start.In(berlin).Format("15:04"))
		}
	}
	if want := []string{"18:00", "21:30"}; !slices.Equal(free, want) {
		t.Errorf("the other product has %v, want %v", free, want)
	}
}

// An answer names what is taken: the large one goes into the dome only.
func TestAnswersNarrowWhatIsTaken(t *testing.T) {
	r, q := lessons()
	r.Needs[0].Of, r.Needs[0].Choose = []ResourceID{1, 2}, false
	q.Wish.Only = map[int][]ResourceID{0: {2}}
	if p, f := one(r.Take(booked(at("2026-11-25", 630), 30), q, words.English)); f != nil || p.With[0] != 2 {
		t.Errorf("%v %v", p.With, f)
	}
	q.Wish.Only = map[int][]ResourceID{0: nil}
	if got := code(r.Check(booked(at("2026-11-25", 630), 30), q, words.English)); got != "opening_gone" {
		t.Errorf("none is left: %q", got)
	}
}

// Bookings of a set of equal ones are refused only where a slow search finds no
// way to place them all. The number of rooms that intervals need is the greatest
// number of them at once. Source: interval graphs are perfect (Golumbic,
// Algorithmic Graph Theory and Perfect Graphs, chapter 8); from memory.
func TestEqualOnesAreNeverRefusedWithoutNeed(t *testing.T) {
	rnd := rand.New(rand.NewPCG(51, 52))
	refused, taken := 0, 0
	for range 300 {
		number := 1 + rnd.IntN(3)
		r := &Rule{Length: 30, Longest: 240, Grid: 30, Places: 1, Horizon: 60, Private: true, After: 30 * rnd.IntN(2), Needs: []Need{{Name: "Cabin", Of: []ResourceID{1}}}}
		r.Week[time.Wednesday] = []calendar.Span{{From: 480, To: 1200}}
		q := query("2026-11-24 08:00", "2026-11-25", "2026-11-25")
		q.Product, q.Resources = 1, map[ResourceID]Resource{1: {ID: 1, Name: "Cabin", Number: number}}
		for range 10 {
			b := booked(at("2026-11-25", 480+30*rnd.IntN(20)), 30*(1+rnd.IntN(6)))
			p, f := one(r.Take(b, q, words.English))
			if code(f) == "opening_gone" { // over the end of the hours
				continue
			}
			all := append(slices.Clone(q.Taken), Taken{Start: b.Start, End: b.End, To: b.End.Add(time.Duration(r.After) * time.Minute)})
			if can := placed(all, make([][]Taken, number)); can != (f == nil) {
				t.Fatalf("of %d with %d taken, a search places it: %v, but %q", number, len(q.Taken), can, code(f))
			}
			if f != nil {
				refused++
				continue
			}
			taken++
			q.Taken = append(q.Taken, Taken{Start: p.Start, End: p.End, From: p.From, To: p.To, People: 1, Product: 1, Private: true, With: p.With})
		}
	}
	if refused < 100 || taken < 100 {
		t.Errorf("%d refused, %d taken: too little was tried", refused, taken)
	}
}

// placed tries every way to put all bookings into rooms.
func placed(list []Taken, rooms [][]Taken) bool {
	if len(list) == 0 {
		return true
	}
	b := list[0]
	for i, room := range rooms {
		if !slices.ContainsFunc(room, func(o Taken) bool { return b.Start.Before(o.To) && o.Start.Before(b.To) }) {
			rooms[i] = append(slices.Clone(room), b)
			if placed(list[1:], rooms) {
				return true
			}
			rooms[i] = room
		}
	}
	return false
}

func TestNeedsThatMakeNoSense(t *testing.T) {
	for name, change := range map[string]func(*Rule){
		"no name":                func(r *Rule) { r.Needs[0].Name = "" },
		"none":                   func(r *Rule) { r.Needs[0].Of = nil },
		"chosen but shared":      func(r *Rule) { r.Private = false },
		"one in two":             func(r *Rule) { r.Needs = append(r.Needs, Need{Name: "Room", Of: []ResourceID{2}}) },
		"a code for another one": func(r *Rule) { r.Needs[0].Codes = map[string][]ResourceID{"x": {9}} },
		"lengths that fall":      func(r *Rule) { r.Lengths = []int{30, 90, 60} },
		"two ways of length":     func(r *Rule) { r.Longest = 120 },
		"a longest below":        func(r *Rule) { r.Lengths, r.Longest = nil, 20 },
		"padding over a week":    func(r *Rule) { r.Before = 7*1440 + 1 },
		"by hand":                func(r *Rule) { r.By = "hand" },
		"stays of minutes":       func(r *Rule) { r.Stays = &Stays{} },
	} {
		r, _ := lessons()
		change(r)
		if err := r.Validate(); err == nil {
			t.Errorf("%s was taken", name)
		}
	}
}

// one gives the place of what has only one.
func one(list []Place, f *question.Fault) (Place, *question.Fault) {
	if len(list) == 0 {
		return Place{}, f
	}
	return list[0], f
}
