package evaluate

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

// products reads the sample business's products as they are written.
func products(f *testing.F) (names []string, texts [][]byte) {
	f.Helper()
	files, err := filepath.Glob("../../../demo/products/*.json")
	if err != nil || len(files) == 0 {
		f.Fatal("no products", err)
	}
	for _, file := range files {
		raw, err := os.ReadFile(file)
		if err != nil {
			f.Fatal(err)
		}
		name := filepath.Base(file)
		names, texts = append(names, name[:len(name)-len(".json")]), append(texts, raw)
	}
	return names, texts
}

// largestDraft is more than any draft that is fuzzed needs; the server takes four
// megabytes.
const largestDraft = 64 << 10 // bytes

// Whatever is sent as a draft is told what is wrong with it, or can be priced;
// nothing panics and everything ends.
func FuzzDrafts(f *testing.F) {
	_, texts := products(f)
	for _, raw := range texts {
		f.Add(raw)
	}
	f.Add([]byte(`{"title":"x","currency":"EUR","questions":[{"key":"a","kind":"several_choices","moment":"choosing","wording":"A","settings":{"choices":[{"code":"b","label":"B"}]},"when":{"question":"a","op":"is","value":"b"}}]}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		var d product.Draft
		if len(raw) > largestDraft || json.Unmarshal(raw, &d) != nil {
			return // told as what it is, before there is a draft
		}
		e, findings := product.Compile(d)
		for _, x := range findings {
			if x.Said(words.English) == "" || x.Said(words.German) == "" {
				t.Errorf("an empty finding: %+v", x)
			}
		}
		product.Compare(d, product.Draft{})
		e.Efforts()
		if why := holds(e, nil, !product.Broken(findings)); why != "" {
			t.Error(why)
		}
	})
}

// Whatever is sent as answers to a product of the sample business comes to a slip
// that adds up, and back when it is written and read again.
func FuzzAnswers(f *testing.F) {
	names, _ := products(f)
	for i, seed := range []string{
		`{}`, `{"title":"The night we met","paper":"cotton","size":"large","gift":true}`, `{"evening":{"start":"2026-11-28T19:30:00Z","people":2},"languages":["en"]}`,
		`{"pictures":2}`, `{"amount":5000}`, `{"stay":{"start":"2026-12-09T15:00:00+01:00","end":"2026-12-12T10:00:00+01:00","people":1},"cabin":"larch","guests":[{"name":"Ada","age":9}]}`,
		`{"course":{"start":"2027-01-06T18:00:00Z","end":"2027-01-13T19:30:00Z","people":2,"of":3,"meetings":[{"start":"2027-01-06T18:00:00Z","end":"2027-01-06T19:30:00Z"},{"start":"2027-01-13T18:00:00Z","end":"2027-01-13T19:30:00Z"}]},"binoculars":true}`,
		`{"night":"2026-02-30","place":"\u0000","rush":"yes"}`, `{"badges":1e9}`, `{"width":-1,"height":1e308}`,
	} {
		for n := range names {
			f.Add(uint8(n), seed)
		}
		f.Add(uint8(i), seed)
	}
	editions := make([]*product.Edition, len(names))
	for i, name := range names {
		editions[i] = coretest.Sample(f, name)
	}
	f.Fuzz(func(t *testing.T, which uint8, text string) {
		var raw map[string]json.RawMessage
		if json.Unmarshal([]byte(text), &raw) != nil {
			return // the request body was refused before
		}
		n := int(which) % len(names)
		if why := holds(editions[n], raw, true); why != "" {
			t.Errorf("%s: %s", names[n], why)
		}
	})
}
