package store

import "strings"

// The sums of customers and what is open of an order are kept by triggers beside what
// they sum up: no use case has to know of them, and lists of a hundred thousand orders
// are read along an index. The audit holds them against what they are sums of. What is
// written here is part of a migration, and stays as it is once that is released.

// boughtStates are the states of orders that make somebody a customer.
const boughtStates = "('awaiting', 'placed', 'cancelled')"

// spentOf is what an order counts to what somebody ordered for: in the business's
// currency, unless it was cancelled.
const spentOf = "CASE WHEN o.state = 'placed' AND o.currency = (SELECT currency FROM businesses) THEN o.total ELSE 0 END"

// openOf is what is open of an order by its ledger, as ledger.Balance has it.
const openOf = "MAX(SUM(CASE kind WHEN 'charged' THEN amount WHEN 'waived' THEN -amount WHEN 'paid' THEN -amount WHEN 'returned' THEN amount ELSE 0 END), 0)"

// countedOrder adds what an order comes to, less what it came to before where it changed:
// the statement of a trigger. It looks at no other order, as somebody can have thousands.
func countedOrder(changed bool) string {
	was, spent := "0", strings.ReplaceAll(spentOf, "o.", "NEW.")
	if changed {
		was, spent = "OLD.state IN "+boughtStates, spent+" - "+strings.ReplaceAll(spentOf, "o.", "OLD.")
	}
	return `
		INSERT INTO customer_sums (email, name, orders, spent, newest, news)
			VALUES (COALESCE((SELECT main FROM customer_aliases WHERE email = lower(NEW.email)), lower(NEW.email)), NEW.name, 1 - (` + was + `), ` + spent + `, NEW.id, 0)
			ON CONFLICT (email) DO UPDATE SET name = CASE WHEN excluded.newest >= newest THEN excluded.name ELSE name END,
				orders = orders + excluded.orders, spent = spent + excluded.spent, newest = MAX(newest, excluded.newest);`
}

// recount sums anew what is known of whoever has an address: statements of a trigger. The
// plus keeps SQLite from an index on a state that nearly all orders have.
func recount(address string) string {
	main := "COALESCE((SELECT main FROM customer_aliases WHERE email = lower(@)), lower(@))"
	theirs := "(SELECT " + main + " AS email UNION ALL SELECT email FROM customer_aliases WHERE main = " + main + ")"
	return strings.ReplaceAll(`
		DELETE FROM customer_sums WHERE email = lower(@) OR email = `+main+`;
		INSERT INTO customer_sums (email, name, orders, spent, newest, news)
			SELECT `+main+`, COALESCE(s.name, (SELECT name FROM customers WHERE email = `+main+`), ''), s.orders, s.spent, s.newest,
				EXISTS (SELECT 1 FROM news_words w WHERE w.agreed AND w.email IN `+theirs+` AND NOT EXISTS (SELECT 1 FROM news_words l WHERE l.email = w.email AND l.id > w.id))
			FROM (SELECT o.name, COUNT(*) AS orders, COALESCE(SUM(`+spentOf+`), 0) AS spent, COALESCE(MAX(o.id), 0) AS newest
				FROM `+theirs+` t CROSS JOIN orders o ON lower(o.email) = t.email WHERE +o.state IN `+boughtStates+`) s
			WHERE s.orders > 0 OR EXISTS (SELECT 1 FROM customers WHERE email = `+main+`) OR EXISTS (SELECT 1 FROM news_words WHERE email IN `+theirs+`);`,
		"@", address)
}

func sumTrigger(name, when string, addresses ...string) string {
	text := "CREATE TRIGGER " + name + " AFTER " + when + " BEGIN"
	for _, a := range addresses {
		text += recount(a)
	}
	return text + " END"
}

