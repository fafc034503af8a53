package store

// sheetStock has a choice of a sheet counted once for all products that use it.
// What is counted is of a product or of a sheet, which needs its table anew, and
// those that name it.
var sheetStock = []string{
	`CREATE TABLE stocks_new (
		id INTEGER PRIMARY KEY, product_id INTEGER REFERENCES products (id), sheet_id INTEGER REFERENCES sheets (id) ON DELETE CASCADE,
		question TEXT NOT NULL, choice TEXT NOT NULL, pieces INTEGER NOT NULL CHECK (pieces >= 0), low INTEGER NOT NULL, closes BOOLEAN NOT NULL,
		CHECK ((product_id IS NULL) <> (sheet_id IS NULL)), UNIQUE (product_id, question, choice), UNIQUE (sheet_id, question, choice))`,
	`INSERT INTO stocks_new (id, product_id, question, choice, pieces, low, closes) SELECT id, product_id, question, choice, pieces, low, closes FROM stocks`,
	`CREATE TABLE stock_holds_new (
		id INTEGER PRIMARY KEY, stock_id INTEGER NOT NULL REFERENCES stocks_new (id) ON DELETE CASCADE, line_id INTEGER NOT NULL REFERENCES order_lines (id) ON DELETE CASCADE,
		pieces INTEGER NOT NULL, taken BOOLEAN NOT NULL, held_until DATETIME, UNIQUE (stock_id, line_id))`,
	`INSERT INTO stock_holds_new (id, stock_id, line_id, pieces, taken, held_until) SELECT id, stock_id, line_id, pieces, taken, held_until FROM stock_holds`,
	`CREATE TABLE stock_changes_new (
		id INTEGER PRIMARY KEY, stock_id INTEGER NOT NULL REFERENCES stocks_new (id) ON DELETE CASCADE, delta INTEGER NOT NULL, pieces INTEGER NOT NULL,
		why TEXT NOT NULL, author TEXT NOT NULL, order_id INTEGER REFERENCES orders (id), at DATETIME NOT NULL)`,
	`INSERT INTO stock_changes_new (id, stock_id, delta, pieces, why, author, order_id, at) SELECT id, stock_id, delta, pieces, why, author, order_id, at FROM stock_changes`,
	`DROP TABLE stock_holds`,
	`DROP TABLE stock_changes`,
	`DROP TABLE stocks`,
	`ALTER TABLE stocks_new RENAME TO stocks`,
	`ALTER TABLE stock_holds_new RENAME TO stock_holds`,
	`ALTER TABLE stock_changes_new RENAME TO stock_changes`,
	`CREATE INDEX stock_holds_line ON stock_holds (line_id)`,
	`CREATE INDEX stock_changes_stock ON stock_changes (stock_id)`,
}
