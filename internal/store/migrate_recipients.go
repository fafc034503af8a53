package store

// recipients keeps for whom something was ordered by somebody else.
var recipients = []string{
	`ALTER TABLE orders ADD COLUMN recipient TEXT`,
	`ALTER TABLE orders ADD COLUMN basket TEXT`,
	`ALTER TABLE orders ADD COLUMN tell_at DATETIME`,
	`ALTER TABLE orders ADD COLUMN told_at DATETIME`,
	`CREATE INDEX orders_tell ON orders (tell_at) WHERE tell_at IS NOT NULL AND told_at IS NULL`,
	`ALTER TABLE order_links ADD COLUMN recipient BOOLEAN NOT NULL DEFAULT FALSE`,
}
