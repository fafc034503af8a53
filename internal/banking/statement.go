package banking

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io"
	"slices"
	"strconv"

	"ruvo/internal/bankfile"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/statement"
	"ruvo/internal/core/words"
	"ruvo/internal/placing"
	"ruvo/internal/store"
)

// Take reads a statement and keeps its rows, which are looked at in a moment. The
// same file read again gives the statement that was kept. What is wrong with it
// is a words.Message, and nothing of it is kept then.
func (c *Clerk) Take(ctx context.Context, name string, in io.Reader, author string) (store.Statement, error) {
	var want bankfile.Expected
	err := c.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		want = bankfile.Expected{Account: b.Account.IBAN, Currency: b.Currency}
		return err
	})
	if err != nil {
		return store.Statement{}, err
	}
	sum := sha256.New()
	read, err := bankfile.Read(io.TeeReader(in, sum), want)
	if err != nil {
		return store.Statement{}, err
	}
	if foreign(read, want.Currency) {
		return store.Statement{}, words.Tell("statement.currency", "theirs", string(read.Rows[0].Currency), "ours", string(want.Currency))
	}
	first, last := read.Days()
	kept := store.Statement{
		Name: name, Format: string(read.Format), Hash: hex.EncodeToString(sum.Sum(nil)), Author: author, At: c.Now().UTC(), Rows: len(read.Rows), FirstDay: first.String(), LastDay: last.String(),
	}
	rows := make([]store.Transfer, len(read.Rows))
	for i, r := range read.Rows {
		rows[i] = store.Transfer{
			Identity: r.Identity, Day: r.Day.String(), Amount: r.Amount, Currency: r.Currency, Payer: r.Payer, Text: r.Text, Reference: r.Reference, Outcome: store.RowWaits,
		}
		if r.Reversal {
			rows[i].Why = whyReversal
		}
	}
	err = c.Store.Write(ctx, func(tx *store.Tx) error {
		before, err := tx.StatementByHash(kept.Hash)
		if !errors.Is(err, store.ErrNotFound) {
			kept = before
			return err
		}
		return tx.AddStatement(&kept, rows)
	})
	if err == nil {
		select {
		case c.kick <- struct{}{}:
		default:
		}
	}
	return kept, err
}

// foreign says whether no row is in the business's currency.
func foreign(s *bankfile.File, c money.Currency) bool {
	for _, r := range s.Rows {
		if r.Currency == c {
			return false
		}
	}
	return true
}

// rowsAtOnce is how many rows one transaction looks at, so that nobody waits long
// for it.
const rowsAtOnce = 200

// book looks at all rows that wait.
func (c *Clerk) book(ctx context.Context) error {
	for {
		var s store.Statement
		err := c.Store.Read(ctx, func(tx *store.Tx) (err error) {
			s, err = tx.OpenStatement()
			return err
		})
		if errors.Is(err, store.ErrNotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		open, err := c.owing(ctx)
		if err != nil {
			return err
		}
		err = c.Store.Write(ctx, func(tx *store.Tx) error { return c.bookSome(tx, s.ID, open) })
		if err != nil {
			return err
		}
	}
}

func (c *Clerk) bookSome(tx *store.Tx, id int64, open []statement.Open) error {
	s, err := tx.StatementByID(id)
	if err != nil {
		return err
	}
	rows, err := tx.WaitingTransfers(s.ID, rowsAtOnce)
	if err != nil {
		return err
	}
	if s.Done += len(rows); len(rows) < rowsAtOnce {
		s.Done = s.Rows
	}
	b, err := tx.Business()
	if err != nil {
		return err
	}
	m := matching{Clerk: c, tx: tx, business: b, author: s.Author, open: open}
	for i := range rows {
		if err := m.row(&rows[i]); err != nil {
			return err
		}
		if err := tx.SaveTransfer(&rows[i]); err != nil {
			return err
		}
	}
	return tx.SaveStatement(&s)
}

// Why a row has its outcome; each has words, "transfer.why."+code.
const (
	whyReversal  = "reversal"     // takes an earlier one back
	whyNoOrder   = "no_order"     // its reference is of no order
	whyEarlier   = "earlier"      // it is older than the order that its reference is of
	whyTwin      = "twin"         // may be one that was read from another file
	whyLikely    = "likely"       // amount and name, or amount and number
	whyPlaced    = "placed"       // the order is placed by it
	whyPart      = "part"         // less than is open
	whyAwaited   = "part_awaited" // less than was awaited, and it goes on waiting
	whyMore      = "more"         // more than was open
	whyPaid      = "paid"         // what was open of it
	whyLate      = "late"         // what the order held had been given free, and stays so
	whyCancelled = "cancelled"    // the order is cancelled
)

// matching looks at rows within one transaction.
type matching struct {
	*Clerk
	tx       *store.Tx
	business store.Business
	author   string
	open     []statement.Open // of what money was awaited before
}

// row decides what becomes of one row.
func (m *matching) row(t *store.Transfer) error {
	known, err := m.tx.TransferKnown(t.Identity)
	switch {
	case err != nil:
		return err
	case t.Amount <= 0 || t.Why == whyReversal:
		t.Outcome = store.RowOut
		return nil
	case known:
		t.Outcome = store.RowKnown
		return nil
	case t.Currency != m.business.Currency:
		t.Outcome = store.RowForeign
		return nil
	}
	row := t.Row()
	if number, ok := row.OrderOf(); ok {
		o, err := m.tx.OrderByNumber(number)
		switch {
		case errors.Is(err, store.ErrNotFound):
			t.Outcome, t.Why, t.Params = store.RowUnknown, whyNoOrder, words.Params{"number": strconv.FormatInt(number, 10)}
			return nil
		case err != nil:
			return err
		case o.Currency == t.Currency:
			return m.bookOn(t, &o, true)
		}
		t.Outcome = store.RowUnknown // the order is in a currency that the business has left
		return nil
	}
	if t.Proposed = row.Propose(m.open); len(t.Proposed) > 0 {
		t.Outcome, t.Why = store.RowProposed, whyLikely
		return nil
	}
	t.Outcome = store.RowUnknown
	return nil
}

// owing lists the orders of which money is awaited, with the amounts that may
// come in at once.
func (c *Clerk) owing(ctx context.Context) (open []statement.Open, err error) {
	err = c.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		all, err := tx.Unsettled()
		if err != nil {
			return err
		}
		var ids []int64
		for id, u := range all {
			if u.Balance.Open() > 0 {
				ids = append(ids, id)
			}
		}
		orders, err := tx.Owing(ids, b.Currency)
		for _, o := range orders {
			u := all[o.ID]
			awaited := []money.Amount{u.Balance.Open() + o.Missing(u.Balance)}
			if len(u.Parts) > 0 {
				awaited = append(awaited, u.Parts[0].Amount+o.Missing(u.Balance))
			}
			open = append(open, statement.Open{Number: o.Number, Name: o.Name, Amounts: awaited})
		}
		return err
	})
	return open, err
}

