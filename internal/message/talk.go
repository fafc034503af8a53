package message

import (
	"fmt"
	"time"

	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// WriteTalk writes to a customer that the seller wrote to them about their order.
func WriteTalk(tx *store.Tx, lines []*docket.Line, t *store.Talk, now time.Time) error {
	said := t.Text
	if n := len(t.Files); n > 0 {
		if said != "" {
			said += "\n\n"
		}
		said += lines[0].Given.Language.Fill("mail.talk.files", "count", fmt.Sprint(n))
	}
	return write(tx, lines[0].Business, lines[0].Order, lines, "talk", fmt.Sprintf("talk-%d", t.ID), words.Params{"told": said, "who": t.Author}, now)
}
