// Package merge fills merge fields, written in Mustache, with answers and
// facts of the order.
package merge

import (
	"regexp"
	"strings"

	"github.com/cbroglie/mustache"

	"ruvo/internal/core/words"
)

// A Template is a text with merge fields, read once and rendered often.
type Template struct {
	parsed *mustache.Template // nil when there is no field
	// pieces are the text cut at its fields, of a text that has nothing but
	// fields, as most have: literal, name, literal, name, …, literal.
	pieces []string
}

// field is a merge field in its common form.
var field = regexp.MustCompile(`\{\{ *(\w+) *\}\}`)

// cut cuts a text at its fields; nothing when it has anything else in braces.
func cut(text string) []string {
	if strings.Contains(text, "{{{") || strings.Contains(text, "}}}") {
		return nil
	}
	var pieces []string
	from := 0
	for _, at := range field.FindAllStringSubmatchIndex(text, -1) {
		pieces = append(pieces, text[from:at[0]], text[at[2]:at[3]])
		from = at[1]
	}
	pieces = append(pieces, text[from:])
	for i := 0; i < len(pieces); i += 2 {
		if strings.Contains(pieces[i], "{{") || strings.Contains(pieces[i], "}}") {
			return nil
		}
	}
	return pieces
}

// longest bounds a template, in bytes.
const longest = 20_000

// Parse reads a template. Values are put in as they are; the caller escapes
// them for where the text lands. Partials are refused.
func Parse(text string) (*Template, error) {
	if len(text) > longest {
		return nil, words.Tell("merge.text_longer_than_bytes", "longest", longest)
	}
	if !strings.Contains(text, "{{") {
		return &Template{pieces: []string{text}}, nil
	}
	t, err := mustache.ParseStringPartialsRaw(text, &mustache.StaticProvider{}, true)
	if err != nil {
		return nil, words.Tell("merge.merge_fields_cannot_read", "why", err)
	}
	for _, tag := range t.Tags() {
		if tag.Type() == mustache.Partial {
			return nil, words.Tell("merge.has_no_meaning_here", "name", "{{>"+tag.Name()+"}}")
		}
	}
	return &Template{parsed: t, pieces: cut(text)}, nil
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
func (t *Template) Render(value func(name string) string) string {
	if t == nil {
		return ""
	}
	if t.pieces != nil {
		var b strings.Builder
		for i, p := range t.pieces {
			if i%2 == 1 {
				p = value(p)
			}
			b.WriteString(p)
		}
		return b.String()
	}
	values := map[string]any{}
	for _, name := range t.Fields() {
		if v := value(name); v != "" {
			values[name] = v
		}
	}
	s, err := t.parsed.Render(values)
	if err != nil {
		return ""
	}
	return s
}

// special are the signs that mean something in Markdown.
const special = "\\`*_{}[]()<>#+-.!|~&:@/"

// EscapeMarkdown makes a value stand in Markdown as the plain text it is.
func EscapeMarkdown(s string) string {
	if !strings.ContainsAny(s, special) {
		return s
	}
	var b strings.Builder
	for _, r := range s {
		if r < 128 && strings.ContainsRune(special, r) {
			b.WriteByte('\\')
		}
		b.WriteRune(r)
	}
	return b.String()
}

// Map gives each name in a template another one, wherever it stands: with
// spaces, in sections and in what is put in unescaped too.
func Map(text string, to func(name string) string) string {
	if !strings.Contains(text, "{{") {
		return text
	}
	return tagForm.ReplaceAllStringFunc(text, func(tag string) string {
		m := tagForm.FindStringSubmatch(tag)
		return m[1] + to(m[2]) + m[3]
	})
}

// tagForm is a tag of a Mustache template (mustache(5)): its opening with the
// sign of a section, its name, its end.
var tagForm = regexp.MustCompile(`(\{\{\{?\s*[#^/&]?\s*)([\w.]+)(\s*\}?\}\})`)