// bookOn books a transfer on an order. Alone, with nobody who said so, it leaves
// what may be the twin of one from another file, or older than the order.
func (m *matching) bookOn(t *store.Transfer, o *store.Order, alone bool) error {
	row := t.Row()
	if alone {
		if row.Day.Before(calendar.DayOf(o.Since().In(m.business.Location()))) {
			t.Outcome, t.Why, t.Proposed = store.RowProposed, whyEarlier, []int64{*o.Number}
			return nil
		}
		twin, err := m.tx.BookedTwin(t, o.ID)
		if err == nil {
			t.Outcome, t.Why, t.Proposed = store.RowProposed, whyTwin, []int64{*o.Number}
			s, err := m.tx.StatementByID(twin.StatementID)
			t.Params = words.Params{"file": s.Name}
			return err
		}
		if !errors.Is(err, store.ErrNotFound) {
			return err
		}
	}
	l := words.Language(m.business.Language)
	was, err := m.tx.Entries(o.ID)
	if err != nil {
		return err
	}
	state := o.State
	at := row.Day.At(12*60, m.business.Location())
	if at.After(m.Now()) {
		at = m.Now()
	}
	entry := ledger.Entry{Amount: t.Amount, At: at, Way: ledger.Transfer, Author: m.author, Note: t.Payer}
	late, err := placing.Receive(m.tx, m.Editions, o, entry, alone, m.Now())
	if err != nil {
		return err
	}
	is, err := m.tx.Entries(o.ID)
	if err != nil {
		return err
	}
	m.open = slices.DeleteFunc(m.open, func(w statement.Open) bool { return w.Number == *o.Number }) // it owes something else now
	t.Outcome, t.OrderID, t.Why = store.RowBooked, &o.ID, whyOf(state, o.State, late, is)
	balance := ledger.Sum(is)
	t.Params = words.Params{
		"came": l.Money(t.Amount, o.Currency), "missing": l.Money(ledger.Awaited(is, o.State.Deposit(o.Slip.Held)), o.Currency), "open": l.Money(balance.Open(), o.Currency), "over": l.Money(balance.Overpaid(), o.Currency),
		"awaited": l.Money(ledger.Awaited(was, o.State.Deposit(o.Slip.Held)), o.Currency),
	}
	return nil
}

func whyOf(was, is order.State, late bool, entries []ledger.Entry) string {
	balance := ledger.Sum(entries)
	switch {
	case late:
		return whyLate
	case is == order.Cancelled && balance.Overpaid() > 0:
		return whyCancelled
	case balance.Overpaid() > 0:
		return whyMore
	case is == order.Awaiting:
		return whyAwaited
	case was != is:
		return whyPlaced
	case balance.Open() > 0:
		return whyPart
	}
	return whyPaid
}

// Errors of decisions on a row.
var (
	ErrDecided = errors.New("the transfer was decided on")
	ErrForeign = errors.New("the order is in another currency")
)

// Book books a transfer, of which it was not clear, on an order that somebody
// chose.
func (c *Clerk) Book(tx *store.Tx, t *store.Transfer, o *store.Order, author string) error {
	if t.Outcome != store.RowProposed && t.Outcome != store.RowUnknown {
		return ErrDecided
	}
	if o.Currency != t.Currency {
		return ErrForeign
	}
	b, err := tx.Business()
	if err != nil {
		return err
	}
	m := matching{Clerk: c, tx: tx, business: b, author: author}
	if err := m.bookOn(t, o, false); err != nil {
		return err
	}
	return c.decided(tx, t, author)
}

// Aside says of a transfer that it is of no order, or takes that back.
func (c *Clerk) Aside(tx *store.Tx, t *store.Transfer, aside bool, author string) error {
	switch {
	case aside && (t.Outcome == store.RowProposed || t.Outcome == store.RowUnknown):
		t.Outcome = store.RowAside
	case !aside && t.Outcome == store.RowAside:
		if t.Outcome = store.RowUnknown; len(t.Proposed) > 0 {
			t.Outcome = store.RowProposed
		}
	default:
		return ErrDecided
	}
	return c.decided(tx, t, author)
}

func (c *Clerk) decided(tx *store.Tx, t *store.Transfer, author string) error {
	t.DecidedBy, t.DecidedAt = author, store.Time(c.Now())
	return tx.SaveTransfer(t)
}
