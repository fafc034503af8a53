package calendar

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"
)

// A Span is a stretch of one day's wall-clock time: From inclusive, To
// exclusive, in minutes from midnight. To may be 1440, the day's end.
type Span struct {
	From int
	To   int
}

// MarshalJSON writes "09:00-17:30", which people can read in the data file.
func (s Span) MarshalJSON() ([]byte, error) {
	return json.Marshal(fmt.Sprintf("%02d:%02d-%02d:%02d", s.From/60, s.From%60, s.To/60, s.To%60))
}

// ErrSpan is returned for a span that is not two times of one day in order.
var ErrSpan = errors.New(`a span of hours reads like "09:00-17:30", the later time last`)

// UnmarshalJSON reads "09:00-17:30"; "24:00" is the day's end.
func (s *Span) UnmarshalJSON(b []byte) error {
	var text string
	if err := json.Unmarshal(b, &text); err != nil {
		return ErrSpan
	}
	var h1, m1, h2, m2 int
	if n, err := fmt.Sscanf(text, "%2d:%2d-%2d:%2d", &h1, &m1, &h2, &m2); n != 4 || err != nil {
		return fmt.Errorf("%w, not %q", ErrSpan, text)
	}
	p := Span{h1*60 + m1, h2*60 + m2}
	if h1 < 0 || m1 < 0 || m1 > 59 || h2 < 0 || m2 < 0 || m2 > 59 || p.To > 1440 || p.From >= p.To {
		return fmt.Errorf("%w, not %q", ErrSpan, text)
	}
	*s = p
	return nil
}

// A Week holds the open spans of each weekday, Sunday first, each day's spans
// in order and without overlap.
type Week [7][]Span

// Scaled gives a week with so many per cent more hours: each span ends later or
// earlier, to the minute, but not after the next one begins or the day ends.
func (w Week) Scaled(percent int) Week {
	var next Week
	for day, spans := range w {
		for i, s := range spans {
			s.To = min(s.From+(s.To-s.From)*(100+percent)/100, 24*60)
			if i+1 < len(spans) {
				s.To = min(s.To, spans[i+1].From)
			}
			if s.To > s.From {
				next[day] = append(next[day], s)
			}
		}
	}
	return next
}

// An Exception are hours of one day instead of those of its weekday.
type Exception struct {
	Day  Day  `json:"day"`
	Time Span `json:"time"`
}

// Instead gives the hours that a day has by exceptions, in order; false for a day
// without any.
func Instead(list []Exception, d Day) (spans []Span, any bool) {
	for _, x := range list {
		if x.Day == d {
			spans = append(spans, x.Time)
		}
	}
	slices.SortFunc(spans, func(a, b Span) int { return a.From - b.From })
	return spans, len(spans) > 0
}

// Overlapping gives the first exception that overlaps one before it on its day; −1
// for none.
func Overlapping(list []Exception) int {
	for i, x := range list {
		if slices.ContainsFunc(list[:i], func(o Exception) bool {
			return o.Day == x.Day && o.Time.From < x.Time.To && o.Time.To > x.Time.From
		}) {
			return i
		}
	}
	return -1
}

// A Closure is a stretch of days off, both ends included; with a time, only these
// hours of each of its days.
type Closure struct {
	From   Day    `json:"from"`
	To     Day    `json:"to"`
	Time   *Span  `json:"time,omitempty"`
	Reason string `json:"reason,omitempty"`
}

// Has says whether a day lies in it.
func (c *Closure) Has(d Day) bool { return !d.Before(c.From) && !d.After(c.To) }

// Covers says whether it closes any of a stretch of time.
func (c *Closure) Covers(start, end time.Time, zone *time.Location) bool {
	first, last := DayOf(start.In(zone)), DayOf(end.Add(-time.Nanosecond).In(zone))
	if last.Before(c.From) || first.After(c.To) {
		return false
	}
	if c.Time == nil {
		return true
	}
	for d := first; !d.After(last); d = d.Add(1) {
		if c.Has(d) && d.At(c.Time.From, zone).Before(end) && d.At(c.Time.To, zone).After(start) {
			return true
		}
	}
	return false
}

// Gaps gives those of closures that close some hours of a day.
func Gaps(closures []Closure, d Day) []Closure {
	var gaps []Closure
	for _, c := range closures {
		if c.Time != nil && c.Has(d) {
			gaps = append(gaps, c)
		}
	}
	return gaps
}

