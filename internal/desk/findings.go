package desk

import (
	"encoding/json"
	"errors"

	"ruvo/internal/core/explore"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/stock"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/placing"
	"ruvo/internal/store"
)

// checked compiles a draft and gives the whole product check of it: what is
// wrong in itself, what trying it out shows, what the last orders show, and
// what it names and is not there.
func (d *Desk) checked(tx *store.Tx, id int64, b *store.Business, draft product.Draft) (*product.Edition, []product.Finding, error) {
	e, findings := product.Compile(draft)
	if !product.Broken(findings) {
		findings = append(findings, explore.Review(e, d.Now(), b.Location())...)
	}
	if e.Booking != nil && !product.Broken(findings) {
		q, err := placing.Query(tx, 0, e, b.Location(), d.Now(), 0)
		if err != nil {
			return nil, nil, err
		}
		findings = append(findings, explore.Bookable(e, *q)...)
	}
	for _, list := range draft.PriceLists {
		if priced, ok := e.In(list.Currency); ok && !product.Broken(findings) {
			findings = append(findings, product.InList(list.Currency, explore.Review(priced, d.Now(), b.Location()), findings)...)
		}
		if !b.Sells(list.Currency) {
			findings = append(findings, product.Find(false, product.InProduct, "price_lists", words.Tell("finding.list_unsold", "currency", list.Currency)))
		}
	}
	given, err := lastTexts(tx, id, e)
	if err != nil {
		return nil, nil, err
	}
	findings = append(findings, explore.Few(e, given)...)
	if f, other := docket.OtherCurrency(b, e); other {
		findings = append(findings, f)
	}
	if len(ledger.WaysOf(b.Account.Given(), b.Ways, e.Ways)) == 0 {
		findings = append(findings, product.Find(true, product.InProduct, "ways", words.Tell("finding.ways_none")))
	}
	named, err := d.named(tx, id, e)
	return e, append(findings, named...), err
}

// lastTexts gives the last answers to questions for a short text.
func lastTexts(tx *store.Tx, id int64, e *product.Edition) (map[question.Key][]string, error) {
	given := map[question.Key][]string{}
	for i := range e.Items {
		if e.Items[i].Kind == "short_text" {
			given[e.Items[i].Key] = nil
		}
	}
	if len(given) == 0 {
		return nil, nil
	}
	rows, err := tx.LastAnswers(id, 100)
	for _, answers := range rows {
		for k := range given {
			var text string
			if raw, ok := answers[string(k)]; ok && json.Unmarshal(raw, &text) == nil && text != "" {
				given[k] = append(given[k], text)
			}
		}
	}
	return given, err
}

// named finds what a product names and is not there: add-ons that are not on
// sale, groups, and choices that are counted.
func (d *Desk) named(tx *store.Tx, id int64, e *product.Edition) ([]product.Finding, error) {
	var found []product.Finding
	find := func(wrong bool, key, code string, pairs ...any) {
		found = append(found, product.Find(wrong, product.InProduct, key, words.Tell("finding."+code, pairs...)))
	}
	for _, a := range e.AddOns {
		p, err := tx.ProductByID(a.Product)
		switch {
		case errors.Is(err, store.ErrNotFound) || err == nil && a.Product == id:
			find(true, "add_ons", "add_on_gone")
		case err != nil:
			return nil, err
		case a.Units() > p.Draft.Units():
			find(false, "add_ons", "add_on_units", "count", a.Units(), "product", p.Draft.Title, "most", p.Draft.Units())
		case p.EditionID == nil:
			find(false, "add_ons", "add_on_unsold", "product", p.Draft.Title)
		}
	}
	groups, err := tx.Groups()
	if err != nil {
		return nil, err
	}
	known := map[string]bool{"": true}
	for _, g := range groups {
		known[g.Key] = true
	}
	for _, g := range e.Groups {
		if !known[g] {
			find(false, "groups", "group_gone", "group", g)
		}
	}
	for _, s := range e.Prices {
		if !known[s.Group] {
			find(false, "prices", "group_price", "group", s.Group)
		}
	}
	stocks, err := tx.StocksOf(id)
	for _, s := range stocks {
		k := stock.Key{Question: s.Question, Choice: s.Choice}
		if k == (stock.Key{}) {
			continue
		}
		item, ok := e.Item(k.Question)
		has := false
		if ok {
			labels, can := item.Spec.(question.Labelled)
			if can {
				_, has = labels.Label(k.Choice)
			}
		}
		if !has {
			find(false, "stock", "stock_gone", "choice", k.Choice, "key", k.Question)
		}
	}
	return found, err
}
