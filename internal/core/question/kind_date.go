package question

import (
	"encoding/json"
	"errors"

	"ruvo/internal/core/calendar"
)

type date struct{}

func (date) Name() KindName { return "date" }

// A Bound is one end of the days that a date question takes: a fixed day, or
// so many days after today (before it, when negative).
type Bound struct {
	Day       *calendar.Day `json:"day,omitempty"`
	FromToday *int          `json:"from_today,omitempty"`
}

// On gives the day that the bound means today.
func (b *Bound) On(today calendar.Day) (calendar.Day, bool) {
	switch {
	case b == nil:
		return calendar.Day{}, false
	case b.Day != nil:
		return *b.Day, true
	case b.FromToday != nil:
		return today.Add(*b.FromToday), true
	}
	return calendar.Day{}, false
}

type dateSpec struct {
	Earliest *Bound `json:"earliest,omitempty"`
	Latest   *Bound `json:"latest,omitempty"`
}

func (date) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[dateSpec](raw)
	if err != nil {
		return nil, err
	}
	for _, b := range []*Bound{s.Earliest, s.Latest} {
		if b != nil && b.FromToday != nil && (*b.FromToday > 36500 || *b.FromToday < -73000) {
			return nil, errors.New("its days from today must lie within 100 years ahead and 200 back")
		}
	}
	// Bounds of the same sort can be compared once for all days.
	if a, ok := s.Earliest.On(calendar.Day{Year: 2000, Month: 1, Number: 1}); ok {
		if z, ok := s.Latest.On(calendar.Day{Year: 2000, Month: 1, Number: 1}); ok &&
			(s.Earliest.Day == nil) == (s.Latest.Day == nil) && z.Before(a) {
			return nil, errors.New("its latest day comes before its earliest")
		}
	}
	return s, nil
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

func (s dateSpec) Check(v Value, env Env) []Fault {
	d := v.(Date).Day
	if first, ok := s.Earliest.On(env.Today); ok && d.Before(first) {
		return faults(fault("earliest", "day", env.Language.Day(first)))
	}
	if last, ok := s.Latest.On(env.Today); ok && d.After(last) {
		return faults(fault("latest", "day", env.Language.Day(last)))
	}
	return nil
}

func (dateSpec) Words(v Value, env Env) string { return env.Language.Day(v.(Date).Day) }

// Date is the answer to a date question.
type Date struct{ calendar.Day }

func (Date) Answered() bool { return true }
func (d Date) Terms() Terms { return Terms{Day: d.Day, Text: d.String()} }
