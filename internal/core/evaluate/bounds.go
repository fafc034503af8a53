package evaluate

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
			all.reach(*r.Rate.Amount, *r.Rate.Amount)
			s.lower(&all, r.Prices)
		default:
			b := s.rateRange(r)
			all.reach(b.low, b.high)
		}
	}
	s.lower(&all, e.Prices)
	if e.Measure != charge.Once {
		most := s.mostCount(e.Measures()[e.Measure])
		all = span{0, money.HalfUp.Each(all.high, most)}
	}
	return all
}

func (s *search) lower(all *span, prices []charge.Special) {
	for i := range prices {
		if prices[i].Percent != nil {
			all.low = min(all.low, all.low-s.e.Rounding.Percent(all.low, *prices[i].Percent))
		} else {
			all.low = min(all.low, *prices[i].Amount)
		}
	}
}

// rateRange bounds what a rate gives for one.
func (s *search) rateRange(r *charge.Rule) span {
	switch {
	case r.Rate.Amount != nil:
		top := *r.Rate.Amount
		for _, b := range r.Bands {
			top = max(top, b.Amount)
		}
		return span{0, top}
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
func (s *search) mostOf(r *charge.Rule) money.Amount {
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
func (s *search) mostTimes(r *charge.Rule) money.Count {
	item, _ := s.e.Item(r.On)
	if spec, ok := item.Spec.(question.Ranged); ok && r.Choice != "" && item.Spec.Class() == question.ClassSeveral {
		if _, most := spec.Range(); most > float64(len(item.Spec.(question.Choosable).All())) {
			return money.Whole(int64(most)) // counted choices
		}
	}
	return money.One
}

// mostCount bounds how many an answer counts.
func (s *search) mostCount(k question.Key) money.Count {
	item, ok := s.e.Item(k)
	if !ok {
		return money.One
	}
	if s.e.Booking != nil && item.Spec.Class() == question.ClassBooking {
		_, most := s.e.Booking.People()
		return max(money.Whole(int64(most)), s.e.Measured(charge.Hour, question.Answers{k: question.Booking{People: 1}}))
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
