package formula

import (
	"errors"
	"math"
	"math/big"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/shopspring/decimal"
)

func names(name string) (Kind, bool) {
	k, ok := map[string]Kind{"width": Number, "height": Number, "guests": Number, "gift": YesNo, "size": Code, "x": Number, "y": Number}[name]
	return k, ok
}

func values(name string) Value {
	n := func(s string) Value { return Value{Number: decimal.RequireFromString(s)} }
	return map[string]Value{"width": n("1.2"), "height": n("0.8"), "guests": n("5"), "gift": {Yes: true}, "size": {Code: "a3"}}[name]
}

func TestFormulas(t *testing.T) {
	for source, want := range map[string]string{
		"width * height * 45": "43.2", "0.1 + 0.2": "0.3", "10 / 4": "2.5", "1/3*3": "0.999999999999", "-guests + 7": "2", "2 + 3 * 4": "14",
		"guests > 2 ? (guests - 2) * 18 : 0": "54", "gift && guests >= 5 ? 1 : 2": "1", "not gift or size != \"a3\" ? 1 : 2": "2",
		`rate(size, "a4", 3, "a3", 5.5)`: "5.5", `rate(size, "a5", 3, 9)`: "9", "upto(guests, 2, 10, 5, 20, 30)": "20", "upto(guests, 2, 10, 30)": "30",
		"min(width, height, 0.9)": "0.8", "max(width, height)": "1.2", "ceil(width) + floor(height) + abs(-2)": "4", "round(2.345, 2)": "2.35", "round(2.5)": "3",
		"x": "0", "share(10, x, 7)": "7", "share(10, 4, 7)": "2.5", `size == "a3" ? width : height`: "1.2", "gift == true ? 1 : 0": "1",
	} {
		f, err := Read(source, names)
		if err != nil {
			t.Errorf("%s: %v", source, err)
			continue
		}
		if got, err := f.Compute(values); err != nil || !got.Equal(decimal.RequireFromString(want)) {
			t.Errorf("%s is %s, want %s (%v)", source, got, want, err)
		}
	}
}

// What cannot be computed gives zero and says why.
func TestNoResult(t *testing.T) {
	for source, want := range map[string]error{
		"1 / x": ErrDivision, "1 / (guests - 5)": ErrDivision, `rate(size, "a4", 3, "a2", 4)`: ErrTable, "upto(guests, 1, 2, 3, 4)": ErrTable,
		"999999999 * 999999999 * guests": ErrRange,
	} {
		f, err := Read(source, names)
		if err != nil {
			t.Errorf("%s: %v", source, err)
			continue
		}
		if got, err := f.Compute(values); !errors.Is(err, want) || !got.IsZero() {
			t.Errorf("%s gives %s and %v, want %v", source, got, err, want)
		}
	}
}

// A mistake is said with its place.
func TestMistakes(t *testing.T) {
	for source, want := range map[string]struct {
		at  int
		why string
	}{
		"width * hight": {8, `no "hight"`}, "": {0, "empty"}, "2 +": {2, "cannot be read"}, "gift": {0, "gives yes or no"}, "width + gift": {8, "a number is needed"},
		`size + 1`: {0, "a number is needed"}, "2 ** 3": {2, "cannot be used"}, "[1, 2]": {0, "a formula has numbers"}, "len(size)": {0, "no function"},
		`rate(size, size, 3, 4)`: {11, "quotation marks"}, "min()": {0, "takes 1 to 50"}, "map(1..9, # * 2)": {0, "no function"}, `"a" matches "b"`: {4, "cannot be used"},
		"width.height": {-1, "a formula has numbers"}, "gift ? 1 : size": {11, "a number is needed"}, "let z = 1; z": {-1, "a formula has numbers"}, "guests in 1..3": {7, "cannot be used"},
		strings.Repeat("1+", 400) + "1": {-1, "too long"}, strings.Repeat("(", 500) + "1": {-1, "too many brackets"}, strings.Repeat("1", 3000): {-1, "characters"}, "1e400": {-1, ""},
	} {
		_, err := Read(source, names)
		var e *Error
		if !errors.As(err, &e) || !strings.Contains(e.Why.Error(), want.why) || want.at >= 0 && e.At != want.at {
			t.Errorf("%.40q: %+v, want %+v", source, e, want)
		}
	}
}

