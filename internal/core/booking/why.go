package booking

import (
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
)

// A Day is what a rule makes of a day, and why.
type Day struct {
	Openings []Opening // those that are offered, the sold-out ones too
	Left     int       // places of all of them
	Why      []*words.Message
}

// Day says what can be booked on a day, and which rules and bookings make it so:
// the first thing that closes the whole of it, or what is the matter with each of
// its times.
func (r *Rule) Day(day calendar.Day, q Query) Day {
	q.From, q.To = day, day
	d := Day{Openings: r.Openings(q)}
	for _, o := range d.Openings {
		d.Left += max(o.Left, 0)
	}
	d.Why = r.why(day, &q, d.Openings)
	return d
}

func (r *Rule) why(day calendar.Day, q *Query, openings []Opening) []*words.Message {
	one := func(code string, pairs ...any) []*words.Message {
		return []*words.Message{words.Tell("why."+code, pairs...)}
	}
	on := func(day calendar.Day) any { return words.Spoken(func(l words.Language) string { return l.Day(day) }) }
	today := calendar.DayOf(q.Now.In(q.Zone))
	closed, shut := r.closed(day)
	off, away := r.off(q, day)
	switch last := r.last(q); {
	case day.Before(today):
		return one("past")
	case day.After(last) && r.Until != nil && last == *r.Until:
		return one("until", "day", on(last))
	case day.After(last):
		return one("horizon", "days", r.Horizon, "day", on(last))
	case shut && closed == "":
		return one("closure_bare")
	case shut:
		return one("closure", "reason", closed)
	case away && off == "":
		return one("off_bare")
	case away:
		return one("off", "reason", off)
	case len(r.Week[day.Weekday()]) == 0:
		return one("weekday", "weekday", words.Spoken(func(l words.Language) string { return l.Weekdays([]time.Weekday{day.Weekday()}) }))
	}
	var list []*words.Message
	if first := r.first(q); day.At(0, q.Zone).Before(first) {
		list = append(list, words.Tell("why.notice", "hours", r.Notice))
	}
	if len(openings) == 0 && len(list) == 0 {
		return one("length", "minutes", r.Length)
	}
	for _, o := range openings {
		at := o.Start.In(q.Zone).Format("15:04")
		switch {
		case r.Gap > 0 && r.crowded(q, o):
			list = append(list, words.Tell("why.gap", "time", at, "minutes", r.Gap))
		case o.Left <= 0:
			list = append(list, words.Tell("why.sold_out", "time", at))
		default:
			list = append(list, words.Tell("why.left", "time", at, "left", o.Left, "places", r.Places))
		}
	}
	return list
}
