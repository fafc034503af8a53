package schedule

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/rickar/cal/v2"
	"github.com/rickar/cal/v2/de"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
)

// always is a worker who never rests.
func always(id PersonID, skills ...string) Worker {
	return Worker{ID: id, Skills: skills, Free: []Span{{0, 1_000_000}}}
}

// orders shows every order of some numbers to visit.
func orders(n int, visit func([]int)) {
	list := make([]int, n)
	for i := range list {
		list[i] = i
	}
	var permute func(k int)
	permute = func(k int) {
		if k == n {
			visit(list)
			return
		}
		for i := k; i < n; i++ {
			list[k], list[i] = list[i], list[k]
			permute(k + 1)
			list[k], list[i] = list[i], list[k]
		}
	}
	permute(0)
}

// On one worker, earliest due date first has the least of all greatest latenesses
// (J. R. Jackson, Scheduling a Production Line to Minimize Maximum Tardiness, UCLA
// Management Science Research Report 43, 1955; the proof is from memory): tried
// against every order of up to six jobs.
func TestEarliestDueDateFirstHasTheLeastLateness(t *testing.T) {
	r := rand.New(rand.NewPCG(1955, 1))
	for range 300 {
		n := 1 + r.IntN(6)
		jobs := make([]Job, n)
		for i := range jobs {
			jobs[i] = Job{ID: int64(i + 1), Minutes: 1 + r.IntN(50), Turn: Minute(r.IntN(150))}
		}
		late := func(ends func(i int) Minute) Minute {
			worst := Minute(-1 << 40)
			for i := range jobs {
				worst = max(worst, ends(i)-jobs[i].Turn)
			}
			return worst
		}
		p := Make([]Worker{always(1)}, jobs, 0)
		got := late(func(i int) Minute { return p.At(jobs[i].ID).To })
		best := Minute(1 << 40)
		orders(n, func(order []int) {
			ends, at := make([]Minute, n), Minute(0)
			for _, i := range order {
				at += Minute(jobs[i].Minutes)
				ends[i] = at
			}
			best = min(best, late(func(i int) Minute { return ends[i] }))
		})
		if got != best {
			t.Fatalf("the greatest lateness is %d, and could be %d: %+v", got, best, jobs)
		}
	}
}

// On m equal workers, whatever the order of the list, all is done within 2 − 1/m
// times the least possible (R. L. Graham, Bounds for Certain Multiprocessing
// Anomalies, Bell System Technical Journal 45, 1966): tried against every way to
// share out up to seven jobs. The bound is reached by m(m−1) jobs of 1 and one of m.
func TestListSchedulingIsWithinGrahamsBound(t *testing.T) {
	r := rand.New(rand.NewPCG(1966, 1))
	workers := func(m int) (list []Worker) {
		for i := range m {
			list = append(list, always(PersonID(i+1)))
		}
		return list
	}
	span := func(p *Plan) (end Minute) {
		for _, place := range p.places {
			end = max(end, place.To)
		}
		return end
	}
	for range 200 {
		n, m := 1+r.IntN(7), 1+r.IntN(3)
		jobs := make([]Job, n)
		for i := range jobs {
			jobs[i] = Job{ID: int64(i + 1), Minutes: 1 + r.IntN(40), Turn: Minute(r.IntN(9))}
		}
		best := Minute(1 << 40)
		var share func(i int, loads []Minute)
		share = func(i int, loads []Minute) {
			if i == n {
				best = min(best, slices.Max(loads))
				return
			}
			for w := range loads {
				loads[w] += Minute(jobs[i].Minutes)
				share(i+1, loads)
				loads[w] -= Minute(jobs[i].Minutes)
			}
		}
		share(0, make([]Minute, m))
		if got := span(Make(workers(m), jobs, 0)); int64(got)*int64(m) > int64(best)*int64(2*m-1) {
			t.Fatalf("%d workers need %d, and could do with %d: %+v", m, got, best, jobs)
		}
	}
	for m := 2; m <= 5; m++ {
		var jobs []Job
		for i := range m * (m - 1) {
			jobs = append(jobs, Job{ID: int64(i + 1), Minutes: 1})
		}
		jobs = append(jobs, Job{ID: 1000, Minutes: m, Turn: 1})
		if got := span(Make(workers(m), jobs, 0)); got != Minute(2*m-1) {
			t.Errorf("%d workers: the worst list takes %d, want %d", m, got, 2*m-1)
		}
	}
}

