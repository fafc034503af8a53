package workplan

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/question"
)

var (
	zone  = time.FixedZone("CET", 3600)
	paid  = time.Date(2026, 11, 24, 10, 0, 0, 0, zone) // a Tuesday
	hours = func() *calendar.Hours {
		h := &calendar.Hours{Zone: zone}
		for d := time.Monday; d <= time.Friday; d++ {
			h.Week[d] = []calendar.Span{{From: 540, To: 1020}}
		}
		return h
	}()
)

// plan is a small plan of the usual shape: compute, then letter, then hand
// over; a card only for gifts.
func plan(t *testing.T) *Plan {
	t.Helper()
	class := func(k question.Key) (question.Class, bool) { return question.ClassYesNo, k == "gift" }
	gift, err := condition.Compile(&condition.Condition{Answer: "gift", Op: condition.Is, Value: []byte("true")}, condition.Names{Class: class})
	must(t, err)
	text, err := merge.Parse("“{{title}}”")
	must(t, err)
	return &Plan{Steps: []Ready{
		{Step: Step{Key: "compute", Title: "Compute", Minutes: Minutes{Fixed: 15}, Needs: []question.Key{"night"}, Start: Start{On: OnPayment}, Due: Due{WorkingDays, 1}}},
		{Step: Step{Key: "letter", Title: "Letter", Minutes: Minutes{Fixed: 10, Each: 1, Of: "title", Per: Character}, Needs: []question.Key{"title"}, Start: Start{On: AfterStep, Step: "compute"}, Due: Due{WorkingDays, 1}}, Text: text, Fields: []question.Key{"title"}},
		{Step: Step{Key: "card", Title: "Card", Minutes: Minutes{Fixed: 12, Unit: 2}, Start: Start{On: OnBrief}, Due: Due{WorkingDays, 2}}, Test: gift},
		{Step: Step{Key: "hand_over", Title: "Hand over", Minutes: Minutes{Fixed: 5}, Start: Start{On: AfterStep, Step: "letter"}, Due: Due{WorkingHours, 4}}},
	}}
}

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

// facts makes what a plan needs of texts; a key in missing is required and not
// answered.
func facts(answers map[question.Key]string, missing ...question.Key) Basis {
	f := Basis{Answers: question.Answers{}, Quantity: 1, Missing: missing, Hours: hours, Now: paid, Paid: paid}
	fields := map[string]string{}
	f.Field = func(name string, _ *For, _ Part) string { return fields[name] }
	for k, v := range answers {
		if v == "yes" || v == "no" {
			f.Answers[k] = question.YesNo(v == "yes")
		} else {
			f.Answers[k] = question.Text(v)
		}
		fields[string(k)] = v
	}
	f.Words = func(k question.Key, _ *For, _ Part) string { return answers[k] }
	if len(missing) == 0 {
		f.Briefed = paid
	}
	return f
}

// bench is an order line's work as it is kept: it applies diffs as a store
// would.
type bench struct {
	t       *testing.T
	plan    *Plan
	items   []Item
	entries Entries
	now     time.Time
}

func (b *bench) replan(f Basis) (changes int) {
	b.t.Helper()
	f.Now = b.now
	for range 10 {
		f.Existing, f.Entries = b.items, b.entries
		wanted, entries := b.plan.Wanted(f)
		d := Replan(b.items, wanted, f, b.plan)
		b.entries = entries
		if d.Empty() {
			return changes
		}
		changes++
		for _, i := range d.Drop {
			b.items = slices.DeleteFunc(b.items, func(x Item) bool { return x.Step == i.Step && x.Part == i.Part && x.Round == i.Round })
		}
		for _, i := range d.Update {
			b.items[slices.IndexFunc(b.items, func(x Item) bool { return x.Step == i.Step && x.Part == i.Part && x.Round == i.Round })] = i
		}
		b.items = append(b.items, d.Add...)
	}
	b.t.Fatal("planning never comes to rest")
	return 0
}

func (b *bench) find(step StepKey, round int) int {
	return slices.IndexFunc(b.items, func(x Item) bool { return x.Step == step && x.Round == round })
}

