// Package port holds what Ruvo needs from outside: small interfaces, one file
// each. The simulated services behind them are in the package standin.
package port

import (
	"context"
	"errors"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
)

// A Receipt is a payment service's answer on an attempt. Reason is the code of
// the words "card."+Reason when it was refused.
type Receipt struct {
	State  ledger.State
	Reason string
}

// Payments is the port to whoever moves money by card. An attempt that is
// repeated under its name gets the first answer again and moves nothing twice;
// that holds for what is given back, too.
type Payments interface {
	// Charge takes an amount, in minor units, from a card.
	Charge(ctx context.Context, attempt string, amount money.Amount, number string) (Receipt, error)
	// Confirm tells the service whether the customer approves. A no ends an
	// attempt that still waits, and one that never arrived, so that it is refused
	// should it arrive later; one that was settled stays settled.
	Confirm(ctx context.Context, attempt string, approve bool) (Receipt, error)
	// Return gives an amount back, in minor units. A no to it is final: what was
	// refused once is not given back later under the same name.
	Return(ctx context.Context, attempt string, amount money.Amount) (Receipt, error)
	// Ask gives the answer on an attempt; ErrNoAttempt when it never arrived.
	Ask(ctx context.Context, attempt string) (Receipt, error)
}

// ErrNoAttempt is returned for an attempt that the service never saw.
var ErrNoAttempt = errors.New("the payment service does not know this attempt")
