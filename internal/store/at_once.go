package store

import "time"

// A Fetching is how often a buyer took a file that was given at once.
type Fetching struct {
	LineID  int64  `gorm:"primaryKey;autoIncrement:false"`
	Upload  string `gorm:"primaryKey"`
	Count   int
	FirstAt time.Time
	LastAt  time.Time
}

// Fetchings lists what the buyer of an order line took.
func (tx *Tx) Fetchings(line int64) ([]Fetching, error) {
	return list[Fetching](tx, "upload", "line_id = ?", line)
}

// Took counts one more taking of a file.
func (tx *Tx) Took(line int64, upload string, at time.Time) error {
	return tx.db.Exec(`INSERT INTO fetchings (line_id, upload, count, first_at, last_at) VALUES (?, ?, 1, ?, ?)
		ON CONFLICT (line_id, upload) DO UPDATE SET count = count + 1, last_at = excluded.last_at`, line, upload, at.UTC(), at.UTC()).Error
}

// EarlierBuyers lists the order lines of a product that were placed under another edition.
func (tx *Tx) EarlierBuyers(product, edition int64) ([]OrderLine, error) {
	return list[OrderLine](tx, "id", "product_id = ? AND edition_id <> ? AND placed = 1 AND cancelled_at IS NULL AND order_id IN (SELECT id FROM orders WHERE state = 'placed')", product, edition)
}
