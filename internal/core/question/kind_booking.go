package question

import (
	"encoding/json"
	"slices"
	"strconv"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
)

type booking struct{}

func (booking) Name() KindName { return "booking" }

// Class implements Kind.
func (booking) Class() Class { return ClassBooking }

// bookingSpec offers what the product's booking rule makes. Whether that is there
// and has places left is decided where the bookings are known, in package booking.
type bookingSpec struct{ nights, days bool }

// Staying says that what is booked are days or nights, for how it reads.
func Staying(s Spec, nights bool) Spec {
	if _, ok := s.(bookingSpec); !ok {
		return s
	}
	return bookingSpec{nights: nights, days: !nights}
}

func (booking) Spec(raw json.RawMessage) (Spec, error) { return settings[bookingSpec](raw) }
func (bookingSpec) Class() Class                       { return ClassBooking }

// mostWith bounds the resources that a customer chooses.
const mostWith = 5

func (bookingSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var b struct {
		Start    time.Time `json:"start"`
		End      time.Time `json:"end"`
		People   int       `json:"people"`
		With     []int64   `json:"with"`
		Meetings []Meeting `json:"meetings"`
		Of       int       `json:"of"`
	}
	possible := func(t time.Time) bool { return t.Year() >= 2000 && t.Year() <= 2200 }
	if strict(raw, &b) != nil || !possible(b.Start) || !b.End.IsZero() && !possible(b.End) || len(b.With) > mostWith {
		return nil, fault("type_booking")
	}
	if !b.End.IsZero() && !b.End.After(b.Start) {
		return nil, fault("booking_order")
	}
	if len(b.Meetings) > 0 || b.Of != 0 {
		if !inOrder(b.Meetings) || b.Of < len(b.Meetings) || b.Of > MostMeetings || !b.Start.Equal(b.Meetings[0].Start) || !b.End.Equal(b.Meetings[len(b.Meetings)-1].End) {
			return nil, fault("type_booking")
		}
		for i, m := range b.Meetings {
			if !possible(m.Start) || !possible(m.End) {
				return nil, fault("type_booking")
			}
			b.Meetings[i] = Meeting{Start: m.Start.UTC(), End: m.End.UTC()}
		}
	}
	v := Booking{Start: b.Start.UTC(), People: b.People, With: b.With, Meetings: b.Meetings, Of: b.Of}
	if !b.End.IsZero() {
		v.End = b.End.UTC()
	}
	return v, nil
}

func (bookingSpec) Check(v Value, _ Env) []Fault {
	if v.(Booking).People < 1 {
		return faults(fault("people_least", "least", "1"))
	}
	return nil
}

func (s bookingSpec) Words(v Value, env Env) string {
	b := v.(Booking)
	local, people := b.Start.In(env.Zone), env.Language.Fill("people", "count", strconv.Itoa(b.People))
	first := calendar.DayOf(local)
	minute := func(t time.Time) int { return t.Hour()*60 + t.Minute() }
	if b.End.IsZero() {
		return env.Language.DayTime(first, minute(local)) + ", " + people
	}
	until := b.End.In(env.Zone)
	if len(b.Meetings) > 0 {
		return env.Language.Fill("course", "count", strconv.Itoa(len(b.Meetings)), "of", strconv.Itoa(b.Of), "from", env.Language.DayTime(first, minute(local)), "to", env.Language.Day(calendar.DayOf(until))) + ", " + people
	}
	if !s.nights && !s.days {
		return env.Language.DayTime(first, minute(local)) + "–" + until.Format("15:04") + ", " + people
	}
	last, code := calendar.DayOf(until), "stay_nights"
	count := last.Since(first)
	if s.days {
		last, code = calendar.DayOf(until.Add(-time.Nanosecond)), "stay_days"
		count = last.Since(first) + 1
	}
	return env.Language.Fill(code, "from", env.Language.Day(first), "to", env.Language.Day(last), "count", strconv.Itoa(count)) + ", " + people
}

// Booking is what a customer chose to book: an opening or a stay, and for how
// many people.
type Booking struct {
	Start  time.Time `json:"start"`
	End    time.Time `json:"end,omitzero"` // zero: after the rule's length
	People int       `json:"people"`
	With   []int64   `json:"with,omitempty"` // resources that were chosen; what else is needed is found
	// Meetings are those of a course, in order; Start and End are those of the first
	// and the last. Of is how many the whole course has.
	Meetings []Meeting `json:"meetings,omitempty"`
	Of       int       `json:"of,omitempty"`
}

// A Meeting is one time of a course.
type Meeting struct {
	Start time.Time `json:"start"`
	End   time.Time `json:"end"`
}

// MostMeetings bounds the meetings of a course.
const MostMeetings = 200

// inOrder says whether there are meetings, and each begins when the one before is over.
func inOrder(list []Meeting) bool {
	for i, m := range list {
		if !m.End.After(m.Start) || i > 0 && m.Start.Before(list[i-1].End) {
			return false
		}
	}
	return len(list) > 0 && len(list) <= MostMeetings
}

// Meets says whether the booking is of just these meetings.
func (b Booking) Meets(list []Meeting) bool {
	return slices.EqualFunc(b.Meetings, list, func(a, c Meeting) bool { return a.Start.Equal(c.Start) && a.End.Equal(c.End) })
}

// Times are those that are booked: the meetings of a course, else the one until an end.
func (b Booking) Times(end time.Time) []Meeting {
	if len(b.Meetings) > 0 {
		return b.Meetings
	}
	return []Meeting{{b.Start, end}}
}

// Answered implements Value.
func (b Booking) Answered() bool { return !b.Start.IsZero() }

// Equal says whether two bookings are the same.
func (b Booking) Equal(c Booking) bool {
	return b.Start.Equal(c.Start) && b.End.Equal(c.End) && b.People == c.People && slices.Equal(b.With, c.With) && b.Meets(c.Meetings) && b.Of == c.Of
}

// Terms implements Value.
func (b Booking) Terms() Terms {
	return Terms{Number: decimal.NewFromInt(int64(b.People)), Start: b.Start}
}

// Samples implements Sampled: for so many people, at a time that stands for
// any.
func (bookingSpec) Samples(around []int) ([]Value, bool) {
	var list []Value
	for _, n := range around {
		if n > 0 {
			list = append(list, Booking{Start: time.Unix(1, 0), People: n})
		}
	}
	return list, false
}
