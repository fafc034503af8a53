package explore

import (
	"math"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// anyBase bounds the product's own price: the list price, or any that a charge
// sets, for as many as the price can be for, at any of its other prices.
func (s *search) anyBase() span {
	e := s.e
	all := span{e.Price, e.Price}
	for i := range e.Pricing.Charges {
		r := &e.Pricing.Charges[i]
		if r.Effect != charge.Sets {
			continue
		}
		switch {
		case r.Rate.Difference != nil:
			p := max(e.Price+*r.Rate.Difference, 0)
			all.reach(p, p)
		case r.Rate.Amount != nil:
			a := span{r.Rate.Amount.Amount(s.e.Rounding), r.Rate.Amount.Ceil()}
			s.others(&a, r.Prices, r.Combine)
			all.reach(a.low, a.high)
		default:
			b := s.rateRange(r)
			all.reach(b.low, b.high)
		}
	}
	for _, b := range e.Pricing.Bands {
		all.reach(b.Amount.Amount(e.Rounding), b.Amount.Ceil())
	}
	s.others(&all, e.Prices, e.Combine)
	if e.Measure != charge.Once {
		k := e.Measures()[e.Measure]
		all = span{money.HalfUp.Each(all.low, s.leastCount(k, e.Measure)), money.HalfUp.Each(all.high, s.mostCount(k))}
	}
	return all
}

// others widens a span to the other prices that a customer of no group can have.
func (s *search) others(all *span, prices []charge.Special, combine charge.Combine) {
	from := *all
	down, up := from.low, from.high
	for i := range prices {
		p := &prices[i]
		if p.Group != "" || p.AtLeast > 1 { // a range is for one unit and no group
			continue
		}
		low, high := from.low, from.high
		switch {
		case p.Percent != nil && p.Dearer:
			low, high = low+s.e.Rounding.Percent(low, *p.Percent), high+s.e.Rounding.Percent(high, *p.Percent)
		case p.Percent != nil:
			low, high = low-s.e.Rounding.Percent(low, *p.Percent), high-s.e.Rounding.Percent(high, *p.Percent)
		case p.Dearer:
			low, high = low+*p.Amount, high+*p.Amount
		default:
			low, high = *p.Amount, *p.Amount
		}
		all.reach(low, high)
		down, up = down+min(low-from.low, 0), up+max(high-from.high, 0)
	}
	if combine == charge.CombineSum {
		all.reach(max(down, 0), up)
	}
}

// rateRange bounds what a rate gives for one.
func (s *search) rateRange(r *charge.Compiled) span {
	switch {
	case r.Rate.Amount != nil:
		top := *r.Rate.Amount
		for _, b := range r.Bands {
			top = max(top, b.Amount)
		}
		most := span{0, top.Ceil()}
		s.others(&most, r.Prices, r.Combine)
		return span{0, most.high}
	case r.Rate.Answered:
		item, _ := s.e.Item(r.On)
		if spec, ok := item.Spec.(question.Ranged); ok {
			_, most := spec.Range()
			return span{0, money.Amount(most)}
		}
	case r.Formula != nil:
		b := r.Formula.Bounds(s.e.Range)
		digits, _ := s.e.Currency.Digits()
		top := min(math.Max(b.Most, 0)*math.Pow10(digits)+1, float64(money.Largest))
		return span{0, money.Amount(top)}
	}
	return span{0, money.Largest}
}

// mostOf bounds what a rule can add; of per cent, how often.
func (s *search) mostOf(r *charge.Compiled) money.Amount {
	times := money.One
	switch {
	case r.Per == charge.Once && r.On != "":
		times = s.mostTimes(r)
	case r.Per.Measure():
		times = s.mostCount(s.e.Measures()[r.Per])
	case r.Per != charge.Once:
		times = s.mostCount(r.On)
	}
	for _, t := range r.Times {
		times = times.Times(s.mostCount(s.e.Measures()[t]))
	}
	if r.Rate.Percent != nil {
		return money.Amount(times)
	}
	most := money.HalfUp.Each(s.rateRange(r).high, times)
	if r.Most != nil {
		most = min(most, *r.Most)
	}
	if r.Least != nil {
		most = max(most, *r.Least)
	}
	return most
}

// mostTimes bounds how often a charge that counts once is made.
func (s *search) mostTimes(r *charge.Compiled) money.Count {
	item, _ := s.e.Item(r.On)
	if spec, ok := item.Spec.(question.Ranged); ok && r.Choice != "" && item.Spec.Class() == question.ClassSeveral {
		if _, most := spec.Range(); most > float64(len(item.Spec.(question.Choosable).All())) {
			return money.Whole(int64(most)) // counted choices
		}
	}
	return money.One
}

// leastCount bounds from below how many of a measure an order has: none, unless
// everybody has to answer its question.
func (s *search) leastCount(k question.Key, p charge.Per) money.Count {
	item, ok := s.e.Item(k)
	if !ok || !item.Required || item.Later || item.Off || item.Test != nil || item.Section != "" {
		if p != charge.Hour {
			return money.One
		}
		return 0
	}
	spec, ok := item.Spec.(question.Sampled)
	if !ok {
		return 0
	}
	values, _ := spec.Samples(nil)
	if s.e.Booking != nil && item.Spec.Class() == question.ClassBooking {
		values = bookings(s.e.Booking)
	}
	least := money.Count(-1)
	for _, v := range values {
		if n := s.e.Measured(p, question.Answers{k: v}); least < 0 || n < least {
			least = n
		}
	}
	if p != charge.Hour { // a line with nothing counted is not sold
		least = max(least, money.One)
	}
	return max(least, 0)
}

// mostCount bounds how many an answer counts.
func (s *search) mostCount(k question.Key) money.Count {
	item, ok := s.e.Item(k)
	if !ok {
		return money.One
	}
	if s.e.Booking != nil && item.Spec.Class() == question.ClassBooking {
		most := money.Count(0)
		for _, b := range s.e.Booking.Samples() {
			for _, p := range []charge.Per{charge.Person, charge.Hour, charge.Day, charge.Night} {
				if s.e.Measures()[p] == k {
					most = max(most, s.e.Measured(p, question.Answers{k: b}))
				}
			}
		}
		return most
	}
	if spec, ok := item.Spec.(question.Ranged); ok {
		_, most := spec.Range()
		return money.Whole(int64(most))
	}
	if spec, ok := item.Spec.(question.Sampled); ok {
		values, _ := spec.Samples(nil)
		top := money.Count(0)
		for _, v := range values {
			t := v.Terms()
			top = max(top, money.CountOf(t.Number), money.Whole(int64(question.Characters(t.Text))))
		}
		if top > 0 {
			return top
		}
	}
	return money.Whole(1_000_000)
}
