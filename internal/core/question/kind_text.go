package question

import (
	"encoding/json"
	"math/rand/v2"
	"regexp"
	"ruvo/internal/core/words"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/rivo/uniseg"
)

// The longest texts that any question takes, in characters.
const (
	longestShort = 500
	longestLong  = 5000
)

type shortText struct{}

func (shortText) Name() KindName { return "short_text" }

// Class implements Kind.
func (shortText) Class() Class { return ClassText }
func (shortText) Spec(raw json.RawMessage) (Spec, error) {
	return newText(raw, longestShort, false)
}

type longText struct{}

func (longText) Name() KindName { return "long_text" }

// Class implements Kind.
func (longText) Class() Class { return ClassText }
func (longText) Spec(raw json.RawMessage) (Spec, error) {
	return newText(raw, longestLong, true)
}

// text is a text of Least to Most characters, counted as people count them
// (extended grapheme clusters, UAX #29), spaces included.
type text struct {
	Least     int     `json:"least,omitempty"`
	Most      int     `json:"most,omitempty"`
	MostWords int     `json:"most_words,omitempty"`
	Allowed   Allowed `json:"allowed,omitempty"`
	// Pattern is what the whole text must match (RE2), Says how the seller
	// puts that to people.
	Pattern string `json:"pattern,omitempty"`
	Says    string `json:"says,omitempty"`
	lines   bool
	match   *regexp.Regexp
}

// Prose is a Spec whose answers are texts of words, which can be counted.
type Prose interface{ Prose() }

// Prose implements Prose.
func (text) Prose() {}

// Allowed names the characters that a text may have.
type Allowed string

const (
	AnyCharacters  Allowed = ""                // whatever is typed
	OnlyLetters    Allowed = "letters"         // and spaces, hyphens, apostrophes, full stops
	LettersDigits  Allowed = "letters_digits"  // and the same
	CapitalsDigits Allowed = "capitals_digits" // upper-case letters and digits
	longestPattern         = 200               // bytes
)

func (a Allowed) permits(r rune) bool {
	switch a {
	case OnlyLetters, LettersDigits:
		return unicode.IsLetter(r) || unicode.Is(unicode.M, r) || strings.ContainsRune(" -'’.\n", r) || a == LettersDigits && unicode.IsDigit(r)
	case CapitalsDigits:
		return unicode.IsUpper(r) || unicode.IsDigit(r)
	}
	return true
}

func newText(raw json.RawMessage, longest int, lines bool) (Spec, error) {
	t, err := settings[text](raw)
	if err != nil {
		return nil, err
	}
	if t.Most == 0 {
		t.Most = longest
	}
	t.lines = lines
	switch {
	case t.Least < 0 || t.Most < 1 || t.Most > longest || t.Least > t.Most:
		return nil, words.Tell("setting.length_must_lie_between_0", "longest", strconv.Itoa(longest))
	case t.MostWords < 0 || t.MostWords > longest:
		return nil, words.Tell("setting.number_words_must_not_below")
	case !slices.Contains([]Allowed{AnyCharacters, OnlyLetters, LettersDigits, CapitalsDigits}, t.Allowed):
		return nil, words.Tell("setting.characters_can_any_letters_lettersdigits")
	case len(t.Pattern) > longestPattern:
		return nil, words.Tell("setting.pattern_longer_than_characters", "longestpattern", strconv.Itoa(longestPattern))
	case t.Pattern != "" && strings.TrimSpace(t.Says) == "":
		return nil, words.Tell("setting.pattern_needs_words_tell_people")
	}
	if t.Pattern != "" {
		if t.match, err = regexp.Compile(`\A(?:` + t.Pattern + `)\z`); err != nil {
			return nil, words.Tell("setting.pattern_cannot_read", "why", err)
		}
	}
	return t, nil
}

func (text) Class() Class { return ClassText }

