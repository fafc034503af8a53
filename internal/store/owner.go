package store

import "slices"

// An Owner is what a list of work tells of the order line that an item is of.
type Owner struct {
	LineID    int64
	EditionID int64
	Number    int64
	Customer  string
}

// OwnersOf gives the owners of work items by their lines.
func (tx *Tx) OwnersOf(lines []int64) (map[int64]Owner, error) {
	all := make(map[int64]Owner, len(lines))
	for part := range slices.Chunk(lines, 500) {
		var rows []Owner
		err := tx.db.Raw(`SELECT l.id AS line_id, l.edition_id, o.number, o.name AS customer
			FROM order_lines l JOIN orders o ON o.id = l.order_id WHERE l.id IN ?`, part).Scan(&rows).Error
		if err != nil {
			return nil, err
		}
		for _, r := range rows {
			all[r.LineID] = r
		}
	}
	return all, nil
}
