package web

import (
	"bytes"
	"context"
	"fmt"
	"path/filepath"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/transfer"
	"ruvo/internal/desk"
	"ruvo/internal/standin/bank"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// manyOrders makes about a hundred thousand orders of the sample's own, each
// many times.
func manyOrders(b *testing.B, s *store.Store) (orders, items int) {
	b.Helper()
	if err := s.Multiply(context.Background(), 100_000, func(int) {}); err != nil {
		b.Fatal(err)
	}
	if err := storetest.SQL(b, filepath.Join(s.Folder(), store.File)).QueryRow("SELECT (SELECT COUNT(*) FROM orders), (SELECT COUNT(*) FROM work_items)").Scan(&orders, &items); err != nil {
		b.Fatal(err)
	}
	return orders, items
}

// BenchmarkManyOrders shows what a desk with a hundred thousand orders looks
// at: money and its entries, the newest orders, orders that a text is searched in,
// today, products and work.
// Money is summed up from the entries once; that time stands by itself.
func BenchmarkManyOrders(b *testing.B) {
	s, server := bench(b)
	n, items := manyOrders(b, s)
	ctx := context.Background()
	money := func() error { _, err := server.Desk.Money(ctx, desk.MoneyQuery{}, "en"); return err }
	began := time.Now()
	if err := money(); err != nil {
		b.Fatal(err)
	}
	first := time.Since(began)
	for name, look := range map[string]func() error{
		"money": money,
		"orders": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{}}, 1, "en")
			return err
		},
		"by promise": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{Sort: store.ByPromise}}, 1, "en")
			return err
		},
		"by customer": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{Sort: store.ByCustomer, Turned: true}}, 2, "en")
			return err
		},
		"far page": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{}}, 900, "en")
			return err
		},
		"search": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{Text: "greta"}}, 1, "en")
			return err
		},
		"new": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{New: true}}, 1, "en")
			return err
		},
		"money open": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{Money: "open"}}, 1, "en")
			return err
		},
		"money settled": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{Money: "settled"}}, 1, "en")
			return err
		},
		"in answers": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{Answers: "Tromsdal"}}, 1, "en")
			return err
		},
		"in no answer": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{Answers: "never said"}}, 1, "en")
			return err
		},
		"of days": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{From: today.AddDate(0, -6, 0), To: today.AddDate(0, -5, 0)}}, 1, "en")
			return err
		},
		"of a customer": func() error {
			_, err := server.Desk.Orders(ctx, desk.OrderQuery{LineFilter: store.LineFilter{}, Customer: "tove+100@example.org"}, 1, "en")
			return err
		},
		"customers":          func() error { _, err := server.Desk.Customers(ctx, "", "", false, 1); return err },
		"customers by name":  func() error { _, err := server.Desk.Customers(ctx, "", "name", false, 1); return err },
		"customers by spent": func() error { _, err := server.Desk.Customers(ctx, "", "spent", false, 3); return err },
		"customers searched": func() error { _, err := server.Desk.Customers(ctx, "nobody has this", "", false, 1); return err },
		"customers for news": func() error { _, err := server.Desk.Customers(ctx, "", "", true, 1); return err },
		"customer":           func() error { _, err := server.Desk.Customer(ctx, "tove+100@example.org", "en"); return err },
		"answers":            func() error { _, err := server.Desk.AnswerTable(ctx, 1, desk.AnswerQuery{Page: 3}, "en"); return err },
		"answers narrowed": func() error {
			_, err := server.Desk.AnswerTable(ctx, 1, desk.AnswerQuery{Question: "paper", What: "Moss"}, "en")
			return err
		},
		"answers searched": func() error {
			_, err := server.Desk.AnswerTable(ctx, 1, desk.AnswerQuery{Text: "tromsdal"}, "en")
			return err
		},
		"answers searched, of many": func() error {
			_, err := server.Desk.AnswerTable(ctx, 1, desk.AnswerQuery{Text: "moss"}, "en")
			return err
		},
		"answers sorted": func() error {
			_, err := server.Desk.AnswerTable(ctx, 1, desk.AnswerQuery{Sort: "answer", By: "night", Turned: true}, "en")
			return err
		},
		"sheet answers": func() error { _, err := server.Desk.SheetAnswers(ctx, 2, desk.AnswerQuery{}, "en"); return err },
		"stops":         func() error { _, err := server.Desk.Stops(ctx, 1, 30, "en"); return err },
		"agreements":    func() error { _, err := server.Desk.Agreements(ctx); return err },
		"today":         func() error { _, err := server.Desk.Today(ctx, "en"); return err },
		"products":      func() error { _, err := server.Desk.Products(ctx); return err },
		"work":          func() error { _, err := server.Desk.Work(ctx, 0, 0); return err },
		"load":          func() error { _, err := server.Desk.Load(ctx); return err },
		"entries": func() error {
			_, err := server.Desk.Entries(ctx, desk.EntryQuery{From: "2026-11-01", To: "2026-11-30", Kind: "paid"}, "en")
			return err
		},
		"by day": func() error { _, err := server.Desk.Money(ctx, desk.MoneyQuery{By: "day"}, "en"); return err },
	} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if err := look(); err != nil {
					b.Fatal(err)
				}
			}
			b.ReportMetric(float64(n), "orders")
			b.ReportMetric(float64(items), "items")
			if name == "money" {
				b.ReportMetric(float64(first.Milliseconds()), "first-ms")
			}
		})
	}
}

// BenchmarkStatement reads a bank statement of 100,000 rows at a desk with as
// many orders, to the end of its report; a twentieth of the rows are of orders.
func BenchmarkStatement(b *testing.B) {
	s, server := bench(b)
	manyOrders(b, s)
	ctx := context.Background()
	var all []bank.Transfer
	for i := range 100_000 {
		t := bank.Transfer{Day: calendar.DayOf(today), Amount: money.Amount(100 + i%9000), Currency: "EUR", Payer: fmt.Sprintf("Payer %d", i), Text: fmt.Sprintf("invoice %d", i), Name: fmt.Sprintf("N%d", i)}
		if i%20 == 0 {
			t.Reference = transfer.Reference(int64(2000 + i/20))
		}
		all = append(all, t)
	}
	n := 0
	for b.Loop() {
		n++
		all[0].Text = fmt.Sprint("statement ", n)
		raw, err := bank.Statement{Account: account, Transfers: all}.CAMT()
		if err != nil {
			b.Fatal(err)
		}
		if _, err := server.Clerk.Take(ctx, "large.xml", bytes.NewReader(raw), "Ilse"); err != nil {
			b.Fatal(err)
		}
		if err := server.Clerk.Round(ctx); err != nil {
			b.Fatal(err)
		}
		b.SetBytes(int64(len(raw)))
	}
}
