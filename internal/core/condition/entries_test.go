package condition

import (
	"encoding/json"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/question"
)

// Conditions look at how many entries of a list meet another condition, and at
// what their numbers come to.
func TestEntries(t *testing.T) {
	within := Names{Class: func(k question.Key) (question.Class, bool) {
		c, ok := map[question.Key]question.Class{"age": question.ClassNumber, "dish": question.ClassOne}[k]
		return c, ok
	}}
	names := Names{Class: func(k question.Key) (question.Class, bool) {
		c, ok := map[question.Key]question.Class{"guests": question.ClassList, "gift": question.ClassYesNo}[k]
		return c, ok
	}, Entry: func(list question.Key) *Names {
		if list == "guests" {
			return &within
		}
		return nil
	}}
	age := func(n int64) question.Value { return question.Number{Decimal: decimal.NewFromInt(n)} }
	answers := question.Answers{"guests": question.Repeat{Entries: []question.Answers{{"age": age(41), "dish": question.One("soup")}, {"age": age(9)}, {"age": age(7), "dish": question.One("soup")}, {}}}}
	for raw, want := range map[string]bool{
		`{"answer":"guests","op":"at_least","value":2,"entries":{"answer":"age","op":"at_most","value":11}}`:                                                                true,
		`{"answer":"guests","op":"at_least","value":3,"entries":{"answer":"age","op":"at_most","value":11}}`:                                                                false,
		`{"answer":"guests","op":"answered","entries":{"answer":"dish","op":"is","value":"fish"}}`:                                                                          false,
		`{"answer":"guests","op":"not_answered","entries":{"answer":"dish","op":"is","value":"fish"}}`:                                                                      true,
		`{"answer":"guests","op":"between","value":[57,57],"sum":"age"}`:                                                                                                    true,
		`{"answer":"guests","op":"at_most","value":16,"sum":"age","entries":{"answer":"age","op":"at_most","value":11}}`:                                                    true,
		`{"answer":"guests","op":"at_least","value":2,"entries":{"all":[{"answer":"dish","op":"is","value":"soup"},{"none":[{"answer":"age","op":"at_most","value":3}]}]}}`: true,
		`{"answer":"guests","op":"at_least","value":1,"entries":{"answer":"dish","op":"not_answered"}}`:                                                                     true,
		`{"answer":"guests","op":"at_least","value":4}`:                                                                                                                     true,
	} {
		var c Condition
		if err := json.Unmarshal([]byte(raw), &c); err != nil {
			t.Fatal(err)
		}
		test, err := Compile(&c, names)
		if err != nil {
			t.Errorf("%s: %v", raw, err)
			continue
		}
		if got := test.Holds(answers, Facts{}); got != want {
			t.Errorf("%s is %t", raw, got)
		}
		if test.Holds(question.Answers{}, Facts{}) != (c.Op == NotAnswered) {
			t.Errorf("%s: no list has entries", raw)
		}
		if reads := c.Entries != nil || c.Sum != ""; test.ReadsEntries("guests") != reads || test.ReadsEntries("gift") {
			t.Errorf("%s: whether it looks at entries is not told", raw)
		}
	}
	for raw, want := range map[string]string{
		`{"answer":"gift","op":"is","value":true,"entries":{"answer":"age","op":"answered"}}`:             `it compares "gift", which is no list of entries`,
		`{"answer":"guests","op":"at_least","value":1,"entries":{"answer":"hat","op":"answered"}}`:        `it compares "hat", which is not a question of this product`,
		`{"answer":"guests","op":"at_least","value":1,"sum":"dish"}`:                                      `it compares "dish", which is no number of an entry`,
		`{"entries":{"answer":"age","op":"answered"}}`:                                                    `it compares "", which is not a question of this product`,
		`{"answer":"guests","op":"at_least","value":1,"entries":{"answer":"age","op":"is","entries":{}}}`: "",
	} {
		var c Condition
		if err := json.Unmarshal([]byte(raw), &c); err != nil {
			t.Fatal(err)
		}
		if _, err := Compile(&c, names); err == nil || want != "" && err.Error() != want {
			t.Errorf("%s: %v", raw, err)
		}
	}
	var seen []string
	var c Condition
	if err := json.Unmarshal([]byte(`{"answer":"guests","op":"at_least","value":1,"entries":{"answer":"dish","op":"includes","value":["soup","fish"]}}`), &c); err != nil {
		t.Fatal(err)
	}
	test, err := Compile(&c, names)
	if err != nil {
		t.Fatal(err)
	}
	test.EachCode(func(within, key question.Key, code string) {
		seen = append(seen, string(within)+"."+string(key)+"="+code)
	})
	if len(seen) != 2 || seen[1] != "guests.dish=fish" {
		t.Error(seen)
	}
}
