package formula

import (
	"errors"
	"regexp"
	"ruvo/internal/core/words"
	"slices"
	"strings"
	"unicode/utf8"

	"github.com/expr-lang/expr/ast"
	"github.com/expr-lang/expr/file"
	"github.com/expr-lang/expr/parser"
	"github.com/shopspring/decimal"
)

// A part is one operation of a formula with what it is made of.
type part struct {
	op    string
	kind  Kind
	args  []*part
	value Value  // of a constant
	name  string // of a name
}

// functions says how many arguments each function takes, at least and at most.
var functions = map[string][2]int{
	"min": {1, 50}, "max": {1, 50}, "abs": {1, 1}, "floor": {1, 1}, "ceil": {1, 1}, "round": {1, 2},
	"share": {3, 3}, "rate": {3, 100}, "upto": {3, 100}, "count": {2, 2}, "sum": {2, 2},
}

// Functions lists the functions that a formula can use.
func Functions() []string {
	var all []string
	for name := range functions {
		all = append(all, name)
	}
	slices.Sort(all)
	return all
}

// decimalComma is a number written with a comma, as many languages do.
var decimalComma = regexp.MustCompile(`\d+,\d+`)

type reader struct {
	names func(string) (Kind, bool)
	used  []string
	parts int
	codes []CodeUse
	list  string // whose entries are looked at here
}

func wrong(n ast.Node, code string, pairs ...any) error {
	return &Error{At: n.Location().From, Why: words.Tell(code, pairs...)}
}

func (r *reader) read(source string) (*part, error) {
	switch {
	case strings.TrimSpace(source) == "":
		return nil, &Error{Why: words.Tell("formula.empty")}
	case len(source) > Longest || !utf8.ValidString(source):
		return nil, &Error{Why: words.Tell("charge.formula_can_have_characters", "longest", Longest)}
	case strings.Count(source, "(")+strings.Count(source, "[")+strings.Count(source, "{") > mostParts:
		return nil, &Error{Why: words.Tell("formula.has_too_many_brackets")}
	}
	tree, err := parser.Parse(source)
	if err != nil {
		var at *file.Error
		if comma := decimalComma.FindStringIndex(source); comma != nil && (!errors.As(err, &at) || at.From <= comma[1]) {
			return nil, &Error{At: comma[0], Why: words.Tell("formula.decimal_point", "number", strings.Replace(source[comma[0]:comma[1]], ",", ".", 1))}
		}
		if errors.As(err, &at) {
			return nil, &Error{At: at.From, Why: words.Tell("formula.cannot_read_here")}
		}
		return nil, &Error{Why: words.Tell("formula.cannot_read")}
	}
	root, err := r.part(tree.Node, 1)
	if err != nil {
		return nil, err
	}
	if root.kind != Number {
		return nil, wrong(tree.Node, "formula.gives_number_needed", "given", root.kind)
	}
	return root, nil
}

func (r *reader) part(n ast.Node, depth int) (*part, error) {
	if r.parts++; r.parts > mostParts || depth > deepest {
		return nil, wrong(n, "formula.too_long_use_named_values")
	}
	switch n := n.(type) {
	case *ast.IntegerNode:
		return constant(n, decimal.NewFromInt(int64(n.Value)))
	case *ast.FloatNode:
		return constant(n, decimal.NewFromFloat(n.Value))
	case *ast.BoolNode:
		return &part{op: "constant", kind: YesNo, value: Value{Yes: n.Value}}, nil
	case *ast.StringNode:
		return &part{op: "constant", kind: Code, value: Value{Code: n.Value}}, nil
	case *ast.IdentifierNode:
		return r.name(n)
	case *ast.UnaryNode:
		return r.unary(n, depth)
	case *ast.BinaryNode:
		return r.binary(n, depth)
	case *ast.ConditionalNode:
		return r.choice(n, depth)
	case *ast.BuiltinNode:
		return r.call(n, n.Name, n.Arguments, depth)
	case *ast.CallNode:
		if name, ok := n.Callee.(*ast.IdentifierNode); ok {
			return r.call(n, name.Value, n.Arguments, depth)
		}
	}
	return nil, wrong(n, "formula.formula_has_numbers_names_comparisons", "list", strings.Join(Functions(), ", "))
}

func constant(n ast.Node, d decimal.Decimal) (*part, error) {
	if d.Abs().GreaterThan(largest) {
		return nil, wrong(n, "formula.this_number_too_large")
	}
	return &part{op: "constant", value: Value{Number: d.Round(digits)}}, nil
}

func (r *reader) name(n *ast.IdentifierNode) (*part, error) {
	if r.list != "" { // what an entry has comes before what the order has
		if kind, ok := r.names(r.list + "." + n.Value); ok {
			return &part{op: "name", kind: kind, name: r.list + "." + n.Value}, nil
		}
	}
	kind, ok := r.names(n.Value)
	if !ok {
		return nil, wrong(n, "formula.there_no_here", "value", n.Value)
	}
	if !slices.Contains(r.used, n.Value) {
		r.used = append(r.used, n.Value)
	}
	return &part{op: "name", kind: kind, name: n.Value}, nil
}

