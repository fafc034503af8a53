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
		Start  time.Time `json:"start"`
		End    time.Time `json:"end"`
		People int       `json:"people"`
		With   []int64   `json:"with"`
	}
	possible := func(t time.Time) bool { return t.Year() >= 2000 && t.Year() <= 2200 }
	if strict(raw, &b) != nil || !possible(b.Start) || !b.End.IsZero() && !possible(b.End) || len(b.With) > mostWith {
		return nil, fault("type_booking")
	}
	if !b.End.IsZero() && !b.End.After(b.Start) {
		return nil, fault("booking_order")
	}
	v := Booking{Start: b.Start.UTC(), People: b.People, With: b.With}
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
}

// Answered implements Value.
func (b Booking) Answered() bool { return !b.Start.IsZero() }

// Equal says whether two bookings are the same.
func (b Booking) Equal(c Booking) bool {
	return b.Start.Equal(c.Start) && b.End.Equal(c.End) && b.People == c.People && slices.Equal(b.With, c.With)
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
