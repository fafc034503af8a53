package condition

import (
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
)

var classes = map[question.Key]question.Class{
	"title": question.ClassText, "pictures": question.ClassNumber, "gift": question.ClassYesNo, "size": question.ClassOne,
	"damage": question.ClassSeveral, "night": question.ClassDay, "evening": question.ClassBooking, "about": question.ClassNone,
	"arrival": question.ClassClock, "stay": question.ClassSpan, "guests": question.ClassList, "signed": question.ClassGiven,
}

func class(k question.Key) (question.Class, bool) { c, ok := classes[k]; return c, ok }

func num(n int64) question.Number { return question.Number{Decimal: decimal.NewFromInt(n)} }

var full = question.Answers{
	"title": question.Text("The Night"), "pictures": num(7), "gift": question.YesNo(true), "size": question.One("large"),
	"damage": question.Several{"dust", "torn"}, "night": question.Date{Day: calendar.Day{Year: 2014, Month: 6, Number: 14}},
	"evening": question.Booking{Start: time.Unix(1, 0), People: 4},
	"arrival": question.Clock(17*60 + 30), "signed": question.Signature{Name: "Ada"},
	"stay":   question.Span{From: calendar.Day{Year: 2026, Month: 12, Number: 9}, To: calendar.Day{Year: 2026, Month: 12, Number: 12}},
	"guests": question.Repeat{Entries: []question.Answers{{"name": question.Text("Ada")}, {"name": question.Text("Ben")}}},
}

