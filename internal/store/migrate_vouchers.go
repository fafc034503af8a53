package store

// vouchers has codes that were sold pay here. What happens with their worth is
// kept in entries that are only added, as in a ledger.
var vouchers = []string{
	`ALTER TABLE orders ADD COLUMN vouchers TEXT`,
	`CREATE TABLE vouchers (
		id INTEGER PRIMARY KEY AUTOINCREMENT, code TEXT NOT NULL UNIQUE, line_id INTEGER NOT NULL REFERENCES order_lines (id),
		order_id INTEGER NOT NULL REFERENCES orders (id), currency TEXT NOT NULL, worth INTEGER NOT NULL CHECK (worth > 0),
		percent TEXT NOT NULL, until TEXT NOT NULL, blocked BOOLEAN NOT NULL, note TEXT NOT NULL, created_at DATETIME NOT NULL)`,
	`CREATE INDEX vouchers_line ON vouchers (line_id)`,
	`CREATE TABLE voucher_entries (
		id INTEGER PRIMARY KEY AUTOINCREMENT, voucher_id INTEGER NOT NULL REFERENCES vouchers (id), order_id INTEGER NOT NULL REFERENCES orders (id),
		kind TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount > 0), at DATETIME NOT NULL, author TEXT NOT NULL)`,
	`CREATE INDEX voucher_entries_voucher ON voucher_entries (voucher_id, kind, amount)`,
	`CREATE INDEX voucher_entries_order ON voucher_entries (order_id)`,
	`CREATE TRIGGER voucher_entries_stay BEFORE UPDATE ON voucher_entries BEGIN SELECT RAISE(ABORT, 'an entry never changes'); END`,
	`CREATE TRIGGER voucher_entries_keep BEFORE DELETE ON voucher_entries BEGIN SELECT RAISE(ABORT, 'an entry is never dropped'); END`,
	`CREATE TABLE voucher_holds (
		voucher_id INTEGER NOT NULL REFERENCES vouchers (id), order_id INTEGER NOT NULL REFERENCES orders (id) ON DELETE CASCADE,
		amount INTEGER NOT NULL, held_until DATETIME, PRIMARY KEY (voucher_id, order_id))`,
	`CREATE INDEX voucher_holds_order ON voucher_holds (order_id)`,
}
