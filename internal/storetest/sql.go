package storetest

import (
	"database/sql"
	"testing"

	_ "github.com/mattn/go-sqlite3" // the driver that the store uses
)

// SQL opens a database file beside the store, with the store's own settings, for
// tests that do to it what no use case does.
func SQL(t testing.TB, file string) *sql.DB {
	t.Helper()
	db, err := sql.Open("sqlite3", "file:"+file+"?_journal_mode=WAL&_synchronous=FULL&_busy_timeout=10000&_foreign_keys=true&_secure_delete=true&_txlock=immediate")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { db.Close() })
	return db
}
