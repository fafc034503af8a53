package charge

import (
	"cmp"
	"slices"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// Parts have a part of the price paid now and the rest later.
type Parts struct {
	Portion      // of the price, now; an amount for each unit
	Rest    Rest `json:"rest"`
	Days    int  `json:"days,omitempty"` // after the order, or before the booking
}

// Rest is when the rest is paid.
type Rest string

const (
	AfterOrder    Rest = "order"    // so many days after the order
	BeforeBooking Rest = "booking"  // so many days before the booking
	AtHandover    Rest = "handover" // when the work is handed over
)

// Validate says what is wrong with it.
func (p *Parts) Validate() error {
	switch {
	case p == nil:
		return nil
	case !p.decided():
		return words.Tell("charge.what_paid_now_must_per")
	case !p.within():
		return words.Tell("charge.what_paid_now_must_lie")
	case p.Rest != AfterOrder && p.Rest != BeforeBooking && p.Rest != AtHandover:
		return words.Tell("charge.rest_must_paid_after_order")
	case p.Days < 0 || p.Days > 1000 || p.Rest == AfterOrder && p.Days == 0:
		return words.Tell("charge.rest_needs_number_days_from")
	}
	return nil
}

// A Due is a part of the total and when it is paid.
type Due struct {
	// Day is the last day to pay; "" is now, "handover" when the work is
	// handed over.
	Day    string       `json:"day"`
	Words  string       `json:"words,omitempty"` // of it, on a slip that is shown
	Amount money.Amount `json:"amount"`
}

// Said gives when it is due in a language.
func (d Due) Said(l words.Language) string {
	if d.Day == "" {
		return l.Fill("due.now")
	}
	return dayWords(d.Day, l)
}

// Handover is the day of what is paid when the work is handed over.
const Handover = "handover"

// share is what an order line has of the total, with what splits it in time.
type share struct {
	plan     *Parts
	amount   money.Amount
	quantity int
	booked   calendar.Day
}

// later gives the part that is paid later and its day; nothing when that day
// has come.
func (s share) later(today calendar.Day, r money.Rounding) (string, money.Amount) {
	p := s.plan
	if p == nil || s.amount <= 0 {
		return "", 0
	}
	now := p.of(s.amount, r)
	if p.Amount != nil {
		now = min(s.amount, now.Times(int64(s.quantity)))
	}
	rest := s.amount - now
	switch p.Rest {
	case AtHandover:
		return Handover, rest
	case AfterOrder:
		return today.Add(p.Days).String(), rest
	}
	if s.booked == (calendar.Day{}) { // before it is known when, all of it stays open
		return "booking", rest
	}
	if day := s.booked.Add(-p.Days); day.After(today) {
		return day.String(), rest
	}
	return "", 0
}

// due sets when a slip's total is paid. The parts add up to it, as what is paid
// now is what the others leave.
func (p *Parts) due(slip *Slip, shares []share, today calendar.Day, r money.Rounding) {
	var later []Due
	now := slip.Total
	for _, s := range shares {
		day, amount := s.later(today, r)
		if amount == 0 {
			continue
		}
		now -= amount
		if i := slices.IndexFunc(later, func(d Due) bool { return d.Day == day }); i >= 0 {
			later[i].Amount += amount
		} else {
			later = append(later, Due{Day: day, Amount: amount})
		}
	}
	slices.SortFunc(later, func(a, b Due) int { return cmp.Compare(a.Day, b.Day) })
	// What is taken off the whole order can be more than what is due now; the
	// rest of it comes off what is due next.
	for i := range later {
		off := min(max(-now, 0), later[i].Amount)
		later[i].Amount -= off
		now += off
	}
	later = slices.DeleteFunc(later, func(d Due) bool { return d.Amount == 0 })
	if len(later) == 0 {
		return
	}
	slip.Due = append([]Due{{Amount: now}}, later...)
}

// Now gives what of the slip's total is due now.
func (s *Slip) Now() money.Amount {
	if len(s.Due) == 0 {
		return s.Total
	}
	return s.Due[0].Amount
}
