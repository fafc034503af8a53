package charge

import (
	"regexp"
	"slices"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// A Coupon takes something off the lines of an order.
type Coupon struct {
	Code  string `json:"code"`
	Label string `json:"label,omitempty"` // the slip's words; the code when empty
	Portion
	// Currency is what its amounts are in; none fits every order.
	Currency money.Currency `json:"currency,omitempty"`
	// Products are those that it is for; none means all.
	Products []int64       `json:"products,omitempty"`
	From     *calendar.Day `json:"from,omitempty"`
	To       *calendar.Day `json:"to,omitempty"`
	// LeastOrder is the least sum of the lines that it is for.
	LeastOrder money.Amount `json:"least_order,omitempty"`
	// Combines says that other coupons may be used beside it.
	Combines bool `json:"combines,omitempty"`
}

var couponCode = regexp.MustCompile(`^[A-Z0-9][A-Z0-9-]{2,39}$`)

// Validate says what is wrong with a coupon in itself.
func (c *Coupon) Validate() error {
	switch {
	case !couponCode.MatchString(c.Code):
		return words.Tell("charge.code_needs_3_40_capital")
	case !c.decided():
		return words.Tell("charge.needs_either_amount_per_cent")
	case !amountIn(c.Amount) || c.Amount != nil && *c.Amount == 0:
		return words.Tell("charge.amount_must_lie_above_zero")
	case c.Percent != nil && (!percentIn(*c.Percent, 100) || c.Percent.IsZero()):
		return words.Tell("charge.per_cent_must_lie_above")
	case c.From != nil && c.To != nil && c.To.Before(*c.From):
		return words.Tell("charge.ends_before_begins")
	case c.LeastOrder < 0 || c.LeastOrder > money.Largest:
		return words.Tell("charge.least_order_must_not_below")
	case len(c.Label) > 200 || len(c.Products) > 1000:
		return words.Tell("charge.words_list_products_are_too")
	}
	return nil
}

// Refused gives the code of what stands against using a coupon for lines on a
// day, beside others; empty when nothing does.
func (c *Coupon) Refused(lines []OrderLine, day calendar.Day, others []Coupon) string {
	switch {
	case c.From != nil && day.Before(*c.From):
		return "coupon_early"
	case c.To != nil && day.After(*c.To):
		return "coupon_late"
	case c.inMoney() && len(lines) > 0 && c.Currency != "" && c.Currency != lines[0].Slip.Currency:
		return "coupon_currency"
	case slices.ContainsFunc(others, func(o Coupon) bool { return o.Code == c.Code }):
		return "coupon_twice"
	case len(others) > 0 && (!c.Combines || slices.ContainsFunc(others, func(o Coupon) bool { return !o.Combines })):
		return "coupon_alone"
	}
	fits := false
	var sum money.Amount
	for _, line := range lines {
		if c.fits(line.Product) {
			fits = true
			sum += line.discountable()
		}
	}
	switch {
	case !fits:
		return "coupon_products"
	case sum < c.LeastOrder:
		return "coupon_least"
	}
	return ""
}

// inMoney says whether it names an amount of money.
func (c *Coupon) inMoney() bool { return c.Amount != nil || c.LeastOrder > 0 }

func (c *Coupon) fits(product int64) bool {
	return len(c.Products) == 0 || slices.Contains(c.Products, product)
}

// shares gives what the coupon takes off each line, of what earlier coupons
// left, and no more in all than the room that is left to take anything off.
func (c *Coupon) shares(lines []OrderLine, of []lineTotal, room money.Amount, r money.Rounding) []money.Amount {
	weights := make([]int64, len(lines))
	var sum money.Amount
	for i, line := range lines {
		if c.fits(line.Product) {
			weights[i] = int64(max(of[i].left, 0))
			sum += max(of[i].left, 0)
		}
	}
	if sum == 0 {
		return make([]money.Amount, len(lines))
	}
	return money.Split(min(c.of(sum, r), sum, max(room, 0)), weights)
}

// Idle lists the codes of coupons that take nothing off an order.
func (s *Slip) Idle() []string {
	var codes []string
	for _, l := range s.Lines {
		if l.Part == PartCoupon && l.Amount == 0 {
			codes = append(codes, l.Code)
		}
	}
	return codes
}
