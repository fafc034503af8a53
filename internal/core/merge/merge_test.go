package merge

import (
	"slices"
	"strings"
	"testing"
)

// Source: the Mustache specification's examples for variables, sections and
// inverted sections (mustache(5), from memory).
func TestRender(t *testing.T) {
	value := func(name string) string {
		return map[string]string{"title": "Ada & <Bea>", "gift": "Yes", "none": ""}[name]
	}
	for _, c := range []struct{ text, want string }{
		{"no field", "no field"},
		{"“{{title}}”", "“Ada & <Bea>”"},
		{"{{{title}}}", "Ada & <Bea>"},
		{"{{#gift}}a gift{{/gift}}{{^gift}}for yourself{{/gift}}", "a gift"},
		{"{{#unknown}}x{{/unknown}}{{^unknown}}nothing{{/unknown}}", "nothing"},
		{"[{{missing}}]", "[]"},
		{"{{! a comment }}after", "after"},
		{"{{ title }}, {{title}}{{gift}}", "Ada & <Bea>, Ada & <Bea>Yes"},
		{"{{#none}}x{{/none}}{{^none}}y{{/none}}", "y"},
	} {
		tpl, err := Parse(c.text)
		if err != nil {
			t.Errorf("%q: %v", c.text, err)
			continue
		}
		if got := tpl.Render(value); got != c.want {
			t.Errorf("%q renders %q, want %q", c.text, got, c.want)
		}
	}
	var none *Template
	if none.Render(value) != "" || none.Fields() != nil {
		t.Error("no template renders nothing")
	}
}

// A text with nothing but fields is filled as the library fills it.
func TestFieldsAreFilledAsTheLibraryDoes(t *testing.T) {
	value := func(name string) string { return map[string]string{"a": "<1>", "b": "{{a}}", "c": ""}[name] }
	for _, text := range []string{"{{a}}", "x {{a}} y {{b}}{{c}} z", "{{a}}{{ b }}", "{{missing}}!", "a\n{{a}}\n\n{{b}}\n", "{ {{a}} }", "}{{{a}}}{"} {
		tpl, err := Parse(text)
		if err != nil {
			t.Fatal(text, err)
		}
		quick := tpl.Render(value)
		tpl.pieces = nil
		if slow := tpl.Render(value); quick != slow {
			t.Errorf("%q is %q, the library makes %q", text, quick, slow)
		}
	}
}

func TestFields(t *testing.T) {
	tpl, err := Parse("{{a}} {{#b}}{{c}}{{a}}{{/b}}{{^d}}{{e}}{{/d}}")
	if err != nil {
		t.Fatal(err)
	}
	if got, want := tpl.Fields(), []string{"a", "b", "c", "d", "e"}; !slices.Equal(got, want) {
		t.Errorf("fields %v, want %v", got, want)
	}
}

func TestTextsThatMakeNoSense(t *testing.T) {
	for _, text := range []string{"{{", "{{#a}}open", "{{/a}}", "{{#a}}{{/b}}", strings.Repeat("x", longest+1)} {
		if tpl, err := Parse(text); err == nil {
			t.Errorf("%.20q was taken, with the fields %v", text, tpl.Fields())
		}
	}
}

// What a customer typed stands in Markdown as plain text: no link, no heading,
// no markup of theirs.
func TestEscapeMarkdown(t *testing.T) {
	for in, want := range map[string]string{
		"Bea":                     "Bea",
		"**loud**":                `\*\*loud\*\*`,
		"[x](http://example.org)": `\[x\]\(http\:\/\/example\.org\)`,
		"<b>":                     `\<b\>`,
		"# one":                   `\# one`,
		"Åse 🌌":                   "Åse 🌌",
	} {
		if got := EscapeMarkdown(in); got != want {
			t.Errorf("%q becomes %q, want %q", in, got, want)
		}
	}
}