// Source: math/big's rationals, an arithmetic without rounding of Go's own
// library. Random formulas agree with it, and lie within their bounds.
func TestFormulasAgreeWithRationals(t *testing.T) {
	r := rand.New(rand.NewPCG(51, 52))
	x, y := decimal.New(r.Int64N(2000)-1000, -2), decimal.New(r.Int64N(900)+100, -2)
	var write func(depth int) (string, *big.Rat)
	write = func(depth int) (string, *big.Rat) {
		if depth == 0 {
			switch r.IntN(3) {
			case 0:
				return "x", x.Rat()
			case 1:
				return "y", y.Rat()
			}
			d := decimal.New(r.Int64N(10_000), -2)
			return d.String(), d.Rat()
		}
		a, av := write(depth - 1)
		b, bv := write(depth - 1)
		switch r.IntN(4) {
		case 0:
			return "(" + a + " + " + b + ")", new(big.Rat).Add(av, bv)
		case 1:
			return "(" + a + " - " + b + ")", new(big.Rat).Sub(av, bv)
		case 2:
			return a + " * " + b, new(big.Rat).Mul(av, bv)
		}
		if bv.Sign() == 0 || new(big.Rat).Abs(bv).Cmp(big.NewRat(1, 10)) < 0 {
			return a, av
		}
		return "(" + a + " / (" + b + "))", new(big.Rat).Quo(av, bv)
	}
	for range 2000 {
		source, exact := write(3)
		f, err := Read(source, names)
		if err != nil {
			t.Fatalf("%s: %v", source, err)
		}
		got, err := f.Compute(func(n string) Value { return Value{Number: map[string]decimal.Decimal{"x": x, "y": y}[n]} })
		if errors.Is(err, ErrRange) {
			continue
		}
		want, _ := exact.Float64()
		if off := math.Abs(got.InexactFloat64() - want); err != nil || off > 1e-6*math.Max(1, math.Abs(want)) {
			t.Fatalf("%s is %s, want %v (%v)", source, got, want, err)
		}
		b := f.Bounds(func(string) Range { return Range{-10, 10} })
		if slack := 1e-6 * math.Max(1, math.Abs(want)); want < b.Least-slack || want > b.Most+slack {
			t.Fatalf("%s is %v, outside of %+v", source, want, b)
		}
	}
}

func TestBounds(t *testing.T) {
	ranges := func(n string) Range {
		return map[string]Range{"width": {0.5, 2}, "height": {0, 3}, "guests": {1, 8}, "x": {-4, 2}}[n]
	}
	for source, want := range map[string]Bound{
		"width * height * 10":      {Range: Range{0, 60}},
		"guests > 2 ? guests : -1": {Range: Range{-1, 8}},
		"10 / height":              {Range: Anything, Zero: true},
		"10 / width":               {Range: Range{5, 20}},
		"abs(x)":                   {Range: Range{0, 4}},
		"max(x, 0)":                {Range: Range{0, 2}},
		`rate(size, "a", 3, 4)`:    {Range: Range{3, 4}},
		`upto(guests, 3, 1, 5, 2)`: {Range: Range{1, 2}, Gap: true},
	} {
		f, err := Read(source, names)
		if err != nil {
			t.Fatal(source, err)
		}
		if got := f.Bounds(ranges); got != want {
			t.Errorf("%s: %+v, want %+v", source, got, want)
		}
	}
}

// Whatever is typed comes to an end, with a number within bounds or a reason.
func FuzzFormulas(f *testing.F) {
	for _, s := range []string{
		"width * height * 45", "guests > 2 ? (guests - 2) * 18 : 0", `rate(size, "a4", 3, "a3", 5.5)`, "1/x", "((((", "1e308*1e308", "x ?: y", "\"\\u0000\"",
		"9999999999999999999999", "-(-(-(-1)))", "upto(x,1,2)", "a.b[c](d)", "`", "1..9999999", "repeat(\"a\", 9999999)", "x|min(y)", "let a = a; a", "$env", "#.x", "0x1F + 0b1", "1_000",
	} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, source string) {
		formula, err := Read(source, names)
		if err != nil {
			var e *Error
			if !errors.As(err, &e) || e.At < 0 || e.At > len(source) {
				t.Errorf("%q: %v", source, err)
			}
			return
		}
		n, err := formula.Compute(values)
		if err == nil && n.Abs().GreaterThan(largest) {
			t.Errorf("%q gives %s", source, n)
		}
		b := formula.Bounds(func(string) Range { return Range{-1000, 1000} })
		if v := n.InexactFloat64(); err == nil && (v < b.Least-1e-3*math.Abs(v)-1e-3 || v > b.Most+1e-3*math.Abs(v)+1e-3) {
			t.Errorf("%q is %v, outside of %+v", source, v, b)
		}
	})
}

