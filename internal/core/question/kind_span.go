package question

import (
	"encoding/json"
	"math/rand/v2"
	"strconv"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
)

type dateSpan struct{}

func (dateSpan) Name() KindName { return "date_span" }

// Class implements Kind.
func (dateSpan) Class() Class { return ClassSpan }

// spanSpec is a first and a last day, both counted. Both ends have to be days
// that it takes.
type spanSpec struct {
	days
	Least int `json:"least,omitempty"` // days
	Most  int `json:"most,omitempty"`  // days; 0 is no limit
}

// longestSpan bounds the days of a span.
const longestSpan = 4000

func (dateSpan) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[spanSpec](raw)
	if err == nil {
		err = s.validate()
	}
	if err == nil && (s.Least < 0 || s.Most < 0 || s.Most > 0 && s.Least > s.Most || s.Most > longestSpan) {
		err = words.Tell("setting.least_number_days_must_not")
	}
	return s, err
}

func (spanSpec) Class() Class { return ClassSpan }

func (spanSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var in struct {
		From string `json:"from"`
		To   string `json:"to"`
	}
	if strict(raw, &in) != nil {
		return nil, fault("type_span")
	}
	if in.From == "" && in.To == "" {
		return None{}, nil
	}
	from, err1 := calendar.ParseDay(in.From)
	to, err2 := calendar.ParseDay(in.To)
	if err1 != nil || err2 != nil {
		return nil, fault("span_ends")
	}
	return Span{From: from, To: to}, nil
}

func (s spanSpec) Check(v Value, env Env) []Fault {
	span := v.(Span)
	if span.To.Before(span.From) {
		return faults(fault("span_order"))
	}
	for _, day := range []calendar.Day{span.From, span.To} {
		if f := s.check(day, env); f != nil {
			return faults(f)
		}
	}
	switch n := span.Days(); {
	case n < s.Least:
		return faults(fault("span_least", "least", strconv.Itoa(s.Least)))
	case s.Most > 0 && n > s.Most:
		return faults(fault("span_most", "most", strconv.Itoa(s.Most)))
	}
	return nil
}

// Leaves implements OfDays.
func (s spanSpec) Leaves(env Env) bool {
	most := s.Most
	if most == 0 {
		most = longestSpan
	}
	return s.leaves(env, max(s.Least, 1), most)
}

func (spanSpec) Words(v Value, env Env) string {
	s := v.(Span)
	if s.From == s.To {
		return env.Language.Day(s.From)
	}
	return env.Language.Say("span", map[string]string{"from": env.Language.Day(s.From), "to": env.Language.Day(s.To), "days": strconv.Itoa(s.Days())})
}

// Span is a first and a last day.
type Span struct {
	From calendar.Day `json:"from"`
	To   calendar.Day `json:"to"`
}

// Days counts the days, both ends included.
func (s Span) Days() int { return s.To.Since(s.From) + 1 }

// Answered implements Value.
func (Span) Answered() bool { return true }

// Terms compares a span by its first day and by how many days it has.
func (s Span) Terms() Terms {
	return Terms{Day: s.From, Number: decimal.NewFromInt(int64(s.Days())), Text: s.From.String() + "/" + s.To.String()}
}

// Samples implements Sampled: spans of so many days, from a day that stands
// for any.
func (s spanSpec) Samples(around []int) ([]Value, bool) {
	most := s.Most
	if most == 0 {
		most = 400
	}
	lengths, all := numbersFor(max(s.Least, 1), most, around)
	list := make([]Value, len(lengths))
	first := calendar.Day{Year: 2000, Month: 1, Number: 1}
	for i, n := range lengths {
		list[i] = Span{From: first, To: first.Add(n - 1)}
	}
	return list, all && s.Most > 0
}

// MakeUp implements Inventive.
func (s spanSpec) MakeUp(r *rand.Rand, env Env) Value {
	from, ok := s.madeUp(r, env)
	if !ok {
		return None{}
	}
	most := s.Most
	if most == 0 {
		most = max(s.Least, 1) + 7
	}
	return Span{From: from, To: from.Add(max(s.Least, 1) - 1 + r.IntN(most-max(s.Least, 1)+1))}
}
