package desk

import (
	"context"
	"errors"
	"fmt"
	"net/http"

	"ruvo/api"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Settle cancels an order, gives its security deposit back, or notes that the
// rest of its total came in by other means than a card.
//
// The bank is asked first. It does nothing twice under one name, so that what
// is interrupted can be repeated.
func (d *Desk) Settle(ctx context.Context, number int64, action string, how api.Settlement, author string, l words.Language) (api.OrderMoney, error) {
	var view api.OrderMoney
	o, err := d.unsettled(ctx, number, action, l)
	if err != nil {
		return view, err
	}
	back := money.Amount(0)
	switch action {
	case "cancel":
		back = o.Held
		if how.Refund {
			back += o.Received - o.Refunded
		}
	case "release":
		back = o.Held
	}
	if back > 0 {
		if err := d.Cards.Refund(ctx, fmt.Sprintf("%s-%d-%d", action, o.ID, back), back); err != nil {
			return view, err
		}
	}
	err = d.Store.Write(ctx, func(tx *store.Tx) error {
		now, err := tx.OrderByID(o.ID)
		if err != nil {
			return err
		}
		if now.State != o.State || now.Received != o.Received || now.Held != o.Held || now.Refunded != o.Refunded {
			return problem.Say(http.StatusConflict, l, "conflict", nil)
		}
		switch action {
		case "received":
			o.Received = o.Total
		case "release":
			o.Held = 0
		case "cancel":
			o.Refunded += back - o.Held
			o.Held = 0
			if err := d.cancel(tx, &o, how.Restock, author); err != nil {
				return err
			}
		}
		view = docket.Money(&o)
		return tx.SaveOrder(&o)
	})
	return view, err
}

func (d *Desk) unsettled(ctx context.Context, number int64, action string, l words.Language) (store.Order, error) {
	var o store.Order
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		o, err = tx.OrderByNumber(number)
		return err
	})
	switch {
	case errors.Is(err, store.ErrNotFound):
		return o, problem.NotFound(l, "no_order")
	case err != nil:
		return o, err
	case o.State == store.OrderCancelled && action != "release":
		return o, problem.Say(http.StatusConflict, l, "cancelled", nil)
	case action == "release" && o.Held == 0, action == "received" && o.Open() == 0:
		return o, problem.Say(http.StatusConflict, l, "nothing_open", nil)
	}
	return o, nil
}

// cancel closes an order's briefs, takes its unfinished work away, gives its
// places and coupons free, and its pieces if they are to go back on stock.
func (d *Desk) cancel(tx *store.Tx, o *store.Order, restock bool, author string) error {
	now := d.Now()
	o.State, o.CancelledAt = store.OrderCancelled, store.Time(now)
	if err := tx.ReleaseCoupons(o.ID); err != nil {
		return err
	}
	b, err := tx.Business()
	if err != nil {
		return err
	}
	rows, err := tx.Lines(o.ID)
	if err != nil {
		return err
	}
	for _, row := range rows {
		if restock {
			if err := docket.ReturnStock(tx, &row, author, now); err != nil {
				return err
			}
		}
		if err := tx.FreePlace(row.ID); err != nil {
			return err
		}
		row.ClosedAt = store.Time(now)
		line, err := docket.Open(tx, d.Editions, b, *o, row, now)
		if err != nil {
			return err
		}
		if err := line.Settle(tx, now); err != nil {
			return err
		}
	}
	return nil
}
