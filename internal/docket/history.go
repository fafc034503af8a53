package docket

import (
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/store"
)

// Changes compares the answers that count before and after a change, in the
// words of the time.
func Changes(l *Line, before, after *evaluate.Result, author string, now time.Time) []store.Change {
	var changes []store.Change
	for i := range l.Edition.Items {
		k := l.Edition.Items[i].Key
		was, is := before.Words(l.Edition, k, l.Given), after.Words(l.Edition, k, l.Given)
		if was != is {
			changes = append(changes, store.Change{LineID: l.Row.ID, Key: k, Old: was, New: is, Author: author, At: now.UTC()})
		}
	}
	return changes
}

// KeepSlip keeps the order's slip anew after one of its lines was evaluated
// again, so that its words agree with the lines' own.
func KeepSlip(tx *store.Tx, editions *Editions, l *Line, now time.Time) error {
	rows, err := tx.Lines(l.Order.ID)
	if err != nil {
		return err
	}
	lines := make([]charge.OrderLine, len(rows))
	for i, r := range rows {
		line := l
		if r.ID != l.Row.ID {
			if line, err = Open(tx, editions, l.Business, l.Order, r, now); err != nil {
				return err
			}
		}
		lines[i] = Priced(r.ProductID, line.Edition, &line.Result, r.Quantity, r.Parent)
	}
	l.Order.Slip = SlipOf(&l.Order, l.Edition.Rounding, lines)
	return tx.SaveOrder(&l.Order)
}
