package question

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
)

// A Bound is one end of the days that a date question takes: a fixed day, so
// many days after today (before it, when negative), or so many days after the
// day that another question is answered with.
type Bound struct {
	Day       *calendar.Day `json:"day,omitempty"`
	FromToday *int          `json:"from_today,omitempty"`
	Answer    Key           `json:"answer,omitempty"`
	Days      int           `json:"days,omitempty"` // after the answer's day
}

// On gives the day that the bound means now; none while the other question is
// not answered.
func (b *Bound) On(env Env) (calendar.Day, bool) {
	switch {
	case b == nil:
		return calendar.Day{}, false
	case b.Day != nil:
		return *b.Day, true
	case b.FromToday != nil:
		return env.Today.Add(*b.FromToday), true
	}
	v, ok := env.Answers[b.Answer]
	if !ok || !v.Answered() || v.Terms().Day == (calendar.Day{}) {
		return calendar.Day{}, false
	}
	return v.Terms().Day.Add(b.Days), true
}

// days is what a date and a span of dates have in common: which days they
// take. Weekdays are numbered from 0, Sunday; none means every one.
type days struct {
	Earliest *Bound         `json:"earliest,omitempty"`
	Latest   *Bound         `json:"latest,omitempty"`
	Weekdays []time.Weekday `json:"weekdays,omitempty"`
}

// OfDays is a Spec that takes days.
type OfDays interface {
	// Leaves says whether any day, or span of days, is left to answer with.
	Leaves(env Env) bool
}

// leaves says whether a run of least to most days fits between the ends, beginning
// and ending on weekdays that are taken. Ends that are not known leave any.
func (d days) leaves(env Env, least, most int) bool {
	first, ok1 := d.Earliest.On(env)
	last, ok2 := d.Latest.On(env)
	if !ok1 || !ok2 {
		return true
	}
	taken := func(day calendar.Day) bool { return len(d.Weekdays) == 0 || slices.Contains(d.Weekdays, day.Weekday()) }
	for from := first; !from.Add(least-1).After(last) && from.Since(first) < 400; from = from.Add(1) {
		if !taken(from) {
			continue
		}
		for to := from.Add(least - 1); !to.After(last) && to.Since(from) < min(least+7, most); to = to.Add(1) {
			if taken(to) {
				return true
			}
		}
	}
	return false
}

func (d days) validate() error {
	for _, b := range []*Bound{d.Earliest, d.Latest} {
		if b == nil {
			continue
		}
		forms := 0
		for _, set := range []bool{b.Day != nil, b.FromToday != nil, b.Answer != ""} {
			if set {
				forms++
			}
		}
		switch {
		case forms != 1:
			return words.Tell("setting.each_end_days_must_one")
		case b.FromToday != nil && (*b.FromToday > 36500 || *b.FromToday < -73000), b.Days > 36500 || b.Days < -36500:
			return words.Tell("setting.days_from_today_must_lie")
		}
	}
	if slices.ContainsFunc(d.Weekdays, func(w time.Weekday) bool { return w < 0 || w > 6 }) {
		return words.Tell("setting.weekdays_are_numbered_from_0")
	}
	// Bounds of the same sort can be compared once for all days.
	env := Env{Today: calendar.Day{Year: 2000, Month: 1, Number: 1}}
	if a, ok := d.Earliest.On(env); ok {
		if z, ok := d.Latest.On(env); ok && (d.Earliest.Day == nil) == (d.Latest.Day == nil) && z.Before(a) {
			return words.Tell("setting.latest_day_comes_before_earliest")
		}
	}
	return nil
}

// Refers lists the questions whose answers the bounds read.
func (d days) Refers() []Key {
	var keys []Key
	for _, b := range []*Bound{d.Earliest, d.Latest} {
		if b != nil && b.Answer != "" {
			keys = append(keys, b.Answer)
		}
	}
	return keys
}

func (d days) check(day calendar.Day, env Env) *Fault {
	if first, ok := d.Earliest.On(env); ok && day.Before(first) {
		return fault("earliest", "day", env.Language.Day(first))
	}
	if last, ok := d.Latest.On(env); ok && day.After(last) {
		return fault("latest", "day", env.Language.Day(last))
	}
	if len(d.Weekdays) > 0 && !slices.Contains(d.Weekdays, day.Weekday()) {
		return fault("weekday", "weekdays", env.Language.Weekdays(d.Weekdays))
	}
	return nil
}

// A Referring spec reads other answers.
type Referring interface{ Refers() []Key }

type date struct{}

func (date) Name() KindName { return "date" }

// Class implements Kind.
func (date) Class() Class { return ClassDay }

type dateSpec struct{ days }

func (date) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[dateSpec](raw)
	if err == nil {
		err = s.validate()
	}
	return s, err
}

func (dateSpec) Class() Class { return ClassDay }

func (dateSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var text string
	if json.Unmarshal(raw, &text) != nil {
		return nil, fault("type_date")
	}
	if text == "" {
		return None{}, nil
	}
	d, err := calendar.ParseDay(text)
	if err != nil {
		return nil, fault("day")
	}
	return Date{d}, nil
}

func (s dateSpec) Check(v Value, env Env) []Fault { return faults(s.check(v.(Date).Day, env)) }

// Leaves implements OfDays.
func (s dateSpec) Leaves(env Env) bool { return s.leaves(env, 1, 1) }

func (dateSpec) Words(v Value, env Env) string { return env.Language.Day(v.(Date).Day) }

// Date is the answer to a date question.
type Date struct{ calendar.Day }

// Answered implements Value.
func (Date) Answered() bool { return true }

// Terms implements Value.
func (d Date) Terms() Terms { return Terms{Day: d.Day, Text: d.String()} }

// madeUp gives a day that is taken: of the year from today, or of the one nearest to it
// that the bounds leave.
func (d days) madeUp(r *rand.Rand, env Env) (calendar.Day, bool) {
	first := env.Today
	if low, ok := d.Earliest.On(env); ok && first.Before(low) {
		first = low
	}
	if high, ok := d.Latest.On(env); ok && high.Before(first) {
		first = high.Add(-365)
	}
	var taken []calendar.Day
	for day := first; day.Since(first) <= 365; day = day.Add(1) {
		if d.check(day, env) == nil {
			taken = append(taken, day)
		}
	}
	if len(taken) == 0 {
		return calendar.Day{}, false
	}
	return taken[r.IntN(len(taken))], true
}

// MakeUp implements Inventive.
func (s dateSpec) MakeUp(r *rand.Rand, env Env) Value {
	day, ok := s.madeUp(r, env)
	if !ok {
		return None{}
	}
	return Date{day}
}
