package store

// handingOver has finished files given to customers, who accept them or ask for
// changes. What had no open work until then counts as handed over.
var handingOver = []string{
	`CREATE TABLE handovers (
		id INTEGER PRIMARY KEY, line_id INTEGER NOT NULL REFERENCES order_lines (id), step TEXT NOT NULL DEFAULT '', whole BOOLEAN NOT NULL,
		message TEXT NOT NULL DEFAULT '', links TEXT, state TEXT NOT NULL, asks BOOLEAN NOT NULL DEFAULT FALSE,
		made_at DATETIME NOT NULL, made_by TEXT NOT NULL DEFAULT '', silent_at DATETIME, opened_at DATETIME,
		answered_at DATETIME, answered_by TEXT NOT NULL DEFAULT '', until_at DATETIME, warn_at DATETIME)`,
	`CREATE INDEX handovers_line ON handovers (line_id)`,
	`CREATE INDEX handovers_silent ON handovers (silent_at) WHERE silent_at IS NOT NULL AND state = 'given'`,
	`CREATE INDEX handovers_warn ON handovers (warn_at) WHERE warn_at IS NOT NULL`,
	`CREATE INDEX handovers_until ON handovers (until_at) WHERE until_at IS NOT NULL`,
	`CREATE TABLE handover_files (
		id INTEGER PRIMARY KEY, handover_id INTEGER NOT NULL REFERENCES handovers (id), position INTEGER NOT NULL, upload TEXT NOT NULL,
		name TEXT NOT NULL, size INTEGER NOT NULL, type TEXT NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL,
		opened_at DATETIME, downloaded_at DATETIME, downloads INTEGER NOT NULL DEFAULT 0, gone_at DATETIME)`,
	`CREATE INDEX handover_files_of ON handover_files (handover_id)`,
	`CREATE TABLE change_requests (
		id INTEGER PRIMARY KEY, handover_id INTEGER NOT NULL REFERENCES handovers (id), line_id INTEGER NOT NULL REFERENCES order_lines (id), step TEXT NOT NULL,
		at DATETIME NOT NULL, words TEXT NOT NULL, marks TEXT, price INTEGER NOT NULL DEFAULT 0)`,
	`CREATE INDEX change_requests_line ON change_requests (line_id)`,
	`ALTER TABLE work_items ADD COLUMN accept BOOLEAN NOT NULL DEFAULT FALSE`,
	`ALTER TABLE work_items ADD COLUMN silence INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE work_items ADD COLUMN request INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE order_lines ADD COLUMN shown TEXT`,
	`ALTER TABLE order_lines ADD COLUMN given_at DATETIME`,
	`ALTER TABLE order_lines ADD COLUMN handed_at DATETIME`,
	`ALTER TABLE uploads ADD COLUMN desk BOOLEAN NOT NULL DEFAULT FALSE`,
	`ALTER TABLE uploads ADD COLUMN kept BOOLEAN NOT NULL DEFAULT FALSE`,
	`ALTER TABLE work_items ADD COLUMN files TEXT`,
	`UPDATE order_lines SET handed_at = (SELECT MAX(done_at) FROM work_items i WHERE i.line_id = order_lines.id)
		WHERE placed AND open_items = 0 AND cancelled_at IS NULL AND order_id IN (SELECT id FROM orders WHERE state = 'placed')`,
}