// Each row is a condition as it is stored, and whether it holds for the
// answers above and for no answers at all.
func TestComparisons(t *testing.T) {
	for _, c := range []struct {
		condition   string
		holds, bare bool
	}{
		{`{"answer":"title","op":"answered"}`, true, false},
		{`{"answer":"arrival","op":"is","value":"17:30"}`, true, false},
		{`{"answer":"arrival","op":"is_not","value":"17:30"}`, false, true},
		{`{"answer":"arrival","op":"before","value":"18:00"}`, true, false},
		{`{"answer":"arrival","op":"before","value":"17:30"}`, false, false},
		{`{"answer":"arrival","op":"after","value":"09:00"}`, true, false},
		{`{"answer":"arrival","op":"between","value":["17:00","17:30"]}`, true, false},
		{`{"answer":"stay","op":"at_least","value":4}`, true, false},
		{`{"answer":"stay","op":"at_least","value":5}`, false, false},
		{`{"answer":"stay","op":"at_most","value":4}`, true, false},
		{`{"answer":"stay","op":"before","value":"2026-12-10"}`, true, false},
		{`{"answer":"stay","op":"after","value":"2026-12-09"}`, false, false},
		{`{"answer":"guests","op":"at_least","value":2}`, true, false},
		{`{"answer":"guests","op":"between","value":[3,5]}`, false, false},
		{`{"answer":"guests","op":"not_answered"}`, false, true},
		{`{"answer":"signed","op":"answered"}`, true, false},
		{`{"answer":"signed","op":"not_answered"}`, false, true},
		{`{"answer":"title","op":"not_answered"}`, false, true},
		{`{"answer":"title","op":"is","value":"the night"}`, true, false},
		{`{"answer":"title","op":"is_not","value":"the night"}`, false, true},
		{`{"answer":"title","op":"contains","value":"NIGHT"}`, true, false},
		{`{"answer":"pictures","op":"is","value":7}`, true, false},
		{`{"answer":"pictures","op":"is","value":"7.0"}`, true, false},
		{`{"answer":"pictures","op":"at_least","value":7}`, true, false},
		{`{"answer":"pictures","op":"at_least","value":8}`, false, false},
		{`{"answer":"pictures","op":"at_most","value":6}`, false, false},
		{`{"answer":"pictures","op":"between","value":[7,9]}`, true, false},
		{`{"answer":"pictures","op":"between","value":[8,9]}`, false, false},
		{`{"answer":"gift","op":"is","value":true}`, true, false},
		{`{"answer":"gift","op":"is","value":false}`, false, false},
		{`{"answer":"gift","op":"is_not","value":true}`, false, true},
		{`{"answer":"size","op":"is","value":"large"}`, true, false},
		{`{"answer":"size","op":"includes","value":["small","large"]}`, true, false},
		{`{"answer":"size","op":"includes_none","value":["small"]}`, true, true},
		{`{"answer":"damage","op":"includes","value":["torn","faded"]}`, true, false},
		{`{"answer":"damage","op":"includes_none","value":["torn"]}`, false, true},
		{`{"answer":"damage","op":"at_least","value":2}`, true, false},
		{`{"answer":"night","op":"before","value":"2014-06-15"}`, true, false},
		{`{"answer":"night","op":"before","value":"2014-06-14"}`, false, false},
		{`{"answer":"night","op":"after","value":"2014-06-13"}`, true, false},
		{`{"answer":"night","op":"between","value":["2014-06-14","2014-06-14"]}`, true, false},
		{`{"answer":"evening","op":"at_least","value":4}`, true, false},
		{`{"fact":"quantity","op":"at_least","value":2}`, true, true},
		{`{"fact":"quantity","op":"is","value":3}`, false, false},
		{`{"all":[]}`, true, true},
		{`{"any":[]}`, false, false},
		{`{"none":[]}`, true, true},
		{`{"all":[{"answer":"gift","op":"is","value":true},{"answer":"pictures","op":"at_least","value":5}]}`, true, false},
		{`{"any":[{"answer":"gift","op":"is","value":false},{"answer":"pictures","op":"at_least","value":5}]}`, true, false},
		{`{"none":[{"answer":"gift","op":"is","value":false},{"answer":"pictures","op":"at_least","value":9}]}`, true, true},
		{`{"all":[{"any":[{"answer":"size","op":"is","value":"small"},{"none":[{"answer":"gift","op":"answered"}]}]}]}`, false, true},
	} {
		var cond Condition
		if err := json.Unmarshal([]byte(c.condition), &cond); err != nil {
			t.Fatal(err)
		}
		test, err := Compile(&cond, Names{Class: class})
		if err != nil {
			t.Errorf("%s: %v", c.condition, err)
			continue
		}
		if got := test.Holds(full, Facts{Quantity: 2}); got != c.holds {
			t.Errorf("%s holds: %v, want %v", c.condition, got, c.holds)
		}
		if got := test.Holds(nil, Facts{Quantity: 2}); got != c.bare {
			t.Errorf("%s holds without answers: %v, want %v", c.condition, got, c.bare)
		}
	}
	var none *Test
	if !none.Holds(nil, Facts{}) {
		t.Error("no condition always holds")
	}
}

func TestConditionsThatMakeNoSense(t *testing.T) {
	deep := strings.Repeat(`{"all":[`, 9) + `{"answer":"gift","op":"answered"}` + strings.Repeat(`]}`, 9)
	wide := `{"all":[` + strings.Repeat(`{"answer":"gift","op":"answered"},`, 250) + `{"answer":"gift","op":"answered"}]}`
	for _, c := range []string{
		`{}`, `{"answer":"gift"}`, `{"op":"is"}`, `{"all":[],"any":[]}`, `{"all":[],"answer":"gift","op":"answered"}`,
		`{"answer":"gift","fact":"quantity","op":"answered"}`, `{"answer":"ghost","op":"answered"}`, `{"answer":"about","op":"answered"}`,
		`{"answer":"gift","op":"at_least","value":1}`, `{"answer":"title","op":"before","value":"2014-01-01"}`, `{"answer":"gift","op":"is","value":"yes"}`,
		`{"answer":"pictures","op":"between","value":[1]}`, `{"answer":"night","op":"before","value":"2014-02-30"}`, `{"answer":"pictures","op":"is"}`,
		`{"answer":"arrival","op":"is","value":"25:00"}`, `{"answer":"arrival","op":"at_least","value":1}`, `{"answer":"stay","op":"is","value":"2026-01-01"}`,
		`{"answer":"stay","op":"before","value":3}`, `{"answer":"signed","op":"is","value":true}`, `{"answer":"guests","op":"is","value":2}`, `{"fact":"moon","op":"is","value":1}`, `{"answer":"size","op":"includes","value":"small"}`, deep, wide,
	} {
		var cond Condition
		if err := json.Unmarshal([]byte(c), &cond); err != nil {
			t.Fatal(err)
		}
		if _, err := Compile(&cond, Names{Class: class}); err == nil {
			t.Errorf("%s was taken", c[:min(len(c), 80)])
		}
	}
}

