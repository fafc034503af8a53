package store

import (
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/stops"
)

// A StopCount is how often something happened with an edition of a product.
type StopCount struct {
	ProductID int64
	EditionID int64
	Day       string
	What      stops.What
	Key       string // of the question; empty for the whole
	Span      int    // of seconds, for what took some
	N         int
}

// Count adds counts to those that are there.
func (tx *Tx) Count(counts []StopCount) error {
	for _, c := range counts {
		err := tx.db.Exec(`INSERT INTO stop_counts (product_id, edition_id, day, what, key, span, n) VALUES (?, ?, ?, ?, ?, ?, ?)
			ON CONFLICT DO UPDATE SET n = n + excluded.n`, c.ProductID, c.EditionID, c.Day, c.What, c.Key, c.Span, c.N).Error
		if err != nil {
			return err
		}
	}
	return nil
}

// StopCounts sums what was counted of a product from a day to a day, both included.
func (tx *Tx) StopCounts(product int64, from, to calendar.Day) ([]StopCount, error) {
	var rows []StopCount
	err := tx.db.Raw(`SELECT product_id, edition_id, what, key, span, SUM(n) AS n FROM stop_counts
		WHERE product_id = ? AND day >= ? AND day <= ? GROUP BY edition_id, what, key, span ORDER BY edition_id DESC`, product, from.String(), to.String()).Scan(&rows).Error
	return rows, err
}

// A Sold is how many order lines of an edition customers ordered, and how many of them
// have a complete brief.
type Sold struct {
	EditionID     int64
	Paid, Briefed int
}

// OrderedOf counts by edition what customers ordered of a product between two instants,
// without what the seller ordered for them.
func (tx *Tx) OrderedOf(product int64, from, to time.Time) ([]Sold, error) {
	var rows []Sold
	err := tx.db.Raw(`SELECT l.edition_id, COUNT(*) AS paid, COUNT(l.briefed_at) AS briefed FROM orders o CROSS JOIN order_lines l ON l.order_id = o.id
		WHERE l.product_id = ? AND l.placed AND NOT o.by_hand AND COALESCE(o.ordered_at, o.placed_at) >= ? AND COALESCE(o.ordered_at, o.placed_at) < ? GROUP BY l.edition_id`, product, from.UTC(), to.UTC()).Scan(&rows).Error
	return rows, err
}
