package ics

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/words"
)

func zone(t *testing.T, name string) *time.Location {
	t.Helper()
	z, err := time.LoadLocation(name)
	if err != nil {
		t.Fatal(err)
	}
	return z
}

func calendar(lines ...string) string {
	return "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//x//EN\r\nBEGIN:VEVENT\r\nUID:1@example.org\r\nDTSTAMP:19970901T000000Z\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
}

// Source: RFC 5545, 3.8.5.3, the examples of recurrence rules, all of them from
// 9 o'clock in New York on Tuesday, 2 September 1997. Each is given with the days that
// the RFC lists, as far as it lists them.
func TestRecurrencesOfTheRFC(t *testing.T) {
	ny := zone(t, "America/New_York")
	for _, c := range []struct {
		rule string
		want string // month/days
	}{
		{"RRULE:FREQ=DAILY;COUNT=10", "9/2 9/3 9/4 9/5 9/6 9/7 9/8 9/9 9/10 9/11"},
		{"RRULE:FREQ=DAILY;INTERVAL=10;COUNT=5", "9/2 9/12 9/22 10/2 10/12"},
		{"RRULE:FREQ=WEEKLY;COUNT=10", "9/2 9/9 9/16 9/23 9/30 10/7 10/14 10/21 10/28 11/4"},
		{"RRULE:FREQ=WEEKLY;UNTIL=19971007T000000Z;WKST=SU;BYDAY=TU,TH", "9/2 9/4 9/9 9/11 9/16 9/18 9/23 9/25 9/30 10/2"},
		{"RRULE:FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH", "9/2 9/4 9/16 9/18 9/30 10/2 10/14 10/16"},
		{"RRULE:FREQ=MONTHLY;BYMONTHDAY=-3;COUNT=6", "9/28 10/29 11/28 12/29 1/29 2/26"},
		{"RRULE:FREQ=MONTHLY;COUNT=10;BYMONTHDAY=2,15", "9/2 9/15 10/2 10/15 11/2 11/15 12/2 12/15 1/2 1/15"},
		{"RRULE:FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3", "9/4 10/7 11/6"},
		{"RRULE:FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-2;COUNT=7", "9/29 10/30 11/27 12/30 1/29 2/26 3/30"},
		{"RRULE:FREQ=YEARLY;COUNT=4;INTERVAL=1;BYMONTH=9,10", "9/2 10/2 9/2 10/2"},
	} {
		start := "DTSTART;TZID=America/New_York:19970902T090000"
		switch {
		case strings.Contains(c.rule, "BYMONTHDAY=-3"):
			start = "DTSTART;TZID=America/New_York:19970928T090000"
		case strings.Contains(c.rule, "BYSETPOS=-2"):
			start = "DTSTART;TZID=America/New_York:19970929T090000"
		case strings.Contains(c.rule, "BYSETPOS=3"):
			start = "DTSTART;TZID=America/New_York:19970904T090000"
		}
		busy, err := Read(strings.NewReader(calendar(start, "DURATION:PT1H", c.rule)), ny, time.Date(1997, 1, 1, 0, 0, 0, 0, ny), time.Date(1999, 1, 1, 0, 0, 0, 0, ny))
		if err != nil {
			t.Errorf("%s: %v", c.rule, err)
			continue
		}
		var got []string
		for _, b := range busy {
			local := b.Start.In(ny)
			if local.Hour() != 9 || b.End.Sub(b.Start) != time.Hour { // also after the clock change of 26 October
				t.Errorf("%s: %v to %v", c.rule, local, b.End)
			}
			got = append(got, fmt.Sprintf("%d/%d", local.Month(), local.Day()))
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.rule, strings.Join(got, " "), c.want)
		}
	}
}

