package message

import (
	"fmt"
	"strings"
	"time"

	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/link"
	"ruvo/internal/store"
)

// WriteGift tells whom an order is for what they get, with a link of their own. It says
// nothing of what it cost. News is what there is to tell besides: nothing the first time.
func WriteGift(tx *store.Tx, lines []*docket.Line, news string, now time.Time) error {
	b, o := lines[0].Business, lines[0].Order
	private, err := link.NewGift(tx, o.ID, now)
	if err != nil {
		return err
	}
	l := words.Language(o.Language)
	var products []string
	for _, line := range lines {
		if line.Row.CancelledAt == nil {
			products = append(products, line.Edition.Title)
		}
	}
	said := ""
	if o.Recipient.Words != "" {
		said = o.Recipient.Words + "\n\n"
	}
	p := words.Params{
		"name": o.Recipient.Name, "from": o.Name, "business": b.Name, "products": strings.Join(products, ", "), "words": said,
		"booked": booked(lines), "link": b.Address + "/gift/" + private,
	}
	kind := "gift"
	if news != "" {
		kind = "gift_" + news
	}
	return tx.WriteMessage(store.Message{
		Key: fmt.Sprintf("gift-%d-%d", o.ID, now.UnixNano()), Way: store.ByMail, Recipient: o.Recipient.Email,
		Subject: l.Say("mail."+kind+".subject", p), Body: l.Say("mail."+kind+".body", p), CreatedAt: now.UTC(),
	})
}
