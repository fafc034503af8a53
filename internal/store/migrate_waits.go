package store

// waits has people wait for what is booked up.
var waits = []string{
	`CREATE TABLE waits (
		id INTEGER PRIMARY KEY, product_id INTEGER NOT NULL REFERENCES products (id), start_at DATETIME NOT NULL, end_at DATETIME NOT NULL,
		from_at DATETIME, to_at DATETIME, private BOOLEAN NOT NULL DEFAULT FALSE, resources TEXT, people INTEGER NOT NULL, answers TEXT, chosen TEXT,
		name TEXT NOT NULL, email TEXT NOT NULL, language TEXT NOT NULL, created_at DATETIME NOT NULL,
		hash TEXT NOT NULL UNIQUE, offered_at DATETIME, offered_until DATETIME, done_at DATETIME, outcome TEXT NOT NULL DEFAULT '')`,
	`CREATE INDEX waits_open ON waits (product_id, start_at) WHERE done_at IS NULL`,
}
