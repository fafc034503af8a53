package charge

import (
	"cmp"
	"slices"
	"strconv"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// Parts have a part of the price paid now, the rest later, and as many parts in
// between as there are.
type Parts struct {
	Portion // of the price, now; an amount for each unit
	// Value is the named value that says how much is paid now of the whole line,
	// instead of a portion.
	Value string       `json:"value,omitempty"`
	Parts []Instalment `json:"parts,omitempty"` // in between
	Rest  Rest         `json:"rest"`
	Days  int          `json:"days,omitempty"` // after the order, or before the booking
	Day   string       `json:"day,omitempty"`  // of the calendar
}

// An Instalment is a part of a price that is neither paid now nor the rest.
type Instalment struct {
	Portion        // of the price; an amount for each unit
	Rest    Rest   `json:"rest"`
	Days    int    `json:"days,omitempty"`
	Day     string `json:"day,omitempty"`
}

// Rest is when a part is paid.
type Rest string

const (
	AfterOrder    Rest = "order"    // so many days after the order
	BeforeBooking Rest = "booking"  // so many days before the booking
	BeforeWork    Rest = "work"     // before work begins
	AtHandover    Rest = "handover" // when the work is handed over
	OnDay         Rest = "day"      // on a day of the calendar
)

// mostParts is how many parts there can be between the first and the last.
const mostParts = 20

// Validate says what is wrong with it.
func (p *Parts) Validate() error {
	switch {
	case p == nil:
		return nil
	case p.decided() == (p.Value != ""):
		return words.Tell("charge.what_paid_now_must_per")
	case !p.within():
		return words.Tell("charge.what_paid_now_must_lie")
	case len(p.Parts) > mostParts:
		return words.Tell("charge.many_parts", "most", strconv.Itoa(mostParts))
	}
	for i, x := range p.Parts {
		n := strconv.Itoa(i + 2)
		switch {
		case !x.decided():
			return words.Tell("charge.part_per_cent_or_amount", "n", n)
		case !x.within():
			return words.Tell("charge.part_within", "n", n)
		}
		if err := when(x.Rest, x.Days, x.Day); err != nil {
			return err
		}
	}
	return when(p.Rest, p.Days, p.Day)
}

func when(rest Rest, days int, day string) error {
	switch {
	case rest != AfterOrder && rest != BeforeBooking && rest != AtHandover && rest != BeforeWork && rest != OnDay:
		return words.Tell("charge.rest_must_paid_after_order")
	case days < 0 || days > 1000 || rest == AfterOrder && days == 0:
		return words.Tell("charge.rest_needs_number_days_from")
	case rest == OnDay:
		if _, err := calendar.ParseDay(day); err != nil {
			return words.Tell("charge.part_day")
		}
	}
	return nil
}

// Books says whether a part of it is due before what is booked.
func (p *Parts) Books() bool {
	return p != nil && (p.Rest == BeforeBooking || slices.ContainsFunc(p.Parts, func(x Instalment) bool { return x.Rest == BeforeBooking }))
}

// Amounts gives the amounts of money in it, to be given anew in another
// currency.
func (p *Parts) Amounts() []*money.Amount {
	if p == nil {
		return nil
	}
	var list []*money.Amount
	if p.Amount != nil {
		list = append(list, p.Amount)
	}
	for i := range p.Parts {
		if a := p.Parts[i].Amount; a != nil {
			list = append(list, a)
		}
	}
	return list
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

// What stands for the day of what is due with an event. In alphabetical order
// they are in the order in which they happen, and stand after days.
const (
	Begin    = "begin"    // when work begins
	Booking  = "booking"  // before a booking whose day is not known
	Handover = "handover" // when the work is handed over
)

// share is what an order line has of the total, with what splits it in time.
type share struct {
	plan     *Parts
	amount   money.Amount
	quantity int
	booked   calendar.Day
	down     *money.Amount // what a named value says is paid now
}

// later gives the parts that are paid later. What is due on a day that has come
// is paid now.
func (s share) later(today calendar.Day, r money.Rounding) []Due {
	p := s.plan
	if p == nil || s.amount <= 0 {
		return nil
	}
	left := s.amount
	take := func(x Portion) money.Amount {
		n := x.of(s.amount, r)
		if x.Amount != nil {
			n = n.Times(int64(s.quantity))
		}
		n = min(left, max(n, 0))
		left -= n
		return n
	}
	switch {
	case s.down != nil:
		left -= min(left, max(*s.down, 0))
	case p.Value == "":
		take(p.Portion)
	}
	var list []Due
	add := func(rest Rest, days int, day string, n money.Amount) {
		if at := s.day(rest, days, day, today); at != "" && n > 0 {
			list = append(list, Due{Day: at, Amount: n})
		}
	}
	for _, x := range p.Parts {
		add(x.Rest, x.Days, x.Day, take(x.Portion))
	}
	add(p.Rest, p.Days, p.Day, left)
	return list
}

// day gives when a part is due; empty for now.
func (s share) day(rest Rest, days int, day string, today calendar.Day) string {
	at := today.Add(days)
	switch rest {
	case AtHandover:
		return Handover
	case BeforeWork:
		return Begin
	case OnDay:
		at, _ = calendar.ParseDay(day)
	case BeforeBooking:
		if s.booked == (calendar.Day{}) { // before it is known when, all of it stays open
			return Booking
		}
		at = s.booked.Add(-days)
	}
	if !at.After(today) {
		return ""
	}
	return at.String()
}

// due sets when a slip's total is paid. The parts add up to it, as what is paid
// now is what the others leave.
func (p *Parts) due(slip *Slip, shares []share, today calendar.Day, r money.Rounding) {
	var later []Due
	now := slip.Total
	for _, s := range shares {
		for _, d := range s.later(today, r) {
			now -= d.Amount
			if i := slices.IndexFunc(later, func(o Due) bool { return o.Day == d.Day }); i >= 0 {
				later[i].Amount += d.Amount
			} else {
				later = append(later, d)
			}
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
