// Package port holds what Ruvo needs from outside: small interfaces, one file
// each. The simulated services behind them are in the package standin.
package port

import (
	"context"
	"errors"
	"net/http"
	"time"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
)

// A Wanted is what a payment service is asked to take from a customer.
type Wanted struct {
	Attempt  string       // its name, the same in every request
	Amount   money.Amount // in all, in minor units
	Held     money.Amount // of it, as a security that is given back later
	Currency money.Currency
	About    string // what it is for, for the customer to read
	Back     string // the address to lead the customer to afterwards, however it ended
	Language string // of the customer
}

// A Giving is what a payment service is asked to give back.
type Giving struct {
	Attempt  string       // its own name
	Of       string       // the name of the payment that it is given back of
	Amount   money.Amount // in minor units
	Currency money.Currency
}

// A Receipt is a payment service's answer on an attempt.
type Receipt struct {
	State  ledger.State
	Reason string       // when it was refused: the code of the words "card."+Reason
	Page   string       // while the customer is awaited: the address of the page on which they pay
	Fee    money.Amount // what the service keeps of a payment for itself, in minor units
}

// A Notice is a message of a payment service's own accord that something became
// of an attempt. It is a reason to ask about it, and no answer: notices can be
// late, come twice, or overtake each other.
type Notice struct {
	ID      string // the same when it comes again
	Attempt string
}

// A Moved is a line of a payment service's own list of what it moved.
type Moved struct {
	Attempt  string
	Amount   money.Amount // below zero for what went back
	Fee      money.Amount
	Currency money.Currency
	At       time.Time
}

// Payments is the port to a service that takes cards on a page of its own.
// docs/ports.md says what an adapter must do, and the package porttest tries
// it. An attempt that is repeated under its name gets the answer that holds by
// now, and moves nothing twice; that is true of what is given back, too.
type Payments interface {
	// Start asks for a payment and gives the page on which the customer pays.
	Start(ctx context.Context, w Wanted) (Receipt, error)
	// Ask gives what became of an attempt by now; ErrNoAttempt when it never
	// arrived.
	Ask(ctx context.Context, attempt string) (Receipt, error)
	// End ends a payment that still waits for the customer, and one that never
	// arrived, so that nothing comes of it should it arrive later. One that was
	// settled stays settled, and the receipt says so.
	End(ctx context.Context, attempt string) (Receipt, error)
	// Return gives back of what was paid. A refusal is final.
	Return(ctx context.Context, g Giving) (Receipt, error)
	// Release gives back of what is held. A refusal is final.
	Release(ctx context.Context, g Giving) (Receipt, error)
	// Notice reads a notice; ErrForged when it is not the service's own,
	// ErrStale when it is older than NoticeTolerance or from the future,
	// ErrMalformed when it cannot be read.
	Notice(head http.Header, body []byte, now time.Time) (Notice, error)
	// Moved gives the service's own list of all that it moved, the oldest first.
	Moved(ctx context.Context) ([]Moved, error)
}

// NoticeTolerance is how far the instant of a notice may lie from now.
const NoticeTolerance = 5 * time.Minute

var (
	// ErrNoAttempt is returned for an attempt that the service never saw.
	ErrNoAttempt = errors.New("the payment service does not know this attempt")
	// ErrForged is returned for a notice whose signature is not the service's.
	ErrForged = errors.New("the notice is not signed by the payment service")
	// ErrStale is returned for a notice whose instant is too far from now.
	ErrStale = errors.New("the notice is too old, or from the future")
	// ErrMalformed is returned for a notice that cannot be read.
	ErrMalformed = errors.New("the notice cannot be read")
)
