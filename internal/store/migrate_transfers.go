package store

// transfers has orders await their transfers, and bank statements read for them.
// A row of a statement is kept once for each file that it came in; only one of
// those with the same identity counts. An index of the customers alone is what
// is looked through for texts.
var transfers = []string{
	`ALTER TABLE businesses ADD COLUMN ways TEXT`,
	`ALTER TABLE orders ADD COLUMN ordered_at DATETIME`,
	`ALTER TABLE orders ADD COLUMN remind_at DATETIME`,
	`CREATE INDEX orders_text ON orders (email, name)`,
	`ALTER TABLE outbox ADD COLUMN code TEXT NOT NULL DEFAULT ''`,
	`CREATE TABLE statements (
		id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL, format TEXT NOT NULL, hash TEXT NOT NULL UNIQUE, author TEXT NOT NULL,
		at DATETIME NOT NULL, rows INTEGER NOT NULL, done INTEGER NOT NULL, first_day TEXT NOT NULL, last_day TEXT NOT NULL)`,
	`CREATE INDEX statements_open ON statements (id) WHERE done < rows`,
	`CREATE TABLE transfers (
		id INTEGER PRIMARY KEY AUTOINCREMENT, statement_id INTEGER NOT NULL REFERENCES statements (id), position INTEGER NOT NULL,
		identity TEXT NOT NULL, day TEXT NOT NULL, amount INTEGER NOT NULL, currency TEXT NOT NULL, payer TEXT NOT NULL, text TEXT NOT NULL,
		reference TEXT NOT NULL, outcome TEXT NOT NULL, why TEXT NOT NULL, params TEXT, order_id INTEGER REFERENCES orders (id),
		proposed TEXT, decided_by TEXT NOT NULL, decided_at DATETIME, UNIQUE (statement_id, position))`,
	`CREATE UNIQUE INDEX transfers_identity ON transfers (identity) WHERE outcome NOT IN ('waits', 'known', 'out')`,
	`CREATE INDEX transfers_outcome ON transfers (statement_id, outcome, position)`,
	`CREATE INDEX transfers_order ON transfers (order_id) WHERE order_id IS NOT NULL`,
	`CREATE INDEX transfers_open ON transfers (id) WHERE outcome IN ('proposed', 'unknown')`,
}
