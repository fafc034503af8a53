package store

import (
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/statement"
	"ruvo/internal/core/words"
)

// A Statement is one file of a bank that was read.
type Statement struct {
	ID       int64
	Name     string // of the file
	Format   string
	Hash     string // of its bytes
	Author   string
	At       time.Time
	Rows     int
	Done     int // of them, by now
	FirstDay string
	LastDay  string
}

// An Outcome is what became of a row of a statement.
type Outcome string

const (
	RowWaits    Outcome = "waits"    // it is looked at in a moment
	RowBooked   Outcome = "booked"   // it stands in the ledger of its order
	RowProposed Outcome = "proposed" // somebody is to say whether it is of an order
	RowUnknown  Outcome = "unknown"  // nothing tells which order it is of
	RowAside    Outcome = "aside"    // somebody said that it is of no order
	RowKnown    Outcome = "known"    // it was read before, from this or another file
	RowOut      Outcome = "out"      // it went out, or takes an earlier one back
	RowForeign  Outcome = "foreign"  // it is in another currency
)

// A Transfer is a row of a statement with what became of it.
type Transfer struct {
	ID          int64
	StatementID int64
	Position    int
	Identity    string
	Day         string
	Amount      money.Amount
	Currency    money.Currency
	Payer       string
	Text        string
	Reference   string
	Outcome     Outcome
	Why         string       // a code
	Params      words.Params `gorm:"serializer:json"` // of its words
	OrderID     *int64
	Proposed    []int64 `gorm:"serializer:json"` // numbers of orders
	DecidedBy   string
	DecidedAt   *time.Time
}

// Row gives the transfer as it was read.
func (t *Transfer) Row() statement.Row {
	day, _ := calendar.ParseDay(t.Day)
	return statement.Row{Day: day, Amount: t.Amount, Currency: t.Currency, Payer: t.Payer, Text: t.Text, Reference: t.Reference, Identity: t.Identity}
}

// StatementByHash finds a statement by its bytes.
func (tx *Tx) StatementByHash(hash string) (Statement, error) {
	return first[Statement](tx, "hash = ?", hash)
}

// StatementByID finds a statement.
func (tx *Tx) StatementByID(id int64) (Statement, error) { return first[Statement](tx, "id = ?", id) }

// Statements lists the statements that were read, the newest first.
func (tx *Tx) Statements(most int) ([]Statement, error) {
	var rows []Statement
	err := tx.db.Order("id DESC").Limit(most).Find(&rows).Error
	return rows, err
}

// AddStatement keeps a statement with its rows.
func (tx *Tx) AddStatement(s *Statement, rows []Transfer) error {
	if err := tx.db.Create(s).Error; err != nil {
		return err
	}
	for i := range rows {
		rows[i].StatementID, rows[i].Position = s.ID, i+1
	}
	return tx.db.CreateInBatches(rows, 1000).Error
}

// OpenStatement finds the oldest statement of which rows wait; ErrNotFound when
// none do.
func (tx *Tx) OpenStatement() (Statement, error) {
	return first[Statement](tx, "id = (SELECT MIN(id) FROM statements WHERE done < rows)")
}

// WaitingTransfers lists rows of a statement that wait, in their order.
func (tx *Tx) WaitingTransfers(statement int64, most int) ([]Transfer, error) {
	var rows []Transfer
	err := tx.db.Where("statement_id = ? AND outcome = ?", statement, RowWaits).Order("position").Limit(most).Find(&rows).Error
	return rows, err
}

// SaveStatement keeps how far a statement is.
func (tx *Tx) SaveStatement(s *Statement) error { return tx.db.Save(s).Error }

// SaveTransfer keeps what became of a row.
func (tx *Tx) SaveTransfer(t *Transfer) error { return tx.db.Save(t).Error }

// TransferByID finds a row of a statement.
func (tx *Tx) TransferByID(id int64) (Transfer, error) { return first[Transfer](tx, "id = ?", id) }

// TransferKnown says whether a transfer counts already, from whatever file.
func (tx *Tx) TransferKnown(identity string) (bool, error) {
	var n int64
	err := tx.db.Model(&Transfer{}).Where("identity = ? AND outcome NOT IN ('waits', 'known', 'out')", identity).Limit(1).Count(&n).Error
	return n > 0, err
}

