package store

// paying has payments made on the page of a payment service, which sends
// notices of them. The books of the simulated service move to a file of its own
// (internal/standin/cards), which takes them over from the table card_charges.
var paying = []string{
	`ALTER TABLE attempts ADD COLUMN of TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE attempts ADD COLUMN fee INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE attempts ADD COLUMN page TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE attempts ADD COLUMN note TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE ledger_entries ADD COLUMN note TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE order_lines ADD COLUMN cancelled_at DATETIME`,
	`CREATE TABLE answered_requests (
		key TEXT PRIMARY KEY, request TEXT NOT NULL, at DATETIME NOT NULL, status INTEGER NOT NULL, type TEXT NOT NULL, answer BLOB)`,
	`CREATE INDEX answered_requests_at ON answered_requests (at)`,
	`ALTER TABLE businesses ADD COLUMN account TEXT NOT NULL DEFAULT '{}'`,
	`CREATE INDEX ledger_entries_day ON ledger_entries (day, kind, way)`,
	`CREATE INDEX figures_day ON figures (day, figure)`,
	`CREATE TABLE former_slips (
		id INTEGER PRIMARY KEY AUTOINCREMENT, order_id INTEGER NOT NULL REFERENCES orders (id), until DATETIME NOT NULL, slip TEXT NOT NULL)`,
	`CREATE INDEX former_slips_order ON former_slips (order_id)`,
	`CREATE TABLE credits (
		id INTEGER PRIMARY KEY AUTOINCREMENT, order_id INTEGER NOT NULL REFERENCES orders (id), at DATETIME NOT NULL, kind TEXT NOT NULL,
		author TEXT NOT NULL, note TEXT NOT NULL, total INTEGER NOT NULL, credit TEXT NOT NULL, lines TEXT NOT NULL)`,
	`CREATE INDEX credits_order ON credits (order_id)`,
	`CREATE TRIGGER credits_stay BEFORE UPDATE ON credits BEGIN SELECT RAISE(ABORT, 'a credit never changes'); END`,
	`CREATE TRIGGER credits_keep BEFORE DELETE ON credits BEGIN SELECT RAISE(ABORT, 'a credit is never dropped'); END`,
	`UPDATE order_lines SET cancelled_at = (SELECT cancelled_at FROM orders o WHERE o.id = order_id)`,
	`ALTER TABLE attempts DROP COLUMN last4`,
	`CREATE TABLE notices (
		id TEXT PRIMARY KEY, attempt TEXT NOT NULL, at DATETIME NOT NULL, tries INTEGER NOT NULL, work_at DATETIME)`,
	`CREATE INDEX notices_work ON notices (work_at) WHERE work_at IS NOT NULL`,
	`CREATE INDEX notices_at ON notices (at)`,
}
