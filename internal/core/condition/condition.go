// Package condition decides what is asked: expressions over other answers and
// facts of the order, the order in which they can be evaluated, and the cycles
// that make this impossible.
package condition

import (
	"encoding/json"
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/reading"
	"ruvo/internal/core/words"
)

// A Condition is one comparison, or a group of conditions of which all, any
// or none must hold. Groups nest; an empty group of all or none holds, an
// empty group of any does not.
type Condition struct {
	All  []Condition `json:"all,omitempty"`
	Any  []Condition `json:"any,omitempty"`
	None []Condition `json:"none,omitempty"`

	Answer question.Key    `json:"answer,omitempty"` // compare this answer,
	Fact   Fact            `json:"fact,omitempty"`   // or this fact of the order
	Op     Op              `json:"op,omitempty"`
	Value  json.RawMessage `json:"value,omitempty"`

	// Entries compares how many entries of a list meet a condition, which reads
	// the questions of an entry.
	Entries *Condition `json:"entries,omitempty"`
	// Sum compares what the entries of a list answer to a number, together.
	Sum question.Key `json:"sum,omitempty"`
}

// A Fact is something known of an order besides its answers.
type Fact string

const (
	Quantity Fact = "quantity" // how many units the order line has
	People   Fact = "people"   // the line's people, booked or answered
	Hours    Fact = "hours"    // of the booked or answered time
	Days     Fact = "days"     // of the span, both ends counted
	Nights   Fact = "nights"   // of the span, one fewer than its days
	Group    Fact = "group"    // the key of the customer's group
	Season   Fact = "season"   // the name of the season, or fixed stay, that what is booked begins in
	Weekday  Fact = "weekday"  // on which what is booked begins: sunday to saturday
	Booked   Fact = "day"      // on which what is booked begins

	Products   Fact = "products"    // in the basket, by the names in their addresses
	Categories Fact = "categories"  // of the products in the basket
	IsGift     Fact = "is_gift"     // it is for somebody else
	IsBusiness Fact = "is_business" // a business orders
	Language   Fact = "language"    // of the customer
)

// class says what a fact can be compared with.
func (f Fact) class() (question.Class, bool) {
	switch f {
	case Quantity, People, Hours, Days, Nights:
		return question.ClassNumber, true
	case Group, Season, Weekday, Language:
		return question.ClassOne, true
	case Products, Categories:
		return question.ClassSeveral, true
	case IsGift, IsBusiness:
		return question.ClassYesNo, true
	case Booked:
		return question.ClassDay, true
	}
	return 0, false
}

// Facts are the values of the facts.
type Facts struct {
	Quantity int
	// Group is the key of the customer's group; empty for none.
	Group string
	// Whole is what is known of the whole order.
	Whole Whole
	// Measure gives what the line is measured by, as far as it is answered.
	Measure func(Fact) decimal.Decimal
	// Booked gives the day on which what is booked begins, and its season; the zero
	// day while it is not known.
	Booked func() (day calendar.Day, season string)
}

// terms gives a fact as an answer would be compared.
func (f *Facts) terms(of Fact) (question.Terms, bool) {
	switch {
	case of == Quantity:
		return question.Terms{Number: decimal.NewFromInt(int64(f.Quantity))}, true
	case of == Group:
		return question.Terms{Codes: []string{f.Group}}, f.Group != ""
	case of == Products || of == Categories || of == IsGift || of == IsBusiness || of == Language:
		return f.Whole.terms(of)
	case of == Season || of == Weekday || of == Booked:
		return f.booked(of)
	case f.Measure == nil:
		return question.Terms{}, false
	}
	n := f.Measure(of)
	return question.Terms{Number: n}, n.IsPositive()
}

func (f *Facts) booked(of Fact) (question.Terms, bool) {
	if f.Booked == nil {
		return question.Terms{}, false
	}
	day, season := f.Booked()
	switch {
	case day == (calendar.Day{}):
		return question.Terms{}, false
	case of == Season:
		return question.Terms{Codes: []string{season}}, season != ""
	case of == Weekday:
		return question.Terms{Codes: []string{strings.ToLower(day.Weekday().String())}}, true
	}
	return question.Terms{Day: day}, true
}

