package docket

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/store"
)

// A Difference is something stored of an order that cannot be computed again.
type Difference struct {
	Line int64
	What string
}

// Audit computes every paid order again from what is stored and reports where
// that differs from what is stored: slip, missing answers, work. It gives the
// number of order lines looked at.
func Audit(ctx context.Context, s *store.Store, now time.Time) (lines int, found []Difference, err error) {
	editions := &Editions{}
	err = s.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		priced := map[int64][]charge.OrderLine{}
		rounding := map[int64]money.Rounding{}
		orders := []store.Order{}
		err = tx.PaidLines(func(row store.OrderLine) error {
			lines++
			o, err := tx.OrderByID(row.OrderID)
			if err != nil {
				return err
			}
			line, err := Open(tx, editions, b, o, row, now)
			if err != nil {
				return err
			}
			if len(priced[o.ID]) == 0 {
				orders = append(orders, o)
				rounding[o.ID] = line.Edition.Rounding
			}
			priced[o.ID] = append(priced[o.ID], Priced(row.ProductID, line.Edition, &line.Result, row.Quantity, row.Parent))
			for _, what := range line.audit(tx) {
				found = append(found, Difference{Line: row.ID, What: what})
			}
			return nil
		})
		for _, o := range orders {
			if !sameSlip(SlipOf(&o, rounding[o.ID], priced[o.ID]), o.Slip) || o.Total != o.Slip.Total {
				found = append(found, Difference{What: fmt.Sprintf("order %d: its slip is not the sum of its lines", *o.Number)})
			}
		}
		return err
	})
	return lines, found, err
}

func (l *Line) audit(tx *store.Tx) []string {
	var what []string
	if !sameSlip(l.Result.Slip, l.Row.Slip) {
		what = append(what, fmt.Sprintf("the slip comes to %d and %d is stored", l.Result.Slip.Total, l.Row.Slip.Total))
	}
	if slices.ContainsFunc(l.Result.Faults, func(f question.Fault) bool { return f.Key == "quantity" }) {
		what = append(what, fmt.Sprintf("the quantity is %d, which the product is not sold in", l.Row.Quantity))
	}
	if !slices.Equal(l.Result.Brief(l.Edition), l.Row.Missing) {
		what = append(what, "other answers are missing than is stored")
	}
	if l.brief() != l.Row.Brief {
		what = append(what, fmt.Sprintf("the brief is %s and %s is stored", l.brief(), l.Row.Brief))
	}
	if d := l.Result.Diff; !d.Empty() {
		what = append(what, fmt.Sprintf("planning again would add %d, change %d and drop %d work items", len(d.Add), len(d.Update), len(d.Drop)))
	}
	if b, ok := l.Booked(); ok && l.Order.State != store.OrderCancelled {
		row, err := tx.BookingOf(l.Row.ID)
		if errors.Is(err, store.ErrNotFound) || err == nil && (!row.Sold || !row.StartAt.Equal(b.Start) || row.People != b.People) {
			what = append(what, "the booking is not the one that was answered")
		}
	}
	return what
}

// sameSlip says whether two slips say the same. What slips did not tell when
// they were kept, such as which choice made a line, is passed over.
func sameSlip(now, kept charge.Slip) bool {
	if now.Currency != kept.Currency || now.Total != kept.Total || now.Held != kept.Held || now.Now() != kept.Now() {
		return false
	}
	return slices.EqualFunc(now.Lines, kept.Lines, func(a, b charge.Line) bool {
		return a.Label == b.Label && a.Why == b.Why && a.Amount == b.Amount
	}) && slices.EqualFunc(now.Taxes, kept.Taxes, func(a, b charge.Tax) bool {
		return a.Percent.Equal(b.Percent) && a.Gross == b.Gross && a.Net == b.Net && a.Amount == b.Amount
	})
}
