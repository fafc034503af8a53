package store

import (
	"encoding/json"
	"fmt"
	"time"

	"gorm.io/gorm"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
)

var ledgerTables = []string{
	`CREATE TABLE ledger_entries (
		id INTEGER PRIMARY KEY AUTOINCREMENT, order_id INTEGER NOT NULL REFERENCES orders (id), kind TEXT NOT NULL, amount INTEGER NOT NULL,
		currency TEXT NOT NULL, at DATETIME NOT NULL, day TEXT NOT NULL, due TEXT NOT NULL, way TEXT NOT NULL, attempt TEXT NOT NULL,
		author TEXT NOT NULL, reason TEXT NOT NULL, CHECK (kind = 'charged' OR amount > 0))`,
	`CREATE INDEX ledger_entries_order ON ledger_entries (order_id, kind, amount)`,
	`CREATE TABLE figures (
		id INTEGER PRIMARY KEY AUTOINCREMENT, order_id INTEGER NOT NULL REFERENCES orders (id), day TEXT NOT NULL, currency TEXT NOT NULL,
		figure TEXT NOT NULL, percent TEXT NOT NULL, net INTEGER NOT NULL, amount INTEGER NOT NULL, n INTEGER NOT NULL)`,
	`CREATE INDEX figures_order ON figures (order_id)`,
	`CREATE UNIQUE INDEX ledger_entries_attempt ON ledger_entries (attempt, kind) WHERE attempt <> ''`,
	`ALTER TABLE payments RENAME TO attempts`,
	`ALTER TABLE attempts RENAME COLUMN attempt TO name`,
	`ALTER TABLE attempts ADD COLUMN held INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE attempts ADD COLUMN author TEXT NOT NULL DEFAULT ''`,
	`ALTER TABLE attempts ADD COLUMN tries INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE attempts ADD COLUMN ask_at DATETIME`,
	`UPDATE attempts SET state = CASE state WHEN 'pending' THEN 'asked' WHEN 'paid' THEN 'settled' WHEN 'declined' THEN 'refused' ELSE state END,
		purpose = CASE purpose WHEN 'rest' THEN 'pay' ELSE 'place' END`,
	`UPDATE card_charges SET outcome = CASE outcome WHEN 'paid' THEN 'settled' WHEN 'declined' THEN 'refused' ELSE outcome END`,
	`ALTER TABLE orders RENAME COLUMN paid_at TO placed_at`,
	`ALTER TABLE order_lines RENAME COLUMN paid TO placed`,
	`ALTER TABLE coupon_uses RENAME COLUMN paid TO taken`,
	`UPDATE orders SET state = CASE state WHEN 'open' THEN 'prepared' WHEN 'confirm' THEN 'paying' WHEN 'paid' THEN 'placed' ELSE state END`,
	`UPDATE orders SET state = 'paying' WHERE state = 'prepared' AND id IN (SELECT order_id FROM attempts WHERE state IN ('asked', 'confirm'))`,
	`UPDATE orders SET email = lower(email)`,
	`UPDATE coupon_uses SET email = lower(email)`,
	`UPDATE OR REPLACE members SET email = lower(email)`,
	`UPDATE passes SET email = lower(email)`,
	`ALTER TABLE outbox ADD COLUMN tries INTEGER NOT NULL DEFAULT 0`,
	`ALTER TABLE outbox ADD COLUMN next_at DATETIME`,
	`ALTER TABLE outbox ADD COLUMN failure TEXT NOT NULL DEFAULT ''`,
}

var ledgerSeals = []string{
	`CREATE TRIGGER ledger_entries_stay BEFORE UPDATE ON ledger_entries BEGIN SELECT RAISE(ABORT, 'an entry never changes'); END`,
	`CREATE TRIGGER ledger_entries_keep BEFORE DELETE ON ledger_entries BEGIN SELECT RAISE(ABORT, 'an entry is never dropped'); END`,
	`CREATE TRIGGER figures_stay BEFORE UPDATE ON figures BEGIN SELECT RAISE(ABORT, 'a figure never changes'); END`,
	`CREATE TRIGGER figures_keep BEFORE DELETE ON figures BEGIN SELECT RAISE(ABORT, 'a figure is never dropped'); END`,
	`ALTER TABLE orders DROP COLUMN received`,
	`ALTER TABLE orders DROP COLUMN held`,
	`ALTER TABLE orders DROP COLUMN refunded`,
}

// moneyBefore is what an order said of its money before there was a ledger.
type moneyBefore struct {
	ID                       int64
	Slip                     string
	Total                    money.Amount
	Currency                 money.Currency
	State                    string
	PlacedAt                 *time.Time
	CancelledAt              *time.Time
	Received, Held, Refunded money.Amount
}

