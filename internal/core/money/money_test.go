package money

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/shopspring/decimal"
	"golang.org/x/text/currency"
)

func dec(s string) decimal.Decimal { return decimal.RequireFromString(s) }

// Source: golang.org/x/text/currency, which carries the digits of ISO 4217 as
// CLDR gives them. CLDR departs from the standard for what is not used in
// daily trade any more; those codes are named here with the standard's digits
// (ISO 4217:2015, table A.1, from memory).
func TestDigitsAgreeWithTextCurrency(t *testing.T) {
	standard := map[Currency]int{"IQD": 3, "UGX": 0, "RSD": 2, "COP": 2, "PKR": 2, "IDR": 2, "HUF": 2, "TWD": 2, "UYU": 2, "CLP": 0}
	for _, c := range []Currency{"AFN", "ALL", "AMD", "GYD", "IRR", "KPW", "LAK", "LBP", "MGA", "MMK", "MNT", "MUR", "SOS", "SYP", "TZS", "UZS", "YER"} {
		standard[c] = 2
	}
	younger := []Currency{"MRU", "SLE", "VES", "ZWG"} // than the library's table
	for _, c := range Currencies() {
		if slices.Contains(younger, c) {
			continue
		}
		unit, err := currency.ParseISO(string(c))
		if err != nil {
			t.Errorf("%s is no ISO 4217 code: %v", c, err)
			continue
		}
		want, _ := currency.Standard.Rounding(unit)
		if s, ok := standard[c]; ok {
			want = s
		}
		if got, err := c.Digits(); err != nil || got != want {
			t.Errorf("%s has %d digits, want %d (%v)", c, got, want, err)
		}
	}
}

// Source: the same library's list of what is legal tender today; since it was
// made, these were taken out of use or are no currency of trade.
func TestEveryCurrencyInUseIsKnown(t *testing.T) {
	gone := []string{"CUC", "HRK", "MRO", "SLL", "STD", "VEF", "ZWL", "BYR", "LTL", "ZMK", "CHE", "CHW", "CLF", "COU", "MXV", "USN", "UYI", "BOV", "XDR", "CNH"}
	n := 0
	for all := currency.Query(); all.Next(); {
		code := all.Unit().String()
		if slices.Contains(gone, code) {
			continue
		}
		n++
		if _, err := Currency(code).Digits(); err != nil {
			t.Errorf("%s is not known", code)
		}
	}
	if n < 140 {
		t.Errorf("only %d currencies were looked at", n)
	}
}

// What is computed with whole numbers is what decimals without an end give.
func TestExactSharesAgreeWithDecimals(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 12))
	for range 20_000 {
		a := Amount(r.Int64N(2_000_000_000) - 1_000_000_000)
		p := decimal.New(r.Int64N(2_000_000), -int32(r.IntN(6)))
		n := Count(r.Int64N(3_000_000_000))
		for _, rule := range []Rounding{HalfUp, HalfEven} {
			if got, want := rule.Percent(a, p), rule.Round(decimal.NewFromInt(int64(a)).Mul(p).Shift(-2)); got != want {
				t.Fatalf("%s %% of %d is %d, want %d", p, a, got, want)
			}
			if got, want := rule.Each(a, n), rule.Round(decimal.NewFromInt(int64(a)).Mul(n.Decimal())); got != want {
				t.Fatalf("%d for each of %s is %d, want %d", a, n.Decimal(), got, want)
			}
			want := rule.Round(decimal.NewFromInt(int64(a)).Mul(p).DivRound(hundred.Add(p), 30))
			if got := rule.Contained(a, p); got != want {
				t.Fatalf("%s %% in %d is %d, want %d", p, a, got, want)
			}
		}
	}
	if got := HalfUp.Each(Largest, Whole(most)); got != Largest {
		t.Errorf("held at %d", got)
	}
	for _, s := range []string{"0", "1", "-3", "2.5", "0.0000019", "1e12", "-1e300", "123456.654321"} {
		want := decimal.RequireFromString(s).Truncate(6)
		if limit := decimal.NewFromInt(most); want.Abs().GreaterThan(limit) {
			want = limit.Mul(decimal.NewFromInt(int64(want.Sign())))
		}
		if got := CountOf(dec(s)).Decimal(); !got.Equal(want) {
			t.Errorf("%s counts %s", s, got)
		}
	}
	if got := Whole(3).Times(CountOf(dec("1.5"))); got != CountOf(dec("4.5")) {
		t.Errorf("3 × 1.5 is %s", got.Decimal())
	}
}

// What is net becomes gross and net again to the cent, whatever the amount up
// to 10,000.00. The other way, gross to net to gross, prices that contain tax
// can lie between two net prices, so there it is right to one cent.
func TestTaxBothWays(t *testing.T) {
	for _, rate := range []string{"7", "19", "25", "5.5", "8.1"} {
		p := dec(rate)
		for n := Amount(0); n <= 1_000_000; n++ {
			gross := n + HalfUp.Percent(n, p)
			if net := gross - HalfUp.Contained(gross, p); net != n {
				t.Fatalf("%s %%: net %d is gross %d is net %d", rate, n, gross, net)
			}
			net := n - HalfUp.Contained(n, p)
			if back := net + HalfUp.Percent(net, p); back < n-1 || back > n+1 {
				t.Fatalf("%s %%: gross %d is net %d is gross %d", rate, n, net, back)
			}
		}
	}
}

