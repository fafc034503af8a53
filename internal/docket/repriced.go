package docket

import (
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/store"
)

// Repriced charges what an order costs more than it did, or takes off the charge
// what it costs less, once its slip has changed with an answer. The slip that it
// had is kept beside.
func Repriced(tx *store.Tx, o *store.Order, before charge.Slip, author string, now time.Time) error {
	if before.Total == o.Slip.Total {
		return nil
	}
	b, err := tx.Business()
	if err != nil {
		return err
	}
	o.Total = o.Slip.Total
	if err := tx.SaveOrder(o); err != nil {
		return err
	}
	if err := tx.AddFormerSlip(&store.FormerSlip{OrderID: o.ID, Until: now.UTC(), Slip: before}); err != nil {
		return err
	}
	entry := ledger.Entry{Kind: ledger.Charged, Amount: o.Slip.Total - before.Total, At: now, Author: author, Reason: ledger.Changing}
	if err := tx.AddEntries(o, []ledger.Entry{entry}, b.Location()); err != nil {
		return err
	}
	return tx.AddFigures(o, ledger.Changed(&before, &o.Slip), now, b.Location())
}
