package desk

import (
	"context"
	"strconv"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/earn"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// TakeWhatIf takes a what-if over, all of it or nothing: prices and minutes into the
// drafts of their products, hours and people into the settings.
func (d *Desk) TakeWhatIf(ctx context.Context, w api.WhatIf, l words.Language) (api.WhatIfTaken, error) {
	taken := api.WhatIfTaken{Products: []api.DeskProduct{}, People: []string{}}
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		if fields := badWhatIf(&w, &b, l); len(fields) > 0 {
			return problem.Invalid(l, fields)
		}
		for _, p := range w.Products {
			if apiview.Given(p.Price) == 0 && apiview.Given(p.Minutes) == 0 && !apiview.Given(p.Learned) {
				continue
			}
			v, err := d.takeProduct(ctx, tx, p, l)
			if err != nil {
				return err
			}
			taken.Products = append(taken.Products, v)
		}
		staff := wishedStaff(&b, &w, l)
		next := b.Settings()
		next.Week, next.Resources = staff.Week, staff.Resources
		if len(differing(b.Settings(), next)) == 0 {
			return nil
		}
		var add []api.FieldError
		readResources(next.Resources, func(key, code string, p words.Params) { add = append(add, problem.Field(l, key, code, p)) })
		if len(add) > 0 {
			return problem.Invalid(l, add)
		}
		for _, r := range next.Resources {
			if r.ID > b.LastResource {
				taken.People = append(taken.People, r.Name)
			}
		}
		if err := d.setSettings(ctx, tx, &b, next); err != nil {
			return err
		}
		taken.Settings = &b.Version
		return nil
	})
	return taken, err
}

// takeProduct takes prices and minutes over into a product's draft.
func (d *Desk) takeProduct(ctx context.Context, tx *store.Tx, p api.WhatIfProduct, l words.Language) (api.DeskProduct, error) {
	row, err := d.product(tx, p.Product, l)
	if err != nil {
		return api.DeskProduct{}, err
	}
	next := row.Draft
	if apiview.Given(p.Learned) {
		a := &again{gathering: &gathering{d: d, tx: tx}, learned: map[string]*earn.Learned{}}
		if err := a.learn(p.Product, l); err != nil {
			return api.DeskProduct{}, err
		}
		models := map[workplan.StepKey]workplan.Minutes{}
		for i := range next.Steps {
			if m, ok := a.learned[strconv.FormatInt(p.Product, 10)+" "+string(next.Steps[i].Key)]; ok {
				models[next.Steps[i].Key] = *m.Model
			}
		}
		for k, m := range models {
			if timed, ok := next.Timed(k, m); ok {
				next = timed
			}
		}
	}
	if n := apiview.Given(p.Minutes); n != 0 {
		next = next.Slower(n)
	}
	if n := apiview.Given(p.Price); n != 0 {
		next, _ = next.Scaled(n)
	}
	return d.redraftIn(tx, row, l, func(row *store.Product) error { return d.keepState(tx, row, next, Author(ctx), false) })
}
