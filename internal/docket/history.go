package docket

import (
	"time"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/store"
)

// Changes compares the answers that count before and after a change, in the
// words of the time.
func Changes(l *Line, before, after *evaluate.Result, author string, now time.Time) []store.Change {
	var changes []store.Change
	for i := range l.Edition.Items {
		k := l.Edition.Items[i].Key
		was, is := before.Words(l.Edition, k, l.Facts), after.Words(l.Edition, k, l.Facts)
		if was != is {
			changes = append(changes, store.Change{LineID: l.Row.ID, Key: k, Old: was, New: is, Author: author, At: now.UTC()})
		}
	}
	return changes
}

// History shows the changes of a line's answers, the newest first, to those
// who may see questions up to a moment.
func History(tx *store.Tx, l *Line, upto question.Moment) ([]api.Change, error) {
	rows, err := tx.Changes(l.Row.ID)
	views := []api.Change{}
	for i := len(rows) - 1; i >= 0; i-- {
		c := rows[i]
		if item, ok := l.Edition.Item(c.Key); ok && item.Moment.Rank() > upto.Rank() {
			continue
		}
		views = append(views, api.Change{Key: string(c.Key), Wording: l.Wording(c.Key), Old: c.Old, New: c.New, By: c.Author, At: c.At})
	}
	return views, err
}

// KeepSlip keeps the order's slip anew after one of its lines was evaluated
// again, so that its words agree with the lines' own.
func KeepSlip(tx *store.Tx, l *Line) error {
	rows, err := tx.Lines(l.Order.ID)
	if err != nil {
		return err
	}
	slips := make([]charge.Slip, len(rows))
	for i, r := range rows {
		slips[i] = r.Slip
	}
	l.Order.Slip = charge.Join(money.HalfUp, slips...)
	return tx.SaveOrder(&l.Order)
}
