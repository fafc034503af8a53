package docket

import (
	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// Priced gives what the slip of an order needs of one of its lines.
func Priced(id int64, e *product.Edition, r *evaluate.Result, quantity, parent int) charge.OrderLine {
	return charge.OrderLine{
		Slip: r.Slip, Product: id, Tax: e.Pricing.Tax, Plan: e.Pricing.Plan, Quantity: quantity, Booked: r.Measured.First, Of: parent,
	}
}

// SlipOf makes the slip of an order from its lines. The lines' editions are of
// one business, so the first one's rounding is that of all.
func SlipOf(o *store.Order, rounding money.Rounding, lines []charge.OrderLine) charge.Slip {
	day, _ := calendar.ParseDay(o.PricedOn)
	order := charge.Order{
		Terms: o.Terms, Currency: o.Currency, Rounding: rounding, Language: words.Language(o.Language), Day: day,
		Lines: lines, Coupons: o.Coupons, Tip: o.Tip, Reversed: o.Reversed,
	}
	return order.Make()
}

// Ordered gives the day whose prices an order has.
func Ordered(o *store.Order) calendar.Day {
	day, _ := calendar.ParseDay(o.PricedOn)
	return day
}

// Money shows what of an order was received, given back, is held and open.
func Money(o *store.Order) api.OrderMoney {
	m := api.OrderMoney{
		Slip: o.Slip, Received: int(o.Received), Refunded: int(o.Refunded), Held: int(o.Held), Open: int(o.Open()), State: api.OrderMoneyStatePaid,
	}
	if o.State == store.OrderCancelled {
		m.State = api.OrderMoneyStateCancelled
	}
	if o.Buyer.Business {
		m.Buyer = &o.Buyer
	}
	if o.Group != "" {
		m.Group = &o.Group
	}
	return m
}
