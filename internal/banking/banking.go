// Package banking looks after what customers transfer: it reads statements of the
// bank, books their rows on the orders that they are of, reminds of transfers
// that did not come in, and gives free what was held for them.
package banking

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/placing"
	"ruvo/internal/store"
)

// A Clerk does it.
type Clerk struct {
	Store    *store.Store
	Editions *docket.Editions
	Now      func() time.Time

	kick chan struct{}
}

// New makes a clerk.
func New(s *store.Store, editions *docket.Editions, now func() time.Time) *Clerk {
	return &Clerk{Store: s, Editions: editions, Now: now, kick: make(chan struct{}, 1)}
}

// Run works until the context ends, at intervals and whenever a statement was
// taken.
func (c *Clerk) Run(ctx context.Context, interval time.Duration) {
	tick := time.NewTicker(interval)
	defer tick.Stop()
	for {
		if err := c.Round(ctx); err != nil && ctx.Err() == nil {
			slog.Error("looking after transfers", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-c.kick:
		case <-tick.C:
		}
	}
}

// Round does all that there is to do now.
func (c *Clerk) Round(ctx context.Context) error {
	return errors.Join(c.book(ctx), c.remind(ctx), c.lapse(ctx))
}

// atOnce is how many orders one transaction takes up.
const atOnce = 50

// remind writes to those whose transfers did not come in within their days.
func (c *Clerk) remind(ctx context.Context) error {
	return c.Store.Write(ctx, func(tx *store.Tx) error {
		due, err := tx.Reminding(c.Now(), atOnce)
		if err != nil {
			return err
		}
		for i := range due {
			o := &due[i]
			o.RemindAt = nil
			if err := tx.SaveProgress(o); err != nil {
				return err
			}
			lines, err := docket.Lines(tx, c.Editions, o, c.Now())
			if err != nil {
				return err
			}
			if err := message.WriteTransferReminder(tx, lines, c.Now()); err != nil {
				return fmt.Errorf("order %d: %w", o.ID, err)
			}
		}
		return nil
	})
}

// lapse gives free what is held for transfers whose time is over. An order of
// which something came in is left to the seller.
func (c *Clerk) lapse(ctx context.Context) error {
	return c.Store.Write(ctx, func(tx *store.Tx) error {
		due, err := tx.Lapsing(c.Now(), atOnce)
		if err != nil {
			return err
		}
		for i := range due {
			if err := placing.Lapse(tx, c.Editions, &due[i], "", false, c.Now()); err != nil {
				return fmt.Errorf("order %d: %w", due[i].ID, err)
			}
		}
		return nil
	})
}
