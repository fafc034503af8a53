// Package standin holds the simulated outside services that ship with the
// application. Only the commands, the demo and tests know it; all else knows
// the ports that it stands behind.
package standin

import (
	"context"
	"errors"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/port"
	"ruvo/internal/store"
)

// The numbers that the stand-in knows. They begin with 9, which ISO/IEC 7812
// leaves to national bodies, so no card of a network has them; the last digit
// is the check digit of ISO/IEC 7812-1, annex B.
const (
	CardWorks    = "9900000000000002"
	CardDeclined = "9900000000000101"
	CardConfirms = "9900000000000200"
)

// Cards simulates a bank that charges cards. It keeps its own books, as a bank
// would.
type Cards struct{ Store *store.Store }

// Charge implements port.Payments.
func (c *Cards) Charge(ctx context.Context, attempt string, amount money.Amount, number string) (port.Receipt, error) {
	row := store.CardCharge{Attempt: attempt, Amount: amount, Outcome: string(ledger.Refused), Reason: "unknown"}
	switch port.Digits(number) {
	case CardWorks:
		row.Outcome, row.Reason = string(ledger.Settled), ""
	case CardDeclined:
		row.Reason = "declined"
	case CardConfirms:
		row.Outcome, row.Reason, row.Confirms = string(ledger.Confirm), "", true
	}
	return c.book(ctx, row)
}

// Return implements port.Payments.
func (c *Cards) Return(ctx context.Context, attempt string, amount money.Amount) (port.Receipt, error) {
	return c.book(ctx, store.CardCharge{Attempt: attempt, Amount: -amount, Outcome: string(ledger.Settled)})
}

// book keeps an attempt, or finds the one of its name.
func (c *Cards) book(ctx context.Context, row store.CardCharge) (port.Receipt, error) {
	err := c.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.CardCharge(row.Attempt)
		if errors.Is(err, store.ErrNotFound) {
			return tx.AddCardCharge(&row)
		}
		row = kept
		return err
	})
	return receipt(row), err
}

// Confirm implements port.Payments.
func (c *Cards) Confirm(ctx context.Context, attempt string, approve bool) (port.Receipt, error) {
	var row store.CardCharge
	err := c.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		row, err = tx.CardCharge(attempt)
		if errors.Is(err, store.ErrNotFound) && !approve {
			row = store.CardCharge{Attempt: attempt, Outcome: string(ledger.Refused), Reason: "refused"}
			return tx.AddCardCharge(&row)
		}
		if err != nil || row.Outcome != string(ledger.Confirm) {
			return err
		}
		row.Outcome = string(ledger.Settled)
		if !approve {
			row.Outcome, row.Reason = string(ledger.Refused), "refused"
		}
		return tx.SaveCardCharge(&row)
	})
	return receipt(row), known(err)
}

// Ask implements port.Payments.
func (c *Cards) Ask(ctx context.Context, attempt string) (port.Receipt, error) {
	var row store.CardCharge
	err := c.Store.Read(ctx, func(tx *store.Tx) error {
		var err error
		row, err = tx.CardCharge(attempt)
		return err
	})
	return receipt(row), known(err)
}

func known(err error) error {
	if errors.Is(err, store.ErrNotFound) {
		return port.ErrNoAttempt
	}
	return err
}

func receipt(c store.CardCharge) port.Receipt {
	return port.Receipt{State: ledger.State(c.Outcome), Reason: c.Reason}
}
