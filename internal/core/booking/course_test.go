package booking

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// six are two courses of six evenings, a week apart, from 7 January and 4 March
// 2027; the second goes through the clock change of 28 March.
func six() *Rule {
	r := &Rule{By: ByCourse, Places: 3, Notice: 24, Horizon: 120, Join: 2}
	for _, c := range []struct{ name, first string }{{"Winter", "2027-01-07"}, {"Spring", "2027-03-04"}} {
		course := Course{Name: c.name}
		for i := range 6 {
			course.Meetings = append(course.Meetings, Meeting{day(c.first).Add(7 * i), calendar.Span{From: 19 * 60, To: 20*60 + 30}})
		}
		r.Courses = append(r.Courses, course)
	}
	return r
}

func runs(r *Rule, q Query) string {
	text := ""
	for _, x := range r.Runs(q) {
		text += fmt.Sprintf("%s %d/%d left %d", x.Name, len(x.Meetings), x.Of, x.Left)
		if x.Why != nil {
			text += " " + x.Why.Code
		}
		text += "\n"
	}
	return text
}

// join books what is left of a course now, and has it taken.
func join(r *Rule, q *Query, course, people int) string {
	list := r.Runs(*q)
	if course >= len(list) {
		return "over"
	}
	places, f := r.Take(list[course].Booking(people), *q, words.English)
	if f != nil {
		return f.Code
	}
	for _, p := range places {
		q.Taken = append(q.Taken, Taken{Start: p.Start, End: p.End, From: p.From, To: p.To, People: people, Product: q.Product, With: p.With})
	}
	return fmt.Sprint(len(places), " ", places[0].With)
}

func TestACourseIsBookedAsOne(t *testing.T) {
	r := six()
	if err := r.Validate(); err != nil {
		t.Fatal(err)
	}
	q := query("2026-12-01 10:00", "2026-12-01", "2027-03-31")
	q.Product = 1
	if got := runs(r, q); got != "Winter 6/6 left 3\nSpring 6/6 left 3\n" {
		t.Error(got)
	}
	if got := join(r, &q, 0, 2); got != "6 []" {
		t.Error(got)
	}
	if got := join(r, &q, 0, 2); got != "opening_full" {
		t.Error(got)
	}
	if got := join(r, &q, 0, 1); got != "6 []" {
		t.Error(got)
	}
	if got := runs(r, q); got != "Winter 6/6 left 0 why.course_full\nSpring 6/6 left 3\n" {
		t.Error(got)
	}
	// The Wednesday evening is a day before the second meeting: it is not too late for
	// that, and on the next it is.
	for now, want := range map[string]string{
		"2027-01-13 18:59": "Spring 5/6 left 3\nSummer 6/6 left 3\n",
		"2027-01-13 19:01": "Spring 4/6 left 3\nSummer 6/6 left 3\n",
		"2027-01-21 18:00": "Spring 3/6 left 0 why.course_begun\nSummer 6/6 left 3\n",
		"2027-02-11 12:00": "Summer 6/6 left 3\n",
	} {
		late := query(now, "2027-01-01", "2027-06-01")
		r := six()
		r.Courses[0].Name, r.Courses[1].Name = "Spring", "Summer"
		if got := runs(r, late); got != want {
			t.Errorf("at %s: %q, want %q", now, got, want)
		}
	}
	// What is booked of another course, of fewer meetings than are left, or says that
	// the course has others, is no course.
	whole := r.Runs(q)[1].Booking(1)
	for name, change := range map[string]func(b *question.Booking){
		"one less":  func(b *question.Booking) { b.Meetings = b.Meetings[1:]; b.Start = b.Meetings[0].Start },
		"of seven":  func(b *question.Booking) { b.Of = 7 },
		"no course": func(b *question.Booking) { b.Meetings, b.Of = nil, 0 },
	} {
		b := whole
		change(&b)
		if _, f := r.Take(b, q, words.English); code(f) != "course_gone" && code(f) != "opening_gone" {
			t.Errorf("%s: %v", name, f)
		}
	}
	// The clock changes between the fourth and the fifth evening, which is at seven all
	// the same.
	for _, m := range whole.Meetings {
		if m.Start.In(berlin).Format("15:04") != "19:00" || m.End.Sub(m.Start) != 90*time.Minute {
			t.Errorf("%v", m)
		}
	}
	r.Horizon = 60
	if got := runs(r, query("2026-12-01 10:00", "2026-12-01", "2027-03-31")); got != "Winter 6/6 left 3\nSpring 6/6 left 0 why.horizon\n" {
		t.Error(got)
	}
}

