package store

// briefs keeps what customers typed half, closes briefs at a day, has changes asked for
// after that, and keeps what customers and sellers write to each other.
var briefs = []string{
	`ALTER TABLE order_lines ADD COLUMN halves TEXT`,
	`ALTER TABLE order_lines ADD COLUMN closes_at DATETIME`,
	`ALTER TABLE order_lines ADD COLUMN reopened BOOLEAN NOT NULL DEFAULT FALSE`,
	`CREATE INDEX order_lines_closes ON order_lines (closes_at) WHERE closes_at IS NOT NULL AND closed_at IS NULL`,
	`CREATE TABLE amendments (
		id INTEGER PRIMARY KEY, line_id INTEGER NOT NULL REFERENCES order_lines (id), key TEXT NOT NULL, value TEXT NOT NULL,
		old TEXT NOT NULL, new TEXT NOT NULL, why TEXT NOT NULL DEFAULT '', state TEXT NOT NULL, at DATETIME NOT NULL,
		answered_at DATETIME, answered_by TEXT NOT NULL DEFAULT '', reply TEXT NOT NULL DEFAULT '')`,
	`CREATE INDEX amendments_line ON amendments (line_id)`,
	`CREATE INDEX amendments_open ON amendments (id) WHERE state = 'asked'`,
	`CREATE TABLE talk (
		id INTEGER PRIMARY KEY, order_id INTEGER NOT NULL REFERENCES orders (id), line_id INTEGER NOT NULL DEFAULT 0, key TEXT NOT NULL DEFAULT '',
		customer BOOLEAN NOT NULL, author TEXT NOT NULL, text TEXT NOT NULL, files TEXT, at DATETIME NOT NULL, read_at DATETIME,
		settled BOOLEAN NOT NULL DEFAULT FALSE)`,
	`CREATE INDEX talk_order ON talk (order_id)`,
	`CREATE INDEX talk_open ON talk (id) WHERE customer AND NOT settled`,
	`CREATE TABLE fetchings (
		line_id INTEGER NOT NULL REFERENCES order_lines (id), upload TEXT NOT NULL, count INTEGER NOT NULL, first_at DATETIME NOT NULL, last_at DATETIME NOT NULL,
		PRIMARY KEY (line_id, upload))`,
	`CREATE TABLE customers (email TEXT PRIMARY KEY, name TEXT NOT NULL DEFAULT '', note TEXT NOT NULL DEFAULT '', facts TEXT, updated_at DATETIME NOT NULL)`,
	`CREATE TABLE customer_aliases (email TEXT PRIMARY KEY, main TEXT NOT NULL)`,
	`CREATE INDEX customer_aliases_main ON customer_aliases (main)`,
	`CREATE INDEX orders_lower_email ON orders (lower(email))`,
	`CREATE TABLE saved_filters (id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE, query TEXT NOT NULL)`,
	`ALTER TABLE order_lines ADD COLUMN seen_at DATETIME`,
	`UPDATE order_lines SET seen_at = (SELECT created_at FROM orders o WHERE o.id = order_id) WHERE placed`,
	`CREATE INDEX order_lines_new ON order_lines (id) WHERE placed AND seen_at IS NULL`,
	`CREATE TABLE replies (id INTEGER PRIMARY KEY, title TEXT NOT NULL, text TEXT NOT NULL)`,
}
