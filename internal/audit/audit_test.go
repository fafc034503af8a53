package audit

import (
	"context"
	"fmt"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"ruvo/demo"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

var now = time.Date(2026, 11, 24, 9, 30, 0, 0, time.FixedZone("CET", 3600))

// Each fault that is planted into the stored orders of the sample business is
// found, and told in both languages; nothing else is.
func TestPlantedFaultsAreFound(t *testing.T) {
	s, err := store.Open(storetest.Folder(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := demo.Fill(t.Context(), s, now, "http://127.0.0.1"); err != nil {
		t.Fatal(err)
	}
	run := func() (codes []string) {
		t.Helper()
		lines, found, err := Run(t.Context(), s, now)
		if err != nil || lines != 47 {
			t.Fatalf("%d lines, %v", lines, err)
		}
		for _, d := range found {
			codes = append(codes, d.Code)
			for _, l := range []words.Language{words.English, words.German} {
				if said := d.Said(l); said == "check."+d.Code {
					t.Errorf("%s has no words in %s", d.Code, l)
				}
			}
		}
		slices.Sort(codes)
		return slices.Compact(codes)
	}
	if found := run(); len(found) != 0 {
		t.Fatalf("the sample business has differences: %v", found)
	}
	db := storetest.SQL(t, filepath.Join(s.Folder(), store.File))
	// one gives the first id of a question to the database.
	one := func(q string) (id int64) {
		t.Helper()
		if err := db.QueryRow(q).Scan(&id); err != nil {
			t.Fatalf("%s: %v", q, err)
		}
		return id
	}
	placed := one(`SELECT o.id FROM orders o JOIN attempts a ON a.order_id = o.id AND a.state = 'settled' WHERE o.state = 'placed' AND o.coupons IS NOT NULL AND o.coupons <> 'null' AND o.coupons <> '[]'`)
	awaiting := one("SELECT id FROM orders WHERE state = 'awaiting'")
	if _, err := db.Exec("INSERT INTO statements (name, format, hash, author, at, rows, done, first_day, last_day) VALUES ('', '', '', '', '', 1, 1, '', '')"); err != nil {
		t.Fatal(err)
	}
	booked := one("SELECT line_id FROM bookings WHERE sold")
	line := one(fmt.Sprint("SELECT id FROM order_lines WHERE order_id = ", placed))
	paid := one(fmt.Sprintf("SELECT id FROM attempts WHERE order_id = %d AND state = 'settled'", placed))
	held := one("SELECT h.id FROM stock_holds h JOIN order_lines l ON l.id = h.line_id JOIN orders o ON o.id = l.order_id WHERE h.taken AND h.pieces > 0 AND o.state = 'placed'")
	for _, f := range []struct {
		name  string
		plant string
		undo  string
		want  []string
	}{
		{"a line's price", fmt.Sprintf("UPDATE order_lines SET slip = json_set(slip, '$.total', json_extract(slip, '$.total') + 1) WHERE id = %d", line), fmt.Sprintf("UPDATE order_lines SET slip = json_set(slip, '$.total', json_extract(slip, '$.total') - 1) WHERE id = %d", line), []string{"slip"}},
		{"a count of answers", "UPDATE answer_counts SET n = n + 1 WHERE question = 'paper' AND what = 'Moss'", "UPDATE answer_counts SET n = n - 1 WHERE question = 'paper' AND what = 'Moss'", []string{"answers"}},
		{"what answers are sorted by", "DROP TRIGGER answers_kept; UPDATE line_answers SET number = number + 1 WHERE question = 'night'", "UPDATE line_answers SET number = number - 1 WHERE question = 'night'", []string{"line_answers"}},
		{"an order's total", fmt.Sprintf("UPDATE orders SET total = total + 1 WHERE id = %d", placed), fmt.Sprintf("UPDATE orders SET total = total - 1 WHERE id = %d", placed), []string{"order_slip"}},
		{"a state", fmt.Sprintf("UPDATE orders SET state = 'cancelled' WHERE id = %d", placed), fmt.Sprintf("UPDATE orders SET state = 'placed' WHERE id = %d", placed), []string{"coupons", "promise", "state", "work"}},
		{"a day", fmt.Sprintf("UPDATE orders SET cancelled_at = placed_at WHERE id = %d", placed), fmt.Sprintf("UPDATE orders SET cancelled_at = NULL WHERE id = %d", placed), []string{"state"}},
		{"a line not ordered", fmt.Sprintf("UPDATE order_lines SET placed = 0 WHERE id = %d", line), fmt.Sprintf("UPDATE order_lines SET placed = 1 WHERE id = %d", line), []string{"line_unplaced"}},
		{"a place", fmt.Sprintf("UPDATE bookings SET people = people + 1 WHERE line_id = %d", booked), fmt.Sprintf("UPDATE bookings SET people = people - 1 WHERE line_id = %d", booked), []string{"booking"}},
		{"a place not sold", fmt.Sprintf("UPDATE bookings SET sold = 0 WHERE line_id = %d", booked), fmt.Sprintf("UPDATE bookings SET sold = 1 WHERE line_id = %d", booked), []string{"booking"}},
		{"the open work", fmt.Sprintf("UPDATE order_lines SET open_items = open_items + 1 WHERE id = %d", line), fmt.Sprintf("UPDATE order_lines SET open_items = open_items - 1 WHERE id = %d", line), []string{"open_items"}},
		{"a coupon's use", fmt.Sprintf("UPDATE coupon_uses SET taken = 0 WHERE order_id = %d", placed), fmt.Sprintf("UPDATE coupon_uses SET taken = 1 WHERE order_id = %d", placed), []string{"coupons"}},
		{"pieces", fmt.Sprintf("UPDATE stock_holds SET taken = 0 WHERE id = %d", held), fmt.Sprintf("UPDATE stock_holds SET taken = 1 WHERE id = %d", held), []string{"pieces"}},
		{"pieces taken", fmt.Sprintf("UPDATE stock_holds SET pieces = pieces + 1 WHERE id = %d", held), fmt.Sprintf("UPDATE stock_holds SET pieces = pieces - 1 WHERE id = %d", held), []string{"pieces_taken"}},
		{"pieces on hand", "UPDATE stocks SET pieces = pieces + 1 WHERE id = 1", "UPDATE stocks SET pieces = pieces - 1 WHERE id = 1", []string{"stock"}},
		{"an attempt", fmt.Sprintf("UPDATE attempts SET state = 'refused' WHERE id = %d", paid), fmt.Sprintf("UPDATE attempts SET state = 'settled' WHERE id = %d", paid), []string{"entry_unsettled"}},
		{"an attempt's amount", fmt.Sprintf("UPDATE attempts SET amount = amount + 1 WHERE id = %d", paid), fmt.Sprintf("UPDATE attempts SET amount = amount - 1 WHERE id = %d", paid), []string{"settled_unrecorded"}},
		{"a transfer", fmt.Sprintf(`INSERT INTO transfers (statement_id, position, identity, day, amount, currency, payer, text, reference, outcome, why, order_id, decided_by)
			VALUES ((SELECT MAX(id) FROM statements), 1, 'x', '2026-11-24', 5, 'EUR', '', '', '', 'booked', '', %d, '')`, placed), "DELETE FROM transfers", []string{"transfers"}},
		{"an order that was given free", fmt.Sprintf("UPDATE orders SET state = 'lapsed' WHERE id = %d", awaiting), fmt.Sprintf("UPDATE orders SET state = 'awaiting' WHERE id = %d", awaiting), []string{"charged"}},
		{"an order that was never placed", fmt.Sprintf("UPDATE orders SET state = 'placed' WHERE id = %d", awaiting), fmt.Sprintf("UPDATE orders SET state = 'awaiting' WHERE id = %d", awaiting), []string{"brief", "line_answers", "line_unplaced", "promise", "state", "work"}},
		{"a brief", fmt.Sprintf("UPDATE order_lines SET brief = 'xx' || brief WHERE id = %d", line), fmt.Sprintf("UPDATE order_lines SET brief = substr(brief, 3) WHERE id = %d", line), []string{"brief"}},
	} {
		if _, err := db.Exec(f.plant); err != nil {
			t.Fatalf("%s: %v", f.name, err)
		}
		if got := run(); !slices.Equal(got, f.want) {
			t.Errorf("%s: found %v, want %v", f.name, got, f.want)
		}
		if _, err := db.Exec(f.undo); err != nil {
			t.Fatalf("%s: %v", f.name, err)
		}
	}
	if found := run(); len(found) != 0 {
		t.Fatalf("after all was mended: %v", found)
	}

	// Entries cannot be taken away again, so these stay; each adds its own.
	add := func(e ledger.Entry, want string) {
		t.Helper()
		if err := s.Write(context.Background(), func(tx *store.Tx) error {
			return tx.AddEntries(&store.Order{ID: placed, Currency: "EUR"}, []ledger.Entry{e}, time.UTC)
		}); err != nil {
			t.Fatal(err)
		}
		if got := run(); !slices.Contains(got, want) {
			t.Errorf("%+v: found %v, want %s", e, got, want)
		}
	}
	add(ledger.Entry{Kind: ledger.Charged, Amount: -1, At: now, Reason: ledger.Cancelling}, "charge_fell")
	add(ledger.Entry{Kind: ledger.Charged, Amount: 1, At: now}, "charged")
	if err := s.Write(context.Background(), func(tx *store.Tx) error { // a credit that credits nothing of the order, and more than its charge fell
		return tx.AddCredit(&store.Credit{OrderID: placed, At: now, Total: 5, Credit: charge.Credit{Total: 5}, Lines: []charge.Cancelled{}})
	}); err != nil {
		t.Fatal(err)
	}
	if got := run(); !slices.Contains(got, "credit") || !slices.Contains(got, "credits") {
		t.Errorf("a credit that was planted: found %v", got)
	}
	add(ledger.Entry{Kind: ledger.Released, Amount: 1_000_000, At: now, Way: ledger.Card, Attempt: "x"}, "released_too_much")
	add(ledger.Entry{Kind: ledger.Returned, Amount: 1_000_000, At: now, Way: ledger.Hand}, "returned_too_much")
}

// What the order is called here has to be what it is called in the core.
func TestStatesInTheDatabase(t *testing.T) {
	if fmt.Sprint(order.States()) != "[prepared paying awaiting placed cancelled lapsed]" {
		t.Error("the states that are planted here are others now:", order.States())
	}
}
