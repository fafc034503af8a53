package message

import (
	"strconv"
	"time"

	"ruvo/internal/core/brief"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// WriteAmendment writes what the seller says to a change that was asked for.
func WriteAmendment(tx *store.Tx, line *docket.Line, a *store.Amendment, now time.Time) error {
	kind := "amend_refused"
	if a.State == brief.Taken {
		kind = "amend_taken"
	}
	said := ""
	if a.Reply != "" {
		said = a.Reply + "\n\n"
	}
	return write(tx, line.Business, line.Order, []*docket.Line{line}, kind, "amendment-"+strconv.FormatInt(a.ID, 10), words.Params{"what": line.Wording(a.Key), "new": a.New, "said": said}, now)
}
