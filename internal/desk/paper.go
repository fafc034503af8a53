package desk

import (
	"context"

	"ruvo/api"
	"ruvo/internal/core/words"
	"ruvo/internal/document"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Paper makes a text that lies beside a work item from the answers as they are now.
func (d *Desk) Paper(ctx context.Context, id int64, paper int, l words.Language) (api.PaperView, error) {
	var view api.PaperView
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		w, err := tx.ItemByID(id)
		if err != nil || w.LineID == 0 {
			return problem.Missing(err, l, "no_item")
		}
		line, err := d.open(tx, w.LineID, l)
		if err != nil {
			return err
		}
		title, text, ok := line.Result.Paper(line.Edition, line.Given, w.Step, paper, w.Place)
		if !ok {
			return problem.NotFound(l, "no_paper")
		}
		view = api.PaperView{Title: title, Text: text, Html: document.HTML(text)}
		return nil
	})
	return view, err
}

// PutMe says which of the people who do the work is signed in; 0 for none of them.
func (d *Desk) PutMe(ctx context.Context, person int64, l words.Language) (api.Session, error) {
	u := who(ctx)
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		if person != 0 && !b.Person(person) {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "person", "no_person", nil)})
		}
		return tx.SetPerson(u.user.ID, person)
	})
	if err != nil {
		return api.Session{}, err
	}
	u.user.PersonID = person
	return d.Session(withPerson(ctx, u.user, u.session))
}