// crowd makes some workers with hours, and jobs for them, at random.
func crowd(r *rand.Rand) ([]Worker, []Job) {
	workers := make([]Worker, 1+r.IntN(4))
	for i := range workers {
		workers[i].ID = PersonID(i + 1)
		if r.IntN(2) == 0 {
			workers[i].Skills = []string{"ink"}
		}
		for at := Minute(r.IntN(50)); at < 4000; {
			end := at + 1 + Minute(r.IntN(200))
			workers[i].Free = append(workers[i].Free, Span{at, end})
			at = end + Minute(r.IntN(100))
		}
	}
	jobs := make([]Job, r.IntN(25))
	for i := range jobs {
		j := &jobs[i]
		*j = Job{ID: int64(i + 1), Line: int64(1 + r.IntN(8)), Minutes: r.IntN(90), Turn: Minute(r.IntN(1500)), Age: Minute(r.IntN(10)), Rank: Rank(r.IntN(4) - 2)}
		if r.IntN(3) == 0 {
			j.Ready = Minute(r.IntN(2500))
		}
		switch r.IntN(6) {
		case 0:
			j.Person = PersonID(1 + r.IntN(5)) // who may not be there
		case 1:
			j.Skill = "ink"
		}
		for o := range i { // the line's earlier jobs
			if jobs[o].Line == j.Line && r.IntN(3) == 0 {
				j.After = append(j.After, jobs[o].ID)
			}
		}
	}
	return workers, jobs
}

// Whatever there is to do: nobody works outside of their hours or on two things at
// once, each job has just its minutes, by who can do it, when it can be begun, and
// after what it waits on.
func TestNobodyWorksMoreThanTheirHours(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 1))
	for range 2000 {
		workers, jobs := crowd(r)
		now := Minute(r.IntN(300))
		p := Make(workers, jobs, now)
		spent, pieces := map[int64]Minute{}, map[PersonID][]Span{}
		for _, piece := range p.Pieces {
			spent[piece.Job] += piece.To - piece.From
			pieces[piece.Person] = append(pieces[piece.Person], piece.Span)
		}
		for i := range workers {
			w := &workers[i]
			list := pieces[w.ID]
			slices.SortFunc(list, func(a, b Span) int { return int(a.From - b.From) })
			for k, s := range list {
				if k > 0 && list[k-1].To > s.From {
					t.Fatalf("%d does two things at %d", w.ID, s.From)
				}
				if !slices.ContainsFunc(w.Free, func(f Span) bool { return f.From <= s.From && s.To <= f.To }) {
					t.Fatalf("%d works from %d to %d, outside of %v", w.ID, s.From, s.To, w.Free)
				}
			}
		}
		for i := range jobs {
			j, place := &jobs[i], p.At(jobs[i].ID)
			w := slices.IndexFunc(workers, func(w Worker) bool { return w.ID == place.Person })
			switch {
			case !place.Placed():
				if slices.ContainsFunc(workers, func(w Worker) bool { return w.Can(j) }) && len(j.After) == 0 {
					t.Fatalf("%+v is not placed", j)
				}
			case w < 0 || !workers[w].Can(j):
				t.Fatalf("%+v is placed with %d", j, place.Person)
			case spent[j.ID] != Minute(j.Minutes):
				t.Fatalf("%+v takes %d", j, spent[j.ID])
			case place.From < max(now, j.Ready):
				t.Fatalf("%+v begins at %d", j, place.From)
			}
			for _, id := range j.After {
				if before := p.At(id); place.Placed() && (!before.Placed() || place.From < before.To) {
					t.Fatalf("%+v begins at %d, before %d is done at %d", j, place.From, id, before.To)
				}
			}
		}
	}
}

