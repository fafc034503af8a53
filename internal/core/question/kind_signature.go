package question

import (
	"encoding/json"
	"math/rand/v2"
	"reflect"
	"strings"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
)

type signature struct{}

func (signature) Name() KindName { return "signature" }

// Class implements Kind.
func (signature) Class() Class { return ClassGiven }

// signatureSpec asks to sign a text.
type signatureSpec struct {
	Text string `json:"text"`
}

func (signature) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[signatureSpec](raw)
	if err == nil && (strings.TrimSpace(s.Text) == "" || len(s.Text) > 20_000) {
		err = words.Tell("setting.needs_text_signed")
	}
	return s, err
}

func (signatureSpec) Class() Class { return ClassGiven }

// The limits of a drawn signature.
const (
	mostStrokes = 200
	mostPoints  = 6000
	signField   = 1000 // its width and height in points
)

func (signatureSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var s Signature
	if len(raw) > 100_000 || strict(raw, &s) != nil || len(s.Strokes) > mostStrokes {
		return nil, fault("type_signature")
	}
	points := 0
	for _, stroke := range s.Strokes {
		points += len(stroke) / 2
		if len(stroke)%2 != 0 || points > mostPoints {
			return nil, fault("type_signature")
		}
		for _, p := range stroke {
			if p < 0 || p > signField {
				return nil, fault("type_signature")
			}
		}
	}
	s.Name = strings.Join(strings.Fields(s.Name), " ")
	if Characters(s.Name) > 120 {
		return nil, fault("longest", "most", "120")
	}
	return s, nil
}

// Check wants the text that was signed to be the one that is asked for, and a
// drawing of more than a dot.
func (spec signatureSpec) Check(v Value, _ Env) []Fault {
	s := v.(Signature)
	if s.Text != spec.Text {
		return faults(fault("signed_text"))
	}
	points := 0
	for _, stroke := range s.Strokes {
		points += len(stroke) / 2
	}
	if s.Name == "" && points < 5 {
		return faults(fault("signature"))
	}
	return nil
}

// Words says who signed and when.
func (signatureSpec) Words(v Value, env Env) string {
	s := v.(Signature)
	code, p := "signature.drawn", words.Params{"name": s.Name}
	if s.Name != "" {
		code = "signature.typed"
	}
	return dated(env.Language.Say(code, p), s.At, env)
}

func dated(said string, at *time.Time, env Env) string {
	if at == nil {
		return said
	}
	local := at.In(env.Zone)
	return said + ", " + env.Language.DayTime(calendar.DayOf(local), local.Hour()*60+local.Minute())
}

// Signature is a signed text: drawn as strokes, each x, y, x, y … between 0
// and 1000, or typed as a name.
type Signature struct {
	Strokes [][]int    `json:"strokes,omitempty"`
	Name    string     `json:"name,omitempty"`
	Text    string     `json:"text"`
	At      *time.Time `json:"at,omitempty"`
}

// Answered implements Value.
func (s Signature) Answered() bool { return len(s.Strokes) > 0 || s.Name != "" }

// Terms implements Value.
func (s Signature) Terms() Terms { return Terms{Text: s.Name} }

// Given implements Dated.
func (s Signature) Given(now time.Time, before Value) Value {
	now = now.UTC().Truncate(time.Second)
	s.At = &now
	if b, ok := before.(Signature); ok && b.At != nil && b.Name == s.Name && b.Text == s.Text && reflect.DeepEqual(b.Strokes, s.Strokes) {
		s.At = b.At
	}
	return s
}

// MakeUp implements Inventive.
func (spec signatureSpec) MakeUp(*rand.Rand, Env) Value {
	return Signature{Name: "Ada Lind", Text: spec.Text}
}
