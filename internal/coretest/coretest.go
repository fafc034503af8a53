// Package coretest has what the tests of several rooms of the core begin with.
package coretest

import (
	"encoding/json"
	"os"
	"path/filepath"
	"runtime"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
)

// Now is when the tests' orders are made.
var Now = time.Date(2026, 11, 24, 9, 30, 0, 0, time.UTC)

// Compiled makes a draft ready that has no mistakes.
func Compiled(t testing.TB, d product.Draft) *product.Edition {
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

// Sample reads a product of the sample business.
func Sample(t testing.TB, name string) *product.Edition {
	t.Helper()
	_, here, _, _ := runtime.Caller(0)
	raw, err := os.ReadFile(filepath.Join(filepath.Dir(here), "../../demo/products", name+".json"))
	if err != nil {
		t.Fatal(err)
	}
	var d product.Draft
	if err := json.Unmarshal(calendar.FillIn(raw, calendar.DayOf(Now)), &d); err != nil {
		t.Fatal(err)
	}
	return Compiled(t, d)
}

// Ask makes a question that is asked while choosing.
func Ask(key question.Key, kind question.KindName, settings string) product.Question {
	return product.Question{Question: question.Question{Key: key, Kind: kind, Moment: question.Choosing, Wording: "About " + string(key), Settings: json.RawMessage(settings)}}
}

// Decode reads answers, as they are sent, that have no mistakes.
func Decode(t testing.TB, e *product.Edition, text string) question.Answers {
	t.Helper()
	var raw map[string]json.RawMessage
	if err := json.Unmarshal([]byte(text), &raw); err != nil {
		t.Fatal(err)
	}
	a, wrong := question.Decode(raw, e.Spec)
	if len(wrong) > 0 {
		t.Fatalf("%+v", wrong)
	}
	return a
}
