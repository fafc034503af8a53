// Package ledger holds what happened with an order's money: entries that are
// only added, the attempts to move money that make them, and the balance that
// follows from them. No balance is stored beside its entries.
package ledger

import (
	"slices"
	"strings"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
)

// A Kind is what an entry says happened.
type Kind string

const (
	Charged  Kind = "charged"  // what the slip asks, or what a later change adds to it or takes off it
	Paid     Kind = "paid"     // came in for what was charged
	Held     Kind = "held"     // came in as a security deposit
	Released Kind = "released" // of the deposit, given back
	Returned Kind = "returned" // of what was paid, given back
	Waived   Kind = "waived"   // of what was charged, no longer asked for
	Fee      Kind = "fee"      // what the payment service kept of a payment; no part of what the customer owes
)

// Kinds lists them.
func Kinds() []Kind { return []Kind{Charged, Paid, Held, Released, Returned, Waived, Fee} }

// A Way is how money moved.
type Way string

const (
	NoWay Way = ""     // nothing moved
	Card  Way = "card" // through the payment service
	// Voucher is money that came in when the voucher was sold.
	Voucher Way = "voucher"
	// Noted at the desk:
	Transfer Way = "transfer" // to or from a bank account
	Cash     Way = "cash"
	Hand     Way = "hand" // by other means
)

// AnyMoney stands, where entries are looked for, for any way but vouchers, whose
// money came in before.
const AnyMoney Way = "money"

// ByHand lists the ways that people note at the desk.
func ByHand() []Way { return []Way{Transfer, Cash, Hand} }

// The reasons of entries that need one.
const (
	Placing    = "placing"    // the order was placed
	Cancelling = "cancelling" // the order, or a line of it, was cancelled
	Changing   = "changing"   // answers changed, and the price with them
	Lapsing    = "lapsing"    // its transfer did not come in
	Returning  = "returning"  // something of what was paid is given back
	Unrecorded = "unrecorded" // from before there were entries
)

// An Entry is one line of a ledger. Amount is in minor units of the order's
// currency; it lies above zero, but for a charge that was taken back.
type Entry struct {
	Kind    Kind
	Amount  money.Amount
	At      time.Time
	Due     string // of a charge, as charge.Due has its day; "" is at once
	Way     Way
	Attempt string // the attempt that made it; empty for none
	Author  string // who noted it; empty for the application itself
	Reason  string // of a charge, a code
	Note    string // in somebody's words
}

// A Balance is what entries come to.
type Balance struct {
	Charged, Paid, Held, Released, Returned, Waived money.Amount
}

// Sum gives the balance of entries, in whatever order they come.
func Sum(entries []Entry) Balance {
	var b Balance
	for _, e := range entries {
		b.Add(e.Kind, e.Amount)
	}
	return b
}

// Add counts one more entry, or the sum of many of one kind.
func (b *Balance) Add(k Kind, a money.Amount) {
	switch k {
	case Charged:
		b.Charged += a
	case Paid:
		b.Paid += a
	case Held:
		b.Held += a
	case Released:
		b.Released += a
	case Returned:
		b.Returned += a
	case Waived:
		b.Waived += a
	}
}

// Owed gives what is asked for in all: what was charged and not waived.
func (b Balance) Owed() money.Amount { return b.Charged - b.Waived }

// Kept gives what was paid and not given back.
func (b Balance) Kept() money.Amount { return b.Paid - b.Returned }

// Open gives what is still to be paid, now or later.
func (b Balance) Open() money.Amount { return max(b.Owed()-b.Kept(), 0) }

// Overpaid gives what came in beyond what is asked for, and is to be given
// back.
func (b Balance) Overpaid() money.Amount { return max(b.Kept()-b.Owed(), 0) }

// Security gives what of the deposit is still held.
func (b Balance) Security() money.Amount { return b.Held - b.Released }

// Charging gives the entries that placing an order makes: what its slip asks,
// each part with the day on which it is due.
func Charging(slip *charge.Slip, at time.Time) []Entry {
	if len(slip.Due) == 0 {
		if slip.Total == 0 {
			return nil
		}
		return []Entry{{Kind: Charged, Amount: slip.Total, At: at, Reason: Placing}}
	}
	var list []Entry
	for _, d := range slip.Due {
		if d.Amount != 0 {
			list = append(list, Entry{Kind: Charged, Amount: d.Amount, At: at, Due: d.Day, Reason: Placing})
		}
	}
	return list
}

