// Package standin holds the simulated outside services that ship with the
// application, and the ports that they stand behind.
package standin

import (
	"context"
	"errors"
	"strings"

	"ruvo/internal/core/money"
	"ruvo/internal/store"
)

// An Outcome is what the bank says to a payment.
type Outcome string

const (
	Paid     Outcome = "paid"
	Declined Outcome = "declined"
	Confirm  Outcome = "confirm" // the customer has to confirm it to their bank
)

// A Receipt is the bank's answer. Reason is the code of the words "card."+Reason.
type Receipt struct {
	Outcome Outcome
	Reason  string
}

// Cards is the port to whoever charges cards. An attempt that is repeated
// under its name gets the first answer again and is never charged twice.
type Cards interface {
	Charge(ctx context.Context, attempt string, amount money.Amount, number string) (Receipt, error)
	// Confirm tells the bank whether the customer approves.
	Confirm(ctx context.Context, attempt string, approve bool) (Receipt, error)
	// Refund gives back an amount of a payment. Repeated under its name it
	// changes nothing.
	Refund(ctx context.Context, name string, amount money.Amount) error
	// Ask gives the answer to an attempt; ErrNoAttempt when it never arrived.
	Ask(ctx context.Context, attempt string) (Receipt, error)
}

// ErrNoAttempt is returned for an attempt that the bank never saw.
var ErrNoAttempt = errors.New("the bank does not know this attempt")

// The numbers that the stand-in knows. They begin with 9, which ISO/IEC 7812
// leaves to national bodies, so no card of a network has them; the last digit
// is the check digit of ISO/IEC 7812-1, annex B.
const (
	CardWorks    = "9900000000000002"
	CardDeclined = "9900000000000101"
	CardConfirms = "9900000000000200"
)

// CardStandIn simulates a bank. It keeps its own ledger, as a bank would.
type CardStandIn struct{ Store *store.Store }

// Charge implements Cards.
func (c *CardStandIn) Charge(ctx context.Context, attempt string, amount money.Amount, number string) (Receipt, error) {
	row := store.CardCharge{Attempt: attempt, Amount: amount, Outcome: string(Declined), Reason: "unknown"}
	switch Digits(number) {
	case CardWorks:
		row.Outcome, row.Reason = string(Paid), ""
	case CardDeclined:
		row.Reason = "declined"
	case CardConfirms:
		row.Outcome, row.Reason, row.Confirms = string(Confirm), "", true
	}
	err := c.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.CardCharge(attempt)
		if errors.Is(err, store.ErrNotFound) {
			return tx.AddCardCharge(&row)
		}
		row = kept
		return err
	})
	return receipt(row), err
}

// Confirm implements Cards.
func (c *CardStandIn) Confirm(ctx context.Context, attempt string, approve bool) (Receipt, error) {
	var row store.CardCharge
	err := c.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		if row, err = tx.CardCharge(attempt); err != nil || row.Outcome != string(Confirm) {
			return err
		}
		row.Outcome = string(Paid)
		if !approve {
			row.Outcome, row.Reason = string(Declined), "refused"
		}
		return tx.SaveCardCharge(&row)
	})
	if errors.Is(err, store.ErrNotFound) {
		err = ErrNoAttempt
	}
	return receipt(row), err
}

// Refund implements Cards.
func (c *CardStandIn) Refund(ctx context.Context, name string, amount money.Amount) error {
	return c.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.SaveCardCharge(&store.CardCharge{Attempt: name, Amount: -amount, Outcome: string(Paid)})
	})
}

// Ask implements Cards.
func (c *CardStandIn) Ask(ctx context.Context, attempt string) (Receipt, error) {
	var row store.CardCharge
	err := c.Store.Read(ctx, func(tx *store.Tx) error {
		var err error
		row, err = tx.CardCharge(attempt)
		return err
	})
	if errors.Is(err, store.ErrNotFound) {
		err = ErrNoAttempt
	}
	return receipt(row), err
}

func receipt(c store.CardCharge) Receipt {
	return Receipt{Outcome: Outcome(c.Outcome), Reason: c.Reason}
}

// Digits takes the spaces and hyphens out of a card number.
func Digits(number string) string {
	return strings.NewReplacer(" ", "", "-", "", "\u00a0", "").Replace(number)
}

// ValidNumber checks length and check digit of a card number (ISO/IEC 7812-1,
// annex B: double every second digit from the right, the check digit not
// doubled; the digits' sum is a multiple of ten).
func ValidNumber(number string) bool {
	d := Digits(number)
	if len(d) < 12 || len(d) > 19 {
		return false
	}
	sum := 0
	for i := range len(d) {
		n := int(d[len(d)-1-i] - '0')
		if n < 0 || n > 9 {
			return false
		}
		if i%2 == 1 {
			if n *= 2; n > 9 {
				n -= 9
			}
		}
		sum += n
	}
	return sum%10 == 0
}
