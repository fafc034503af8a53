// Package message sends what use cases wrote into the outbox.
package message

import (
	"context"
	"log/slog"
	"time"

	"ruvo/internal/port"
	"ruvo/internal/store"
)

// A Postman sends what is in the outbox, at least once each.
type Postman struct {
	Store  *store.Store
	Mailer port.Mailer
	Now    func() time.Time
}

// Run sends until the context ends, looking every interval.
func (p *Postman) Run(ctx context.Context, interval time.Duration) {
	tick := time.NewTicker(interval)
	defer tick.Stop()
	for {
		if err := p.Round(ctx); err != nil && ctx.Err() == nil {
			slog.Error("sending mail", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// atOnce is how many mails a round takes up.
const atOnce = 100

// Round sends what is there now. A mail that fails holds up no other: it is
// tried again after a pause that doubles each time.
func (p *Postman) Round(ctx context.Context) error {
	var mails []store.Mail
	err := p.Store.Read(ctx, func(tx *store.Tx) (err error) {
		mails, err = tx.MailToSend(p.Now(), atOnce)
		return err
	})
	if err != nil {
		return err
	}
	for _, m := range mails {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		sent := p.Mailer.Send(ctx, port.Mail{Key: m.Key, To: m.Recipient, Subject: m.Subject, Body: m.Body})
		err := p.Store.Write(ctx, func(tx *store.Tx) error {
			if sent == nil {
				return tx.MailSent(m.ID, p.Now())
			}
			return tx.MailFailed(m.ID, p.Now().Add(port.Pause(m.Tries)), sent.Error())
		})
		if err != nil {
			return err
		}
		if sent != nil {
			slog.Warn("a mail did not go out", "mail", m.ID, "tries", m.Tries+1, "error", sent)
		}
	}
	return nil
}
