package desk

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/shopspring/decimal"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/explore"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Products lists all products with what a seller wants to know of each.
func (d *Desk) Products(ctx context.Context) ([]api.ProductRow, error) {
	rows := []api.ProductRow{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		products, err := tx.Products()
		if err != nil {
			return err
		}
		numbers, err := tx.EditionNumbers()
		if err != nil {
			return err
		}
		sold, err := tx.SoldLines()
		if err != nil {
			return err
		}
		sheets, err := tx.UsedSheets()
		if err != nil {
			return err
		}
		for _, p := range products {
			e, findings, err := d.checked(tx, p.ID, &b, b.Computes(p.Draft).With(p.ID, sheets))
			if err != nil {
				return err
			}
			errs := 0
			for _, f := range findings {
				if f.Error {
					errs++
				}
			}
			unsold, err := d.unsold(tx, p)
			if err != nil {
				return err
			}
			rows = append(rows, api.ProductRow{
				Id: p.ID, Slug: p.Slug, Title: p.Draft.Title, Picture: p.Draft.Picture, Category: &p.Draft.Category, Price: int(p.Draft.Price),
				Currency: string(e.Currency), Edition: numbers[p.ID], Changed: p.Changed, Orders: sold[p.ID], Errors: errs, Range: priceRange(e, calendar.DayOf(d.Now().In(b.Location()))), Unsold: yes(len(unsold) > 0),
			})
		}
		return nil
	})
	return rows, err
}

// priceRange shows the span of what one unit can cost.
func priceRange(e *product.Edition, today calendar.Day) *api.PriceRange {
	r := explore.RangeOf(e, today)
	return &api.PriceRange{Least: int(r.Least), Most: int(r.Most), Exact: r.Exact, Unlimited: r.Endless()}
}

var notSlug = regexp.MustCompile(`[^a-z0-9]+`)

// slug makes the name in an address from a title.
func slug(title string) string {
	s := strings.Trim(notSlug.ReplaceAllString(strings.ToLower(title), "-"), "-")
	if len(s) > 60 {
		s = strings.Trim(s[:60], "-")
	}
	if s == "" {
		s = "product"
	}
	return s
}

// AddProduct starts a product: empty, from another one, or from a ready-made
// one.
func (d *Desk) AddProduct(ctx context.Context, n api.NewProduct, l words.Language) (api.DeskProduct, error) {
	title := strings.TrimSpace(n.Title)
	if title == "" || question.Characters(title) > 120 || !utf8.ValidString(title) {
		return api.DeskProduct{}, problem.Invalid(l, []api.FieldError{{Key: "title", Code: "title", Message: l.Say("field.title", nil)}})
	}
	draft := product.Draft{Title: title, Currency: "EUR", Tax: decimal.NewFromInt(19)}
	var view api.DeskProduct
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		all, err := tx.Products()
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		draft.Currency = b.Currency
		if len(all) > 0 {
			draft.Tax = all[0].Draft.Tax
		}
		switch {
		case n.Product != nil:
			other, err := d.product(tx, *n.Product, l)
			if err != nil {
				return err
			}
			draft = other.Draft
			draft.Title = title
		case n.Ready != nil:
			made, err := ready(*n.Ready, l)
			if err != nil {
				return err
			}
			made.Title, made.Currency = title, draft.Currency
			draft = made
		}
		p := store.Product{Slug: slug(title), Position: len(all) + 1, Draft: draft, Version: 1, Changed: true, UpdatedAt: d.Now().UTC()}
		for n := 2; ; n++ {
			if _, err := tx.ProductBySlug(p.Slug); errors.Is(err, store.ErrNotFound) {
				break
			} else if err != nil {
				return err
			}
			p.Slug = fmt.Sprintf("%s-%d", slug(title), n)
		}
		if err := tx.SaveProduct(&p); err != nil {
			return err
		}
		view, err = d.view(tx, p, l)
		return err
	})
	return view, err
}

// Product shows a product with its draft.
func (d *Desk) Product(ctx context.Context, id int64, l words.Language) (api.DeskProduct, error) {
	var view api.DeskProduct
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, id, l)
		if err == nil {
			view, err = d.view(tx, p, l)
		}
		return err
	})
	return view, err
}

func (d *Desk) product(tx *store.Tx, id int64, l words.Language) (store.Product, error) {
	p, err := tx.ProductByID(id)
	return p, problem.Missing(err, l, "no_product")
}

// unsold says why the edition on sale cannot be computed as it was published.
func (d *Desk) unsold(tx *store.Tx, p store.Product) ([]product.Finding, error) {
	if p.EditionID == nil {
		return nil, nil
	}
	e, err := d.Editions.Get(tx, *p.EditionID)
	if err != nil {
		return nil, err
	}
	b, err := tx.Business()
	return docket.Unsold(&b, e), err
}

// yes makes the pointer that an optional sign takes; nil for no.
func yes(is bool) *bool {
	if !is {
		return nil
	}
	return &is
}

