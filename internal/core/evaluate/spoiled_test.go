package evaluate

import (
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

// What a draft or an answer may hold after it was spoiled.
var spoiled = []any{
	nil, true, -1, 0, 1, 3, 1e300, 99999999999, "", "x", "gift", "yes", "2026-02-30", "2026-12-01", "{{title}}", "{{#x}}", "\u202e\x00",
	strings.Repeat("ß", 5000), []any{}, []any{nil}, []any{"x", 1, map[string]any{}}, map[string]any{}, map[string]any{"code": "s"},
	map[string]any{"answer": "gift", "op": "answered"}, map[string]any{"all": []any{}}, map[string]any{"not": nil},
}

// spoil changes a value somewhere within a document, takes it away or doubles it.
func spoil(r *rand.Rand, v any) any {
	if r.IntN(6) == 0 {
		return spoiled[r.IntN(len(spoiled))]
	}
	switch v := v.(type) {
	case map[string]any:
		if len(v) == 0 {
			break
		}
		keys := slices.Sorted(maps.Keys(v))
		k, other := keys[r.IntN(len(keys))], keys[r.IntN(len(keys))]
		switch r.IntN(12) {
		case 0:
			delete(v, k)
		case 1:
			v[k] = v[other]
		default:
			v[k] = spoil(r, v[k])
		}
		return v
	case []any:
		if len(v) == 0 {
			break
		}
		i := r.IntN(len(v))
		switch r.IntN(12) {
		case 0:
			return slices.Delete(v, i, i+1)
		case 1:
			return append(v, v[i])
		default:
			v[i] = spoil(r, v[i])
		}
		return v
	}
	return spoiled[r.IntN(len(spoiled))]
}

// Whatever is done to a product and to its answers, the check and the
// evaluation come to an end with a result that adds up: a draft that cannot be
// sold is said to be broken, and one that can is priced, planned and written
// again the same way.
func TestSpoiledProducts(t *testing.T) {
	files, err := filepath.Glob("../../../demo/products/*.json")
	if err != nil || len(files) == 0 {
		t.Fatal("no products", err)
	}
	r := rand.New(rand.NewPCG(71, 72))
	sold, broken := 0, 0
	for _, file := range files {
		raw, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		raw = calendar.FillIn(raw, calendar.DayOf(coretest.Now))
		for range 400 {
			var doc any
			if err := json.Unmarshal(raw, &doc); err != nil {
				t.Fatal(err)
			}
			for range 1 + r.IntN(3) {
				doc = spoil(r, doc)
			}
			text, _ := json.Marshal(doc)
			var d product.Draft
			if json.Unmarshal(text, &d) != nil {
				continue // told as what it is, before there is a draft
			}
			e, findings := product.Compile(d)
			if product.Broken(findings) {
				broken++
			} else {
				sold++
			}
			product.Compare(d, product.Draft{})
			product.Compare(product.Draft{}, d)
			e.Efforts()
			for _, f := range findings {
				if f.Said(words.English) == "" || f.Said(words.German) == "" {
					t.Errorf("%s: an empty finding in %s", file, text)
				}
			}
			if why := spoiledAnswers(r, e, !product.Broken(findings)); why != "" {
				t.Fatalf("%s: %s\n%s", file, why, text)
			}
		}
	}
	if sold < 100 || broken < 100 {
		t.Errorf("%d can be sold and %d are broken, so one of them was hardly tried", sold, broken)
	}
}

// spoiledAnswers evaluates an edition with spoiled answers and says what does
// not add up.
func spoiledAnswers(r *rand.Rand, e *product.Edition, sound bool) string {
	raw := map[string]json.RawMessage{}
	for _, i := range e.Items {
		if r.IntN(4) > 0 {
			raw[string(i.Key)], _ = json.Marshal(spoiled[r.IntN(len(spoiled))])
		}
	}
	return holds(e, raw, sound)
}

// holds evaluates an edition with answers as they came and says what does not
// add up. Of an edition that cannot be sold it is enough that it comes to an end.
func holds(e *product.Edition, raw map[string]json.RawMessage, sound bool) string {
	a, _ := question.Decode(raw, e.Spec)
	f := asGiven()
	f.Work = &Work{Hours: &calendar.Hours{Zone: f.Zone, Week: calendar.Week{2: {{From: 540, To: 1020}}}}, Paid: coretest.Now, Briefed: coretest.Now}
	got := Evaluate(e, a, f)
	if !sound {
		return ""
	}
	if got.Slip.Total < 0 {
		return fmt.Sprintf("the total is %d", got.Slip.Total)
	}
	for k := range got.Answers {
		if !slices.ContainsFunc(got.Asked, func(x Asked) bool { return x.Item.Key == k }) {
			return fmt.Sprintf("the answer to %q counts, and it is not asked", k)
		}
	}
	text, err := json.Marshal(got.Answers)
	if err != nil {
		return err.Error()
	}
	var back map[string]json.RawMessage
	if err := json.Unmarshal(text, &back); err != nil {
		return err.Error()
	}
	again, wrong := question.Decode(back, e.Spec)
	if len(wrong) > 0 {
		return fmt.Sprintf("%s does not come back: %+v", text, wrong)
	}
	before, _ := json.Marshal(got.Slip)
	if after, _ := json.Marshal(Evaluate(e, again, f).Slip); string(after) != string(before) {
		return fmt.Sprintf("%s, and %s when written and read again", before, after)
	}
	return ""
}
