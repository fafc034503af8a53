package placing

import (
	"errors"
	"time"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// A Wait is how long what an order holds is kept for its transfer.
type Wait struct {
	Remind time.Time // the customer, from then on
	Until  time.Time // then it is given free
}

// WaitOf gives how long an order is kept from an instant: working days of the
// business, to the end of their hours. A business without hours counts days.
func WaitOf(b *store.Business, from time.Time) Wait {
	days, grace := b.Account.Held()
	end := func(n int) time.Time {
		at, err := b.Hours().AddDays(from, n)
		if err != nil {
			at = from.AddDate(0, 0, n)
		}
		return at.UTC()
	}
	return Wait{end(days), end(days + grace)}
}

// Await makes a checkout an order that awaits its transfer: it is numbered and
// charged, and all that it takes stays held. The caller has it regained before.
func Await(tx *store.Tx, editions *docket.Editions, o *store.Order, now time.Time) error {
	b, err := tx.Business()
	if err != nil {
		return err
	}
	if err := await(tx, b, o, now); err != nil {
		return err
	}
	lines, err := docket.Lines(tx, editions, o, now)
	if err != nil {
		return err
	}
	return message.WriteAwaiting(tx, lines, now)
}

func await(tx *store.Tx, b store.Business, o *store.Order, now time.Time) error {
	wait := WaitOf(&b, now)
	o.State, o.RemindAt, o.HeldUntil = order.Awaiting, &wait.Remind, &wait.Until
	if o.OrderedAt == nil {
		o.OrderedAt = store.Time(now)
	}
	return chargeOrder(tx, b, o, now)
}

// Settle places an order that awaits its transfer once what is due when ordering
// came in. Any other it leaves as it is.
func Settle(tx *store.Tx, editions *docket.Editions, o *store.Order, now time.Time) error {
	if o.State != order.Awaiting {
		return nil
	}
	entries, err := tx.Entries(o.ID)
	if err != nil || ledger.Awaited(entries, o.Slip.Held) > 0 {
		return err
	}
	return Place(tx, editions, o, now)
}

// Receive notes money of an order that came in otherwise than through the
// payment service, and does what follows from it: an order that awaited it is
// placed once enough came in, and one that had lapsed is taken up again when all
// that it held is still free. Alone, with nobody who noted it, that is done only
// for one whose time was over, and not for one that somebody gave free. It says
// whether the order could not be taken up.
func Receive(tx *store.Tx, editions *docket.Editions, o *store.Order, e ledger.Entry, alone bool, now time.Time) (late bool, err error) {
	b, err := tx.Business()
	if err != nil {
		return false, err
	}
	entries, err := tx.Entries(o.ID)
	if err != nil {
		return false, err
	}
	if o.State == order.Lapsed {
		if alone && ledger.GivenUp(entries) {
			late = true
		} else if late, err = revive(tx, editions, o, now); err != nil {
			return false, err
		}
		if entries, err = tx.Entries(o.ID); err != nil {
			return false, err
		}
	}
	missing := o.State.Deposit(o.Slip.Held) - ledger.Sum(entries).Security()
	if o.State != order.Awaiting { // a deposit is taken when ordering
		missing = 0
	}
	if err := tx.AddEntries(o, ledger.Came(entries, missing, e), b.Location()); err != nil {
		return false, err
	}
	if err := Settle(tx, editions, o, now); err != nil || !late && o.State != order.Awaiting {
		return late, err
	}
	lines, err := docket.Lines(tx, editions, o, now)
	if err != nil {
		return late, err
	}
	if late {
		return late, message.WriteLate(tx, lines, e.Amount, now)
	}
	return late, message.WriteTransferReminder(tx, lines, now) // of what is missing
}

// revive has an order that lapsed await its transfer again; late when something
// that it held is taken by now.
func revive(tx *store.Tx, editions *docket.Editions, o *store.Order, now time.Time) (late bool, err error) {
	b, err := tx.Business()
	if err != nil {
		return false, err
	}
	was := *o
	rows, err := tx.LineHeads(o.ID)
	if err != nil {
		return false, err
	}
	err = Regain(tx, editions, o, rows, now, time.Minute, words.Language(o.Language))
	var told *problem.Problem
	if errors.As(err, &told) {
		*o = was
		return true, Free(tx, o.ID, now)
	}
	if err != nil {
		return false, err
	}
	return false, await(tx, b, o, now)
}

// Free gives free what an order holds.
func Free(tx *store.Tx, id int64, now time.Time) error {
	if err := tx.HoldUntil(id, now); err != nil {
		return err
	}
	if err := tx.ReleaseVouchers(id); err != nil {
		return err
	}
	return tx.ReleaseCoupons(id)
}

// Lapse gives free what an order holds that awaits its transfer, takes back what
// was charged, and writes to the customer; self says that they wished it so. What
// had come in of it is to be given back; what vouchers paid goes back to them.
func Lapse(tx *store.Tx, editions *docket.Editions, o *store.Order, author string, self bool, now time.Time) error {
	b, err := tx.Business()
	if err != nil {
		return err
	}
	lines, err := docket.Lines(tx, editions, o, now)
	if err != nil {
		return err
	}
	o.State, o.RemindAt, o.HeldUntil = order.Lapsed, nil, store.Time(now)
	if err := tx.SaveProgress(o); err != nil {
		return err
	}
	if err := Free(tx, o.ID, now); err != nil {
		return err
	}
	entries, err := tx.Entries(o.ID)
	if err != nil {
		return err
	}
	if err := tx.AddEntries(o, ledger.Uncharged(entries, now, author), b.Location()); err != nil {
		return err
	}
	back, err := ToVouchers(tx, o, ledger.Vouched(entries), author, "", now)
	if err != nil {
		return err
	}
	return message.WriteLapsed(tx, lines, ledger.Sum(entries).Kept()-back+ledger.Sum(entries).Security(), self, now)
}

// Soonest gives when the first booking of order lines begins; the zero time when
// it has none.
func Soonest(tx *store.Tx, rows []store.OrderLine) (time.Time, error) {
	ids := make([]int64, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	all, err := tx.BookingsByLine(ids)
	var first time.Time
	for _, of := range all {
		if first.IsZero() || of[0].StartAt.Before(first) {
			first = of[0].StartAt
		}
	}
	return first, err
}
