package ics

import (
	"bytes"
	"cmp"
	"errors"
	"io"
	"slices"
	"strconv"
	"strings"
	"time"

	ical "github.com/arran4/golang-ical"
	"github.com/teambition/rrule-go"

	"ruvo/internal/core/words"
)

// What bounds a calendar that is read.
const (
	MostBytes  = 2_000_000
	mostEvents = 20_000  // single ones, repeats counted
	mostSteps  = 200_000 // of all repeats that are looked at
	mostRules  = 2_000   // events that repeat; one that never comes takes long to look through
)

// Busy is a time at which somebody or something is taken.
type Busy struct {
	Start   time.Time
	End     time.Time
	Summary string
}

// A refusal says what is wrong with a calendar, and what would be right.
type refusal struct{ *words.Message }

func (r refusal) Error() string          { return r.Code }
func (r refusal) Told() *words.Message   { return r.Message }
func refuse(code string, p ...any) error { return refusal{words.Tell("ics."+code, p...)} }

// Read lists the times that a calendar takes between two instants, in order. What
// repeats is told time by time, less its exceptions, and what was moved where it was
// moved to. Whole days are those of the zone. What is cancelled or does not take
// time, as the calendar says, is passed over.
func Read(r io.Reader, zone *time.Location, from, to time.Time) ([]Busy, error) {
	raw, err := io.ReadAll(io.LimitReader(r, MostBytes+1))
	if err != nil {
		return nil, err
	}
	if len(raw) > MostBytes {
		return nil, refuse("too_large", "most", MostBytes/1_000_000)
	}
	raw = bytes.TrimPrefix(raw, []byte("\xef\xbb\xbf"))
	raw = bytes.ReplaceAll(bytes.ReplaceAll(raw, []byte("\r\n"), []byte("\n")), []byte("\r"), []byte("\n"))
	raw = bytes.ReplaceAll(raw, []byte("\n"), []byte("\r\n"))
	if !bytes.Contains(raw, []byte("BEGIN:VCALENDAR")) {
		return nil, refuse("no_calendar")
	}
	cal, err := ical.ParseCalendar(bytes.NewReader(raw))
	if err != nil {
		return nil, refuse("broken", "why", err)
	}
	reading := reading{zone: zone, from: from, to: to, moved: map[string][]time.Time{}}
	events := cal.Events()
	for _, e := range events { // those that replace one of a row
		if at := e.GetProperty(ical.ComponentPropertyRecurrenceId); at != nil {
			t, _, err := reading.when(at)
			if err != nil {
				return nil, err
			}
			reading.moved[e.Id()] = append(reading.moved[e.Id()], t)
		}
	}
	for _, e := range events {
		if err := reading.event(e); err != nil {
			return nil, err
		}
	}
	slices.SortStableFunc(reading.busy, func(a, b Busy) int { return cmp.Or(a.Start.Compare(b.Start), a.End.Compare(b.End)) })
	return reading.busy, nil
}

type reading struct {
	zone     *time.Location
	from, to time.Time
	moved    map[string][]time.Time
	busy     []Busy
	steps    int
	rules    int
}

func text(e *ical.VEvent, p ical.ComponentProperty) string {
	if x := e.GetProperty(p); x != nil {
		return x.Value
	}
	return ""
}

func (r *reading) event(e *ical.VEvent) error {
	if strings.EqualFold(text(e, ical.ComponentPropertyStatus), "CANCELLED") || strings.EqualFold(text(e, ical.ComponentPropertyTransp), "TRANSPARENT") {
		return nil
	}
	begin := e.GetProperty(ical.ComponentPropertyDtStart)
	if begin == nil {
		return refuse("no_start", "name", text(e, ical.ComponentPropertySummary))
	}
	start, whole, err := r.when(begin)
	if err != nil {
		return err
	}
	end := start
	switch until, lasts := e.GetProperty(ical.ComponentPropertyDtEnd), text(e, ical.ComponentPropertyDuration); {
	case until != nil:
		if end, _, err = r.when(until); err != nil {
			return err
		}
	case lasts != "":
		if end, err = after(start, lasts); err != nil {
			return err
		}
	case whole:
		end = start.AddDate(0, 0, 1)
	}
	if end.Before(start) {
		return refuse("ends_before", "name", text(e, ical.ComponentPropertySummary))
	}
	length, days := end.Sub(start), 0
	if whole { // so many days, also over a clock change
		days = int((length + 12*time.Hour) / (24 * time.Hour))
	}
	add := func(at time.Time) error {
		until := at.Add(length)
		if whole {
			until = at.AddDate(0, 0, days)
		}
		if !until.After(r.from) || !at.Before(r.to) || !until.After(at) {
			return nil
		}
		if len(r.busy) >= mostEvents {
			return refuse("too_many", "most", mostEvents)
		}
		r.busy = append(r.busy, Busy{Start: at, End: until, Summary: summary(e)})
		return nil
	}
	if e.GetProperty(ical.ComponentPropertyRecurrenceId) != nil {
		return add(start)
	}
	return r.repeat(e, start, max(length, time.Duration(days)*24*time.Hour), add)
}

