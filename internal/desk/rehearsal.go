package desk

import (
	"context"
	"errors"
	"math/rand/v2"
	"net/http"
	"strconv"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// A Piece is what is rehearsed.
type Piece struct {
	Product store.Product
	Edition *store.Edition // nil for the draft
	By      string         // who rehearses
}

// A Stage is where products are rehearsed, apart from the shop.
type Stage interface {
	// Begin begins a rehearsal. Errors of the draft are told as those of publishing it.
	Begin(ctx context.Context, p Piece, l words.Language) (api.Rehearsal, error)
	// List gives the rehearsals, the newest first.
	List(ctx context.Context) ([]api.Rehearsal, error)
	// Sweep takes away a rehearsal and all that happened in it; all of them without a
	// name. It says how many, and ErrNotFound when there is none of the name.
	Sweep(ctx context.Context, name string) (int, error)
	// Walk rehearses by itself, with random answers.
	Walk(ctx context.Context, p Piece, first, walks int, seed int64, l words.Language) (api.Walked, error)
}

// Rehearsals lists the rehearsals that were not swept.
func (d *Desk) Rehearsals(ctx context.Context) ([]api.Rehearsal, error) { return d.Stage.List(ctx) }

// Rehearse begins a rehearsal of a product's draft, or of one of its editions.
func (d *Desk) Rehearse(ctx context.Context, wish api.RehearsalWish, l words.Language) (api.Rehearsal, error) {
	var view api.Rehearsal
	piece, err := d.piece(ctx, wish.Product, wish.Edition, l)
	if err == nil {
		view, err = d.Stage.Begin(ctx, piece, l)
	}
	if err != nil {
		return view, err
	}
	return view, d.Store.Write(ctx, func(tx *store.Tx) error { return d.log(ctx, tx, rehearsalBegun, view.Title) })
}

func (d *Desk) piece(ctx context.Context, product int64, edition *int, l words.Language) (Piece, error) {
	p := Piece{By: Author(ctx)}
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		if p.Product, err = d.product(tx, product, l); err != nil || edition == nil {
			return err
		}
		e, err := tx.EditionByNumber(product, *edition)
		if errors.Is(err, store.ErrNotFound) {
			return problem.NotFound(l, "no_edition")
		}
		p.Edition = &e
		return err
	})
	return p, err
}

// SweepRehearsals takes away a rehearsal, or all without a name.
func (d *Desk) SweepRehearsals(ctx context.Context, name string, l words.Language) error {
	n, err := d.Stage.Sweep(ctx, name)
	if errors.Is(err, store.ErrNotFound) {
		return problem.NotFound(l, "no_rehearsal")
	}
	if err != nil || n == 0 {
		return err
	}
	return d.Store.Write(ctx, func(tx *store.Tx) error { return d.log(ctx, tx, rehearsalsSwept, "") })
}

// Walk rehearses a product's draft by itself.
func (d *Desk) Walk(ctx context.Context, product int64, wish api.WalkWish, l words.Language) (api.Walked, error) {
	piece, err := d.piece(ctx, product, nil, l)
	if err != nil {
		return api.Walked{}, err
	}
	seed := rand.Int64N(1_000_000)
	if wish.Seed != nil {
		seed = *wish.Seed
	}
	return d.Stage.Walk(ctx, piece, max(apiview.Given(wish.First), 1), wish.Walks, seed, l)
}

// ErrManyRehearsals is returned when some rehearsals have to be swept before another
// one can begin.
func ErrManyRehearsals(l words.Language, most int) error {
	return problem.Say(http.StatusConflict, l, "many_rehearsals", words.Params{"most": strconv.Itoa(most)})
}