func (d *Desk) view(tx *store.Tx, p store.Product, l words.Language) (api.DeskProduct, error) {
	b, err := tx.Business()
	if err != nil {
		return api.DeskProduct{}, err
	}
	whole, err := whole(tx, p)
	if err != nil {
		return api.DeskProduct{}, err
	}
	_, findings, err := d.checked(tx, p.ID, &b, whole)
	if err != nil {
		return api.DeskProduct{}, err
	}
	v := api.DeskProduct{SellsIn: string(b.Currency), Linked: linked(whole), Id: p.ID, Slug: p.Slug, Version: p.Version, Draft: b.Computes(p.Draft), Changed: p.Changed, Findings: product.Told(findings, l)}
	if p.EditionID != nil {
		e, err := tx.EditionByID(*p.EditionID)
		if err != nil {
			return v, err
		}
		v.Edition = e.Number
	}
	if unsold, err := d.unsold(tx, p); err != nil {
		return v, err
	} else if len(unsold) > 0 {
		told := product.Told(unsold, l)
		v.Unsold = &told
	}
	v.UsedKeys = []string{}
	editions, err := tx.EditionsOf(p.ID)
	for _, e := range editions {
		for _, q := range e.Content.Questions {
			if !slices.Contains(v.UsedKeys, string(q.Key)) {
				v.UsedKeys = append(v.UsedKeys, string(q.Key))
			}
		}
	}
	if err != nil {
		return v, err
	}
	if v.CanUndo, err = tx.HasDraftState(p.ID, p.At-1); err != nil {
		return v, err
	}
	v.CanRedo, err = tx.HasDraftState(p.ID, p.At+1)
	return v, err
}

// linked gives the questions that sheets brought into a draft.
func linked(d product.Draft) []product.Question {
	list := []product.Question{}
	for _, q := range d.Questions {
		if q.Sheet != 0 {
			list = append(list, q)
		}
	}
	return list
}

// whole gives a product's draft with the questions of its sheets.
// It computes as the business does.
func whole(tx *store.Tx, p store.Product) (product.Draft, error) {
	b, err := tx.Business()
	if err != nil {
		return product.Draft{}, err
	}
	sheets, err := tx.UsedSheets()
	return b.Computes(p.Draft).With(p.ID, sheets), err
}

// differs compares a draft with the edition on sale, as they are stored.
func (d *Desk) differs(tx *store.Tx, p store.Product) (bool, error) {
	if p.EditionID == nil {
		return true, nil
	}
	e, err := tx.EditionByID(*p.EditionID)
	if err != nil {
		return false, err
	}
	draft, err := whole(tx, p)
	return !sameDraft(draft, e.Content), err
}

// Publish makes the draft the next edition, unless it has errors. Orders that
// run keep the edition they were bought under.
func (d *Desk) Publish(ctx context.Context, id int64, version int, l words.Language) (api.DeskProduct, error) {
	var view api.DeskProduct
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, id, l)
		if err != nil {
			return err
		}
		if p.Version != version {
			return problem.Say(http.StatusConflict, l, "conflict", nil)
		}
		if p.EditionID != nil && !p.Changed { // published a moment ago
			view, err = d.view(tx, p, l)
			return err
		}
		draft, err := whole(tx, p)
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		if _, findings, err := d.checked(tx, p.ID, &b, draft); err != nil {
			return err
		} else if product.Broken(findings) {
			return draftErrors(l, draft, findings)
		}
		if err := d.publish(tx, &p, draft); err != nil {
			return err
		}
		p.Changed = false
		if err := tx.SaveProduct(&p); err != nil {
			return err
		}
		if err := d.log(ctx, tx, productPublished, draft.Title); err != nil {
			return err
		}
		view, err = d.view(tx, p, l)
		return err
	})
	return view, err
}

// publish makes a content the product's next edition.
func (d *Desk) publish(tx *store.Tx, p *store.Product, content product.Draft) error {
	last, err := tx.LastEdition(p.ID)
	if err != nil {
		return err
	}
	e := store.Edition{ProductID: p.ID, Number: last + 1, Content: content, PublishedAt: d.Now().UTC()}
	if err := tx.AddEdition(&e); err != nil {
		return err
	}
	p.EditionID = &e.ID
	return nil
}

func draftErrors(l words.Language, draft product.Draft, findings []product.Finding) error {
	p := problem.Say(http.StatusUnprocessableEntity, l, "draft_errors", nil)
	for _, f := range findings {
		if f.Error {
			p.Errors = append(p.Errors, api.FieldError{Key: draft.Place(f), Code: "draft", Message: f.Said(l)})
		}
	}
	return p
}

func planned(e *product.Edition, r *evaluate.Result) []api.PlannedItem {
	items := make([]api.PlannedItem, 0, len(r.Work))
	for i := range r.Work {
		w := &r.Work[i]
		v := api.PlannedItem{Step: string(w.Step), Title: w.Title, Instructions: w.Instructions, Minutes: w.Minutes, Waits: apiview.Waits(w, e)}
		if !w.Due.IsZero() {
			due := w.Due.In(time.UTC)
			v.Due = &due
		}
		items = append(items, v)
	}
	return items
}

// measures lists what an order line of an edition is measured by.
func measures(e *product.Edition) []api.TrialResultMeasures {
	list := []api.TrialResultMeasures{}
	for _, p := range charge.Measures() {
		if _, ok := e.Measures()[p]; ok {
			list = append(list, api.TrialResultMeasures(p))
		}
	}
	return list
}

func figure(a money.Amount) *int {
	n := int(a)
	return &n
}
