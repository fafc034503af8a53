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

// keepHeld decides whether what a checkout holds stays held until its time, and
// gives it free otherwise. Nobody is refused for that: whoever held too much for
// too long without paying goes on as before, and gets what is there when they
// pay. Before is what was held until now, by product.
func (s *Shop) keepHeld(ctx context.Context, tx *store.Tx, o *store.Order, before map[int64]time.Duration) error {
	if o.HeldUntil == nil {
		return nil
	}
	after, err := tx.HeldLines(o.ID, s.Now())
	if err != nil {
		return err
	}
	sender := limit.Sender(ctx)
	var undos []func()
	take := func(b *limit.Buckets, key string, time time.Duration) bool {
		n := int(time.Seconds())
		if !b.Fits(n) {
			return false
		}
		undo, wait := b.Reserve(key, n)
		undos = append(undos, undo)
		return wait == 0
	}
	var longer time.Duration
	lines, kept := 0, true
	for product, held := range after {
		more := max(held.Time-before[product], 0)
		longer += more
		lines += held.Lines
		kept = kept && take(s.Limits.ProductHolding, sender+" "+strconv.FormatInt(product, 10), more)
	}
	if kept && take(s.Limits.Holding, sender, longer) && (lines <= mostHeld || s.Limits.Holding == nil) {
		return nil
	}
	for _, undo := range undos {
		undo()
	}
	o.HeldUntil = nil
	return tx.LetGo(o.ID, s.Now())
}

// heldBefore gives for how long a checkout holds lines of each product.
func (s *Shop) heldBefore(tx *store.Tx, o *store.Order) (map[int64]time.Duration, error) {
	before := map[int64]time.Duration{}
	if o.ID == 0 {
		return before, nil
	}
	held, err := tx.HeldLines(o.ID, s.Now())
	for product, h := range held {
		before[product] = h.Time
	}
	return before, err
}
