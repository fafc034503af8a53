package workplan

import (
	"time"

	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// Acceptance has what a step made shown to the customer, who accepts it or asks for
// changes. Each request for changes has the step done again.
type Acceptance struct {
	Rounds int `json:"rounds,omitempty"` // of changes that the price includes
	// Price is what each further round costs, as the product's price is given; with
	// zero there are no further ones.
	Price money.Amount `json:"price,omitempty"`
	// Silence is after how many days no answer counts as acceptance; zero for never.
	Silence int `json:"silence,omitempty"`
}

// The limits of an acceptance.
const (
	mostRounds  = 50
	mostSilence = 365 // days
)

func (a *Acceptance) validate() error {
	switch {
	case a.Rounds < 0 || a.Rounds > mostRounds:
		return words.Tell("step.rounds", "most", mostRounds)
	case a.Price < 0 || a.Price > money.Largest:
		return words.Tell("step.round_price")
	case a.Silence < 0 || a.Silence > mostSilence:
		return words.Tell("step.silence", "most", mostSilence)
	}
	return nil
}

// Shown is what became of what a step made, once the customer was shown it.
type Shown struct {
	Given    time.Time `json:"given"`             // when it was shown last
	Accepted time.Time `json:"accepted,omitzero"` // zero while it is not
	Requests []Request `json:"requests,omitempty"`
}

// A Request is one for changes of what a step made.
type Request struct {
	ID   int64     `json:"id"`
	At   time.Time `json:"at"`
	Paid bool      `json:"paid,omitempty"` // beyond the included rounds
}

// Last gives the id of the last request; zero without one.
func (s Shown) Last() int64 {
	if len(s.Requests) == 0 {
		return 0
	}
	return s.Requests[len(s.Requests)-1].ID
}

// Open says whether changes were asked for since it was shown last.
func (s Shown) Open() bool {
	return len(s.Requests) > 0 && s.Requests[len(s.Requests)-1].At.After(s.Given)
}

// Paid counts the requests that are paid for.
func (s Shown) Paid() int {
	n := 0
	for _, r := range s.Requests {
		if r.Paid {
			n++
		}
	}
	return n
}

// A Quote is what one more round of changes costs.
type Quote struct {
	Left  int          // included rounds that are left, this one among them
	Price money.Amount // where none is left
	None  bool         // no further one can be had
}

// Quote tells what one more round of changes costs.
func (a *Acceptance) Quote(s Shown) Quote {
	q := Quote{Left: max(a.Rounds-(len(s.Requests)-s.Paid()), 0)}
	if q.Left == 0 {
		q.Price, q.None = a.Price, a.Price == 0
	}
	return q
}

// Until gives when no answer counts as acceptance of what is shown at an instant: at
// the end of that day; zero for never.
func (a *Acceptance) Until(shown time.Time, zone *time.Location) time.Time {
	if a.Silence == 0 {
		return time.Time{}
	}
	local := shown.In(zone)
	return time.Date(local.Year(), local.Month(), local.Day()+a.Silence+1, 0, 0, 0, 0, zone)
}
