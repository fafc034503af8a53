package question

import (
	"bytes"
	"encoding/json"
)

// strict decodes JSON and refuses names that the target does not have.
func strict(raw []byte, target any) error {
	d := json.NewDecoder(bytes.NewReader(raw))
	d.DisallowUnknownFields()
	return d.Decode(target)
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
