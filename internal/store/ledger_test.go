package store

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/order"
	"ruvo/internal/storetest"
)

// before makes a database as it was before there was a ledger.
func before(t *testing.T, rows ...string) string {
	t.Helper()
	return oldDatabase(t, 3, append([]string{businessBefore}, rows...)...)
}

func orderBefore(number int, state, slip string, total, received, held, refunded int) string {
	cancelled := "NULL"
	if state == "cancelled" {
		cancelled = "'2026-11-05 09:00:00'"
	}
	return fmt.Sprintf(`INSERT INTO orders (id, number, checkout, name, email, language, slip, total, currency, state, created_at, paid_at, received, held, refunded, cancelled_at)
		VALUES (%[1]d, %[1]d, 'c%[1]d', 'Ada', 'Ada@Example.org', 'en', '%s', %d, 'EUR', '%s', '2026-10-31 23:20:00', '2026-10-31 23:30:00', %d, %d, %d, %s)`,
		number, slip, total, state, received, held, refunded, cancelled)
}

func paymentBefore(order int, attempt, state, purpose string, amount int) string {
	return fmt.Sprintf(`INSERT INTO payments (order_id, attempt, state, amount, last4, reason, created_at, purpose) VALUES (%d, '%s', '%s', %d, '0002', '', '2026-10-31 23:30:00', '%s')`,
		order, attempt, state, amount, purpose)
}

// Every order from before gets the entries that come to what was stored of it,
// to the cent, whatever had become of it.
func TestLedgersOfOrdersFromBefore(t *testing.T) {
	parts := `{"total":20000,"held":5000,"due":[{"day":"","amount":5000},{"day":"2026-12-24","amount":15000}]}`
	folder := before(t,
		orderBefore(1, "paid", `{"total":3600}`, 3600, 3600, 0, 0), paymentBefore(1, "a1", "declined", "", 3600), paymentBefore(1, "a2", "paid", "", 3600),
		orderBefore(2, "paid", parts, 20000, 5000, 5000, 0), paymentBefore(2, "b1", "paid", "", 10000),
		orderBefore(3, "paid", parts, 20000, 20000, 0, 0), paymentBefore(3, "c1", "paid", "", 10000), paymentBefore(3, "c2", "paid", "rest", 15000),
		orderBefore(4, "paid", parts, 20000, 20000, 5000, 0), paymentBefore(4, "d1", "paid", "", 10000), // the rest came in by hand
		orderBefore(5, "cancelled", parts, 20000, 5000, 0, 5000), paymentBefore(5, "e1", "paid", "", 10000),
		orderBefore(6, "cancelled", `{"total":3600}`, 3600, 3600, 0, 0), paymentBefore(6, "f1", "paid", "", 3600), // nothing was given back
		orderBefore(7, "paid", `{"total":0}`, 0, 0, 0, 0),
		orderBefore(8, "paid", parts, 20000, 35000, 5000, 0), paymentBefore(8, "g1", "paid", "", 10000), paymentBefore(8, "g2", "paid", "rest", 15000), paymentBefore(8, "g3", "paid", "rest", 15000), // paid twice
		`INSERT INTO orders (id, checkout, name, email, language, slip, total, currency, state, created_at) VALUES (9, 'c9', 'Bo', 'bo@example.org', 'en', '{"total":900}', 900, 'EUR', 'open', '2026-11-01 11:00:00')`,
		paymentBefore(9, "h1", "pending", "", 900),
		`INSERT INTO orders (id, checkout, name, email, language, slip, total, currency, state, created_at) VALUES (10, 'c10', 'Bo', 'bo@example.org', 'en', '{"total":900}', 900, 'EUR', 'confirm', '2026-11-01 11:00:00')`,
		paymentBefore(10, "i1", "confirm", "", 900),
		`INSERT INTO orders (id, checkout, name, email, language, slip, total, currency, state, created_at) VALUES (11, 'c11', 'Bo', 'bo@example.org', 'en', '{"total":900}', 900, 'EUR', 'open', '2026-11-01 11:00:00')`,
	)
	s := open1(t, folder)
	read(t, s, func(tx *Tx) error {
		for id, want := range map[int64]string{
			1:  "placed paid 3600 returned 0 held 0 open 0 overpaid 0",
			2:  "placed paid 5000 returned 0 held 5000 open 15000 overpaid 0",
			3:  "placed paid 20000 returned 0 held 0 open 0 overpaid 0",
			4:  "placed paid 20000 returned 0 held 5000 open 0 overpaid 0",
			5:  "cancelled paid 5000 returned 5000 held 0 open 0 overpaid 0",
			6:  "cancelled paid 3600 returned 0 held 0 open 0 overpaid 0",
			7:  "placed paid 0 returned 0 held 0 open 0 overpaid 0",
			8:  "placed paid 35000 returned 0 held 5000 open 0 overpaid 15000",
			9:  "paying paid 0 returned 0 held 0 open 0 overpaid 0",
			10: "paying paid 0 returned 0 held 0 open 0 overpaid 0",
			11: "prepared paid 0 returned 0 held 0 open 0 overpaid 0",
		} {
			o, err := tx.OrderByID(id)
			if err != nil {
				return err
			}
			a, err := tx.Account(id)
			if err != nil {
				return err
			}
			b := a.Balance()
			got := fmt.Sprintf("%s paid %d returned %d held %d open %d overpaid %d", o.State, b.Paid, b.Returned, b.Security(), b.Open(), b.Overpaid())
			if got != want || a.Overdrawn() != "" || o.Email != strings.ToLower(o.Email) {
				t.Errorf("order %d: %s, want %s; %s", id, got, want, a.Overdrawn())
			}
		}
		if p := ledger.Parts(must1(tx.Entries(2))); len(p) != 1 || p[0].Due != "2026-12-24" {
			t.Errorf("%+v", p)
		}
		ids, err := tx.Unbalanced(0, 10)
		if err != nil || fmt.Sprint(ids) != "[2 4 8]" {
			t.Errorf("%v, %v", ids, err)
		}
		// 23:30 UTC on 31 October is 1 November at the business.
		sums, err := tx.DaySums("EUR", "2026-10-01", "2027-12-31")
		for _, m := range sums {
			if m.Day < "2026-11-01" {
				t.Errorf("%+v", m)
			}
		}
		return err
	})
}

