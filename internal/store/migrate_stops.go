package store

// stopCounts counts how far customers come with a product, day by day, and tells orders
// that the seller placed from theirs.
var stopCounts = []string{
	`CREATE TABLE stop_counts (
		product_id INTEGER NOT NULL REFERENCES products (id), edition_id INTEGER NOT NULL REFERENCES editions (id), day TEXT NOT NULL,
		what TEXT NOT NULL, key TEXT NOT NULL DEFAULT '', span INTEGER NOT NULL DEFAULT 0, n INTEGER NOT NULL,
		PRIMARY KEY (product_id, edition_id, day, what, key, span)) WITHOUT ROWID`,
	`CREATE TABLE things (
		id INTEGER PRIMARY KEY, line_id INTEGER NOT NULL REFERENCES order_lines (id) ON DELETE CASCADE, question TEXT NOT NULL, value TEXT,
		was TEXT NOT NULL DEFAULT '', asked_at DATETIME NOT NULL, asked_by TEXT NOT NULL, answered_at DATETIME)`,
	`CREATE INDEX things_line ON things (line_id)`,
	`CREATE TABLE baskets (email TEXT PRIMARY KEY, basket TEXT NOT NULL, updated_at DATETIME NOT NULL)`,
	`CREATE TABLE kept_baskets (hash TEXT PRIMARY KEY, basket TEXT NOT NULL, at DATETIME NOT NULL)`,
	`ALTER TABLE businesses ADD COLUMN checkout TEXT NOT NULL DEFAULT '{}'`,
	`ALTER TABLE orders ADD COLUMN by_hand BOOLEAN NOT NULL DEFAULT FALSE`,
}