// One person leads all meetings of a course, and those who book later have the same;
// who is away or booked at one of them leads none.
func TestACourseHasOneOfEachNeed(t *testing.T) {
	r := six()
	r.Needs = []Need{{Name: "Teacher", Of: []ResourceID{1, 2}}}
	q := query("2026-12-01 10:00", "2026-12-01", "2027-03-31")
	q.Product = 1
	q.Resources = map[ResourceID]Resource{1: {ID: 1, Name: "Mila"}, 2: {ID: 2, Name: "Tobin"}}
	fourth := day("2027-01-28")
	q.Taken = []Taken{{Start: fourth.At(20*60, berlin), End: fourth.At(21*60, berlin), People: 1, Product: 9, Private: true, With: []ResourceID{1}}}
	if got := join(r, &q, 0, 1); got != "6 [2]" {
		t.Error(got)
	}
	if got := join(r, &q, 0, 1); got != "6 [2]" {
		t.Error(got)
	}
	if got := join(r, &q, 1, 1); got != "6 [1]" { // Tobin is booked on no evening of it either, but Mila comes first
		t.Error(got)
	}
	q.Taken = q.Taken[:1]
	tobin := q.Resources[2]
	tobin.Closures = []calendar.Closure{{From: day("2027-02-11"), To: day("2027-02-11"), Reason: "away"}}
	q.Resources[2] = tobin
	if got := runs(r, q); got != "Winter 6/6 left 0 why.course_without\nSpring 6/6 left 3\n" {
		t.Error(got)
	}
	q.Resources[2] = Resource{ID: 2, Name: "Tobin"}
	// The seller moves one meeting where they like, unless it is kept or has no room.
	moved := r.Runs(q)[0].Booking(1)
	moved.Meetings = slices.Clone(moved.Meetings)
	moved.Meetings[0] = question.Meeting{Start: at("2027-01-08", 1140), End: at("2027-01-08", 1230)}
	moved.Start = moved.Meetings[0].Start
	sq := q
	if _, f := r.Take(moved, sq, words.English); code(f) != "course_gone" {
		t.Errorf("a customer moved one meeting: %v", f)
	}
	sq.Wish.Seller = true
	if places, f := r.Take(moved, sq, words.English); f != nil || len(places) != 6 {
		t.Errorf("%v, %v", places, f)
	}
	sq.Kept = []Kept{{Start: at("2027-01-08", 1080), End: at("2027-01-08", 1200), Reason: "ours"}}
	if _, f := r.Take(moved, sq, words.English); code(f) != "stay" || f.Params["why"] != "Kept free by hand: ours" {
		t.Errorf("%v", f)
	}
	// Whoever booked before a teacher was needed is in nobody's way.
	early := six()
	eq := query("2026-12-01 10:00", "2026-12-01", "2027-03-31")
	eq.Product, eq.Resources = 1, q.Resources
	join(early, &eq, 0, 1)
	early.Needs = r.Needs
	if got := join(early, &eq, 0, 1); got != "6 [1]" {
		t.Error(got)
	}
	// A lesson that needs Tobin cannot be had while he leads a course.
	q.Resources[2] = Resource{ID: 2, Name: "Tobin"}
	join(r, &q, 0, 1)
	lesson := evenings()
	lesson.Week[time.Thursday] = []calendar.Span{{From: 18 * 60, To: 22 * 60}}
	lesson.Length, lesson.Grid, lesson.Needs = 60, 60, []Need{{Name: "Teacher", Of: []ResourceID{2}}}
	q.Product, q.From, q.To = 2, day("2027-01-07"), day("2027-01-07")
	q.Now = day("2026-12-20").At(0, berlin)
	free := 0
	for _, o := range lesson.Openings(q) {
		if o.Left > 0 {
			free++
		}
	}
	if free != 2 { // at six and at nine, not at seven and at eight
		t.Errorf("%d lessons are free beside a course", free)
	}
}

