package store

// workAndQueue has steps make items for parts of an order line, people decide about
// items, items stand on their own, and promises come from the queue.
var workAndQueue = []string{
	`CREATE TABLE items (
		id INTEGER PRIMARY KEY, line_id INTEGER REFERENCES order_lines (id), product_id INTEGER REFERENCES products (id),
		step TEXT NOT NULL, part TEXT NOT NULL DEFAULT '', place INTEGER NOT NULL DEFAULT 0, label TEXT NOT NULL DEFAULT '', round INTEGER NOT NULL,
		title TEXT NOT NULL, instructions TEXT NOT NULL, minutes INTEGER NOT NULL,
		missing TEXT, after_step TEXT NOT NULL, waits_brief BOOLEAN NOT NULL, ready_at DATETIME, due_at DATETIME,
		person INTEGER NOT NULL DEFAULT 0, skill TEXT NOT NULL DEFAULT '', booked BOOLEAN NOT NULL DEFAULT FALSE, during BOOLEAN NOT NULL DEFAULT FALSE,
		checks TEXT, uses TEXT, unneeded BOOLEAN NOT NULL DEFAULT FALSE,
		started_at DATETIME, done_at DATETIME, set_aside BOOLEAN NOT NULL DEFAULT FALSE, seen TEXT, marks TEXT,
		assigned_to INTEGER NOT NULL DEFAULT 0, own_due_at DATETIME, own_from_at DATETIME, priority INTEGER NOT NULL DEFAULT 0, note TEXT NOT NULL DEFAULT '', ticked TEXT,
		by_at DATETIME, repeats TEXT NOT NULL DEFAULT '', version INTEGER NOT NULL DEFAULT 0)`,
	`INSERT INTO items (id, line_id, product_id, step, round, title, instructions, minutes, missing, after_step, waits_brief, ready_at, due_at,
		uses, started_at, done_at, seen, marks, by_at)
		SELECT id, line_id, product_id, step, round, title, instructions, minutes, missing, after_step, waits_brief, ready_at, due_at,
		uses, started_at, done_at, seen, marks, due_at FROM work_items`,
	`DROP TABLE work_items`,
	`ALTER TABLE items RENAME TO work_items`,
	`CREATE UNIQUE INDEX work_items_one ON work_items (line_id, step, part, round) WHERE step <> ''`,
	`CREATE INDEX work_items_line ON work_items (line_id)`,
	`CREATE INDEX work_items_open ON work_items (by_at) WHERE done_at IS NULL`,
	`CREATE INDEX work_items_step ON work_items (product_id, step, by_at) WHERE done_at IS NULL`,
	`ALTER TABLE order_lines ADD COLUMN entries TEXT`,
	`ALTER TABLE order_lines ADD COLUMN promise TEXT`,
	`UPDATE order_lines SET promise = json_object('made', replace(promised_at, ' ', 'T'), 'ends', replace(promised_at, ' ', 'T'), 'by', replace(promised_at, ' ', 'T'), 'own', 0,
		'booking', COALESCE((SELECT replace(start_at, ' ', 'T') FROM bookings b WHERE b.line_id = order_lines.id ORDER BY meeting LIMIT 1), '0001-01-01T00:00:00Z'))
		WHERE promised_at IS NOT NULL`,
	`ALTER TABLE order_lines ADD COLUMN turn_at DATETIME`,
	`ALTER TABLE order_lines ADD COLUMN rush BOOLEAN NOT NULL DEFAULT FALSE`,
	`ALTER TABLE businesses ADD COLUMN work TEXT NOT NULL DEFAULT '{"slack":1}'`,
	`ALTER TABLE users ADD COLUMN person_id INTEGER NOT NULL DEFAULT 0`,
	`CREATE TABLE replans (
		id INTEGER PRIMARY KEY, line_id INTEGER NOT NULL REFERENCES order_lines (id) ON DELETE CASCADE, at DATETIME NOT NULL, said TEXT NOT NULL)`,
	`CREATE INDEX replans_line ON replans (line_id)`,
}
