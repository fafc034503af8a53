// Package explore tries answers out: what a product can cost at least and at
// most, and which mistakes show only when somebody answers.
package explore

import (
	"math"
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
)

// searched is how many combinations of answers are looked at for one product.
const searched = 6000

// RangeOf gives the price range of an edition on a day of the order, for
// customers of no group.
//
// Questions that have to do with each other, by conditions or by a charge that
// reads several, are tried together in all combinations. What has nothing to do
// with the rest adds its own least and most. Where the combinations are too
// many, the charges of those questions are bounded one by one.
func RangeOf(e *product.Edition, day calendar.Day) product.Range {
	return e.PriceRange(day, func() product.Range { return withWhole(e, newSearch(e, day).run()) })
}

// withWhole widens a range by what fixed stays cost instead of the product's price:
// to bounds, for nobody tries what else such a stay costs.
func withWhole(e *product.Edition, r product.Range) product.Range {
	if e.Booking == nil {
		return r
	}
	for _, f := range e.Booking.Fixed {
		if f.Price == nil {
			continue
		}
		r.Exact = false
		r.Least = min(r.Least, *f.Price)
		if !r.Endless() {
			r.Most += *f.Price
		}
	}
	return r
}

type search struct {
	e       *product.Edition
	day     calendar.Day
	parts   map[question.Key]int   // which part each question that matters belongs to
	keys    map[int][]question.Key // of each part
	left    int                    // combinations that may still be tried
	exact   bool
	floored bool // what is taken off can be more than the price
	around  map[question.Key][]int
}

func newSearch(e *product.Edition, day calendar.Day) *search {
	s := &search{e: e, day: day, parts: map[question.Key]int{}, keys: map[int][]question.Key{}, left: searched, exact: true, around: map[question.Key][]int{}}
	var priced []question.Key
	for i := range e.Pricing.Charges {
		r := &e.Pricing.Charges[i]
		keys := s.keysOf(r)
		s.join(keys)
		if r.Effect == charge.Sets {
			priced = append(priced, keys...)
		}
		if r.On != "" {
			s.around[r.On] = append(s.around[r.On], r.Included, r.UpTo)
			for _, b := range r.Bands {
				s.around[r.On] = append(s.around[r.On], b.After)
			}
		}
	}
	if k, ok := e.Measures()[e.Measure]; ok {
		priced = append(priced, k)
		for _, b := range e.Pricing.Bands {
			s.around[k] = append(s.around[k], b.After)
		}
	}
	s.join(priced)
	for changed := true; changed; { // what decides whether they are asked matters too
		changed = false
		for k := range s.parts {
			for _, other := range s.decides(k) {
				if _, there := s.parts[other]; !there || s.parts[other] != s.parts[k] {
					s.join([]question.Key{k, other})
					changed = true
				}
			}
		}
	}
	for i := range e.Items { // in a fixed order
		if part, ok := s.parts[e.Items[i].Key]; ok {
			s.keys[part] = append(s.keys[part], e.Items[i].Key)
		}
	}
	return s
}

// keysOf lists the questions that a charge reads.
func (s *search) keysOf(r *charge.Compiled) []question.Key {
	var keys []question.Key
	add := func(k question.Key) {
		if item, ok := s.e.Item(k); ok && item.Asked() && !item.Off && !slices.Contains(keys, k) {
			keys = append(keys, k)
		}
	}
	add(r.On)
	for _, k := range s.read(r.Test) {
		add(k)
	}
	for _, m := range append([]charge.Per{r.Per}, r.Times...) {
		add(s.e.Measures()[m])
	}
	if r.Formula != nil {
		for _, k := range s.e.FormulaKeys(r.Formula) {
			add(k)
		}
	}
	return keys
}

// read lists the questions that a condition reads, by its facts too.
func (s *search) read(t *condition.Test) []question.Key {
	return append(t.Keys(nil), s.e.FactKeys(t)...)
}

