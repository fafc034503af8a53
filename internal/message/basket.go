package message

import (
	"fmt"
	"time"

	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// WriteBasket mails the link to a basket that somebody keeps.
func WriteBasket(tx *store.Tx, b store.Business, to, address string, l words.Language, now time.Time) error {
	p := words.Params{"business": b.Name, "link": address}
	return tx.WriteMessage(store.Message{
		Key: fmt.Sprintf("basket-%d", now.UnixNano()), Way: store.ByMail, Recipient: to, Subject: l.Say("mail.basket.subject", p), Body: l.Say("mail.basket.body", p), CreatedAt: now.UTC(),
	})
}
