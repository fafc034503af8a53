package order

import (
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
)

// After gives the state of an order once the payment service answered on an
// attempt. Waited says that the attempt was still without an answer: one that
// had been refused before changes nothing when it is refused again.
func (s State) After(t ledger.Attempt, waited bool) State {
	if t.Purpose != ledger.ToPlace || s != Paying {
		return s
	}
	switch {
	case t.State == ledger.Settled:
		return Placed
	case t.State == ledger.Refused && waited:
		return Prepared
	}
	return s
}

// Deposit gives how much of a deposit is to be held in a state: nothing before
// it is ordered and after it was cancelled or given free.
func (s State) Deposit(agreed money.Amount) money.Amount {
	if s == Placed || s == Awaiting {
		return agreed
	}
	return 0
}