func summary(e *ical.VEvent) string {
	s := []rune(text(e, ical.ComponentPropertySummary))
	return string(s[:min(len(s), 200)])
}

// repeat goes through the times of an event, once where it does not repeat.
func (r *reading) repeat(e *ical.VEvent, start time.Time, length time.Duration, add func(time.Time) error) error {
	set := rrule.Set{}
	set.DTStart(start)
	rule := text(e, ical.ComponentPropertyRrule)
	if rule != "" {
		if r.rules++; r.rules > mostRules {
			return refuse("too_many_rules", "most", mostRules)
		}
		option, err := rrule.StrToROptionInLocation(rule, start.Location())
		if err != nil {
			return refuse("broken_rule", "rule", rule, "why", err)
		}
		option.Dtstart = start
		repeats, err := rrule.NewRRule(*option)
		if err != nil {
			return refuse("broken_rule", "rule", rule, "why", err)
		}
		set.RRule(repeats)
	}
	for _, p := range e.GetProperties(ical.ComponentPropertyRdate) {
		times, err := r.times(p)
		if err != nil {
			return err
		}
		for _, t := range times {
			set.RDate(t)
		}
	}
	skip := slices.Clone(r.moved[e.Id()])
	for _, p := range e.GetProperties(ical.ComponentPropertyExdate) {
		times, err := r.times(p)
		if err != nil {
			return err
		}
		skip = append(skip, times...)
	}
	skipped := func(t time.Time) bool {
		return slices.ContainsFunc(skip, func(x time.Time) bool { return x.Equal(t) })
	}
	if rule == "" && len(set.GetRDate()) == 0 {
		if skipped(start) {
			return nil
		}
		return add(start)
	}
	if rule == "" { // the first one belongs to the row
		set.RDate(start)
	}
	for next := set.Iterator(); ; {
		t, ok := next()
		if !ok || !t.Before(r.to) {
			return nil
		}
		if r.steps++; r.steps > mostSteps {
			return refuse("too_often", "name", text(e, ical.ComponentPropertySummary))
		}
		if !t.Add(length+time.Hour).After(r.from) || skipped(t) {
			continue
		}
		if err := add(t); err != nil {
			return err
		}
	}
}

// times reads a list of times.
func (r *reading) times(p *ical.IANAProperty) ([]time.Time, error) {
	var all []time.Time
	for _, v := range strings.Split(p.Value, ",") {
		one := *p
		one.Value, _, _ = strings.Cut(v, "/") // of a period, its begin
		t, _, err := r.when(&one)
		if err != nil {
			return nil, err
		}
		all = append(all, t)
	}
	return all, nil
}

// when reads a date, or a date and time: of a zone, of the world, or of the place
// itself (RFC 5545, 3.3.4 and 3.3.5).
func (r *reading) when(p *ical.IANAProperty) (t time.Time, whole bool, err error) {
	zone := r.zone
	if ids := p.ICalParameters["TZID"]; len(ids) > 0 {
		if zone, err = time.LoadLocation(ids[0]); err != nil || ids[0] == "Local" || ids[0] == "" {
			return t, false, refuse("zone", "zone", ids[0])
		}
	}
	value := strings.TrimSpace(p.Value)
	switch {
	case len(value) == len("20060102"):
		t, err = time.ParseInLocation("20060102", value, r.zone)
		whole = true
	case strings.HasSuffix(value, "Z"):
		t, err = time.Parse("20060102T150405Z", value)
	default:
		t, err = time.ParseInLocation("20060102T150405", value, zone)
	}
	if err != nil || t.Year() < 1900 || t.Year() > 2300 {
		return t, false, refuse("time", "value", value)
	}
	return t, whole, nil
}

var errDuration = errors.New("no duration")

// after adds a duration (RFC 5545, 3.3.6): days as the calendar has them, hours as
// the clock goes.
func after(t time.Time, duration string) (time.Time, error) {
	bad := refuse("duration", "value", duration)
	rest, ok := strings.CutPrefix(strings.TrimPrefix(strings.ToUpper(duration), "+"), "P")
	if !ok || rest == "" {
		return t, bad
	}
	date, clock, timed := strings.Cut(rest, "T")
	days, err1 := parts(date, map[byte]int{'W': 7, 'D': 1})
	seconds, err2 := parts(clock, map[byte]int{'H': 3600, 'M': 60, 'S': 1})
	if err1 != nil || err2 != nil || timed && clock == "" || days > 40_000 {
		return t, bad
	}
	return t.AddDate(0, 0, days).Add(time.Duration(seconds) * time.Second), nil
}

// parts sums "1H30M" by what each letter is worth.
func parts(s string, worth map[byte]int) (sum int, err error) {
	for s != "" {
		i := strings.IndexFunc(s, func(r rune) bool { return r < '0' || r > '9' })
		if i < 1 || i > 7 || worth[s[i]] == 0 {
			return 0, errDuration
		}
		n, _ := strconv.Atoi(s[:i])
		sum += n * worth[s[i]]
		s = s[i+1:]
	}
	return sum, nil
}
