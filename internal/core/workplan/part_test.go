package workplan

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// Entries are known again whatever is put between, taken away, moved or edited.
func TestRecogniseEntries(t *testing.T) {
	for _, c := range []struct{ before, now, want string }{
		{"", "Mila Ben", "1 2"},
		{"Mila Ben", "Mila Ben", "1 2"},
		{"Mila Ben", "Ben", "2"},
		{"Mila Ben", "Ben Mila", "2 1"},
		{"Mila Ben", "Zoe Mila Ben", "3 1 2"},
		{"Mila Ben", "Milo Ben", "1 2"},  // edited
		{"Mila Ben", "Milo Benn", "1 2"}, // both edited
		{"Mila Ben", "Ben Zoe", "2 3"},   // one is gone, another came
		{"Mila Ben Ada", "Mila Ada", "1 3"},
		{"Mila Ben Ada", "Mila Benn Ada Zoe", "1 2 3 4"},
		{"Mila Mila", "Mila", "1"},
		{"Mila Mila", "Mila Mila Mila", "1 2 3"},
	} {
		known := Recognise(nil, strings.Fields(c.before), 1)
		var ids []string
		for _, e := range Recognise(known, strings.Fields(c.now), len(known)+1) {
			ids = append(ids, fmt.Sprint(e.ID))
		}
		if got := strings.Join(ids, " "); got != c.want {
			t.Errorf("%s becomes %s: %s, want %s", c.before, c.now, got, c.want)
		}
	}
}

// names makes a basis whose line has a list of entries, each of one word.
func names(list ...string) Basis {
	f := facts(nil)
	f.Parts = func(*For) []Part {
		parts := make([]Part, len(list))
		for i, n := range list {
			parts[i] = Part{Place: i + 1, Of: len(list), Label: n, Print: n, Answers: question.Answers{"name": question.Text(n)}}
		}
		return parts
	}
	f.Words = func(k question.Key, of *For, p Part) string {
		if k != "names" || of == nil {
			return ""
		}
		return p.Label
	}
	f.Field = func(_ string, _ *For, p Part) string { return p.Label }
	return f
}

var each = &For{Each: EachEntry, Of: "names"}

// badges letters a badge for each name, packs each, and sends all.
func badges() *Plan {
	step := func(key StepKey, of *For, start Start) Ready {
		return Ready{Step: Step{Key: key, Title: string(key), For: of, Minutes: Minutes{Fixed: 2, Each: 1, Of: "name", Per: Character}, Start: start, Due: Due{WorkingDays, 1}}}
	}
	return &Plan{Steps: []Ready{
		step("letter", each, Start{On: OnPayment}),
		step("pack", each, Start{On: AfterStep, Step: "letter"}),
		step("send", nil, Start{On: AfterStep, Step: "pack"}),
	}}
}

func (b *bench) at(step StepKey, label string, what func(Item) Item) {
	b.t.Helper()
	i := slices.IndexFunc(b.items, func(x Item) bool { return x.Step == step && x.Label == label && x.Done.IsZero() })
	if i < 0 {
		b.t.Fatalf("there is no %s for %s in %s", step, label, b)
	}
	b.now = b.now.Add(time.Minute)
	b.items[i] = what(b.items[i])
}

func (b *bench) parts() string {
	var list []string
	for _, i := range b.items {
		s := string(i.Step) + " " + i.Label
		switch {
		case i.SetAside:
			s += " aside"
		case !i.Done.IsZero():
			s += " done"
		case i.Unneeded:
			s += " unneeded"
		case i.Waiting():
			s += " waits"
		}
		if i.Round > 0 {
			s += " again"
		}
		list = append(list, s)
	}
	slices.Sort(list)
	return strings.Join(list, ", ")
}

func (b *bench) has(want string) {
	b.t.Helper()
	if got := b.parts(); got != want {
		b.t.Errorf("\n got %s\nwant %s", got, want)
	}
}

