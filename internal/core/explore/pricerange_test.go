package explore

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

func choicesOf(n int) string {
	var list []string
	for i := range n {
		list = append(list, fmt.Sprintf(`{"code":"c%d","label":"C%d"}`, i, i))
	}
	return `{"choices":[` + strings.Join(list, ",") + `]}`
}

// exhaustive tries every combination of answers to all questions, each of them
// unanswered too.
func exhaustive(e *product.Edition) (least, most money.Amount) {
	least, most = math.MaxInt64, math.MinInt64
	var domains [][]question.Value
	for i := range e.Items {
		values, all := e.Items[i].Spec.(question.Sampled).Samples(nil)
		if !all {
			panic("a question has too many answers")
		}
		domains = append(domains, append([]question.Value{nil}, values...))
	}
	at := make([]int, len(domains))
	for {
		a := question.Answers{}
		for i := range at {
			if v := domains[i][at[i]]; v != nil {
				a[e.Items[i].Key] = v
			}
		}
		r := evaluate.Evaluate(e, a, evaluate.Given{Quantity: 1, Now: time.Unix(0, 0), Zone: time.UTC, Language: words.English})
		if len(r.Faults) == 0 {
			least, most = min(least, r.Slip.Total), max(most, r.Slip.Total)
		}
		i := 0
		for ; i < len(at); i++ {
			if at[i]++; at[i] < len(domains[i]) {
				break
			}
			at[i] = 0
		}
		if i == len(at) {
			return least, most
		}
	}
}

// otherPrices makes other prices that hold on the day that everything is tried
// on, 1 January 1970, or do not.
func otherPrices(r *rand.Rand) (list []charge.Special, combine charge.Combine) {
	for range 1 + r.IntN(3) {
		s := charge.Special{To: &calendar.Day{Year: []int{1960, 2030}[r.IntN(2)], Month: 1, Number: 1}, Dearer: r.IntN(2) == 0}
		if r.IntN(3) == 0 {
			s.Group = "club"
		}
		if s.Amount = new(money.Amount(r.Int64N(2000))); r.IntN(2) == 0 {
			s.Amount, s.Percent = nil, new(decimal.NewFromInt(r.Int64N(90)))
		}
		list = append(list, s)
	}
	return list, []charge.Combine{charge.CombineLowest, charge.CombineLast, charge.CombineSum}[r.IntN(3)]
}

// Small products made at random: where the range says that it is exact it is
// what trying everything gives, and otherwise it encloses that.
func TestPriceRangeAgainstExhaustiveSearch(t *testing.T) {
	r := rand.New(rand.NewPCG(81, 82))
	exact := 0
	for n := range 400 {
		d := product.Draft{Title: "Thing", Currency: "EUR", Price: money.Amount(r.Int64N(4000)), Tax: decimal.NewFromInt(19), TaxAdded: r.IntN(4) == 0}
		keys := []question.Key{"a", "b", "c", "d"}
		for i, k := range keys {
			q := coretest.Ask(k, "yes_no", "")
			switch r.IntN(4) {
			case 0:
				q = coretest.Ask(k, "one_choice", choicesOf(3))
			case 1:
				q = coretest.Ask(k, "count", `{"most":4}`)
			case 2:
				q = coretest.Ask(k, "several_choices", choicesOf(2))
				if r.IntN(2) == 0 {
					q = coretest.Ask(k, "several_choices", `{"counted":true,"most_each":2,`+choicesOf(2)[1:])
				}
			}
			q.Required = r.IntN(2) == 0
			if i > 0 && r.IntN(3) == 0 {
				q.When = &condition.Condition{Answer: keys[r.IntN(i)], Op: []condition.Op{condition.Answered, condition.NotAnswered}[r.IntN(2)]}
			}
			d.Questions = append(d.Questions, q)
		}
		for range r.IntN(5) {
			q := d.Questions[r.IntN(4)]
			a := money.Amount(r.Int64N(1500))
			c := charge.Charge{On: q.Key, Effect: []charge.Effect{charge.Adds, charge.Adds, charge.TakesOff}[r.IntN(3)], Rate: charge.Rate{Amount: new(a.Fine())}}
			switch {
			case r.IntN(4) == 0:
				p := decimal.NewFromInt(r.Int64N(60))
				c.Rate = charge.Rate{Percent: &p, OfBase: r.IntN(2) == 0}
			case q.Kind == "count" && r.IntN(2) == 0:
				c.Per, c.Included = charge.Answer, r.IntN(2)
				if r.IntN(2) == 0 {
					c.Bands, c.Graduated = []charge.Band{{After: 2, Amount: (a / 2).Fine()}}, r.IntN(2) == 0
				}
			case q.Kind == "count" && r.IntN(2) == 0:
				c.Rate = charge.Rate{Formula: string(q.Key) + " * 3 - " + string(q.Key) + " * " + string(q.Key)}
			case (q.Kind == "one_choice" || q.Kind == "several_choices") && r.IntN(3) > 0:
				c.Choice = "c1"
			case r.IntN(5) == 0:
				c.Effect = charge.Sets
			}
			if r.IntN(5) == 0 {
				c.When = &condition.Condition{Answer: keys[r.IntN(4)], Op: condition.Answered}
			}
			switch r.IntN(12) {
			case 0:
				if c.Effect != charge.Sets {
					c.Place = []charge.Place{charge.AtStart, charge.AtEnd}[r.IntN(2)]
				}
			case 1:
				if c.Effect != charge.Sets {
					c.Tax = new(decimal.NewFromInt(7))
				}
			case 2:
				c.AlsoNone = true
			case 3:
				if c.Rate.Amount != nil && len(c.Bands) == 0 {
					c.Prices, c.Combine = otherPrices(r)
				}
			case 4:
				if c.Rate.Amount != nil && len(c.Bands) == 0 {
					c.Rate.Amount = new(money.Fine(r.Int64N(9_000_000_000)))
				}
			}
			d.Charges = append(d.Charges, c)
		}
		if r.IntN(4) == 0 {
			d.Prices, d.Combine = otherPrices(r)
		}
		switch r.IntN(8) {
		case 0:
			d.Limits.Least = new(money.Amount(r.Int64N(6000)))
		case 1:
			d.Limits.Most = new(money.Amount(r.Int64N(6000)))
		case 2:
			d.Bands, d.Graduated = []charge.Band{{After: 1, Amount: 1}}, r.IntN(2) == 0
		}
		if r.IntN(6) == 0 {
			d.ByHand = true
		}
		e, findings := product.Compile(d)
		if product.Broken(findings) {
			t.Fatalf("%+v", findings)
		}
		got := RangeOf(e, calendar.Day{Year: 1970, Month: 1, Number: 1})
		least, most := exhaustive(e)
		if least == math.MaxInt64 {
			continue
		}
		if got.Exact {
			exact++
		}
		if got.Exact && (got.Least != least || got.Most != most) || got.Least > least || got.Most < most {
			raw, _ := json.MarshalIndent(d, "", " ")
			t.Fatalf("%d: %+v, and trying everything gives %d to %d\n%s", n, got, least, most, raw)
		}
	}
	if exact < 200 {
		t.Errorf("only %d of 400 ranges are exact", exact)
	}
}

