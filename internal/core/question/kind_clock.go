package question

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"ruvo/internal/core/words"
	"strconv"

	"github.com/shopspring/decimal"
)

type clock struct{}

func (clock) Name() KindName { return "time" }

// Class implements Kind.
func (clock) Class() Class { return ClassClock }

// clockSpec is a time of day between two times, in steps of so many minutes
// from midnight.
type clockSpec struct {
	Earliest *Clock `json:"earliest,omitempty"`
	Latest   *Clock `json:"latest,omitempty"`
	Step     int    `json:"step,omitempty"` // minutes
}

func (clock) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[clockSpec](raw)
	if err != nil {
		return nil, err
	}
	if s.Step < 0 || s.Step > 720 {
		return nil, words.Tell("setting.step_must_lie_between_1")
	}
	if s.Earliest != nil && s.Latest != nil && *s.Latest < *s.Earliest {
		return nil, words.Tell("setting.latest_time_comes_before_earliest")
	}
	return s, nil
}

func (clockSpec) Class() Class { return ClassClock }

func (clockSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var text string
	if json.Unmarshal(raw, &text) != nil {
		return nil, fault("type_time")
	}
	if text == "" {
		return None{}, nil
	}
	var c Clock
	if c.UnmarshalText([]byte(text)) != nil {
		return nil, fault("time")
	}
	return c, nil
}

func (s clockSpec) Check(v Value, _ Env) []Fault {
	c := v.(Clock)
	switch {
	case s.Earliest != nil && c < *s.Earliest:
		return faults(fault("time_earliest", "time", s.Earliest.String()))
	case s.Latest != nil && c > *s.Latest:
		return faults(fault("time_latest", "time", s.Latest.String()))
	case s.Step > 0 && int(c)%s.Step != 0:
		return faults(fault("time_step", "step", strconv.Itoa(s.Step)))
	}
	return nil
}

func (clockSpec) Words(v Value, _ Env) string { return v.(Clock).String() }

// Clock is a time of day in minutes from midnight, written "20:30" (ISO 8601).
type Clock int

var errClock = words.Tell("setting.not_time_day_such_as")

// Answered implements Value.
func (c Clock) Answered() bool { return true }

// Terms implements Value.
func (c Clock) Terms() Terms { return Terms{Number: decimal.NewFromInt(int64(c)), Text: c.String()} }

// String writes the time as "20:30".
func (c Clock) String() string { return fmt.Sprintf("%02d:%02d", int(c)/60, int(c)%60) }

// MarshalText writes the time as String does.
func (c Clock) MarshalText() ([]byte, error) { return []byte(c.String()), nil }

// UnmarshalText reads two digits, a colon and two digits, and no other form.
func (c *Clock) UnmarshalText(b []byte) error {
	if len(b) != 5 || b[2] != ':' {
		return errClock
	}
	for _, i := range []int{0, 1, 3, 4} {
		if b[i] < '0' || b[i] > '9' {
			return errClock
		}
	}
	h, m := int(b[0]-'0')*10+int(b[1]-'0'), int(b[3]-'0')*10+int(b[4]-'0')
	if h > 23 || m > 59 {
		return errClock
	}
	*c = Clock(h*60 + m)
	return nil
}

// MakeUp implements Inventive.
func (s clockSpec) MakeUp(r *rand.Rand, _ Env) Value {
	first, last, step := Clock(0), Clock(24*60-1), max(s.Step, 1)
	if s.Earliest != nil {
		first = *s.Earliest
	}
	if s.Latest != nil {
		last = *s.Latest
	}
	at := int(first) + r.IntN(max(int(last-first), 0)+1)
	return Clock(at / step * step)
}
