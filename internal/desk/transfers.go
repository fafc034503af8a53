package desk

import (
	"context"
	"errors"
	"io"
	"net/http"
	"path/filepath"
	"strconv"
	"strings"

	"ruvo/api"
	"ruvo/internal/banking"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// How much the page of transfers shows.
const (
	mostAwaiting   = 200
	mostStatements = 20
	rowsOfPage     = 100
)

// LargestStatement is how large a bank statement can be, in bytes: 200,000 rows
// of camt.053 as banks write them.
const LargestStatement = 256 << 20

// Transfers shows which orders await their transfers, on which transfers somebody
// has to decide, and the statements that were read.
func (d *Desk) Transfers(ctx context.Context, l words.Language) (api.TransferPage, error) {
	view := api.TransferPage{Awaiting: []api.AwaitingOrder{}, Open: []api.TransferRow{}, Statements: []api.StatementView{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		view.Account = b.Account.Given()
		orders, err := tx.AwaitingOrders(mostAwaiting)
		if err != nil {
			return err
		}
		for i := range orders {
			v, err := d.awaiting(tx, &orders[i])
			if err != nil {
				return err
			}
			view.Awaiting = append(view.Awaiting, v)
		}
		open, err := tx.Transfers(store.TransferFilter{Open: true, Most: rowsOfPage})
		if err != nil {
			return err
		}
		if view.OpenCount, err = tx.CountOpenTransfers(); err != nil {
			return err
		}
		if view.Open, err = d.transferRows(tx, open, l); err != nil {
			return err
		}
		all, err := tx.Statements(mostStatements)
		if err != nil {
			return err
		}
		for _, s := range all {
			v, err := statementView(tx, s)
			if err != nil {
				return err
			}
			view.Statements = append(view.Statements, v)
		}
		return nil
	})
	return view, err
}

// awaiting shows an order that awaits its transfer.
func (d *Desk) awaiting(tx *store.Tx, o *store.Order) (api.AwaitingOrder, error) {
	entries, err := tx.Entries(o.ID)
	if err != nil {
		return api.AwaitingOrder{}, err
	}
	rows, err := tx.Lines(o.ID)
	if err != nil {
		return api.AwaitingOrder{}, err
	}
	var titles []string
	for _, r := range rows {
		e, err := d.Editions.Get(tx, r.EditionID)
		if err != nil {
			return api.AwaitingOrder{}, err
		}
		title := e.Title
		if r.Quantity > 1 {
			title = strconv.Itoa(r.Quantity) + " × " + title
		}
		titles = append(titles, title)
	}
	sum := ledger.Sum(entries)
	return api.AwaitingOrder{
		Line: rows[0].ID, Number: *o.Number, Customer: o.Name, Email: o.Email, Products: titles, Currency: string(o.Currency),
		Missing: int(ledger.Awaited(entries, o.Slip.Held)), Came: int(sum.Kept() + sum.Security()), Since: o.Since(), Until: store.When(o.HeldUntil), Reminded: o.RemindAt == nil,
		Over: !store.When(o.HeldUntil).After(d.Now()),
	}, nil
}

func statementView(tx *store.Tx, s store.Statement) (api.StatementView, error) {
	counts, err := tx.CountTransfers(s.ID)
	v := api.StatementView{
		Id: s.ID, Name: s.Name, Format: s.Format, By: s.Author, At: s.At, Rows: s.Rows, Done: s.Done, First: s.FirstDay, Last: s.LastDay, Counts: []api.OutcomeCount{},
	}
	for _, o := range []store.Outcome{store.RowBooked, store.RowProposed, store.RowUnknown, store.RowAside, store.RowKnown, store.RowOut, store.RowForeign, store.RowWaits} {
		if counts[o] > 0 {
			v.Counts = append(v.Counts, api.OutcomeCount{Outcome: api.TransferOutcome(o), Count: counts[o]})
		}
	}
	return v, err
}

func (d *Desk) transferRows(tx *store.Tx, rows []store.Transfer, l words.Language) ([]api.TransferRow, error) {
	views := make([]api.TransferRow, len(rows))
	for i, t := range rows {
		views[i] = api.TransferRow{
			Id: t.ID, Row: t.Position, Day: t.Day, Amount: int(t.Amount), Currency: string(t.Currency), Payer: t.Payer, Text: t.Text, Reference: t.Reference,
			Outcome: api.TransferOutcome(t.Outcome), By: t.DecidedBy, Proposed: []api.ProposedOrder{},
		}
		if t.Why != "" {
			views[i].Why = l.Say("transfer.why."+t.Why, t.Params)
		}
		if t.OrderID != nil {
			o, err := tx.OrderByID(*t.OrderID)
			if err != nil {
				return nil, err
			}
			p, err := proposed(tx, o)
			if err != nil {
				return nil, err
			}
			views[i].Order = &p
		}
		for _, number := range t.Proposed {
			o, err := tx.OrderByNumber(number)
			if err != nil {
				return nil, err
			}
			p, err := proposed(tx, o)
			if err != nil {
				return nil, err
			}
			views[i].Proposed = append(views[i].Proposed, p)
		}
	}
	return views, nil
}

func proposed(tx *store.Tx, o store.Order) (api.ProposedOrder, error) {
	v := api.ProposedOrder{Number: *o.Number, Customer: o.Name, State: o.State}
	rows, err := tx.Lines(o.ID)
	if len(rows) > 0 {
		v.Line = rows[0].ID
	}
	return v, err
}

// Statement shows rows of a statement: those of one outcome, or all, after one.
func (d *Desk) Statement(ctx context.Context, id int64, outcome string, after int64, l words.Language) (api.StatementPage, error) {
	var view api.StatementPage
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		s, err := tx.StatementByID(id)
		if err != nil {
			return problem.Missing(err, l, "no_statement")
		}
		if view.Statement, err = statementView(tx, s); err != nil {
			return err
		}
		rows, err := tx.Transfers(store.TransferFilter{Statement: id, Outcome: store.Outcome(outcome), After: after, Most: rowsOfPage + 1})
		if err != nil {
			return err
		}
		if len(rows) > rowsOfPage {
			rows = rows[:rowsOfPage]
			view.More = &rows[rowsOfPage-1].ID
		}
		view.Rows, err = d.transferRows(tx, rows, l)
		return err
	})
	return view, err
}