func (t text) Decode(raw json.RawMessage) (Value, *Fault) {
	var s string
	if json.Unmarshal(raw, &s) != nil {
		return nil, fault("type_text")
	}
	// A character can be many bytes, but not in honest use this many.
	if len(s) > t.Most*64 || !utf8.ValidString(s) {
		return nil, fault("longest", "most", strconv.Itoa(t.Most))
	}
	s = strings.TrimSpace(strings.ReplaceAll(s, "\r\n", "\n"))
	for _, r := range s {
		if unicode.Is(unicode.Cc, r) && (r != '\n' || !t.lines) && r != '\t' {
			return nil, fault("control")
		}
	}
	return Text(s), nil
}

func (t text) Check(v Value, _ Env) []Fault {
	n := Characters(string(v.(Text)))
	switch {
	case n > t.Most:
		return faults(fault("longest", "most", strconv.Itoa(t.Most), "count", strconv.Itoa(n)))
	case n < t.Least:
		return faults(fault("shortest", "least", strconv.Itoa(t.Least), "count", strconv.Itoa(n)))
	}
	s := string(v.(Text))
	if t.MostWords > 0 && len(strings.Fields(s)) > t.MostWords {
		return faults(fault("most_words", "most", strconv.Itoa(t.MostWords)))
	}
	if i := strings.IndexFunc(s, func(r rune) bool { return !t.Allowed.permits(r) }); i >= 0 {
		r, _ := utf8.DecodeRuneInString(s[i:])
		return faults(fault("allowed_"+string(t.Allowed), "character", string(r)))
	}
	if t.match != nil && !t.match.MatchString(s) {
		return faults(fault("pattern", "says", t.Says))
	}
	return nil
}

func (text) Words(v Value, _ Env) string { return string(v.(Text)) }

// Text is the answer to a text question, trimmed.
type Text string

// Answered implements Value.
func (t Text) Answered() bool { return t != "" }

// Terms implements Value.
func (t Text) Terms() Terms { return Terms{Text: string(t)} }

// Characters counts the extended grapheme clusters of a text (UAX #29).
func Characters(s string) int {
	if plain(s) {
		return len(s)
	}
	return uniseg.GraphemeClusterCount(s)
}

// Letters counts the characters that are not white space: what a letterer is
// paid for.
func Letters(s string) int {
	n := 0
	if plain(s) {
		for i := range len(s) {
			if s[i] != ' ' && (s[i] < '\t' || s[i] > '\r') {
				n++
			}
		}
		return n
	}
	state := -1
	for s != "" {
		var cluster string
		cluster, s, _, state = uniseg.FirstGraphemeClusterInString(s, state)
		if strings.TrimSpace(cluster) != "" {
			n++
		}
	}
	return n
}

// plain says whether every byte is a character of its own: ASCII without a
// carriage return, which joins the line feed after it.
func plain(s string) bool {
	for i := range len(s) {
		if s[i] >= utf8.RuneSelf || s[i] == '\r' {
			return false
		}
	}
	return true
}

// Samples implements Sampled: texts of so many letters and words. Whether a
// pattern takes them is not looked at.
func (t text) Samples(around []int) ([]Value, bool) {
	lengths, all := numbersFor(max(t.Least, 1), t.Most, around)
	list := make([]Value, 0, 2*len(lengths))
	for _, n := range lengths {
		list = append(list, Text(strings.Repeat("x", n)))
		words := (n + 1) / 2
		if t.MostWords > 0 {
			words = min(words, t.MostWords)
		}
		list = append(list, Text(strings.TrimSpace(strings.Repeat("x ", words))))
	}
	return list, all && t.Pattern == ""
}

// MakeUp implements Inventive.
func (t text) MakeUp(r *rand.Rand, _ Env) Value {
	if t.match != nil {
		return Text(matching(r, t.Pattern))
	}
	s := wordsOf(r, max(t.Least, 1), t.Most)
	if t.MostWords > 0 {
		if w := strings.Fields(s); len(w) > t.MostWords {
			s = strings.Join(w[:t.MostWords], " ")
		}
	}
	if t.Allowed == CapitalsDigits {
		s = strings.ToUpper(strings.ReplaceAll(s, " ", "7"))
	}
	return Text(s)
}
