package placing

import (
	"encoding/json"
	"maps"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// Days shows what could be booked for an order line instead of what it books, with
// answers as they would be.
func Days(tx *store.Tx, line *docket.Line, asked api.DaysAsked, a apiview.Asked, now time.Time, l words.Language) (api.BookableDays, error) {
	q, err := Query(tx, line.Row.ProductID, line.Edition, line.Given.Zone, now, line.Row.ID)
	if err != nil || q == nil {
		return api.BookableDays{Days: []api.BookableDay{}}, err
	}
	answers := map[string]json.RawMessage{}
	maps.Copy(answers, line.Row.Answers)
	maps.Copy(answers, asked.Answers)
	r, _ := line.Evaluate(answers, evaluate.Held, now)
	q.Wish = apiview.WishOf(r.Wish(line.Edition, line.Given), asked)
	return apiview.Days(line.Edition.Booking, *q, a, l), nil
}
