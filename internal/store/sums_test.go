package store

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/storetest"
)

// What is kept as sums of customers is what their orders come to, whatever happens: at
// random orders are placed, cancelled and lapse, people are noted, merged and parted, and
// say yes and no to news.
func TestSumsOfCustomersAgree(t *testing.T) {
	s, err := Open(storetest.Folder(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	seed := rand.Uint64()
	r := rand.New(rand.NewPCG(seed, 1))
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	mails := []string{"ada@example.org", "Ada@Example.org", "bo@example.org", "cy@example.org", "di@example.org"}
	mail := func() string { return mails[r.IntN(len(mails))] }
	var orders []Order
	write := func(f func(*Tx) error) {
		t.Helper()
		if err := s.Write(t.Context(), f); err != nil {
			t.Fatalf("seed %d: %v", seed, err)
		}
	}
	write(func(tx *Tx) error {
		return tx.SaveBusiness(Business{ID: 1, Name: "Studio", Language: "en", Zone: "UTC", Currency: "EUR"})
	})
	for step := range 400 {
		write(func(tx *Tx) error {
			switch r.IntN(8) {
			case 0, 1:
				o := Order{Checkout: fmt.Sprint(step), Name: fmt.Sprint("Name ", r.IntN(4)), Email: mail(), Language: "en", State: order.Prepared, CreatedAt: at, Total: money.Amount(r.IntN(9000)), Currency: []money.Currency{"EUR", "CHF"}[r.IntN(2)]}
				err := tx.SaveOrder(&o)
				orders = append(orders, o)
				return err
			case 2, 3, 4:
				if len(orders) == 0 {
					return nil
				}
				o := &orders[r.IntN(len(orders))]
				o.State = []order.State{order.Prepared, order.Awaiting, order.Placed, order.Cancelled, order.Lapsed}[r.IntN(5)]
				if r.IntN(10) == 0 {
					o.Email = mail()
				}
				return tx.SaveOrder(o)
			case 5:
				return tx.SaveCustomer(&Customer{Email: []string{"ada@example.org", "bo@example.org", "noted@example.org"}[r.IntN(3)], Name: fmt.Sprint("Noted ", r.IntN(3)), UpdatedAt: at})
			case 6:
				return tx.AddNewsWord(NewsWord{Email: mail(), Agreed: r.IntN(2) == 0, At: at})
			}
			one, other := []string{"ada@example.org", "bo@example.org"}[r.IntN(2)], []string{"cy@example.org", "di@example.org"}[r.IntN(2)]
			if r.IntN(2) == 0 {
				return tx.DropAlias(other)
			}
			return tx.Alias(other, one)
		})
		agree := false
		read(t, s, func(tx *Tx) (err error) {
			agree, err = tx.CustomersAgree()
			return err
		})
		if !agree {
			t.Fatalf("seed %d: after step %d the sums are others", seed, step)
		}
	}
	write(func(tx *Tx) error {
		b, err := tx.Business()
		b.Currency = "CHF"
		if err == nil {
			err = tx.SaveBusiness(b)
		}
		return err
	})
	read(t, s, func(tx *Tx) error {
		agree, err := tx.CustomersAgree()
		if !agree {
			t.Error("in another currency the sums are others")
		}
		return err
	})
}

// A database from before has the sums, what is open, and what can be searched.
func TestSumsFromBefore(t *testing.T) {
	s := open1(t, oldDatabase(t, 30, businessBefore,
		`INSERT INTO products (id, slug, position, draft, version, changed, updated_at) VALUES (1, 'chart', 1, '{}', 1, true, '2026-11-01')`,
		`INSERT INTO editions (id, product_id, number, content, published_at) VALUES (1, 1, 1, '{}', '2026-11-01')`,
		`INSERT INTO orders (id, number, checkout, name, email, language, slip, total, currency, state, created_at, placed_at) VALUES
			(1, 1001, 'a', 'Ada', 'Ada@example.org', 'en', '{}', 3600, 'EUR', 'placed', '2026-11-01', '2026-11-01'),
			(2, 1002, 'b', 'Ada Quill', 'ada@example.org', 'en', '{}', 100, 'EUR', 'cancelled', '2026-11-02', '2026-11-02')`,
		`INSERT INTO order_lines (id, order_id, position, product_id, edition_id, quantity, answers, slip, version, brief, open_items, placed) VALUES
			(1, 1, 1, 1, 1, 1, '{"place": "Tromsdal, NORWAY", "size": "large"}', '{}', 1, 'waiting', 0, true)`,
		`INSERT INTO ledger_entries (order_id, kind, amount, currency, at, day, due, way, attempt, author, reason, note) VALUES
			(1, 'charged', 3600, 'EUR', '2026-11-01', '2026-11-01', '', '', '', '', '', ''), (1, 'paid', 1000, 'EUR', '2026-11-01', '2026-11-01', '', 'cash', '', '', '', '')`))
	read(t, s, func(tx *Tx) error {
		rows, err := tx.ListCustomers(CustomerFilter{Most: 10})
		if err != nil || len(rows) != 1 || rows[0].Name != "Ada Quill" || rows[0].Orders != 2 || rows[0].Spent != 3600 {
			t.Errorf("%+v, %v", rows, err)
		}
		for want, f := range map[int]LineFilter{1: {Money: "open", Answers: "norway", Most: 10}, 0: {Money: "settled", Most: 10}} {
			if found, err := tx.ListLines(f); err != nil || len(found) != want {
				t.Errorf("%+v: %+v, %v", f, found, err)
			}
		}
		open, err := tx.ListedOpen(1)
		entries, _ := tx.Entries(1)
		if open != 2600 || open != ledger.Sum(entries).Open() {
			t.Errorf("%d is open", open)
		}
		return err
	})
}
