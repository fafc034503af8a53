package question

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/words"
)

type colour struct{}

func (colour) Name() KindName { return "colour" }

// Class implements Kind.
func (colour) Class() Class { return ClassText }

// A Paint is a colour of a palette with its name.
type Paint struct {
	Name   string `json:"name"`
	Colour string `json:"colour"` // sRGB as #rrggbb
}

// colourSpec takes a colour of the Palette or, when Free, any.
type colourSpec struct {
	Palette []Paint `json:"palette,omitempty"`
	Free    bool    `json:"free,omitempty"`
	// Text is the colour of what is written on it; without one, black or
	// white, whichever reads better.
	Text string `json:"text,omitempty"`
	// LeastContrast is how much text on it has to stand out (WCAG 2.2: 4.5
	// for text, 3 for large text).
	LeastContrast *decimal.Decimal `json:"least_contrast,omitempty"`
}

func (colour) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[colourSpec](raw)
	if err != nil {
		return nil, err
	}
	switch {
	case !s.Free && len(s.Palette) == 0:
		return nil, words.Tell("setting.needs_palette_take_any_colour")
	case len(s.Palette) > 100:
		return nil, words.Tell("setting.palette_can_have_100_colours")
	case s.Text != "" && !colourForm.MatchString(s.Text):
		return nil, words.Tell("setting.colour_text_must_read_like")
	case s.LeastContrast != nil && (s.LeastContrast.LessThan(one) || s.LeastContrast.GreaterThan(decimal.NewFromInt(21))):
		return nil, words.Tell("setting.least_contrast_must_lie_between")
	}
	for i, p := range s.Palette {
		if strings.TrimSpace(p.Name) == "" || !colourForm.MatchString(p.Colour) {
			return nil, words.Tell("setting.colour_palette_needs_name_colour", "n", i+1)
		}
		s.Palette[i].Colour = strings.ToLower(p.Colour)
	}
	return s, nil
}

func (colourSpec) Class() Class { return ClassText }

func (colourSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var hex string
	if json.Unmarshal(raw, &hex) != nil || hex != "" && !colourForm.MatchString(hex) {
		return nil, fault("type_colour")
	}
	return Colour(strings.ToLower(hex)), nil
}

func (s colourSpec) Check(v Value, env Env) []Fault {
	hex := string(v.(Colour))
	if _, ok := s.paint(hex); !ok && !s.Free {
		var names []string
		for _, p := range s.Palette {
			names = append(names, p.Name)
		}
		return faults(fault("choice", "choices", strings.Join(names, ", ")))
	}
	if on, ratio := s.contrast(hex); s.LeastContrast != nil && decimal.NewFromFloat(ratio).LessThan(*s.LeastContrast) {
		return faults(fault("contrast", "text", on, "ratio", ratioWords(ratio, env.Language), "least", env.Language.Number(*s.LeastContrast)))
	}
	return nil
}

func (s colourSpec) paint(hex string) (string, bool) {
	i := slices.IndexFunc(s.Palette, func(p Paint) bool { return p.Colour == hex })
	if i < 0 {
		return "", false
	}
	return s.Palette[i].Name, true
}

// contrast gives the colour of text on it and how much it stands out.
func (s colourSpec) contrast(hex string) (on string, ratio float64) {
	if s.Text != "" {
		return s.Text, Contrast(hex, s.Text)
	}
	black, white := Contrast(hex, "#000000"), Contrast(hex, "#ffffff")
	if white >= black {
		return "#ffffff", white
	}
	return "#000000", black
}

func ratioWords(ratio float64, l words.Language) string {
	return l.Number(decimal.NewFromFloat(ratio).Truncate(1)) // never more than it is
}

// Words names the colour and says how well text on it reads.
func (s colourSpec) Words(v Value, env Env) string {
	hex := string(v.(Colour))
	name, ok := s.paint(hex)
	if !ok {
		near, exact := NearestName(hex)
		if name = env.Language.Say("colour.name."+near, nil); !exact {
			name = env.Language.Say("colour.near", words.Params{"name": name})
		}
	}
	on, ratio := s.contrast(hex)
	ink := on
	switch on {
	case "#ffffff":
		ink = env.Language.Say("colour.white", nil)
	case "#000000":
		ink = env.Language.Say("colour.black", nil)
	}
	return env.Language.Say("colour.words", words.Params{"name": name, "hex": hex, "text": ink, "ratio": ratioWords(ratio, env.Language)})
}

// Colour gives the colour itself.
func (colourSpec) Colour(v Value) string { return string(v.(Colour)) }

// Colour is an sRGB colour, #rrggbb in lower case.
type Colour string

// Answered implements Value.
func (c Colour) Answered() bool { return c != "" }

// Terms implements Value.
func (c Colour) Terms() Terms { return Terms{Text: string(c)} }

// MakeUp implements Inventive.
func (s colourSpec) MakeUp(r *rand.Rand, _ Env) Value {
	if len(s.Palette) > 0 {
		return Colour(s.Palette[r.IntN(len(s.Palette))].Colour)
	}
	return Colour(fmt.Sprintf("#%06x", r.IntN(1<<24)))
}
