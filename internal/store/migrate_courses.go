package store

// courses has an order line book several times: a row for each meeting of a course,
// which says which of how many it is.
var courses = []string{
	`CREATE TABLE line_bookings (
		id INTEGER PRIMARY KEY, line_id INTEGER NOT NULL REFERENCES order_lines (id) ON DELETE CASCADE,
		product_id INTEGER NOT NULL REFERENCES products (id), start_at DATETIME NOT NULL, end_at DATETIME NOT NULL,
		from_at DATETIME NOT NULL, to_at DATETIME NOT NULL, private BOOLEAN NOT NULL DEFAULT FALSE, forced BOOLEAN NOT NULL DEFAULT FALSE,
		people INTEGER NOT NULL, sold BOOLEAN NOT NULL, held_until DATETIME, no_show_at DATETIME,
		meeting INTEGER NOT NULL DEFAULT 0, meetings INTEGER NOT NULL DEFAULT 0, UNIQUE (line_id, meeting))`,
	`INSERT INTO line_bookings (id, line_id, product_id, start_at, end_at, from_at, to_at, private, forced, people, sold, held_until, no_show_at)
		SELECT id, line_id, product_id, start_at, end_at, from_at, to_at, private, forced, people, sold, held_until, no_show_at FROM bookings`,
	`CREATE TABLE line_booking_resources (
		booking_id INTEGER NOT NULL REFERENCES line_bookings (id) ON DELETE CASCADE, resource_id INTEGER NOT NULL, name TEXT NOT NULL,
		PRIMARY KEY (booking_id, resource_id))`,
	`INSERT INTO line_booking_resources SELECT booking_id, resource_id, name FROM booking_resources ORDER BY rowid`,
	`DROP TABLE booking_resources`,
	`DROP TABLE bookings`,
	`ALTER TABLE line_bookings RENAME TO bookings`,
	`ALTER TABLE line_booking_resources RENAME TO booking_resources`,
	`CREATE INDEX bookings_time ON bookings (product_id, start_at)`,
	`CREATE INDEX bookings_until ON bookings (to_at)`,
	`CREATE INDEX booking_resources_resource ON booking_resources (resource_id)`,
	`ALTER TABLE waits ADD COLUMN meetings TEXT`,
	`ALTER TABLE waits ADD COLUMN meetings_of INTEGER NOT NULL DEFAULT 0`,
}
