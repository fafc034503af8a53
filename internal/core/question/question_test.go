package question

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
)

var env = Env{Today: calendar.Day{Year: 2026, Month: 11, Number: 24}, Zone: time.UTC, Currency: "EUR", Language: words.English}

const colours = `{"choices":[{"code":"midnight","label":"Midnight","colour":"#141c33"},{"code":"wine","label":"Wine"},{"code":"sand","label":"Sand"}]}`
const severalColours = `{"least":1,"most":2,"choices":[{"code":"midnight","label":"Midnight"},{"code":"wine","label":"Wine"},{"code":"sand","label":"Sand"}]}`

// Each row is one answer: its kind and settings, what came in, and either the
// code of what is wrong with it or how it reads on a docket.
func TestAnswers(t *testing.T) {
	long := strings.Repeat("a", 41)
	for _, c := range []struct {
		kind     KindName
		settings string
		in       string
		fault    string
		reads    string
	}{
		{"short_text", `{"most":40}`, `"The night we met"`, "", "The night we met"},
		{"short_text", `{"most":40}`, `"  trimmed  "`, "", "trimmed"},
		{"short_text", `{"most":40}`, `"` + long + `"`, "longest", ""},
		{"short_text", `{"most":40}`, `"` + long[:40] + `"`, "", long[:40]},
		{"short_text", `{"most":2}`, `"👩‍🚀🇳🇴"`, "", "👩‍🚀🇳🇴"},
		{"short_text", `{"most":1}`, `"👩‍🚀🇳🇴"`, "longest", ""},
		{"short_text", `{"least":3}`, `"ab"`, "shortest", ""},
		{"short_text", ``, `"two\nlines"`, "control", ""},
		{"short_text", ``, `"null\u0000byte"`, "control", ""},
		{"short_text", ``, `12`, "type_text", ""},
		{"short_text", ``, `["a"]`, "type_text", ""},
		{"short_text", ``, `{"a":1}`, "type_text", ""},
		{"short_text", `{"most":40}`, `"` + strings.Repeat("x", 1<<20) + `"`, "longest", ""},
		{"short_text", ``, `"` + strings.Repeat("x", 501) + `"`, "longest", ""},
		{"long_text", ``, `"two\r\nlines"`, "", "two\nlines"},
		{"long_text", ``, `"bell\u0007"`, "control", ""},
		{"long_text", `{"most":10}`, `"eleven char"`, "longest", ""},

		{"number", ``, `12.5`, "", "12.5"},
		{"number", `{"unit":"cm"}`, `12`, "", "12\u00a0cm"},
		{"number", ``, `"12"`, "type_number", ""},
		{"number", ``, `1e9`, "type_number", ""},
		{"number", ``, `true`, "type_number", ""},
		{"number", ``, `123456789012345678901234567890123`, "type_number", ""},
		{"number", ``, `12345678901`, "most", ""},
		{"number", ``, `-12345678901`, "most", ""},
		{"number", ``, `0.1234567`, "places", ""},
		{"number", `{"least":"1","most":"60","step":"1"}`, `0`, "least", ""},
		{"number", `{"least":"1","most":"60","step":"1"}`, `61`, "most", ""},
		{"number", `{"least":"1","most":"60","step":"1"}`, `2.5`, "step", ""},
		{"number", `{"least":"1","most":"60","step":"1"}`, `60`, "", "60"},
		{"number", `{"least":"0.5","step":"0.25"}`, `1.25`, "", "1.25"},
		{"number", `{"least":"0.5","step":"0.25"}`, `1.3`, "step", ""},

		{"date", ``, `"2014-06-14"`, "", "Sat 14 Jun 2014"},
		{"date", ``, `"2023-02-29"`, "day", ""},
		{"date", ``, `"14.06.2014"`, "day", ""},
		{"date", ``, `20140614`, "type_date", ""},
		{"date", `{"earliest":{"day":"1900-01-01"}}`, `"1899-12-31"`, "earliest", ""},
		{"date", `{"earliest":{"day":"1900-01-01"}}`, `"1900-01-01"`, "", "Mon 1 Jan 1900"},
		{"date", `{"earliest":{"from_today":2}}`, `"2026-11-25"`, "earliest", ""},
		{"date", `{"earliest":{"from_today":2}}`, `"2026-11-26"`, "", "Thu 26 Nov 2026"},
		{"date", `{"latest":{"from_today":0}}`, `"2026-11-25"`, "latest", ""},
		{"date", `{"latest":{"from_today":0}}`, `"2026-11-24"`, "", "Tue 24 Nov 2026"},

		{"yes_no", ``, `true`, "", "Yes"},
		{"yes_no", ``, `false`, "", "No"},
		{"yes_no", ``, `"yes"`, "type_yes_no", ""},
		{"yes_no", ``, `1`, "type_yes_no", ""},

		{"one_choice", colours, `"wine"`, "", "Wine"},
		{"one_choice", colours, `"gold"`, "choice", ""},
		{"one_choice", colours, `["wine"]`, "type_choice", ""},
		{"several_choices", severalColours, `["sand","wine"]`, "", "Wine, Sand"},
		{"several_choices", severalColours, `["wine","wine"]`, "twice", ""},
		{"several_choices", severalColours, `["wine","gold"]`, "choice", ""},
		{"several_choices", severalColours, `["wine","sand","midnight"]`, "too_many", ""},
		{"several_choices", severalColours, `"wine"`, "type_choices", ""},

		{"amount", `{"least":100,"most":20000}`, `500`, "", "€5.00"},
		{"amount", `{"least":100,"most":20000}`, `99`, "least", ""},
		{"amount", `{"least":100,"most":20000}`, `20001`, "most", ""},
		{"amount", ``, `-1`, "least", ""},
		{"amount", ``, `1.5`, "type_amount", ""},
		{"amount", ``, `99999999999999999999`, "type_amount", ""},
		{"amount", ``, `9007199254740993`, "most", ""},

		{"booking", ``, `{"start":"2026-11-28T19:30:00Z","people":4}`, "", "Sat 28 Nov 2026, 19:30, 4 people"},
		{"booking", ``, `{"start":"2026-11-28T20:30:00+01:00","people":1}`, "", "Sat 28 Nov 2026, 19:30, 1 person"},
		{"booking", ``, `{"start":"2026-11-28T19:30:00Z","people":0}`, "people_least", ""},
		{"booking", ``, `{"start":"2026-11-28T19:30:00Z","people":-3}`, "people_least", ""},
		{"booking", ``, `{"start":"tomorrow","people":2}`, "type_booking", ""},
		{"booking", ``, `{"start":"0001-01-01T00:00:00Z","people":2}`, "type_booking", ""},
		{"booking", ``, `{"start":"2026-11-28T19:30:00Z","people":2,"price":0}`, "type_booking", ""},
		{"booking", ``, `"2026-11-28"`, "type_booking", ""},
	} {
		name := string(c.kind) + c.settings + " " + c.in[:min(len(c.in), 40)]
		spec, err := Compile(Question{Kind: c.kind, Settings: json.RawMessage(c.settings)})
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		code, reads := judge(spec, c.in)
		if code != c.fault || reads != c.reads {
			t.Errorf("%s: fault %q, reads %q; want %q, %q", name, code, reads, c.fault, c.reads)
		}
		if code != "" {
			if m := (Fault{Code: code}).Message(words.English); m == "fault."+code {
				t.Errorf("the fault %q has no words", code)
			}
		}
	}
}

