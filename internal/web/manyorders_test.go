package web

import (
	"context"
	"fmt"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"ruvo/internal/desk"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// manyOrders makes about a hundred thousand orders of the sample's own, each
// many times, with their ledgers and figures.
func manyOrders(b *testing.B, s *store.Store) int {
	b.Helper()
	db := storetest.SQL(b, filepath.Join(s.Folder(), store.File))
	copied := func(table string, change map[string]string) {
		b.Helper()
		rows, err := db.Query("SELECT name FROM pragma_table_info(?)", table)
		if err != nil {
			b.Fatal(err)
		}
		defer rows.Close()
		var names, values []string
		for rows.Next() {
			var name string
			if err := rows.Scan(&name); err != nil {
				b.Fatal(err)
			}
			value := `t."` + name + `"`
			if v, ok := change[name]; ok {
				value = v
			}
			names, values = append(names, `"`+name+`"`), append(values, value)
		}
		q := fmt.Sprintf(`WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 3000) INSERT INTO %s (%s) SELECT %s FROM %s t, n`,
			table, strings.Join(names, ","), strings.Join(values, ","), table)
		if _, err := db.Exec(q); err != nil {
			b.Fatal(table, err)
		}
	}
	id := map[string]string{"id": "t.id + n.i * 1000000", "order_id": "t.order_id + n.i * 1000000"}
	with := func(more ...string) map[string]string {
		m := map[string]string{"id": id["id"], "order_id": id["order_id"]}
		for i := 0; i < len(more); i += 2 {
			m[more[i]] = more[i+1]
		}
		return m
	}
	copied("orders", with("number", "t.number + n.i * 1000000", "checkout", "t.checkout || '-' || n.i"))
	copied("order_lines", with())
	copied("ledger_entries", with("attempt", "CASE t.attempt WHEN '' THEN '' ELSE t.attempt || '-' || n.i END"))
	copied("figures", with())
	var n int
	if err := db.QueryRow("SELECT COUNT(*) FROM orders").Scan(&n); err != nil {
		b.Fatal(err)
	}
	return n
}

// BenchmarkManyOrders shows what a desk with a hundred thousand orders looks
// at: money, the newest orders, orders that a text is searched in, and today.
// Money is summed up from the entries once; that time stands by itself.
func BenchmarkManyOrders(b *testing.B) {
	s, server := bench(b)
	n := manyOrders(b, s)
	ctx := context.Background()
	money := func() error { _, err := server.Desk.Money(ctx, desk.MoneyQuery{}, "en"); return err }
	began := time.Now()
	if err := money(); err != nil {
		b.Fatal(err)
	}
	first := time.Since(began)
	for name, look := range map[string]func() error{
		"money":  money,
		"orders": func() error { _, err := server.Desk.Orders(ctx, store.LineFilter{}, 1, "en"); return err },
		"by promise": func() error {
			_, err := server.Desk.Orders(ctx, store.LineFilter{Sort: store.ByPromise}, 1, "en")
			return err
		},
		"by customer": func() error {
			_, err := server.Desk.Orders(ctx, store.LineFilter{Sort: store.ByCustomer, Turned: true}, 2, "en")
			return err
		},
		"far page": func() error { _, err := server.Desk.Orders(ctx, store.LineFilter{}, 900, "en"); return err },
		"search":   func() error { _, err := server.Desk.Orders(ctx, store.LineFilter{Text: "greta"}, 1, "en"); return err },
		"today":    func() error { _, err := server.Desk.Today(ctx, "en"); return err },
	} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if err := look(); err != nil {
					b.Fatal(err)
				}
			}
			b.ReportMetric(float64(n), "orders")
			if name == "money" {
				b.ReportMetric(float64(first.Milliseconds()), "first-ms")
			}
		})
	}
}
