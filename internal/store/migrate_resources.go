package store

// resources has bookings end when they say, keep what nothing else may have
// around them, and take people and rooms, across products.
var resources = []string{
	`ALTER TABLE businesses ADD COLUMN resources TEXT`,
	`ALTER TABLE businesses ADD COLUMN last_resource INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE bookings ADD COLUMN from_at DATETIME`,
	`ALTER TABLE bookings ADD COLUMN to_at DATETIME`,
	`ALTER TABLE bookings ADD COLUMN private BOOLEAN NOT NULL DEFAULT FALSE`,
	`ALTER TABLE bookings ADD COLUMN no_show_at DATETIME`,
	`ALTER TABLE bookings ADD COLUMN forced BOOLEAN NOT NULL DEFAULT FALSE`,
	`UPDATE bookings SET from_at = start_at, to_at = end_at`,
	`CREATE TABLE booking_resources (
		booking_id INTEGER NOT NULL REFERENCES bookings (id) ON DELETE CASCADE, resource_id INTEGER NOT NULL, name TEXT NOT NULL,
		PRIMARY KEY (booking_id, resource_id))`,
	`CREATE INDEX booking_resources_resource ON booking_resources (resource_id)`,
	`CREATE INDEX bookings_until ON bookings (to_at)`,
}