// ReadStatement reads a bank statement, which is looked at in a moment.
func (d *Desk) ReadStatement(ctx context.Context, name string, in io.Reader, l words.Language) (api.StatementView, error) {
	name = cut(strings.TrimSpace(filepath.Base(strings.ReplaceAll(name, `\`, "/"))), 120)
	s, err := d.Clerk.Take(ctx, name, in, Author(ctx))
	var m *words.Message
	if errors.As(err, &m) {
		return api.StatementView{}, problem.Invalid(l, []api.FieldError{{Key: "statement", Code: m.Code, Message: sentence(m, l)}})
	}
	if err != nil {
		return api.StatementView{}, err
	}
	var view api.StatementView
	err = d.Store.Write(ctx, func(tx *store.Tx) error {
		if view, err = statementView(tx, s); err != nil {
			return err
		}
		return d.log(ctx, tx, statementRead, name)
	})
	return view, err
}

// DecideTransfer books a transfer on an order, sets it aside, or takes that back.
func (d *Desk) DecideTransfer(ctx context.Context, id int64, choice api.TransferDecision, l words.Language) (api.TransferRow, error) {
	var view api.TransferRow
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		t, err := tx.TransferByID(id)
		if err != nil {
			return problem.Missing(err, l, "no_transfer")
		}
		if choice.Order != nil {
			o, err := tx.OrderByNumber(*choice.Order)
			if errors.Is(err, store.ErrNotFound) {
				return problem.Invalid(l, []api.FieldError{problem.Field(l, "order", "order_number", nil)})
			}
			if err != nil {
				return err
			}
			err = d.Clerk.Book(tx, &t, &o, Author(ctx))
			if errors.Is(err, banking.ErrForeign) {
				return problem.Invalid(l, []api.FieldError{problem.Field(l, "order", "order_currency", words.Params{"currency": string(t.Currency)})})
			}
			if err != nil {
				return decided(err, l)
			}
		} else if err := d.Clerk.Aside(tx, &t, choice.Aside == nil || *choice.Aside, Author(ctx)); err != nil {
			return decided(err, l)
		}
		rows, err := d.transferRows(tx, []store.Transfer{t}, l)
		if err != nil {
			return err
		}
		view = rows[0]
		return d.log(ctx, tx, transferDecided, t.Payer)
	})
	return view, err
}

func decided(err error, l words.Language) error {
	if errors.Is(err, banking.ErrDecided) {
		return problem.Say(http.StatusConflict, l, "transfer_decided", nil)
	}
	return err
}

// Account gives the number of the business's account and its currency, for the
// bank's stand-in.
func (d *Desk) Account() (iban string, c money.Currency) {
	err := d.Store.Read(context.Background(), func(tx *store.Tx) error {
		b, err := tx.Business()
		iban, c = b.Account.IBAN, b.Currency
		return err
	})
	if err != nil {
		return "", "EUR"
	}
	return iban, c
}