func judge(spec Spec, in string) (fault, reads string) {
	v, f := spec.Decode(json.RawMessage(in))
	if f != nil {
		return f.Code, ""
	}
	if wrong := spec.Check(v, env); len(wrong) > 0 {
		return wrong[0].Code, ""
	}
	return "", spec.Words(v, env)
}

func TestSettingsThatMakeNoSense(t *testing.T) {
	for _, c := range []struct {
		kind     KindName
		settings string
	}{
		{"short_text", `{"most":0,"least":600}`}, {"short_text", `{"most":-1}`}, {"short_text", `{"longest":40}`}, {"short_text", `{"most":"40"}`}, {"short_text", `[]`},
		{"long_text", `{"most":5001}`},
		{"number", `{"least":"5","most":"4"}`}, {"number", `{"step":"0"}`}, {"number", `{"step":"-1"}`}, {"number", `{"least":"many"}`},
		{"date", `{"earliest":{"day":"2026-02-30"}}`}, {"date", `{"earliest":{"from_today":5},"latest":{"from_today":4}}`}, {"date", `{"latest":{"from_today":99999}}`},
		{"one_choice", ``}, {"one_choice", `{"choices":[]}`}, {"one_choice", `{"choices":[{"code":"a b","label":"A"}]}`},
		{"one_choice", `{"choices":[{"code":"a","label":"A"},{"code":"a","label":"B"}]}`}, {"one_choice", `{"choices":[{"code":"a","label":" "}]}`},
		{"one_choice", `{"choices":[{"code":"a","label":"A","colour":"red"}]}`}, {"one_choice", `{"drawn":"wheel","choices":[{"code":"a","label":"A"}]}`},
		{"several_choices", `{"least":2,"most":1,"choices":[{"code":"a","label":"A"}]}`}, {"several_choices", `{"least":2,"choices":[{"code":"a","label":"A"}]}`},
		{"amount", `{"least":500,"most":100}`}, {"amount", `{"least":-1}`}, {"amount", `{"least":500,"suggestions":[100]}`}, {"amount", `{"suggestions":[1,2,3,4,5,6,7,8,9]}`},
		{"yes_no", `{"default":true}`}, {"note", ``}, {"note", `{"text":"  "}`}, {"heading", `{"size":2}`}, {"telepathy", ``},
	} {
		if _, err := Compile(Question{Kind: c.kind, Settings: json.RawMessage(c.settings)}); err == nil {
			t.Errorf("%s with %s was taken", c.kind, c.settings)
		}
	}
}