// The life of a list of names: each badge waits on its own letters, and the sending
// on all; names come, go and change, and nothing that was done is lost.
func TestWorkForEachEntry(t *testing.T) {
	b := &bench{t: t, plan: badges(), now: paid}
	finish := func(i Item) Item { return i.Finish(b.now) }
	b.replan(names("Mila", "Ben"))
	b.has("letter Ben, letter Mila, pack Ben waits, pack Mila waits, send  waits")
	if i := b.items[0]; i.Minutes != 2+4 || i.Part != "1" || i.Place != 1 {
		t.Errorf("the first is %+v", i)
	}
	b.at("letter", "Mila", finish)
	b.replan(names("Mila", "Ben"))
	b.has("letter Ben, letter Mila done, pack Ben waits, pack Mila, send  waits")

	// Ben goes, Zoe comes before Mila: hers is new, Mila's is still done.
	b.replan(names("Zoe", "Mila"))
	b.has("letter Mila done, letter Zoe, pack Mila, pack Zoe waits, send  waits")

	// Mila is Milo after all: to be done again, and packed after that.
	b.replan(names("Zoe", "Milo"))
	b.has("letter Mila done, letter Milo again, letter Zoe, pack Milo waits, pack Zoe waits, send  waits")

	// Somebody letters Zoe when she is taken off the list: kept, and told.
	b.at("letter", "Zoe", func(i Item) Item { return i.Begin(b.now) })
	b.replan(names("Milo"))
	b.has("letter Mila done, letter Milo again, letter Zoe unneeded, pack Milo waits, send  waits")
	if n := b.replan(names("Milo")); n != 0 {
		t.Errorf("planning again made %d changes", n)
	}
	b.at("letter", "Zoe", func(i Item) Item { return i.Aside(b.now) })
	b.replan(names("Milo"))
	b.has("letter Mila done, letter Milo again, letter Zoe aside, pack Milo waits, send  waits")

	// What was set aside holds nothing up, and its number is not given again.
	b.at("letter", "Milo", finish)
	b.replan(names("Milo"))
	b.at("pack", "Milo", finish)
	b.replan(names("Milo", "Ada"))
	b.has("letter Ada, letter Mila done, letter Milo done again, letter Zoe aside, pack Ada waits, pack Milo done, send  waits")
	if i := slices.IndexFunc(b.items, func(i Item) bool { return i.Label == "Ada" }); b.items[i].Part == "3" {
		t.Error("Ada has the number of Zoe")
	}

	// The order is cancelled: what is begun is set aside, the rest goes.
	b.at("letter", "Ada", func(i Item) Item { return i.Begin(b.now) })
	f := names("Milo", "Ada")
	f.Cancelled, f.Now = true, b.now
	f.Existing, f.Entries = b.items, b.entries
	for _, i := range Replan(b.items, nil, f, b.plan).Update {
		if !i.SetAside || i.Label != "Ada" {
			t.Errorf("cancelling changes %+v", i)
		}
	}
}

// Whatever becomes of a list, and whoever works meanwhile: planning twice is planning
// once, what is done stays, and every entry has just one open or finished badge.
func TestWorkForEachEntryProperties(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 12))
	for range 150 {
		b := &bench{t: t, plan: badges(), now: paid}
		list := []string{"a", "bb"}
		for range 12 {
			switch n := r.IntN(5); {
			case n == 0 && len(list) > 0:
				list = slices.Delete(slices.Clone(list), 0, 1)
			case n == 1:
				list = slices.Insert(slices.Clone(list), r.IntN(len(list)+1), strings.Repeat("x", 1+r.IntN(9)))
			case n == 2 && len(list) > 0:
				list = slices.Clone(list)
				list[r.IntN(len(list))] += "y"
			default:
				if i := r.IntN(max(len(b.items), 1)); i < len(b.items) && b.items[i].Done.IsZero() && !b.items[i].Waiting() {
					b.now = b.now.Add(time.Minute)
					if b.items[i].Started.IsZero() && r.IntN(2) == 0 {
						b.items[i] = b.items[i].Begin(b.now)
					} else {
						b.items[i] = b.items[i].Finish(b.now)
					}
				}
			}
			done := map[string]time.Time{}
			for _, i := range b.items {
				if !i.Done.IsZero() {
					done[fmt.Sprint(i.Step, i.Part, i.Round)] = i.Done
				}
			}
			b.replan(names(list...))
			if n := b.replan(names(list...)); n != 0 {
				t.Fatalf("planning again made %d changes: %s", n, b.parts())
			}
			open := map[string]int{}
			for _, i := range b.items {
				key := fmt.Sprint(i.Step, i.Part, i.Round)
				if at, was := done[key]; was && !at.Equal(i.Done) {
					t.Fatalf("%s was done and is not: %s", key, b.parts())
				}
				delete(done, key)
				if i.Done.IsZero() {
					if open[fmt.Sprint(i.Step, i.Part)]++; open[fmt.Sprint(i.Step, i.Part)] > 1 {
						t.Fatalf("%s is open twice: %s", key, b.parts())
					}
				}
			}
			if len(done) > 0 {
				t.Fatalf("lost: %v", done)
			}
			for i, e := range b.entries["names"] {
				if !slices.ContainsFunc(b.items, func(x Item) bool {
					return x.Step == "letter" && x.Part == fmt.Sprint(e.ID) && (!x.Done.IsZero() || x.Label == list[i])
				}) {
					t.Fatalf("%s has no badge: %s", list[i], b.parts())
				}
			}
		}
	}
}

