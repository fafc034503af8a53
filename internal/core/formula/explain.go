package formula

import (
	"strings"

	"github.com/shopspring/decimal"
)

// longestExplained is how many numbers an explanation shows; more would explain
// nothing.
const longestExplained = 8

// Explain gives the computation with its numbers, each in braces: "{4.2} × {2.5}
// × {58}". Of a choice between two ways and of a table only what is taken is
// shown. It is empty where the computation is one number, has too many, or has no
// result.
//
// Unit says what stands behind the number of a name; empty for nothing.
func (f *Formula) Explain(value func(name string) Value, unit func(name string) string) string {
	e := explaining{scope: scope{value: value}, unit: unit}
	text := e.part(f.root, 0)
	if e.err != nil || e.numbers < 2 || e.numbers > longestExplained {
		return ""
	}
	return text
}

type explaining struct {
	scope
	numbers int
	unit    func(name string) string
}

// signs are the operations between two numbers, and how tightly they bind.
var signs = map[string]struct {
	sign string
	bind int
}{"+": {"+", 1}, "-": {"−", 1}, "*": {"×", 2}, "/": {"÷", 2}, "share": {"÷", 2}}

func (e *explaining) number(d decimal.Decimal) string {
	e.numbers++
	return "{" + d.String() + "}"
}

// part explains what stands within something that binds so tightly.
func (e *explaining) part(p *part, around int) string {
	if e.err != nil {
		return ""
	}
	switch p.op {
	case "?":
		if e.compute(p.args[0]).Yes {
			return e.part(p.args[1], around)
		}
		return e.part(p.args[2], around)
	case "+", "-", "*", "/":
		return e.between(p, around)
	case "share":
		if e.compute(p.args[1]).Number.IsZero() {
			return e.part(p.args[2], around)
		}
		return e.between(p, around)
	case "min", "max", "floor", "ceil", "round", "abs":
		var parts []string
		for _, a := range p.args {
			parts = append(parts, e.part(a, 0))
		}
		return p.op + "(" + strings.Join(parts, ", ") + ")"
	case "negative":
		return "−" + e.part(p.args[0], 3)
	}
	// A name, a number, and what a table or a list gives.
	text := e.number(e.compute(p).Number)
	if p.op == "name" && e.unit != nil {
		if u := e.unit(p.name); u != "" {
			text += " " + u
		}
	}
	return text
}

// between explains two numbers with a sign between them, in brackets where what
// stands around binds more tightly.
func (e *explaining) between(p *part, around int) string {
	e.compute(p) // which can have no result
	s := signs[p.op]
	right := s.bind
	if p.op == "-" || p.op == "/" || p.op == "share" {
		right++ // what is taken away or divided by stands together
	}
	text := e.part(p.args[0], s.bind) + " " + s.sign + " " + e.part(p.args[1], right)
	if s.bind < around {
		return "(" + text + ")"
	}
	return text
}
