package question

import (
	"encoding/json"
	"maps"
	"math/rand/v2"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// A Choice is one selectable answer. Its code is stored and compared; its
// label is read.
type Choice struct {
	Code        string `json:"code"`
	Label       string `json:"label"`
	Help        string `json:"help,omitempty"`
	Picture     string `json:"picture,omitempty"`
	Colour      string `json:"colour,omitempty"`      // sRGB as #rrggbb, shown as a swatch
	Preselected bool   `json:"preselected,omitempty"` // chosen at first, never when it costs something
	Article     string `json:"article,omitempty"`     // is added to the product's article code
	Cost        int64  `json:"cost,omitempty"`        // of one, in minor units; seen at the desk only
	// When is the condition under which the choice is offered. Conditions
	// are compiled with the product, which knows the other questions.
	When json.RawMessage `json:"when,omitempty"`
}

// choices is the common part of both choice kinds. Drawn says how the shop
// draws them: "list", "buttons", "cards" or "swatches".
type choices struct {
	Choices []Choice `json:"choices"`
	Drawn   string   `json:"drawn,omitempty"`
	// Main makes the picture of the chosen choice the product's main picture.
	Main bool `json:"main,omitempty"`

	// For several choices only:
	Least    int  `json:"least,omitempty"` // choices, or counted ones
	Most     int  `json:"most,omitempty"`  // 0 is no limit
	Counted  bool `json:"counted,omitempty"`
	MostEach int  `json:"most_each,omitempty"` // of one counted choice; 0 is 999
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
		return c, words.Tell("setting.needs_between_1_choices", "mostchoices", mostChoices)
	}
	if !slices.Contains([]string{"", "list", "buttons", "cards", "swatches"}, c.Drawn) {
		return c, words.Tell("setting.choices_can_drawn_as_list")
	}
	seen := map[string]bool{}
	for i, ch := range c.Choices {
		switch {
		case !codeForm.MatchString(ch.Code):
			return c, words.Tell("setting.choice_needs_code_lowercase_letters", "n", i+1)
		case seen[ch.Code]:
			return c, words.Tell("setting.two_choices_have_code", "code", ch.Code)
		case strings.TrimSpace(ch.Label) == "":
			return c, words.Tell("setting.choice_needs_label", "code", ch.Code)
		case ch.Picture != "" && !PictureName(ch.Picture):
			return c, words.Tell("setting.picture_choice_must_name_picture", "code", ch.Code)
		case ch.Cost < 0 || ch.Cost > int64(money.Largest) || len(ch.Article) > 40:
			return c, words.Tell("setting.cost_choice_must_not_below", "code", ch.Code)
		case ch.Colour != "" && !colourForm.MatchString(ch.Colour):
			return c, words.Tell("setting.colour_choice_must_read_like", "code", ch.Code)
		}
		seen[ch.Code] = true
	}
	if c.Least < 0 || c.Most < 0 || c.Most > 0 && c.Least > c.Most || c.Least > len(c.Choices) && !c.Counted {
		return c, words.Tell("setting.least_number_choices_does_not")
	}
	if c.MostEach < 0 || c.MostEach > 100_000 {
		return c, words.Tell("setting.most_one_choice_must_not")
	}
	if c.MostEach == 0 {
		c.MostEach = 999
	}
	return c, nil
}

// Range gives how many choices an answer can have.
func (c choices) Range() (least, most float64) {
	if c.Counted {
		return float64(c.Least), float64(len(c.Choices) * c.MostEach)
	}
	return float64(c.Least), float64(len(c.Choices))
}

// All lists the choices.
func (c choices) All() []Choice { return c.Choices }

// Showing gives the picture that the product shows for an answer; empty for
// none.
func (c choices) Showing(v Value) string {
	if !c.Main {
		return ""
	}
	codes := v.Terms().Codes
	for _, ch := range c.Choices {
		if ch.Picture != "" && slices.Contains(codes, ch.Code) {
			return ch.Picture
		}
	}
	return ""
}

