package web

import (
	"encoding/json"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"ruvo/internal/core/money"
)

var (
	said  = regexp.MustCompile(`\bt\(\s*"((?:[^"\\]|\\.)*)"`)
	named = regexp.MustCompile(`name: "([^"]+)",\s+Editor`)
	gap   = regexp.MustCompile(`\{\{\w+\}\}`)
)

func file(t *testing.T, name string) map[string]string {
	t.Helper()
	raw, err := os.ReadFile("src/shared/words/" + name + ".json")
	if err != nil {
		t.Fatal(err)
	}
	var words map[string]string
	if err := json.Unmarshal(raw, &words); err != nil {
		t.Fatal(err)
	}
	return words
}

// Every text that the screens show has its words in every language file, with
// the same gaps, and no file holds words that nothing shows.
func TestScreensSpeakEveryLanguage(t *testing.T) {
	keys := map[string]bool{}
	err := filepath.WalkDir("src", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".ts") && !strings.HasSuffix(path, ".tsx") {
			return err
		}
		raw, err := os.ReadFile(path)
		for _, m := range append(said.FindAllSubmatch(raw, -1), named.FindAllSubmatch(raw, -1)...) {
			keys[string(m[1])] = true
		}
		return err
	})
	if err != nil || len(keys) < 300 {
		t.Fatalf("%d texts, %v", len(keys), err)
	}
	en, de := file(t, "en"), file(t, "de")
	known := map[string]bool{}
	for key := range keys {
		forms := []string{key}
		if _, plural := en[key+"_other"]; plural {
			forms = []string{key + "_one", key + "_other"}
		}
		for _, form := range forms {
			known[form] = true
			words, ok := de[form]
			if !ok {
				t.Errorf("de.json lacks %q", form)
				continue
			}
			if a, b := gaps(key), gaps(words); !slices.Equal(a, b) && !strings.HasSuffix(form, "_one") {
				t.Errorf("%q has the gaps %v, in German %v", form, a, b)
			}
			if strings.Contains(key, "{{count}}") && len(forms) == 1 && key != "{{count}} of {{most}}" {
				t.Errorf("%q counts and has no forms in en.json", key)
			}
		}
	}
	for _, words := range []map[string]string{en, de} {
		for form := range words {
			if !known[form] {
				t.Errorf("nothing shows %q", form)
			}
		}
	}
}

func gaps(s string) []string {
	all := gap.FindAllString(s, -1)
	slices.Sort(all)
	return all
}

// No component names a colour: colours stand in palette.ts alone.
func TestColoursStandInOnePlace(t *testing.T) {
	raw := regexp.MustCompile(`#[0-9a-fA-F]{3,8}\b|rgba?\(|hsla?\(`)
	err := filepath.WalkDir("src", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.HasSuffix(path, "palette.ts") || strings.HasSuffix(path, ".json") || strings.HasSuffix(path, ".gen.ts") {
			return err
		}
		text, err := os.ReadFile(path)
		for _, m := range raw.FindAllString(string(text), -1) {
			if m != "#888888" { // what a browser's colour field begins with
				t.Errorf("%s names the colour %s", path, m)
			}
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
}

// The browser writes amounts with as many digits as the core computes with.
func TestScreensKnowTheDigitsOfCurrencies(t *testing.T) {
	raw, err := os.ReadFile("src/shared/currency.ts")
	if err != nil {
		t.Fatal(err)
	}
	lists := regexp.MustCompile(`const (none|thousandth) =\s+"([A-Z ]+)"`).FindAllStringSubmatch(string(raw), -1)
	if len(lists) != 2 {
		t.Fatalf("%d lists of currencies", len(lists))
	}
	given := map[string]int{}
	for _, l := range lists {
		for _, c := range strings.Fields(l[2]) {
			given[c] = map[string]int{"none": 0, "thousandth": 3}[l[1]]
		}
	}
	for _, c := range money.Currencies() {
		want, _ := c.Digits()
		got, ok := given[string(c)]
		if !ok {
			got = 2
		}
		if got != want {
			t.Errorf("the browser writes %s with %d digits, the core has %d", c, got, want)
		}
	}
}
