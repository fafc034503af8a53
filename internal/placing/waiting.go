package placing

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/link"
	"ruvo/internal/store"
)

// TurnHours is how long what came free is held for whoever waited for it the longest,
// unless it begins before.
const TurnHours = 12

// Without gives a query as if nothing were held for somebody who waits.
func Without(q *booking.Query, waits []int64) {
	q.Taken = slices.DeleteFunc(slices.Clone(q.Taken), func(t booking.Taken) bool { return t.Wait != 0 && slices.Contains(waits, t.Wait) })
}

// Waiting looks after those who wait: what comes free is offered to the one who waits
// the longest, for a set time, then to the next.
type Waiting struct {
	Store    *store.Store
	Editions *docket.Editions
	Now      func() time.Time
	// Tell writes to somebody whose turn it is.
	Tell func(tx *store.Tx, b store.Business, w store.Wait, title, slug, secret string, now time.Time) error
}

// Run looks again and again until the context ends.
func (w *Waiting) Run(ctx context.Context, interval time.Duration) {
	tick := time.NewTicker(interval)
	defer tick.Stop()
	for {
		if err := w.Round(ctx); err != nil && ctx.Err() == nil {
			slog.Error("looking after those who wait", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// Round does all that there is to do now.
func (w *Waiting) Round(ctx context.Context) error {
	some := false
	err := w.Store.Read(ctx, func(tx *store.Tx) error {
		open, err := tx.OpenWaits()
		some = len(open) > 0
		return err
	})
	if err != nil || !some {
		return err
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		open, err := tx.OpenWaits()
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		for i := range open {
			if err := w.look(tx, b, &open[i]); err != nil {
				return fmt.Errorf("wait %d: %w", open[i].ID, err)
			}
		}
		return nil
	})
}

// look ends a wait that is over, or offers what came free.
func (w *Waiting) look(tx *store.Tx, b store.Business, wait *store.Wait) error {
	now := w.Now()
	end := func(outcome string) error {
		wait.DoneAt, wait.Outcome = store.Time(now), outcome
		return tx.SaveWait(wait)
	}
	switch {
	case !wait.StartAt.After(now):
		return end(store.WaitOver)
	case wait.OfferedUntil != nil && !wait.OfferedUntil.After(now):
		return end(store.WaitPassed)
	case wait.OfferedUntil != nil:
		return nil
	}
	p, err := tx.ProductByID(wait.ProductID)
	if err != nil || p.EditionID == nil {
		return err
	}
	e, err := w.Editions.Get(tx, *p.EditionID)
	if err != nil || e.Booking == nil || len(docket.Unsold(&b, e)) > 0 { // nobody could buy it
		return err
	}
	q, err := Query(tx, p.ID, e, b.Location(), now, 0)
	if err != nil {
		return err
	}
	l := words.Language(wait.Language)
	q.Wish = WishOf(e, wait.Answers, b.Location(), now, l)
	places, f := e.Booking.Take(wait.Wanted(), *q, l)
	if f != nil {
		return nil
	}
	secret := link.Secret()
	until := now.Add(TurnHours * time.Hour)
	if until.After(wait.StartAt) {
		until = wait.StartAt
	}
	wait.Hash, wait.OfferedAt, wait.OfferedUntil = link.Hash(secret), store.Time(now), store.Time(until)
	wait.FromAt, wait.ToAt, wait.Resources, wait.Private = store.Time(places[0].From), store.Time(places[len(places)-1].To), places[0].With, e.Booking.Alone()
	if err := tx.SaveWait(wait); err != nil {
		return err
	}
	return w.Tell(tx, b, *wait, e.Title, p.Slug, secret, now)
}

// WishOf gives what answers narrow a booking to.
func WishOf(e *product.Edition, raw map[string]json.RawMessage, zone *time.Location, now time.Time, l words.Language) booking.Wish {
	answers, _ := question.Decode(raw, e.Spec)
	given := evaluate.Given{Quantity: 1, Now: now, Zone: zone, Language: l, Checks: evaluate.Held}
	r := evaluate.Evaluate(e, answers, given)
	return r.Wish(e, given)
}

// OfWaits gives the numbers of waits whose offers somebody can show the secrets of turns of.
func OfWaits(tx *store.Tx, secrets []string, now time.Time) ([]store.Wait, error) {
	var list []store.Wait
	for _, s := range secrets {
		w, err := tx.WaitByHash(link.Hash(s))
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return nil, err
		}
		if w.DoneAt == nil && w.OfferedUntil != nil && w.OfferedUntil.After(now) {
			list = append(list, w)
		}
	}
	return list, nil
}
