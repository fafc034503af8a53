package store

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"path/filepath"
	"strings"
	"time"

	"gorm.io/gorm"
)

// rehearsed are the tables of which a rehearsal gets a copy, with the rows: what the
// business sells and how it works. Every other table is empty in a rehearsal, above all
// what is known of customers; a test holds both lists against the schema.
var rehearsed = map[string]string{
	"businesses":        "true",
	"users":             "true",
	"products":          "true",
	"editions":          "id IN (SELECT edition_id FROM shop.products) OR id = @edition",
	"sheets":            "true",
	"coupons":           "true",
	"customer_groups":   "true",
	"stocks":            "true",
	"kept_times":        "end_at > @now",
	"busy_times":        "end_at > @now",
	"worksheet_layouts": "true",
	"replies":           "true",
	"agreement_texts":   "true",
	"uploads":           "desk AND kept AND order_id IS NULL",
}

// counted begins the lists of what happened to pieces with those that are on hand.
const counted = "INSERT INTO stock_changes (stock_id, delta, pieces, why, author, at) SELECT id, pieces, pieces, 'counted', '', @now FROM shop.stocks"

// taken makes of places that are sold what the seller keeps, so that they are as little
// free in a rehearsal as in the shop, and nothing is known there of who has them.
var taken = []string{
	`INSERT INTO kept_times (product_id, start_at, end_at, people, reason, author, created_at)
		SELECT product_id, from_at, to_at, CASE WHEN private THEN 0 ELSE people END, '', '', @now FROM shop.bookings WHERE sold AND to_at > @now`,
	`INSERT INTO kept_times (resource_id, start_at, end_at, people, reason, author, created_at)
		SELECT r.resource_id, b.from_at, b.to_at, 0, '', '', @now FROM shop.bookings b JOIN shop.booking_resources r ON r.booking_id = b.id WHERE b.sold AND b.to_at > @now`,
}

// Rehearse opens a new database in a folder, for a rehearsal: what the business sells is
// as it is here now, with an edition besides those on sale, and nothing was ordered.
// Customers of a rehearsal reach it at an address of its own.
func (s *Store) Rehearse(ctx context.Context, folder string, edition int64, address string, now time.Time) (*Store, error) {
	r, err := Open(folder)
	if err != nil {
		return nil, err
	}
	if err := r.copy(ctx, filepath.Join(s.folder, File), edition, address, now); err != nil {
		return nil, errors.Join(fmt.Errorf("setting up a rehearsal: %w", err), r.Close())
	}
	return r, nil
}

func (s *Store) copy(ctx context.Context, from string, edition int64, address string, now time.Time) (err error) {
	db := s.write.WithContext(ctx)
	// Only to be read, so that the copy holds up nobody who writes there.
	if err := db.Exec("ATTACH DATABASE ? AS shop", "file:"+(&url.URL{Path: from}).EscapedPath()+"?mode=ro").Error; err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.write.Exec("DETACH DATABASE shop").Error) }()
	given := map[string]any{"edition": edition, "now": now.UTC(), "address": address}
	return db.Transaction(func(tx *gorm.DB) error {
		do := func(statement string) error {
			if !strings.Contains(statement, "@") { // GORM knows names only where there are some
				return tx.Exec(statement).Error
			}
			return tx.Exec(statement, given).Error
		}
		// Products name the editions that name them.
		if err := tx.Exec("PRAGMA defer_foreign_keys = true").Error; err != nil {
			return err
		}
		for table, rows := range rehearsed {
			if err := do("INSERT INTO main." + table + " SELECT * FROM shop." + table + " WHERE " + rows); err != nil {
				return fmt.Errorf("%s: %w", table, err)
			}
		}
		for _, statement := range append(taken, counted, "UPDATE businesses SET address = @address") {
			if err := do(statement); err != nil {
				return err
			}
		}
		return nil
	})
}

// KeptUploads lists the seller's files that no order has and that stay, such as what
// buyers of a product get at once.
func (tx *Tx) KeptUploads() ([]Upload, error) {
	return list[Upload](tx, "id", "desk AND kept AND order_id IS NULL")
}

// SellEdition has a product sell one of its editions.
func (tx *Tx) SellEdition(product int64, edition int64) error {
	tx.catalogue = true
	return tx.db.Exec("UPDATE products SET edition_id = ? WHERE id = ?", edition, product).Error
}

// Happened counts what was ordered and what was written.
func (tx *Tx) Happened() (orders, mails int64, err error) {
	err = tx.db.Raw("SELECT COUNT(*) FROM orders WHERE number IS NOT NULL").Scan(&orders).Error
	if err == nil {
		err = tx.db.Raw("SELECT COUNT(*) FROM outbox").Scan(&mails).Error
	}
	return orders, mails, err
}
