package store

// doing measures work, and keeps how people look at it.
var doing = []string{
	`ALTER TABLE work_items ADD COLUMN taken INTEGER`,
	`ALTER TABLE work_items ADD COLUMN since_at DATETIME`,
	`ALTER TABLE work_items ADD COLUMN begun_by INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE work_items ADD COLUMN begun_name TEXT NOT NULL DEFAULT ''`,
	`CREATE INDEX work_items_running ON work_items (begun_by) WHERE since_at IS NOT NULL`,
	`CREATE TABLE worksheet_layouts (
		product_id INTEGER NOT NULL REFERENCES products (id), step TEXT NOT NULL, columns TEXT, grouped TEXT NOT NULL DEFAULT '', PRIMARY KEY (product_id, step))`,
}
