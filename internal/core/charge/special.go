package charge

import (
	"strconv"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// A Special is another price: for a customer group, for orders or nights within
// days, or from a number of units on. All that it names must hold.
type Special struct {
	Label   string        `json:"label,omitempty"` // the slip's word for it
	Group   string        `json:"group,omitempty"` // a customer group's key
	From    *calendar.Day `json:"from,omitempty"`  // the first day
	To      *calendar.Day `json:"to,omitempty"`    // the last day
	AtLeast int           `json:"at_least,omitempty"`
	Portion               // an amount instead of the other price, or per cent off it
}

// ValidateSpecials says what is wrong with other prices.
func ValidateSpecials(list []Special) error {
	if len(list) > 100 {
		return words.Tell("charge.there_can_100_other_prices")
	}
	for i, s := range list {
		switch n := strconv.Itoa(i + 1); {
		case s.Group == "" && s.From == nil && s.To == nil && s.AtLeast == 0:
			return words.Tell("charge.other_price_needs_group_days", "n", n)
		case !s.decided():
			return words.Tell("charge.other_price_needs_either_amount", "n", n)
		case !amountIn(s.Amount):
			return words.Tell("charge.other_price_must_not_below", "n", n)
		case s.Percent != nil && !percentIn(*s.Percent, 100):
			return words.Tell("charge.other_price_can_take_off", "n", n)
		case s.From != nil && s.To != nil && s.To.Before(*s.From):
			return words.Tell("charge.other_price_ends_before_begins", "n", n)
		case s.AtLeast < 0 || s.AtLeast > 1_000_000:
			return words.Tell("charge.other_price_needs_number_units", "n", n)
		}
	}
	return nil
}

// dated says whether the price depends on the day.
func (s *Special) dated() bool { return s.From != nil || s.To != nil }

// holds says whether the price is there for an order.
func (s *Special) holds(in *Input, day calendar.Day) bool {
	return (s.Group == "" || s.Group == in.Group) && (s.From == nil || !day.Before(*s.From)) && (s.To == nil || !day.After(*s.To)) && in.Quantity >= s.AtLeast
}

// priceOf gives the price instead of another one.
func (s *Special) priceOf(price money.Amount, r money.Rounding) money.Amount {
	if s.Amount != nil {
		return *s.Amount
	}
	return price - s.of(price, r)
}

// best gives the lowest of a price and the other prices that hold on a day,
// and which of them it is. The first of equal ones is taken.
func best(price money.Amount, list []Special, in *Input, day calendar.Day, r money.Rounding) (money.Amount, *Special) {
	lowest := price
	var which *Special
	for i := range list {
		if s := &list[i]; s.holds(in, day) {
			if a := s.priceOf(price, r); a < lowest {
				lowest, which = a, s
			}
		}
	}
	return lowest, which
}
