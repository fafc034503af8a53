package store

import (
	"errors"
	"testing"
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/storetest"
)

// Orders from before coupons, tips and payment in parts are as paid as they
// were.
func TestMigratingOrdersFromBeforePricing(t *testing.T) {
	folder := oldDatabase(t, 2, businessBefore,
		`INSERT INTO orders (number, checkout, name, email, language, slip, total, currency, state, created_at, paid_at)
			VALUES (7, 'a', 'Ada', 'ada@example.org', 'en', '{"total":2400}', 2400, 'EUR', 'paid', '2026-11-01 10:00:00', '2026-11-01 10:01:00')`,
		`INSERT INTO orders (checkout, name, email, language, slip, total, currency, state, created_at)
			VALUES ('b', 'Bo', 'bo@example.org', 'en', '{"total":900}', 900, 'EUR', 'open', '2026-11-01 11:00:00')`,
	)
	s := open1(t, folder)
	read(t, s, func(tx *Tx) error {
		for name, want := range map[string][2]money.Amount{"a": {2400, 0}, "b": {0, 0}} {
			o, err := tx.OrderByCheckout(name)
			if err != nil {
				return err
			}
			entries, err := tx.Entries(o.ID)
			if b := ledger.Sum(entries); err != nil || b.Paid != want[0] || b.Open() != want[1] || o.Tip != 0 || b.Held != 0 || len(o.Coupons) != 0 || o.CancelledAt != nil {
				t.Errorf("%s: %+v, %+v, %v", name, o, entries, err)
			}
		}
		if b, err := tx.Business(); err != nil || b.Currency != "EUR" || b.TaxAdded || b.Few != 3 {
			t.Errorf("%+v, %v", b, err)
		}
		return nil
	})
}

// Pieces on hand go up and down with every change kept, and never below none.
func TestStockMoves(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	_, line := sold(t, s)
	stock := Stock{ProductID: new(int64(1)), Pieces: 3, Low: 1}
	write(t, s, func(tx *Tx) error {
		if err := tx.SaveStock(&stock); err != nil {
			return err
		}
		for _, delta := range []int{2, -4, 0, -3, -1, 6} {
			if err := tx.MoveStock(stock.ID, delta, "count", "Ilse", nil, now); err != nil {
				return err
			}
		}
		return nil
	})
	read(t, s, func(tx *Tx) error {
		moves, err := tx.StockMoves(stock.ID, 3)
		if err != nil || len(moves) != 3 || moves[0].Delta != 6 || moves[0].Pieces != 6 || moves[1].Delta != -1 || moves[1].Pieces != 0 || moves[2].Delta != -4 || moves[2].Pieces != 1 {
			t.Errorf("%+v, %v", moves, err)
		}
		return nil
	})
	err := s.Write(t.Context(), func(tx *Tx) error {
		return tx.SaveStock(&Stock{ProductID: new(int64(1)), Question: "size", Choice: "s", Pieces: -1})
	})
	if err == nil {
		t.Error("fewer than no pieces were kept")
	}

	// What a checkout holds runs out; what is taken does not count as held.
	until := now.Add(15 * time.Minute)
	hold := StockHold{StockID: stock.ID, LineID: line, Pieces: 2, HeldUntil: &until}
	write(t, s, func(tx *Tx) error { return tx.SaveHold(&hold) })
	held := func(at time.Time, except int64) (n int) {
		read(t, s, func(tx *Tx) error {
			all, err := tx.HeldStock(at, except)
			n = all[stock.ID]
			return err
		})
		return n
	}
	for _, c := range []struct {
		at     time.Time
		except int64
		want   int
	}{{now, 0, 2}, {now, line, 0}, {until.Add(-time.Second), 0, 2}, {until, 0, 0}} {
		if got := held(c.at, c.except); got != c.want {
			t.Errorf("at %v without %d: %d held", c.at, c.except, got)
		}
	}
	hold.Taken, hold.HeldUntil = true, nil
	write(t, s, func(tx *Tx) error { return tx.SaveHold(&hold) })
	if held(now, 0) != 0 {
		t.Error("what was taken is still held")
	}
}