var sums = []string{
	`CREATE TABLE customer_sums (
		email TEXT PRIMARY KEY, name TEXT NOT NULL, orders INTEGER NOT NULL, spent INTEGER NOT NULL, newest INTEGER NOT NULL, news BOOLEAN NOT NULL) WITHOUT ROWID`,
	`CREATE INDEX customer_sums_newest ON customer_sums (newest DESC, email)`,
	`CREATE INDEX customer_sums_name ON customer_sums (name COLLATE NOCASE, email)`,
	`CREATE INDEX customer_sums_orders ON customer_sums (orders DESC, email)`,
	`CREATE INDEX customer_sums_spent ON customer_sums (spent DESC, email)`,
	`CREATE INDEX customer_sums_news ON customer_sums (newest DESC, email) WHERE news`,
	`CREATE INDEX orders_email ON orders (lower(email))`,
	// The same sums made from all at once.
	`CREATE VIEW customers_known AS
		WITH ordered AS (
			SELECT COALESCE(a.main, lower(o.email)) AS email, o.name AS name, COUNT(*) AS orders, SUM(` + spentOf + `) AS spent, MAX(o.id) AS newest
			FROM orders o LEFT JOIN customer_aliases a ON a.email = lower(o.email) WHERE o.state IN ` + boughtStates + ` GROUP BY 1),
		said AS (
			SELECT COALESCE(a.main, w.email) AS email, MAX(w.agreed AND w.id = (SELECT MAX(id) FROM news_words WHERE email = w.email)) AS news
			FROM news_words w LEFT JOIN customer_aliases a ON a.email = w.email GROUP BY 1),
		people AS (SELECT email FROM ordered UNION SELECT email FROM customers WHERE email NOT IN (SELECT email FROM customer_aliases) UNION SELECT email FROM said)
		SELECT p.email, COALESCE(o.name, c.name, '') AS name, COALESCE(o.orders, 0) AS orders, COALESCE(o.spent, 0) AS spent, COALESCE(o.newest, 0) AS newest, COALESCE(s.news, 0) AS news
		FROM people p LEFT JOIN ordered o ON o.email = p.email LEFT JOIN customers c ON c.email = p.email LEFT JOIN said s ON s.email = p.email`,
	"CREATE TRIGGER orders_bought AFTER INSERT ON orders WHEN NEW.state IN " + boughtStates + " BEGIN" + countedOrder(false) + " END",
	`CREATE TRIGGER orders_changed AFTER UPDATE OF state, total, currency, email, name ON orders
		WHEN NEW.state IN ` + boughtStates + ` AND lower(OLD.email) = lower(NEW.email)
			AND (OLD.state, OLD.total, OLD.currency, OLD.name) IS NOT (NEW.state, NEW.total, NEW.currency, NEW.name) BEGIN` + countedOrder(true) + ` END`,
	sumTrigger("orders_left", "UPDATE OF state ON orders WHEN OLD.state IN "+boughtStates+" AND NEW.state NOT IN "+boughtStates, "OLD.email"),
	sumTrigger("orders_readdressed", `UPDATE OF email ON orders
		WHEN lower(OLD.email) <> lower(NEW.email) AND (OLD.state IN `+boughtStates+` OR NEW.state IN `+boughtStates+`)`, "OLD.email", "NEW.email"),
	sumTrigger("customers_noted", "INSERT ON customers", "NEW.email"),
	sumTrigger("customers_renamed", "UPDATE OF name ON customers WHEN OLD.name <> NEW.name", "NEW.email"),
	sumTrigger("aliases_added", "INSERT ON customer_aliases", "NEW.email"),
	sumTrigger("aliases_moved", "UPDATE ON customer_aliases", "NEW.email", "OLD.main"),
	sumTrigger("aliases_dropped", "DELETE ON customer_aliases", "OLD.email", "OLD.main"),
	sumTrigger("news_said", "INSERT ON news_words", "NEW.email"),
	`CREATE TRIGGER currency_changed AFTER UPDATE OF currency ON businesses WHEN OLD.currency <> NEW.currency BEGIN
		DELETE FROM customer_sums;
		INSERT INTO customer_sums SELECT email, name, orders, spent, newest, news FROM customers_known;
	END`,
	`INSERT INTO customer_sums SELECT email, name, orders, spent, newest, news FROM customers_known`,

	// What is open of orders, those of which something is.
	`CREATE TABLE open_orders (order_id INTEGER PRIMARY KEY REFERENCES orders (id), amount INTEGER NOT NULL)`,
	`CREATE TRIGGER ledger_entered AFTER INSERT ON ledger_entries WHEN NEW.kind IN ('charged', 'waived', 'paid', 'returned') BEGIN
		DELETE FROM open_orders WHERE order_id = NEW.order_id;
		INSERT INTO open_orders SELECT NEW.order_id, e.amount FROM (SELECT ` + openOf + ` AS amount FROM ledger_entries WHERE order_id = NEW.order_id) e WHERE e.amount > 0;
	END`,
	`INSERT INTO open_orders SELECT order_id, ` + openOf + ` AS amount FROM ledger_entries GROUP BY order_id HAVING ` + openOf + ` > 0`,

	`CREATE INDEX orders_since ON orders (COALESCE(ordered_at, placed_at))`,
	`CREATE INDEX orders_terms ON orders (terms_version) WHERE number IS NOT NULL AND terms_version > 0`,
	`CREATE INDEX orders_news ON orders (news_version) WHERE number IS NOT NULL AND news_version > 0`,

	// What the answers of a line read like, in small letters, to be searched in. Of lines
	// from before it is what was given, until they are kept again.
	`CREATE TABLE line_words (line_id INTEGER PRIMARY KEY REFERENCES order_lines (id) ON DELETE CASCADE, words TEXT NOT NULL)`,
	`INSERT INTO line_words (line_id, words) SELECT l.id, lower(COALESCE((SELECT group_concat(j.atom, ' ') FROM json_tree(l.answers) j WHERE j.atom IS NOT NULL), ''))
		FROM order_lines l WHERE l.placed AND json_valid(l.answers)`,
}