// An Op compares an answer with a value.
type Op string

const (
	Answered     Op = "answered"      // there is an answer
	NotAnswered  Op = "not_answered"  // there is none, or it is not asked
	Is           Op = "is"            // the same text, number, choice, day, time, or yes or no
	IsNot        Op = "is_not"        // another one, or no answer
	Includes     Op = "includes"      // any of the listed codes
	IncludesNone Op = "includes_none" // none of the listed codes
	AtLeast      Op = "at_least"      // as large or larger
	AtMost       Op = "at_most"       // as small or smaller
	Between      Op = "between"       // both ends included
	Before       Op = "before"        // an earlier day or time
	After        Op = "after"         // a later day or time
	Contains     Op = "contains"      // text, whatever its case
)

// Ops lists the operators that fit a class of answers.
func Ops(c question.Class) []Op {
	switch c {
	case question.ClassText:
		return []Op{Answered, NotAnswered, Is, IsNot, Contains}
	case question.ClassNumber:
		return []Op{Answered, NotAnswered, Is, IsNot, AtLeast, AtMost, Between}
	case question.ClassYesNo:
		return []Op{Answered, NotAnswered, Is, IsNot}
	case question.ClassOne:
		return []Op{Answered, NotAnswered, Is, IsNot, Includes, IncludesNone}
	case question.ClassSeveral:
		return []Op{Answered, NotAnswered, Includes, IncludesNone, AtLeast, AtMost, Between}
	case question.ClassDay:
		return []Op{Answered, NotAnswered, Is, IsNot, Before, After, Between}
	case question.ClassClock:
		return []Op{Answered, NotAnswered, Is, IsNot, Before, After, Between}
	case question.ClassSpan:
		return []Op{Answered, NotAnswered, AtLeast, AtMost, Before, After}
	case question.ClassGiven:
		return []Op{Answered, NotAnswered}
	case question.ClassBooking, question.ClassList:
		return []Op{Answered, NotAnswered, AtLeast, AtMost, Between}
	}
	return nil
}

// A Test is a condition made ready to be evaluated many times.
type Test struct {
	join  join
	parts []*Test

	key   question.Key
	fact  Fact // empty when an answer is compared
	op    Op
	class question.Class
	text  string
	codes []string
	low   decimal.Decimal
	high  decimal.Decimal
	first calendar.Day
	last  calendar.Day
	entry *Test        // which entries of a list count
	sum   question.Key // of an entry, added up instead of counting entries
}

type join int

const (
	leaf join = iota
	all
	anyOf
	none
)

// The limits that keep a hostile condition from costing much.
const (
	deepest = 8
	largest = 200
)

var (
	// ErrShape is returned for a condition that is neither one comparison nor one group.
	ErrShape = words.Tell("condition.condition_either_one_comparison_one")
	// ErrSize is returned for a condition nested deeper than 8 or of more than 200 parts.
	ErrSize = words.Tell("condition.condition_can_levels_deep_have", "deepest", deepest, "largest", largest)
)

// A KeyError names the key that a condition compares and cannot.
type KeyError struct {
	Key question.Key
	Why *words.Message
}

// Told implements words.Told.
func (e *KeyError) Told() *words.Message {
	return words.Tell("condition.compares", "key", e.Key, "why", e.Why)
}

func (e *KeyError) Error() string { return e.Told().Error() }

// Read reads a condition that is kept within something else.
func Read(raw json.RawMessage) (*Condition, error) {
	var c Condition
	if err := reading.Strict(raw, &c); err != nil {
		return nil, err
	}
	return &c, nil
}

// Compile makes a condition ready. A nil condition gives a nil Test, which
// always holds.
func Compile(c *Condition, n Names) (*Test, error) {
	if c == nil {
		return nil, nil
	}
	parts := 0
	return compile(c, n, 1, &parts)
}