// wide has so many questions of eight choices each, all priced.
func wide(n int, together bool) product.Draft {
	d := product.Draft{Title: "Wide", Currency: "EUR", Price: 1000}
	for i := range n {
		k := question.Key(fmt.Sprintf("q%d", i))
		q := coretest.Ask(k, "one_choice", choicesOf(8))
		if together && i > 0 {
			q.When = &condition.Condition{Answer: question.Key(fmt.Sprintf("q%d", i-1)), Op: condition.Includes, Value: json.RawMessage(`["c1","c2","c3","c4"]`)}
		}
		d.Questions = append(d.Questions, q)
		for c := range 8 {
			a := money.Amount(100*c + i)
			d.Charges = append(d.Charges, charge.Charge{On: k, Choice: fmt.Sprintf("c%d", c), Effect: charge.Adds, Rate: charge.Rate{Amount: new(a.Fine())}})
		}
	}
	return d
}

// Twelve questions of eight choices: exact when they have nothing to do with
// each other, and bounded when their combinations are too many.
func TestPriceRangeOfManyChoices(t *testing.T) {
	apart, f := product.Compile(wide(12, false))
	if product.Broken(f) {
		t.Fatal(f)
	}
	if got, want := RangeOf(apart, calendar.Day{}), (product.Range{Least: 1000, Most: 1000 + 12*700 + 66, Exact: true}); got != want {
		t.Errorf("%+v, want %+v", got, want)
	}
	chained, f := product.Compile(wide(12, true))
	if product.Broken(f) {
		t.Fatal(f)
	}
	if got := RangeOf(chained, calendar.Day{}); got.Exact || got.Least != 1000 || got.Most < 1000+11*400+700 {
		t.Errorf("%+v", got)
	}
}

func TestPriceRangesOfTheSampleBusiness(t *testing.T) {
	for name, want := range map[string]string{
		"gift-voucher": "1000 50000 true",
		"red-lamp":     "950 1550 true",   // without words, or with 24 letters for 0.25 each
		"sky-chart":    "2400 27618 true", // 49.00, 16 letters for 9.60, 30 % of that for the hurry, 200 for the fund
		"oak-frame":    "3900 11750 true",
	} {
		r := RangeOf(coretest.Sample(t, name), calendar.Day{})
		if got := fmt.Sprint(r.Least, " ", r.Most, " ", r.Exact); got != want {
			t.Errorf("%s: %s, want %s", name, got, want)
		}
	}

	// Too many answers to try: one night in summer is the least; by hand, 14
	// nights cost at most 252 + 30 seats + 189 eyepieces + 24 insurance.
	if r := RangeOf(coretest.Sample(t, "telescope-hire"), calendar.Day{}); r.Exact || r.Least != 1400 || r.Most < 49500 {
		t.Errorf("telescope-hire: %+v", r)
	}
}