// Decode returns all faults of a form at once, and what could be read.
func TestDecodeTellsEverything(t *testing.T) {
	specs := map[Key]Spec{}
	for k, kind := range map[Key]KindName{"title": "short_text", "gift": "yes_no", "night": "date", "about": "heading"} {
		specs[k], _ = Compile(Question{Kind: kind})
	}
	answers, wrong := Decode(map[string]json.RawMessage{
		"title": json.RawMessage(`"Ada"`), "gift": json.RawMessage(`"yes"`), "night": json.RawMessage(`null`),
		"price": json.RawMessage(`1`), "about": json.RawMessage(`"x"`), strings.Repeat("k", 500): json.RawMessage(`1`),
	}, func(k Key) (Spec, bool) { s, ok := specs[k]; return s, ok })
	var got []string
	for _, f := range wrong {
		if len(f.Key) > 70 {
			t.Errorf("a hostile key of %d bytes is repeated whole", len(f.Key))
		}
		got = append(got, f.Code)
	}
	slices.Sort(got)
	if want := []string{"type_yes_no", "unknown", "unknown", "unknown"}; !slices.Equal(got, want) {
		t.Errorf("faults %v, want %v", got, want)
	}
	if answers["title"] != Text("Ada") || answers["night"].Answered() || answers["gift"] != nil {
		t.Errorf("answers are %v", answers)
	}
}

// A value marshals to what it was decoded from, so stored answers can be read
// again.
func TestValuesComeBack(t *testing.T) {
	for kind, in := range map[KindName]string{
		"short_text": `"Ada"`, "number": `12.50`, "date": `"2014-06-14"`, "yes_no": `false`, "amount": `500`,
		"booking": `{"start":"2026-11-28T19:30:00Z","people":4}`,
	} {
		spec, _ := Compile(Question{Kind: kind})
		v, f := spec.Decode(json.RawMessage(in))
		if f != nil {
			t.Fatalf("%s: %v", kind, f)
		}
		out, err := json.Marshal(v)
		if err != nil {
			t.Fatalf("%s: %v", kind, err)
		}
		again, f := spec.Decode(out)
		if f != nil || spec.Words(again, env) != spec.Words(v, env) {
			t.Errorf("%s: %s came back as %s", kind, in, out)
		}
	}
}

