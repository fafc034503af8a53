// Package agreement is about the texts of the business itself that customers agree to:
// its terms of sale, which every order is placed under, and that news may be written to
// them, which nobody has to want. A text never changes; another one is its next version.
package agreement

import (
	"strings"
	"time"

	"ruvo/internal/core/words"
)

// A Kind is what a text is about.
type Kind string

const (
	// Terms are the terms of sale. Whoever orders agrees to them by ordering, so the
	// version that they could read is kept with the order.
	Terms Kind = "terms"
	// News is that news may be written to somebody. Consent to it is freely given, so no
	// order hangs on it, and nothing is ticked beforehand (Regulation (EU) 2016/679,
	// articles 4(11) and 7, recital 32; cited from memory).
	News Kind = "news"
)

// Kinds lists the kinds, in the order in which customers read them.
func Kinds() []Kind { return []Kind{Terms, News} }

// longest bounds a text, in bytes.
const longest = 60_000

// A Text is one version of a text.
type Text struct {
	Version int    // counted from one; 0 where there never was a text
	Text    string // Markdown; empty when nothing is to be agreed to any more
}

// Asked says whether customers are asked to agree to it.
func (t Text) Asked() bool { return t.Text != "" }

// Next gives the version that follows, with another text. The same text is refused: it
// would make a version that differs in nothing.
func (t Text) Next(text string) (Text, error) {
	text = strings.TrimSpace(strings.ReplaceAll(text, "\r\n", "\n"))
	switch {
	case len(text) > longest:
		return Text{}, words.Tell("agreement.too_long")
	case text == t.Text:
		return Text{}, words.Tell("agreement.same")
	}
	return Text{Version: t.Version + 1, Text: text}, nil
}

// Refused says why an order cannot be placed under terms in the version that somebody
// agreed to, 0 for none; empty when it can.
func (t Text) Refused(agreed int) string {
	switch {
	case !t.Asked() || agreed == t.Version:
		return ""
	case agreed == 0:
		return "terms_unread"
	default:
		return "terms_changed"
	}
}

// A Word is what was said about news, of one mail address: yes to a version of the text,
// or that there be none any more.
type Word struct {
	Agreed  bool
	Version int // of the text that was agreed to; 0 for what was said elsewhere
	At      time.Time
}

// Standing gives the word that counts of all that were said, the oldest first: the last
// one, dated back to when the same was first said without a break. It is nil when nothing
// was said, or news is not wanted any more.
func Standing(said []Word) *Word {
	if len(said) == 0 || !said[len(said)-1].Agreed {
		return nil
	}
	counts := said[len(said)-1]
	for i := len(said) - 2; i >= 0 && said[i].Agreed && said[i].Version == counts.Version; i-- {
		counts.At = said[i].At
	}
	return &counts
}
