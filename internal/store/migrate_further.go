package store

// further has a business sell in further currencies, each with terms of its own.
var further = []string{`ALTER TABLE businesses ADD COLUMN further TEXT`}
