package docket

import (
	"bytes"
	"context"
	"encoding/json"
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
		slips := map[int64][]charge.Slip{}
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
			if len(slips[o.ID]) == 0 {
				orders = append(orders, o)
			}
			slips[o.ID] = append(slips[o.ID], line.Result.Slip)
			for _, what := range line.audit(tx) {
				found = append(found, Difference{Line: row.ID, What: what})
			}
			return nil
		})
		for _, o := range orders {
			if !sameJSON(charge.Join(money.HalfUp, slips[o.ID]...), o.Slip) || o.Total != o.Slip.Total {
				found = append(found, Difference{What: fmt.Sprintf("order %d: its slip is not the sum of its lines", *o.Number)})
			}
		}
		return err
	})
	return lines, found, err
}

func (l *Line) audit(tx *store.Tx) []string {
	var what []string
	if !sameJSON(l.Result.Slip, l.Row.Slip) {
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
	if b, ok := l.Booked(); ok {
		row, err := tx.BookingOf(l.Row.ID)
		if errors.Is(err, store.ErrNotFound) || err == nil && (!row.Sold || !row.StartAt.Equal(b.Start) || row.People != b.People) {
			what = append(what, "the booking is not the one that was answered")
		}
	}
	return what
}

func sameJSON(a, b any) bool {
	x, err1 := json.Marshal(a)
	y, err2 := json.Marshal(b)
	return err1 == nil && err2 == nil && bytes.Equal(x, y)
}
