package formula

import "math"

// A Range is all numbers from Least to Most; infinite ends are allowed.
type Range struct{ Least, Most float64 }

// Anything is the range of every number that a formula can have.
var Anything = Range{-1e15, 1e15}

func (r Range) has(x float64) bool { return r.Least <= x && x <= r.Most }

func (r Range) with(o Range) Range {
	return Range{math.Min(r.Least, o.Least), math.Max(r.Most, o.Most)}
}

// A Bound is what can be said of a formula's result when only the ranges of
// its names are known.
type Bound struct {
	Range
	// Zero says that a divisor can be zero.
	Zero bool
	// Gap says that a table can be asked for what it has no entry for.
	Gap bool
}

// Bounds encloses the formula's result: it lies in the range, which can be
// wider than need be (interval arithmetic).
func (f *Formula) Bounds(names func(string) Range) Bound {
	b := &bounding{names: names}
	r := b.of(f.root)
	return Bound{Range: r, Zero: b.zero, Gap: b.gap}
}

type bounding struct {
	names     func(string) Range
	zero, gap bool
}

func (b *bounding) of(p *part) Range {
	r := b.raw(p)
	return Range{math.Max(r.Least, Anything.Least), math.Min(r.Most, Anything.Most)}
}

func (b *bounding) raw(p *part) Range {
	switch p.op {
	case "constant":
		n := p.value.Number.InexactFloat64()
		return Range{n, n}
	case "name":
		if p.kind != Number {
			return Range{}
		}
		return b.names(p.name)
	case "and", "or", "not", "same", "other", "<", "<=", ">", ">=":
		for _, a := range p.args {
			b.of(a)
		}
		return Range{}
	case "?":
		b.of(p.args[0])
		return b.of(p.args[1]).with(b.of(p.args[2]))
	case "rate", "upto":
		return b.table(p)
	case "count", "sum":
		of, n := b.of(p.args[0]), b.names(p.name)
		if p.op == "count" {
			return Range{0, n.Most}
		}
		return corners(of, Range{0, n.Most}, func(a, b float64) float64 { return a * b })
	}
	rs := make([]Range, len(p.args))
	for i, a := range p.args {
		rs[i] = b.of(a)
	}
	return b.arithmetic(p.op, rs)
}

func (b *bounding) table(p *part) Range {
	b.of(p.args[0])
	rest := p.args[1:]
	var r Range
	for i := 0; len(rest) > 1; rest = rest[2:] {
		if v := b.of(rest[1]); i == 0 {
			r = v
		} else {
			r = r.with(v)
		}
		i++
	}
	if len(rest) == 1 {
		return r.with(b.of(rest[0]))
	}
	b.gap = true
	return r
}

func (b *bounding) arithmetic(op string, rs []Range) Range {
	x := rs[0]
	var y Range
	if len(rs) > 1 {
		y = rs[1]
	}
	switch op {
	case "+":
		return Range{x.Least + y.Least, x.Most + y.Most}
	case "-":
		return Range{x.Least - y.Most, x.Most - y.Least}
	case "*":
		return corners(x, y, func(a, b float64) float64 { return a * b })
	case "/":
		if y.has(0) {
			b.zero = true
			return Anything
		}
		return corners(x, y, func(a, b float64) float64 { return a / b })
	case "share":
		if y.has(0) {
			return Anything
		}
		return corners(x, y, func(a, b float64) float64 { return a / b })
	case "negative":
		return Range{-x.Most, -x.Least}
	case "abs":
		if x.has(0) {
			return Range{0, math.Max(-x.Least, x.Most)}
		}
		return Range{math.Min(math.Abs(x.Least), math.Abs(x.Most)), math.Max(math.Abs(x.Least), math.Abs(x.Most))}
	case "floor":
		return Range{math.Floor(x.Least), math.Floor(x.Most)}
	case "ceil":
		return Range{math.Ceil(x.Least), math.Ceil(x.Most)}
	case "round":
		return Range{x.Least - 1, x.Most + 1}
	case "min":
		for _, r := range rs[1:] {
			x = Range{math.Min(x.Least, r.Least), math.Min(x.Most, r.Most)}
		}
	case "max":
		for _, r := range rs[1:] {
			x = Range{math.Max(x.Least, r.Least), math.Max(x.Most, r.Most)}
		}
	}
	return x
}

func corners(x, y Range, f func(a, b float64) float64) Range {
	r := Range{math.Inf(1), math.Inf(-1)}
	for _, a := range []float64{x.Least, x.Most} {
		for _, b := range []float64{y.Least, y.Most} {
			v := f(a, b)
			if math.IsNaN(v) { // nothing times without end
				v = 0
			}
			r = r.with(Range{v, v})
		}
	}
	return r
}