func (b *bench) do(step StepKey, round int, what func(Item) Item) {
	b.t.Helper()
	i := b.find(step, round)
	if i < 0 {
		b.t.Fatalf("there is no %s %d in %s", step, round, b)
	}
	b.items[i] = what(b.items[i])
}

func (b *bench) finish(step StepKey, round int) {
	b.t.Helper()
	b.now = b.now.Add(time.Hour)
	b.do(step, round, func(i Item) Item { return i.Finish(b.now) })
}

func (b *bench) begin(step StepKey, round int) {
	b.t.Helper()
	b.do(step, round, func(i Item) Item { return i.Begin(b.now) })
}

// String lists the items: "compute done, letter ready".
func (b *bench) String() string {
	var parts []string
	for _, i := range b.items {
		name := string(i.Step)
		if i.Round > 0 {
			name += fmt.Sprintf("+%d", i.Round)
		}
		state := "ready"
		switch {
		case !i.Done.IsZero():
			state = "done"
		case !i.Started.IsZero():
			state = "begun"
		case i.Waiting():
			state = "waits"
		}
		for _, m := range i.Marks {
			state += fmt.Sprintf(" [%s: %s→%s]", m.Key, m.Old, m.New)
		}
		parts = append(parts, name+" "+state)
	}
	slices.Sort(parts)
	return strings.Join(parts, ", ")
}

func (b *bench) expect(want string) {
	b.t.Helper()
	if got := b.String(); got != want {
		b.t.Errorf("\n got %s\nwant %s", got, want)
	}
}

func TestWanted(t *testing.T) {
	f := facts(map[question.Key]string{"night": "Sat", "title": "Three sisters", "gift": "yes"})
	f.Quantity = 3
	items, _ := plan(t).Wanted(f)
	if len(items) != 4 {
		t.Fatalf("%d items", len(items))
	}
	letter, card := items[1], items[2]
	if letter.Minutes != 10+12 || card.Minutes != 12+3*2 {
		t.Errorf("the letter takes %d minutes and the card %d", letter.Minutes, card.Minutes)
	}
	if letter.Instructions != "“Three sisters”" || letter.After != "compute" || !letter.Waiting() {
		t.Errorf("the letter: %+v", letter)
	}
	for i, want := range []string{"2026-11-25 17:00", "2026-11-26 17:00", "2026-11-26 17:00", "2026-11-27 13:00"} {
		if got := items[i].Due.In(zone).Format("2006-01-02 15:04"); got != want {
			t.Errorf("%s is due %s, want %s", items[i].Step, got, want)
		}
	}
}

func TestWhatAnItemWaitsFor(t *testing.T) {
	f := facts(map[question.Key]string{"night": "Sat", "gift": "yes"}, "title")
	items, _ := plan(t).Wanted(f)
	if got := items[1].Missing; !slices.Equal(got, []question.Key{"title"}) {
		t.Errorf("the letter waits for %v", got)
	}
	if !items[2].Brief || !items[2].Due.IsZero() {
		t.Errorf("the card waits for the brief and has no day yet: %+v", items[2])
	}
	if items[0].Waiting() {
		t.Error("the sky can be computed")
	}
}

func TestBookingTimes(t *testing.T) {
	start := time.Date(2026, 11, 28, 20, 30, 0, 0, zone)
	for _, c := range []struct {
		start StartOn
		due   Due
		ready string
		want  string
	}{
		{OnPayment, Due{DaysBeforeBooking, 1}, "24 10:00", "27 20:30"},
		{OnPayment, Due{HoursBeforeBooking, 3}, "24 10:00", "28 17:30"},
		{OnBooking, Due{DaysAfterBooking, 1}, "28 20:30", "29 20:30"},
		{OnBooking, Due{HoursAfterBooking, 2}, "28 20:30", "28 22:30"},
		{OnBooking, Due{WorkingDays, 1}, "28 20:30", "30 17:00"},
	} {
		p := &Plan{Steps: []Ready{{Step: Step{Key: "a", Title: "A", Start: Start{On: c.start}, Due: c.due}}}}
		f := facts(nil)
		f.Booking = start
		items, _ := p.Wanted(f)
		i := items[0]
		if r, d := i.Ready.In(zone).Format("2 15:04"), i.Due.In(zone).Format("2 15:04"); r != c.ready || d != c.want {
			t.Errorf("%s %v: ready %s, due %s; want %s, %s", c.start, c.due, r, d, c.ready, c.want)
		}
	}
	p := &Plan{Steps: []Ready{{Step: Step{Key: "a", Title: "A", Start: Start{On: OnBooking}, Due: Due{DaysAfterBooking, 1}}}}}
	items, _ := p.Wanted(facts(nil))
	if i := items[0]; !i.Waiting() || !i.Due.IsZero() {
		t.Errorf("without a booking there is no time: %+v", i)
	}
}

