package store

import (
	"slices"

	"ruvo/internal/core/ledger"
)

// Progress says of orders whether work on them began and whether all of their lines
// are handed over. A line without any work that was given nothing, such as one whose
// files are there at once, says nothing.
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
	err := tx.db.Raw(`SELECT order_id, MAX(worked) AS begun, MIN(handed) AS handed FROM (
			SELECT l.order_id, EXISTS (SELECT 1 FROM work_items i WHERE i.line_id = l.id AND (i.started_at IS NOT NULL OR i.done_at IS NOT NULL)) AS worked,
				l.handed_at IS NOT NULL AS handed, l.handed_at IS NOT NULL OR EXISTS (SELECT 1 FROM work_items i WHERE i.line_id = l.id) AS counts, l.cancelled_at IS NULL AS stands
			FROM order_lines l WHERE l.order_id IN ?) WHERE counts AND (stands OR worked) GROUP BY order_id`, orders).Scan(&rows).Error
	for _, r := range rows {
		all[r.OrderID] = ledger.Progress{Begun: r.Begun, Handed: r.Handed}
	}
	return err
}
