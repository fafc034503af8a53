package standin

import (
	"context"
	"log/slog"
	"time"

	"ruvo/internal/store"
)

// A Mailer is the port to whoever delivers mail. Sending the same key twice
// must deliver once.
type Mailer interface {
	Send(ctx context.Context, m store.Mail) error
}

// MailStandIn delivers nothing: the desk reads the outbox instead.
type MailStandIn struct{}

// Send implements Mailer.
func (MailStandIn) Send(context.Context, store.Mail) error { return nil }

// A Postman sends what is in the outbox, at least once each.
type Postman struct {
	Store  *store.Store
	Mailer Mailer
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

// Round sends what is there now.
func (p *Postman) Round(ctx context.Context) error {
	var mails []store.Mail
	err := p.Store.Read(ctx, func(tx *store.Tx) (err error) {
		mails, err = tx.UnsentMail(100)
		return err
	})
	for _, m := range mails {
		if err == nil {
			err = p.Mailer.Send(ctx, m)
		}
		if err == nil {
			err = p.Store.Write(ctx, func(tx *store.Tx) error { return tx.MailSent(m.ID, p.Now()) })
		}
	}
	return err
}
