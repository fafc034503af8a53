package store

import (
	"context"
	"errors"
	"fmt"
	"strings"
)

// Multiply adds copies of placed orders until there are about so many: their
// lines, ledgers, figures and work. Most are of those whose work is done and
// whose money is settled, as on a real desk, spread over the two years before.
// It is for looking at a desk with many orders; attempts and mails are not
// copied. Done is told how far it is, in per cent.
func (s *Store) Multiply(ctx context.Context, orders int, done func(percent int)) error {
	const part = 500 // copies of each order in one transaction
	var own int
	if err := s.read.WithContext(ctx).Raw("SELECT COUNT(*) FROM orders WHERE " + multiplied("id") + " AND " + finished("id")).Scan(&own).Error; err != nil {
		return err
	}
	if own == 0 {
		return errors.New("there is no finished order to make copies of")
	}
	for copies, from := orders/own, 1; from <= copies; from += part {
		to := min(from+part-1, copies)
		err := s.Write(ctx, func(tx *Tx) error {
			for _, c := range copied {
				if err := tx.multiply(c, from, to); err != nil {
					return err
				}
			}
			return nil
		})
		if err != nil {
			return err
		}
		done(100 * to / copies)
	}
	return nil
}

// finished says of which orders the work is done and the money settled; only a
// few copies are made of others, on the order's own days.
func finished(id string) string {
	return fmt.Sprintf(`%s NOT IN (SELECT order_id FROM order_lines WHERE order_id < %d AND open_items > 0)
		AND %s NOT IN (SELECT order_id FROM ledger_entries WHERE order_id < %d GROUP BY order_id
			HAVING SUM(CASE kind WHEN 'charged' THEN amount WHEN 'returned' THEN amount WHEN 'paid' THEN -amount ELSE 0 END) <> 0
			OR SUM(CASE kind WHEN 'held' THEN amount WHEN 'released' THEN -amount ELSE 0 END) <> 0)`, id, apart, id, apart)
}

// apart is how far the ids of a copy lie from those of its order.
const apart = 1_000_000

// multiplied says which orders are copied: those that are no copies, placed,
// without a place at a time, a coupon or a voucher, which cannot be used twice.
func multiplied(id string) string {
	return fmt.Sprintf(`%s < %d AND %s IN (SELECT id FROM orders WHERE state = 'placed')
		AND %s NOT IN (SELECT l.order_id FROM order_lines l JOIN bookings b ON b.line_id = l.id)
		AND %s NOT IN (SELECT order_id FROM coupon_uses)
		AND %s NOT IN (SELECT order_id FROM voucher_entries)`, id, apart, id, id, id, id)
}

type copying struct {
	table  string
	order  string            // gives the order's id
	change map[string]string // columns that are others in a copy
}

// few says which copies are also made of orders that are not finished.
const few = "n.i % 150 = 0"

// earlier puts an instant back by the days of a copy.
func earlier(column string) string {
	return "CASE WHEN " + few + " OR t." + column + " IS NULL THEN t." + column + " ELSE strftime('%Y-%m-%d %H:%M:%S+00:00', t." + column + ", '-' || (n.i % 700) || ' days') END"
}

const (
	copyOf    = "+ n.i * 1000000"
	dayBefore = "CASE WHEN " + few + " THEN t.day ELSE date(t.day, '-' || (n.i % 700) || ' days') END"
)

// renumbered puts the copy's number into a text of a work item that names its
// order's.
func renumbered(column string) string {
	number := "(SELECT o.number FROM orders o JOIN order_lines l ON l.order_id = o.id WHERE l.id = t.line_id)"
	return "replace(t." + column + ", " + number + ", " + number + " " + copyOf + ")"
}

var copied = []copying{
	{"orders", "t.id", map[string]string{
		// about three orders to a customer
		"email": "replace(t.email, '@', '+' || (n.i / 3) || '@')",
		"id":    "t.id " + copyOf, "number": "t.number " + copyOf, "checkout": "t.checkout || '-' || n.i", "created_at": earlier("created_at"), "placed_at": earlier("placed_at"),
	}},
	{"order_lines", "t.order_id", map[string]string{
		"id": "t.id " + copyOf, "order_id": "t.order_id " + copyOf,
	}},
	{"line_words", "(SELECT l.order_id FROM order_lines l WHERE l.id = t.line_id)", map[string]string{"line_id": "t.line_id " + copyOf}},
	{"line_answers", "t.order_id", map[string]string{"line_id": "t.line_id " + copyOf, "order_id": "t.order_id " + copyOf}},
	{"work_items", "(SELECT l.order_id FROM order_lines l WHERE l.id = t.line_id)", map[string]string{
		"id": "t.id " + copyOf, "line_id": "t.line_id " + copyOf, "title": renumbered("title"), "instructions": renumbered("instructions"),
	}},
	{"ledger_entries", "t.order_id", map[string]string{
		"id": "t.id " + copyOf, "order_id": "t.order_id " + copyOf, "attempt": "CASE t.attempt WHEN '' THEN '' ELSE t.attempt || '-' || n.i END", "day": dayBefore, "at": earlier("at"),
	}},
	{"figures", "t.order_id", map[string]string{"id": "t.id " + copyOf, "order_id": "t.order_id " + copyOf, "day": dayBefore}},
}

func (tx *Tx) multiply(c copying, from, to int) error {
	var columns []string
	if err := tx.db.Raw("SELECT name FROM pragma_table_info(?)", c.table).Scan(&columns).Error; err != nil {
		return err
	}
	names, values := make([]string, len(columns)), make([]string, len(columns))
	for i, name := range columns {
		names[i], values[i] = `"`+name+`"`, `t."`+name+`"`
		if v, ok := c.change[name]; ok {
			values[i] = v
		}
	}
	q := fmt.Sprintf("WITH RECURSIVE n(i) AS (SELECT %d UNION ALL SELECT i + 1 FROM n WHERE i < %d) INSERT INTO %s (%s) SELECT %s FROM %s t, n WHERE %s AND (%s OR %s)",
		from, to, c.table, strings.Join(names, ","), strings.Join(values, ","), c.table, multiplied(c.order), few, finished(c.order))
	if err := tx.db.Exec(q).Error; err != nil {
		return fmt.Errorf("copies in %s: %w", c.table, err)
	}
	return nil
}