// Holidays tells whether a day is a public holiday and how it is called.
type Holidays interface {
	Holiday(Day) (name string, ok bool)
}

// Hours are the weekly working hours, days off and public holidays that work
// is computed from.
type Hours struct {
	Week     Week
	Closures []Closure
	Holidays Holidays // nil when none are kept
	Zone     *time.Location
}

// ErrNoHours is returned when working time is asked of hours that never open.
var ErrNoHours = errors.New("the working hours have no open time")

// farthest bounds the search for working time, in days.
const farthest = 3660

// Off says whether a day is off, whatever the weekly hours: the name of the
// closure or holiday.
func (h *Hours) Off(d Day) (reason string, off bool) {
	for i := range h.Closures {
		if c := &h.Closures[i]; c.Time == nil && c.Has(d) {
			return c.Reason, true
		}
	}
	if h.Holidays != nil {
		return h.Holidays.Holiday(d)
	}
	return "", false
}

// Closed says why nobody works on a day: the name of the closure or holiday; no
// name when it has no hours.
func (h *Hours) Closed(d Day) (reason string, closed bool) {
	if reason, off := h.Off(d); off {
		return reason, true
	}
	return "", len(h.Week[d.Weekday()]) == 0
}

// Spans gives the open spans of a day; none when it is closed.
func (h *Hours) Spans(d Day) []Span {
	if _, closed := h.Closed(d); closed {
		return nil
	}
	return without(h.Week[d.Weekday()], h.Gaps(d))
}

// Gaps gives the closures that close some hours of a day.
func (h *Hours) Gaps(d Day) []Closure { return Gaps(h.Closures, d) }

// without takes hours out of spans.
func without(spans []Span, gaps []Closure) []Span {
	for _, g := range gaps {
		var left []Span
		for _, s := range spans {
			if before := (Span{s.From, min(s.To, g.Time.From)}); before.From < before.To {
				left = append(left, before)
			}
			if after := (Span{max(s.From, g.Time.To), s.To}); after.From < after.To {
				left = append(left, after)
			}
		}
		spans = left
	}
	return spans
}

// AddTime moves an instant forward by working time: the clock runs only while
// the hours are open. Nothing added gives the instant itself, or the next
// opening when it lies outside the hours.
func (h *Hours) AddTime(from time.Time, work time.Duration) (time.Time, error) {
	from = from.In(h.Zone)
	day := DayOf(from)
	for range farthest {
		for _, s := range h.Spans(day) {
			open, shut := day.At(s.From, h.Zone), day.At(s.To, h.Zone)
			if !shut.After(from) {
				continue
			}
			if open.Before(from) {
				open = from
			}
			if room := shut.Sub(open); work > room {
				work -= room
			} else {
				return open.Add(work), nil
			}
		}
		day = day.Add(1)
	}
	return time.Time{}, ErrNoHours
}

// AddDays gives the end of the hours on the n-th working day after the day of
// an instant, so "in one working day" on a Friday is Monday's closing time.
// With n of zero it is the end of that day, or of the next working day when
// nobody works then.
func (h *Hours) AddDays(from time.Time, n int) (time.Time, error) {
	day := DayOf(from.In(h.Zone))
	for range farthest {
		if spans := h.Spans(day); len(spans) > 0 {
			if n <= 0 {
				return day.At(spans[len(spans)-1].To, h.Zone), nil
			}
		}
		day = day.Add(1)
		if len(h.Spans(day)) > 0 {
			n--
		}
	}
	return time.Time{}, ErrNoHours
}

// DaysUntil counts the working days after from's day up to and including
// to's day; zero when to is not later.
func (h *Hours) DaysUntil(from, to time.Time) int {
	day, last := DayOf(from.In(h.Zone)), DayOf(to.In(h.Zone))
	n := 0
	for i := 0; i < farthest && day.Before(last); i++ {
		day = day.Add(1)
		if len(h.Spans(day)) > 0 {
			n++
		}
	}
	return n
}

// Minutes counts the open minutes of a day.
func (h *Hours) Minutes(d Day) int {
	n := 0
	for _, s := range h.Spans(d) {
		n += s.To - s.From
	}
	return n
}
