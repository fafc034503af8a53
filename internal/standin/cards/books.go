package cards

import (
	"errors"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"time"

	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/store"
)

// File is the service's own database within the data folder: it keeps its books
// apart from Ruvo's, as a real one would.
const File = "simulated-payments.db"

// A movement is what the service was asked to move: a payment, or what goes
// back of one.
type movement struct {
	Attempt   string `gorm:"primaryKey"`
	Token     string // of the page on which the customer pays; empty for what goes back
	Of        string // the payment that this gives something back of
	Amount    money.Amount
	Held      money.Amount // of it, as security
	Currency  money.Currency
	About     string
	Back      string // where the customer is led afterwards
	Language  string
	State     ledger.State
	Reason    string
	Fee       money.Amount
	Last4     string
	Doubtful  bool // the card wants a confirmation, and the customer is asked for it
	CreatedAt time.Time
	MovedAt   *time.Time
}

// An errand is a notice on its way.
type errand struct {
	ID     int64
	Notice string // its id, the same each time it is sent
	Body   string
	DueAt  time.Time
	Tries  int
}

// A setting is what the service was told to do, and its secret.
type setting struct {
	ID        int64
	Secret    string
	Behaviour string // JSON
}

var tables = []string{
	`CREATE TABLE IF NOT EXISTS movements (
		attempt TEXT PRIMARY KEY, token TEXT NOT NULL, of TEXT NOT NULL, amount INTEGER NOT NULL, held INTEGER NOT NULL, currency TEXT NOT NULL,
		about TEXT NOT NULL, back TEXT NOT NULL, language TEXT NOT NULL, state TEXT NOT NULL, reason TEXT NOT NULL, fee INTEGER NOT NULL,
		last4 TEXT NOT NULL, doubtful INTEGER NOT NULL, created_at DATETIME NOT NULL, moved_at DATETIME)`,
	`CREATE UNIQUE INDEX IF NOT EXISTS movements_token ON movements (token) WHERE token <> ''`,
	`CREATE INDEX IF NOT EXISTS movements_of ON movements (of) WHERE of <> ''`,
	`CREATE TABLE IF NOT EXISTS errands (
		id INTEGER PRIMARY KEY AUTOINCREMENT, notice TEXT NOT NULL, body TEXT NOT NULL, due_at DATETIME NOT NULL, tries INTEGER NOT NULL)`,
	`CREATE INDEX IF NOT EXISTS errands_due ON errands (due_at)`,
	`CREATE TABLE IF NOT EXISTS settings (id INTEGER PRIMARY KEY CHECK (id = 1), secret TEXT NOT NULL, behaviour TEXT NOT NULL)`,
}

// open opens the books in a data folder, making them when they are not there.
func open(folder string) (*gorm.DB, error) {
	path := filepath.Join(folder, File)
	made, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("the simulated payment service's books: %w", err)
	}
	if err := made.Close(); err != nil {
		return nil, err
	}
	dsn := "file:" + (&url.URL{Path: path}).EscapedPath() + "?_journal_mode=WAL&_synchronous=FULL&_busy_timeout=10000&_txlock=immediate&_stmt_cache_size=50"
	db, err := gorm.Open(sqlite.Open(dsn), &gorm.Config{Logger: logger.Discard, SkipDefaultTransaction: true})
	if err != nil {
		return nil, fmt.Errorf("opening %s: %w", path, err)
	}
	if raw, err := db.DB(); err == nil {
		raw.SetMaxOpenConns(1)
	}
	for _, s := range tables {
		if err := db.Exec(s).Error; err != nil {
			return nil, errors.Join(fmt.Errorf("making %s: %w", path, err), closed(db))
		}
	}
	if err := adopt(db, folder); err != nil {
		return nil, errors.Join(err, closed(db))
	}
	return db, nil
}

// adopt takes over the books that the service kept in Ruvo's database before it
// had its own. What was still waiting there has ended.
func adopt(db *gorm.DB, folder string) error {
	var n int64
	if err := db.Model(&movement{}).Count(&n).Error; err != nil || n > 0 {
		return err
	}
	if _, err := os.Stat(filepath.Join(folder, store.File)); err != nil {
		return nil
	}
	if err := db.Exec("ATTACH DATABASE ? AS before", filepath.Join(folder, store.File)).Error; err != nil {
		return err
	}
	var has int64
	err := db.Raw("SELECT COUNT(*) FROM before.sqlite_master WHERE name = 'card_charges'").Scan(&has).Error
	if err == nil && has > 0 {
		err = db.Exec(`INSERT INTO movements (attempt, token, of, amount, held, currency, about, back, language, state, reason, fee, last4, doubtful, created_at, moved_at)
			SELECT attempt, '', '', amount, 0, '', '', '', '', CASE outcome WHEN 'settled' THEN 'settled' ELSE 'refused' END, reason, 0, '', 0, ?, ? FROM before.card_charges`,
			time.Now().UTC(), time.Now().UTC()).Error
	}
	return errors.Join(err, db.Exec("DETACH DATABASE before").Error)
}

func closed(db *gorm.DB) error {
	raw, err := db.DB()
	if err != nil {
		return err
	}
	return raw.Close()
}

// find finds a movement; ok is false when there is none.
func find(tx *gorm.DB, where string, args ...any) (m movement, ok bool, err error) {
	err = tx.Where(where, args...).Limit(1).Find(&m).Error
	return m, m.Attempt != "", err
}