func TestEveryClassHasOperatorsThatCompile(t *testing.T) {
	values := map[question.Class]map[Op]string{
		question.ClassText: {"": `"x"`}, question.ClassNumber: {"": `1`, Between: `[1,2]`}, question.ClassYesNo: {"": `true`},
		question.ClassOne: {"": `"a"`, Includes: `["a"]`, IncludesNone: `["a"]`}, question.ClassSeveral: {"": `1`, Includes: `["a"]`, IncludesNone: `["a"]`, Between: `[1,2]`},
		question.ClassDay: {"": `"2026-01-01"`, Between: `["2026-01-01","2026-01-02"]`}, question.ClassBooking: {"": `1`, Between: `[1,2]`},
		question.ClassClock: {"": `"17:30"`, Between: `["17:00","18:00"]`}, question.ClassSpan: {"": `1`, Before: `"2026-01-01"`, After: `"2026-01-01"`},
		question.ClassList: {"": `1`, Between: `[1,2]`}, question.ClassGiven: {"": ``},
	}
	for key, c := range classes {
		if (len(Ops(c)) == 0) != (c == question.ClassNone) {
			t.Errorf("class %d has the operators %v", c, Ops(c))
		}
		for _, op := range Ops(c) {
			v, ok := values[c][op]
			if !ok {
				v = values[c][""]
			}
			if _, err := Compile(&Condition{Answer: key, Op: op, Value: json.RawMessage(v)}, Names{Class: class}); err != nil {
				t.Errorf("%s %s %s: %v", key, op, v, err)
			}
		}
	}
}

func TestOrderNamesTheCycle(t *testing.T) {
	for _, c := range []struct {
		needs map[question.Key][]question.Key
		cycle []question.Key
	}{
		{map[question.Key][]question.Key{"a": {"a"}}, []question.Key{"a"}},
		{map[question.Key][]question.Key{"a": {"b"}, "b": {"a"}}, []question.Key{"a", "b"}},
		{map[question.Key][]question.Key{"a": {"c"}, "c": {"d"}, "d": {"b"}, "b": {"c"}}, []question.Key{"c", "d", "b"}},
		{map[question.Key][]question.Key{"a": {"b"}, "b": {"c"}}, nil},
		{map[question.Key][]question.Key{"a": {"ghost"}}, nil},
	} {
		_, err := Order([]question.Key{"a", "b", "c", "d"}, c.needs)
		var cycle *CycleError
		if errors.As(err, &cycle) != (c.cycle != nil) {
			t.Errorf("%v: %v", c.needs, err)
		} else if cycle != nil && !slices.Equal(cycle.Keys, c.cycle) {
			t.Errorf("%v: the cycle is %v, want %v", c.needs, cycle.Keys, c.cycle)
		}
	}
}

// world is a random set of questions whose conditions form no cycle.
func world(r *rand.Rand) (keys []question.Key, tests map[question.Key]*Test, answers question.Answers) {
	n := r.IntN(25) + 2
	tests, answers = map[question.Key]*Test{}, question.Answers{}
	gifts := func(question.Key) (question.Class, bool) { return question.ClassYesNo, true }
	for i := range n {
		k := question.Key(fmt.Sprintf("q%d", i))
		keys = append(keys, k)
		if r.IntN(4) > 0 {
			answers[k] = question.YesNo(r.IntN(2) == 0)
		}
		if i > 0 && r.IntN(3) > 0 {
			c := randomCondition(r, i, 0)
			test, err := Compile(&c, Names{Class: gifts})
			if err != nil {
				panic(err)
			}
			tests[k] = test
		}
	}
	r.Shuffle(n, func(i, j int) { keys[i], keys[j] = keys[j], keys[i] })
	return keys, tests, answers
}

