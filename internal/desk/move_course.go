package desk

import (
	"slices"
	"strconv"
	"time"

	"ruvo/api"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
)

// readCourseMove reads where a booked course is moved to: to another course, or one
// of its meetings to another time.
func readCourseMove(line *docket.Line, was question.Booking, m api.BookingMove, q booking.Query, l words.Language) (question.Booking, []api.FieldError) {
	wrong := func(key, code string, p words.Params) (question.Booking, []api.FieldError) {
		return was, []api.FieldError{problem.Field(l, key, code, p)}
	}
	people := was.People
	if m.People != nil {
		if people = *m.People; people < 1 || people > 10000 {
			return wrong("people", "people_least", words.Params{"least": "1"})
		}
	}
	if m.Course != nil {
		runs := line.Edition.Booking.Runs(q)
		i := slices.IndexFunc(runs, func(x booking.Run) bool { return x.Name == *m.Course })
		if i < 0 {
			return wrong("course", "course_gone", nil)
		}
		return runs[i].Booking(people), nil
	}
	next := was
	next.People, next.Meetings = people, slices.Clone(was.Meetings)
	first := was.Of - len(was.Meetings) + 1
	if m.Meeting == nil {
		if m.People == nil {
			return wrong("meeting", "meeting", words.Params{"least": strconv.Itoa(first), "most": strconv.Itoa(was.Of)})
		}
		return next, nil
	}
	i := *m.Meeting - first
	if i < 0 || i >= len(next.Meetings) {
		return wrong("meeting", "meeting", words.Params{"least": strconv.Itoa(first), "most": strconv.Itoa(was.Of)})
	}
	day, err := calendar.ParseDay(m.Day)
	if err != nil {
		return wrong("day", "day", nil)
	}
	had := next.Meetings[i]
	local := had.Start.In(q.Zone)
	minute, length := local.Hour()*60+local.Minute(), int(had.End.Sub(had.Start)/time.Minute)
	if m.Time != nil {
		at, err := time.Parse("15:04", *m.Time)
		if err != nil {
			return wrong("time", "time", nil)
		}
		minute = at.Hour()*60 + at.Minute()
	}
	if m.Minutes != nil {
		if length = *m.Minutes; length < 5 || length > 1440 {
			return wrong("minutes", "minutes", words.Params{"least": "5", "most": "1440"})
		}
	}
	start := day.At(minute, q.Zone).UTC()
	end := start.Add(time.Duration(length) * time.Minute)
	next.Meetings[i] = question.Meeting{Start: start, End: end}
	for j, other := range next.Meetings {
		if j != i && start.Before(other.End) && end.After(other.Start) {
			return wrong("day", "meetings_overlap", nil)
		}
	}
	slices.SortFunc(next.Meetings, func(a, b question.Meeting) int { return a.Start.Compare(b.Start) })
	next.Start, next.End = next.Meetings[0].Start, next.Meetings[len(next.Meetings)-1].End
	return next, nil
}
