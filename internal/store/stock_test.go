package store

import (
	"testing"

	"ruvo/internal/core/product"
)

// What was counted before sheets could be goes on, with what is held of it and
// its history; and it is still refused to be counted of nothing.
func TestMigratingStockForSheets(t *testing.T) {
	folder := oldDatabase(t, 14,
		`INSERT INTO products (slug, position, draft, version, changed, updated_at) VALUES ('chart', 1, '{"title":"Chart","currency":"EUR","price":2400,"tax":"19"}', 3, true, '2026-11-01 10:00:00')`,
		`INSERT INTO editions (product_id, number, content, published_at) VALUES (1, 1, '{}', '2026-11-01 10:00:00')`,
		`INSERT INTO orders (checkout, name, email, language, slip, total, currency, state, created_at) VALUES ('b', 'Bo', 'bo@example.org', 'en', '{}', 900, 'EUR', 'prepared', '2026-11-01 11:00:00')`,
		`INSERT INTO order_lines (order_id, position, product_id, edition_id, quantity, slip, version, brief, open_items, placed) VALUES (1, 1, 1, 1, 1, '{}', 1, 'waiting', 0, false)`,
		`INSERT INTO stocks (id, product_id, question, choice, pieces, low, closes) VALUES (5, 1, 'size', 'large', 4, 1, true)`,
		`INSERT INTO stock_holds (stock_id, line_id, pieces, taken, held_until) VALUES (5, 1, 2, false, '2026-11-24 12:00:00')`,
		`INSERT INTO stock_changes (stock_id, delta, pieces, why, author, at) VALUES (5, 4, 4, 'counted', 'Ilse', '2026-11-01 10:00:00')`,
	)
	s := open1(t, folder)
	read(t, s, func(tx *Tx) error {
		all, err := tx.StocksWith(1, []product.SheetID{1})
		if err != nil || len(all) != 1 || all[0].ID != 5 || all[0].Pieces != 4 || !all[0].Closes || all[0].SheetID != nil {
			t.Errorf("%+v, %v", all, err)
		}
		holds, err := tx.HoldsOf(&OrderLine{ID: 1, ProductID: 1})
		if err != nil || len(holds) != 1 || holds[0].Pieces != 2 || holds[0].HeldUntil == nil {
			t.Errorf("%+v, %v", holds, err)
		}
		moves, err := tx.StockMoves(5, 9)
		if err != nil || len(moves) != 1 || moves[0].Author != "Ilse" {
			t.Errorf("%+v, %v", moves, err)
		}
		return err
	})
	if s.Write(t.Context(), func(tx *Tx) error { return tx.SaveStock(&Stock{Question: "size", Choice: "small", Pieces: 1}) }) == nil {
		t.Error("something is counted of nothing")
	}
	write(t, s, func(tx *Tx) error { return tx.DropStock(5) })
	read(t, s, func(tx *Tx) error {
		holds, err := tx.HoldsOf(&OrderLine{ID: 1, ProductID: 1})
		if moves, merr := tx.StockMoves(5, 9); err != nil || merr != nil || len(holds)+len(moves) != 0 {
			t.Errorf("what was counted is gone, and %+v %+v stayed", holds, moves)
		}
		return err
	})
}
