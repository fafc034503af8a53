package placing

import (
	"errors"
	"slices"
	"time"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/order"
	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/store"
)

// Place makes a checkout an order: number, charge, places, pieces, coupons,
// work and mail, in the transaction that it is given.
func Place(tx *store.Tx, editions *docket.Editions, o *store.Order, now time.Time) error {
	number, err := tx.NextNumber()
	if err != nil {
		return err
	}
	b, err := tx.Business()
	if err != nil {
		return err
	}
	o.Number, o.State, o.PlacedAt, o.HeldUntil = &number, order.Placed, store.Time(now), nil
	if err := tx.SaveOrder(o); err != nil {
		return err
	}
	if err := tx.AddEntries(o, ledger.Charging(&o.Slip, now), b.Location()); err != nil {
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
	if err := tx.TakeCoupons(o.ID); err != nil {
		return err
	}
	return message.WriteOrder(tx, b, *o, lines, now)
}

func placeLine(tx *store.Tx, editions *docket.Editions, b store.Business, o *store.Order, row store.OrderLine, now time.Time) (*docket.Line, error) {
	row.Placed = true
	if err := TakeStock(tx, &row, o.Name, now); err != nil {
		return nil, err
	}
	held, err := tx.BookingOf(row.ID)
	if err == nil {
		held.Sold, held.HeldUntil = true, nil
		err = tx.SaveBooking(&held)
	}
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, err
	}
	line, err := docket.Open(tx, editions, b, *o, row, now)
	if err != nil {
		return nil, err
	}
	if err := line.Keep(tx, now); err != nil {
		return nil, err
	}
	return line, nil
}

// Cancel cancels lines of an order: it closes their briefs, takes their
// unfinished work away, gives their places free, and their pieces if they are to
// go back on stock. When no line is left the order is cancelled, and its coupons
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
		if err := tx.SaveOrder(o); err != nil {
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
		if err := tx.FreePlace(row.ID); err != nil {
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
