package question

import (
	"bytes"
	"encoding/json"
	"ruvo/internal/core/reading"
	"time"
)

// strict decodes JSON and refuses names that the target does not have.
func strict(raw []byte, target any) error {
	return reading.Strict(raw, target)
}

// None is the value of a question that was cleared.
type None struct{}

func (None) Answered() bool               { return false }
func (None) Terms() Terms                 { return Terms{} }
func (None) MarshalJSON() ([]byte, error) { return []byte("null"), nil }

// Decode reads the answers that came in for a set of questions. Every fault is
// returned at once: unknown keys, answers to what is only shown, wrong shapes.
// The answers that could be read are returned as well.
func Decode(raw map[string]json.RawMessage, specs func(Key) (Spec, bool)) (Answers, []Fault) {
	answers := make(Answers, len(raw))
	var wrong []Fault
	for name, r := range raw {
		key := Key(name)
		spec, ok := specs(key)
		if !ok || spec.Class() == ClassNone {
			wrong = append(wrong, Fault{Key: clip(key), Code: "unknown"})
			continue
		}
		if bytes.Equal(r, []byte("null")) {
			answers[key] = None{}
			continue
		}
		v, f := spec.Decode(r)
		if f != nil {
			f.Key = key
			wrong = append(wrong, *f)
			continue
		}
		answers[key] = v
	}
	return answers, wrong
}

// clip keeps a hostile key from filling an error message.
func clip(k Key) Key {
	if len(k) > 60 {
		return k[:60] + "…"
	}
	return k
}

// Encode writes answers in the form that is stored: as Decode reads them, a
// phone number in E.164, a text trimmed.
func Encode(answers Answers) (map[string]json.RawMessage, error) {
	raw := make(map[string]json.RawMessage, len(answers))
	for k, v := range answers {
		if !v.Answered() {
			continue
		}
		r, err := json.Marshal(v)
		if err != nil {
			return nil, err
		}
		raw[string(k)] = r
	}
	return raw, nil
}

// A Dated value bears the time at which it was given. Browsers do not set it.
type Dated interface {
	Value
	// Given gives the value as given now, or at the time of a value from
	// before that says the same.
	Given(now time.Time, before Value) Value
}

// Date sets the time of the answers that bear one.
func (a Answers) Date(now time.Time, before Answers) {
	for k, v := range a {
		if d, ok := v.(Dated); ok {
			a[k] = d.Given(now, before[k])
		}
	}
}
