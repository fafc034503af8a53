package tally

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"ruvo/internal/core/question"
)

// sorted gives what an answer is put in order by.
func sorted(a Answer) any {
	if a.Text != "" {
		return a.Text
	}
	return a.Number
}

// What answers of each class count for, and what they are put in order by.
func TestAnAnswerCounts(t *testing.T) {
	for _, c := range []struct {
		kind, settings, answer, counts string
		sorted                         any
	}{
		{"short_text", `{}`, `"The night, the NIGHT by the sea over Zürich"`, `map[night:1 over:1 zürich:1]`, "the night, the night by the sea over zürich"},
		{"one_choice", `{"choices":[{"code":"m","label":"Moss"},{"code":"w","label":"Wine"}]}`, `"w"`, `map[Wine:1]`, "wine"},
		{"several_choices", `{"choices":[{"code":"m","label":"Moss"},{"code":"w","label":"Wine"}],"counted":true}`, `{"m":3,"w":2000}`, `map[Moss:3 Wine:1000]`, "3 × moss, 2000 × wine"},
		{"yes_no", `{}`, `false`, `map[no:1]`, "no"},
		{"number", `{}`, `12.5`, `map[12.5:1]`, 12.5},
		{"amount", `{}`, `500`, `map[500:1]`, 500.0},
		{"date", `{}`, `"1970-01-03"`, `map[]`, 2.0},
		{"time", `{}`, `"01:30"`, `map[]`, 90.0},
		{"mail", `{}`, `"Ada@example.org"`, `map[]`, "ada@example.org"},
	} {
		spec, err := question.Compile(question.Question{Key: "q", Kind: question.KindName(c.kind), Wording: "Q", Settings: json.RawMessage(c.settings)})
		if err != nil {
			t.Errorf("%s: %v", c.kind, err)
			continue
		}
		v, wrong := spec.Decode(json.RawMessage(c.answer))
		if wrong != nil {
			t.Errorf("%s: %v", c.kind, wrong)
			continue
		}
		got := Of(spec, v, question.Env{Zone: time.UTC, Currency: "EUR", Language: "en", Units: 1})
		if fmt.Sprint(got.Counts) != c.counts || sorted(got) != c.sorted {
			t.Errorf("%s: %v by %#v, not %s by %#v", c.kind, got.Counts, sorted(got), c.counts, c.sorted)
		}
	}
}

// What is asked of each unit counts for each of them.
func TestUnitsCountEach(t *testing.T) {
	each, err := question.Compile(question.Question{Key: "q", Kind: "short_text", Wording: "Q"})
	if err != nil {
		t.Fatal(err)
	}
	spec := question.EachUnit(each, false)
	v, _ := spec.Decode(json.RawMessage(`["Vega rising", null, "Vega setting"]`))
	if got := Of(spec, v, question.Env{Language: "en", Units: 3}); fmt.Sprint(got.Counts) != "map[rising:1 setting:1 vega:2]" {
		t.Errorf("%v", got.Counts)
	}
}

// The ages of eleven people in Python's documentation style: quartiles as
// statistics.quantiles(method="inclusive") gives them (Python 3, run for this check on
// 1…11: 3.5, 6, 8.5), and Sturges' 1 + log2 11 = 4.46 rounded up to five bins.
func TestNumbers(t *testing.T) {
	var values []float64
	for i := 11; i >= 1; i-- {
		values = append(values, float64(i))
	}
	got := Lie(values)
	if got.N != 11 || got.Least != 1 || got.Lower != 3.5 || got.Median != 6 || got.Upper != 8.5 || got.Great != 11 || len(got.Bins) != 5 {
		t.Errorf("%+v", got)
	}
	if got.Bins[0] != (Bin{1, 3, 2}) || got.Bins[4] != (Bin{9, 11, 3}) {
		t.Errorf("%+v", got.Bins)
	}
	if one := Lie([]float64{7, 7}); len(one.Bins) != 1 || one.Bins[0].N != 2 || Lie(nil).N != 0 {
		t.Errorf("%+v", one)
	}
}

// Every number lies in one bin.
func TestBinsHoldAll(t *testing.T) {
	rnd := rand.New(rand.NewPCG(3, 4))
	for range 500 {
		values := make([]float64, 1+rnd.IntN(200))
		for i := range values {
			values[i] = float64(rnd.IntN(50))
		}
		n := 0
		for _, b := range Lie(values).Bins {
			n += b.N
		}
		if n != len(values) {
			t.Fatalf("%d of %d: %v", n, len(values), values)
		}
	}
}
