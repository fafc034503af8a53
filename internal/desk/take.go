package desk

import (
	"context"
	"errors"
	"net/http"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// TakeQuestions takes questions of a product, with their charges and steps, into
// a sheet: a new one, or one that is there, which every product that uses it has
// then. The product uses the sheet from then on. All of it happens, or nothing.
func (d *Desk) TakeQuestions(ctx context.Context, id int64, t api.Taking, author string, l words.Language) (api.DeskProduct, error) {
	name := ""
	if t.Sheet == nil {
		var err error
		if name, err = sheetName(deref(t.Name), l); err != nil {
			return api.DeskProduct{}, err
		}
	}
	return d.redraft(ctx, id, t.Version, l, func(tx *store.Tx, p *store.Product) error {
		keys := make([]question.Key, len(t.Questions))
		for i, k := range t.Questions {
			keys[i] = question.Key(k)
		}
		left, questions, content, err := p.Draft.Take(keys)
		if err != nil || len(keys) == 0 {
			return untaken(l, err)
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		s := store.Sheet{Name: name, Version: 1, Currency: b.Currency}
		if t.Sheet != nil {
			if s, err = d.sheet(tx, *t.Sheet, l); err != nil {
				return err
			}
			if s.Changed {
				return untaken(l, words.Tell("sheet.is_changed"))
			}
			s.Version++
		}
		full, err := s.Edited().TakesIn(questions, content)
		if err != nil {
			return untaken(l, err)
		}
		if findings := full.Check(); product.Broken(findings) {
			return draftErrors(l, full.Draft(), findings)
		}
		s.Questions, s.Content, s.OnSale, s.Changed, s.UpdatedAt = full.Questions, full.SheetContent, true, false, d.Now().UTC()
		s.Published, s.PublishedContent, s.PublishedRule, s.PublishedCurrency = s.Questions, s.Content, s.Rule, s.Currency
		if err := tx.SaveSheet(&s); err != nil {
			return err
		}
		if err := d.keepState(tx, p, left.Naming(product.SheetID(s.ID)), author, false); err != nil {
			return err
		}
		if t.Sheet == nil {
			return d.log(ctx, tx, sheetPublished, s.Name)
		}
		// What is on sale asks each of them once.
		if err := d.resell(tx, p, product.SheetID(s.ID), keys); err != nil {
			return err
		}
		if err := tx.SaveProduct(p); err != nil {
			return err
		}
		if err := d.spread(tx); err != nil {
			return err
		}
		now, err := tx.ProductByID(p.ID)
		p.EditionID = now.EditionID
		if err != nil {
			return err
		}
		return d.log(ctx, tx, sheetPublished, s.Name)
	})
}

// resell gives what is on sale of a product questions from its sheets that were
// its own.
func (d *Desk) resell(tx *store.Tx, p *store.Product, sheet product.SheetID, keys []question.Key) error {
	if p.EditionID == nil {
		return nil
	}
	e, err := tx.EditionByID(*p.EditionID)
	if err != nil {
		return err
	}
	var sold []question.Key
	for _, k := range keys {
		for _, q := range e.Content.Questions {
			if q.Key == k && q.Sheet == 0 {
				sold = append(sold, k)
			}
		}
	}
	left, _, _, err := e.Content.Take(sold)
	if err != nil || len(sold) == 0 {
		return err
	}
	sheets, err := tx.UsedSheets()
	if err != nil {
		return err
	}
	return d.publish(tx, p, left.Naming(sheet).With(p.ID, sheets))
}

// untaken says why questions cannot go into a sheet.
func untaken(l words.Language, err error) error {
	p := problem.Say(http.StatusUnprocessableEntity, l, "sheet_take", nil)
	why := l.Say("fault.required", nil)
	var said *words.Message
	if errors.As(err, &said) {
		why = said.Say(l)
	} else if err != nil {
		return err
	}
	p.Errors = []api.FieldError{{Key: "questions", Code: "sheet_take", Message: why}}
	return p
}

func deref[T any](p *T) T {
	if p == nil {
		var none T
		return none
	}
	return *p
}
