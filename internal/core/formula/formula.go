// Package formula computes what sentences cannot say: a number from the
// answers of an order line, such as an area or an entry of a rate table. A
// formula has no loops and a bounded size, and each of its numbers stays within
// bounds, so it always comes to an end quickly.
package formula

import (
	"fmt"
	"ruvo/internal/core/words"
	"slices"
	"strings"

	"github.com/shopspring/decimal"
)

// The bounds of a formula.
const (
	Longest   = 2000 // bytes
	mostParts = 300
	deepest   = 60
	digits    = 12 // after the point, of everything that is computed
)

// largest bounds every number on the way.
var largest = decimal.New(1, 15)

// What can stand in the way of a result.
var (
	ErrDivision = words.Tell("formula.divides_by_zero")
	ErrRange    = words.Tell(RangeCode)
	ErrTable    = words.Tell("formula.table_has_no_entry_this")
)

// RangeCode is the code of ErrRange.
const RangeCode = "formula.number_too_large"

// A Kind is what a name or a part of a formula stands for.
type Kind int

const (
	Number Kind = iota // in decimals
	YesNo              // of comparisons
	Code               // a chosen choice's code; empty without one
	List               // of entries, to look into
)

// Told implements words.Told.
func (k Kind) Told() *words.Message {
	return words.Tell([...]string{"formula.kind_number", "formula.kind_yes_no", "formula.kind_code", "formula.kind_list"}[k])
}

// A Value is what a name has for one order line. Without an answer it is the
// zero Value: the number 0, no, and no choice.
type Value struct {
	Number decimal.Decimal
	Yes    bool
	Code   string
	// Entries give what the names within an entry of a list have.
	Entries []func(name string) Value
}

// An Error says what is wrong with a formula, and where.
type Error struct {
	At  int // characters before the place
	Why *words.Message
}

func (e *Error) Error() string { return e.Why.Error() }

// Told implements words.Told.
func (e *Error) Told() *words.Message { return e.Why }

// A Formula is ready to be computed. It can be used by several goroutines.
type Formula struct {
	root  *part
	names []string
	codes []CodeUse
}

// A CodeUse is where a formula compares a choice with a code.
type CodeUse struct {
	Name string // of the choice; "guests.dish" within entries
	Code string
	At   int // characters before the place
}

// Read reads a formula. Names says what each name stands for, "guests.age" being
// a name within the entries of a list; the result must be a number. The error is
// an *Error.
func Read(source string, names func(string) (Kind, bool)) (*Formula, error) {
	r := &reader{names: names}
	root, err := r.read(source)
	if err != nil {
		return nil, err
	}
	return &Formula{root: root, names: r.used, codes: r.codes}, nil
}

// Codes lists the codes of choices that the formula names.
func (f *Formula) Codes() []CodeUse { return f.codes }

// Entries says whether the formula looks at the entries of a list.
func (f *Formula) Entries(list string) bool { return f.root.entries(list) }

func (p *part) entries(list string) bool {
	if (p.op == "count" || p.op == "sum") && p.name == list {
		return true
	}
	for _, a := range p.args {
		if a.entries(list) {
			return true
		}
	}
	return false
}

// Names lists the names that the formula reads, in the order in which they
// first stand in it.
func (f *Formula) Names() []string { return slices.Clone(f.names) }

// Compute gives the formula's number. The error is one of ErrDivision,
// ErrRange and ErrTable; the number is zero then.
func (f *Formula) Compute(value func(name string) Value) (decimal.Decimal, error) {
	s := scope{value: value}
	v := s.compute(f.root)
	if s.err != nil {
		return decimal.Zero, s.err
	}
	return v.Number, nil
}

// scope is one computation; its first error ends it.
type scope struct {
	value func(string) Value
	err   error
}

func (s *scope) number(p *part) decimal.Decimal { return s.compute(p).Number }

// keep holds a number within the bounds of all that is computed.
func (s *scope) keep(d decimal.Decimal) Value {
	if d.Abs().GreaterThan(largest) {
		s.fail(ErrRange)
		return Value{}
	}
	if d.Exponent() < -digits {
		d = d.Round(digits)
	}
	return Value{Number: d}
}

func (s *scope) fail(err error) {
	if s.err == nil {
		s.err = err
	}
}

