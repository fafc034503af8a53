package question

import (
	"encoding/json"
	"ruvo/internal/core/words"
	"strings"

	"github.com/shopspring/decimal"
)

type number struct{}

func (number) Name() KindName { return "number" }

// Class implements Kind.
func (number) Class() Class { return ClassNumber }

// numberSpec is a number between Least and Most in steps from Least (from
// zero without one), with a unit that is shown and not part of the answer.
type numberSpec struct {
	Least *decimal.Decimal `json:"least,omitempty"`
	Most  *decimal.Decimal `json:"most,omitempty"`
	Step  *decimal.Decimal `json:"step,omitempty"`
	Unit  string           `json:"unit,omitempty"`
}

// farOut bounds numbers, so that no product of them leaves the range of amounts.
var farOut = decimal.NewFromInt(1_000_000_000)

func (number) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[numberSpec](raw)
	if err != nil {
		return nil, err
	}
	if s.Least != nil && s.Most != nil && s.Least.GreaterThan(*s.Most) {
		return nil, words.Tell("setting.least_number_greater_than_most")
	}
	if s.Step != nil && !s.Step.IsPositive() {
		return nil, words.Tell("setting.step_must_greater_than_zero")
	}
	return s, nil
}

// Range gives the range of its valid answers.
func (s numberSpec) Range() (least, most float64) {
	least, most = -farOut.InexactFloat64(), farOut.InexactFloat64()
	if s.Least != nil {
		least = s.Least.InexactFloat64()
	}
	if s.Most != nil {
		most = s.Most.InexactFloat64()
	}
	return least, most
}

func (numberSpec) Class() Class { return ClassNumber }

func (numberSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	// The JSON number's digits are read as they stand; a float would lose some.
	text := string(raw)
	if len(text) > 30 || strings.ContainsAny(text, `"eE`) {
		return nil, fault("type_number")
	}
	d, err := decimal.NewFromString(text)
	if err != nil {
		return nil, fault("type_number")
	}
	return Number{d}, nil
}

func (s numberSpec) Check(v Value, env Env) []Fault {
	d := v.(Number).Decimal
	say := func(x decimal.Decimal) string { return env.Language.Number(x) + unit(s.Unit) }
	switch {
	case s.Least != nil && d.LessThan(*s.Least):
		return faults(fault("least", "least", say(*s.Least)))
	case s.Most != nil && d.GreaterThan(*s.Most):
		return faults(fault("most", "most", say(*s.Most)))
	case d.Abs().GreaterThan(farOut):
		return faults(fault("most", "most", say(farOut)))
	case s.Step != nil:
		from := decimal.Zero
		if s.Least != nil {
			from = *s.Least
		}
		if !d.Sub(from).Mod(*s.Step).IsZero() {
			return faults(fault("step", "step", say(*s.Step), "from", say(from)))
		}
	case -d.Exponent() > 6:
		return faults(fault("places"))
	}
	return nil
}

func (s numberSpec) Words(v Value, env Env) string {
	return env.Language.Number(v.(Number).Decimal) + unit(s.Unit)
}

func unit(u string) string {
	if u == "" {
		return ""
	}
	return "\u00a0" + u
}

// Number is the answer to a number question.
type Number struct{ decimal.Decimal }

// Answered implements Value.
func (Number) Answered() bool { return true }

// Terms implements Value.
func (n Number) Terms() Terms { return Terms{Number: n.Decimal, Text: n.String()} }

// MarshalJSON writes a JSON number and not the string that decimal prefers.
func (n Number) MarshalJSON() ([]byte, error) { return []byte(n.String()), nil }

// Samples implements Sampled.
func (s numberSpec) Samples(around []int) ([]Value, bool) {
	least, most := s.Range()
	step := 1.0
	if s.Step != nil {
		step = s.Step.InexactFloat64()
	}
	first := decimal.NewFromFloat(least)
	if s.Step == nil && s.Least != nil && !s.Least.IsInteger() || step <= 0 {
		return nil, false
	}
	var list []Value
	if n := (most - least) / step; n <= 200 {
		for d := first; d.LessThanOrEqual(decimal.NewFromFloat(most)); d = d.Add(decimal.NewFromFloat(step)) {
			list = append(list, Number{d})
		}
		// Without a step there are numbers in between.
		return list, s.Step != nil
	}
	numbers, _ := numbersFor(int(least), int(most), around)
	for _, n := range numbers {
		list = append(list, Number{decimal.NewFromInt(int64(n))})
	}
	return list, false
}

// UnitOf implements United.
func (s numberSpec) UnitOf() string { return s.Unit }
