package calendar

import (
	"encoding/json"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/rickar/cal/v2"
	"github.com/rickar/cal/v2/de"
)

func day(s string) Day {
	d, err := ParseDay(s)
	if err != nil {
		panic(err)
	}
	return d
}

func berlin(t *testing.T) *time.Location {
	t.Helper()
	z, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		t.Fatal(err)
	}
	return z
}

// Sources: ISO 8601-1:2019, 5.2.2, for the form; the Gregorian leap rule.
func TestParseDay(t *testing.T) {
	for _, ok := range []string{"2024-02-29", "2000-02-29", "1900-02-28", "2026-12-31", "0001-01-01"} {
		if d, err := ParseDay(ok); err != nil || d.String() != ok {
			t.Errorf("%s: %v, %v", ok, d, err)
		}
	}
	for _, bad := range []string{"2023-02-29", "1900-02-29", "2026-13-01", "2026-00-10", "2026-04-31", "26-11-24", "2026-1-2", "2026/11/24", "24.11.2026", "", "2026-11-24T00:00:00Z", "+002026-11-24", "２０２６-11-24"} {
		if d, err := ParseDay(bad); err == nil {
			t.Errorf("%q was taken for %v", bad, d)
		}
	}
}

func TestDayArithmetic(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for range 1000 {
		d := day("1970-01-01").Add(r.IntN(60000) - 20000)
		n := r.IntN(4000) - 2000
		e := d.Add(n)
		if e.Since(d) != n || e.Add(-n) != d {
			t.Fatalf("%v + %d = %v, which is %d days away", d, n, e, e.Since(d))
		}
		if (n < 0) != e.Before(d) || (n > 0) != e.After(d) {
			t.Fatalf("%v and %v are in the wrong order", d, e)
		}
	}
	if day("2026-11-24").Weekday() != time.Tuesday {
		t.Error("24 November 2026 is a Tuesday")
	}
}

func TestSpanReads(t *testing.T) {
	for text, want := range map[string]Span{`"09:00-17:30"`: {540, 1050}, `"00:00-24:00"`: {0, 1440}, `"21:30-24:00"`: {1290, 1440}} {
		var s Span
		if err := json.Unmarshal([]byte(text), &s); err != nil || s != want {
			t.Errorf("%s: %v, %v", text, s, err)
		}
		if back, _ := json.Marshal(s); string(back) != text {
			t.Errorf("%s came back as %s", text, back)
		}
	}
	for _, bad := range []string{`"17:00-09:00"`, `"09:00-09:00"`, `"09:60-10:00"`, `"09:00-25:00"`, `"morning"`, `9`, `null x`, `"-1:00-02:00"`} {
		var s Span
		if err := json.Unmarshal([]byte(bad), &s); err == nil {
			t.Errorf("%s was taken for %v", bad, s)
		}
	}
}

// plain are hours that rickar/cal can express: one span on every working day.
func plain(t *testing.T) (*Hours, *cal.BusinessCalendar) {
	h := &Hours{Holidays: HolidaysOf("DE"), Zone: berlin(t)}
	for d := time.Monday; d <= time.Friday; d++ {
		h.Week[d] = []Span{{9 * 60, 17 * 60}}
	}
	c := cal.NewBusinessCalendar()
	c.AddHoliday(de.Holidays...)
	c.SetWorkHours(9*time.Hour, 17*time.Hour)
	return h, c
}

// Source: github.com/rickar/cal, whose business calendar counts working days
// on its own.
func TestWorkingDaysAgreeWithRickarCal(t *testing.T) {
	h, c := plain(t)
	r := rand.New(rand.NewPCG(5, 6))
	for range 400 {
		from := day("2020-01-01").Add(r.IntN(3650)).At(r.IntN(1440), h.Zone)
		n := r.IntN(40) + 1
		got, err := h.AddDays(from, n)
		if err != nil {
			t.Fatal(err)
		}
		want := c.WorkdaysFrom(from, n)
		if DayOf(got) != DayOf(want) {
			t.Fatalf("%d working days after %v is %v, rickar/cal says %v", n, from, DayOf(got), DayOf(want))
		}
		if got.Hour() != 17 {
			t.Fatalf("a day ends at 17:00, not %v", got)
		}
		if left := h.DaysUntil(from, got); left != n {
			t.Fatalf("%v is %d working days away, want %d", got, left, n)
		}
	}
}

