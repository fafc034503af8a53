package message

import (
	"fmt"
	"time"

	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

func newerKey(line *docket.Line, edition int64) string {
	return fmt.Sprintf("newer-%d-%d", edition, line.Row.ID)
}

// KnowsNewer says whether a buyer was told of what an edition has newer.
func KnowsNewer(tx *store.Tx, line *docket.Line, edition int64) (bool, error) {
	return tx.MessageWritten(newerKey(line, edition))
}

// WriteNewer writes to a buyer that there is something newer of what they were given at
// once, and says whether they were not told before.
func WriteNewer(tx *store.Tx, line *docket.Line, edition int64, now time.Time) (bool, error) {
	if known, err := KnowsNewer(tx, line, edition); known || err != nil {
		return false, err
	}
	return true, write(tx, line.Business, line.Order, []*docket.Line{line}, "newer", newerKey(line, edition), words.Params{}, now)
}