// A use counts while a checkout holds it and for good when it is paid.
func TestCouponUses(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	a, b := ordered(t, s, "a", order.Prepared), ordered(t, s, "b", order.Prepared)
	off := money.Amount(500)
	c := Coupon{Code: "TWICE", Rule: charge.Coupon{Code: "TWICE", Portion: charge.Portion{Amount: &off}}, MostUses: 2, CreatedAt: now}
	until := now.Add(15 * time.Minute)
	write(t, s, func(tx *Tx) error {
		if err := tx.SaveCoupon(&c); err != nil {
			return err
		}
		if err := tx.HoldCoupons(a, "a@example.org", []int64{c.ID}, until); err != nil {
			return err
		}
		return tx.HoldCoupons(b, "b@example.org", []int64{c.ID}, until)
	})
	uses := func(email string, at time.Time, except int64) (got [2]int) {
		read(t, s, func(tx *Tx) error {
			u, err := tx.CouponUses(c.ID, email, at, except)
			got = [2]int{u.All, u.Each}
			return err
		})
		return got
	}
	expect := func(what string, got, want [2]int) {
		t.Helper()
		if got != want {
			t.Errorf("%s: %v in all and each, want %v", what, got, want)
		}
	}
	expect("held by two", uses("a@example.org", now, 0), [2]int{2, 1})
	expect("besides one's own", uses("a@example.org", now, a), [2]int{1, 0})
	write(t, s, func(tx *Tx) error { return tx.TakeCoupons(a) })
	expect("when the holds ran out", uses("a@example.org", until, 0), [2]int{1, 1})
	write(t, s, func(tx *Tx) error { return tx.HoldCoupons(b, "b@example.org", nil, until) })
	expect("given back", uses("b@example.org", now, 0), [2]int{1, 0})

	// What it took off is read from the slips of paid orders.
	write(t, s, func(tx *Tx) error {
		o, err := tx.OrderByCheckout("a")
		if err != nil {
			return err
		}
		o.State = order.Placed
		o.Slip = charge.Slip{Lines: []charge.Line{{Amount: 3000}, {Part: charge.PartCoupon, Code: "TWICE", Amount: -300}, {Part: charge.PartCoupon, Code: "OTHER", Amount: -100}, {Part: charge.PartCoupon, Code: "TWICE", Amount: -200}}}
		return tx.SaveOrder(&o)
	})
	read(t, s, func(tx *Tx) error {
		sums, err := tx.CouponSums(now)
		if err != nil || sums[c.ID] != (CouponSum{Used: 1, Given: 500}) {
			t.Errorf("%+v, %v", sums, err)
		}
		return nil
	})
	if err := s.Write(t.Context(), func(tx *Tx) error { return tx.SaveCoupon(&Coupon{Code: "TWICE", CreatedAt: now}) }); err == nil {
		t.Error("two coupons have one code")
	}
}

// An address belongs to one group: the one it joined, or else the first one
// that has its domain, whole.
func TestWhoBelongsToAGroup(t *testing.T) {
	s := open1(t, storetest.Folder(t))
	trade := CustomerGroup{Key: "trade", Name: "The trade", Domains: []string{"shops.example.org"}, Invite: "t"}
	schools := CustomerGroup{Key: "schools", Name: "Schools", Domains: []string{"School.Example.org", "shops.example.org"}, Invite: "s"}
	write(t, s, func(tx *Tx) error {
		for _, g := range []*CustomerGroup{&trade, &schools} {
			if err := tx.SaveGroup(g); err != nil {
				return err
			}
		}
		if err := tx.Join(Member{Email: "ada@school.example.org", GroupID: schools.ID, Joined: "link", CreatedAt: now}); err != nil {
			return err
		}
		return tx.Join(Member{Email: "ada@school.example.org", GroupID: trade.ID, Joined: "hand", CreatedAt: now})
	})
	of := func(email string) (key string) {
		read(t, s, func(tx *Tx) error {
			g, err := tx.GroupOf(email)
			if errors.Is(err, ErrNotFound) {
				return nil
			}
			key = g.Key
			return err
		})
		return key
	}
	for email, want := range map[string]string{
		"ada@school.example.org":    "trade", // joined last
		"bo@school.example.org":     "schools",
		"bo@sub.school.example.org": "", // another domain
		"bo@notschool.example.org":  "",
		"cy@shops.example.org":      "schools", // the first by name
		"example.org":               "",
	} {
		if got := of(email); got != want {
			t.Errorf("%s belongs to %q, want %q", email, got, want)
		}
	}
	write(t, s, func(tx *Tx) error { return tx.DropGroup(trade.ID) })
	if got := of("ada@school.example.org"); got != "schools" {
		t.Errorf("without the group that was joined: %q", got)
	}
	read(t, s, func(tx *Tx) error {
		if rest, err := tx.Members(); err != nil || len(rest) != 0 {
			t.Errorf("members of no group: %+v, %v", rest, err)
		}
		return nil
	})
}
