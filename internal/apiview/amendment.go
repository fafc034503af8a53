package apiview

import (
	"ruvo/api"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// Amendments shows which changes of answers were asked for, the newest first; nil for
// none.
func Amendments(tx *store.Tx, line *docket.Line) (*[]api.Amendment, error) {
	rows, err := tx.Amendments(line.Row.ID)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	views := make([]api.Amendment, 0, len(rows))
	for i := len(rows) - 1; i >= 0; i-- {
		views = append(views, Amendment(&rows[i], line))
	}
	return &views, nil
}

// Amendment shows a change that was asked for.
func Amendment(a *store.Amendment, line *docket.Line) api.Amendment {
	v := api.Amendment{Id: a.ID, Key: string(a.Key), Wording: line.Wording(a.Key), Old: a.Old, New: a.New, Why: a.Why, State: api.AmendmentState(a.State), At: a.At, Answered: a.AnsweredAt, Reply: a.Reply}
	if a.AnsweredBy != "" {
		v.By = &a.AnsweredBy
	}
	return v
}
