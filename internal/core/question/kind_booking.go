package question

import (
	"encoding/json"
	"strconv"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
)

type booking struct{}

func (booking) Name() KindName { return "booking" }

// Class implements Kind.
func (booking) Class() Class { return ClassBooking }

// bookingSpec offers the openings of the product's booking rule. Whether an
// opening is there and has places left is decided where the bookings are
// known, in package booking.
type bookingSpec struct{}

func (booking) Spec(raw json.RawMessage) (Spec, error) { return settings[bookingSpec](raw) }
func (bookingSpec) Class() Class                       { return ClassBooking }

func (bookingSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var b struct {
		Start  time.Time `json:"start"`
		People int       `json:"people"`
	}
	if strict(raw, &b) != nil || b.Start.Year() < 2000 || b.Start.Year() > 2200 {
		return nil, fault("type_booking")
	}
	return Booking{Start: b.Start.UTC(), People: b.People}, nil
}

func (bookingSpec) Check(v Value, _ Env) []Fault {
	if v.(Booking).People < 1 {
		return faults(fault("people_least", "least", "1"))
	}
	return nil
}

func (bookingSpec) Words(v Value, env Env) string {
	b := v.(Booking)
	local := b.Start.In(env.Zone)
	return env.Language.DayTime(calendar.DayOf(local), local.Hour()*60+local.Minute()) + ", " +
		env.Language.Fill("people", "count", strconv.Itoa(b.People))
}

// Booking is a chosen opening and for how many people.
type Booking struct {
	Start  time.Time `json:"start"`
	People int       `json:"people"`
}

// Answered implements Value.
func (b Booking) Answered() bool { return !b.Start.IsZero() }

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
