// Package store keeps everything in one SQLite file. It is the only place
// that knows the database: use cases ask it for what they need inside one
// transaction and decide nothing here.
package store

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"runtime"
	"sync"
	"time"

	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// ErrNotFound is returned when a row that was asked for by name is not there.
// It is an [fs.ErrNotExist], as a file's absence is.
var ErrNotFound = fmt.Errorf("no such row: %w", fs.ErrNotExist)

// A Store is an open database.
type Store struct {
	write  *gorm.DB
	read   *gorm.DB
	apart  *gorm.DB // one connection for what is kept in memory, so that it waits for nobody
	folder string

	catalogues catalogues
	running    running
	work       workLog
	beside     sync.Once
	kept       any
}

// Folder gives the folder that holds all data.
func (s *Store) Folder() string { return s.folder }

// File is the name of the database within the data folder.
const File = "ruvo.db"

// Open opens the database in a data folder, making both when they are not
// there, and brings it to the newest schema.
//
// Writes go through one connection with immediate transactions, so that they
// queue instead of failing; every commit is synced to disk before it returns.
func Open(folder string) (*Store, error) {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return nil, fmt.Errorf("the data folder: %w", err)
	}
	path := filepath.Join(folder, File)
	if err := ownersOnly(folder, path); err != nil {
		return nil, err
	}
	w, err := open(path, "_txlock=immediate")
	if err != nil {
		return nil, err
	}
	s := &Store{write: w, folder: folder}
	if err := migrate(w); err != nil {
		return nil, errors.Join(fmt.Errorf("bringing %s to the newest schema: %w", path, err), s.Close())
	}
	for _, db := range []**gorm.DB{&s.read, &s.apart} {
		if *db, err = open(path, "_query_only=true"); err != nil {
			return nil, errors.Join(err, s.Close())
		}
	}
	if db, err := s.apart.DB(); err == nil {
		db.SetMaxOpenConns(1)
	}
	if db, err := w.DB(); err == nil {
		db.SetMaxOpenConns(1)
	}
	// A commit that also moves the log into the file takes several times as long;
	// with a log of 16 MB at most that is every few hundred orders.
	if err := w.Exec("PRAGMA wal_autocheckpoint = 4000").Error; err != nil {
		return nil, errors.Join(err, s.Close())
	}
	if db, err := s.read.DB(); err == nil {
		db.SetMaxOpenConns(8)
		db.SetMaxIdleConns(8)
	}
	return s, nil
}

// ownersOnly makes the database's file for its owner alone, whatever the umask,
// and refuses a folder or file that others can read.
func ownersOnly(folder, path string) error {
	made, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if errors.Is(err, fs.ErrPermission) {
		return fmt.Errorf("the data folder %s cannot be written to; give it to who runs Ruvo: %w", folder, err)
	}
	if err != nil {
		return fmt.Errorf("the data folder: %w", err)
	}
	if err := made.Close(); err != nil {
		return err
	}
	if runtime.GOOS == "windows" {
		return nil
	}
	for what, mode := range map[string]string{folder: "700", path: "600", path + "-wal": "600", path + "-shm": "600"} {
		info, err := os.Stat(what)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return err
		}
		if info.Mode().Perm()&0o077 != 0 {
			return fmt.Errorf("%s can be read by others than its owner (%v), and holds what customers told you: run chmod %s %s", what, info.Mode().Perm(), mode, what)
		}
	}
	return nil
}

func open(path, extra string) (*gorm.DB, error) {
	dsn := "file:" + (&url.URL{Path: path}).EscapedPath() + "?_journal_mode=WAL&_synchronous=FULL&_busy_timeout=10000&_foreign_keys=true&_secure_delete=true&_stmt_cache_size=200&" + extra
	db, err := gorm.Open(sqlite.Open(dsn), &gorm.Config{
		Logger:                 logger.Discard,
		SkipDefaultTransaction: true,
		NowFunc:                func() time.Time { return time.Now().UTC() },
	})
	if err != nil {
		return nil, fmt.Errorf("opening %s: %w", path, err)
	}
	return db, nil
}