func TestCoursesThatMakeNoSense(t *testing.T) {
	for want, spoil := range map[string]func(r *Rule){
		"booking.courses_between":          func(r *Rule) { r.Courses = nil },
		"booking.course_without_name":      func(r *Rule) { r.Courses[0].Name = "" },
		"booking.course_name_twice":        func(r *Rule) { r.Courses[1].Name = "Winter" },
		"booking.course_meetings":          func(r *Rule) { r.Courses[0].Meetings = r.Courses[0].Meetings[:1] },
		"booking.course_meeting_time":      func(r *Rule) { r.Courses[0].Meetings[2].Time.To = 0 },
		"booking.course_meetings_in_order": func(r *Rule) { r.Courses[0].Meetings[2].Day = day("2027-01-01") },
		"booking.courses_meet_together":    func(r *Rule) { r.Courses[1].Meetings = r.Courses[0].Meetings },
		"booking.join_between":             func(r *Rule) { r.Join = 6 },
		"booking.course_has_its_times":     func(r *Rule) { r.Longest = 90 },
		"booking.courses_by_course":        func(r *Rule) { r.By = ByTime },
	} {
		r := six()
		spoil(r)
		var told *words.Message
		if err := r.Validate(); !errors.As(err, &told) || told.Code != want {
			t.Errorf("%v, want %s", err, want)
		}
	}
}

func TestWhyOfCourses(t *testing.T) {
	r := six()
	q := query("2026-12-01 10:00", "2026-12-01", "2027-03-31")
	q.Product = 1
	for d, want := range map[string]string{"2027-01-14": "Winter, 2 of 6: 3 of 3 places are left.", "2027-01-15": "No course meets on this day."} {
		if got := said(r.Day(day(d), q)); got != want {
			t.Errorf("%s: %q, want %q", d, got, want)
		}
	}
}

// Whatever is booked, moved away and joined late: nobody is refused for whom each
// meeting that is left has room, and no meeting holds more than its places. Counted
// meeting by meeting, in the open.
func TestCoursesMeetingByMeeting(t *testing.T) {
	rnd := rand.New(rand.NewPCG(11, 27))
	for range 300 {
		r := six()
		r.Places, r.Join, r.Notice = 1+rnd.IntN(6), rnd.IntN(6), rnd.IntN(72)
		q := query("2026-12-01 10:00", "2026-12-01", "2027-06-01")
		q.Product = 1
		for range 12 {
			q.Now = q.Now.Add(time.Duration(rnd.IntN(400)) * time.Hour)
			course, people := rnd.IntN(2), 1+rnd.IntN(2)
			c := r.Courses[course]
			first := slices.IndexFunc(c.Meetings, func(m Meeting) bool {
				return !m.Day.At(m.Time.From, berlin).Before(q.Now.Add(time.Duration(r.Notice) * time.Hour))
			})
			room := first >= 0 && first <= r.Join && people <= r.Places
			for _, m := range c.Meetings[max(first, 0):] {
				there := 0
				for _, t := range q.Taken {
					if t.Start.Equal(m.Day.At(m.Time.From, berlin)) {
						there += t.People
					}
				}
				room = room && there+people <= r.Places
			}
			before := len(q.Taken)
			if at := slices.IndexFunc(r.Runs(q), func(x Run) bool { return x.Name == c.Name }); at >= 0 {
				join(r, &q, at, people)
			}
			booked := len(q.Taken) - before
			if room != (booked > 0) || room && booked != 6-first {
				t.Fatalf("%s for %d at %v: room %v, booked %d meetings", c.Name, people, q.Now, room, booked)
			}
		}
	}
}