func (s *scope) compute(p *part) Value {
	if s.err != nil {
		return Value{}
	}
	switch p.op {
	case "constant":
		return p.value
	case "name":
		v := s.value(p.name)
		if p.kind == Number {
			return s.keep(v.Number)
		}
		return v
	case "?":
		if s.compute(p.args[0]).Yes {
			return s.compute(p.args[1])
		}
		return s.compute(p.args[2])
	case "and":
		return Value{Yes: s.compute(p.args[0]).Yes && s.compute(p.args[1]).Yes}
	case "or":
		return Value{Yes: s.compute(p.args[0]).Yes || s.compute(p.args[1]).Yes}
	case "not":
		return Value{Yes: !s.compute(p.args[0]).Yes}
	case "same", "other":
		a, b := s.compute(p.args[0]), s.compute(p.args[1])
		same := a.Yes == b.Yes && a.Code == b.Code && a.Number.Equal(b.Number)
		return Value{Yes: same == (p.op == "same")}
	case "rate":
		return s.rate(p.args)
	case "upto":
		return s.upto(p.args)
	case "count", "sum":
		return s.entries(p)
	}
	return s.arithmetic(p)
}

// arithmetic computes what is made of numbers alone.
func (s *scope) arithmetic(p *part) Value {
	a := s.number(p.args[0])
	var b decimal.Decimal
	if len(p.args) > 1 {
		b = s.number(p.args[1])
	}
	if s.err != nil {
		return Value{}
	}
	switch p.op {
	case "+":
		return s.keep(a.Add(b))
	case "-":
		return s.keep(a.Sub(b))
	case "*":
		return s.keep(a.Mul(b))
	case "/":
		if b.IsZero() {
			s.fail(ErrDivision)
			return Value{}
		}
		return s.keep(a.DivRound(b, digits))
	case "share":
		if b.IsZero() {
			return s.compute(p.args[2])
		}
		return s.keep(a.DivRound(b, digits))
	case "negative":
		return Value{Number: a.Neg()}
	case "<":
		return Value{Yes: a.LessThan(b)}
	case "<=":
		return Value{Yes: a.LessThanOrEqual(b)}
	case ">":
		return Value{Yes: a.GreaterThan(b)}
	case ">=":
		return Value{Yes: a.GreaterThanOrEqual(b)}
	case "abs":
		return Value{Number: a.Abs()}
	case "floor":
		return Value{Number: a.Floor()}
	case "ceil":
		return Value{Number: a.Ceil()}
	case "round":
		return Value{Number: a.Round(int32(min(max(b.IntPart(), 0), digits)))}
	case "min", "max":
		for _, x := range p.args[1:] {
			if n := s.number(x); n.LessThan(a) == (p.op == "min") {
				a = n
			}
		}
		return Value{Number: a}
	}
	panic(fmt.Sprintf("formula: no operation %q", p.op))
}

// rate looks a choice up: rate(size, "a4", 3, "a3", 5), with one number more
// for every other choice.
func (s *scope) rate(args []*part) Value {
	code := s.compute(args[0]).Code
	rest := args[1:]
	for ; len(rest) > 1; rest = rest[2:] {
		if rest[0].value.Code == code {
			return s.compute(rest[1])
		}
	}
	return s.otherwise(rest)
}

// upto looks a number up: upto(weight, 10, 4, 20, 7) is 4 up to ten, 7 up to
// twenty, with one number more for all above.
func (s *scope) upto(args []*part) Value {
	n := s.number(args[0])
	rest := args[1:]
	for ; len(rest) > 1; rest = rest[2:] {
		if n.LessThanOrEqual(s.number(rest[0])) {
			return s.compute(rest[1])
		}
	}
	return s.otherwise(rest)
}

// entries counts the entries of a list for which something holds, or adds up
// what it comes to for each.
func (s *scope) entries(p *part) Value {
	sum := decimal.Zero
	outer := s.value
	defer func() { s.value = outer }()
	for _, entry := range outer(p.name).Entries {
		s.value = func(name string) Value {
			if field, ok := strings.CutPrefix(name, p.name+"."); ok {
				return entry(field)
			}
			return outer(name)
		}
		v := s.compute(p.args[0])
		switch {
		case p.op == "sum":
			sum = sum.Add(v.Number)
		case v.Yes:
			sum = sum.Add(decimal.NewFromInt(1))
		}
	}
	return s.keep(sum)
}

func (s *scope) otherwise(rest []*part) Value {
	if len(rest) == 0 {
		s.fail(ErrTable)
		return Value{}
	}
	return s.compute(rest[0])
}