func compile(c *Condition, n Names, depth int, parts *int) (*Test, error) {
	if *parts++; depth > deepest || *parts > largest {
		return nil, ErrSize
	}
	shapes := 0
	t := &Test{}
	for _, g := range []struct {
		join join
		list []Condition
	}{{all, c.All}, {anyOf, c.Any}, {none, c.None}} {
		if g.list == nil {
			continue
		}
		shapes++
		t.join = g.join
		for i := range g.list {
			p, err := compile(&g.list[i], n, depth+1, parts)
			if err != nil {
				return nil, err
			}
			t.parts = append(t.parts, p)
		}
	}
	if c.Answer != "" || c.Fact != "" || c.Op != "" || c.Entries != nil || c.Sum != "" {
		shapes++
	}
	if shapes != 1 || c.Answer != "" && c.Fact != "" {
		return nil, ErrShape
	}
	if t.join != leaf {
		return t, nil
	}
	if err := t.compare(c, n.Class); err != nil {
		return nil, err
	}
	if err := t.entries(c, n, depth, parts); err != nil {
		return nil, err
	}
	return t, nil
}

func (t *Test) compare(c *Condition, class func(question.Key) (question.Class, bool)) error {
	t.op, t.key = c.Op, c.Answer
	switch {
	case c.Fact != "":
		var ok bool
		if t.class, ok = c.Fact.class(); !ok {
			return &KeyError{question.Key(c.Fact), words.Tell("condition.no_fact")}
		}
		t.fact = c.Fact
	default:
		var ok bool
		if t.class, ok = class(c.Answer); !ok || t.class == question.ClassNone {
			return &KeyError{c.Answer, words.Tell("condition.no_question")}
		}
	}
	if !slices.Contains(Ops(t.class), t.op) {
		return &KeyError{t.key, words.Tell("condition.no_operator", "op", t.op)}
	}
	if err := t.operand(c.Value); err != nil {
		return &KeyError{t.key, words.Tell("condition.no_value")}
	}
	return nil
}

// operand reads the value that an answer is compared with.
func (t *Test) operand(raw json.RawMessage) error {
	switch {
	case t.op == Answered || t.op == NotAnswered:
		return nil
	case t.class == question.ClassYesNo:
		var b bool
		err := json.Unmarshal(raw, &b)
		t.codes = []string{map[bool]string{true: "yes", false: "no"}[b]}
		return err
	case t.op == Includes || t.op == IncludesNone:
		return json.Unmarshal(raw, &t.codes)
	case t.class == question.ClassOne:
		var code string
		err := json.Unmarshal(raw, &code)
		t.codes = []string{code}
		return err
	case t.class == question.ClassText:
		return json.Unmarshal(raw, &t.text)
	case t.class == question.ClassDay || t.op == Before && t.class == question.ClassSpan || t.op == After && t.class == question.ClassSpan:
		return ends(raw, t.op, &t.first, &t.last)
	case t.class == question.ClassClock:
		var first, last question.Clock
		err := ends(raw, t.op, &first, &last)
		t.low, t.high = first.Terms().Number, last.Terms().Number
		return err
	}
	return ends(raw, t.op, &t.low, &t.high)
}

// ends reads one value into both ends, or for Between a list of two.
func ends[T any](raw json.RawMessage, op Op, low, high *T) error {
	if op != Between {
		err := json.Unmarshal(raw, low)
		*high = *low
		return err
	}
	var two []T
	if err := json.Unmarshal(raw, &two); err != nil {
		return err
	}
	if len(two) != 2 {
		return words.Tell("condition.two_values_are_needed")
	}
	*low, *high = two[0], two[1]
	return nil
}

// Keys appends the keys that the test reads.
func (t *Test) Keys(keys []question.Key) []question.Key {
	if t == nil {
		return keys
	}
	if t.join == leaf && t.fact == "" && !slices.Contains(keys, t.key) {
		keys = append(keys, t.key)
	}
	for _, p := range t.parts {
		keys = p.Keys(keys)
	}
	return keys
}

