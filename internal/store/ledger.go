package store

import (
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
)

// An Entry is one line of an order's ledger as it is kept. Triggers refuse to
// change or drop one.
type Entry struct {
	ID       int64
	OrderID  int64
	Kind     ledger.Kind
	Amount   money.Amount
	Currency money.Currency
	At       time.Time
	Day      string // of At in the business's time zone, for sums by day and month
	Due      string
	Way      ledger.Way
	Attempt  string
	Author   string
	Reason   string
	Note     string
}

// TableName is ledger_entries.
func (Entry) TableName() string { return "ledger_entries" }

// Ledger gives the entry as the ledger knows it.
func (e *Entry) Ledger() ledger.Entry {
	return ledger.Entry{Kind: e.Kind, Amount: e.Amount, At: e.At, Due: e.Due, Way: e.Way, Attempt: e.Attempt, Author: e.Author, Reason: e.Reason, Note: e.Note}
}

func ledgerOf(rows []Entry) []ledger.Entry {
	list := make([]ledger.Entry, len(rows))
	for i := range rows {
		list[i] = rows[i].Ledger()
	}
	return list
}

// Entries lists an order's ledger, the oldest first.
func (tx *Tx) Entries(order int64) ([]ledger.Entry, error) {
	rows, err := list[Entry](tx, "id", "order_id = ?", order)
	return ledgerOf(rows), err
}

// AddEntries adds to an order's ledger.
func (tx *Tx) AddEntries(o *Order, entries []ledger.Entry, zone *time.Location) error {
	rows := make([][]any, len(entries))
	for i, e := range entries {
		rows[i] = []any{o.ID, e.Kind, e.Amount, o.Currency, e.At.UTC(), calendar.DayOf(e.At.In(zone)).String(), e.Due, e.Way, e.Attempt, e.Author, e.Reason, e.Note}
	}
	return tx.insert("ledger_entries (order_id, kind, amount, currency, at, day, due, way, attempt, author, reason, note)", rows)
}

// Balances gives the balances of several orders.
func (tx *Tx) Balances(orders []int64) (map[int64]ledger.Balance, error) {
	var rows []struct {
		OrderID int64
		Kind    ledger.Kind
		Amount  money.Amount
	}
	err := tx.db.Raw("SELECT order_id, kind, SUM(amount) AS amount FROM ledger_entries WHERE order_id IN ? GROUP BY order_id, kind", orders).Scan(&rows).Error
	all := make(map[int64]ledger.Balance, len(orders))
	for _, r := range rows {
		b := all[r.OrderID]
		b.Add(r.Kind, r.Amount)
		all[r.OrderID] = b
	}
	return all, err
}

// An Attempt is one try to move money of an order, as it is kept.
type Attempt struct {
	ID        int64
	OrderID   int64
	Name      string // the same in every request to the payment service
	Purpose   ledger.Purpose
	Of        string // of what goes back: the name of the payment that it goes back of
	Amount    money.Amount
	Held      money.Amount // of it, as a security deposit
	State     ledger.State
	Reason    string
	Fee       money.Amount
	Page      string // where the customer pays, while they are awaited
	Author    string // at the desk; empty for the customer
	Note      string // given at the desk, of what goes back
	CreatedAt time.Time
	Tries     int        // how often the service was asked about it
	AskAt     *time.Time // when it is asked about next
}

// Ledger gives the attempt as the ledger knows it.
func (a *Attempt) Ledger() ledger.Attempt {
	return ledger.Attempt{Name: a.Name, Purpose: a.Purpose, Of: a.Of, Amount: a.Amount, Held: a.Held, State: a.State, Reason: a.Reason, Fee: a.Fee}
}

// AttemptByName finds an attempt.
func (tx *Tx) AttemptByName(name string) (Attempt, error) {
	return first[Attempt](tx, "name = ?", name)
}

// Attempts lists an order's attempts, the oldest first.
func (tx *Tx) Attempts(order int64) ([]Attempt, error) {
	return list[Attempt](tx, "id", "order_id = ?", order)
}

// An AttemptOf is an attempt with the number and currency of its order.
type AttemptOf struct {
	Name     string
	Purpose  ledger.Purpose
	State    ledger.State
	Amount   money.Amount
	Fee      money.Amount
	Currency money.Currency
	Number   int64 // 0 for a checkout
}

// AllAttempts lists every attempt there is, the oldest first.
func (tx *Tx) AllAttempts() ([]AttemptOf, error) {
	var rows []AttemptOf
	err := tx.db.Raw(`SELECT a.name, a.purpose, a.state, a.amount, a.fee, o.currency, COALESCE(o.number, 0) AS number
		FROM attempts a JOIN orders o ON o.id = a.order_id ORDER BY a.id`).Scan(&rows).Error
	return rows, err
}

// AddAttempt keeps a new attempt.
func (tx *Tx) AddAttempt(a *Attempt) error {
	return tx.db.Raw(`INSERT INTO attempts (order_id, name, purpose, "of", amount, held, state, reason, fee, page, author, note, created_at, tries, ask_at)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id`,
		a.OrderID, a.Name, a.Purpose, a.Of, a.Amount, a.Held, a.State, a.Reason, a.Fee, a.Page, a.Author, a.Note, a.CreatedAt, a.Tries, a.AskAt).Scan(&a.ID).Error
}

// SaveAttempt keeps how far an attempt is; what it is for stays as it was kept.
func (tx *Tx) SaveAttempt(a *Attempt) error {
	return tx.db.Exec("UPDATE attempts SET state = ?, reason = ?, fee = ?, page = ?, tries = ?, ask_at = ? WHERE id = ?", a.State, a.Reason, a.Fee, a.Page, a.Tries, a.AskAt, a.ID).Error
}

// AwaitedAt finds the payment of a checkout that waits for the customer;
// ErrNotFound when there is none.
func (tx *Tx) AwaitedAt(checkout string) (Attempt, error) {
	return first[Attempt](tx, "state = ? AND order_id = (SELECT id FROM orders WHERE checkout = ?)", ledger.Confirm, checkout)
}

// AttemptsToAsk lists the attempts that can still become either, and that are to
// be asked about by a time.
func (tx *Tx) AttemptsToAsk(now time.Time) ([]Attempt, error) {
	return list[Attempt](tx, "id", "state IN ? AND (ask_at IS NULL OR ask_at <= ? OR ask_at > ?)", []ledger.State{ledger.Asked, ledger.Confirm}, now.UTC(), now.Add(longestPause).UTC())
}

// ListedOpen gives what is open of an order as lists have it.
func (tx *Tx) ListedOpen(order int64) (money.Amount, error) {
	var open money.Amount
	err := tx.db.Raw("SELECT COALESCE((SELECT amount FROM open_orders WHERE order_id = ?), 0)", order).Scan(&open).Error
	return open, err
}

// Account gives an order's entries and attempts.
func (tx *Tx) Account(order int64) (*ledger.Account, error) {
	entries, err := tx.Entries(order)
	if err != nil {
		return nil, err
	}
	rows, err := tx.Attempts(order)
	a := &ledger.Account{Entries: entries, Attempts: make([]ledger.Attempt, len(rows))}
	for i := range rows {
		a.Attempts[i] = rows[i].Ledger()
	}
	return a, err
}
