package ledger

import (
	"slices"
	"time"

	"ruvo/internal/core/money"
)

// A Purpose is what an attempt moves money for.
type Purpose string

const (
	ToPlace   Purpose = "place"   // what is due when ordering, with what is held
	ToPay     Purpose = "pay"     // what is still open of an order
	ToReturn  Purpose = "return"  // of what was paid, back to the customer
	ToRelease Purpose = "release" // of the deposit, back to the customer
)

// Back says whether money goes back to the customer.
func (p Purpose) Back() bool { return p == ToReturn || p == ToRelease }

// A State is how far an attempt is.
type State string

const (
	Asked   State = "asked"   // the service was asked, and no answer is known
	Confirm State = "confirm" // the customer is on the service's page, or can go there
	Settled State = "settled" // the money moved
	Refused State = "refused" // no money moved
)

// Waiting says whether it can still become either.
func (s State) Waiting() bool { return s == Asked || s == Confirm }

// An Attempt is one try to move money through a payment service. Its name is
// the same in every request to the service, so that a repeat moves nothing.
type Attempt struct {
	Name    string
	Purpose Purpose
	Of      string       // of what goes back: the name of the payment that it goes back of
	Amount  money.Amount // that moves in all, above zero
	Held    money.Amount // of it, as a security deposit
	State   State
	Reason  string       // why it was refused, a code
	Fee     money.Amount // what the service kept of it
}

// Answer takes the service's word on an attempt and gives the entries that it
// makes. The word can come as often as it likes and in any order: money that
// moved once has moved, so a settled attempt stays settled and makes nothing
// more; one that was taken for refused and settled after all makes its entries
// then; and one that got an answer does not wait again.
func (a *Attempt) Answer(s State, reason string, at time.Time) []Entry {
	switch {
	case a.State == Settled, s == Asked, s == Confirm && a.State == Refused:
		return nil
	case s != Settled:
		a.State, a.Reason = s, reason
		return nil
	}
	a.State, a.Reason = Settled, ""
	entry := func(k Kind, n money.Amount) Entry {
		return Entry{Kind: k, Amount: n, At: at, Way: Card, Attempt: a.Name}
	}
	switch a.Purpose {
	case ToReturn:
		return []Entry{entry(Returned, a.Amount)}
	case ToRelease:
		return []Entry{entry(Released, a.Amount)}
	}
	var list []Entry
	if n := a.Amount - a.Held; n > 0 {
		list = append(list, entry(Paid, n))
	}
	if a.Held > 0 {
		list = append(list, entry(Held, a.Held))
	}
	if a.Fee > 0 {
		list = append(list, entry(Fee, a.Fee))
	}
	return list
}

// An Account is the money of one order: its entries and its attempts.
type Account struct {
	Entries  []Entry
	Attempts []Attempt
}

// Balance gives what the entries come to.
func (a *Account) Balance() Balance { return Sum(a.Entries) }

// Coming gives the attempt by which money may still come in, if there is one.
// While there is, nothing else is asked of the customer, and nothing that
// changes the price is accepted.
func (a *Account) Coming() *Attempt {
	for i := range a.Attempts {
		if t := &a.Attempts[i]; t.State.Waiting() && !t.Purpose.Back() {
			return t
		}
	}
	return nil
}

// Going gives what is on its way back to the customer and not settled yet.
func (a *Account) Going(p Purpose) money.Amount {
	var sum money.Amount
	for _, t := range a.Attempts {
		if t.Purpose == p && t.State.Waiting() {
			sum += t.Amount
		}
	}
	return sum
}

// Returnable gives what can be given back of what was paid, and Releasable what
// of the deposit: never more than came in, what is on its way counted as gone.
func (a *Account) Returnable() money.Amount {
	return max(a.Balance().Kept()-a.Going(ToReturn), 0)
}

// Releasable gives what can be given back of the deposit.
func (a *Account) Releasable() money.Amount {
	return max(a.Balance().Security()-a.Going(ToRelease), 0)
}

// A Source is what of a payment can still be given back through the service.
type Source struct {
	Of     string // the payment's name
	Amount money.Amount
}