// all reads several parts of which each must be of a kind.
func (r *reader) all(nodes []ast.Node, kind Kind, depth int) ([]*part, error) {
	parts := make([]*part, len(nodes))
	for i, n := range nodes {
		p, err := r.part(n, depth+1)
		if err != nil {
			return nil, err
		}
		if p.kind != kind {
			return nil, wrong(n, "formula.needed_here_this", "wanted", kind, "given", p.kind)
		}
		parts[i] = p
	}
	return parts, nil
}

func (r *reader) unary(n *ast.UnaryNode, depth int) (*part, error) {
	op, kind := "negative", Number
	if n.Operator == "!" || n.Operator == "not" {
		op, kind = "not", YesNo
	}
	args, err := r.all([]ast.Node{n.Node}, kind, depth)
	if err != nil {
		return nil, err
	}
	if n.Operator == "+" {
		return args[0], nil
	}
	return &part{op: op, kind: kind, args: args}, nil
}

func (r *reader) binary(n *ast.BinaryNode, depth int) (*part, error) {
	sides := []ast.Node{n.Left, n.Right}
	switch n.Operator {
	case "+", "-", "*", "/":
		args, err := r.all(sides, Number, depth)
		return &part{op: n.Operator, args: args}, err
	case "<", "<=", ">", ">=":
		args, err := r.all(sides, Number, depth)
		return &part{op: n.Operator, kind: YesNo, args: args}, err
	case "and", "&&", "or", "||":
		op := map[string]string{"&&": "and", "||": "or"}[n.Operator]
		if op == "" {
			op = n.Operator
		}
		args, err := r.all(sides, YesNo, depth)
		return &part{op: op, kind: YesNo, args: args}, err
	case "==", "!=":
		left, err := r.part(n.Left, depth+1)
		if err != nil {
			return nil, err
		}
		right, err := r.all(sides[1:], left.kind, depth)
		if err != nil {
			return nil, err
		}
		r.code(left, n.Right)
		r.code(right[0], n.Left)
		op := "same"
		if n.Operator == "!=" {
			op = "other"
		}
		return &part{op: op, kind: YesNo, args: []*part{left, right[0]}}, nil
	}
	return nil, wrong(n, "formula.cannot_used_formula", "operator", n.Operator)
}

func (r *reader) choice(n *ast.ConditionalNode, depth int) (*part, error) {
	test, err := r.all([]ast.Node{n.Cond}, YesNo, depth)
	if err != nil {
		return nil, err
	}
	yes, err := r.part(n.Exp1, depth+1)
	if err != nil {
		return nil, err
	}
	no, err := r.all([]ast.Node{n.Exp2}, yes.kind, depth)
	if err != nil {
		return nil, err
	}
	return &part{op: "?", kind: yes.kind, args: []*part{test[0], yes, no[0]}}, nil
}

func (r *reader) call(n ast.Node, name string, arguments []ast.Node, depth int) (*part, error) {
	takes, ok := functions[name]
	switch {
	case !ok:
		return nil, wrong(n, "formula.there_no_function_there_are", "name", name, "list", strings.Join(Functions(), ", "))
	case len(arguments) < takes[0] || len(arguments) > takes[1]:
		return nil, wrong(n, "formula.takes_values", "name", name, "takes", takes[0], "takes2", takes[1])
	}
	if name == "count" || name == "sum" {
		return r.entries(n, name, arguments, depth)
	}
	if name != "rate" {
		args, err := r.all(arguments, Number, depth)
		return &part{op: name, args: args}, err
	}
	key, err := r.all(arguments[:1], Code, depth)
	if err != nil {
		return nil, err
	}
	args := key
	for i, a := range arguments[1:] {
		kind := Number
		if i%2 == 0 && i < len(arguments)-2 {
			if _, constant := a.(*ast.StringNode); !constant {
				return nil, wrong(a, "formula.code_choice_needed_here_quotation")
			}
			kind = Code
			r.code(args[0], a)
		}
		p, err := r.all([]ast.Node{a}, kind, depth)
		if err != nil {
			return nil, err
		}
		args = append(args, p[0])
	}
	return &part{op: name, args: args}, nil
}

// code notes that a choice is compared with a code.
func (r *reader) code(choice *part, with ast.Node) {
	if text, ok := with.(*ast.StringNode); ok && choice.op == "name" && choice.kind == Code {
		r.codes = append(r.codes, CodeUse{choice.name, text.Value, with.Location().From})
	}
}

// entries reads what is counted or added up over the entries of a list:
// count(guests, age < 12), sum(guests, nights).
func (r *reader) entries(n ast.Node, name string, arguments []ast.Node, depth int) (*part, error) {
	list, ok := arguments[0].(*ast.IdentifierNode)
	if !ok || r.list != "" {
		return nil, wrong(arguments[0], "formula.list_needed_here")
	}
	if kind, ok := r.names(list.Value + "."); !ok || kind != List {
		return nil, wrong(arguments[0], "formula.list_needed_here")
	}
	if _, err := r.name(list); err != nil {
		return nil, err
	}
	of := arguments[1]
	if p, ok := of.(*ast.PredicateNode); ok {
		of = p.Node
	}
	kind := Number
	if name == "count" {
		kind = YesNo
	}
	r.list = list.Value
	args, err := r.all([]ast.Node{of}, kind, depth)
	r.list = ""
	if err != nil {
		return nil, err
	}
	return &part{op: name, name: list.Value, args: args}, nil
}