// decides lists the questions that decide whether one is asked, and which of
// its choices are offered.
func (s *search) decides(k question.Key) []question.Key {
	item, _ := s.e.Item(k)
	keys := s.read(item.Test)
	for _, t := range item.Offers {
		keys = append(keys, s.read(t)...)
	}
	if section, ok := s.e.Item(item.Section); ok {
		keys = append(keys, s.read(section.Test)...)
	}
	return keys
}

// join makes questions one part.
func (s *search) join(keys []question.Key) {
	if len(keys) == 0 {
		return
	}
	part := len(s.parts) + 1
	for _, p := range s.parts {
		part = max(part, p+1)
	}
	for _, k := range keys {
		if old, ok := s.parts[k]; ok {
			for other, p := range s.parts {
				if p == old {
					s.parts[other] = part
				}
			}
		}
		s.parts[k] = part
	}
}

// span is what a rule adds: at least and at most. Of per cent it is how often.
type span struct{ low, high money.Amount }

func (a *span) reach(low, high money.Amount) { a.low, a.high = min(a.low, low), max(a.high, high) }

// run folds what all parts add into the price, rule by rule, as the slip does.
// A price never falls when what is before it rises, so the least of all parts
// gives the least of the whole.
func (s *search) run() product.Range {
	rules := s.e.Pricing.Charges
	low, high, pieces := s.pieces(question.Answers{})
	sums := spans{span{low, high}, make([]span, len(rules)), false}
	each := spans{span{low, high}, make([]span, len(rules)), true}
	for i := range rules {
		if len(s.keysOf(&rules[i])) == 0 {
			a := effect(&rules[i], pieces[i])
			sums.adds[i], each.adds[i] = a, a
		}
	}
	joined := false // whether a part has several rules
	for _, part := range s.ordered() {
		joined = s.try(part, &sums, &each) || joined
	}
	// Where a price can come to nothing on the way, what is taken off is not all
	// of it, and sums say too little.
	least, floored := s.fold(&each, false)
	most, _ := s.fold(&each, true)
	if s.floored = floored; floored {
		s.exact = s.exact && !joined
	} else {
		least, _ = s.fold(&sums, false)
		most, _ = s.fold(&sums, true)
	}
	if s.setByCustomer() && slices.ContainsFunc(rules, func(r charge.Compiled) bool { return r.Effect == charge.TakesOff }) {
		s.exact = false // what is taken off depends on who set the price
	}
	if s.unknown() {
		s.exact = false // what is booked decides
	}
	least, most = s.limited(least), s.limited(most)
	lowest, highest := s.taxes()
	return product.Range{Least: lowest.Of(least, s.e.Rounding), Most: highest.Of(most, s.e.Rounding), Exact: s.exact}
}

// unknown says whether hours or places that are left decide a price: unlike a
// day, nobody can choose them for sure.
func (s *search) unknown() bool {
	hangs := func(p charge.Special) bool { return p.Hours != nil || p.Left > 0 }
	return slices.ContainsFunc(s.e.Pricing.Prices, hangs) || slices.ContainsFunc(s.e.Pricing.Charges, func(r charge.Compiled) bool {
		return slices.ContainsFunc(r.Prices, hangs)
	})
}

// limited holds a price within the least and the most of a line.
func (s *search) limited(price money.Amount) money.Amount {
	l := s.e.Pricing.Limits
	if l.Least != nil && price > 0 {
		price = max(price, *l.Least)
	}
	if l.Most != nil && price > *l.Most {
		if s.exact = s.exact && !s.given(); !s.given() {
			price = *l.Most
		}
	}
	return price
}

// given says whether customers can set an amount that the most of a line does
// not cut.
func (s *search) given() bool {
	return slices.ContainsFunc(s.e.Pricing.Charges, func(r charge.Compiled) bool { return r.Rate.Answered })
}