// The life of an order's work, told in steps.
func TestReplanning(t *testing.T) {
	b := &bench{t: t, plan: plan(t), now: paid}
	answers := map[question.Key]string{"night": "Sat", "title": "One", "gift": "no"}
	b.replan(facts(answers))
	b.expect("compute ready, hand_over waits, letter waits")
	if n := b.replan(facts(answers)); n != 0 {
		t.Errorf("planning again with nothing changed made %d changes", n)
	}

	b.finish("compute", 0)
	b.replan(facts(answers))
	b.expect("compute done, hand_over waits, letter ready")

	// An answer changes before work began with it: the item is updated.
	answers["title"] = "Two"
	b.replan(facts(answers))
	b.expect("compute done, hand_over waits, letter ready")

	// It changes after work began: the item is marked.
	b.begin("letter", 0)
	answers["title"] = "Three"
	b.replan(facts(answers))
	b.expect("compute done, hand_over waits, letter begun [title: Two→Three]")

	// Finished with the newest answer, the mark is settled.
	b.finish("letter", 0)
	b.replan(facts(answers))
	b.expect("compute done, hand_over ready, letter done")

	// It changes after the work was done: marked, and to be done again; what
	// comes after waits for that.
	answers["title"] = "Four"
	b.replan(facts(answers))
	b.expect("compute done, hand_over waits, letter done [title: Three→Four], letter+1 ready")

	// It changes back before the rework is begun: both go.
	answers["title"] = "Three"
	b.replan(facts(answers))
	b.expect("compute done, hand_over ready, letter done")

	// It changes again, and once more before the rework is begun.
	answers["title"] = "Five"
	b.replan(facts(answers))
	answers["title"] = "Six"
	b.replan(facts(answers))
	b.expect("compute done, hand_over waits, letter done [title: Three→Six], letter+1 ready")

	b.finish("letter", 1)
	b.replan(facts(answers))
	b.expect("compute done, hand_over ready, letter done [title: Three→Six], letter+1 done")

	// A third round works like the second.
	answers["title"] = "Seven"
	b.replan(facts(answers))
	b.expect("compute done, hand_over waits, letter done [title: Three→Six], letter+1 done [title: Six→Seven], letter+2 ready")

	// It becomes a gift: the card is needed; and no gift any more: it goes.
	answers["gift"] = "yes"
	b.replan(facts(answers))
	if b.find("card", 0) < 0 {
		t.Error("a gift needs a card")
	}
	answers["gift"] = "no"
	b.replan(facts(answers))
	if b.find("card", 0) >= 0 {
		t.Error("the card is not needed any more")
	}

	// What is done stays, needed or not.
	answers["gift"] = "yes"
	b.replan(facts(answers))
	b.finish("card", 0)
	answers["gift"] = "no"
	b.replan(facts(answers))
	if b.find("card", 0) < 0 {
		t.Error("a finished item was dropped")
	}
}