// Entries of a list are counted and added up by what they say.
func TestEntries(t *testing.T) {
	names := func(n string) (Kind, bool) {
		k, ok := map[string]Kind{"guests": Number, "guests.": List, "guests.age": Number, "guests.dish": Code, "guests.vegan": YesNo, "nights": Number, "n": Number, "age": Number}[n]
		return k, ok
	}
	entry := func(age, dish string, vegan bool) func(string) Value {
		return func(n string) Value {
			return map[string]Value{"age": {Number: decimal.RequireFromString(age)}, "dish": {Code: dish}, "vegan": {Yes: vegan}}[n]
		}
	}
	values := func(n string) Value {
		switch n {
		case "guests":
			return Value{Number: decimal.NewFromInt(3), Entries: []func(string) Value{entry("41", "soup", false), entry("9", "soup", true), entry("7.5", "", true)}}
		case "nights":
			return Value{Number: decimal.NewFromInt(2)}
		case "age":
			return Value{Number: decimal.NewFromInt(1000)}
		}
		return Value{}
	}
	for source, want := range map[string]string{
		"guests": "3", "count(guests, age < 12)": "2", "count(guests, age < 12) * 18 * nights": "72", "sum(guests, age)": "57.5", `count(guests, dish == "soup" && vegan)`: "1",
		"sum(guests, age < 12 ? 5 : 9)": "19", "sum(guests, rate(dish, \"soup\", 4, 6) * nights)": "28", "age": "1000", "count(guests, vegan) / n == 0 ? 1 : 2": "",
	} {
		f, err := Read(source, names)
		if err != nil {
			t.Errorf("%s: %v", source, err)
			continue
		}
		got, err := f.Compute(values)
		if want == "" {
			if !errors.Is(err, ErrDivision) {
				t.Errorf("%s: %v", source, err)
			}
			continue
		}
		if err != nil || !got.Equal(decimal.RequireFromString(want)) {
			t.Errorf("%s is %s, want %s: %v", source, got, want, err)
		}
		if !f.Entries("guests") && strings.Contains(source, "(guests") || f.Entries("n") {
			t.Errorf("%s: what it looks into is not told", source)
		}
	}
	for source, why := range map[string]string{
		"count(n, age < 1)": "a question for a list", "count(guests, age)": "yes or no", "sum(guests, dish)": "a number", "count(guests)": "takes 2", "count(guests, count(guests, vegan) > 1)": "a question for a list",
		"sum(guests, hat)": `no "hat"`, "sum(3, age)": "a question for a list",
	} {
		if _, err := Read(source, names); err == nil || !strings.Contains(err.Error(), why) {
			t.Errorf("%s: %v, want %q", source, err, why)
		}
	}
	b := mustRead(t, "count(guests, age < 12) * 18", names).Bounds(func(n string) Range {
		return map[string]Range{"guests": {1, 4}, "guests.age": {0, 120}}[n]
	})
	if b.Range != (Range{0, 72}) {
		t.Errorf("%+v", b)
	}
	if b = mustRead(t, "sum(guests, age - 10)", names).Bounds(func(n string) Range { return map[string]Range{"guests": {1, 4}, "guests.age": {0, 120}}[n] }); b.Range != (Range{-40, 440}) {
		t.Errorf("%+v", b)
	}
}

func mustRead(t *testing.T, source string, names func(string) (Kind, bool)) *Formula {
	t.Helper()
	f, err := Read(source, names)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

func TestExplainedWithUnits(t *testing.T) {
	units := func(n string) string { return map[string]string{"width": "m", "guests": "guests"}[n] }
	if got, want := mustRead(t, "width * height * 45 + guests", names).Explain(values, units), "{1.2} m × {0.8} × {45} + {5} guests"; got != want {
		t.Errorf("%s, want %s", got, want)
	}
}

// A computation is shown with its numbers, and only what of it is taken.
func TestExplained(t *testing.T) {
	for source, want := range map[string]string{
		"width * height * 45":                 "{1.2} × {0.8} × {45}",
		"(width + height) * 2 - 1":            "({1.2} + {0.8}) × {2} − {1}",
		"10 - (width - height)":               "{10} − ({1.2} − {0.8})",
		"10 / (width * height)":               "{10} ÷ ({1.2} × {0.8})",
		"guests > 2 ? (guests - 2) * 18 : 7":  "({5} − {2}) × {18}",
		`rate(size, "a3", 5.5, 9) * width`:    "{5.5} × {1.2}",
		"upto(guests, 2, 4, 6) * ceil(width)": "{6} × ceil({1.2})",
		"share(10, x, 7) + 1":                 "{7} + {1}",
		"-width * 2":                          "−{1.2} × {2}",
		"guests":                              "", // nothing is computed
		"1 / x":                               "", // nor has this a result
		"1+1+1+1+1+1+1+1+1+guests":            "", // and nobody would read this
	} {
		f, err := Read(source, names)
		if err != nil {
			t.Errorf("%s: %v", source, err)
			continue
		}
		if got := f.Explain(values, nil); got != want {
			t.Errorf("%s is explained by %q, want %q", source, got, want)
		}
	}
}
