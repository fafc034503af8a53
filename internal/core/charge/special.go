package charge

import (
	"slices"
	"strconv"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// A Special is another price: for a customer group, for some days, hours or
// weekdays, from a number of units on, or while few places are left. All that it
// names must hold.
type Special struct {
	Label string        `json:"label,omitempty"` // the slip's word for it
	Group string        `json:"group,omitempty"` // a customer group's key
	From  *calendar.Day `json:"from,omitempty"`  // the first day
	To    *calendar.Day `json:"to,omitempty"`    // the last day
	// Booked has From and To look at the day that is booked instead of the day of
	// the order. Nights and days that a price is for are always looked at
	// themselves.
	Booked   bool           `json:"booked,omitempty"`
	Weekdays []time.Weekday `json:"weekdays,omitempty"` // of what is booked, 0 is Sunday
	Hours    *calendar.Span `json:"hours,omitempty"`    // in which what is booked begins
	Left     int            `json:"left,omitempty"`     // at most so many places are left of what is booked; 0 for any
	Season   string         `json:"season,omitempty"`   // the name of a season, or of a fixed stay, in which what is booked lies
	AtLeast  int            `json:"at_least,omitempty"` // units
	// Dearer puts the amount or the per cent on top of the price. Without it an
	// amount is the price, and per cent are taken off.
	Dearer bool `json:"dearer,omitempty"`
	Portion
}

// Combine says which of several other prices that hold is taken.
type Combine string

const (
	CombineLowest Combine = ""     // the lowest of them
	CombineLast   Combine = "last" // the last one in their list
	CombineSum    Combine = "sum"  // what each makes dearer or cheaper, together
)

// ValidateSpecials says what is wrong with other prices.
func ValidateSpecials(list []Special, combine Combine) error {
	if len(list) > 100 {
		return words.Tell("charge.there_can_100_other_prices")
	}
	if combine != CombineLowest && combine != CombineLast && combine != CombineSum {
		return words.Tell("charge.other_prices_combine_how")
	}
	for i, s := range list {
		field := "[" + strconv.Itoa(i) + "]"
		switch n := strconv.Itoa(i + 1); {
		case s.Group == "" && s.From == nil && s.To == nil && s.AtLeast == 0 && len(s.Weekdays) == 0 && s.Hours == nil && s.Left == 0 && s.Season == "":
			return at(field, "charge.other_price_needs_group_days", "n", n)
		case !s.decided():
			return at(field, "charge.other_price_needs_either_amount", "n", n)
		case !amountIn(s.Amount):
			return at(field+".amount", "charge.other_price_must_not_below", "n", n)
		case s.Percent != nil && !s.Dearer && !percentIn(*s.Percent, 100):
			return at(field+".percent", "charge.other_price_can_take_off", "n", n)
		case s.Percent != nil && !percentIn(*s.Percent, 1000):
			return at(field+".percent", "charge.other_price_can_put_on_top", "n", n)
		case s.From != nil && s.To != nil && s.To.Before(*s.From):
			return at(field+".to", "charge.other_price_ends_before_begins", "n", n)
		case s.Booked && s.From == nil && s.To == nil:
			return at(field+".booked", "charge.other_price_booked_needs_days", "n", n)
		case s.AtLeast < 0 || s.AtLeast > 1_000_000:
			return at(field+".at_least", "charge.other_price_needs_number_units", "n", n)
		case s.Left < 0 || s.Left > 10_000:
			return at(field+".left", "charge.other_price_needs_number_places", "n", n)
		case slices.ContainsFunc(s.Weekdays, func(w time.Weekday) bool { return w < 0 || w > 6 }):
			return at(field+".weekdays", "charge.other_price_weekdays", "n", n)
		}
	}
	return nil
}

// dated says whether the price depends on the day of what the price is for.
func (s *Special) dated() bool {
	return s.From != nil || s.To != nil || len(s.Weekdays) > 0 || s.Season != ""
}

// Books says whether the price depends on what is booked.
func (s *Special) Books() bool {
	return s.Booked || len(s.Weekdays) > 0 || s.Hours != nil || s.Left > 0 || s.Season != ""
}

// holds says whether the price is there for an order. Day is the night or day
// that a price is for; the zero day where the price is for no day of its own.
func (s *Special) holds(in *Input, day calendar.Day) bool {
	if s.Group != "" && s.Group != in.Group || in.Quantity < s.AtLeast {
		return false
	}
	booked := day
	if booked == (calendar.Day{}) {
		booked = in.Facts.First
	}
	if s.From != nil || s.To != nil {
		of := booked
		if day == (calendar.Day{}) && !s.Booked {
			of = in.Day
		}
		if of == (calendar.Day{}) || s.From != nil && of.Before(*s.From) || s.To != nil && of.After(*s.To) {
			return false
		}
	}
	if len(s.Weekdays) > 0 && (booked == (calendar.Day{}) || !slices.Contains(s.Weekdays, booked.Weekday())) {
		return false
	}
	if s.Season != "" && (booked == (calendar.Day{}) || in.InSeason == nil || !in.InSeason(booked, s.Season)) {
		return false
	}
	if s.Hours != nil && (!in.Facts.Timed || in.Facts.Minute < s.Hours.From || in.Facts.Minute >= s.Hours.To) {
		return false
	}
	return s.Left == 0 || in.Facts.Left > 0 && in.Facts.Left <= s.Left
}

// priceOf gives the price instead of another one, exact.
func (s *Special) priceOf(price money.Product, r money.Rounding, rules Rules) money.Product {
	if s.Amount != nil {
		if s.Dearer {
			return price.Plus(s.Amount.Exactly())
		}
		return s.Amount.Exactly()
	}
	part := price.Percent(*s.Percent)
	if rules == Rules1 {
		a, _ := r.Product(part)
		part = a.Exactly()
	}
	if s.Dearer {
		return price.Plus(part)
	}
	return price.Minus(part)
}

// A chosen is the price that holds instead of another one, and which other
// prices make it.
type chosen struct {
	price money.Product
	of    []*Special
}

// best finds the price that holds on a day instead of another one. Of equal ones
// the first is taken.
func (m *making) best(price money.Product, list []Special, combine Combine, day calendar.Day) chosen {
	is := chosen{price: price}
	for i := range list {
		s := &list[i]
		if !s.holds(&m.Input, day) {
			continue
		}
		a := s.priceOf(price, m.Rounding, m.Rules)
		switch {
		case combine == CombineSum:
			is.price, is.of = is.price.Plus(a.Minus(price)), append(is.of, s)
		case combine == CombineLast, a.Cmp(is.price) < 0, is.of == nil && m.Rules != Rules1:
			is.price, is.of = a, []*Special{s}
		}
	}
	if is.price.Cmp(money.Amount(0).Exactly()) < 0 {
		is.price = money.Amount(0).Exactly()
	}
	return is
}
