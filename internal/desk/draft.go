package desk

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"sync"
	"time"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// PutDraft keeps a draft. A draft with mistakes is kept, so that nothing typed
// is lost; one that is based on an older state is refused. What is typed
// without a pause continues the state before it, so that it is undone in one
// piece.
func (d *Desk) PutDraft(ctx context.Context, id int64, change api.DraftChange, author string, l words.Language) (api.DeskProduct, error) {
	return d.redraft(ctx, id, change.Version, l, func(tx *store.Tx, p *store.Product) error {
		return d.keepState(tx, p, change.Draft, author, change.Continues != nil && *change.Continues)
	})
}

// keepState has a product's draft as it is now, and the state before it to go
// back to.
func (d *Desk) keepState(tx *store.Tx, p *store.Product, draft product.Draft, author string, continues bool) error {
	continues = continues && p.Author == author
	last, err := tx.DraftStateAt(p.ID, p.At)
	switch {
	case errors.Is(err, store.ErrNotFound): // the first change: what it changes is kept too
		if err := tx.KeepDraftState(store.DraftState{ProductID: p.ID, Position: p.At, Draft: p.Draft, Author: p.Author, At: p.UpdatedAt}); err != nil {
			return err
		}
		p.At++
	case err != nil:
		return err
	case !continues || last.Author != author:
		p.At++
	}
	p.Draft, p.Author = draft, author
	if err := keepBeside(tx, &draft); err != nil {
		return err
	}
	return tx.KeepDraftState(store.DraftState{ProductID: p.ID, Position: p.At, Draft: p.Draft, Author: author, At: d.Now().UTC()})
}

// redraft changes a draft whose version is the one that somebody saw.
func (d *Desk) redraft(ctx context.Context, id int64, version int, l words.Language, change func(*store.Tx, *store.Product) error) (api.DeskProduct, error) {
	var view api.DeskProduct
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, id, l)
		if err != nil {
			return err
		}
		if p.Version != version {
			return problem.Say(http.StatusConflict, l, "conflict", nil)
		}
		view, err = d.redraftIn(tx, p, l, func(p *store.Product) error { return change(tx, p) })
		return err
	})
	return view, err
}

// redraftIn changes a draft within a transaction.
func (d *Desk) redraftIn(tx *store.Tx, p store.Product, l words.Language, change func(*store.Product) error) (view api.DeskProduct, err error) {
	if err := change(&p); err != nil {
		return view, err
	}
	p.Version++
	p.UpdatedAt = d.Now().UTC()
	if p.Changed, err = d.differs(tx, p); err != nil {
		return view, err
	}
	if err := tx.SaveProduct(&p); err != nil {
		return view, err
	}
	return d.view(tx, p, l)
}

// Travel goes back to the state of a draft before the last change, or forward
// again. Nobody's changes are lost by it.
func (d *Desk) Travel(ctx context.Context, id int64, version int, forward bool, l words.Language) (api.DeskProduct, error) {
	step := -1
	if forward {
		step = 1
	}
	return d.redraft(ctx, id, version, l, func(tx *store.Tx, p *store.Product) error {
		s, err := tx.DraftStateAt(p.ID, p.At+step)
		if errors.Is(err, store.ErrNotFound) {
			return problem.Say(http.StatusConflict, l, "no_state", nil)
		}
		if err != nil {
			return err
		}
		p.At, p.Draft, p.Author = s.Position, s.Draft, ""
		return nil
	})
}

// Differences says in sentences what the draft changes of the edition on sale,
// or of the one with a number.
func (d *Desk) Differences(ctx context.Context, id int64, number int, l words.Language) ([]string, error) {
	said := []string{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, id, l)
		if err != nil {
			return err
		}
		e, err := d.edition(tx, p, number, l)
		if err != nil {
			return err
		}
		draft, err := whole(tx, p)
		for _, m := range product.Compare(e.Content, draft) {
			said = append(said, m.Say(l))
		}
		return err
	})
	return said, err
}

// edition finds an edition by its number; with none, the one on sale.
func (d *Desk) edition(tx *store.Tx, p store.Product, number int, l words.Language) (store.Edition, error) {
	var e store.Edition
	err := error(store.ErrNotFound)
	switch {
	case number > 0:
		e, err = tx.EditionByNumber(p.ID, number)
	case p.EditionID != nil:
		e, err = tx.EditionByID(*p.EditionID)
	}
	return e, problem.Missing(err, l, "no_edition")
}

// EditionsOf lists a product's editions, the newest first.
func (d *Desk) EditionsOf(ctx context.Context, id int64, l words.Language) ([]api.EditionRow, error) {
	rows := []api.EditionRow{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, id, l)
		if err != nil {
			return err
		}
		editions, err := tx.EditionsOf(p.ID)
		if err != nil {
			return err
		}
		sold, err := tx.SoldOf(p.ID)
		for _, e := range editions {
			rows = append(rows, api.EditionRow{Number: e.Number, Published: e.PublishedAt, Orders: sold[e.ID], OnSale: p.EditionID != nil && *p.EditionID == e.ID})
		}
		return err
	})
	return rows, err
}

// Edition shows an edition as it was published, without what sheets brought in,
// so that it can be a draft again.
func (d *Desk) Edition(ctx context.Context, id int64, number int, l words.Language) (api.EditionView, error) {
	var view api.EditionView
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, id, l)
		if err != nil {
			return err
		}
		e, err := d.edition(tx, p, number, l)
		view = api.EditionView{Number: e.Number, Published: e.PublishedAt, Draft: e.Content.Own()}
		return err
	})
	return view, err
}

// here is how long somebody counts as present after they were last heard of.
const here = 20 * time.Second

// attendance knows who has which product open. It is kept in memory only: a
// restart forgets it and the next look fills it again.
type attendance struct {
	mu   sync.Mutex
	seen map[int64]map[string]time.Time // by product, then by window
	name map[string]string
}

// note notes a window that has a product open and names the people who have it
// open in others.
func (a *attendance) note(product int64, window, name string, now time.Time) []string {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.seen == nil {
		a.seen, a.name = map[int64]map[string]time.Time{}, map[string]string{}
	}
	if a.seen[product] == nil {
		a.seen[product] = map[string]time.Time{}
	}
	a.seen[product][window], a.name[window] = now, name
	others := []string{}
	for w, at := range a.seen[product] {
		switch {
		case now.Sub(at) > here || at.After(now.Add(here)):
			delete(a.seen[product], w)
			delete(a.name, w)
		case w != window && !slices.Contains(others, a.name[w]):
			others = append(others, a.name[w])
		}
	}
	slices.Sort(others)
	return others
}

// Attend notes that a window has a product open, and tells which version the
// draft has, who changed it last, and who else has it open.
func (d *Desk) Attend(ctx context.Context, id int64, window, name string, l words.Language) (api.Presence, error) {
	var view api.Presence
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, id, l)
		view = api.Presence{Version: p.Version, Author: p.Author}
		return err
	})
	if err == nil {
		view.Others = d.present.note(id, window, name, d.Now())
	}
	return view, err
}
