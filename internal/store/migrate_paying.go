package store

// paying has payments made on the page of a payment service, which sends
// notices of them. The books of the simulated service move to a file of its own
// (internal/standin/cards), which takes them over from the table card_charges.
var paying = []string{
	`ALTER TABLE attempts ADD COLUMN of TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE attempts ADD COLUMN fee INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE attempts ADD COLUMN page TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE attempts ADD COLUMN why TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE attempts DROP COLUMN last4`,
	`CREATE TABLE notices (
		id TEXT PRIMARY KEY, attempt TEXT NOT NULL, at DATETIME NOT NULL, tries INTEGER NOT NULL, work_at DATETIME)`,
	`CREATE INDEX notices_work ON notices (work_at) WHERE work_at IS NOT NULL`,
	`CREATE INDEX notices_at ON notices (at)`,
}
