package placing

import (
	"time"

	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/store"
)

// Tell tells whom an order is for, if it is for somebody, once their day has come. Those
// without a mail address are told by the buyer.
func Tell(tx *store.Tx, o *store.Order, lines []*docket.Line, now time.Time) error {
	if o.Recipient == nil || o.Recipient.Email == "" || o.ToldAt != nil {
		return nil
	}
	if o.TellAt == nil {
		o.TellAt = store.Time(o.Recipient.TellAt(now, lines[0].Business.Location()))
	}
	if !o.TellAt.After(now) {
		for _, line := range lines {
			line.Order.Recipient = o.Recipient
		}
		if err := message.WriteGift(tx, lines, "", now); err != nil {
			return err
		}
		o.ToldAt = store.Time(now)
	}
	return tx.SaveRecipient(o)
}
