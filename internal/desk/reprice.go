package desk

import (
	"context"

	"ruvo/api"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Reprice lists the amounts of a product's draft, or of a sheet's questions as
// one, and gives the draft in the business's currency once each of them is given
// anew. It keeps nothing.
func (d *Desk) Reprice(ctx context.Context, id int64, r api.Repricing, l words.Language) (api.Repriced, error) {
	var view api.Repriced
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		sheets, err := tx.UsedSheets()
		if err != nil {
			return err
		}
		draft := r.Draft.With(id, sheets) // what its conditions compare can be asked by a sheet
		view = api.Repriced{From: string(r.Draft.Currency), To: string(b.Currency), Amounts: []api.AmountAsked{}}
		for _, at := range draft.Amounts() {
			view.Amounts = append(view.Amounts, asked(at, l))
		}
		if r.Amounts == nil && len(view.Amounts) > 0 {
			return nil
		}
		given := map[string]money.Fine{}
		if r.Amounts != nil {
			given = *r.Amounts
		}
		next, missing := draft.Repriced(b.Currency, given, texts(r.Formulas))
		wrong := []api.FieldError{}
		for _, at := range missing {
			code := "new_amount"
			if at.Formula != "" {
				code = "new_formula"
			}
			wrong = append(wrong, problem.Field(l, at.Place, code, words.Params{"currency": string(b.Currency)}))
		}
		if len(wrong) > 0 {
			return problem.Invalid(l, wrong)
		}
		next = next.Own()
		view.Draft = &next
		return nil
	})
	return view, err
}

func asked(at product.AmountAt, l words.Language) api.AmountAsked {
	a := api.AmountAsked{Place: at.Place, Of: at.Of, What: at.What(l), Was: at.Was}
	if at.Formula != "" {
		a.Formula = &at.Formula
	}
	return a
}

func texts(sent *map[string]string) map[string]string {
	if sent == nil {
		return nil
	}
	return *sent
}
