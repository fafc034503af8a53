package store

// agreements keeps the texts of the business that customers agree to, each version for
// ever, which of them an order was placed under, and what was said about news.
var agreements = []string{
	`CREATE TABLE agreement_texts (
		kind TEXT NOT NULL, version INTEGER NOT NULL, text TEXT NOT NULL, author TEXT NOT NULL, at DATETIME NOT NULL,
		PRIMARY KEY (kind, version)) WITHOUT ROWID`,
	`CREATE TRIGGER agreement_texts_stay BEFORE UPDATE ON agreement_texts BEGIN SELECT RAISE(ABORT, 'a text that was agreed to never changes'); END`,
	`CREATE TRIGGER agreement_texts_last BEFORE DELETE ON agreement_texts BEGIN SELECT RAISE(ABORT, 'a text that was agreed to is never lost'); END`,
	`ALTER TABLE orders ADD COLUMN terms_version INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE orders ADD COLUMN news_version INTEGER NOT NULL DEFAULT 0`,
	`CREATE TABLE news_words (
		id INTEGER PRIMARY KEY, email TEXT NOT NULL, agreed BOOLEAN NOT NULL, version INTEGER NOT NULL,
		order_id INTEGER REFERENCES orders (id), author TEXT NOT NULL, at DATETIME NOT NULL)`,
	`CREATE INDEX news_words_email ON news_words (email, id)`,
}
