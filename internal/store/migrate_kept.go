package store

// kept has the seller keep times by hand.
var kept = []string{
	`CREATE TABLE kept_times (
		id INTEGER PRIMARY KEY, product_id INTEGER NOT NULL DEFAULT 0, resource_id INTEGER NOT NULL DEFAULT 0, start_at DATETIME NOT NULL, end_at DATETIME NOT NULL,
		people INTEGER NOT NULL DEFAULT 0, reason TEXT NOT NULL DEFAULT '', author TEXT NOT NULL, created_at DATETIME NOT NULL,
		CHECK ((product_id = 0) <> (resource_id = 0)))`,
	`CREATE INDEX kept_times_end ON kept_times (end_at)`,
}
