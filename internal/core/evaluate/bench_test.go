package evaluate

import (
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"
	"unicode"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

const everything = `{"night":"2014-06-14","place":"Lofthus","title":"The night we met in Lofthus harbour","paper":"midnight","size":"large","gift":true,"recipient":"Bea","rush":true,"fund":500,"dedication":"Ten years."}`

// BenchmarkChart evaluates the sample business's chart, everything answered.
func BenchmarkChart(b *testing.B) {
	e := coretest.Sample(b, "sky-chart")
	a := coretest.Decode(b, e, everything)
	f := asGiven()
	b.ReportAllocs()
	for b.Loop() { // with the words that the one by hand writes, too
		r := Evaluate(e, a, f)
		r.Slip.In(words.English)
	}
}

// byHand is what a programmer would write for that one product: its
// conditions, checks and price wired option by option.
func byHand(night, place, title, paper, size, recipient, dedication string, gift, rush bool, fund money.Amount) (charge.Slip, []string) {
	var missing []string
	need := func(name, value string) {
		if value == "" {
			missing = append(missing, name)
		}
	}
	need("night", night)
	need("place", place)
	need("title", title)
	need("paper", paper)
	need("size", size)
	if gift {
		need("recipient", recipient)
		need("dedication", dedication)
	}
	if night < "1900-01-01" || night > "2028-11-23" {
		missing = append(missing, "night")
	}
	if question.Characters(place) > 80 || question.Characters(title) > 40 || question.Characters(recipient) > 60 || question.Characters(dedication) > 300 {
		missing = append(missing, "length")
	}
	price := money.Amount(2400)
	label := "Sky chart for your night"
	switch size {
	case "medium":
		price, label = 3000, label+", Medium, 40 × 50 cm"
	case "large":
		price, label = 3600, label+", Large, 50 × 70 cm"
	case "wall":
		price, label = 4900, label+", Wall, 70 × 100 cm"
	}
	s := charge.Slip{Currency: "EUR", Lines: []charge.Line{{Label: label, Amount: price}}, Total: price}
	letters := 0
	for _, r := range title {
		if !unicode.IsSpace(r) {
			letters++
		}
	}
	if n := letters - 24; n > 0 {
		a := money.Amount(60 * n)
		s.Lines = append(s.Lines, charge.Line{Label: "Title on the chart", Why: strconv.Itoa(n) + " letters after 24 × 0.60", Amount: a})
		s.Total += a
	}
	if rush {
		a := (s.Total*30 + 50) / 100
		s.Lines = append(s.Lines, charge.Line{Label: "Ready within two working days", Why: "30 % of " + s.Total.Plain("EUR"), Amount: a})
		s.Total += a
	}
	if fund > 0 {
		s.Lines = append(s.Lines, charge.Line{Label: "Dark-sky fund", Why: "as you decided", Amount: fund})
		s.Total += fund
	}
	tax := (s.Total*19*2 + 119) / (119 * 2)
	s.Taxes = []charge.Tax{{Gross: s.Total, Net: s.Total - tax, Amount: tax}}
	return s, missing
}

// BenchmarkChartByHand is the yardstick of BenchmarkChart.
func BenchmarkChartByHand(b *testing.B) {
	b.ReportAllocs()
	for b.Loop() {
		byHand("2014-06-14", "Lofthus", "The night we met in Lofthus harbour", "midnight", "large", "Bea", "Ten years.", true, true, 500)
	}
}

// The yardstick measures the same thing.
func TestByHandAgrees(t *testing.T) {
	e := coretest.Sample(t, "sky-chart")
	r := Evaluate(e, coretest.Decode(t, e, everything), asGiven())
	hand, missing := byHand("2014-06-14", "Lofthus", "The night we met in Lofthus harbour", "midnight", "large", "Bea", "Ten years.", true, true, 500)
	if len(missing) > 0 || hand.Total != r.Slip.Total || hand.Taxes[0].Amount != r.Slip.Taxes[0].Amount || len(hand.Lines) != len(r.Slip.Lines) {
		t.Errorf("by hand %+v, evaluated %+v", hand, r.Slip)
	}
	shown := r.Slip.In(words.English)
	for i := range hand.Lines {
		if !strings.HasSuffix(shown.Lines[i].Why, hand.Lines[i].Why) || shown.Lines[i].Amount != hand.Lines[i].Amount {
			t.Errorf("line %d: by hand %+v, evaluated %+v", i, hand.Lines[i], shown.Lines[i])
		}
	}
}

func benchmarkSize(b *testing.B, n int) {
	d, answers := large(rand.New(rand.NewPCG(1, 1)), n)
	e, findings := product.Compile(d)
	if product.Broken(findings) {
		b.Fatal(findings)
	}
	f := asGiven()
	for b.Loop() {
		Evaluate(e, answers, f)
	}
}

// Benchmark40 has 40 questions, 19 conditions and 30 charges; Benchmark400 ten
// times as many of each.
func Benchmark40(b *testing.B)  { benchmarkSize(b, 40) }
func Benchmark400(b *testing.B) { benchmarkSize(b, 400) }