func TestUndo(t *testing.T) {
	i := Item{Step: "a", Uses: map[question.Key]string{"k": "v"}}
	begun := i.Begin(paid)
	done := begun.Finish(paid.Add(time.Hour))
	if back := done.Undo(); !back.Done.IsZero() || back.Started.IsZero() {
		t.Errorf("undoing a finish leaves it begun: %+v", back)
	}
	if back := done.Undo().Undo(); !back.Started.IsZero() || back.Seen != nil {
		t.Errorf("undoing twice leaves it as it was: %+v", back)
	}
	if straight := i.Finish(paid); straight.Started.IsZero() {
		t.Error("what is finished has been started")
	}
}

// Whatever customers answer and people do, planning comes to rest, a second
// planning changes nothing, done items stay done, and each step has at most
// one open round.
func TestReplanningProperties(t *testing.T) {
	r := rand.New(rand.NewPCG(51, 52))
	for range 200 {
		b := &bench{t: t, plan: plan(t), now: paid}
		answers := map[question.Key]string{"night": "Sat", "title": "One", "gift": "no"}
		for range 40 {
			b.now = b.now.Add(time.Hour)
			switch r.IntN(4) {
			case 0:
				answers["title"] = []string{"One", "Two", "Three"}[r.IntN(3)]
			case 1:
				answers["gift"] = []string{"yes", "no"}[r.IntN(2)]
			default:
				if n := len(b.items); n > 0 {
					i := &b.items[r.IntN(n)]
					switch {
					case i.Done.IsZero() && i.Started.IsZero() && !i.Waiting():
						*i = i.Begin(b.now)
					case i.Done.IsZero() && !i.Started.IsZero():
						*i = i.Finish(b.now)
					}
				}
			}
			done := 0
			for _, i := range b.items {
				if !i.Done.IsZero() {
					done++
				}
			}
			b.replan(facts(answers))
			if n := b.replan(facts(answers)); n != 0 {
				t.Fatalf("a second planning made %d changes: %s", n, b)
			}
			open, still := map[StepKey]int{}, 0
			for _, i := range b.items {
				if i.Done.IsZero() {
					open[i.Step]++
				} else {
					still++
				}
			}
			if still != done {
				t.Fatalf("%d items were done, now %d are: %s", done, still, b)
			}
			for s, n := range open {
				if n > 1 {
					t.Fatalf("%s has %d open rounds: %s", s, n, b)
				}
			}
		}
	}
}

func TestStepsThatMakeNoSense(t *testing.T) {
	good := Step{Key: "a", Title: "A", Start: Start{On: OnPayment}, Due: Due{WorkingDays, 1}}
	if err := good.Validate(); err != nil {
		t.Fatal(err)
	}
	for name, change := range map[string]func(*Step){
		"no key":              func(s *Step) { s.Key = "" },
		"a key with capitals": func(s *Step) { s.Key = "Letter" },
		"no title":            func(s *Step) { s.Title = "" },
		"negative minutes":    func(s *Step) { s.Minutes.Fixed = -1 },
		"absurd minutes":      func(s *Step) { s.Minutes.Each = 1_000_000 },
		"each of nothing":     func(s *Step) { s.Minutes.Each = 1 },
		"each by nothing":     func(s *Step) { s.Minutes = Minutes{Each: 1, Of: "a"} },
		"no start":            func(s *Step) { s.Start = Start{} },
		"after no step":       func(s *Step) { s.Start = Start{On: AfterStep} },
		"no due":              func(s *Step) { s.Due = Due{} },
		"due long ago":        func(s *Step) { s.Due.Count = -1 },
	} {
		s := good
		change(&s)
		if s.Validate() == nil {
			t.Errorf("%s was taken", name)
		}
	}
}

func TestMinutesCountAnswers(t *testing.T) {
	s := &Ready{Step: Step{Minutes: Minutes{Fixed: 10, Each: 25, Of: "pictures", Per: Answer}}}
	f := Basis{Quantity: 1, Answers: question.Answers{"pictures": question.Number{Decimal: decimal.NewFromInt(7)}}}
	if m := s.minutes(&f, Part{}); m != 185 {
		t.Errorf("seven pictures take %d minutes, want 185", m)
	}
	if m := s.minutes(&Basis{Quantity: 1}, Part{}); m != 10 {
		t.Errorf("no answer takes %d minutes, want 10", m)
	}
}
