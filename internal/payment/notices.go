package payment

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"time"

	"ruvo/internal/port"
	"ruvo/internal/store"
)

// Noticed keeps a notice of the payment service, once, to be worked on in a
// moment; the service does not wait for that. It returns the errors of
// port.Payments.Notice for one that is not the service's.
func (p *Attempts) Noticed(ctx context.Context, head http.Header, body []byte) error {
	n, err := p.Service.Notice(head, body, p.Now())
	if err != nil {
		return err
	}
	now := p.Now().UTC()
	return p.Store.Write(ctx, func(tx *store.Tx) error {
		_, err := tx.AddNotice(&store.Notice{ID: n.ID, Attempt: n.Attempt, At: now, WorkAt: &now})
		return err
	})
}

// noticesKept is how long a notice that was worked on is known, should it come
// again: longer than the service signs it for.
const noticesKept = 24 * time.Hour

// WorkNotices asks about what notices told of. When the service does not answer,
// a notice is worked on again after pauses that grow, as often as mostTries.
func (p *Attempts) WorkNotices(ctx context.Context) error {
	var due []store.Notice
	err := p.Store.Read(ctx, func(tx *store.Tx) (err error) {
		due, err = tx.NoticesToWork(p.Now())
		return err
	})
	if err != nil {
		return err
	}
	var failed []error
	for _, n := range due {
		if err := p.work(ctx, n); err != nil {
			failed = append(failed, fmt.Errorf("the notice %s: %w", n.ID, err))
		}
	}
	return errors.Join(failed...)
}

// mostTries is after how many tries a notice is left: the attempt itself is
// asked about for as long as it waits.
const mostTries = 10

func (p *Attempts) work(ctx context.Context, n store.Notice) error {
	r, err := p.Service.Ask(ctx, n.Attempt)
	if err == nil {
		_, err = p.Answer(ctx, n.Attempt, r, nil)
		if errors.Is(err, store.ErrNotFound) { // it is signed, and about nothing of ours
			err = nil
		}
	}
	if errors.Is(err, port.ErrNoAttempt) {
		err = nil
	}
	n.WorkAt = nil
	if err != nil && n.Tries+1 < mostTries {
		n.Tries++
		n.WorkAt = store.Time(p.Now().Add(port.Pause(n.Tries - 1)))
	}
	return p.Store.Write(ctx, func(tx *store.Tx) error { return tx.SaveNotice(&n) })
}

// Sweep forgets the notices that were worked on long ago.
func (p *Attempts) Sweep(ctx context.Context) error {
	return p.Store.Write(ctx, func(tx *store.Tx) error { return tx.SweepNotices(p.Now().Add(-noticesKept)) })
}
