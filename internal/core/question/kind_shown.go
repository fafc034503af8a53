package question

import (
	"encoding/json"
	"regexp"
	"ruvo/internal/core/words"
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

// Class implements Kind.
func (heading) Class() Class { return ClassNone }

func (heading) Spec(raw json.RawMessage) (Spec, error) { return settings[shown](raw) }

type note struct{}

func (note) Name() KindName { return "note" }

// Class implements Kind.
func (note) Class() Class { return ClassNone }

// noteSpec is a paragraph of Markdown with merge fields.
type noteSpec struct {
	shown
	Text string `json:"text"`
}

func (note) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[noteSpec](raw)
	if err == nil && strings.TrimSpace(s.Text) == "" {
		err = words.Tell("setting.text_empty")
	}
	return s, err
}

// Template gives the text with its merge fields.
func (n noteSpec) Template() string { return n.Text }

// A Templated spec shows a text with merge fields.
type Templated interface{ Template() string }

type picture struct{}

func (picture) Name() KindName { return "picture" }

// Class implements Kind.
func (picture) Class() Class { return ClassNone }

// pictureSpec is a picture shown among the questions. Alt says what is on it
// to people who do not see it.
type pictureSpec struct {
	shown
	Picture string `json:"picture"`
	Alt     string `json:"alt"`
}

func (picture) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[pictureSpec](raw)
	if err == nil && !PictureName(s.Picture) {
		err = words.Tell("setting.needs_picture")
	}
	return s, err
}

type section struct{}

func (section) Name() KindName { return "section" }

// Class implements Kind.
func (section) Class() Class { return ClassNone }

// sectionSpec is a group of questions under a title and a condition of its
// own. With Step, the shop shows it as a step of its own.
type sectionSpec struct {
	shown
	Step bool `json:"step,omitempty"`
}

func (section) Spec(raw json.RawMessage) (Spec, error) { return settings[sectionSpec](raw) }

// Sections says whether a spec is a section, in which others can stand.
func Sections(s Spec) bool { _, ok := s.(sectionSpec); return ok }

var pictureForm = regexp.MustCompile(`^[a-z0-9][a-z0-9_-]{0,79}\.(png|jpg|webp|svg)$`)

// PictureName says whether a text is the name of a picture.
func PictureName(s string) bool { return pictureForm.MatchString(s) }
