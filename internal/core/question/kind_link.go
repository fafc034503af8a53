package question

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"strings"
)

type linkValue struct{}

func (linkValue) Name() KindName { return "link_value" }

// Class implements Kind.
func (linkValue) Class() Class { return ClassText }

// linkSpec is a text that comes from a link's parameter "q." and the key. It
// is checked like any text; with Values, it must be one of them.
type linkSpec struct {
	text
	Hidden bool     `json:"hidden,omitempty"` // not shown to the customer
	Values []string `json:"values,omitempty"`
}

func (linkValue) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[linkSpec](raw)
	if err != nil {
		return nil, err
	}
	bare := s
	bare.Hidden, bare.Values = false, nil
	limits, err := json.Marshal(bare.text)
	if err != nil {
		return nil, err
	}
	t, err := newText(limits, longestShort, false)
	if err != nil {
		return nil, err
	}
	s.text = t.(text)
	return s, nil
}

func (s linkSpec) Check(v Value, env Env) []Fault {
	if wrong := s.text.Check(v, env); len(wrong) > 0 {
		return wrong
	}
	if len(s.Values) > 0 && !slices.Contains(s.Values, string(v.(Text))) {
		return faults(fault("choice", "choices", strings.Join(s.Values, ", ")))
	}
	return nil
}

// MakeUp implements Inventive.
func (s linkSpec) MakeUp(r *rand.Rand, env Env) Value {
	if len(s.Values) > 0 {
		return Text(s.Values[r.IntN(len(s.Values))])
	}
	return s.text.MakeUp(r, env)
}
