package shop

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"net/http"

	"ruvo/api"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// PlaceByHand places an order for somebody who told the seller what they want: it is
// checked, priced and held as if they had ordered by themselves. What is due now came
// in as the seller says, or stays open, and the customer pays it on the order page. A
// deposit has to have come in.
func (s *Shop) PlaceByHand(ctx context.Context, by api.OrderByHand, author string, l words.Language) (api.PlacedByHand, error) {
	var view api.PlacedByHand
	name := make([]byte, 16)
	rand.Read(name)
	req := api.CheckoutRequest{Name: by.Name, Email: by.Email, Lines: []api.BasketLine{by.Line}}
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		o, err := s.prepare(ctx, tx, b, store.Order{State: order.Prepared, ByHand: true}, hash(hex.EncodeToString(name)), req, l)
		if err != nil {
			return err
		}
		if by.Total != nil && money.Amount(*by.Total) != o.Total {
			return problem.Say(http.StatusConflict, l, "price_changed", nil)
		}
		if by.Language != nil {
			o.Language = string(words.Pick(*by.Language))
		}
		if err := tx.SaveOrder(&o); err != nil {
			return err
		}
		var came []ledger.Entry
		switch due := o.Slip.ToPay() + o.Slip.Held; {
		case by.Paid != nil && due > 0:
			came = ledger.Came(ledger.Charging(&o.Slip, s.Now()), o.Slip.Held, ledger.Entry{
				Amount: due, At: s.Now(), Way: ledger.Way(*by.Paid), Author: author,
			})
		case o.Slip.Held > 0:
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "paid", "deposit_first", nil)})
		}
		if err := placing.Place(tx, s.Editions, &o, s.Now(), came...); err != nil {
			return err
		}
		lines, err := tx.LineHeads(o.ID)
		if err != nil {
			return err
		}
		view = api.PlacedByHand{Line: lines[0].ID, Number: *o.Number}
		return nil
	})
	return view, err
}
