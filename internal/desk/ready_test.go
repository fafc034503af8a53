package desk

import (
	"encoding/json"
	"strings"
	"testing"

	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
)

// In each language every ready-made product passes the product check, is about
// nobody's business in particular, and its title is short.
func TestReadyMade(t *testing.T) {
	for _, l := range []words.Language{words.English, words.German} {
		all, err := Readymade(l)
		if err != nil || len(all) < 5 {
			t.Fatal(all, err)
		}
		for _, r := range all {
			d, err := ready(r.Name, l)
			if err != nil {
				t.Fatal(err)
			}
			if _, findings := product.Compile(d); len(findings) > 0 {
				t.Errorf("%s: %+v", r.Name, findings)
			}
			if len(d.Title) > 40 || d.Summary == "" || d.Next == "" || d.Picture != "" {
				t.Errorf("%+v", d)
			}
		}
	}
	for _, name := range []string{"", "ghost", "../ready", "lesson.json", "a/b", "words", "words/de"} {
		if _, err := ready(name, words.English); err == nil {
			t.Errorf("%q is ready made", name)
		}
	}
}

// The other language has words for all that people read of a ready-made
// product, with the same merge fields, and for nothing else; keys and codes
// stay as they are.
func TestReadyMadeInGerman(t *testing.T) {
	raw, err := readymade.ReadFile("readymade/words/de.json")
	said := map[string]string{}
	if err == nil {
		err = json.Unmarshal(raw, &said)
	}
	if err != nil {
		t.Fatal(err)
	}
	all, err := Readymade(words.English)
	if err != nil {
		t.Fatal(err)
	}
	used := map[string]bool{}
	for _, r := range all {
		raw, _ := readymade.ReadFile("readymade/" + r.Name + ".json")
		var parts any
		if err := json.Unmarshal(raw, &parts); err != nil {
			t.Fatal(err)
		}
		reword(parts, func(english string) string {
			used[english] = true
			german, ok := said[english]
			if !ok || strings.Count(german, "{{") != strings.Count(english, "{{") {
				t.Errorf("%s: %q is in German %q", r.Name, english, german)
			}
			return ""
		})
		d, err := ready(r.Name, words.German)
		if err != nil {
			t.Fatal(err)
		}
		back, _ := json.Marshal(d)
		for _, want := range []string{`"moment":"choosing"`, `"kind":"`} {
			if !strings.Contains(string(back), want) {
				t.Errorf("%s lacks %s: %s", r.Name, want, back)
			}
		}
	}
	for english := range said {
		if !used[english] {
			t.Errorf("nothing reads %q", english)
		}
	}
	if d, _ := ready("lesson", words.German); d.Title != "Unterrichtsstunde" || d.Questions[1].Wording != "Wo stehst du?" || d.Questions[1].Key != "level" {
		t.Errorf("%+v", d)
	}
}