// A Choosable spec offers choices.
type Choosable interface {
	All() []Choice
	// Narrow gives an answer without what is not offered.
	Narrow(v Value, offered func(code string) bool) Value
	// Showing gives the main picture that an answer asks for; empty for none.
	Showing(v Value) string
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

// Class implements Kind.
func (oneChoice) Class() Class { return ClassOne }

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

// Narrow implements Choosable.
func (oneSpec) Narrow(v Value, offered func(string) bool) Value {
	if offered(string(v.(One))) {
		return v
	}
	return None{}
}

func (s oneSpec) Words(v Value, _ Env) string {
	label, _ := s.Label(string(v.(One)))
	return label
}

// One is the code of the chosen choice.
type One string

// Answered implements Value.
func (o One) Answered() bool { return o != "" }

// Terms implements Value.
func (o One) Terms() Terms {
	return Terms{Codes: []string{string(o)}, Number: one, Text: string(o)}
}

type severalChoices struct{}

func (severalChoices) Name() KindName { return "several_choices" }

// Class implements Kind.
func (severalChoices) Class() Class { return ClassSeveral }

type severalSpec struct{ choices }

func (severalChoices) Spec(raw json.RawMessage) (Spec, error) {
	c, err := newChoices(raw)
	return severalSpec{c}, err
}

func (severalSpec) Class() Class { return ClassSeveral }

func (s severalSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	if s.Counted {
		var counts map[string]int64
		if json.Unmarshal(raw, &counts) != nil || len(counts) > mostChoices {
			return nil, fault("type_counts")
		}
		for _, n := range counts {
			if n > countless || n < -countless {
				return nil, fault("type_counts")
			}
		}
		return Counts(counts), nil
	}
	var codes []string
	if json.Unmarshal(raw, &codes) != nil || len(codes) > mostChoices {
		return nil, fault("type_choices")
	}
	return Several(codes), nil
}

func (s severalSpec) Check(v Value, _ Env) []Fault {
	if c, ok := v.(Counts); ok {
		return s.checkCounts(c)
	}
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
	return s.within(int64(len(codes)))
}

func (s severalSpec) checkCounts(c Counts) []Fault {
	for _, code := range slices.Sorted(maps.Keys(c)) {
		if _, ok := s.Label(code); !ok {
			return faults(fault("choice", "choices", s.labels()))
		}
		switch n := c[code]; {
		case n < 0:
			return within(code, faults(fault("least", "least", "0")))
		case n > int64(s.MostEach):
			return within(code, faults(fault("most", "most", strconv.Itoa(s.MostEach))))
		}
	}
	return s.within(c.sum())
}

func (s severalSpec) within(n int64) []Fault {
	switch {
	case n < int64(s.Least):
		return faults(fault("fewest", "least", strconv.Itoa(s.Least)))
	case s.Most > 0 && n > int64(s.Most):
		return faults(fault("too_many", "most", strconv.Itoa(s.Most)))
	}
	return nil
}

// Narrow implements Choosable.
func (severalSpec) Narrow(v Value, offered func(string) bool) Value {
	switch v := v.(type) {
	case Several:
		return slices.DeleteFunc(slices.Clone(v), func(code string) bool { return !offered(code) })
	case Counts:
		c := maps.Clone(v)
		maps.DeleteFunc(c, func(code string, _ int64) bool { return !offered(code) })
		return c
	}
	return v
}

// Words lists the labels in the question's order, whatever order they came in.
func (s severalSpec) Words(v Value, _ Env) string {
	terms := v.Terms()
	var all []string
	for _, ch := range s.Choices {
		switch {
		case !slices.Contains(terms.Codes, ch.Code):
		case s.Counted:
			all = append(all, strconv.FormatInt(terms.Counts[ch.Code], 10)+" × "+ch.Label)
		default:
			all = append(all, ch.Label)
		}
	}
	return strings.Join(all, ", ")
}

// Several are the codes of the chosen choices.
type Several []string

// Answered implements Value.
func (s Several) Answered() bool { return len(s) > 0 }

// Terms implements Value.
func (s Several) Terms() Terms {
	return Terms{Codes: s, Number: decimal.NewFromInt(int64(len(s)))}
}

// Counts are how many of each choice by its code.
type Counts map[string]int64

func (c Counts) sum() int64 {
	n := int64(0)
	for _, k := range c {
		n += k
	}
	return n
}

// Answered implements Value.
func (c Counts) Answered() bool { return c.sum() > 0 }

// Terms has the codes of which there are some, and all of them added.
func (c Counts) Terms() Terms {
	t := Terms{Counts: c, Number: decimal.NewFromInt(c.sum())}
	for _, code := range slices.Sorted(maps.Keys(c)) {
		if c[code] > 0 {
			t.Codes = append(t.Codes, code)
		}
	}
	return t
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

// Samples implements Sampled.
func (s oneSpec) Samples([]int) ([]Value, bool) {
	list := make([]Value, len(s.Choices))
	for i, c := range s.Choices {
		list[i] = One(c.Code)
	}
	return list, true
}

// Samples implements Sampled. There are too many of many choices to name them.
func (s severalSpec) Samples([]int) ([]Value, bool) {
	if s.Counted {
		return s.counts()
	}
	if len(s.Choices) > 12 {
		return nil, false
	}
	var list []Value
	for set := 1; set < 1<<len(s.Choices); set++ {
		var v Several
		for i, c := range s.Choices {
			if set>>i&1 == 1 {
				v = append(v, c.Code)
			}
		}
		list = append(list, v)
	}
	return list, true
}

// counts names all counted answers, if they are few.
func (s severalSpec) counts() ([]Value, bool) {
	all := []Counts{{}}
	for _, c := range s.Choices {
		var next []Counts
		for _, so := range all {
			for n := range s.MostEach + 1 {
				more := maps.Clone(so)
				if n > 0 {
					more[c.Code] = int64(n)
				}
				if next = append(next, more); len(next) > 1000 {
					return nil, false
				}
			}
		}
		all = next
	}
	var list []Value
	for _, c := range all {
		if len(c) > 0 {
			list = append(list, c)
		}
	}
	return list, true
}

// MakeUp implements Inventive: some of the choices, as many as are asked for.
func (s severalSpec) MakeUp(r *rand.Rand, _ Env) Value {
	most := len(s.Choices)
	if s.Most > 0 {
		most = min(most, s.Most)
	}
	least := min(max(s.Least, 1), most)
	n := least + r.IntN(most-least+1)
	if s.Counted {
		counts := Counts{}
		for range n {
			c := s.Choices[r.IntN(len(s.Choices))].Code
			counts[c] = min(counts[c]+1, int64(s.MostEach))
		}
		return counts
	}
	var v Several
	for _, i := range r.Perm(len(s.Choices))[:n] {
		v = append(v, s.Choices[i].Code)
	}
	return v
}
