package charge

import (
	"math/big"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// reckoned is the slow reckoning of a slip, in fractions: every line is one
// product of math/big's rationals, rounded once, and nothing else is ever
// rounded.
type reckoned struct {
	p     *Pricing
	in    Input
	lines []money.Amount
}

func ratio(n, d int64) *big.Rat { return big.NewRat(n, d) }

func rat(d decimal.Decimal) *big.Rat { return d.Rat() }

func product(list ...*big.Rat) *big.Rat {
	p := ratio(1, 1)
	for _, f := range list {
		p.Mul(p, f)
	}
	return p
}

func rounded(x *big.Rat, r money.Rounding) money.Amount {
	up := new(big.Rat).Add(new(big.Rat).Abs(x), ratio(1, 2))
	q := new(big.Int).Quo(up.Num(), up.Denom())
	if r == money.HalfEven && up.IsInt() && q.Bit(0) == 1 {
		q.Sub(q, big.NewInt(1))
	}
	if x.Sign() < 0 {
		q.Neg(q)
	}
	return money.Amount(q.Int64())
}

// other gives the price that holds instead of another one, read off the words of
// the rule: of all that hold the lowest, the last, or what they change together.
func (s *reckoned) other(price *big.Rat, list []Special, combine Combine, day calendar.Day) *big.Rat {
	var of []*big.Rat
	for i := range list {
		sp := &list[i]
		if sp.Group != "" && sp.Group != s.in.Group || s.in.Quantity < sp.AtLeast {
			continue
		}
		if len(sp.Weekdays) > 0 && !slices.Contains(sp.Weekdays, day.Weekday()) {
			continue
		}
		sign := int64(-1)
		if sp.Dearer {
			sign = 1
		}
		switch {
		case sp.Percent != nil:
			of = append(of, new(big.Rat).Add(price, product(price, rat(*sp.Percent), ratio(sign, 100))))
		case sp.Dearer:
			of = append(of, new(big.Rat).Add(price, ratio(int64(*sp.Amount), 1)))
		default:
			of = append(of, ratio(int64(*sp.Amount), 1))
		}
	}
	if len(of) == 0 {
		return price
	}
	is := of[0]
	switch combine {
	case CombineLast:
		is = of[len(of)-1]
	case CombineSum:
		is = new(big.Rat).Set(price)
		for _, x := range of {
			is.Add(is, new(big.Rat).Sub(x, price))
		}
	default:
		for _, x := range of {
			if x.Cmp(is) < 0 {
				is = x
			}
		}
	}
	if is.Sign() < 0 {
		return ratio(0, 1)
	}
	return is
}

// eachBand walks over a count one whole piece, or its last part, at a time and
// gives the amount of each.
func eachBand(count *big.Rat, rate money.Fine, bands []Band, graduated bool, included int, each func(part, rate *big.Rat)) {
	rateOf := func(n *big.Rat) *big.Rat { // of the piece that ends at n
		is := ratio(int64(rate), 1_000_000)
		for _, b := range bands {
			if n.Cmp(ratio(int64(b.After), 1)) > 0 {
				is = ratio(int64(b.Amount), 1_000_000)
			}
		}
		return is
	}
	for n := int64(included); ratio(n, 1).Cmp(count) < 0; n++ {
		end := ratio(n+1, 1)
		if end.Cmp(count) > 0 {
			end = count
		}
		of := end
		if !graduated {
			of = count
		}
		each(new(big.Rat).Sub(end, ratio(n, 1)), rateOf(of))
	}
}

func (s *reckoned) counted(per Per, c *Charge) *big.Rat {
	switch per {
	case Unit:
		return ratio(int64(s.in.Quantity), 1)
	case Answer:
		return rat(s.in.Answers[c.On].(question.Number).Decimal)
	}
	return rat(s.in.Facts.Of(per).Decimal())
}

func (s *reckoned) add(x *big.Rat) { s.lines = append(s.lines, rounded(x, s.p.Rounding)) }

func (s *reckoned) total() (sum money.Amount) {
	for _, l := range s.lines {
		sum += l
	}
	return sum
}

func (s *reckoned) make() money.Amount {
	p := s.p
	day := s.in.Facts.First
	// The product's own price: each night by itself, and what is at one other
	// price is one line.
	rows := map[string]*big.Rat{}
	var order []string
	row := 0
	count := ratio(int64(s.in.Quantity), 1)
	units := ratio(1, 1)
	if p.Measure != Once {
		count, units = s.counted(p.Measure, nil), count
	}
	eachBand(count, p.Price.Fine(), p.Bands, p.Graduated, 0, func(part, rate *big.Rat) {
		d := day
		if p.Measure == Night {
			d = day.Add(row)
		}
		row++
		key := ""
		for i := range p.Prices {
			if (p.Prices[i].Group == "" || p.Prices[i].Group == s.in.Group) && s.in.Quantity >= p.Prices[i].AtLeast && (len(p.Prices[i].Weekdays) == 0 || slices.Contains(p.Prices[i].Weekdays, d.Weekday())) {
				key += string(rune('a' + i))
			}
		}
		if p.Combine == CombineLast && key != "" {
			key = key[len(key)-1:]
		}
		if p.Combine == CombineLowest && len(key) > 1 {
			// Which of equal ones is lowest does not matter to the sum of a row, but
			// to which row it is in; the first of them counts.
			lowest, which := s.other(rate, p.Prices, p.Combine, d), ""
			for _, k := range key {
				if which == "" && s.other(rate, p.Prices[k-'a':k-'a'+1], p.Combine, d).Cmp(lowest) == 0 {
					which = string(k)
				}
			}
			key = which
		}
		if rows[key] == nil {
			rows[key], order = ratio(0, 1), append(order, key)
		}
		rows[key].Add(rows[key], product(part, s.other(rate, p.Prices, p.Combine, d), units))
	})
	for _, k := range order {
		s.add(rows[k])
	}
	base := s.total()
	for i := range p.Charges {
		c := &p.Charges[i].Charge
		x := ratio(0, 1)
		switch {
		case c.Rate.Percent != nil:
			of := s.total()
			if c.Rate.OfBase {
				of = base
			}
			x = product(ratio(int64(of), 100), rat(*c.Rate.Percent))
			if c.Per != Once {
				x = product(x, s.counted(c.Per, c))
			}
		case c.Per == Once:
			x = s.other(ratio(int64(*c.Rate.Amount), 1_000_000), c.Prices, c.Combine, day)
		default:
			n := s.counted(c.Per, c)
			if c.UpTo > 0 && n.Cmp(ratio(int64(c.UpTo), 1)) > 0 {
				n = ratio(int64(c.UpTo), 1)
			}
			eachBand(n, *c.Rate.Amount, c.Bands, c.Graduated, c.Included, func(part, rate *big.Rat) {
				x.Add(x, product(part, s.other(rate, c.Prices, c.Combine, day)))
			})
			if x.Sign() == 0 && n.Cmp(ratio(int64(c.Included), 1)) <= 0 {
				continue
			}
		}
		if c.EachUnit {
			x = product(x, ratio(int64(s.in.Quantity), 1))
		}
		for _, t := range c.Times {
			x = product(x, s.counted(t, c))
		}
		a := rounded(x, p.Rounding)
		if c.Most != nil {
			a = min(a, *c.Most)
		}
		if c.Least != nil {
			a = max(a, *c.Least)
		}
		if c.Effect == TakesOff {
			a = -min(a, s.total())
		}
		s.lines = append(s.lines, a)
	}
	switch sum := s.total(); {
	case p.Limits.Least != nil && sum > 0:
		return max(sum, *p.Limits.Least)
	case p.Limits.Most != nil:
		return min(sum, *p.Limits.Most)
	}
	return s.total()
}

// anyProduct makes a product at random.
func anyProduct(r *rand.Rand) (*Pricing, Input) {
	fineRate := func() *money.Fine {
		f := money.Fine(r.Int64N(30_000_000_000))
		if r.IntN(3) > 0 {
			f = money.Amount(r.Int64N(6000)).Fine()
		}
		return &f
	}
	count := func() money.Count {
		if r.IntN(2) == 0 {
			return money.Whole(1 + r.Int64N(6))
		}
		return money.CountOf(decimal.New(r.Int64N(600)+25, -2))
	}
	specials := func() (list []Special) {
		for range r.IntN(4) {
			s := Special{Dearer: r.IntN(2) == 0}
			switch r.IntN(3) {
			case 0:
				s.Group = []string{"club", "school"}[r.IntN(2)]
			case 1:
				s.AtLeast = 1 + r.IntN(3)
			default:
				s.Weekdays = []time.Weekday{time.Weekday(r.IntN(7)), time.Weekday(r.IntN(7))}
			}
			if r.IntN(2) == 0 {
				s.Amount = amount(r.Int64N(5000))
			} else {
				d := decimal.New(r.Int64N(10_000), -2)
				s.Percent = &d
			}
			list = append(list, s)
		}
		return list
	}
	bandsOf := func(from int) (list []Band) {
		for range r.IntN(3) {
			from += 1 + r.IntN(3)
			list = append(list, Band{from, *fineRate()})
		}
		return list
	}
	combine := func() Combine { return []Combine{CombineLowest, CombineLast, CombineSum}[r.IntN(3)] }
	p := &Pricing{Title: "P", Currency: "EUR", Price: money.Amount(r.Int64N(9000) + 1), Rounding: []money.Rounding{money.HalfUp, money.HalfEven}[r.IntN(2)],
		Measure: []Per{Once, Once, Night, Hour, Person}[r.IntN(5)], Prices: specials(), Combine: combine(), ShowZero: true}
	if p.Bands = bandsOf(0); len(p.Bands) > 0 {
		p.Graduated = r.IntN(2) == 0
	}
	if r.IntN(4) == 0 {
		p.Limits.Least = amount(r.Int64N(20_000))
	} else if r.IntN(4) == 0 {
		p.Limits.Most = amount(r.Int64N(20_000))
	}
	for range r.IntN(5) {
		c := Charge{Label: "C", Effect: []Effect{Adds, Adds, TakesOff}[r.IntN(3)], Rate: Rate{Amount: fineRate()}, EachUnit: r.IntN(3) == 0}
		if c.Per = []Per{Once, Unit, Person, Hour, Night, Answer}[r.IntN(6)]; c.Per == Answer {
			c.On = "n"
		}
		if c.Per != Once {
			c.Included = r.IntN(3)
			if c.Bands = bandsOf(c.Included); len(c.Bands) > 0 {
				c.Graduated = r.IntN(2) == 0
			} else if r.IntN(3) == 0 {
				c.UpTo = c.Included + 1 + r.IntN(4)
			}
		}
		if len(c.Bands) == 0 {
			c.Prices, c.Combine = specials(), combine()
		}
		if r.IntN(4) == 0 {
			d := decimal.New(r.Int64N(20_000), -2)
			c.Rate, c.Prices, c.Combine, c.Bands, c.Graduated, c.EachUnit, c.Included, c.UpTo = Rate{Percent: &d, OfBase: r.IntN(2) == 0}, nil, "", nil, false, false, 0, 0
		}
		if c.EachUnit = c.EachUnit && c.Per != Unit; r.IntN(3) == 0 {
			c.Times = slices.DeleteFunc([]Per{Hour, Night}, func(t Per) bool { return t == c.Per })
		}
		if r.IntN(5) == 0 {
			c.Most = amount(r.Int64N(9000))
		}
		p.Charges = append(p.Charges, Compiled{Charge: c})
	}
	in := Input{
		Quantity: 1 + r.IntN(4), Group: []string{"", "club"}[r.IntN(2)], Answers: question.Answers{"n": question.Number{Decimal: decimal.New(r.Int64N(900)+1, -1*int32(r.IntN(2)))}},
		Facts: Measured{People: money.Whole(1 + r.Int64N(7)), Hours: count(), Days: money.Whole(2), Nights: money.Whole(1 + r.Int64N(9)), First: calendar.Day{Year: 2027, Month: 5, Number: 1 + r.IntN(28)}},
	}
	return p, in
}

// Source: math/big's rationals, by the slow reckoning above. Random products of
// all rules agree with it to the cent, and so they do with the factors of each
// charge in another order.
func TestSlipsAgreeWithFractions(t *testing.T) {
	r := rand.New(rand.NewPCG(91, 92))
	for n := range 3000 {
		p, in := anyProduct(r)
		slow := reckoned{p: p, in: in}
		want := slow.make()
		slip := p.Make(in)
		if slip.Total != want || len(slip.Faults) > 0 {
			t.Fatalf("%d: %s\nby fractions %v, %d\n%+v\n%+v", n, print(slip), slow.lines, want, *p, in)
		}
		for i := range p.Charges {
			p.Charges[i].Times = slices.Clone(p.Charges[i].Times)
			slices.Reverse(p.Charges[i].Times)
		}
		if again := p.Make(in).Total; again != want {
			t.Fatalf("%d: with the factors in another order %d instead of %d", n, again, want)
		}
	}
}
