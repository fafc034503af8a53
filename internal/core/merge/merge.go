// Package merge fills merge fields, written in Mustache, with answers and
// facts of the order.
package merge

import (
	"fmt"
	"strings"

	"github.com/cbroglie/mustache"
)

// A Template is a text with merge fields, read once and rendered often.
type Template struct {
	parsed *mustache.Template
	plain  string // set when there is no field, so that nothing is rendered
}

// longest bounds a template, in bytes.
const longest = 20_000

// Parse reads a template. Values are put in as they are; the caller escapes
// them for where the text lands. Partials are refused.
func Parse(text string) (*Template, error) {
	if len(text) > longest {
		return nil, fmt.Errorf("the text is longer than %d bytes", longest)
	}
	if !strings.Contains(text, "{{") {
		return &Template{plain: text}, nil
	}
	t, err := mustache.ParseStringPartialsRaw(text, &mustache.StaticProvider{}, true)
	if err != nil {
		return nil, fmt.Errorf("its merge fields cannot be read: %w", err)
	}
	for _, tag := range t.Tags() {
		if tag.Type() == mustache.Partial {
			return nil, fmt.Errorf("{{>%s}} has no meaning here", tag.Name())
		}
	}
	return &Template{parsed: t}, nil
}

// Fields lists the names that the template reads, each once.
func (t *Template) Fields() []string {
	if t == nil || t.parsed == nil {
		return nil
	}
	var names []string
	seen := map[string]bool{}
	var walk func([]mustache.Tag)
	walk = func(tags []mustache.Tag) {
		for _, tag := range tags {
			if name := tag.Name(); name != "." && !seen[name] {
				seen[name] = true
				names = append(names, name)
			}
			if tag.Type() == mustache.Section || tag.Type() == mustache.InvertedSection {
				walk(tag.Tags())
			}
		}
	}
	walk(t.parsed.Tags())
	return names
}

// Render fills the template. A field without a value is empty.
func (t *Template) Render(values map[string]any) string {
	if t == nil {
		return ""
	}
	if t.parsed == nil {
		return t.plain
	}
	s, err := t.parsed.Render(values)
	if err != nil {
		return ""
	}
	return s
}

// EscapeMarkdown makes a value stand in Markdown as the plain text it is.
func EscapeMarkdown(s string) string {
	var b strings.Builder
	for _, r := range s {
		if r < 128 && strings.ContainsRune("\\`*_{}[]()<>#+-.!|~&:@/", r) {
			b.WriteByte('\\')
		}
		b.WriteRune(r)
	}
	return b.String()
}