// BookedTwin finds a transfer of another file that was booked on an order for the
// same day and amount; ErrNotFound when there is none.
func (tx *Tx) BookedTwin(t *Transfer, order int64) (Transfer, error) {
	return first[Transfer](tx, "order_id = ? AND statement_id <> ? AND day = ? AND amount = ? AND outcome = ?", order, t.StatementID, t.Day, t.Amount, RowBooked)
}

// BookedAmount gives what of statements was booked on an order.
func (tx *Tx) BookedAmount(order int64) (money.Amount, error) {
	var sum money.Amount
	err := tx.db.Raw("SELECT COALESCE(SUM(amount), 0) FROM transfers WHERE order_id = ? AND outcome = ?", order, RowBooked).Scan(&sum).Error
	return sum, err
}

// A TransferFilter chooses rows of statements.
type TransferFilter struct {
	Statement int64   // 0 for all
	Outcome   Outcome // empty for all
	Open      bool    // those on which somebody has to decide
	After     int64   // only greater ids
	Most      int
}

// Transfers lists rows of statements, the oldest first.
func (tx *Tx) Transfers(f TransferFilter) ([]Transfer, error) {
	q := tx.db.Where("id > ?", f.After)
	if f.Statement != 0 {
		q = q.Where("statement_id = ?", f.Statement)
	}
	if f.Outcome != "" {
		q = q.Where("outcome = ?", f.Outcome)
	}
	if f.Open {
		q = q.Where("outcome IN ('proposed', 'unknown')")
	}
	var rows []Transfer
	err := q.Order("id").Limit(f.Most).Find(&rows).Error
	return rows, err
}

// CountTransfers counts the rows of a statement by what became of them.
func (tx *Tx) CountTransfers(statement int64) (map[Outcome]int, error) {
	var rows []struct {
		Outcome Outcome
		N       int
	}
	err := tx.db.Raw("SELECT outcome, COUNT(*) AS n FROM transfers WHERE statement_id = ? GROUP BY outcome", statement).Scan(&rows).Error
	counts := map[Outcome]int{}
	for _, r := range rows {
		counts[r.Outcome] = r.N
	}
	return counts, err
}

// CountOpenTransfers counts the rows on which somebody has to decide.
func (tx *Tx) CountOpenTransfers() (int, error) {
	var n int64
	err := tx.db.Model(&Transfer{}).Where("outcome IN ('proposed', 'unknown')").Count(&n).Error
	return int(n), err
}

// An OwingOrder is an order of which money is awaited.
type OwingOrder struct {
	ID      int64
	Number  int64
	Name    string
	Deposit money.Amount // that is still to come in with its transfer
}

// Missing gives what of its deposit has not come in.
func (o *OwingOrder) Missing(b ledger.Balance) money.Amount { return max(o.Deposit-b.Security(), 0) }

// Owing names orders by their ids that are in a currency.
func (tx *Tx) Owing(ids []int64, c money.Currency) ([]OwingOrder, error) {
	var all []OwingOrder
	for part := range slices.Chunk(ids, 500) {
		var rows []OwingOrder
		err := tx.db.Raw(`SELECT id, number, name, CASE state WHEN ? THEN COALESCE(json_extract(slip, '$.held'), 0) ELSE 0 END AS deposit
			FROM orders WHERE id IN ? AND currency = ? AND number IS NOT NULL`, order.Awaiting, part, c).Scan(&rows).Error
		if err != nil {
			return nil, err
		}
		all = append(all, rows...)
	}
	return all, nil
}

// Reminding lists the orders that await their transfers and whose customers are
// to be reminded by a time.
func (tx *Tx) Reminding(now time.Time, most int) ([]Order, error) {
	var rows []Order
	err := tx.db.Where("state = ? AND remind_at <= ?", order.Awaiting, now.UTC()).Order("id").Limit(most).Find(&rows).Error
	return rows, err
}

// Lapsing lists the orders that await their transfers and whose time is over, but
// for those of which a payment is under way or money came in.
func (tx *Tx) Lapsing(now time.Time, most int) ([]Order, error) {
	var rows []Order
	err := tx.db.Where(`state = ? AND held_until <= ?
		AND NOT EXISTS (SELECT 1 FROM attempts a WHERE a.order_id = orders.id AND a.state IN ('asked', 'confirm'))
		AND NOT EXISTS (SELECT 1 FROM ledger_entries e WHERE e.order_id = orders.id AND e.kind IN ('paid', 'held'))`, order.Awaiting, now.UTC()).Order("id").Limit(most).Find(&rows).Error
	return rows, err
}