// Source: github.com/rickar/cal, AddWorkHours.
func TestWorkingHoursAgreeWithRickarCal(t *testing.T) {
	h, c := plain(t)
	r := rand.New(rand.NewPCG(7, 8))
	for range 400 {
		// Begun within the hours, where both mean the same.
		from := c.NextWorkdayStart(day("2021-01-01").Add(r.IntN(2000)).At(0, h.Zone)).Add(time.Duration(r.IntN(479)+1) * time.Minute)
		work := time.Duration(r.IntN(60*60)+1) * time.Minute
		got, err := h.AddTime(from, work)
		if err != nil {
			t.Fatal(err)
		}
		if want := c.AddWorkHours(from, work); !got.Equal(want) {
			t.Fatalf("%v of work from %v ends %v, rickar/cal says %v", work, from, got, want)
		}
	}
}

// A slow, obvious version: walk minute by minute.
func TestWorkingTimeMinuteByMinute(t *testing.T) {
	h := &Hours{Zone: berlin(t), Holidays: HolidaysOf("DE"), Closures: []Closure{{From: day("2026-12-28"), To: day("2026-12-30"), Reason: "between the years"}}}
	h.Week[time.Monday] = []Span{{540, 750}, {810, 1020}}
	h.Week[time.Wednesday] = []Span{{600, 601}}
	h.Week[time.Saturday] = []Span{{0, 180}, {1380, 1440}} // around both clock changes at night
	open := func(at time.Time) bool {
		d := DayOf(at)
		if _, closed := h.Closed(d); closed {
			return false
		}
		for _, s := range h.Week[d.Weekday()] {
			if !at.Before(d.At(s.From, h.Zone)) && at.Before(d.At(s.To, h.Zone)) {
				return true
			}
		}
		return false
	}
	r := rand.New(rand.NewPCG(9, 10))
	for range 60 {
		from := day("2026-10-01").Add(r.IntN(200)).At(r.IntN(1440), h.Zone)
		work := r.IntN(500) + 1
		got, err := h.AddTime(from, time.Duration(work)*time.Minute)
		if err != nil {
			t.Fatal(err)
		}
		at, left := from, work
		for left > 0 {
			if open(at) {
				left--
			}
			at = at.Add(time.Minute)
		}
		if !got.Equal(at) {
			t.Fatalf("%d minutes from %v end %v, minute by minute %v", work, from, got, at)
		}
	}
}

func TestHoursThatNeverOpen(t *testing.T) {
	h := &Hours{Zone: time.UTC}
	if _, err := h.AddTime(time.Unix(0, 0), time.Hour); err == nil {
		t.Error("time passed in hours that never open")
	}
	if _, err := h.AddDays(time.Unix(0, 0), 1); err == nil {
		t.Error("a day passed in hours that never open")
	}
}

// Sources: the dates of Easter Sunday are those of the Astronomical Society of
// South Australia's published table (from memory); the fixed days are law.
func TestGermanHolidays(t *testing.T) {
	h := HolidaysOf("DE")
	for _, s := range []string{"2026-01-01", "2026-04-03", "2026-04-06", "2026-05-01", "2026-05-14", "2026-05-25", "2026-10-03", "2026-12-25", "2026-12-26", "2027-03-26", "2024-04-01", "2025-04-21"} {
		if _, ok := h.Holiday(day(s)); !ok {
			t.Errorf("%s is a public holiday in Germany", s)
		}
	}
	for _, s := range []string{"2026-11-24", "2026-04-04", "2026-12-24"} {
		if name, ok := h.Holiday(day(s)); ok {
			t.Errorf("%s is no public holiday in the whole of Germany, not even %s", s, name)
		}
	}
	if HolidaysOf("XX") != nil {
		t.Error("an unknown country has no holidays")
	}
	if len(Countries()) < 10 {
		t.Error("countries are missing")
	}
}

// Source: the tz database: Berlin's clock skipped 02:00 to 03:00 on 29 March
// 2026 and came back to 02:00 on 25 October 2026.
func TestClockChanges(t *testing.T) {
	z := berlin(t)
	if got := day("2026-03-29").At(150, z); got.Hour() != 3 || got.Minute() != 30 {
		t.Errorf("02:30 on the day of the skip is %v", got)
	}
	if got := day("2026-10-25").At(150, z); got.UTC().Hour() != 0 {
		t.Errorf("02:30 on the long night is the first of the two, not %v", got.UTC())
	}
	if got := day("2026-10-25").At(1440, z).Sub(day("2026-10-25").At(0, z)); got != 25*time.Hour {
		t.Errorf("that day has %v", got)
	}
}

func TestFillIn(t *testing.T) {
	// 26 November 2026 is a Thursday.
	got := string(FillIn([]byte(`["@thu+0","@wed+0","@wed-2","@fri+1","@xyz+1","2027-01-01"]`), day("2026-11-26")))
	if want := `["2026-11-26","2026-12-02","2026-11-18","2026-12-04","@xyz+1","2027-01-01"]`; got != want {
		t.Errorf("%s, want %s", got, want)
	}
}
