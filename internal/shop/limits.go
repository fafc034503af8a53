package shop

import (
	"context"
	"strconv"
	"time"

	"ruvo/internal/core/words"
	"ruvo/internal/limit"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// mayMail says whether one more mail may go to an address that nobody paid for
// it.
func (s *Shop) mayMail(ctx context.Context, email string, l words.Language) error {
	undo, wait := s.Limits.Mails.Reserve(limit.Sender(ctx), 1)
	if wait == 0 {
		if wait = s.Limits.AddressMails.Take(email, 1); wait > 0 {
			undo()
		}
	}
	if wait > 0 {
		return problem.Throttled(l, "many_mails", wait)
	}
	return nil
}

// mayTell says whether whom an order is for may get a mail about it. One that nobody paid
// for is held to the limits of mails: a buyer's words are no way to write to strangers.
func (s *Shop) mayTell(ctx context.Context, tx *store.Tx, o *store.Order, l words.Language) error {
	if o.Recipient == nil || o.Recipient.Email == "" || o.ToldAt != nil {
		return nil
	}
	account, err := tx.Account(o.ID)
	if err != nil || account.Balance().Paid > 0 {
		return err
	}
	return s.mayMail(ctx, o.Recipient.Email, l)
}

// mayPay says whether one more attempt to pay an order may be made.
func (s *Shop) mayPay(ctx context.Context, order int64, l words.Language) error {
	undo, wait := s.Limits.CheckoutPayments.Reserve(strconv.FormatInt(order, 10), 1)
	if wait == 0 {
		if wait = s.Limits.Payments.Take(limit.Sender(ctx), 1); wait > 0 {
			undo()
		}
	}
	if wait > 0 {
		return problem.Throttled(l, "many_payments", wait)
	}
	return nil
}

// mostHeld is how many lines of one checkout are held.
const mostHeld = 20

// A holding is what a checkout holds, by product, and until when.
type holding struct {
	by    map[int64]store.Held
	until time.Time
}

// held gives what a checkout holds.
func (s *Shop) held(tx *store.Tx, o *store.Order) (holding, error) {
	if o.ID == 0 || o.HeldUntil == nil {
		return holding{}, nil
	}
	by, err := tx.HeldLines(o.ID, s.Now())
	return holding{by, store.When(o.HeldUntil)}, err
}

// covers says whether nothing is held that was not held before.
func (h holding) covers(now holding) bool {
	for product, held := range now.by {
		if held.Lines > h.by[product].Lines {
			return false
		}
	}
	return true
}

// keepHeld decides whether what a checkout holds stays held until its time. It
// gives it free otherwise, or leaves it held until the time it was held before.
// Nobody is refused for that: whoever held too much for too long without paying
// goes on as before, and gets what is there when they pay.
func (s *Shop) keepHeld(ctx context.Context, tx *store.Tx, o *store.Order, before holding) error {
	if o.HeldUntil == nil {
		return nil
	}
	after, err := s.held(tx, o)
	if err != nil || s.mayHold(limit.Sender(ctx), before, after) {
		return err
	}
	until := s.Now()
	if o.HeldUntil = nil; before.until.After(until) && before.covers(after) {
		until, o.HeldUntil = before.until, store.Time(before.until)
	}
	return tx.HoldUntil(o.ID, until)
}

// mayHold takes what it costs to hold more than before, or for longer, from a
// sender's limits; nothing when it is too much.
func (s *Shop) mayHold(sender string, before, after holding) bool {
	var undos []func()
	take := func(b *limit.Buckets, key string, held time.Duration) bool {
		undo, wait := b.Reserve(key, int(held.Seconds()))
		undos = append(undos, undo)
		return wait == 0 && b.Fits(int(held.Seconds()))
	}
	var longer time.Duration
	lines, kept := 0, true
	for product, held := range after.by {
		more := max(held.Time-before.by[product].Time, 0)
		longer += more
		lines += held.Lines
		kept = kept && take(s.Limits.ProductHolding, sender+" "+strconv.FormatInt(product, 10), more)
	}
	if kept && take(s.Limits.Holding, sender, longer) && (lines <= mostHeld || s.Limits.Holding == nil) {
		return true
	}
	for _, undo := range undos {
		undo()
	}
	return false
}