func TestUnknownCurrency(t *testing.T) {
	for _, c := range []Currency{"", "EURO", "eur", "XXX", "🜚"} {
		if _, err := c.Digits(); err == nil {
			t.Errorf("%q was taken for a currency", c)
		}
	}
}

func TestRounding(t *testing.T) {
	for _, c := range []struct {
		in         string
		up, toEven Amount
	}{
		{"0.5", 1, 0}, {"1.5", 2, 2}, {"2.5", 3, 2}, {"-0.5", -1, 0}, {"-1.5", -2, -2}, {"-2.5", -3, -2},
		{"0.49999", 0, 0}, {"2.500001", 3, 3}, {"-2.49", -2, -2}, {"1170", 1170, 1170},
		{"1e30", Largest, Largest}, {"-1e30", -Largest, -Largest},
	} {
		if got := HalfUp.Round(dec(c.in)); got != c.up {
			t.Errorf("half away from zero: %s gives %d, want %d", c.in, got, c.up)
		}
		if got := HalfEven.Round(dec(c.in)); got != c.toEven {
			t.Errorf("half to even: %s gives %d, want %d", c.in, got, c.toEven)
		}
	}
}

func TestPercent(t *testing.T) {
	for _, c := range []struct {
		of      Amount
		percent string
		want    Amount
	}{
		{3900, "30", 1170}, {999, "7.5", 75}, {1, "50", 1}, {1, "49.9", 0}, {-3900, "30", -1170}, {0, "30", 0}, {10000, "0", 0},
	} {
		if got := HalfUp.Percent(c.of, dec(c.percent)); got != c.want {
			t.Errorf("%s %% of %d is %d, want %d", c.percent, c.of, got, c.want)
		}
	}
}

func TestTimesStaysInRange(t *testing.T) {
	for _, c := range []struct {
		a    Amount
		n    int64
		want Amount
	}{{60, 5, 300}, {0, 9, 0}, {7, 0, 0}, {Largest, 2, Largest}, {-Largest, 9, -Largest}, {1 << 62, 1 << 62, Largest}} {
		if got := c.a.Times(c.n); got != c.want {
			t.Errorf("%d × %d = %d, want %d", c.a, c.n, got, c.want)
		}
	}
}

// Source: the apportionment of 120 seats by the census of 1790 with Hamilton's
// method, the method of largest remainder; populations and result as in
// Balinski and Young, "Fair Representation" (from memory).
func TestSplitIsHamiltonsMethod(t *testing.T) {
	population := []int64{
		630560, 475327, 432879, 353523, 331589, 278514, 236841, 206236, // Virginia to South Carolina
		179570, 141822, 85533, 70835, 68705, 68446, 55540, // New Jersey to Delaware
	}
	want := []Amount{21, 16, 14, 12, 11, 9, 8, 7, 6, 5, 3, 2, 2, 2, 2}
	if got := Split(120, population); !slices.Equal(got, want) {
		t.Errorf("shares are %v, want %v", got, want)
	}
}

func TestSplitAddsUp(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 2000 {
		weights := make([]int64, r.IntN(9)+1)
		for i := range weights {
			weights[i] = r.Int64N(1000) - 50
		}
		a := Amount(r.Int64N(2_000_000) - 1_000_000)
		parts := Split(a, weights)
		var sum Amount
		for _, p := range parts {
			sum += p
		}
		if sum != a {
			t.Fatalf("Split(%d, %v) = %v, which adds up to %d", a, weights, parts, sum)
		}
	}
}

func TestSplitEdges(t *testing.T) {
	for _, c := range []struct {
		a       Amount
		weights []int64
		want    []Amount
	}{
		{100, []int64{1, 1, 1}, []Amount{34, 33, 33}},
		{-100, []int64{1, 1, 1}, []Amount{-34, -33, -33}},
		{5, []int64{0, 0}, []Amount{5, 0}},
		{5, nil, []Amount{}},
		{0, []int64{3, 4}, []Amount{0, 0}},
		{7, []int64{-3, 1}, []Amount{0, 7}},
	} {
		if got := Split(c.a, c.weights); !slices.Equal(got, c.want) {
			t.Errorf("Split(%d, %v) = %v, want %v", c.a, c.weights, got, c.want)
		}
	}
}

func TestPlain(t *testing.T) {
	for _, c := range []struct {
		a    Amount
		c    Currency
		want string
	}{{5070, "EUR", "50.70"}, {-5, "EUR", "-0.05"}, {1200, "JPY", "1200"}, {1234, "KWD", "1.234"}, {7, "???", "0.07"}} {
		if got := c.a.Plain(c.c); got != c.want {
			t.Errorf("%d in %s reads %q, want %q", c.a, c.c, got, c.want)
		}
	}
}