// Close closes the database.
func (s *Store) Close() error {
	var errs []error
	for _, g := range []*gorm.DB{s.read, s.apart, s.write} {
		if g == nil {
			continue
		}
		db, err := g.DB()
		if err == nil {
			err = db.Close()
		}
		errs = append(errs, err)
	}
	return errors.Join(errs...)
}

// Tidy brings the database's file up to date and empties the one beside it, in
// which what was overwritten stands until then.
func (s *Store) Tidy(ctx context.Context) error {
	return s.write.WithContext(ctx).Exec("PRAGMA wal_checkpoint(TRUNCATE)").Error
}

// A Tx is one transaction. What it reads is consistent; what it writes is
// kept whole or not at all.
type Tx struct {
	db    *gorm.DB
	store *Store
	// worked are the order lines whose work was changed; peopled says that what
	// people have time for was.
	worked  map[int64]struct{}
	peopled bool
	// catalogue says that what the catalogue is made of was changed.
	catalogue bool
	// business is the business once it was asked for.
	business *Business
	// known is the catalogue as it is kept in memory, while nothing changed; only a
	// writing transaction has it, since nobody else writes meanwhile.
	known *Catalogue
	// running are the sums that a reading transaction may go on with.
	running *running
}

// Context gives that of whoever asked for the transaction.
func (tx *Tx) Context() context.Context { return tx.db.Statement.Context }

// Write runs a use case that changes things. An error undoes all of it.
func (s *Store) Write(ctx context.Context, use func(*Tx) error) error {
	if s.catalogues.current() == nil {
		// Without it the transaction asks the database.
		_, _ = s.Catalogue(ctx)
	}
	var tx *Tx
	err := s.write.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		tx = &Tx{db: db, store: s, known: s.catalogues.current()}
		err := use(tx)
		if tx.catalogue {
			// The next transaction must not begin with what this one changed; what is
			// read until this one is kept does not count as current either, below.
			s.catalogues.changes.Add(1)
		}
		return err
	})
	if tx != nil && tx.catalogue {
		s.catalogues.changes.Add(1)
	}
	if tx != nil && err == nil {
		s.work.note(tx)
	}
	return err
}

// Read runs a use case that only looks.
func (s *Store) Read(ctx context.Context, use func(*Tx) error) error {
	return s.read.WithContext(ctx).Transaction(func(db *gorm.DB) error { return use(&Tx{db: db, store: s, running: &s.running}) })
}

// ReadApart is Read on a connection of its own, for one at a time: whoever holds a
// lock meanwhile cannot be waited for by those who hold all other connections.
func (s *Store) ReadApart(ctx context.Context, use func(*Tx) error) error {
	return s.apart.WithContext(ctx).Transaction(func(db *gorm.DB) error { return use(&Tx{db: db, store: s}) })
}

// first finds one row by conditions and says ErrNotFound when there is none.
func first[T any](tx *Tx, query string, args ...any) (T, error) {
	var row T
	err := tx.db.Where(query, args...).Take(&row).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		err = ErrNotFound
	}
	return row, err
}

// list finds rows by conditions in an order.
func list[T any](tx *Tx, order, query string, args ...any) ([]T, error) {
	var rows []T
	err := tx.db.Where(query, args...).Order(order).Find(&rows).Error
	return rows, err
}

// Time makes the pointer that a nullable column takes; nil for the zero time.
func Time(t time.Time) *time.Time {
	if t.IsZero() {
		return nil
	}
	t = t.UTC()
	return &t
}

// When reads a nullable column; the zero time for null.
func When(t *time.Time) time.Time {
	if t == nil {
		return time.Time{}
	}
	return *t
}
