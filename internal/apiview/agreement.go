package apiview

import (
	"ruvo/api"
	"ruvo/internal/core/agreement"
	"ruvo/internal/document"
	"ruvo/internal/store"
)

// Agreement shows a text that is agreed to; nil where nothing is.
func Agreement(t store.AgreementText) *api.AgreementText {
	if !t.Of().Asked() {
		return nil
	}
	return &api.AgreementText{Kind: api.AgreementKind(t.Kind), Version: t.Version, Html: document.HTML(t.Text), Since: t.At}
}

// Agreements shows what customers are asked to agree to now.
func Agreements(tx *store.Tx) ([]api.AgreementText, error) {
	texts, err := tx.Agreements()
	list := []api.AgreementText{}
	for _, k := range agreement.Kinds() {
		if v := Agreement(texts[k]); v != nil {
			list = append(list, *v)
		}
	}
	return list, err
}

// TermsOf shows the terms of sale in the version that an order was placed under; nil for
// none.
func TermsOf(tx *store.Tx, o *store.Order) (*api.AgreementText, error) {
	t, err := tx.AgreementText(agreement.Terms, o.TermsVersion)
	return Agreement(t), err
}

// News shows whether news may be written to an address, and what would be agreed to.
func News(tx *store.Tx, email string) (api.NewsView, error) {
	view := api.NewsView{}
	texts, err := tx.Agreements()
	if err != nil {
		return view, err
	}
	view.Text = Agreement(texts[agreement.News])
	said, err := tx.NewsWords(email)
	if is := agreement.Standing(Words(said)); is != nil {
		view.Since = &is.At
	}
	return view, err
}

// Words gives what the core knows of what was said about news.
func Words(said []store.NewsWord) []agreement.Word {
	list := make([]agreement.Word, len(said))
	for i := range said {
		list[i] = said[i].Of()
	}
	return list
}
