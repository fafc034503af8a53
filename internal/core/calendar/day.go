// Package calendar holds days, weekly hours with days off and public
// holidays, and arithmetic in working time. Wall-clock times are minutes
// from midnight in the business's time zone; instants are time.Time.
package calendar

import (
	"errors"
	"fmt"
	"time"
)

// A Day is a date of the Gregorian calendar without a time or a zone.
type Day struct {
	Year   int
	Month  time.Month
	Number int // day of the month, from 1
}

// ErrDay is returned for a text that is not a day that exists.
var ErrDay = errors.New("not a day that exists")

// ParseDay reads an ISO 8601 calendar date in the extended format,
// "2026-11-26", with a year of four digits.
func ParseDay(s string) (Day, error) {
	t, err := time.Parse("2006-01-02", s)
	if err != nil || len(s) != len("2006-01-02") {
		return Day{}, fmt.Errorf("%w: %q", ErrDay, s)
	}
	return DayOf(t), nil
}

// DayOf gives the day of an instant in the instant's own zone.
func DayOf(t time.Time) Day {
	y, m, d := t.Date()
	return Day{y, m, d}
}

// At gives the instant of a wall-clock time on this day. A time that the
// zone's clock skips moves forward by the skipped span; one that comes twice
// is the first of the two. time.Date leaves both open.
func (d Day) At(minutes int, zone *time.Location) time.Time {
	wall := time.Date(d.Year, d.Month, d.Number, 0, minutes, 0, 0, time.UTC)
	by := func(offsetOf time.Time) time.Time {
		_, seconds := offsetOf.In(zone).Zone()
		return wall.Add(-time.Duration(seconds) * time.Second).In(zone)
	}
	shows := func(t time.Time) bool {
		y, m, n := t.Date()
		return n == wall.Day() && m == wall.Month() && y == wall.Year() && t.Hour() == wall.Hour() && t.Minute() == wall.Minute()
	}
	before := by(wall.Add(-24 * time.Hour))
	if shows(before) {
		return before
	}
	if after := by(wall.Add(24 * time.Hour)); shows(after) {
		return after
	}
	return before
}

// Add moves by whole days.
func (d Day) Add(days int) Day {
	return DayOf(time.Date(d.Year, d.Month, d.Number+days, 12, 0, 0, 0, time.UTC))
}

// Weekday gives the day of the week.
func (d Day) Weekday() time.Weekday {
	return time.Date(d.Year, d.Month, d.Number, 12, 0, 0, 0, time.UTC).Weekday()
}

// Before says whether d is earlier than e.
func (d Day) Before(e Day) bool { return d.Compare(e) < 0 }

// After says whether d is later than e.
func (d Day) After(e Day) bool { return d.Compare(e) > 0 }

// Compare gives -1, 0 or 1 as d is earlier than, the same as or later than e.
func (d Day) Compare(e Day) int {
	a := (d.Year*16+int(d.Month))*32 + d.Number
	b := (e.Year*16+int(e.Month))*32 + e.Number
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// Since gives the days from e to d, below zero when d is earlier.
func (d Day) Since(e Day) int {
	a := time.Date(d.Year, d.Month, d.Number, 0, 0, 0, 0, time.UTC)
	b := time.Date(e.Year, e.Month, e.Number, 0, 0, 0, 0, time.UTC)
	return int(a.Sub(b).Hours() / 24)
}

// String writes the ISO 8601 form.
func (d Day) String() string { return fmt.Sprintf("%04d-%02d-%02d", d.Year, d.Month, d.Number) }

// MarshalText and UnmarshalText use the ISO 8601 form.
func (d Day) MarshalText() ([]byte, error) { return []byte(d.String()), nil }

// UnmarshalText refuses a day that does not exist.
func (d *Day) UnmarshalText(b []byte) error {
	p, err := ParseDay(string(b))
	if err == nil {
		*d = p
	}
	return err
}
