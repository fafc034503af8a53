// Package message sends what use cases wrote into the outbox.
package message

import (
	"context"
	"log/slog"
	"time"

	"rsc.io/qr"

	"ruvo/internal/port"
	"ruvo/internal/store"
)

// A Postman sends what is in the outbox, at least once each.
type Postman struct {
	Store  *store.Store
	Mailer port.Mailer
	Texter port.Texter
	Now    func() time.Time
}

// Run sends until the context ends, looking every interval.
func (p *Postman) Run(ctx context.Context, interval time.Duration) {
	tick := time.NewTicker(interval)
	defer tick.Stop()
	for {
		if err := p.Round(ctx); err != nil && ctx.Err() == nil {
			slog.Error("sending messages", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// atOnce is how many messages a round takes up.
const atOnce = 100

// Round sends what is there now. A message that fails holds up no other: it is
// tried again after a pause that doubles each time.
func (p *Postman) Round(ctx context.Context) error {
	var messages []store.Message
	err := p.Store.Read(ctx, func(tx *store.Tx) (err error) {
		messages, err = tx.MessagesToSend(p.Now(), atOnce)
		return err
	})
	if err != nil {
		return err
	}
	for _, m := range messages {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		sent := p.send(ctx, &m)
		err := p.Store.Write(ctx, func(tx *store.Tx) error {
			if sent == nil {
				return tx.MessageSent(&m, p.Now())
			}
			return tx.MessageFailed(m.ID, p.Now().Add(port.Pause(m.Tries)), sent.Error())
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

func (p *Postman) send(ctx context.Context, m *store.Message) error {
	if m.Way == store.ByText {
		return p.Texter.SendText(ctx, port.Text{Key: m.Key, To: m.Recipient, Body: m.Body})
	}
	mail := port.Mail{Key: m.Key, To: m.Recipient, Subject: m.Subject, Body: m.Body}
	if m.Code != "" {
		code, err := qr.Encode(m.Code, qr.M) // the level that EPC069-12 asks for
		if err != nil {
			return err
		}
		mail.Pictures = []port.Picture{{Name: "transfer.png", PNG: code.PNG()}}
	}
	mail.Calendar = m.Calendar
	return p.Mailer.Send(ctx, mail)
}