func benchmarkRange(b *testing.B, together bool) {
	for b.Loop() {
		e, _ := product.Compile(wide(12, together))
		RangeOf(e, calendar.Day{})
	}
}

// The price range of twelve questions of eight choices each, compiling
// included.
func BenchmarkPriceRange(b *testing.B)        { benchmarkRange(b, false) }
func BenchmarkPriceRangeBounded(b *testing.B) { benchmarkRange(b, true) }

// What a customer can set without a limit has none, whatever is added to it.
func TestRangeWithoutALimit(t *testing.T) {
	for settings, endless := range map[string]bool{`{}`: true, `{"least":500}`: true, `{"most":5000}`: false} {
		gift := coretest.Ask("gift", "amount", settings)
		e := coretest.Compiled(t, product.Draft{Price: 1000, Questions: []product.Question{gift}, Charges: []charge.Charge{{On: "gift", Effect: charge.Adds, Rate: charge.Rate{Answered: true}}}})
		if r := RangeOf(e, calendar.Day{}); r.Endless() != endless {
			t.Errorf("%s: %+v", settings, r)
		}
	}
}

// What the entries of a list say makes a price: a small list is tried out whole,
// a large one bounded.
func TestPriceRangeOfEntries(t *testing.T) {
	child := &condition.Condition{Answer: "age", Op: condition.AtMost, Value: json.RawMessage("1")}
	guests := func(most, oldest int) product.Draft {
		q := coretest.Ask("guests", "repeat", fmt.Sprintf(`{"most":%d,"questions":[{"key":"age","kind":"count","moment":"choosing","wording":"Age","required":true,"settings":{"most":%d}},{"key":"vegan","kind":"yes_no","moment":"choosing","wording":"Vegan?"}]}`, most, oldest))
		q.Required = true
		return product.Draft{Title: "Dinner", Currency: "EUR", Price: 1000, Questions: []product.Question{q}, Charges: []charge.Charge{
			{On: "guests", Label: "Guests", Effect: charge.Adds, Per: charge.Answer, Rate: charge.Rate{Amount: new(money.Amount(2000).Fine())}},
			{On: "guests", Label: "Children", Effect: charge.TakesOff, Per: charge.Answer, Entries: child, Rate: charge.Rate{Amount: new(money.Amount(1200).Fine())}},
			{Label: "Years", Effect: charge.Adds, Rate: charge.Rate{Formula: "sum(guests, age) * 0.5 + count(guests, vegan)"}},
		}}
	}
	small := coretest.Compiled(t, guests(2, 3))
	// One baby that is not vegan: 10 + 20 − 12. Two vegans of 3: 10 + 40 + 3 + 2.
	if r := RangeOf(small, calendar.Day{}); r != (product.Range{Least: 1800, Most: 5500, Exact: true}) {
		t.Errorf("%+v", r)
	}
	large := coretest.Compiled(t, guests(30, 99))
	if r := RangeOf(large, calendar.Day{}); r.Exact || r.Least > 1800 || r.Most < 1000+30*2000+30*99*50+30*100 {
		t.Errorf("%+v", r)
	}
}

// BenchmarkGrid computes a grid of 20 × 20 prices of the sample business's chart.
func BenchmarkGrid(b *testing.B) {
	d := coretest.Sample(b, "sky-chart").Draft
	d.Questions = append(d.Questions, coretest.Ask("copies", "count", `{"most":18}`), coretest.Ask("stars", "count", `{"most":18}`))
	d.Charges = append(d.Charges, charge.Charge{On: "copies", Label: "Copies", Effect: charge.Adds, Per: charge.Answer, Rate: charge.Rate{Amount: new(money.Amount(900).Fine())}},
		charge.Charge{On: "stars", Label: "Stars", Effect: charge.Adds, Rate: charge.Rate{Formula: "stars * stars * 0.05"}})
	e, f := product.Compile(d)
	if product.Broken(f) {
		b.Fatal(f)
	}
	given := evaluate.Given{Quantity: 1, Now: coretest.Now, Zone: time.UTC, Language: words.English}
	for b.Loop() {
		g, err := GridOf(e, question.Answers{"size": question.One("large"), "title": question.Text("The night we met")}, given, "copies", "stars")
		if err != nil || len(g.Cells) != 20 || len(g.Cells[0]) != 20 {
			b.Fatal(len(g.Cells), err)
		}
	}
}