// Facts appends the facts that the test reads.
func (t *Test) Facts(facts []Fact) []Fact {
	if t == nil {
		return facts
	}
	if t.fact != "" && !slices.Contains(facts, t.fact) {
		facts = append(facts, t.fact)
	}
	for _, p := range t.parts {
		facts = p.Facts(facts)
	}
	return facts
}

// Holds evaluates the test. A key that is not in the answers is not answered;
// what is not asked must not be in them.
func (t *Test) Holds(answers question.Answers, facts Facts) bool {
	if t == nil {
		return true
	}
	switch t.join {
	case all, none:
		for _, p := range t.parts {
			if p.Holds(answers, facts) == (t.join == none) {
				return false
			}
		}
		return true
	case anyOf:
		for _, p := range t.parts {
			if p.Holds(answers, facts) {
				return true
			}
		}
		return false
	}
	var terms question.Terms
	answered := false
	if t.fact != "" {
		terms, answered = facts.terms(t.fact)
	} else if t.entry != nil || t.sum != "" {
		terms, answered = t.ofEntries(answers[t.key], facts)
	} else if code, one := codeOf(answers[t.key]); one && (t.class == question.ClassOne || t.class == question.ClassYesNo) {
		return t.holdsCode(code)
	} else if v, ok := answers[t.key]; ok && v.Answered() {
		terms, answered = v.Terms(), true
	}
	return t.holds(terms, answered)
}

// codeOf gives the code of an answer that is one.
func codeOf(v question.Value) (string, bool) {
	switch v := v.(type) {
	case question.YesNo:
		if v {
			return "yes", true
		}
		return "no", true
	case question.One:
		return string(v), v != ""
	}
	return "", false
}

// holdsCode compares an answer that is one code.
func (t *Test) holdsCode(code string) bool {
	switch t.op {
	case Answered:
		return true
	case Is, Includes:
		return slices.Contains(t.codes, code)
	case IsNot, IncludesNone:
		return !slices.Contains(t.codes, code)
	}
	return false
}

// holds compares. No answer satisfies only the negative operators.
func (t *Test) holds(v question.Terms, answered bool) bool {
	switch t.op {
	case Answered:
		return answered
	case NotAnswered:
		return !answered
	case IsNot:
		return !answered || !t.same(v)
	case IncludesNone:
		return !slices.ContainsFunc(v.Codes, t.listed)
	}
	if !answered {
		return false
	}
	switch t.op {
	case Is:
		return t.same(v)
	case Includes:
		return slices.ContainsFunc(v.Codes, t.listed)
	case AtLeast:
		return v.Number.GreaterThanOrEqual(t.low)
	case AtMost:
		return v.Number.LessThanOrEqual(t.low)
	case Between:
		if t.class == question.ClassDay {
			return !v.Day.Before(t.first) && !v.Day.After(t.last)
		}
		return v.Number.GreaterThanOrEqual(t.low) && v.Number.LessThanOrEqual(t.high)
	case Before:
		if t.class == question.ClassClock {
			return v.Number.LessThan(t.low)
		}
		return v.Day.Before(t.first)
	case After:
		if t.class == question.ClassClock {
			return v.Number.GreaterThan(t.low)
		}
		return v.Day.After(t.first)
	case Contains:
		return strings.Contains(strings.ToLower(v.Text), strings.ToLower(t.text))
	}
	return false
}

func (t *Test) listed(code string) bool { return slices.Contains(t.codes, code) }

func (t *Test) same(v question.Terms) bool {
	switch t.class {
	case question.ClassText:
		return strings.EqualFold(v.Text, t.text)
	case question.ClassDay:
		return v.Day == t.first
	case question.ClassNumber, question.ClassClock:
		return v.Number.Equal(t.low)
	}
	return slices.Equal(v.Codes, t.codes)
}
