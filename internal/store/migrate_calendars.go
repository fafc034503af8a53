package store

// calendars has mails bring a calendar entry along, people read calendars by
// private addresses, and calendars that are kept elsewhere close times of resources.
var calendars = []string{
	`ALTER TABLE outbox ADD COLUMN calendar TEXT NOT NULL DEFAULT ''`,
	`CREATE TABLE feeds (
		id INTEGER PRIMARY KEY, hash TEXT NOT NULL UNIQUE, shows TEXT NOT NULL, resource_id INTEGER NOT NULL,
		author TEXT NOT NULL, created_at DATETIME NOT NULL, revoked_at DATETIME)`,
	`CREATE TABLE busy_times (
		id INTEGER PRIMARY KEY, resource_id INTEGER NOT NULL, source TEXT NOT NULL, start_at DATETIME NOT NULL, end_at DATETIME NOT NULL,
		summary TEXT NOT NULL, read_at DATETIME NOT NULL)`,
	`CREATE INDEX busy_times_resource ON busy_times (resource_id, end_at)`,
}
