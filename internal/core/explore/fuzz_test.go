package explore

import (
	"os"
	"path/filepath"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/product"
	"ruvo/internal/core/reading"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

// Any JSON that is sent as a draft gives an edition, or a list of places: never a
// panic, and in bounded time. What can be published makes a slip of no answers.
func FuzzDraft(f *testing.F) {
	files, err := filepath.Glob("../../../demo/products/*.json")
	if err != nil || len(files) == 0 {
		f.Fatal("the sample business has no products", err)
	}
	for _, name := range files {
		raw, err := os.ReadFile(name)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(calendar.FillIn(raw, calendar.DayOf(coretest.Now)))
	}
	for _, s := range []string{
		`{}`, `{"title":"x","currency":"EUR","price":1,"tax":"0","charges":[{"on":"a","entries":{},"effect":"adds","rate":{"amount":0.1}}],"questions":[{"key":"a","kind":"repeat","moment":"choosing","wording":"A","settings":{"questions":[{"key":"b","kind":"count","moment":"choosing","wording":"B"}]}}]}`,
		`{"title":"x","currency":"JPY","price":1,"tax":"0","values":[{"name":"v","formula":"1/quantity","otherwise":"1e18"}],"charges":[{"effect":"sets","rate":{"formula":"v*999999999999"}}]}`,
		`{"title":"x","currency":"EUR","price":9,"tax":"0","measure":"night","bands":[{"after":1,"amount":2}],"graduated":true,"prices":[{"weekdays":[1],"dearer":true,"percent":"1000"}],"combine":"sum","questions":[{"key":"s","kind":"date_span","moment":"choosing","wording":"S"}]}`,
	} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		var d product.Draft
		if err := reading.Strict(raw, &d); err != nil {
			if _, ok := err.(*reading.Error); !ok {
				t.Errorf("%T", err)
			}
			return
		}
		e, findings := product.Compile(d)
		for _, found := range append(findings, Review(e, coretest.Now, time.UTC)...) {
			if found.Said(words.English) == "" {
				t.Errorf("a finding says nothing: %+v", found)
			}
			_ = d.Place(found)
		}
		in := charge.Input{Quantity: 1}
		in.Known = e.ConditionFacts(1, "", condition.Whole{}, time.UTC, &in.Answers)
		slip := e.Pricing.Make(in)
		if !product.Broken(findings) && slip.Total < 0 {
			t.Errorf("a price of %d", slip.Total)
		}
		if r := RangeOf(e, in.Day); r.Least > r.Most {
			t.Errorf("%+v", r)
		}
	})
}
