package question

import (
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/shopspring/decimal"
)

// A Choice is one selectable answer. Its code is stored and compared; its
// label is read.
type Choice struct {
	Code   string `json:"code"`
	Label  string `json:"label"`
	Help   string `json:"help,omitempty"`
	Colour string `json:"colour,omitempty"` // sRGB as #rrggbb, shown as a swatch
}

// choices is the common part of both choice kinds. Drawn says how the shop
// draws them: "list", "buttons" or "swatches".
type choices struct {
	Choices []Choice `json:"choices"`
	Drawn   string   `json:"drawn,omitempty"`
	Least   int      `json:"least,omitempty"` // several choices only
	Most    int      `json:"most,omitempty"`  // several choices only; 0 is no limit
}

var (
	codeForm   = regexp.MustCompile(`^[a-z0-9][a-z0-9_-]{0,39}$`)
	colourForm = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)
	one        = decimal.NewFromInt(1)
)

// mostChoices bounds the choices of one question.
const mostChoices = 300

func newChoices(raw json.RawMessage) (choices, error) {
	c, err := settings[choices](raw)
	if err != nil {
		return c, err
	}
	if len(c.Choices) == 0 || len(c.Choices) > mostChoices {
		return c, fmt.Errorf("it needs between 1 and %d choices", mostChoices)
	}
	if !slices.Contains([]string{"", "list", "buttons", "swatches"}, c.Drawn) {
		return c, errors.New(`its choices can be drawn as "list", "buttons" or "swatches"`)
	}
	seen := map[string]bool{}
	for i, ch := range c.Choices {
		switch {
		case !codeForm.MatchString(ch.Code):
			return c, fmt.Errorf("choice %d needs a code of lower-case letters, digits, - and _", i+1)
		case seen[ch.Code]:
			return c, fmt.Errorf("two choices have the code %q", ch.Code)
		case strings.TrimSpace(ch.Label) == "":
			return c, fmt.Errorf("choice %q needs a label", ch.Code)
		case ch.Colour != "" && !colourForm.MatchString(ch.Colour):
			return c, fmt.Errorf("the colour of choice %q must read like #1f2a44", ch.Code)
		}
		seen[ch.Code] = true
	}
	if c.Least < 0 || c.Most < 0 || c.Most > 0 && c.Least > c.Most || c.Least > len(c.Choices) {
		return c, errors.New("its least number of choices does not fit its most")
	}
	return c, nil
}

// Label gives the label of a code.
func (c choices) Label(code string) (string, bool) {
	for _, ch := range c.Choices {
		if ch.Code == code {
			return ch.Label, true
		}
	}
	return "", false
}

// A Labelled spec has choices whose codes have labels.
type Labelled interface {
	Label(code string) (string, bool)
}

func (c choices) labels() string {
	var all []string
	for _, ch := range c.Choices {
		all = append(all, ch.Label)
	}
	if len(all) > 8 {
		all = append(all[:8], "…")
	}
	return strings.Join(all, ", ")
}

type oneChoice struct{}

func (oneChoice) Name() KindName { return "one_choice" }

type oneSpec struct{ choices }

func (oneChoice) Spec(raw json.RawMessage) (Spec, error) {
	c, err := newChoices(raw)
	return oneSpec{c}, err
}

func (oneSpec) Class() Class { return ClassOne }

func (oneSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var code string
	if json.Unmarshal(raw, &code) != nil {
		return nil, fault("type_choice")
	}
	return One(code), nil
}

func (s oneSpec) Check(v Value, _ Env) []Fault {
	if _, ok := s.Label(string(v.(One))); !ok {
		return faults(fault("choice", "choices", s.labels()))
	}
	return nil
}

func (s oneSpec) Words(v Value, _ Env) string {
	label, _ := s.Label(string(v.(One)))
	return label
}

// One is the code of the chosen choice.
type One string

func (o One) Answered() bool { return o != "" }
func (o One) Terms() Terms {
	return Terms{Codes: []string{string(o)}, Number: one, Text: string(o)}
}

type severalChoices struct{}

func (severalChoices) Name() KindName { return "several_choices" }

type severalSpec struct{ choices }

func (severalChoices) Spec(raw json.RawMessage) (Spec, error) {
	c, err := newChoices(raw)
	return severalSpec{c}, err
}

func (severalSpec) Class() Class { return ClassSeveral }

func (severalSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var codes []string
	if json.Unmarshal(raw, &codes) != nil || len(codes) > mostChoices {
		return nil, fault("type_choices")
	}
	return Several(codes), nil
}

func (s severalSpec) Check(v Value, _ Env) []Fault {
	codes := v.(Several)
	seen := map[string]bool{}
	for _, code := range codes {
		if _, ok := s.Label(code); !ok {
			return faults(fault("choice", "choices", s.labels()))
		}
		if seen[code] {
			return faults(fault("twice"))
		}
		seen[code] = true
	}
	switch {
	case len(codes) < s.Least:
		return faults(fault("fewest", "least", strconv.Itoa(s.Least)))
	case s.Most > 0 && len(codes) > s.Most:
		return faults(fault("too_many", "most", strconv.Itoa(s.Most)))
	}
	return nil
}

// Words lists the labels in the question's order, whatever order they came in.
func (s severalSpec) Words(v Value, _ Env) string {
	var all []string
	for _, ch := range s.Choices {
		if slices.Contains(v.(Several), ch.Code) {
			all = append(all, ch.Label)
		}
	}
	return strings.Join(all, ", ")
}

// Several are the codes of the chosen choices.
type Several []string

func (s Several) Answered() bool { return len(s) > 0 }
func (s Several) Terms() Terms {
	return Terms{Codes: s, Number: decimal.NewFromInt(int64(len(s)))}
}

// A Coloured spec can show an answer as a colour.
type Coloured interface{ Colour(v Value) string }

// Colour gives the colour of the chosen choice, #rrggbb; empty without one.
func (s oneSpec) Colour(v Value) string {
	for _, ch := range s.Choices {
		if ch.Code == string(v.(One)) {
			return ch.Colour
		}
	}
	return ""
}