// Source: Unicode Standard Annex #29, table of grapheme cluster boundaries and
// the examples of GraphemeBreakTest.txt (from memory): what people count as
// one character.
func TestCharactersAreGraphemeClusters(t *testing.T) {
	for text, want := range map[string]int{
		"":                   0,
		"abc":                3,
		"e\u0301":            1, // e with a combining acute accent
		"\u1100\u1161\u11a8": 1, // a Hangul syllable of three jamo
		"🇳🇴🇩🇪":               2, // flags: pairs of regional indicators
		"👩‍👩‍👧‍👦":            1, // a family joined by zero-width joiners
		"👍🏽":                 1, // an emoji with a skin tone
		"\r\n":               1,
		"Ålesund":            7,
	} {
		if got := Characters(text); got != want {
			t.Errorf("%q has %d characters, want %d", text, got, want)
		}
	}
	for text, want := range map[string]int{
		"The night we met in Lofthus harbour": 29, "   ": 0, "a\u00a0b\tc": 3, "👩‍🚀 👍🏽": 2,
	} {
		if got := Letters(text); got != want {
			t.Errorf("%q has %d letters, want %d", text, got, want)
		}
	}
}

func TestKeys(t *testing.T) {
	for k, want := range map[Key]bool{"title": true, "a": true, "gift_for2": true, "": false, "Title": false, "2nd": false, "a-b": false, "tïtle": false, Key(strings.Repeat("a", 41)): false} {
		if k.Valid() != want {
			t.Errorf("%q is a key: %v, want %v", k, !want, want)
		}
	}
	if Choosing.Rank() >= Paying.Rank() || Moment("someday").Rank() != -1 {
		t.Error("the moments are in the wrong order")
	}
}

// FuzzDecode feeds hostile JSON to every kind: no panic, and an answer that
// passes its check can be written and read again.
func FuzzDecode(f *testing.F) {
	for _, seed := range []string{`"x"`, `1`, `-0.000001`, `true`, `null`, `[]`, `["a","a"]`, `{}`, `{"start":"2026-11-28T19:30:00Z","people":2}`, `"\ud800"`, `1e400`, `[[[[[[`, `"2026-02-30"`, "\"\x00\"", `"+4930231250"`, `{"from":"2026-12-09","to":"2026-12-12"}`, `[{"name":"Ada","age":1e3}]`, `[{"file":"AAAAAAAAAAAAAAAAAAAAAA","name":"a","crop":{"x":1e999}}]`, `{"strokes":[[1,2,3]],"text":"x"}`, `{"agreed":true,"version":"2"}`, `{"tea":9223372036854775807,"cake":1}`, `"20:30"`, `"#ffffff"`, `{"name":"a","street":"b","city":"c","country":"DE"}`} {
		f.Add(seed)
	}
	var specs []Spec
	for _, q := range []Question{{Kind: "short_text"}, {Kind: "long_text"}, {Kind: "number"}, {Kind: "date"}, {Kind: "yes_no"}, {Kind: "amount"}, {Kind: "booking"},
		{Kind: "count"}, {Kind: "time"}, {Kind: "date_span"}, {Kind: "mail"}, {Kind: "phone", Settings: json.RawMessage(germanTel)}, {Kind: "web_address"},
		{Kind: "postal_address"}, {Kind: "colour", Settings: json.RawMessage(anyPaint)}, {Kind: "files"}, {Kind: "signature", Settings: json.RawMessage(deed)},
		{Kind: "consent", Settings: json.RawMessage(rules)}, {Kind: "link_value"}, {Kind: "repeat", Settings: json.RawMessage(guests)},
		{Kind: "several_choices", Settings: json.RawMessage(cards)},

		{Kind: "one_choice", Settings: json.RawMessage(colours)}, {Kind: "several_choices", Settings: json.RawMessage(severalColours)}, {Kind: "heading"}} {
		s, err := Compile(q)
		if err != nil {
			f.Fatal(err)
		}
		specs = append(specs, s)
	}
	f.Fuzz(func(t *testing.T, in string) {
		if !json.Valid([]byte(in)) {
			return // the request body was refused before
		}
		for _, s := range specs {
			v, fault := s.Decode(json.RawMessage(in))
			if fault != nil || !v.Answered() || len(s.Check(v, env)) > 0 {
				continue
			}
			reads := s.Words(v, env)
			out, err := json.Marshal(v)
			if err != nil {
				t.Fatalf("%T: %v", v, err)
			}
			again, fault := s.Decode(out)
			if fault != nil || s.Words(again, env) != reads {
				t.Fatalf("%T: %s came back as %s", v, in, out)
			}
		}
	})
}
