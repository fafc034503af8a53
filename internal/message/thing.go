package message

import (
	"fmt"
	"time"

	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// WriteThing asks a customer for one more thing.
func WriteThing(tx *store.Tx, line *docket.Line, id int64, wording string, now time.Time) error {
	return write(tx, line.Business, line.Order, []*docket.Line{line}, "thing", fmt.Sprintf("thing-%d", id), words.Params{"wording": wording}, now)
}
