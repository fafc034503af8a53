package docket

import (
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/store"
)

// Priced gives what the slip of an order needs of one of its lines.
func Priced(id int64, e *product.Edition, r *evaluate.Result, quantity, parent int) charge.OrderLine {
	return charge.OrderLine{
		Slip: r.Slip, Product: id, Tax: e.Pricing.Tax, Plan: e.Pricing.Plan, Quantity: quantity, Booked: r.Measured.First, Of: parent, Bundle: e.Pricing.Bundle,
	}
}

// SlipOf makes the slip of an order from its lines.
func SlipOf(o *store.Order, rounding money.Rounding, lines []charge.OrderLine) charge.Slip {
	order := orderOf(o, rounding, lines)
	return order.Make()
}

// orderOf gives what the slip of an order is made from. The lines' editions are
// of one business, so the first one's rounding is that of all.
func orderOf(o *store.Order, rounding money.Rounding, lines []charge.OrderLine) charge.Order {
	return charge.Order{
		Terms: o.Terms, Currency: o.Currency, Rounding: rounding, Day: Ordered(o),
		Lines: lines, Coupons: o.Coupons, Vouchers: o.Vouchers, Tip: o.Tip, Reversed: o.Reversed,
	}
}

// Whole gives an order with the slips of its lines as they are stored, to look
// at how its total is shared among them.
func Whole(tx *store.Tx, editions *Editions, o *store.Order) (charge.Order, error) {
	rows, err := tx.Lines(o.ID)
	if err != nil {
		return charge.Order{}, err
	}
	return WholeOf(tx, editions, o, rows)
}

// WholeOf is Whole with all of the order's lines.
func WholeOf(tx *store.Tx, editions *Editions, o *store.Order, rows []store.OrderLine) (charge.Order, error) {
	lines := make([]charge.OrderLine, len(rows))
	var rounding money.Rounding
	for i, r := range rows {
		e, err := editions.Of(tx, r.EditionID, o.Currency)
		if err != nil {
			return charge.Order{}, err
		}
		rounding = e.Rounding
		lines[i] = charge.OrderLine{Slip: r.Slip, Product: r.ProductID, Tax: e.Pricing.Tax, Quantity: r.Quantity, Of: r.Parent, Bundle: e.Pricing.Bundle}
	}
	return orderOf(o, rounding, lines), nil
}

// Ordered gives the day whose prices an order has.
func Ordered(o *store.Order) calendar.Day {
	day, _ := calendar.ParseDay(o.PricedOn)
	return day
}
