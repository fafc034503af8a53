package desk

import (
	"context"
	"net/http"
	"slices"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/brief"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// AskThing asks something of one order that its product does not ask. The customer is
// told by mail.
func (d *Desk) AskThing(ctx context.Context, id int64, asked api.ThingAsked, l words.Language) (api.Docket, error) {
	var view api.Docket
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		line, err := d.open(tx, id, l)
		if err != nil {
			return err
		}
		if code := line.State().Refused(order.Answer); code != "" {
			return problem.Say(http.StatusConflict, l, code, nil)
		}
		before, err := tx.Things(id)
		if err != nil {
			return err
		}
		if len(before) >= brief.MostThings {
			return problem.Say(http.StatusConflict, l, "many_things", nil)
		}
		t := store.Thing{LineID: id, AskedAt: d.Now().UTC(), AskedBy: Author(ctx)}
		compose := func() (field string, err error) {
			t.Question, field, err = brief.Thing(t.ID, question.KindName(asked.Kind), asked.Wording, apiview.Given(asked.Help), apiview.Given(asked.Choices))
			return field, err
		}
		if field, err := compose(); err != nil {
			return problem.Invalid(l, []api.FieldError{{Key: field, Code: "thing", Message: sentence(err, l)}})
		}
		if err := tx.SaveThing(&t); err != nil { // which gives it the number that its key has
			return err
		}
		if _, err := compose(); err != nil {
			return err
		}
		if err := tx.SaveThing(&t); err != nil {
			return err
		}
		if err := message.WriteThing(tx, line, t.ID, t.Question.Wording, d.Now()); err != nil {
			return err
		}
		view, err = d.docket(tx, line, l)
		return err
	})
	return view, err
}

// DropThing takes back what was asked of an order.
func (d *Desk) DropThing(ctx context.Context, id int64, l words.Language) (api.Docket, error) {
	var view api.Docket
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		t, err := tx.ThingByID(id)
		if err != nil {
			return problem.Missing(err, l, "no_thing")
		}
		line, err := d.open(tx, t.LineID, l)
		if err != nil {
			return err
		}
		if err := tx.DropThing(id); err != nil {
			return err
		}
		view, err = d.docket(tx, line, l)
		return err
	})
	return view, err
}

// things shows on a docket what was asked of it, with the files that came for it.
func (d *Desk) things(tx *store.Tx, v *api.Docket, line *docket.Line, l words.Language) error {
	list, err := apiview.Things(tx, line, l)
	if err != nil {
		return err
	}
	v.Things = &list
	if !slices.ContainsFunc(list, func(t api.Thing) bool { return t.Question.Kind == "files" }) {
		return nil
	}
	files, err := d.filesOf(tx, line)
	for i := range list {
		list[i].Files = fileViews(files, question.Key(list[i].Question.Key))
	}
	return err
}