// What a calendar takes: exceptions, one that was moved, whole days, floating times,
// what is cancelled or free; with line endings mixed and lines folded.
func TestWhatACalendarTakes(t *testing.T) {
	berlin := zone(t, "Europe/Berlin")
	from, to := time.Date(2026, 11, 1, 0, 0, 0, 0, berlin), time.Date(2027, 1, 1, 0, 0, 0, 0, berlin)
	text := "\xef\xbb\xbfBEGIN:VCALENDAR\r\nVERSION:2.0\nPRODID:x\r" +
		"BEGIN:VEVENT\nUID:choir\nDTSTART;TZID=Europe/Berlin:20261103T190000\nDTEND;TZID=Europe/Berlin:20261103T210000\nRRULE:FREQ=WEEKLY;COUNT=5\nEXDATE;TZID=Europe/Berlin:20261110T190000\nSUMMARY:Choir \n practice\nEND:VEVENT\n" +
		"BEGIN:VEVENT\r\nUID:choir\r\nRECURRENCE-ID;TZID=Europe/Berlin:20261117T190000\r\nDTSTART;TZID=Europe/Berlin:20261118T180000\r\nDTEND;TZID=Europe/Berlin:20261118T200000\r\nSUMMARY:Choir\\, moved\r\nEND:VEVENT\r\n" +
		"BEGIN:VEVENT\nUID:trip\nDTSTART;VALUE=DATE:20261205\nDTEND;VALUE=DATE:20261208\nSUMMARY:Trip\nEND:VEVENT\n" +
		"BEGIN:VEVENT\nUID:day\nDTSTART;VALUE=DATE:20261224\nEND:VEVENT\n" +
		"BEGIN:VEVENT\nUID:floats\nDTSTART:20261211T080000\nDURATION:P1DT2H30M\nEND:VEVENT\n" +
		"BEGIN:VEVENT\nUID:world\nDTSTART:20261212T080000Z\nDURATION:PT15M\nRDATE:20261213T080000Z,20261214T080000Z\nEND:VEVENT\n" +
		"BEGIN:VEVENT\nUID:off\nDTSTART:20261215T080000Z\nDURATION:PT15M\nSTATUS:CANCELLED\nEND:VEVENT\n" +
		"BEGIN:VEVENT\nUID:free\nDTSTART:20261216T080000Z\nDURATION:PT15M\nTRANSP:TRANSPARENT\nEND:VEVENT\n" +
		"BEGIN:VEVENT\nUID:old\nDTSTART:20251216T080000Z\nDURATION:PT15M\nEND:VEVENT\n" +
		"BEGIN:VEVENT\nUID:nothing\nDTSTART:20261216T080000Z\nEND:VEVENT\n" +
		"END:VCALENDAR\n"
	busy, err := Read(strings.NewReader(text), berlin, from, to)
	if err != nil {
		t.Fatal(err)
	}
	var got []string
	for _, b := range busy {
		got = append(got, fmt.Sprintf("%s–%s %s", b.Start.In(berlin).Format("2.1. 15:04"), b.End.In(berlin).Format("2.1. 15:04"), b.Summary))
	}
	want := []string{
		"3.11. 19:00–3.11. 21:00 Choir practice", "18.11. 18:00–18.11. 20:00 Choir, moved", "24.11. 19:00–24.11. 21:00 Choir practice", "1.12. 19:00–1.12. 21:00 Choir practice",
		"5.12. 00:00–8.12. 00:00 Trip", "11.12. 08:00–12.12. 10:30 ", "12.12. 09:00–12.12. 09:15 ", "13.12. 09:00–13.12. 09:15 ", "14.12. 09:00–14.12. 09:15 ", "24.12. 00:00–25.12. 00:00 ",
	}
	if strings.Join(got, "\n") != strings.Join(want, "\n") {
		t.Errorf("got\n%s\nwant\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
}

// Bad calendars are refused in words, and endless ones end.
func TestBadCalendars(t *testing.T) {
	utc := time.UTC
	from, to := time.Date(2026, 11, 1, 0, 0, 0, 0, utc), time.Date(2027, 1, 1, 0, 0, 0, 0, utc)
	start := "DTSTART:20261103T190000Z"
	for name, c := range map[string]struct{ text, want string }{
		"nothing":            {"", "This is no calendar"},
		"a picture":          {"\x89PNG\r\n", "This is no calendar"},
		"too large":          {strings.Repeat("x", MostBytes+1), "larger than 2 MB"},
		"cut off":            {"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:1", "cannot be read"},
		"no start":           {calendar("SUMMARY:Choir"), "“Choir” does not say when it begins"},
		"unknown zone":       {calendar("DTSTART;TZID=Middle-earth/Shire:20261103T190000", "DURATION:PT1H"), "Middle-earth/Shire"},
		"the machine's":      {calendar("DTSTART;TZID=Local:20261103T190000", "DURATION:PT1H"), "time zone “Local”"},
		"no time":            {calendar("DTSTART:soon"), "“soon” is no time"},
		"a far year":         {calendar("DTSTART:99990101T000000Z"), "“99990101T000000Z” is no time"},
		"ends before":        {calendar(start, "DTEND:20261103T180000Z", "SUMMARY:Choir"), "“Choir” ends before it begins"},
		"no duration":        {calendar(start, "DURATION:long"), "“LONG”"},
		"broken rule":        {calendar(start, "DURATION:PT1H", "RRULE:FREQ=SOMETIMES"), "FREQ=SOMETIMES"},
		"each second":        {calendar("DTSTART:20000103T190000Z", "DURATION:PT1S", "RRULE:FREQ=SECONDLY"), "repeats too often"},
		"each second now":    {calendar("DTSTART:20261103T190000Z", "DURATION:PT1S", "RRULE:FREQ=SECONDLY"), "more than 20000"},
		"a broken exception": {calendar(start, "DURATION:PT1H", "RRULE:FREQ=DAILY", "EXDATE:x"), "“x” is no time"},
	} {
		_, err := Read(strings.NewReader(c.text), utc, from, to)
		told, is := err.(words.Told)
		if !is || !strings.Contains(strings.ToLower(told.Told().Say(words.English)), strings.ToLower(c.want)) {
			said := "nothing"
			if is {
				said = told.Told().Say(words.English)
			}
			t.Errorf("%s: %q (%v), want %q", name, said, err, c.want)
		}
	}
	// Without an end, up to the last instant that is asked for.
	busy, err := Read(strings.NewReader(calendar("DTSTART:19980101T190000Z", "DURATION:PT1H", "RRULE:FREQ=DAILY")), utc, from, to)
	if err != nil || len(busy) != 61 {
		t.Errorf("every day of two months: %d, %v", len(busy), err)
	}
	// A day that never comes ends as well.
	if busy, err = Read(strings.NewReader(calendar(start, "DURATION:PT1H", "RRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30")), utc, from, to); err != nil || len(busy) != 0 {
		t.Errorf("the thirtieth of February: %v, %v", busy, err)
	}
}

// What is written is folded at 75 octets within no character, ends its lines with
// CRLF, and escapes what RFC 5545 (3.1 and 3.3.11) wants escaped; and it reads back.
func TestWriting(t *testing.T) {
	at := time.Date(2026, 12, 4, 18, 0, 0, 0, time.UTC)
	e := Event{
		UID: UID(7, 0, "https://fernlight.example.org:8443/x"), Sequence: 3, Start: at, End: at.Add(90 * time.Minute), Summary: "Lesson; with Tobin, and the dome",
		Details: "What to bring:\nwarm shoes, " + strings.Repeat("gläserne Überraschung ", 12), Place: "Hill 3", Link: "https://fernlight.example.org/o/x",
		Organizer: "hello@fernlight.example.org", OrganizerName: "Fernlight Sky Studio", Attendee: "ada@example.org", AttendeeName: "Quill: \"Ada\", Dr.",
	}
	text := Write(MethodFor(e), "", []Event{e}, at)
	for _, line := range strings.Split(strings.TrimSuffix(text, "\r\n"), "\r\n") {
		if len(line) > 75 || strings.ContainsAny(line, "\r\n") || !strings.Contains(strings.ToValidUTF8(line, "�"), line) {
			t.Errorf("a line of %d octets: %q", len(line), line)
		}
	}
	unfolded := strings.ReplaceAll(text, "\r\n ", "")
	for _, want := range []string{
		"METHOD:REQUEST\r\n", "UID:booking-7@fernlight.example.org\r\n", "SEQUENCE:3\r\n", "DTSTART:20261204T180000Z\r\n", "DTEND:20261204T193000Z\r\n",
		`SUMMARY:Lesson\; with Tobin\, and the dome` + "\r\n", `DESCRIPTION:What to bring:\nwarm shoes\, gläserne`, "STATUS:CONFIRMED\r\n", "mailto:hello@fernlight.example.org\r\n", "mailto:ada@example.org\r\n",
	} {
		if !strings.Contains(unfolded, want) {
			t.Errorf("no %q in\n%s", want, unfolded)
		}
	}
	busy, err := Read(strings.NewReader(text), time.UTC, at.Add(-time.Hour), at.Add(time.Hour))
	if err != nil || len(busy) != 1 || !busy[0].Start.Equal(at) || busy[0].Summary != e.Summary {
		t.Errorf("read back: %+v %v", busy, err)
	}
	e.Cancelled = true
	if text := Write(MethodFor(e), "", []Event{e}, at); !strings.Contains(text, "METHOD:CANCEL\r\n") || !strings.Contains(text, "STATUS:CANCELLED\r\n") {
		t.Error(text)
	}
	e.Cancelled, e.Organizer = false, ""
	if text := Write(MethodFor(e), "", []Event{e}, at); !strings.Contains(text, "METHOD:PUBLISH\r\n") || strings.Contains(text, "ATTENDEE") || !strings.Contains(text, "invalid:nomail") {
		t.Error(text)
	}
	if text := Write(Feed, "Fernlight", []Event{e}, at); strings.Contains(text, "METHOD") || strings.Contains(text, "ORGANIZER") || !strings.Contains(text, "X-WR-CALNAME:Fernlight") {
		t.Error(text)
	}
}
