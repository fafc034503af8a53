package reading

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

type rate struct {
	Amount  *money.Fine      `json:"amount,omitempty"`
	Percent *decimal.Decimal `json:"percent,omitempty"`
}

type inner struct {
	rate
	On    *calendar.Day   `json:"on,omitempty"`
	Hours []calendar.Span `json:"hours,omitempty"`
}

type draft struct {
	Title string                     `json:"title"`
	Tax   decimal.Decimal            `json:"tax" need:"always"`
	Rates []rate                     `json:"rates,omitempty"`
	Inner []inner                    `json:"inner,omitempty"`
	Any   map[string]json.RawMessage `json:"any,omitempty"`
	Parts []*draft                   `json:"parts,omitempty"`
	On    bool                       `json:"on,omitempty"`
}

// Each row is JSON with a mistake, where it is, and what is said of it.
func TestMistakesAreSaidWithTheirPlace(t *testing.T) {
	for in, want := range map[string]string{
		`{}`:                 "tax: This is missing and has to be given.",
		`{"tax":null}`:       "tax: This is missing and has to be given.",
		`{"tax":"nineteen"}`: `tax: Give a number, written like 1.5 instead of "nineteen".`,
		`{"tax":1,"rates":[{},{"amount":"1"},{}]}`:        `rates[1].amount: Give a number, written like 1.5 instead of "1".`,
		`{"tax":1,"rates":[{"amuont":1}]}`:                "rates[0].amuont: There is no “amuont” here. Leave it out, or look at how it is spelled.",
		`{"tax":1,"rates":{"amount":1}}`:                  `rates: Give a list instead of {"amount":1}.`,
		`{"tax":1,"inner":[{"on":"2027-13-01"}]}`:         `inner[0].on: Give a day, written like 2026-11-26 instead of "2027-13-01".`,
		`{"tax":1,"inner":[{},{"hours":["9 to 5"]}]}`:     `inner[1].hours[0]: Give hours, written like 09:00-17:30 instead of "9 to 5".`,
		`{"tax":1,"on":"yes"}`:                            `on: Give true or false instead of "yes".`,
		`{"tax":1,"title":7}`:                             "title: Give a text instead of 7.",
		`{"tax":1,"parts":[{"tax":1},{"title":"a"}]}`:     "parts[1].tax: This is missing and has to be given.",
		`{"tax":1,"parts":[{"tax":1,"parts":[{"x":1}]}]}`: "parts[0].parts[0].x: There is no “x” here. Leave it out, or look at how it is spelled.",
		`{"tax":1,"tax":2}`:                               "tax: This name stands here twice.",
		"{\"tax\":1,\n\"on\" true}":                       "on: This is not JSON from line 2, character 6 on.",
		``:                                                "This is not JSON from line 1, character 1 on.",
		`[1]`:                                             "Give an object with names instead of [1].",
		`{"tax":1} {}`:                                    "This is not JSON from line 1, character 11 on.",
	} {
		var d draft
		err := Strict([]byte(in), &d)
		if err == nil {
			t.Errorf("%s passes: %+v", in, d)
			continue
		}
		if got := err.Error(); got != want {
			t.Errorf("%s\n got %s\nwant %s", in, got, want)
		}
		if words.Of(err, words.German) == err.Error() {
			t.Errorf("%s is not said in German", in)
		}
	}
	var d draft
	if err := Strict([]byte(`{"tax":"19","rates":[{"amount":0.4,"percent":"7"}],"inner":[{"amount":1,"on":"2027-01-02"}],"any":{"x":[1]},"parts":[{"tax":0}]}`), &d); err != nil || *d.Rates[0].Amount != 400_000 || *d.Inner[0].Amount != 1_000_000 {
		t.Errorf("%+v: %v", d, err)
	}
}

// Whatever comes in is read or refused with a place, and no message grows with
// what is sent.
func FuzzStrict(f *testing.F) {
	for _, s := range []string{`{"tax":1}`, `{"tax":1,"parts":[{"tax":"x"}]}`, `[`, `{"tax":1,"any":{"a":{"b":[1,2,3]}}}`, `{"tax":1e999}`, `{"` + strings.Repeat("x", 400) + `":1}`, "{\"\xff\":1}"} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		var d draft
		err := Strict(raw, &d)
		if err == nil {
			return
		}
		if e, ok := err.(*Error); !ok || len(e.Error()) > 1200 {
			t.Errorf("%T: %s", err, err)
		}
	})
}
