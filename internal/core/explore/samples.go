package explore

import (
	"slices"
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/formula"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// valid gives the answers that count, if they can be ordered with.
func (s *search) valid(answers question.Answers, keys []question.Key) (question.Answers, bool) {
	later := map[question.Key]bool{}
	for _, k := range keys {
		if item, _ := s.e.Item(k); item.Later {
			later[k] = true
		}
	}
	r := evaluate.Evaluate(s.e, answers, evaluate.Given{Quantity: 1, Now: time.Unix(0, 0), Zone: time.UTC, Language: words.English, Later: later})
	for _, f := range r.Faults {
		if !slices.Contains(keys, f.Key) {
			continue
		}
		item, _ := s.e.Item(f.Key)
		if f.Code == "required" || f.Code == evaluate.MeasureNone || !standsForAny(item) {
			return nil, false
		}
	}
	return r.Answers, true
}

// standsForAny says whether a sample answer is valid only in its number: a span
// of days in how many, a text in how long it is.
func standsForAny(i *product.Item) bool {
	switch i.Spec.Class() {
	case question.ClassText, question.ClassSpan, question.ClassBooking, question.ClassList:
		return true
	}
	return false
}

// domain lists answers that stand for all of a question, no answer among them.
// Sure says that nothing between them can lie outside of what they give.
func (s *search) domain(k question.Key, part []question.Key) (values []question.Value, sure bool) {
	item, _ := s.e.Item(k)
	spec, ok := item.Spec.(question.Sampled)
	if !ok || item.Scope == question.OfUnit {
		return nil, false
	}
	all, whole := spec.Samples(s.around[k])
	if item.Spec.Class() == question.ClassBooking && s.e.Booking != nil {
		all, whole = bookings(s.e.Booking), false
	}
	entries := s.readsEntries(k)
	if entries {
		lists, ok := item.Spec.(interface {
			AnyEntries(limit int) ([]question.Value, bool)
		})
		if !ok {
			return nil, false
		}
		all, whole = lists.AnyEntries(mostLists)
	}
	if all == nil {
		return nil, false
	}
	sure = whole || s.straight(k)
	for i := range s.e.Items { // a sample day or text says nothing to a condition
		if other := &s.e.Items[i]; !entries && standsForAny(item) && slices.Contains(part, other.Key) && slices.Contains(s.decides(other.Key), k) {
			return nil, false
		}
	}
	if item.Spec.Class() == question.ClassBooking && slices.ContainsFunc(s.e.Pricing.Charges, func(r charge.Compiled) bool {
		return slices.Contains(s.keysOf(&r), k) && s.readsBooked(&r)
	}) {
		return nil, false // nor does its day to what hangs on the day
	}
	return append([]question.Value{nil}, all...), sure
}

// readsBooked says whether a charge hangs on the day, the weekday or the season of
// what is booked.
func (s *search) readsBooked(r *charge.Compiled) bool {
	ofDay := func(f condition.Fact) bool {
		return f == condition.Season || f == condition.Weekday || f == condition.Booked
	}
	if slices.ContainsFunc(r.Test.Facts(nil), ofDay) {
		return true
	}
	return r.Formula != nil && s.formulaBooked(r.Formula)
}

func (s *search) formulaBooked(f *formula.Formula) bool {
	for _, n := range f.Names() {
		if slices.Contains(charge.BookedNames(), n) {
			return true
		}
		for _, v := range s.e.Pricing.Values {
			if v.Name == n && v.Formula != nil && s.formulaBooked(v.Formula) {
				return true
			}
		}
	}
	return false
}

// mostLists is how many lists of entries are tried.
const mostLists = 1000

// readsEntries says whether a price or what is asked hangs on what the entries of
// a list say.
func (s *search) readsEntries(k question.Key) bool {
	for i := range s.e.Pricing.Charges {
		r := &s.e.Pricing.Charges[i]
		if r.Entry != nil && r.On == k || r.Test.ReadsEntries(k) || r.Formula != nil && s.formulaReads(r.Formula, k) {
			return true
		}
	}
	for i := range s.e.Items {
		item := &s.e.Items[i]
		if item.Test.ReadsEntries(k) {
			return true
		}
		for _, t := range item.Offers {
			if t.ReadsEntries(k) {
				return true
			}
		}
	}
	return false
}

// formulaReads says whether a formula looks at the entries of a list, by itself
// or through a named value.
func (s *search) formulaReads(f *formula.Formula, k question.Key) bool {
	if f.Entries(string(k)) {
		return true
	}
	for _, v := range s.e.Pricing.Values {
		if slices.Contains(f.Names(), v.Name) && s.formulaReads(v.Formula, k) {
			return true
		}
	}
	return false
}

func bookings(r *booking.Rule) []question.Value {
	var list []question.Value
	for _, b := range r.Samples() {
		list = append(list, b)
	}
	return list
}

// straight says whether prices run in straight lines between the samples of a
// question: nothing but charges that count it read it.
func (s *search) straight(k question.Key) bool {
	for i := range s.e.Items {
		if slices.Contains(s.decides(s.e.Items[i].Key), k) {
			return false
		}
	}
	for i := range s.e.Pricing.Charges {
		r := &s.e.Pricing.Charges[i]
		if !slices.Contains(s.keysOf(r), k) {
			continue
		}
		if r.On != k || r.Formula != nil || slices.Contains(s.read(r.Test), k) || r.Least != nil || r.Most != nil {
			return false
		}
	}
	return true
}
