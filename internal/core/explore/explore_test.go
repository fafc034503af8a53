package explore

import (
	"encoding/json"
	"os"
	"testing"
	"time"

	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
)

var now = time.Date(2026, 11, 24, 9, 30, 0, 0, time.UTC)

// ask makes a question that is asked while choosing.
func ask(key question.Key, kind question.KindName, settings string) product.Question {
	return product.Question{Question: question.Question{Key: key, Kind: kind, Moment: question.Choosing, Wording: "About " + string(key), Settings: json.RawMessage(settings)}}
}

// compiled makes a draft ready that has no mistakes.
func compiled(t testing.TB, d product.Draft) *product.Edition {
	t.Helper()
	if d.Title == "" {
		d.Title, d.Currency = "Thing", "EUR"
	}
	e, findings := product.Compile(d)
	if product.Broken(findings) {
		t.Fatalf("%+v", findings)
	}
	return e
}

// sample reads a product of the sample business.
func sample(t testing.TB, name string) *product.Edition {
	t.Helper()
	raw, err := os.ReadFile("../../../demo/products/" + name + ".json")
	if err != nil {
		t.Fatal(err)
	}
	var d product.Draft
	if err := json.Unmarshal(raw, &d); err != nil {
		t.Fatal(err)
	}
	return compiled(t, d)
}