// taxes gives the rates at which the least and the most are taxed. Where tax is
// added and a charge has a rate of its own, they are bounds.
func (s *search) taxes() (lowest, highest charge.TaxRule) {
	lowest = charge.TaxRule{Percent: s.e.Tax, Added: s.e.TaxAdded}
	highest = lowest
	if v := s.e.Voucher; v != nil && v.Tax == charge.TaxedWhenUsed && s.e.TaxAdded {
		s.exact, lowest.Percent = false, decimal.Zero
	}
	for i := range s.e.Pricing.Charges {
		t := s.e.Pricing.Charges[i].Tax
		if t == nil || !s.e.TaxAdded || t.Equal(s.e.Tax) {
			continue
		}
		s.exact = false
		if t.LessThan(lowest.Percent) {
			lowest.Percent = *t
		}
		if t.GreaterThan(highest.Percent) {
			highest.Percent = *t
		}
	}
	return lowest, highest
}

func (s *search) ordered() []int {
	var parts []int
	for p := range s.keys {
		parts = append(parts, p)
	}
	slices.Sort(parts)
	return parts
}

// effect gives what a rule adds by itself; of per cent how often, in millionths.
func effect(r *charge.Compiled, p charge.Piece) span {
	if r.Rate.Percent != nil {
		return span{money.Amount(p.Times), money.Amount(p.Times)}
	}
	return span{p.Low, p.High}
}

// spans are what the product's own price and each rule add.
type spans struct {
	base   span
	adds   []span
	floors bool // a price does not fall below zero on the way
}

func (s *search) fold(of *spans, most bool) (sum money.Amount, floored bool) {
	adds := of.adds
	base := of.base.low
	if most {
		base = of.base.high
	}
	sum = base
	given, givenBase := money.Amount(0), money.Amount(0)
	if most && s.setByCustomer() { // then nothing is taken off it
		given, givenBase = base, base
	}
	for i := range s.e.Pricing.Charges {
		r := &s.e.Pricing.Charges[i]
		a := adds[i].low
		if most {
			a = adds[i].high
		}
		if r.Rate.Percent != nil {
			times := adds[i].low
			if most != (r.Effect == charge.TakesOff) {
				times = adds[i].high
			}
			of, ofBase := sum, base
			if r.Effect == charge.TakesOff {
				of, ofBase = sum-given, base-givenBase
			}
			a = s.e.Pricing.Share(i, ofBase, of, money.Count(times))
			if times == 0 {
				a = 0
			}
			if r.Effect == charge.TakesOff {
				a = -a
			}
		}
		if a < 0 && sum-given+a < 0 && of.floors {
			a, floored = given-sum, true
		}
		sum += a
		if r.Rate.Answered && r.Effect == charge.Adds {
			given += a
		}
	}
	return sum, floored
}

// setByCustomer says whether customers can set the price themselves.
func (s *search) setByCustomer() bool {
	return slices.ContainsFunc(s.e.Pricing.Charges, func(r charge.Compiled) bool { return r.Effect == charge.Sets && r.Rate.Answered })
}

// try looks for the least and the most that one part adds, in sum and rule by
// rule. It says whether several rules belong to it.
func (s *search) try(part int, sums, each *spans) bool {
	keys := s.keys[part]
	domains := make([][]question.Value, len(keys))
	n, known := 1, true
	for i, k := range keys {
		var sure bool
		if domains[i], sure = s.domain(k, keys); domains[i] == nil {
			known = false
			break
		}
		s.exact = s.exact && sure
		if n *= len(domains[i]); n > s.left {
			known = false
			break
		}
	}
	mine := s.rulesOf(keys)
	if !known {
		s.exact = false
		s.bound(mine, sums)
		s.bound(mine, each)
	} else {
		s.left -= n
		s.combine(keys, domains, mine, sums, each)
	}
	return len(mine) > 1
}

