package store

import (
	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// migrations bring a database forward, each written out and never changed
// once released.
var migrations = []*gormigrate.Migration{
	{ID: "0001_foundation", Migrate: func(db *gorm.DB) error { return run(db, foundation) }},
	{ID: "0002_asking", Migrate: func(db *gorm.DB) error { return run(db, asking) }},
	{ID: "0003_pricing", Migrate: func(db *gorm.DB) error { return run(db, pricing) }},
	{ID: "0004_ledger", Migrate: toLedger},
	{ID: "0005_currencies", Migrate: func(db *gorm.DB) error { return run(db, currencies) }},
	{ID: "0006_ways", Migrate: func(db *gorm.DB) error { return run(db, ways) }},
	{ID: "0007_sorted", Migrate: func(db *gorm.DB) error { return run(db, sorted) }},
	{ID: "0008_sheet_currencies", Migrate: func(db *gorm.DB) error { return run(db, sheetCurrencies) }},
	{ID: "0009_proven", Migrate: func(db *gorm.DB) error { return run(db, proven) }},
	{ID: "0010_guarded", Migrate: toGuarded},
	{ID: "0011_paying", Migrate: func(db *gorm.DB) error { return run(db, paying) }},
	{ID: "0012_transfers", Migrate: func(db *gorm.DB) error { return run(db, transfers) }},
	{ID: "0013_rules", Migrate: func(db *gorm.DB) error { return run(db, rules) }},
	{ID: "0014_vouchers", Migrate: func(db *gorm.DB) error { return run(db, vouchers) }},
	{ID: "0015_sheet_stock", Migrate: func(db *gorm.DB) error { return run(db, sheetStock) }},
	{ID: "0016_further_currencies", Migrate: func(db *gorm.DB) error { return run(db, further) }},
	{ID: "0017_settings", Migrate: func(db *gorm.DB) error { return run(db, settings) }},
	{ID: "0018_resources", Migrate: func(db *gorm.DB) error { return run(db, resources) }},
	{ID: "0019_calendars", Migrate: func(db *gorm.DB) error { return run(db, calendars) }},
	{ID: "0020_waits", Migrate: func(db *gorm.DB) error { return run(db, waits) }},
	{ID: "0021_courses", Migrate: func(db *gorm.DB) error { return run(db, courses) }},
	{ID: "0022_kept", Migrate: func(db *gorm.DB) error { return run(db, kept) }},
	{ID: "0023_work", Migrate: func(db *gorm.DB) error { return run(db, workAndQueue) }},
	{ID: "0024_doing", Migrate: func(db *gorm.DB) error { return run(db, doing) }},
	{ID: "0025_handover", Migrate: func(db *gorm.DB) error { return run(db, handingOver) }},
	{ID: "0026_briefs", Migrate: func(db *gorm.DB) error { return run(db, briefs) }},
	{ID: "0027_recipients", Migrate: func(db *gorm.DB) error { return run(db, recipients) }},
	{ID: "0028_stops", Migrate: func(db *gorm.DB) error { return run(db, stopCounts) }},
	{ID: "0029_links_of_more_kinds", Migrate: cutLinks},
	{ID: "0030_agreements", Migrate: func(db *gorm.DB) error { return run(db, agreements) }},
	{ID: "0031_sums", Migrate: func(db *gorm.DB) error { return run(db, sums) }},
	{ID: "0032_answers", Migrate: func(db *gorm.DB) error { return run(db, answersCounted) }},
	{ID: "0033_signs", Migrate: func(db *gorm.DB) error { return run(db, signs) }},
}

func migrate(db *gorm.DB) error {
	options := *gormigrate.DefaultOptions
	options.UseTransaction = true
	return gormigrate.New(db, &options, migrations).Migrate()
}

func run(db *gorm.DB, statements []string) error {
	for _, s := range statements {
		if err := db.Exec(s).Error; err != nil {
			return err
		}
	}
	return nil
}

var foundation = []string{
	`CREATE TABLE businesses (
		id INTEGER PRIMARY KEY CHECK (id = 1), name TEXT NOT NULL, tagline TEXT NOT NULL, language TEXT NOT NULL,
		zone TEXT NOT NULL, country TEXT NOT NULL, week TEXT NOT NULL, closures TEXT, address TEXT NOT NULL)`,
	`CREATE TABLE users (
		id INTEGER PRIMARY KEY, email TEXT NOT NULL UNIQUE, name TEXT NOT NULL, password TEXT NOT NULL, created_at DATETIME NOT NULL)`,
	`CREATE TABLE sessions (token TEXT PRIMARY KEY, data BLOB NOT NULL, expiry REAL NOT NULL)`,
	`CREATE INDEX sessions_expiry ON sessions (expiry)`,
	`CREATE TABLE products (
		id INTEGER PRIMARY KEY, slug TEXT NOT NULL UNIQUE, position INTEGER NOT NULL, draft TEXT NOT NULL,
		version INTEGER NOT NULL, edition_id INTEGER REFERENCES editions (id), changed BOOLEAN NOT NULL, updated_at DATETIME NOT NULL)`,
	`CREATE TABLE editions (
		id INTEGER PRIMARY KEY, product_id INTEGER NOT NULL REFERENCES products (id), number INTEGER NOT NULL,
		content TEXT NOT NULL, published_at DATETIME NOT NULL, UNIQUE (product_id, number))`,
	`CREATE TRIGGER editions_stay BEFORE UPDATE ON editions BEGIN SELECT RAISE(ABORT, 'an edition never changes'); END`,
	`CREATE TABLE orders (
		id INTEGER PRIMARY KEY, number INTEGER UNIQUE, checkout TEXT NOT NULL UNIQUE, name TEXT NOT NULL, email TEXT NOT NULL,
		language TEXT NOT NULL, slip TEXT NOT NULL, total INTEGER NOT NULL, currency TEXT NOT NULL, state TEXT NOT NULL,
		created_at DATETIME NOT NULL, paid_at DATETIME, held_until DATETIME)`,
	`CREATE INDEX orders_state ON orders (state, held_until)`,
	`CREATE TABLE order_lines (
		id INTEGER PRIMARY KEY, order_id INTEGER NOT NULL REFERENCES orders (id), position INTEGER NOT NULL,
		product_id INTEGER NOT NULL REFERENCES products (id), edition_id INTEGER NOT NULL REFERENCES editions (id),
		quantity INTEGER NOT NULL, answers TEXT, later TEXT, slip TEXT NOT NULL, version INTEGER NOT NULL,
		brief TEXT NOT NULL, missing TEXT, briefed_at DATETIME, closed_at DATETIME, reminded_at DATETIME,
		promised_at DATETIME, open_items INTEGER NOT NULL, paid BOOLEAN NOT NULL, UNIQUE (order_id, position))`,
	`CREATE INDEX order_lines_product ON order_lines (paid, product_id, id)`,
	`CREATE INDEX order_lines_brief ON order_lines (paid, brief, id)`,
	`CREATE TABLE order_links (
		hash TEXT PRIMARY KEY, order_id INTEGER NOT NULL REFERENCES orders (id), created_at DATETIME NOT NULL, revoked_at DATETIME)`,
	`CREATE INDEX order_links_order ON order_links (order_id)`,
	`CREATE TABLE answer_changes (
		id INTEGER PRIMARY KEY, line_id INTEGER NOT NULL REFERENCES order_lines (id), key TEXT NOT NULL,
		old TEXT NOT NULL, new TEXT NOT NULL, author TEXT NOT NULL, at DATETIME NOT NULL)`,
	`CREATE INDEX answer_changes_line ON answer_changes (line_id)`,
	`CREATE TABLE bookings (
		id INTEGER PRIMARY KEY, line_id INTEGER NOT NULL UNIQUE REFERENCES order_lines (id) ON DELETE CASCADE,
		product_id INTEGER NOT NULL REFERENCES products (id), start_at DATETIME NOT NULL, end_at DATETIME NOT NULL,
		people INTEGER NOT NULL, sold BOOLEAN NOT NULL, held_until DATETIME)`,
	`CREATE INDEX bookings_time ON bookings (product_id, start_at)`,
	`CREATE TABLE work_items (
		id INTEGER PRIMARY KEY, line_id INTEGER NOT NULL REFERENCES order_lines (id), product_id INTEGER NOT NULL REFERENCES products (id),
		step TEXT NOT NULL, round INTEGER NOT NULL, title TEXT NOT NULL, instructions TEXT NOT NULL, minutes INTEGER NOT NULL,
		missing TEXT, after_step TEXT NOT NULL, waits_brief BOOLEAN NOT NULL, ready_at DATETIME, due_at DATETIME,
		uses TEXT, started_at DATETIME, done_at DATETIME, seen TEXT, marks TEXT,
		UNIQUE (line_id, step, round))`,
	`CREATE INDEX work_items_open ON work_items (due_at) WHERE done_at IS NULL`,
	`CREATE INDEX work_items_step ON work_items (product_id, step, due_at) WHERE done_at IS NULL`,
	`CREATE TABLE payments (
		id INTEGER PRIMARY KEY, order_id INTEGER NOT NULL REFERENCES orders (id), attempt TEXT NOT NULL UNIQUE, state TEXT NOT NULL,
		amount INTEGER NOT NULL, last4 TEXT NOT NULL, reason TEXT NOT NULL, created_at DATETIME NOT NULL)`,
	`CREATE INDEX payments_order ON payments (order_id)`,
	`CREATE INDEX payments_state ON payments (state)`,
	`CREATE TABLE card_charges (
		attempt TEXT PRIMARY KEY, amount INTEGER NOT NULL, outcome TEXT NOT NULL, reason TEXT NOT NULL, confirms BOOLEAN NOT NULL)`,
	`CREATE TABLE outbox (
		id INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE, recipient TEXT NOT NULL, subject TEXT NOT NULL, body TEXT NOT NULL,
		created_at DATETIME NOT NULL, sent_at DATETIME)`,
	`CREATE INDEX outbox_unsent ON outbox (id) WHERE sent_at IS NULL`,
}

var asking = []string{
	`CREATE TABLE uploads (
		id TEXT PRIMARY KEY, order_id INTEGER REFERENCES orders (id), name TEXT NOT NULL, size INTEGER NOT NULL, received INTEGER NOT NULL,
		type TEXT NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL, created_at DATETIME NOT NULL)`,
	`CREATE INDEX uploads_order ON uploads (order_id)`,
	`CREATE TABLE customer_answers (
		email TEXT NOT NULL, key TEXT NOT NULL, kind TEXT NOT NULL, answer TEXT NOT NULL, updated_at DATETIME NOT NULL,
		PRIMARY KEY (email, key))`,
	`CREATE TABLE draft_states (
		product_id INTEGER NOT NULL REFERENCES products (id), position INTEGER NOT NULL, draft TEXT NOT NULL,
		author TEXT NOT NULL, at DATETIME NOT NULL, PRIMARY KEY (product_id, position))`,
	`CREATE TABLE sheets (
		id INTEGER PRIMARY KEY, name TEXT NOT NULL, questions TEXT, rule TEXT NOT NULL, published TEXT, published_rule TEXT NOT NULL,
		version INTEGER NOT NULL, on_sale BOOLEAN NOT NULL, changed BOOLEAN NOT NULL, updated_at DATETIME NOT NULL)`,
	`ALTER TABLE products ADD COLUMN at INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE products ADD COLUMN author TEXT NOT NULL DEFAULT ''`,
}

var pricing = []string{
	`ALTER TABLE businesses ADD COLUMN currency TEXT NOT NULL DEFAULT 'EUR'`,
	`ALTER TABLE businesses ADD COLUMN rounding TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE businesses ADD COLUMN tax_added BOOLEAN NOT NULL DEFAULT FALSE`,
	`ALTER TABLE businesses ADD COLUMN show_zero BOOLEAN NOT NULL DEFAULT FALSE`,
	`ALTER TABLE businesses ADD COLUMN few INTEGER NOT NULL DEFAULT 3`,
	`ALTER TABLE businesses ADD COLUMN terms TEXT NOT NULL DEFAULT '{}'`,
	`ALTER TABLE orders ADD COLUMN terms TEXT NOT NULL DEFAULT '{}'`,
	`ALTER TABLE orders ADD COLUMN coupons TEXT`,
	`ALTER TABLE orders ADD COLUMN tip INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE orders ADD COLUMN "group" TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE orders ADD COLUMN buyer TEXT NOT NULL DEFAULT '{}'`,
	`ALTER TABLE orders ADD COLUMN reversed BOOLEAN NOT NULL DEFAULT FALSE`,
	`ALTER TABLE orders ADD COLUMN priced_on TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE orders ADD COLUMN received INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE orders ADD COLUMN held INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE orders ADD COLUMN refunded INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE orders ADD COLUMN cancelled_at DATETIME`,
	`UPDATE orders SET received = total WHERE state = 'paid'`,
	`ALTER TABLE order_lines ADD COLUMN parent INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE payments ADD COLUMN purpose TEXT NOT NULL DEFAULT ''`,
	`CREATE TABLE coupons (
		id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE, rule TEXT NOT NULL, most_uses INTEGER NOT NULL, most_each INTEGER NOT NULL,
		off BOOLEAN NOT NULL, batch TEXT NOT NULL, created_at DATETIME NOT NULL)`,
	`CREATE TABLE coupon_uses (
		id INTEGER PRIMARY KEY, coupon_id INTEGER NOT NULL REFERENCES coupons (id), order_id INTEGER NOT NULL REFERENCES orders (id),
		email TEXT NOT NULL, paid BOOLEAN NOT NULL, held_until DATETIME, UNIQUE (coupon_id, order_id))`,
	`CREATE INDEX coupon_uses_order ON coupon_uses (order_id)`,
	`CREATE TABLE customer_groups (
		id INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE, name TEXT NOT NULL, domains TEXT NOT NULL, invite TEXT NOT NULL UNIQUE)`,
	`CREATE TABLE members (
		email TEXT PRIMARY KEY, group_id INTEGER NOT NULL REFERENCES customer_groups (id) ON DELETE CASCADE, joined TEXT NOT NULL, created_at DATETIME NOT NULL)`,
	`CREATE INDEX members_group ON members (group_id)`,
	`CREATE TABLE passes (hash TEXT PRIMARY KEY, email TEXT NOT NULL, created_at DATETIME NOT NULL, opened_at DATETIME)`,
	`CREATE TABLE stocks (
		id INTEGER PRIMARY KEY, product_id INTEGER NOT NULL REFERENCES products (id), question TEXT NOT NULL, choice TEXT NOT NULL,
		pieces INTEGER NOT NULL CHECK (pieces >= 0), low INTEGER NOT NULL, closes BOOLEAN NOT NULL, UNIQUE (product_id, question, choice))`,
	`CREATE TABLE stock_holds (
		id INTEGER PRIMARY KEY, stock_id INTEGER NOT NULL REFERENCES stocks (id) ON DELETE CASCADE, line_id INTEGER NOT NULL REFERENCES order_lines (id) ON DELETE CASCADE,
		pieces INTEGER NOT NULL, taken BOOLEAN NOT NULL, held_until DATETIME, UNIQUE (stock_id, line_id))`,
	`CREATE INDEX stock_holds_line ON stock_holds (line_id)`,
	`CREATE TABLE stock_changes (
		id INTEGER PRIMARY KEY, stock_id INTEGER NOT NULL REFERENCES stocks (id) ON DELETE CASCADE, delta INTEGER NOT NULL, pieces INTEGER NOT NULL,
		why TEXT NOT NULL, author TEXT NOT NULL, order_id INTEGER REFERENCES orders (id), at DATETIME NOT NULL)`,
	`CREATE INDEX stock_changes_stock ON stock_changes (stock_id)`,
}

// currencies writes to each coupon what its amounts are in.
var currencies = []string{
	`UPDATE coupons SET rule = json_set(rule, '$.currency', (SELECT currency FROM businesses WHERE id = 1)) WHERE EXISTS (SELECT 1 FROM businesses WHERE id = 1)`,
}

// ways says of each message how it goes out: until then, all were mails.
var ways = []string{`ALTER TABLE outbox ADD COLUMN way TEXT NOT NULL DEFAULT 'mail'`}

// signs has the answers read again in which an amount stands with its currency's code:
// it is written with its sign.
var signs = []string{
	`INSERT OR IGNORE INTO lines_unread SELECT w.line_id FROM line_words w JOIN order_lines l ON l.id = w.line_id JOIN orders o ON o.id = l.order_id
		WHERE w.words GLOB '*' || lower(o.currency) || ' [0-9]*'`,
}

// sorted are the indexes for the orders that the desk lists.
var sorted = []string{
	`CREATE INDEX order_lines_promised ON order_lines (placed, promised_at IS NULL, promised_at, id DESC)`,
	`CREATE INDEX order_lines_newest ON order_lines (placed, id)`,
	`CREATE INDEX orders_name ON orders (name)`,
}

// sheetCurrencies writes to each sheet what its amounts are in.
var sheetCurrencies = []string{
	`ALTER TABLE sheets ADD COLUMN currency TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE sheets ADD COLUMN published_currency TEXT NOT NULL DEFAULT ''`,
	`UPDATE sheets SET currency = (SELECT currency FROM businesses WHERE id = 1), published_currency = (SELECT currency FROM businesses WHERE id = 1)
		WHERE EXISTS (SELECT 1 FROM businesses WHERE id = 1)`,
}

// proven tells links that were mailed from those that a browser was given. What
// was kept of people until then was kept for addresses that anybody could have
// typed; it goes, and is kept anew once a mailed link is opened.
var proven = []string{
	`ALTER TABLE order_links ADD COLUMN mailed BOOLEAN NOT NULL DEFAULT FALSE`,
	`ALTER TABLE orders ADD COLUMN proven_at DATETIME`,
	`DELETE FROM customer_answers`,
}