// A Part is a sum that is still open, and when it is due.
type Part struct {
	Due    string // as charge.Due has its day
	Amount money.Amount
}

// A Progress says what of the events has happened that parts are due with.
type Progress struct {
	Begun  bool // work on the order
	Handed bool // all of its work is done
}

// Is says whether a part is due by now, and whether it is overdue: its day has
// passed, or what it is due with has happened.
func (p Part) Is(today calendar.Day, done Progress) (due, overdue bool) {
	switch p.Due {
	case "":
		return true, false
	case charge.Begin:
		return done.Begun, done.Begun
	case charge.Handover:
		return done.Handed, done.Handed
	case charge.Booking:
		return false, false
	}
	day, err := calendar.ParseDay(p.Due)
	return err == nil && !day.After(today), err == nil && day.Before(today)
}

// DueNow gives what is to be paid now: what is due by now, or the next part when
// nothing is.
func DueNow(parts []Part, today calendar.Day, done Progress) money.Amount {
	var sum money.Amount
	for _, p := range parts {
		if due, _ := p.Is(today, done); due {
			sum += p.Amount
		}
	}
	if sum == 0 && len(parts) > 0 {
		sum = parts[0].Amount
	}
	return sum
}

// Parts gives what is still open by when it is due, the earliest first. What
// was paid counts for the earliest charges; what was taken back or waived is
// taken off the latest.
func Parts(entries []Entry) []Part {
	var parts []Part
	paid, off := Sum(entries).Kept(), money.Amount(0)
	for _, e := range entries {
		switch {
		case e.Kind == Charged && e.Amount > 0:
			if i := slices.IndexFunc(parts, func(p Part) bool { return p.Due == e.Due }); i >= 0 {
				parts[i].Amount += e.Amount
			} else {
				parts = append(parts, Part{e.Due, e.Amount})
			}
		case e.Kind == Charged:
			off -= e.Amount
		case e.Kind == Waived:
			off += e.Amount
		}
	}
	// "" stands before days, and days before the words for events.
	slices.SortStableFunc(parts, func(a, b Part) int { return strings.Compare(a.Due, b.Due) })
	for i := len(parts) - 1; i >= 0 && off > 0; i-- {
		n := min(parts[i].Amount, off)
		parts[i].Amount -= n
		off -= n
	}
	for i := range parts {
		n := min(parts[i].Amount, max(paid, 0))
		parts[i].Amount -= n
		paid -= n
	}
	return slices.DeleteFunc(parts, func(p Part) bool { return p.Amount == 0 })
}

// Awaited gives what is still to come in before an order is placed that awaits
// its transfer: what is due at once, and the deposit that was agreed.
func Awaited(entries []Entry, agreed money.Amount) money.Amount {
	sum := max(agreed-Sum(entries).Security(), 0)
	for _, p := range Parts(entries) {
		if p.Due == "" {
			sum += p.Amount
		}
	}
	return sum
}

// Came gives the entries for money that came in otherwise than through the
// payment service: for what is due at once first, then for what is still missing
// of the deposit, then for all else. What, when and by whom is as in e.
func Came(entries []Entry, missing money.Amount, e Entry) []Entry {
	atOnce := Awaited(entries, 0)
	held := min(max(e.Amount-atOnce, 0), max(missing, 0))
	var list []Entry
	if e.Kind = Paid; e.Amount > held {
		paid := e
		paid.Amount -= held
		list = append(list, paid)
	}
	if held > 0 {
		e.Kind, e.Amount = Held, held
		list = append(list, e)
	}
	return list
}

// GivenUp says of an order that lapsed whether somebody gave it free, and not time.
func GivenUp(entries []Entry) bool {
	for _, e := range slices.Backward(entries) {
		if e.Reason == Lapsing {
			return e.Author != ""
		}
	}
	return false
}

// Uncharged gives the entry that takes back what was charged, less what was
// taken back before: what an order held was given free before it was placed.
func Uncharged(entries []Entry, at time.Time, author string) []Entry {
	sum := Sum(entries).Charged
	if sum == 0 {
		return nil
	}
	return []Entry{{Kind: Charged, Amount: -sum, At: at, Author: author, Reason: Lapsing}}
}
