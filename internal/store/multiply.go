package store

import (
	"context"
	"fmt"
	"strings"
)

// Multiply adds copies of the placed orders that have no booking until there are
// about so many orders, spread over the two years before: their lines, ledgers,
// figures and work, of which all but some is done. It is for looking at a desk
// with many orders; what else an order leaves, such as attempts and mails, is not
// copied. Done is told how far it is, in per cent.
func (s *Store) Multiply(ctx context.Context, orders int, done func(percent int)) error {
	const part = 200 // copies of each order in one transaction
	var own int
	if err := s.read.WithContext(ctx).Raw("SELECT COUNT(*) FROM orders WHERE " + multiplied("id")).Scan(&own).Error; err != nil {
		return err
	}
	if own == 0 {
		return fmt.Errorf("there is no order to make copies of")
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

// Of orders that are not settled only those copies are made whose work is open,
// too: most orders of a real desk are paid.
const settled = `(n.i %% 150 = 0 OR %s NOT IN (SELECT order_id FROM ledger_entries WHERE order_id < 1000000 GROUP BY order_id
	HAVING SUM(CASE kind WHEN 'charged' THEN amount WHEN 'returned' THEN amount WHEN 'paid' THEN -amount ELSE 0 END) <> 0
	OR SUM(CASE kind WHEN 'held' THEN amount WHEN 'released' THEN -amount ELSE 0 END) <> 0))`

// apart is how far the ids of a copy lie from those of its order.
const apart = 1_000_000

// multiplied says which orders are copied: the sample's own, placed, without a
// place at a time, which cannot be sold twice.
func multiplied(id string) string {
	return fmt.Sprintf(`%s < %d AND %s IN (SELECT id FROM orders WHERE state = 'placed')
		AND %s NOT IN (SELECT l.order_id FROM order_lines l JOIN bookings b ON b.line_id = l.id)`, id, apart, id, id)
}

type copying struct {
	table  string
	order  string            // gives the order's id
	change map[string]string // columns that are others in a copy
}

// earlier puts an instant, or a day, back by the days of a copy.
func earlier(column string) string {
	return "CASE WHEN t." + column + " IS NULL THEN NULL ELSE strftime('%Y-%m-%d %H:%M:%S+00:00', t." + column + ", '-' || (n.i % 700) || ' days') END"
}

const (
	copyOf     = "+ n.i * 1000000"
	dayBefore  = "date(t.day, '-' || (n.i % 700) || ' days')"
	unfinished = "n.i % 150 = 0" // copies whose work is as the order's
)

var copied = []copying{
	{"orders", "t.id", map[string]string{
		"id": "t.id " + copyOf, "number": "t.number " + copyOf, "checkout": "t.checkout || '-' || n.i", "created_at": earlier("created_at"), "placed_at": earlier("placed_at"),
	}},
	{"order_lines", "t.order_id", map[string]string{
		"id": "t.id " + copyOf, "order_id": "t.order_id " + copyOf, "open_items": "CASE WHEN " + unfinished + " THEN t.open_items ELSE 0 END",
	}},
	{"work_items", "(SELECT l.order_id FROM order_lines l WHERE l.id = t.line_id)", map[string]string{
		"id": "t.id " + copyOf, "line_id": "t.line_id " + copyOf,
		"done_at": "CASE WHEN " + unfinished + " THEN t.done_at ELSE COALESCE(t.done_at, t.due_at, '2026-01-01 00:00:00+00:00') END",
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
	q := fmt.Sprintf("WITH RECURSIVE n(i) AS (SELECT %d UNION ALL SELECT i + 1 FROM n WHERE i < %d) INSERT INTO %s (%s) SELECT %s FROM %s t, n WHERE %s AND "+settled,
		from, to, c.table, strings.Join(names, ","), strings.Join(values, ","), c.table, multiplied(c.order), c.order)
	if err := tx.db.Exec(q).Error; err != nil {
		return fmt.Errorf("copies in %s: %w", c.table, err)
	}
	return nil
}