func must1[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

// What cannot be made into entries that come to the same is not touched.
func TestALedgerThatWouldNotComeToTheSame(t *testing.T) {
	folder := before(t, orderBefore(1, "paid", `{"total":3600}`, 3600, 3600, 0, 0), orderBefore(2, "paid", `{"total":`, 3600, 3600, 0, 0))
	if _, err := Open(folder); err == nil || !strings.Contains(err.Error(), "order 2") {
		t.Errorf("%v", err)
	}
}

func TestEntriesStay(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	sold(t, s)
	write(t, s, func(tx *Tx) error {
		return tx.AddEntries(&Order{ID: 1, Currency: "EUR"}, []ledger.Entry{{Kind: ledger.Paid, Amount: 500, At: now, Way: ledger.Card, Attempt: "a"}}, time.UTC)
	})
	for _, what := range []string{
		"UPDATE ledger_entries SET amount = 1", "DELETE FROM ledger_entries",
		"INSERT INTO ledger_entries SELECT NULL, order_id, kind, amount, currency, at, day, due, way, attempt, author, reason FROM ledger_entries", // twice by one attempt
		"INSERT INTO ledger_entries SELECT NULL, order_id, kind, -amount, currency, at, day, due, way, '', author, reason FROM ledger_entries",
	} {
		if err := s.Write(t.Context(), func(tx *Tx) error { return tx.db.Exec(what).Error }); err == nil {
			t.Errorf("%s was done", what)
		}
	}
}

// The running sums agree with sums over all entries, however they came in.
func TestRunningSums(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	sold(t, s)
	var orders []Order
	for i := range 6 {
		o := Order{Checkout: fmt.Sprint("r", i), Email: "a@example.org", Currency: "EUR", State: order.Placed, CreatedAt: now}
		write(t, s, func(tx *Tx) error { return tx.SaveOrder(&o) })
		orders = append(orders, o)
	}
	for round := range 40 {
		o := &orders[round*7%len(orders)]
		at := now.AddDate(0, 0, round*5)
		kind := ledger.Kinds()[round%4]
		write(t, s, func(tx *Tx) error {
			if err := tx.AddFigures(o, []ledger.Share{{Figure: ledger.Ordered, Amount: 100, N: 1}}, at, time.UTC); err != nil {
				return err
			}
			return tx.AddEntries(o, []ledger.Entry{{Kind: kind, Amount: 250, At: at}}, time.UTC)
		})
		_ = s.Write(t.Context(), func(tx *Tx) error { // what is undone counts nowhere
			if err := tx.AddEntries(o, []ledger.Entry{{Kind: kind, Amount: 999, At: at}}, time.UTC); err != nil {
				return err
			}
			return fmt.Errorf("undone")
		})
		if round%3 != 0 {
			continue
		}
		read(t, s, func(tx *Tx) error {
			got := map[string]int{}
			for _, m := range must1(tx.DaySums("EUR", "", "9999")) {
				got[m.Day+" "+m.What+string(m.Way)] += int(m.Amount)
			}
			want := map[string]int{}
			for _, e := range must1(list[Entry](tx, "id", "true")) {
				want[e.Day+" "+string(e.Kind)+string(e.Way)] += int(e.Amount)
			}
			for _, f := range must1(list[FigureRow](tx, "id", "true")) {
				want[f.Day+" "+string(f.Figure)] += int(f.Amount)
			}
			if fmt.Sprint(got) != fmt.Sprint(want) {
				t.Fatalf("after %d: %v, want %v", round, got, want)
			}
			var open []int64
			for _, o := range orders {
				if b := ledger.Sum(must1(tx.Entries(o.ID))); b.Open()+b.Overpaid() != 0 || b.Security() != 0 {
					open = append(open, o.ID)
				}
			}
			if ids := must1(tx.Unbalanced(0, 100)); fmt.Sprint(ids) != fmt.Sprint(open) {
				t.Fatalf("after %d: %v are open, want %v", round, ids, open)
			}
			return nil
		})
	}
}
