// Package workplan makes work items from the steps of an edition and the
// answers of an order line, and plans again when answers change.
package workplan

import (
	"maps"
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A StepKey names a step within its product.
type StepKey string

// A Step is one kind of work in a plan.
type Step struct {
	Key          StepKey              `json:"key"`
	Title        string               `json:"title"`
	Instructions string               `json:"instructions,omitempty"` // with merge fields
	When         *condition.Condition `json:"when,omitempty"`
	Minutes      Minutes              `json:"minutes"`
	Needs        []question.Key       `json:"needs,omitempty"` // the answers that the work is done from
	Start        Start                `json:"start"`
	Due          Due                  `json:"due"`
	Sheet        int64                `json:"sheet,omitempty"` // that brought it in; zero for the product's own
}

// Minutes is how long a step takes: Fixed, plus Unit for each unit, plus Each
// for each of what is counted in the answer Of.
type Minutes struct {
	Fixed int          `json:"fixed,omitempty"`
	Unit  int          `json:"unit,omitempty"`
	Each  int          `json:"each,omitempty"`
	Of    question.Key `json:"of,omitempty"`
	Per   Per          `json:"per,omitempty"`
	// Entries counts only those entries of a list that meet it.
	Entries *condition.Condition `json:"entries,omitempty"`
}

// Per is what Each is multiplied by.
type Per string

const (
	Character Per = "character" // of a text, white space not counted
	Answer    Per = "answer"    // the answered number
)

// Start is when a step becomes ready.
type Start struct {
	On   StartOn `json:"on"`
	Step StepKey `json:"step,omitempty"` // for AfterStep
}

// A StartOn is what a step waits for.
type StartOn string

const (
	OnPayment StartOn = "payment" // the order is placed
	OnBrief   StartOn = "brief"   // every required answer is there
	AfterStep StartOn = "step"    // another step is done
	OnBooking StartOn = "booking" // the booked time begins
)

// Due is when a step should be done.
type Due struct {
	Rule  DueRule `json:"rule"`
	Count int     `json:"count"`
}

// A DueRule says what Due counts: working time from when the step is ready, or
// wall-clock time to or from the booking's start.
type DueRule string

const (
	WorkingHours       DueRule = "working_hours"        // of the business's week, from when it can start
	WorkingDays        DueRule = "working_days"         // with working hours, from when it can start
	HoursBeforeBooking DueRule = "hours_before_booking" // by the clock, before the booked time
	DaysBeforeBooking  DueRule = "days_before_booking"  // of the calendar, before the booked day
	HoursAfterBooking  DueRule = "hours_after_booking"  // by the clock, after the booked time
	DaysAfterBooking   DueRule = "days_after_booking"   // of the calendar, after the booked day
)

func (r DueRule) booked() bool { return r != WorkingHours && r != WorkingDays }

// Validate says what is wrong with a step in itself.
func (s *Step) Validate() error {
	switch {
	case !question.Key(s.Key).Valid():
		return words.Tell("step.key_needs_lowercase_letters_digits")
	case s.Title == "":
		return words.Tell("step.needs_title")
	case min(s.Minutes.Fixed, s.Minutes.Unit, s.Minutes.Each) < 0 || max(s.Minutes.Fixed, s.Minutes.Unit, s.Minutes.Each) > 100_000:
		return words.Tell("step.minutes_must_not_below_zero")
	case s.Minutes.Entries != nil && s.Minutes.Each == 0:
		return words.Tell("step.entries_need_minutes")
	case s.Minutes.Each > 0 && (s.Minutes.Of == "" || s.Minutes.Per != Character && s.Minutes.Per != Answer):
		return words.Tell("step.minutes_each_need_question_count")
	case !slices.Contains([]StartOn{OnPayment, OnBrief, AfterStep, OnBooking}, s.Start.On):
		return words.Tell("step.must_start_on_payment_on")
	case s.Start.On == AfterStep && s.Start.Step == "":
		return words.Tell("step.needs_step_after_which_starts")
	case !slices.Contains([]DueRule{WorkingHours, WorkingDays, HoursBeforeBooking, DaysBeforeBooking, HoursAfterBooking, DaysAfterBooking}, s.Due.Rule):
		return words.Tell("step.needs_rule_when_due")
	case s.Due.Count < 0 || s.Due.Count > 2000:
		return words.Tell("step.must_due_within_0_2000")
	}
	return nil
}

// Booked says whether the step needs a booking to have its times.
func (s *Step) Booked() bool { return s.Start.On == OnBooking || s.Due.Rule.booked() }

// A Plan is the steps of an edition, ready to make items.
type Plan struct{ Steps []Ready }

// A Ready step has its condition and its texts compiled.
type Ready struct {
	Step
	Test   *condition.Test
	Entry  *condition.Test // which entries of a list take minutes
	Text   *merge.Template
	Fields []question.Key // the answers that the instructions read
}

// A Basis is what a plan needs besides the edition.
type Basis struct {
	Answers  question.Answers // only what is asked
	Quantity int
	Known    condition.Facts // what conditions read besides answers
	Missing  []question.Key  // required, asked and not answered
	Words    func(question.Key) string
	Field    func(name string) string // the value of a merge field

	Hours   *calendar.Hours
	Now     time.Time
	Paid    time.Time // zero while not paid
	Briefed time.Time // when the brief became complete; zero while it is not
	Booking time.Time // the booked start; zero without one
	// Existing are the line's items as they are, for what a step waits on.
	Existing []Item
}

// An Item is a step made real for one order line. Its identity is the line,
// the step and the round: round 0 is the work itself, later rounds are rework.
type Item struct {
	Step         StepKey
	Round        int
	Title        string
	Instructions string
	Minutes      int
	Missing      []question.Key // needed answers that are not there yet
	After        StepKey        // the step it waits on, when that is not done
	Brief        bool           // it waits for the brief to be complete
	Ready        time.Time      // when it can be begun; zero while unknown
	Due          time.Time      // zero while unknown
	Uses         map[question.Key]string

	// What people did. Planning never changes these.
	Started time.Time
	Done    time.Time
	// Seen are the answers as they were when the work began, or was finished.
	Seen map[question.Key]string
	// Marks tell what changed since then.
	Marks []Mark
}

// A Mark is an answer that changed after work began with it.
type Mark struct {
	Key question.Key `json:"key"`
	Old string       `json:"old"`
	New string       `json:"new"`
}

// Waiting says whether something stands in the way of beginning.
func (i *Item) Waiting() bool {
	return i.Done.IsZero() && (len(i.Missing) > 0 || i.After != "" || i.Brief || i.Ready.IsZero())
}

// Wanted makes the items that the answers ask for, in the order of the steps.
func (p *Plan) Wanted(f Basis) []Item {
	chains := chain(f.Existing)
	wanted := make([]Item, 0, len(p.Steps))
	at := map[StepKey]int{}
	var build func(i int) Item
	busy := map[StepKey]bool{}
	find := func(k StepKey) (Item, bool) {
		if i, ok := at[k]; ok {
			return wanted[i], true
		}
		for i := range p.Steps {
			if p.Steps[i].Key == k && !busy[k] && p.Steps[i].Test.Holds(f.Answers, f.Known) {
				return build(i), true
			}
		}
		return Item{}, false
	}
	build = func(i int) Item {
		s := &p.Steps[i]
		busy[s.Key] = true
		defer delete(busy, s.Key)
		item := Item{Step: s.Key, Title: s.Title, Minutes: s.minutes(f), Instructions: s.Text.Render(f.Field), Uses: map[question.Key]string{}}
		for _, k := range s.reads() {
			if w := f.Words(k); w != "" {
				item.Uses[k] = w
			}
		}
		for _, k := range s.Needs {
			if slices.Contains(f.Missing, k) {
				item.Missing = append(item.Missing, k)
			}
		}
		from := time.Time{}
		switch s.Start.On {
		case OnPayment:
			item.Ready = f.Paid
		case OnBrief:
			item.Ready, item.Brief = f.Briefed, f.Briefed.IsZero()
		case OnBooking:
			item.Ready = f.Booking
		case AfterStep:
			if before, ok := find(s.Start.Step); !ok {
				item.Ready = f.Paid // a step that is not needed holds nothing up
			} else if done := finished(chains[s.Start.Step]); !done.IsZero() {
				item.Ready = done
			} else {
				item.After, from = s.Start.Step, before.Due
			}
		}
		if from.IsZero() {
			from = item.Ready
		}
		item.Due = s.due(from, f)
		return item
	}
	for i := range p.Steps {
		if p.Steps[i].Test.Holds(f.Answers, f.Known) {
			wanted = append(wanted, build(i))
			at[p.Steps[i].Key] = len(wanted) - 1
		}
	}
	return wanted
}

// reads lists the answers that the work is done from: what it needs, what its
// instructions show, what its minutes count.
func (s *Ready) reads() []question.Key {
	keys := slices.Clone(s.Needs)
	for _, k := range append(slices.Clone(s.Fields), s.Minutes.Of) {
		if k != "" && !slices.Contains(keys, k) {
			keys = append(keys, k)
		}
	}
	return keys
}

func (s *Ready) minutes(f Basis) int {
	m := s.Minutes.Fixed + s.Minutes.Unit*f.Quantity
	v, ok := f.Answers[s.Minutes.Of]
	if s.Minutes.Each == 0 || !ok || !v.Answered() {
		return m
	}
	if list, ok := v.(question.Repeat); ok && s.Entry != nil {
		n := 0
		for _, e := range list.Entries {
			if s.Entry.Holds(e, f.Known) {
				n++
			}
		}
		return m + s.Minutes.Each*n
	}
	if s.Minutes.Per == Character {
		return m + s.Minutes.Each*question.Letters(v.Terms().Text)
	}
	return m + s.Minutes.Each*int(min(v.Terms().Number.IntPart(), 100_000))
}

func (s *Ready) due(from time.Time, f Basis) time.Time {
	if s.Due.Rule.booked() {
		if f.Booking.IsZero() {
			return time.Time{}
		}
		local := f.Booking.In(f.Hours.Zone)
		switch s.Due.Rule {
		case HoursBeforeBooking:
			return local.Add(-time.Duration(s.Due.Count) * time.Hour)
		case HoursAfterBooking:
			return local.Add(time.Duration(s.Due.Count) * time.Hour)
		case DaysBeforeBooking:
			return local.AddDate(0, 0, -s.Due.Count)
		}
		return local.AddDate(0, 0, s.Due.Count)
	}
	if from.IsZero() {
		return time.Time{}
	}
	var due time.Time
	if s.Due.Rule == WorkingHours {
		due, _ = f.Hours.AddTime(from, time.Duration(s.Due.Count)*time.Hour)
	} else {
		due, _ = f.Hours.AddDays(from, s.Due.Count)
	}
	return due // zero, so unknown, with hours that never open
}

// chain groups items by step, each group in the order of its rounds.
func chain(items []Item) map[StepKey][]Item {
	chains := map[StepKey][]Item{}
	for _, i := range items {
		chains[i.Step] = append(chains[i.Step], i)
	}
	for _, c := range chains {
		slices.SortFunc(c, func(a, b Item) int { return a.Round - b.Round })
	}
	return chains
}

// finished gives when the last round of a step was done; zero while one is open.
func finished(c []Item) time.Time {
	if len(c) == 0 {
		return time.Time{}
	}
	return c[len(c)-1].Done
}

func marks(seen, uses map[question.Key]string) []Mark {
	var m []Mark
	keys := maps.Clone(seen)
	if keys == nil {
		keys = map[question.Key]string{}
	}
	for k := range uses {
		keys[k] = ""
	}
	for _, k := range slices.Sorted(maps.Keys(keys)) {
		if seen[k] != uses[k] {
			m = append(m, Mark{Key: k, Old: seen[k], New: uses[k]})
		}
	}
	return m
}