// Sources splits what is to go back over the payments that it came in by, the
// newest first, and gives what came in otherwise and so cannot go back through
// the service. What was given back before payments were named in it came from
// the oldest.
func (a *Account) Sources(p Purpose, wanted money.Amount) (list []Source, otherwise money.Amount) {
	left := make([]money.Amount, len(a.Attempts))
	var unnamed money.Amount
	for i, t := range a.Attempts {
		switch {
		case t.State != Settled || t.Purpose.Back():
		case p == ToRelease:
			left[i] = t.Held
		default:
			left[i] = t.Amount - t.Held
		}
	}
	for _, t := range a.Attempts {
		if t.Purpose != p || t.State == Refused {
			continue
		}
		i := slices.IndexFunc(a.Attempts, func(of Attempt) bool { return of.Name == t.Of })
		if t.Of == "" || i < 0 {
			unnamed += t.Amount
			continue
		}
		left[i] -= t.Amount
	}
	for i := range left {
		n := min(max(left[i], 0), unnamed)
		left[i], unnamed = left[i]-n, unnamed-n
	}
	for i := len(left) - 1; i >= 0 && wanted > 0; i-- {
		if n := min(left[i], wanted); n > 0 {
			list = append(list, Source{a.Attempts[i].Name, n})
			wanted -= n
		}
	}
	return list, wanted
}

// Vouched gives what was paid with vouchers and not given back to them.
func Vouched(entries []Entry) money.Amount {
	var sum money.Amount
	for _, e := range entries {
		switch {
		case e.Way == Voucher && e.Kind == Paid:
			sum += e.Amount
		case e.Way == Voucher && e.Kind == Returned:
			sum -= e.Amount
		}
	}
	return sum
}

// Surplus gives what was paid beyond what is asked for and is not on its way
// back yet; and of the deposit, what is held beyond what was agreed.
func (a *Account) Surplus(deposit money.Amount) (paid, held money.Amount) {
	return max(a.Balance().Overpaid()-a.Going(ToReturn), 0), max(a.Releasable()-deposit, 0)
}

// Uncharging gives the entry by which the charge falls by a credit; none when it
// does not.
func Uncharging(credit money.Amount, reason, author, note string, at time.Time) []Entry {
	if credit == 0 {
		return nil
	}
	return []Entry{{Kind: Charged, Amount: -credit, At: at, Author: author, Reason: reason, Note: note}}
}

// An Outcome is what crediting something of an order makes of its money.
type Outcome struct {
	ByCard    money.Amount // goes back through the payment service
	ByVoucher money.Amount // goes back to the vouchers that it came from
	Otherwise money.Amount // came in otherwise, and is to be given back so
	Open      money.Amount // is still to be paid
}

// After says what becomes of the money once something is credited and what was
// then paid too much goes back; with given, exactly as much as was credited.
func (a *Account) After(credit money.Amount, given bool) Outcome {
	b := a.Balance()
	b.Charged -= credit
	back := max(b.Overpaid()-a.Going(ToReturn), 0)
	if given {
		back = credit
		b.Returned += back
	}
	sources, otherwise := a.Sources(ToReturn, back)
	o := Outcome{ByVoucher: min(otherwise, Vouched(a.Entries)), Open: b.Open()}
	o.Otherwise = otherwise - o.ByVoucher
	for _, s := range sources {
		o.ByCard += s.Amount
	}
	return o
}

// Overdrawn says what of an account is wrong in itself, as a code; empty when
// nothing is. The codes stand for the invariants of docs/computation.md.
func (a *Account) Overdrawn() string {
	b := a.Balance()
	made := map[string]map[Kind]int{}
	for _, e := range a.Entries {
		if e.Kind != Charged && e.Amount <= 0 {
			return "entry_amount"
		}
		if e.Attempt == "" {
			continue
		}
		if made[e.Attempt] == nil {
			made[e.Attempt] = map[Kind]int{}
		}
		if made[e.Attempt][e.Kind]++; made[e.Attempt][e.Kind] > 1 {
			return "entry_twice"
		}
	}
	switch {
	case b.Returned > b.Paid:
		return "returned_too_much"
	case b.Released > b.Held:
		return "released_too_much"
	case b.Owed() < 0:
		return "charged_below_zero"
	}
	for i := range a.Attempts {
		t := a.Attempts[i]
		if t.State != Settled {
			if len(made[t.Name]) > 0 {
				return "entry_unsettled"
			}
			continue
		}
		again := Attempt{Name: t.Name, Purpose: t.Purpose, Amount: t.Amount, Held: t.Held, Fee: t.Fee, State: Asked}
		want := Sum(again.Answer(Settled, "", time.Time{}))
		var got Balance
		for _, e := range a.Entries {
			if e.Attempt == t.Name {
				got.Add(e.Kind, e.Amount)
			}
		}
		if got != want {
			return "settled_unrecorded"
		}
	}
	return ""
}
