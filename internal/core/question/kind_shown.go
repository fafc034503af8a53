package question

import (
	"encoding/json"
	"errors"
	"strings"
)

// shown is the part of what is shown among the questions and never answered.
type shown struct{}

func (shown) Class() Class                           { return ClassNone }
func (shown) Decode(json.RawMessage) (Value, *Fault) { return nil, fault("unknown") }
func (shown) Check(Value, Env) []Fault               { return nil }
func (shown) Words(Value, Env) string                { return "" }

type heading struct{}

func (heading) Name() KindName { return "heading" }

func (heading) Spec(raw json.RawMessage) (Spec, error) { return settings[shown](raw) }

type note struct{}

func (note) Name() KindName { return "note" }

// noteSpec is a paragraph of Markdown with merge fields.
type noteSpec struct {
	shown
	Text string `json:"text"`
}

func (note) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[noteSpec](raw)
	if err == nil && strings.TrimSpace(s.Text) == "" {
		err = errors.New("its text is empty")
	}
	return s, err
}

// Template gives the text with its merge fields.
func (n noteSpec) Template() string { return n.Text }

// A Templated spec shows a text with merge fields.
type Templated interface{ Template() string }
