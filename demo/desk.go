package demo

import (
	"context"
	"fmt"

	"ruvo/api"
	"ruvo/internal/store"
)

// ownThings is what the studio keeps for itself: filters of the orders, answers to be
// written again, what it knows of people, and what it asked of single orders.
type ownThings struct {
	Filters []api.SavedFilterKeep `json:"filters"`
	Replies []api.ReplyKeep       `json:"replies"`
	Notes   []api.CustomerNote    `json:"notes"`
	Things  []struct {
		Email string `json:"email"` // whose first order it was asked of
		api.ThingAsked
	} `json:"things"`
}

func (f *filling) own(ctx context.Context) error {
	var own ownThings
	if err := read("desk.json", &own); err != nil {
		return err
	}
	for _, filter := range own.Filters {
		if _, err := f.desk.SaveFilter(ctx, filter, "en"); err != nil {
			return detail(err)
		}
	}
	for _, r := range own.Replies {
		if err := f.desk.KeepReply(ctx, r, "en"); err != nil {
			return detail(err)
		}
	}
	for _, n := range own.Notes {
		if _, err := f.desk.NoteCustomer(ctx, n, "en"); err != nil {
			return detail(err)
		}
	}
	for _, t := range own.Things {
		var line int64
		err := f.store.Read(ctx, func(tx *store.Tx) error {
			lines, err := tx.ListLines(store.LineFilter{Mails: []string{t.Email}, Most: 1})
			if err == nil && len(lines) == 0 {
				err = fmt.Errorf("%s ordered nothing", t.Email)
			}
			if err == nil {
				line = lines[0].ID
			}
			return err
		})
		if err != nil {
			return err
		}
		if _, err := f.desk.AskThing(ctx, line, t.ThingAsked, "en"); err != nil {
			return detail(err)
		}
	}
	return nil
}