// A slow obvious version of placing: minute by minute, each job to whoever is done
// first.
func slowly(workers []Worker, jobs []Job, now Minute) map[int64]Minute {
	used := map[PersonID]map[Minute]bool{}
	free := func(w *Worker, m Minute) bool {
		return !used[w.ID][m] && slices.ContainsFunc(w.Free, func(s Span) bool { return s.From <= m && m < s.To })
	}
	ends := map[int64]Minute{}
	for _, j := range jobs {
		best, at := -1, []Minute(nil)
		for i := range workers {
			if !workers[i].Can(&j) {
				continue
			}
			var mine []Minute
			for m := max(now, j.Ready); m < 6000 && len(mine) < j.Minutes; m++ {
				if free(&workers[i], m) {
					mine = append(mine, m)
				}
			}
			if len(mine) == j.Minutes && (best < 0 || mine[len(mine)-1] < at[len(at)-1]) {
				best, at = i, mine
			}
		}
		if best < 0 {
			continue
		}
		for _, m := range at {
			if used[workers[best].ID] == nil {
				used[workers[best].ID] = map[Minute]bool{}
			}
			used[workers[best].ID][m] = true
		}
		ends[j.ID] = at[len(at)-1] + 1
	}
	return ends
}

func TestPlacingMinuteByMinute(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for range 300 {
		workers, jobs := crowd(r)
		for i := range jobs {
			jobs[i].After, jobs[i].Minutes = nil, max(jobs[i].Minutes, 1)
		}
		p := Make(workers, jobs, 100)
		want := slowly(workers, p.Jobs(), 100)
		for _, j := range jobs {
			if got := p.At(j.ID).To; got != want[j.ID] {
				t.Fatalf("%+v is done at %d, want %d", j, got, want[j.ID])
			}
		}
	}
}

// A new order never makes an earlier promise later, whoever comes with what; a rush
// can, and says whose.
func TestNewOrdersKeepEarlierPromises(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	rushed, among := 0, 0
	for range 300 {
		workers, _ := crowd(r)
		var jobs []Job
		limits := map[int64]Minute{}
		for line := int64(1); line < 14; line++ {
			_, own := crowd(r)
			own = own[:min(len(own), 4)]
			rush := r.IntN(6) == 0
			for i := range own {
				own[i].ID, own[i].Line, own[i].After, own[i].Rank, own[i].Age = line*100+int64(i), line, nil, Usual, Minute(line)
				if rush {
					own[i].Rank = First
				}
				if i > 0 && r.IntN(2) == 0 {
					own[i].After = []int64{own[i-1].ID}
				}
			}
			if len(own) == 0 {
				continue
			}
			q := NewQueue(workers, jobs, limits, 50)
			late := q.Late()
			offer, ok := q.Offer(own)
			if !ok {
				continue
			}
			for i := range own {
				own[i].Turn = max(own[i].Turn, offer.Turn)
			}
			if offer.Turn == 0 && !rush && len(jobs) > 0 {
				among++
			}
			jobs = append(jobs, own...)
			limits[line] = offer.Ends
			after := NewQueue(workers, jobs, limits, 50)
			if got := after.ends[line]; got != offer.Ends {
				t.Fatalf("line %d was promised for %d and is done at %d", line, offer.Ends, got)
			}
			told := map[int64]bool{}
			for _, l := range offer.Later {
				told[l.Line], rushed = true, rushed+1
			}
			for _, l := range after.Late() {
				was := slices.IndexFunc(late, func(o Later) bool { return o.Line == l.Line })
				if worse := was < 0 || late[was].After < l.After; worse && !told[l.Line] {
					t.Fatalf("line %d makes line %d late: %+v", line, l.Line, l)
				}
			}
			if len(offer.Later) > 0 && !rush {
				t.Fatalf("line %d is no rush and makes %v late", line, offer.Later)
			}
		}
	}
	if rushed == 0 || among == 0 {
		t.Errorf("%d promises were made late by a rush, and %d orders stood among others; nothing was tried", rushed, among)
	}
}