// toLedger makes the ledger of every order from what was stored of its money,
// and refuses to go on should one not come to the same sums.
func toLedger(db *gorm.DB) error {
	if err := run(db, ledgerTables); err != nil {
		return err
	}
	var b Business
	if err := db.Limit(1).Find(&b).Error; err != nil {
		return err
	}
	zone := b.Location()
	for last := int64(0); ; {
		var rows []moneyBefore
		err := db.Raw(`SELECT id, slip, total, currency, state, placed_at, cancelled_at, received, held, refunded
			FROM orders WHERE number IS NOT NULL AND id > ? ORDER BY id LIMIT 500`, last).Scan(&rows).Error
		if err != nil {
			return err
		}
		if len(rows) == 0 {
			break
		}
		for _, row := range rows {
			last = row.ID
			var attempts []Attempt
			if err := db.Where("order_id = ? AND state = 'settled'", row.ID).Order("id").Find(&attempts).Error; err != nil {
				return err
			}
			if err := row.keep(&Tx{db: db}, attempts, zone); err != nil {
				return fmt.Errorf("the ledger of order %d: %w", row.ID, err)
			}
		}
	}
	return run(db, ledgerSeals)
}

// keep keeps an order's ledger and its shares of figures.
func (m *moneyBefore) keep(tx *Tx, attempts []Attempt, zone *time.Location) error {
	var slip charge.Slip
	if err := json.Unmarshal([]byte(m.Slip), &slip); err != nil {
		return fmt.Errorf("its slip: %w", err)
	}
	slip.Total = m.Total
	entries, err := m.entries(&slip, attempts)
	if err != nil {
		return err
	}
	o := &Order{ID: m.ID, Currency: m.Currency}
	rows := make([][]any, len(entries)) // without the columns that came later
	for i, e := range entries {
		rows[i] = []any{o.ID, e.Kind, e.Amount, o.Currency, e.At.UTC(), calendar.DayOf(e.At.In(zone)).String(), e.Due, e.Way, e.Attempt, e.Author, e.Reason}
	}
	if err := tx.insert("ledger_entries (order_id, kind, amount, currency, at, day, due, way, attempt, author, reason)", rows); err != nil {
		return err
	}
	for _, a := range attempts {
		if err := tx.db.Model(&Attempt{}).Where("id = ?", a.ID).Update("held", a.Held).Error; err != nil {
			return err
		}
	}
	shares := ledger.Figures(&slip)
	err = tx.AddFigures(o, shares, When(m.PlacedAt), zone)
	if err == nil && m.State == "cancelled" {
		err = tx.AddFigures(o, takenBack(shares), When(m.CancelledAt), zone)
	}
	return err
}

// takenBack gives shares taken back, as cancelling did then.
func takenBack(shares []ledger.Share) []ledger.Share {
	list := make([]ledger.Share, len(shares))
	for i, s := range shares {
		s.Net, s.Amount, s.N = -s.Net, -s.Amount, -s.N
		list[i] = s
	}
	return list
}

// entries makes an order's ledger from what was stored of its money. Settled
// attempts learn how much of theirs is held.
func (m *moneyBefore) entries(slip *charge.Slip, attempts []Attempt) ([]ledger.Entry, error) {
	placed, closed := When(m.PlacedAt), When(m.CancelledAt)
	if closed.IsZero() {
		closed = placed
	}
	list := ledger.Charging(slip, placed)
	var paid, held money.Amount
	for i := range attempts {
		a := &attempts[i]
		if a.Purpose == ledger.ToPlace {
			a.Held = min(slip.Held, a.Amount)
		}
		again := a.Ledger()
		again.State = ledger.Asked
		entries := again.Answer(ledger.Settled, "", a.CreatedAt)
		b := ledger.Sum(entries)
		paid, held = paid+b.Paid, held+b.Held
		list = append(list, entries...)
	}
	add := func(k ledger.Kind, n money.Amount, at time.Time) {
		if n > 0 {
			list = append(list, ledger.Entry{Kind: k, Amount: n, At: at, Way: ledger.Hand, Reason: ledger.Unrecorded})
		}
	}
	// What came in beyond what attempts tell was noted at the desk. When an
	// attempt was confirmed after another had paid, more came in than was noted:
	// the ledger says so, and the order shows it as overpaid.
	add(ledger.Paid, m.Received-paid, placed)
	add(ledger.Held, m.Held-held, placed)
	add(ledger.Released, max(held, m.Held)-m.Held, closed)
	add(ledger.Returned, m.Refunded, closed)
	if m.State == "cancelled" {
		kept := m.Received - m.Refunded
		if fall := m.Total - kept; fall != 0 {
			list = append(list, ledger.Entry{Kind: ledger.Charged, Amount: -fall, At: closed, Reason: ledger.Cancelling})
		}
	}
	b := ledger.Sum(list)
	if b.Paid != max(m.Received, paid) || b.Returned != m.Refunded || b.Security() != m.Held {
		return nil, fmt.Errorf("received %d, given back %d and held %d became %+v", m.Received, m.Refunded, m.Held, b)
	}
	if open := max(m.Total-m.Received, 0); m.State == "placed" && paid <= m.Received && b.Open() != open {
		return nil, fmt.Errorf("%d was open and %d would be", open, b.Open())
	}
	return list, nil
}
