package question

import (
	"encoding/json"
	"math/rand/v2"
	"regexp"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
)

// What is made up is valid, for every kind and whatever it is set to; it is read from
// its own JSON as what it was, and the same source makes up the same.
func TestMadeUpAnswersAreValid(t *testing.T) {
	env := Env{Today: calendar.Day{Year: 2026, Month: 11, Number: 27}, Zone: time.UTC, Currency: "EUR", Language: words.English, Units: 3, Answers: Answers{}}
	choices := `"choices": [{"code": "a", "label": "A"}, {"code": "b", "label": "B"}, {"code": "c", "label": "C"}]`
	tried := map[KindName]bool{}
	for _, c := range []struct {
		kind     KindName
		settings string
	}{
		{"short_text", ``}, {"short_text", `{"least": 10, "most": 12}`}, {"short_text", `{"most": 1}`}, {"short_text", `{"most_words": 2}`},
		{"short_text", `{"allowed": "letters"}`}, {"short_text", `{"allowed": "letters_digits"}`}, {"short_text", `{"allowed": "capitals_digits", "most": 8}`},
		{"short_text", `{"pattern": "[A-Z]{2}-\\d{4}(a|b)?", "says": "like AB-1234"}`}, {"long_text", `{"least": 100}`},
		{"number", `{"least": "0.5", "most": "4", "step": "0.5"}`}, {"number", ``}, {"count", `{"least": 3, "most": 5}`}, {"yes_no", ``},
		{"one_choice", `{` + choices + `}`}, {"several_choices", `{` + choices + `, "least": 2, "most": 2}`}, {"several_choices", `{` + choices + `, "counted": true, "least": 2, "most": 4}`},
		{"date", ``}, {"date", `{"earliest": {"from_today": 3}, "latest": {"from_today": 10}, "weekdays": [5]}`}, {"date", `{"latest": {"day": "1999-12-31"}}`},
		{"time", `{"earliest": "09:10", "latest": "11:00", "step": 20}`}, {"date_span", `{"least": 2, "most": 4}`}, {"mail", ``}, {"phone", `{"country": "NO"}`}, {"phone", ``},
		{"web_address", ``}, {"postal_address", `{"countries": ["GB", "US", "NL", "HK"]}`}, {"postal_address", ``},
		{"colour", `{"palette": [{"name": "Night", "colour": "#141c33"}]}`}, {"colour", `{"free": true, "least_contrast": "4.5"}`},
		{"signature", `{"text": "I agree."}`}, {"consent", `{"text": "Terms", "version": "2"}`}, {"link_value", `{"values": ["fair", "net"]}`}, {"link_value", ``},
		{"amount", `{"least": 100, "most": 900}`},
		{"repeat", `{"least": 1, "most": 3, "questions": [{"key": "name", "kind": "short_text", "wording": "Name", "required": true}, {"key": "day", "kind": "date", "wording": "Day"}]}`},
	} {
		spec, err := Compile(Question{Kind: c.kind, Settings: json.RawMessage(c.settings)})
		if err != nil {
			t.Fatalf("%s %s: %v", c.kind, c.settings, err)
		}
		tried[c.kind] = true
		for seed := range uint64(60) {
			v, ok := MakeUp(spec, rand.New(rand.NewPCG(seed, 1)), env)
			if !ok || len(spec.Check(v, env)) > 0 {
				t.Errorf("%s %s, seed %d: %v, %v", c.kind, c.settings, seed, v, ok)
				break
			}
			raw, err := json.Marshal(v)
			if err != nil {
				t.Fatal(err)
			}
			read, wrong := spec.Decode(raw)
			if wrong != nil || spec.Words(read, env) != spec.Words(v, env) {
				t.Errorf("%s: %s is read as %v: %v", c.kind, raw, read, wrong)
			}
			if same, _ := MakeUp(spec, rand.New(rand.NewPCG(seed, 1)), env); spec.Words(same, env) != spec.Words(v, env) {
				t.Errorf("%s, seed %d: once %v, then %v", c.kind, seed, v, same)
			}
		}
	}
	for _, k := range Kinds() {
		// What is booked hangs on what is free, files are sent; both are tried with whole products.
		if k.Class != ClassNone && !tried[k.Name] && k.Name != "booking" && k.Name != "files" {
			t.Errorf("nothing is made up for a question of the kind %s", k.Name)
		}
	}
}

// Outside check: Go's regexp matches what is made up from a pattern. A pattern that
// matches nothing gets no answer.
func TestMadeUpTextsMatchTheirPattern(t *testing.T) {
	for _, pattern := range []string{`a+b*c?`, `[A-Z]{3}\d{2,4}`, `(Mr|Ms|Dr)\.? \pL{2,9}`, `\d{4}-(0[1-9]|1[0-2])`, `.{5}`, `(?i:ab)[^\n]x`, `\S+@\S+`} {
		whole := regexp.MustCompile(`\A(?:` + pattern + `)\z`)
		for seed := range uint64(100) {
			if s := matching(rand.New(rand.NewPCG(seed, 2)), pattern); !whole.MatchString(s) {
				t.Errorf("%s: %q", pattern, s)
			}
		}
	}
	spec, err := Compile(Question{Kind: "short_text", Settings: json.RawMessage(`{"pattern": "a\\bb", "says": "nothing"}`)})
	if err != nil {
		t.Fatal(err)
	}
	if v, ok := MakeUp(spec, rand.New(rand.NewPCG(1, 1)), Env{}); ok {
		t.Errorf("%v matches what nothing does", v)
	}
}

// A picture that was cut to a shape fits it.
func TestACutPictureHasItsShape(t *testing.T) {
	for _, s := range []Shape{{1, 1}, {3, 2}, {2, 3}, {16, 9}} {
		for _, f := range []File{{Width: 400, Height: 300}, {Width: 300, Height: 400}, {Width: 1600, Height: 900}} {
			if c := s.Within(f.Width, f.Height); !c.valid() || !s.fits(c, f) {
				t.Errorf("%v of %v: %v", s, f, c)
			}
		}
	}
	if !strings.Contains(wordsOf(rand.New(rand.NewPCG(1, 1)), 30, 40), " ") {
		t.Error("a long text has no words")
	}
}
