// Package workplan makes work items from the steps of an edition and the
// answers of an order line, and plans again when answers change.
package workplan

import (
	"regexp"
	"slices"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A StepKey names a step within its product.
type StepKey string

// A Step is one kind of work in a plan.
type Step struct {
	Key          StepKey              `json:"key"`
	Title        string               `json:"title"`                  // with merge fields
	Instructions string               `json:"instructions,omitempty"` // with merge fields
	When         *condition.Condition `json:"when,omitempty"`
	For          *For                 `json:"for,omitempty"` // nil: once per order line
	Minutes      Minutes              `json:"minutes"`
	Needs        []question.Key       `json:"needs,omitempty"` // the answers that the work is done from
	Start        Start                `json:"start"`
	Due          Due                  `json:"due"`
	Who          *Who                 `json:"who,omitempty"`       // nil: anybody
	Checklist    []string             `json:"checklist,omitempty"` // with merge fields
	Papers       []Paper              `json:"papers,omitempty"`
	Files        []File               `json:"files,omitempty"`      // that lie beside the work
	Acceptance   *Acceptance          `json:"acceptance,omitempty"` // nil: the customer is not asked
	Sheet        int64                `json:"sheet,omitempty"`      // that brought it in; zero for the product's own
}

// For is what of an order line a step exists once for each of.
type For struct {
	Each Each         `json:"each"`
	Of   question.Key `json:"of,omitempty"` // the list, the choices or the files
	// When is the condition under which one of them has the step. It reads the
	// answers of that entry, or those of that unit beside the line's.
	When *condition.Condition `json:"when,omitempty"`
}

// Each is a part of an order line.
type Each string

const (
	EachUnit   Each = "unit"   // of the line
	EachEntry  Each = "entry"  // of a list
	EachPerson Each = "person" // of those that the line is for
	EachChoice Each = "choice" // that was chosen
	EachFile   Each = "file"   // that was uploaded
)

// Eaches lists them.
func Eaches() []Each { return []Each{EachUnit, EachEntry, EachPerson, EachChoice, EachFile} }

// Of says whether the parts are those of an answer.
func (e Each) Of() bool { return e == EachEntry || e == EachChoice || e == EachFile }

// MostParts bounds the items that one step makes of one order line.
const MostParts = 300

// Minutes is how long a step takes: Fixed, plus Unit for each unit, plus Each
// for each of what is counted in the answer Of, plus those of Choices, plus what
// a named value of the product comes to.
type Minutes struct {
	Fixed int          `json:"fixed,omitempty"`
	Unit  int          `json:"unit,omitempty"`
	Each  int          `json:"each,omitempty"`
	Of    question.Key `json:"of,omitempty"` // an answer of the line, or of the entry that the step is for
	Per   Per          `json:"per,omitempty"`
	// Entries counts only those entries of a list that meet it.
	Entries *condition.Condition `json:"entries,omitempty"`
	Choices []ChoiceMinutes      `json:"choices,omitempty"`
	Value   string               `json:"value,omitempty"` // of minutes, rounded to whole ones; below zero counts as none
}

// ChoiceMinutes is how much longer a step takes with a particular choice: for each,
// where choices are counted.
type ChoiceMinutes struct {
	Of      question.Key `json:"of"`
	Code    string       `json:"code"`
	Minutes int          `json:"minutes"`
}

// Per is what Each is multiplied by.
type Per string

const (
	Character Per = "character" // of a text, white space not counted
	Word      Per = "word"      // of a text, as parted by white space
	Answer    Per = "answer"    // the answered number: of files, of entries, of choices
)

// Start is when a step becomes ready.
type Start struct {
	On    StartOn      `json:"on"`
	Step  StepKey      `json:"step,omitempty"`  // for AfterStep and OnAcceptance
	Count int          `json:"count,omitempty"` // for OnBooking and OnDay: so much after it, below zero before
	In    Unit         `json:"in,omitempty"`    // of Count; empty is hours
	Day   calendar.Day `json:"day,omitzero"`    // for OnDay: a day of the calendar,
	Of    question.Key `json:"of,omitempty"`    // or the one that was answered
}

// A Unit is what an offset to a booking or a day is counted in.
type Unit string

const (
	InHours Unit = "hours" // by the clock
	InDays  Unit = "days"  // of the calendar
)

// A StartOn is what a step waits for.
type StartOn string

const (
	OnPayment    StartOn = "payment"    // the order is placed
	OnBrief      StartOn = "brief"      // every required answer is there
	AfterStep    StartOn = "step"       // another step is done
	OnAcceptance StartOn = "acceptance" // the customer accepted what another step made
	OnBooking    StartOn = "booking"    // the booked time begins, or so long before or after
	OnDay        StartOn = "day"        // a day begins, or so long before or after
)

// Starts lists them.
func Starts() []StartOn {
	return []StartOn{OnPayment, OnBrief, AfterStep, OnAcceptance, OnBooking, OnDay}
}

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

// DueRules lists them.
func DueRules() []DueRule {
	return []DueRule{WorkingHours, WorkingDays, HoursBeforeBooking, DaysBeforeBooking, HoursAfterBooking, DaysAfterBooking}
}

func (r DueRule) booked() bool { return r != WorkingHours && r != WorkingDays }

// Who does a step: one person, whoever has a skill, or the person who was booked.
type Who struct {
	Person int64  `json:"person,omitempty"` // a resource of the business
	Skill  string `json:"skill,omitempty"`
	Booked bool   `json:"booked,omitempty"`
}

// A Paper is a text made from the answers that lies beside the work: a lesson
// sheet, an arrival letter, a list of names.
type Paper struct {
	Title string `json:"title"`
	Text  string `json:"text"` // Markdown with merge fields
}

// A File lies beside the work: a template, a list of colours, how it is done.
type File struct {
	File string `json:"file"` // the seller's upload
	Name string `json:"name"`
}

// The limits of a step.
const (
	longest       = 100_000 // minutes
	farthest      = 2000    // of what Due and Start count
	mostChecks    = 50
	mostPapers    = 10
	mostFiles     = 20
	longestTitle  = 200
	mostOfChoices = 200
)

// Validate says what is wrong with a step in itself.
func (s *Step) Validate() error {
	m := &s.Minutes
	switch {
	case !question.Key(s.Key).Valid():
		return words.Tell("step.key_needs_lowercase_letters_digits")
	case s.Title == "":
		return words.Tell("step.needs_title")
	case len([]rune(s.Title)) > longestTitle:
		return words.Tell("step.title_too_long", "most", longestTitle)
	case min(m.Fixed, m.Unit, m.Each) < 0 || max(m.Fixed, m.Unit, m.Each) > longest:
		return words.Tell("step.minutes_must_not_below_zero")
	case len(m.Choices) > mostOfChoices || slices.ContainsFunc(m.Choices, func(c ChoiceMinutes) bool { return c.Minutes < 0 || c.Minutes > longest }):
		return words.Tell("step.minutes_must_not_below_zero")
	case m.Entries != nil && m.Each == 0:
		return words.Tell("step.entries_need_minutes")
	case m.Each > 0 && (m.Of == "" || !slices.Contains([]Per{Character, Word, Answer}, m.Per)):
		return words.Tell("step.minutes_each_need_question_count")
	case s.For != nil && !slices.Contains(Eaches(), s.For.Each):
		return words.Tell("step.for_what")
	case s.For != nil && s.For.Each.Of() != (s.For.Of != ""):
		return words.Tell("step.for_each_of_what")
	case s.For != nil && s.For.When != nil && s.For.Each != EachEntry && s.For.Each != EachUnit:
		return words.Tell("step.for_condition_of_entries")
	case !slices.Contains(DueRules(), s.Due.Rule):
		return words.Tell("step.needs_rule_when_due")
	case s.Due.Count < 0 || s.Due.Count > farthest:
		return words.Tell("step.must_due_within_0_2000")
	case s.Who != nil && !s.Who.one():
		return words.Tell("step.who_is_one")
	case len(s.Checklist) > mostChecks || slices.ContainsFunc(s.Checklist, func(c string) bool { return c == "" || len([]rune(c)) > longestTitle }):
		return words.Tell("step.checklist", "most", mostChecks, "letters", longestTitle)
	case len(s.Papers) > mostPapers || slices.ContainsFunc(s.Papers, func(p Paper) bool { return p.Title == "" || len([]rune(p.Title)) > longestTitle }):
		return words.Tell("step.papers", "most", mostPapers)
	case len(s.Files) > mostFiles || slices.ContainsFunc(s.Files, func(f File) bool {
		return f.File == "" || f.Name == "" || len(f.File) > 40 || len([]rune(f.Name)) > 255
	}):
		return words.Tell("step.files", "most", mostFiles)
	}
	if s.Acceptance != nil {
		if err := s.Acceptance.validate(); err != nil {
			return err
		}
	}
	return s.Start.validate()
}

func (w *Who) one() bool {
	n := 0
	for _, is := range []bool{w.Person != 0, w.Skill != "", w.Booked} {
		if is {
			n++
		}
	}
	return n == 1 && len(w.Skill) <= longestTitle
}

// Steps says whether another step has to be done first.
func (s *Start) Steps() bool { return s.On == AfterStep || s.On == OnAcceptance }

func (s *Start) validate() error {
	switch {
	case !slices.Contains(Starts(), s.On):
		return words.Tell("step.must_start_on_payment_on")
	case s.Steps() && s.Step == "":
		return words.Tell("step.needs_step_after_which_starts")
	case s.On == OnDay && (s.Day == (calendar.Day{})) == (s.Of == ""):
		return words.Tell("step.needs_day_to_start")
	case s.Count < -farthest || s.Count > farthest || s.In != "" && s.In != InHours && s.In != InDays:
		return words.Tell("step.start_offset", "most", farthest)
	}
	return nil
}

// Called gives the title without what is different for each item.
func (s *Step) Called() string { return field.ReplaceAllString(s.Title, "…") }

var field = regexp.MustCompile(`\{\{[^{}]*\}\}`)

// DueBooked says whether the step is due by the time of a booking.
func (s *Step) DueBooked() bool { return s.Due.Rule.booked() }

// Booked says whether the step needs a booking to have its times or its person.
func (s *Step) Booked() bool {
	return s.Start.On == OnBooking || s.Due.Rule.booked() || s.Who != nil && s.Who.Booked
}
