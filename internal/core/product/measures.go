package product

import (
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// perFact tells which measure a fact of conditions is.
var perFact = map[condition.Fact]charge.Per{
	condition.People: charge.Person, condition.Hours: charge.Hour, condition.Days: charge.Day, condition.Nights: charge.Night,
}

// measures finds the questions whose answers measure an order line: a booking
// its people and hours, a span of days its days and nights, and any number
// what the seller says it counts as.
func (c *check) measures() {
	e := c.edition
	e.measures = map[charge.Per]question.Key{}
	claim := func(p charge.Per, k question.Key) {
		if _, taken := e.measures[p]; !taken {
			e.measures[p] = k
		}
	}
	for i := range e.Items {
		item := &e.Items[i]
		if item.CountsAs == charge.Once {
			continue
		}
		switch class := item.Spec.Class(); {
		case !item.CountsAs.Measure() || item.CountsAs == charge.Unit:
			c.wrong(InQuestion, string(item.Key), "finding.can_count_people_hours_days", "wording", item.Wording)
		case class != question.ClassNumber && class != question.ClassList || item.Scope == question.OfUnit || item.Kind == "amount":
			c.wrong(InQuestion, string(item.Key), "finding.not_answered_with_one_number", "wording", item.Wording, "measure", item.CountsAs)
		case item.Moment.Rank() > question.Paying.Rank():
			c.wrong(InQuestion, string(item.Key), "finding.asked_after_payment_so_cannot_2", "wording", item.Wording)
		default:
			if other, taken := e.measures[item.CountsAs]; taken {
				c.wrong(InQuestion, string(item.Key), "finding.both_count_each", "wording", item.Wording, "other", other, "measure", item.CountsAs)
			}
			claim(item.CountsAs, item.Key)
		}
	}
	for i := range e.Items {
		item := &e.Items[i]
		if item.Off || item.Moment.Rank() > question.Paying.Rank() || item.Scope == question.OfUnit {
			continue
		}
		switch item.Spec.Class() {
		case question.ClassBooking:
			claim(charge.Person, item.Key)
			switch {
			case e.Booking == nil || e.Booking.By == booking.ByTime:
				claim(charge.Hour, item.Key)
			case e.Booking.By == booking.ByCourse:
				claim(charge.Hour, item.Key)
				claim(charge.Day, item.Key)
			default:
				claim(charge.Day, item.Key)
				claim(charge.Night, item.Key)
			}
		case question.ClassSpan:
			claim(charge.Day, item.Key)
			claim(charge.Night, item.Key)
		}
	}
}

// span finds the question for a first and a last day that measures the line.
func (e *Edition) span() (question.Key, bool) {
	for _, p := range []charge.Per{charge.Night, charge.Day} {
		if k, ok := e.measures[p]; ok && e.Items[e.index[k]].Spec.Class() == question.ClassSpan {
			return k, true
		}
	}
	return "", false
}

// Measures says which measures an order line of the product has.
func (e *Edition) Measures() map[charge.Per]question.Key { return e.measures }

// Measured gives one measure of an order line from the answers that count.
func (e *Edition) Measured(p charge.Per, answers question.Answers) money.Count {
	k, ok := e.measures[p]
	if !ok {
		return 0
	}
	switch v := answers[k].(type) {
	case nil:
		return 0
	case question.Booking:
		switch {
		case p == charge.Person:
			return money.Whole(int64(max(v.People, 0)))
		case e.Booking == nil:
			return 0
		case len(v.Meetings) > 0:
			return ofMeetings(p, v.Meetings)
		case p == charge.Hour:
			return money.CountOf(decimal.New(int64(e.Booking.Ends(v).Sub(v.Start)/time.Minute), 0).DivRound(decimal.NewFromInt(60), 6))
		}
		n := e.Booking.Units(v)
		switch {
		case n == 0:
		case p == charge.Day && e.Booking.By == booking.ByNight:
			n++
		case p == charge.Night && e.Booking.By == booking.ByDay:
			n--
		}
		return money.Whole(int64(n))
	case question.Span:
		n := max(int64(v.Days()), 0)
		if p == charge.Night {
			n = max(n-1, 0)
		}
		return money.Whole(n)
	default:
		return max(money.CountOf(v.Terms().Number), 0)
	}
}

// ofMeetings gives how many hours, or days on which one meets, meetings have.
func ofMeetings(p charge.Per, list []question.Meeting) money.Count {
	if p == charge.Day {
		return money.Whole(int64(len(list)))
	}
	var minutes time.Duration
	for _, m := range list {
		minutes += m.End.Sub(m.Start) / time.Minute
	}
	if p != charge.Hour {
		return 0
	}
	return money.CountOf(decimal.New(int64(minutes), 0).DivRound(decimal.NewFromInt(60), 6))
}

// Facts gives all that an order line is measured by.
func (e *Edition) Facts(answers question.Answers, zone *time.Location) charge.Measured {
	var f charge.Measured
	if len(e.measures) == 0 {
		return f
	}
	f.People, f.Hours = e.Measured(charge.Person, answers), e.Measured(charge.Hour, answers)
	f.Days, f.Nights = e.Measured(charge.Day, answers), e.Measured(charge.Night, answers)
	f.First = e.first(answers, zone)
	if k, ok := e.BookingKey(); ok && zone != nil {
		if b, ok := answers[k].(question.Booking); ok {
			at := b.Start.In(zone)
			f.Minute, f.Timed = at.Hour()*60+at.Minute(), true
			f.Meetings, f.MeetingsOf = len(b.Meetings), b.Of
			if name, price, whole := e.Booking.WholeOn(f.First); whole {
				f.Whole = &charge.Whole{Name: name, Price: price}
			}
		}
	}
	return f
}

// first gives the first day of what is booked; zero while it is not known.
func (e *Edition) first(answers question.Answers, zone *time.Location) calendar.Day {
	if k, ok := e.span(); ok {
		if s, ok := answers[k].(question.Span); ok {
			return s.From
		}
	}
	if k, ok := e.BookingKey(); ok {
		if b, ok := answers[k].(question.Booking); ok && zone != nil {
			return calendar.DayOf(b.Start.In(zone))
		}
	}
	return calendar.Day{}
}

// ConditionFacts gives what conditions read of an order line besides its
// answers, as those are when a condition reads it.
func (e *Edition) ConditionFacts(quantity int, group string, whole condition.Whole, zone *time.Location, answers *question.Answers) condition.Facts {
	if len(e.measures) == 0 {
		return condition.Facts{Quantity: quantity, Group: group, Whole: whole}
	}
	return condition.Facts{Quantity: quantity, Group: group, Whole: whole, Measure: func(f condition.Fact) decimal.Decimal {
		return e.Measured(perFact[f], *answers).Decimal()
	}, Booked: func() (calendar.Day, string) {
		first := e.first(*answers, zone)
		if first == (calendar.Day{}) || e.Booking == nil {
			return first, ""
		}
		return first, e.Booking.Named(first)
	}}
}
