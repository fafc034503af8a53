package desk

import (
	"context"
	"net/http"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/agreement"
	"ruvo/internal/core/words"
	"ruvo/internal/document"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Agreements shows the texts of the business that customers agree to, with all their
// versions.
func (d *Desk) Agreements(ctx context.Context) ([]api.Agreement, error) {
	var list []api.Agreement
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		list, err = agreements(tx)
		return err
	})
	return list, err
}

func agreements(tx *store.Tx) ([]api.Agreement, error) {
	list := []api.Agreement{}
	for _, k := range agreement.Kinds() {
		rows, err := tx.AgreementVersions(k)
		if err != nil {
			return nil, err
		}
		v := api.Agreement{Kind: api.AgreementKind(k), Versions: []api.AgreementVersion{}}
		for _, t := range rows {
			v.Versions = append(v.Versions, api.AgreementVersion{Version: t.Version, Text: t.Text, Html: document.HTML(t.Text), Since: t.At, By: t.Author, Orders: int(t.Orders)})
		}
		list = append(list, v)
	}
	return list, nil
}

// AddAgreement adds the next version of a text: orders are placed under it from now on,
// and those of before keep theirs. It is refused when somebody else added one meanwhile.
func (d *Desk) AddAgreement(ctx context.Context, c api.AgreementChange, l words.Language) ([]api.Agreement, error) {
	var list []api.Agreement
	k := agreement.Kind(c.Kind)
	if !slices.Contains(agreement.Kinds(), k) {
		return nil, problem.Invalid(l, []api.FieldError{problem.Field(l, "kind", "choice", words.Params{"choices": "terms, news"})})
	}
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		texts, err := tx.Agreements()
		if err != nil {
			return err
		}
		now := texts[k]
		if now.Version != c.After {
			return problem.Say(http.StatusConflict, l, "agreement_meanwhile", words.Params{"by": now.Author})
		}
		next, err := now.Of().Next(c.Text)
		if err != nil {
			return problem.Invalid(l, []api.FieldError{{Key: "text", Code: "agreement", Message: sentence(err, l)}})
		}
		if err := tx.AddAgreementText(store.AgreementText{Kind: k, Version: next.Version, Text: next.Text, Author: Author(ctx), At: d.Now()}); err != nil {
			return err
		}
		if err := d.log(ctx, tx, agreementAdded, l.Say("agreement."+string(k), nil)); err != nil {
			return err
		}
		list, err = agreements(tx)
		return err
	})
	return list, err
}