// What is asked for its consequences changes nothing, and comes true when done.
func TestWhatComesOfAChange(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 2))
	for range 200 {
		workers, jobs := crowd(r)
		if len(jobs) == 0 {
			continue
		}
		q := NewQueue(workers, jobs, nil, 0)
		before := fmt.Sprint(q.Plan.Ends())
		i := r.IntN(len(jobs))
		changed := jobs[i]
		changed.Person, changed.Skill, changed.Turn = workers[r.IntN(len(workers))].ID, "", Minute(r.IntN(1500))
		_, moves := q.If([]Job{changed})
		if now := fmt.Sprint(q.Plan.Ends()); now != before {
			t.Fatal("asking changed the plan")
		}
		jobs[i] = changed
		after := NewQueue(workers, jobs, nil, 0)
		for line, was := range q.ends {
			k := slices.IndexFunc(moves, func(m Move) bool { return m.Line == line })
			if is := after.ends[line]; (k < 0) != (is == was) || k >= 0 && moves[k].After != is {
				t.Fatalf("line %d: %d becomes %d, told as %v", line, was, is, moves)
			}
		}
	}
}

// Jobs that wait on each other, on one that nobody can do, or on hours that never
// come are told as not placed, and hold up nothing else.
func TestWhatCannotBeDone(t *testing.T) {
	jobs := []Job{
		{ID: 1, Minutes: 5, After: []int64{2}}, {ID: 2, Minutes: 5, After: []int64{1}},
		{ID: 3, Minutes: 5, Skill: "fresco"}, {ID: 4, Minutes: 5, After: []int64{3}},
		{ID: 5, Minutes: 5, Person: 9}, {ID: 6, Minutes: 5, After: []int64{6}},
		{ID: 7, Minutes: 2_000_000}, {ID: 8, Minutes: 5, After: []int64{99}},
	}
	p := Make([]Worker{always(1)}, jobs, 0)
	for _, j := range jobs {
		if got := p.At(j.ID).Placed(); got != (j.ID == 8) {
			t.Errorf("job %d: placed is %v", j.ID, got)
		}
	}
	if p := Make([]Worker{{ID: 1}}, jobs[7:], 0); p.At(8).Placed() {
		t.Error("somebody without hours works")
	}
	q := NewQueue([]Worker{{ID: 1}}, nil, nil, 0)
	if _, ok := q.Offer([]Job{{ID: 1, Minutes: 5}}); ok {
		t.Error("it was promised though nobody has hours")
	}
}

// A booked time is spent on what begins with it, and no other hours.
func TestWorkInABookedTime(t *testing.T) {
	p := Make([]Worker{{ID: 1, Free: []Span{{0, 60}}}}, []Job{{ID: 1, Minutes: 90, Ready: 500, Person: 1, During: true}, {ID: 2, Minutes: 60}}, 0)
	if got := p.At(1); got != (Place{1, 500, 590}) {
		t.Errorf("the booked work is placed at %v", got)
	}
	if got := p.At(2); got != (Place{1, 0, 60}) {
		t.Errorf("the other work is placed at %v", got)
	}
}

// The working minutes of Hours against those of a reference library (rickar/cal):
// German holidays, nine to five, over three years with both clock changes.
func TestHoursAgainstAReferenceCalendar(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		t.Fatal(err)
	}
	var week calendar.Week
	for d := time.Monday; d <= time.Friday; d++ {
		week[d] = []calendar.Span{{From: 540, To: 1020}}
	}
	business := &calendar.Hours{Week: week, Holidays: calendar.HolidaysIn("DE", "", nil), Zone: zone}
	reference := cal.NewBusinessCalendar()
	reference.SetWorkHours(9*time.Hour, 17*time.Hour)
	reference.AddHoliday(de.Holidays...)
	r := rand.New(rand.NewPCG(5, 5))
	for range 60 {
		from := calendar.Day{Year: 2026, Month: 1, Number: 1}.Add(r.IntN(900)).At(0, zone)
		days := 1 + r.IntN(60)
		sum := time.Duration(0)
		for _, s := range Hours(&booking.Resource{}, business, nil, from, days) {
			sum += time.Duration(s.To-s.From) * time.Minute
		}
		if want := reference.WorkHoursInRange(from, calendar.DayOf(from).Add(days).At(0, zone)); sum != want {
			t.Fatalf("from %s for %d days: %v, want %v", from, days, sum, want)
		}
	}
}

