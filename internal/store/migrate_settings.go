package store

// settings has the business change its settings with what they were before kept:
// to be undone, and to tell what somebody else changed meanwhile.
var settings = []string{
	`ALTER TABLE businesses ADD COLUMN region TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE businesses ADD COLUMN open_holidays TEXT`,
	`ALTER TABLE businesses ADD COLUMN contact TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE businesses ADD COLUMN postal TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE businesses ADD COLUMN version INTEGER NOT NULL DEFAULT 0`,
	`CREATE TABLE settings_changes (
		version INTEGER PRIMARY KEY, before TEXT NOT NULL, author TEXT NOT NULL, at DATETIME NOT NULL)`,
}
