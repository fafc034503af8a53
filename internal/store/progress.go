package store

import (
	"slices"

	"ruvo/internal/core/ledger"
)

// Progress says of orders whether work on them began and whether all of it is
// done.
func (tx *Tx) Progress(orders []int64) (map[int64]ledger.Progress, error) {
	all := make(map[int64]ledger.Progress, len(orders))
	for part := range slices.Chunk(orders, 500) {
		if err := tx.progress(part, all); err != nil {
			return nil, err
		}
	}
	return all, nil
}

func (tx *Tx) progress(orders []int64, all map[int64]ledger.Progress) error {
	var rows []struct {
		OrderID       int64
		Begun, Handed bool
	}
	err := tx.db.Raw(`SELECT l.order_id, MAX(i.started_at IS NOT NULL OR i.done_at IS NOT NULL) AS begun, MIN(i.done_at IS NOT NULL) AS handed
		FROM work_items i JOIN order_lines l ON l.id = i.line_id WHERE l.order_id IN ? GROUP BY l.order_id`, orders).Scan(&rows).Error
	for _, r := range rows {
		all[r.OrderID] = ledger.Progress{Begun: r.Begun, Handed: r.Handed}
	}
	return err
}