func randomCondition(r *rand.Rand, below, depth int) Condition {
	if depth > 2 || r.IntN(3) > 0 {
		ops := []Op{Answered, NotAnswered, Is, IsNot}
		return Condition{Answer: question.Key(fmt.Sprintf("q%d", r.IntN(below))), Op: ops[r.IntN(4)], Value: json.RawMessage(fmt.Sprint(r.IntN(2) == 0))}
	}
	parts := make([]Condition, r.IntN(3)+1)
	for i := range parts {
		parts[i] = randomCondition(r, below, depth+1)
	}
	return []Condition{{All: parts}, {Any: parts}, {None: parts}}[r.IntN(3)]
}

// The answer of the dependency order is that of a slow evaluator that goes
// over all questions until nothing changes any more.
func TestOrderAgreesWithRepeatUntilStable(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 12))
	for range 1500 {
		keys, tests, given := world(r)
		needs := map[question.Key][]question.Key{}
		for k, test := range tests {
			needs[k] = test.Keys(nil)
		}
		order, err := Order(keys, needs)
		if err != nil {
			t.Fatal(err)
		}
		quick := question.Answers{}
		for _, k := range order {
			if v, ok := given[k]; ok && tests[k].Holds(quick, Facts{}) {
				quick[k] = v
			}
		}
		slow := question.Answers{}
		for changed := true; changed; {
			changed = false
			next := question.Answers{}
			for _, k := range keys {
				if v, ok := given[k]; ok && tests[k].Holds(slow, Facts{}) {
					next[k] = v
				}
			}
			for _, k := range keys {
				if (next[k] == nil) != (slow[k] == nil) {
					changed = true
				}
			}
			slow = next
		}
		for _, k := range keys {
			if (quick[k] == nil) != (slow[k] == nil) {
				t.Fatalf("%s counts: %v in order, %v slowly", k, quick[k] != nil, slow[k] != nil)
			}
		}
	}
}

// The order in which questions are displayed never changes what is asked.
func TestDisplayOrderDoesNotMatter(t *testing.T) {
	r := rand.New(rand.NewPCG(13, 14))
	for range 300 {
		keys, tests, given := world(r)
		needs := map[question.Key][]question.Key{}
		for k, test := range tests {
			needs[k] = test.Keys(nil)
		}
		asked := func(display []question.Key) string {
			order, err := Order(display, needs)
			if err != nil {
				t.Fatal(err)
			}
			counts := question.Answers{}
			var names []string
			for _, k := range order {
				if tests[k].Holds(counts, Facts{}) {
					names = append(names, string(k))
					if v, ok := given[k]; ok {
						counts[k] = v
					}
				}
			}
			slices.Sort(names)
			return strings.Join(names, " ")
		}
		first := asked(keys)
		r.Shuffle(len(keys), func(i, j int) { keys[i], keys[j] = keys[j], keys[i] })
		if again := asked(keys); again != first {
			t.Fatalf("asked %s, and in another display order %s", first, again)
		}
	}
}

// FuzzCompile feeds hostile conditions: an error or a test that can be held
// against answers, and no panic.
func FuzzCompile(f *testing.F) {
	for _, s := range []string{`{"answer":"gift","op":"is","value":true}`, `{"all":[{"any":[]}]}`, `{"answer":"night","op":"between","value":["2026-01-01"]}`, `{"fact":"quantity","op":"is","value":1e999}`, `{"all":null}`, `{"answer":"size","op":"includes","value":[null]}`} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, in string) {
		var c Condition
		if json.Unmarshal([]byte(in), &c) != nil {
			return
		}
		if test, err := Compile(&c, Names{Class: class}); err == nil {
			test.Holds(full, Facts{Quantity: 1})
			test.Holds(nil, Facts{})
		}
	})
}
