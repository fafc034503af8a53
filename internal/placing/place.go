package placing

import (
	"slices"
	"time"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/order"
	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/store"
)

// Place makes a checkout, or an order that awaited its transfer, an order to be
// worked on: number, charge, places, pieces, coupons, work and mail, in the
// transaction that it is given. Came is the money that places it.
func Place(tx *store.Tx, editions *docket.Editions, o *store.Order, now time.Time, came ...ledger.Entry) error {
	b, err := tx.Business()
	if err != nil {
		return err
	}
	charged := o.State == order.Awaiting
	o.State, o.PlacedAt, o.HeldUntil, o.RemindAt = order.Placed, store.Time(now), nil, nil
	if charged {
		if err = tx.SaveProgress(o); err == nil {
			err = tx.AddEntries(o, came, b.Location())
		}
	} else {
		err = chargeOrder(tx, b, o, now, came...)
	}
	if err != nil {
		return err
	}
	if err := tx.AddFigures(o, ledger.Figures(&o.Slip), now, b.Location()); err != nil {
		return err
	}
	rows, err := tx.Lines(o.ID)
	if err != nil {
		return err
	}
	var lines []*docket.Line
	for _, row := range rows {
		line, err := placeLine(tx, editions, b, o, row, now)
		if err != nil {
			return err
		}
		lines = append(lines, line)
	}
	if len(o.Coupons) > 0 {
		if err := tx.TakeCoupons(o.ID); err != nil {
			return err
		}
	}
	if err := agreeToNews(tx, o, now); err != nil {
		return err
	}
	if err := message.WriteOrder(tx, b, *o, lines, now); err != nil {
		return err
	}
	return Tell(tx, o, lines, now)
}

// agreeToNews keeps that news was agreed to with an order, unless something else was said
// since: a transfer can take weeks, and must not undo a word that came after it.
func agreeToNews(tx *store.Tx, o *store.Order, now time.Time) error {
	if o.NewsVersion == 0 {
		return nil
	}
	said, err := tx.NewsWords(o.Email)
	if n := len(said); err != nil || n > 0 && said[n-1].At.After(o.Since()) {
		return err
	}
	return tx.AddNewsWord(store.NewsWord{Email: o.Email, Agreed: true, Version: o.NewsVersion, OrderID: &o.ID, At: now})
}

// chargeOrder gives an order its number, unless it has one, charges what its slip
// asks, and notes what came in for it, and what vouchers pay.
func chargeOrder(tx *store.Tx, b store.Business, o *store.Order, now time.Time, came ...ledger.Entry) error {
	save := tx.SaveNumbered
	if o.Number != nil {
		save = tx.SaveProgress
	}
	if err := save(o); err != nil {
		return err
	}
	if err := tx.AddEntries(o, append(ledger.Charging(&o.Slip, now), came...), b.Location()); err != nil {
		return err
	}
	return takeVouchers(tx, b, o, now)
}

func placeLine(tx *store.Tx, editions *docket.Editions, b store.Business, o *store.Order, row store.OrderLine, now time.Time) (*docket.Line, error) {
	row.Placed = true
	if err := TakeStock(tx, &row, o.Name, now); err != nil {
		return nil, err
	}
	e, err := editions.Of(tx, row.EditionID, o.Currency)
	if err != nil {
		return nil, err
	}
	if err := issue(tx, b, e, o, &row, now); err != nil {
		return nil, err
	}
	line, err := docket.OpenFresh(tx, editions, b, *o, row, now)
	if err != nil {
		return nil, err
	}
	if line.Edition.Booking != nil {
		held, err := tx.BookingsOf(row.ID)
		if err != nil {
			return nil, err
		}
		for _, b := range held {
			b.Sold, b.HeldUntil = true, nil
			if err := tx.SaveBooking(&b); err != nil {
				return nil, err
			}
		}
	}
	if err := line.KeepNew(tx, now); err != nil {
		return nil, err
	}
	return line, nil
}

// Cancel cancels lines of an order: it closes their briefs, takes their
// unfinished work away, gives their places free, and their pieces if they are to
// go back on stock; vouchers that they sold are worth nothing any more. When no line is left the order is cancelled, and its coupons
// can be used again. What becomes of its money is no part of it.
func Cancel(tx *store.Tx, editions *docket.Editions, o *store.Order, lines []int64, restock bool, author string, now time.Time) error {
	rows, err := tx.Lines(o.ID)
	if err != nil {
		return err
	}
	left := 0
	for i := range rows {
		if rows[i].CancelledAt == nil && !slices.Contains(lines, rows[i].ID) {
			left++
		}
	}
	if left == 0 {
		o.State, o.CancelledAt = order.Cancelled, store.Time(now)
		if err := tx.SaveProgress(o); err != nil {
			return err
		}
		if err := tx.ReleaseCoupons(o.ID); err != nil {
			return err
		}
	}
	b, err := tx.Business()
	if err != nil {
		return err
	}
	for _, row := range rows {
		if row.CancelledAt != nil || !slices.Contains(lines, row.ID) {
			continue
		}
		if restock {
			if err := ReturnStock(tx, &row, author, now); err != nil {
				return err
			}
		}
		if err := tx.FreePlaces(row.ID); err != nil {
			return err
		}
		if err := void(tx, &row, author, now); err != nil {
			return err
		}
		row.CancelledAt = store.Time(now)
		if row.ClosedAt == nil {
			row.ClosedAt = store.Time(now)
		}
		line, err := docket.Open(tx, editions, b, *o, row, now)
		if err != nil {
			return err
		}
		if err := line.Keep(tx, now); err != nil {
			return err
		}
	}
	return nil
}
