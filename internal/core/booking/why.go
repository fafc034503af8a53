package booking

import (
	"fmt"
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
)

// A Day is what a rule makes of a day, and why.
type Day struct {
	Openings []Opening // those that are offered, the sold-out ones too
	Free     int       // stays that can be made of the day or night
	Why      []*words.Message
}

// Day says what can be booked on a day, and which rules and bookings make it so:
// the first thing that closes the whole of it, or what is the matter with each of
// its times; of stays, whether one can begin.
func (r *Rule) Day(d calendar.Day, q Query) Day {
	q.From, q.To = d, d
	h := r.hold(&q)
	if r.By == ByCourse {
		return h.courseDay(d)
	}
	if r.By == ByTime {
		openings := h.openings()
		return Day{Openings: openings, Why: h.why(d, openings)}
	}
	on := h.on(d)
	if on.shut {
		return Day{Why: []*words.Message{closed(on.why)}}
	}
	x := Day{Free: h.units(r.unit(&q, d))}
	if why := h.beginning(d); why != nil {
		x.Why = append(x.Why, why)
	} else {
		x.Why = append(x.Why, words.Tell("why.begins"))
	}
	if x.Free == 0 {
		x.Why = append(x.Why, h.taken(r.unit(&q, d)))
	} else {
		x.Why = append(x.Why, words.Tell("why.free_"+string(r.By), "count", x.Free))
	}
	return x
}

// when says why nothing begins on a day because of when it is.
func (h *held) when(d calendar.Day, on dayRules) *words.Message {
	r, q := h.rule, h.q
	switch last := on.rule.last(q); {
	case d.Before(calendar.DayOf(q.Now.In(q.Zone))):
		return words.Tell("why.past")
	case d.After(last) && r.Until != nil && last == *r.Until:
		return words.Tell("why.until", "day", onDay(last))
	case d.After(last):
		return words.Tell("why.horizon", "days", on.rule.Horizon, "day", onDay(last))
	case on.shut:
		return closed(on.why)
	case on.off:
		return off(on.away)
	}
	return nil
}

func (h *held) why(d calendar.Day, openings []Opening) []*words.Message {
	r, q := h.rule, h.q
	on := h.on(d)
	if why := h.when(d, on); why != nil {
		return []*words.Message{why}
	}
	if len(on.spans) == 0 {
		return []*words.Message{on.tellWeek("weekday", "weekday", onWeekdays([]time.Weekday{d.Weekday()}))}
	}
	var list []*words.Message
	if d.At(0, q.Zone).Before(q.Now.Add(time.Duration(on.notice) * time.Hour)) {
		list = append(list, words.Tell("why.notice", "hours", on.notice))
	}
	for _, c := range on.gaps {
		list = append(list, words.Tell("why.hours_closed", "from", clockOf(c.Time.From), "to", clockOf(c.Time.To), "why", closed(c.Reason)))
	}
	if len(openings) == 0 && len(list) == 0 {
		for i, n := range r.Needs {
			if h.never(d, i) {
				return []*words.Message{words.Tell("why.nobody", "name", n.Name)}
			}
		}
		return []*words.Message{words.Tell("why.length", "minutes", on.rule.length(&q.Wish))}
	}
	for _, o := range openings {
		at := o.Start.In(q.Zone).Format("15:04")
		switch {
		case o.Left <= 0 && h.kept(&o) != nil:
			list = append(list, words.Tell("why.at", "time", at, "why", h.kept(&o)))
		case o.Left > 0 && r.Alone():
			list = append(list, words.Tell("why.open", "time", at))
		case o.Left > 0:
			list = append(list, words.Tell("why.left", "time", at, "left", o.Left, "places", on.rule.Places))
		case on.rule.Before+on.rule.After > 0 && len(r.Needs) == 0 && !h.booked(&o):
			list = append(list, words.Tell("why.gap", "time", at, "minutes", max(on.rule.Before, on.rule.After)))
		case len(r.Needs) > 0 && !h.joined(&o):
			list = append(list, words.Tell("why.at", "time", at, "why", h.taken(h.around(o.Start, o.End))))
		default:
			list = append(list, words.Tell("why.sold_out", "time", at))
		}
	}
	return list
}

// kept says why an opening is kept by hand; nil for one that is not.
func (h *held) kept(o *Opening) *words.Message {
	_, why := h.keeps(o.Start, o.End)
	return why
}

// booked says whether a booking of the product lies in an opening itself, not only
// in what is needed around it.
func (h *held) booked(o *Opening) bool {
	return slices.ContainsFunc(h.q.Taken, func(t Taken) bool {
		return t.Product == h.q.Product && t.Start.Before(o.End) && t.End.After(o.Start)
	})
}

// joined says whether an opening has bookings that share it.
func (h *held) joined(o *Opening) bool {
	_, ok := h.groups[timesOf(o.Start, o.End)]
	return ok && !h.rule.Alone()
}

// never says whether nothing of a need is there on a day.
func (h *held) never(d calendar.Day, need int) bool {
	for _, id := range h.rule.candidates(h.q, need) {
		res, known := h.q.Resources[id]
		if !known {
			continue
		}
		away := slices.ContainsFunc(res.Closures, func(c calendar.Closure) bool { return c.Time == nil && c.Has(d) })
		if !away && (res.Week == nil || len(res.hours(d)) > 0) {
			return false
		}
	}
	return true
}

// Day says of a resource when it is there on a day, or why it is not.
func (res *Resource) Day(d calendar.Day) []*words.Message {
	var list []*words.Message
	for _, c := range res.Closures {
		switch {
		case !c.Has(d):
		case c.Time == nil:
			return []*words.Message{closed(c.Reason)}
		default:
			list = append(list, words.Tell("why.hours_closed", "from", clockOf(c.Time.From), "to", clockOf(c.Time.To), "why", closed(c.Reason)))
		}
	}
	if res.Week == nil {
		return append(list, words.Tell("why.there_always"))
	}
	spans := res.hours(d)
	if len(spans) == 0 {
		return append(list, words.Tell("why.not_there"))
	}
	for _, s := range spans {
		list = append(list, words.Tell("why.there", "from", clockOf(s.From), "to", clockOf(s.To)))
	}
	return list
}

// tellWeek says what the hours demand, and in which season.
func (x *dayRules) tellWeek(code string, pairs ...any) *words.Message {
	if x.season != nil && x.season.Week != nil {
		return words.Tell("why."+code+"_in", append(pairs, "season", x.season.Name)...)
	}
	return words.Tell("why."+code, pairs...)
}

func clockOf(minute int) string { return fmt.Sprintf("%02d:%02d", minute/60, minute%60) }

func closed(reason string) *words.Message {
	if reason == "" {
		return words.Tell("why.closure_bare")
	}
	return words.Tell("why.closure", "reason", reason)
}

func off(reason string) *words.Message {
	if reason == "" {
		return words.Tell("why.off_bare")
	}
	return words.Tell("why.off", "reason", reason)
}

func onDay(d calendar.Day) any {
	return words.Spoken(func(l words.Language) string { return l.Day(d) })
}

// onWeekdays names days of the week, Monday first.
func onWeekdays(days []time.Weekday) any {
	days = slices.Clone(days)
	slices.SortFunc(days, func(a, b time.Weekday) int { return int((a+6)%7) - int((b+6)%7) })
	return words.Spoken(func(l words.Language) string { return l.Weekdays(days) })
}