// rulesOf lists the rules that read any of some questions; -1 is the product's
// own price.
func (s *search) rulesOf(keys []question.Key) []int {
	var mine []int
	for i := range s.e.Pricing.Charges {
		r := &s.e.Pricing.Charges[i]
		reads := slices.ContainsFunc(s.keysOf(r), func(k question.Key) bool { return slices.Contains(keys, k) })
		if !reads {
			continue
		}
		if r.Effect != charge.Sets {
			mine = append(mine, i)
		} else if !slices.Contains(mine, -1) {
			mine = append([]int{-1}, mine...)
		}
	}
	if k, ok := s.e.Measures()[s.e.Measure]; ok && slices.Contains(keys, k) && !slices.Contains(mine, -1) {
		mine = append([]int{-1}, mine...)
	}
	return mine
}

// together says whether several rules add up without a rule of per cent between
// them or among them, so that their sum is what counts.
func (s *search) together(mine []int) bool {
	if len(mine) < 2 {
		return true
	}
	for i := range s.e.Pricing.Charges {
		r := &s.e.Pricing.Charges[i]
		if r.Rate.Percent == nil {
			continue
		}
		if i >= mine[0] && i <= mine[len(mine)-1] || r.Rate.OfBase && mine[0] == -1 {
			return false
		}
	}
	return true
}

// combine tries all combinations of answers to some questions.
func (s *search) combine(keys []question.Key, domains [][]question.Value, mine []int, sums, each *spans) {
	rules := s.e.Pricing.Charges
	together := s.together(mine)
	first := true
	var ownBase span
	own := make([]span, len(rules))
	sum := span{}
	combinations(keys, domains, func(answers question.Answers) {
		kept, ok := s.valid(answers, keys)
		if !ok {
			return
		}
		low, high, pieces := s.pieces(kept)
		if first {
			ownBase = span{low, high}
			sum = span{math.MaxInt64, math.MinInt64}
		}
		ownBase.reach(low, high)
		total := span{}
		for _, i := range mine {
			if i == -1 {
				total = span{low, high}
				continue
			}
			a := effect(&rules[i], pieces[i])
			if first {
				own[i] = a
			}
			own[i].reach(a.low, a.high)
			total.low += a.low
			total.high += a.high
		}
		sum.reach(total.low, total.high)
		first = false
	})
	if first || len(mine) == 0 { // no valid answers at all, or nothing to pay for them
		return
	}
	for _, i := range mine {
		if i == -1 {
			each.base, sums.base = ownBase, ownBase
		} else {
			each.adds[i], sums.adds[i] = own[i], own[i]
		}
	}
	switch {
	case len(mine) == 1:
	case !together:
		s.exact = false
	default:
		for _, i := range mine {
			if i >= 0 {
				sums.adds[i] = span{}
			}
		}
		if mine[0] == -1 {
			sums.base = sum
		} else {
			sums.adds[mine[0]] = sum
		}
	}
}

// bound gives each rule of a part the least and the most that it can add,
// whatever the answers.
func (s *search) bound(mine []int, of *spans) {
	for _, i := range mine {
		if i == -1 {
			of.base = s.anyBase()
			continue
		}
		r := &s.e.Pricing.Charges[i]
		most := s.mostOf(r)
		if r.Effect == charge.TakesOff && r.Rate.Percent == nil {
			of.adds[i] = span{-most, 0}
		} else {
			of.adds[i] = span{0, most}
		}
	}
}

func (s *search) pieces(answers question.Answers) (low, high money.Amount, pieces []charge.Piece) {
	in := charge.Input{Answers: answers, Quantity: 1, Day: s.day, Facts: s.e.Facts(answers, time.UTC)}
	in.Facts.First, in.Facts.Timed = calendar.Day{}, false // a sample's day stands for any
	in.Known = s.e.ConditionFacts(1, "", condition.Whole{}, time.UTC, &answers)
	return s.e.Pricing.Pieces(in)
}