// A person's own week, absences, hours of single days and bookings.
func TestThePersonsOwnHours(t *testing.T) {
	zone := time.UTC
	monday := calendar.Day{Year: 2026, Month: 11, Number: 30}
	var week, own calendar.Week
	for d := time.Monday; d <= time.Friday; d++ {
		week[d] = []calendar.Span{{From: 540, To: 1020}}
	}
	own[time.Monday], own[time.Tuesday], own[time.Wednesday] = []calendar.Span{{From: 600, To: 720}, {From: 780, To: 840}}, []calendar.Span{{From: 600, To: 660}}, []calendar.Span{{From: 600, To: 660}}
	business := &calendar.Hours{Week: week, Zone: zone, Closures: []calendar.Closure{{From: monday.Add(1), To: monday.Add(1)}}}
	at := func(day, minute int) Minute { return At(monday.Add(day).At(minute, zone)) }
	person := &booking.Resource{
		Week:       &own,
		Closures:   []calendar.Closure{{From: monday.Add(2), To: monday.Add(2)}},
		Exceptions: []calendar.Exception{{Day: monday.Add(5), Time: calendar.Span{From: 600, To: 615}}},
	}
	taken := []Span{{at(0, 650), at(0, 660)}, {at(0, 700), at(0, 800)}, {at(0, 705), at(0, 710)}}
	got := Hours(person, business, taken, monday.At(0, zone), 7)
	want := []Span{{at(0, 600), at(0, 650)}, {at(0, 660), at(0, 700)}, {at(0, 800), at(0, 840)}, {at(5, 600), at(5, 615)}}
	if !slices.Equal(got, want) {
		t.Errorf("\n got %v\nwant %v", got, want)
	}
}

// many makes so many waiting jobs for ten people who work seven hours a day.
func many(n int) ([]Worker, []Job, map[int64]Minute) {
	r := rand.New(rand.NewPCG(1, 2))
	workers := make([]Worker, 10)
	for i := range workers {
		workers[i].ID, workers[i].Skills = PersonID(i+1), []string{"ink", "post"}[:1+i%2]
		for day := Minute(0); day < 400; day++ {
			workers[i].Free = append(workers[i].Free, Span{day*1440 + 540, day*1440 + 720}, Span{day*1440 + 780, day*1440 + 1020})
		}
	}
	jobs, limits := make([]Job, n), map[int64]Minute{}
	for i := range jobs {
		jobs[i] = Job{ID: int64(i + 1), Line: int64(i/3 + 1), Minutes: 5 + r.IntN(50), Turn: Minute(1440 + r.IntN(60*1440)), Age: Minute(i)}
		switch i % 3 {
		case 1:
			jobs[i].After = []int64{jobs[i-1].ID}
		case 2:
			jobs[i].Skill = "post"
		}
		if r.IntN(20) == 0 {
			jobs[i].Ready = Minute(r.IntN(90 * 1440))
		}
		limits[jobs[i].Line] = 1 << 30
	}
	return workers, jobs, limits
}

func BenchmarkPlan10000(b *testing.B) {
	workers, jobs, limits := many(10_000)
	for b.Loop() {
		NewQueue(workers, jobs, limits, 600)
	}
}

func BenchmarkPromise10000(b *testing.B) {
	workers, jobs, limits := many(10_000)
	q := NewQueue(workers, jobs, limits, 600)
	own := []Job{{ID: 1 << 60, Line: 1 << 40, Minutes: 30, Turn: 20 * 1440}, {ID: 1<<60 + 1, Line: 1 << 40, Minutes: 20, Turn: 21 * 1440, After: []int64{1 << 60}}}
	for b.Loop() {
		q.Offer(own)
	}
}

func BenchmarkConsequences10000(b *testing.B) {
	workers, jobs, limits := many(10_000)
	q := NewQueue(workers, jobs, limits, 600)
	moved := jobs[5000]
	moved.Person, moved.Turn = 3, 900
	for b.Loop() {
		q.If([]Job{moved})
	}
}
