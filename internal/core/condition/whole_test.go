package condition

import (
	"encoding/json"
	"testing"

	"ruvo/internal/core/question"
)

// Conditions read the whole order: what is in the basket, for whom it is, who orders.
func TestConditionsOnTheWholeOrder(t *testing.T) {
	none := Whole{}
	cabin := Whole{Products: []string{"cabin", "red-lamp"}, Categories: []string{"nights"}, Language: "de"}
	gift, firm := cabin, cabin
	gift.Gift, firm.Business = true, true
	for _, c := range []struct {
		condition string
		holds     []bool // of none, cabin, gift, firm
	}{
		{`{"fact": "products", "op": "includes", "value": ["cabin", "mural"]}`, []bool{false, true, true, true}},
		{`{"fact": "products", "op": "includes_none", "value": ["cabin"]}`, []bool{true, false, false, false}},
		{`{"fact": "products", "op": "answered"}`, []bool{false, true, true, true}},
		{`{"fact": "categories", "op": "includes", "value": ["nights"]}`, []bool{false, true, true, true}},
		{`{"fact": "is_gift", "op": "is", "value": true}`, []bool{false, false, true, false}},
		{`{"fact": "is_gift", "op": "is", "value": false}`, []bool{true, true, false, true}},
		{`{"fact": "is_business", "op": "is", "value": true}`, []bool{false, false, false, true}},
		{`{"fact": "language", "op": "is", "value": "de"}`, []bool{false, true, true, true}},
		{`{"fact": "language", "op": "is_not", "value": "de"}`, []bool{true, false, false, false}},
	} {
		var read Condition
		if err := json.Unmarshal([]byte(c.condition), &read); err != nil {
			t.Fatal(err)
		}
		test, err := Compile(&read, Names{Class: func(question.Key) (question.Class, bool) { return 0, false }})
		if err != nil {
			t.Fatalf("%s: %v", c.condition, err)
		}
		for i, w := range []Whole{none, cabin, gift, firm} {
			if got := test.Holds(question.Answers{}, Facts{Whole: w}); got != c.holds[i] {
				t.Errorf("%s of %+v: %v", c.condition, w, got)
			}
		}
	}
	if w := Alone("cabin", "", "en"); len(w.Products) != 1 || w.Categories != nil || w.Language != "en" {
		t.Errorf("%+v", w)
	}
}
