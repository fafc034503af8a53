package question

import (
	"encoding/json"
	"ruvo/internal/core/words"
	"strconv"

	"github.com/shopspring/decimal"
)

type count struct{}

// countless bounds what is counted, so that no price of it leaves the range of
// amounts.
const countless = 1_000_000

func (count) Name() KindName { return "count" }

// Class implements Kind.
func (count) Class() Class { return ClassNumber }

// countSpec is a whole number from Least, which is zero without one, to Most.
type countSpec struct {
	Least int    `json:"least,omitempty"`
	Most  int    `json:"most,omitempty"` // 0 is 999
	Unit  string `json:"unit,omitempty"`
}

func (count) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[countSpec](raw)
	if err != nil {
		return nil, err
	}
	if s.Most == 0 {
		s.Most = 999
	}
	if s.Least < 0 || s.Most > 100_000 || s.Least > s.Most {
		return nil, words.Tell("setting.least_must_not_below_zero")
	}
	return s, nil
}

// Range gives the range of its valid answers.
func (s countSpec) Range() (least, most float64) { return float64(s.Least), float64(s.Most) }

func (countSpec) Class() Class { return ClassNumber }

func (countSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var n int
	if json.Unmarshal(raw, &n) != nil || n > countless || n < -countless {
		return nil, fault("type_count")
	}
	return Count(n), nil
}

func (s countSpec) Check(v Value, _ Env) []Fault {
	switch n := int(v.(Count)); {
	case n < s.Least:
		return faults(fault("least", "least", strconv.Itoa(s.Least)))
	case n > s.Most:
		return faults(fault("most", "most", strconv.Itoa(s.Most)))
	}
	return nil
}

func (s countSpec) Words(v Value, _ Env) string {
	return strconv.Itoa(int(v.(Count))) + unit(s.Unit)
}

// Count is the answer to a count question. Zero is an answer.
type Count int

// Answered implements Value.
func (Count) Answered() bool { return true }

// Terms implements Value.
func (c Count) Terms() Terms {
	return Terms{Number: decimal.NewFromInt(int64(c)), Text: strconv.Itoa(int(c))}
}

// Samples implements Sampled.
func (s countSpec) Samples(around []int) ([]Value, bool) {
	numbers, all := numbersFor(s.Least, s.Most, around)
	list := make([]Value, len(numbers))
	for i, n := range numbers {
		list[i] = Count(n)
	}
	return list, all
}

// UnitOf implements United.
func (s countSpec) UnitOf() string { return s.Unit }