// What planning again says of itself.
func TestWhatReplanningSays(t *testing.T) {
	b := &bench{t: t, plan: badges(), now: paid}
	b.replan(names("Mila", "Ben"))
	f := names("Mila", "Benedikt", "Ada")
	f.Existing, f.Entries = b.items, b.entries
	wanted, _ := b.plan.Wanted(f)
	var said []string
	for _, s := range Replan(b.items, wanted, f, b.plan).Said(b.items) {
		said = append(said, s.Say(words.English, func(question.Key) string { return "Names" }))
	}
	want := []string{"“letter” came along.", "“pack” came along.", "“letter” takes 10 min instead of 5. (Names changed)", "“pack” takes 10 min instead of 5. (Names changed)"}
	if !slices.Equal(said, want) {
		t.Errorf("\n got %q\nwant %q", said, want)
	}
}

// When steps can be begun: so long before or after a booking, or on a day.
func TestStartOffsets(t *testing.T) {
	booked := time.Date(2026, 12, 18, 20, 30, 0, 0, zone)
	f := facts(map[question.Key]string{})
	f.Booking = booked
	f.Answers["party"] = question.Date{Day: calendar.Day{Year: 2026, Month: 12, Number: 24}}
	for _, c := range []struct {
		start Start
		want  string
	}{
		{Start{On: OnBooking}, "12-18 20:30"},
		{Start{On: OnBooking, Count: -3}, "12-18 17:30"},
		{Start{On: OnBooking, Count: -2, In: InDays}, "12-16 20:30"},
		{Start{On: OnBooking, Count: 5, In: InHours}, "12-19 01:30"},
		{Start{On: OnDay, Day: calendar.Day{Year: 2026, Month: 12, Number: 1}}, "12-01 00:00"},
		{Start{On: OnDay, Of: "party", Count: -7, In: InDays}, "12-17 00:00"},
	} {
		p := &Plan{Steps: []Ready{{Step: Step{Key: "a", Title: "A", Start: c.start, Due: Due{WorkingDays, 1}}}}}
		items, _ := p.Wanted(f)
		if got := items[0].Ready.In(zone).Format("01-02 15:04"); got != c.want {
			t.Errorf("%+v: %s, want %s", c.start, got, c.want)
		}
	}
	p := &Plan{Steps: []Ready{{Step: Step{Key: "a", Title: "A", Start: Start{On: OnDay, Of: "other"}, Due: Due{WorkingDays, 1}}}}}
	if items, _ := p.Wanted(f); !items[0].Waiting() {
		t.Error("a day that is not answered is not awaited")
	}
}

// What a step's own settings cannot be.
func TestStepsThatCannotBe(t *testing.T) {
	good := Step{Key: "a", Title: "A", Start: Start{On: OnPayment}, Due: Due{WorkingDays, 1}}
	for name, change := range map[string]func(*Step){
		"for what":          func(s *Step) { s.For = &For{Each: "moon"} },
		"entries of what":   func(s *Step) { s.For = &For{Each: EachEntry} },
		"units of a list":   func(s *Step) { s.For = &For{Each: EachUnit, Of: "names"} },
		"two people":        func(s *Step) { s.Who = &Who{Person: 1, Skill: "ink"} },
		"nobody":            func(s *Step) { s.Who = &Who{} },
		"an empty check":    func(s *Step) { s.Checklist = []string{""} },
		"an untitled paper": func(s *Step) { s.Papers = []Paper{{Text: "x"}} },
		"no day":            func(s *Step) { s.Start = Start{On: OnDay} },
		"two days": func(s *Step) {
			s.Start = Start{On: OnDay, Of: "party", Day: calendar.Day{Year: 2026, Month: 1, Number: 1}}
		},
		"in moons":         func(s *Step) { s.Start = Start{On: OnBooking, In: "moons"} },
		"too far":          func(s *Step) { s.Start = Start{On: OnBooking, Count: -9999} },
		"negative minutes": func(s *Step) { s.Minutes.Choices = []ChoiceMinutes{{"ink", "gold", -1}} },
		"a long title":     func(s *Step) { s.Title = strings.Repeat("x", 201) },
		"choices under a condition": func(s *Step) {
			s.For = &For{Each: EachChoice, Of: "ink", When: &condition.Condition{Answer: "ink", Op: condition.Answered}}
		},
	} {
		s := good
		change(&s)
		if s.Validate() == nil {
			t.Errorf("%s was taken", name)
		}
	}
	if err := good.Validate(); err != nil {
		t.Error(err)
	}
}
