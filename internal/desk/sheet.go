package desk

import (
	"bytes"
	"context"
	"encoding/json"
	"net/http"
	"slices"
	"strings"
	"unicode/utf8"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Sheets lists the sheets with the products that use each.
func (d *Desk) Sheets(ctx context.Context) ([]api.SheetRow, error) {
	rows := []api.SheetRow{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		sheets, err := tx.Sheets()
		if err != nil {
			return err
		}
		for i := range sheets {
			used, err := usersOf(tx, &sheets[i])
			if err != nil {
				return err
			}
			rows = append(rows, api.SheetRow{
				Id: sheets[i].ID, Name: sheets[i].Name, Questions: len(sheets[i].Questions), Published: sheets[i].OnSale,
				Changed: sheets[i].Changed, Used: used,
			})
		}
		return nil
	})
	return rows, err
}

// usersOf lists the products that use a sheet, by its rule as it is edited.
func usersOf(tx *store.Tx, s *store.Sheet) ([]api.SheetUser, error) {
	users := []api.SheetUser{}
	products, err := tx.Products()
	as := s.Edited()
	for _, p := range products {
		if len(p.Draft.Uses(p.ID, []product.Sheet{as})) > 0 {
			named := slices.ContainsFunc(p.Draft.Sheets, func(u product.SheetUse) bool { return u.Sheet == as.ID })
			users = append(users, api.SheetUser{Id: p.ID, Title: p.Draft.Title, Named: named})
		}
	}
	return users, err
}

func sheetName(name string, l words.Language) (string, error) {
	name = strings.TrimSpace(name)
	if name == "" || question.Characters(name) > 120 || !utf8.ValidString(name) {
		return "", problem.Invalid(l, []api.FieldError{{Key: "name", Code: "title", Message: l.Say("field.title", nil)}})
	}
	return name, nil
}

// AddSheet starts a sheet: empty, from another one, or from a ready-made one.
func (d *Desk) AddSheet(ctx context.Context, n api.NewSheet, l words.Language) (api.SheetView, error) {
	var view api.SheetView
	name, err := sheetName(n.Name, l)
	if err != nil {
		return view, err
	}
	err = d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		s := store.Sheet{Name: name, Version: 1, Changed: true, Currency: b.Currency, UpdatedAt: d.Now().UTC()}
		switch {
		case n.Sheet != nil:
			other, err := d.sheet(tx, *n.Sheet, l)
			if err != nil {
				return err
			}
			s.Questions, s.Content, s.Currency = other.Questions, other.Content, other.Currency
		case n.Ready != nil:
			draft, err := ready(*n.Ready, l)
			if err != nil {
				return err
			}
			// A product has one booking, and its own.
			s.Questions = slices.DeleteFunc(draft.Questions, func(q product.Question) bool { return q.Kind == "booking" })
		}
		if err := tx.SaveSheet(&s); err != nil {
			return err
		}
		view, err = d.sheetView(tx, s, l)
		return err
	})
	return view, err
}

func (d *Desk) sheet(tx *store.Tx, id int64, l words.Language) (store.Sheet, error) {
	s, err := tx.SheetByID(id)
	return s, problem.Missing(err, l, "no_sheet")
}

// Sheet shows a sheet, who uses it, and whom its changes will reach.
func (d *Desk) Sheet(ctx context.Context, id int64, l words.Language) (api.SheetView, error) {
	var view api.SheetView
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		s, err := d.sheet(tx, id, l)
		if err == nil {
			view, err = d.sheetView(tx, s, l)
		}
		return err
	})
	return view, err
}

func (d *Desk) sheetView(tx *store.Tx, s store.Sheet, l words.Language) (api.SheetView, error) {
	b, err := tx.Business()
	if err != nil {
		return api.SheetView{}, err
	}
	v := api.SheetView{
		Currency: string(s.Currency), SellsIn: string(b.Currency),
		Id: s.ID, Name: s.Name, Version: s.Version, Questions: s.Questions, Rule: s.Rule, Published: s.OnSale, Changed: s.Changed,
		Findings: product.Told(s.Edited().Check(), l), Reach: []api.SheetReach{}, Ties: s.Edited().Draft().Ties(),
		Charges: s.Content.Charges, Values: s.Content.Values, Steps: s.Content.Steps, Says: says(s.Edited().Draft(), l), Names: []api.FormulaName{},
	}
	if v.Questions == nil {
		v.Questions = []product.Question{}
	}
	v.Charges, v.Values, v.Steps = append([]charge.Charge{}, v.Charges...), append([]product.NamedFormula{}, v.Values...), append([]workplan.Step{}, v.Steps...)
	e, _ := product.Compile(s.Edited().Draft())
	v.Names = names(e, l)
	if len(s.Edited().Priced()) == 0 { // nothing in it is in any currency
		v.Currency = v.SellsIn
	}
	if v.Used, err = usersOf(tx, &s); err != nil {
		return v, err
	}
	v.Reach, err = reach(tx, &b, &s, calendar.DayOf(d.Now().In(b.Location())), l)
	return v, err
}

// reach lists the products that publishing a sheet would change, with what
// would be wrong with them then.
func reach(tx *store.Tx, b *store.Business, s *store.Sheet, today calendar.Day, l words.Language) ([]api.SheetReach, error) {
	list := []api.SheetReach{}
	before, err := tx.UsedSheets()
	if err != nil {
		return nil, err
	}
	products, err := tx.Products()
	if err != nil {
		return nil, err
	}
	after := replaced(before, s)
	for _, p := range products {
		r := api.SheetReach{Id: p.ID, Title: p.Draft.Title, Errors: []string{}}
		old, now := p.Draft.With(p.ID, before), p.Draft.With(p.ID, after)
		touched := !sameDraft(old, now)
		broken(&r, b, now, l)
		if p.EditionID != nil {
			e, err := tx.EditionByID(*p.EditionID)
			if err != nil {
				return nil, err
			}
			sold := e.Content.With(p.ID, after)
			if r.Sold = !sameDraft(e.Content, sold); r.Sold {
				r.Errors = r.Errors[:0]
				broken(&r, b, sold, l)
				old, now = e.Content, sold
			}
		}
		if touched || r.Sold {
			r.Before, r.After = rangeOf(old, today), rangeOf(now, today)
			currency := string(b.Computes(now).Currency)
			r.Currency = &currency
			list = append(list, r)
		}
	}
	return list, nil
}

// rangeOf shows the span of what one unit of a draft can cost.
func rangeOf(d product.Draft, today calendar.Day) *api.PriceRange {
	e, _ := product.Compile(d)
	return priceRange(e, today)
}

// broken notes what would be wrong with a product. One that is not sold, as its
// amounts are still to be given anew, does not keep its sheets from having theirs.
func broken(r *api.SheetReach, b *store.Business, d product.Draft, l words.Language) {
	_, findings := product.Compile(d)
	for _, f := range findings {
		if f.Error && !(f.Is(product.SheetCurrency) && d.Currency != b.Currency) {
			r.Errors = append(r.Errors, f.Said(l))
		}
	}
}

// replaced gives the sheets with one as it would be published.
func replaced(sheets []product.Sheet, s *store.Sheet) []product.Sheet {
	now := s.Edited()
	out := slices.Clone(sheets)
	if i := slices.IndexFunc(out, func(x product.Sheet) bool { return x.ID == now.ID }); i >= 0 {
		out[i] = now
		return out
	}
	return append(out, now)
}

func sameDraft(a, b product.Draft) bool {
	x, err1 := json.Marshal(a)
	y, err2 := json.Marshal(b)
	return err1 == nil && err2 == nil && bytes.Equal(x, y)
}

// PutSheet keeps a sheet as it is edited. Products see it when it is published.
func (d *Desk) PutSheet(ctx context.Context, id int64, change api.SheetChange, l words.Language) (api.SheetView, error) {
	var view api.SheetView
	name, err := sheetName(change.Name, l)
	if err != nil {
		return view, err
	}
	err = d.Store.Write(ctx, func(tx *store.Tx) error {
		s, err := d.sheet(tx, id, l)
		if err != nil {
			return err
		}
		if s.Version != change.Version {
			return problem.Say(http.StatusConflict, l, "conflict", nil)
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		s.Name, s.Questions, s.Rule = name, change.Questions, change.Rule
		s.Content = product.SheetContent{Charges: listed(change.Charges), Values: listed(change.Values), Steps: listed(change.Steps)}
		switch to := change.Currency; {
		case len(s.Edited().Priced()) == 0:
			s.Currency = b.Currency
		case to != nil && *to != string(s.Currency) && *to != string(b.Currency):
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "currency", "choice", words.Params{"choices": string(b.Currency)})})
		case to != nil:
			s.Currency = money.Currency(*to)
		}
		s.Version++
		s.UpdatedAt = d.Now().UTC()
		s.Changed = !s.OnSale || !sameSheet(&s)
		if err := tx.SaveSheet(&s); err != nil {
			return err
		}
		view, err = d.sheetView(tx, s, l)
		return err
	})
	return view, err
}

// listed gives what was sent of a list; nothing when it was left out.
func listed[T any](sent *[]T) []T {
	if sent == nil {
		return nil
	}
	return *sent
}

func sameSheet(s *store.Sheet) bool {
	a, err1 := json.Marshal([]any{s.Questions, s.Content, s.Rule, s.Currency})
	b, err2 := json.Marshal([]any{s.Published, s.PublishedContent, s.PublishedRule, s.PublishedCurrency})
	return err1 == nil && err2 == nil && bytes.Equal(a, b)
}

// PublishSheet gives a sheet to the products that use it. Those on sale get a
// new edition; their other drafted changes stay drafts. Either all of them can
// take it, or none does.
func (d *Desk) PublishSheet(ctx context.Context, id int64, version int, l words.Language) (api.SheetView, error) {
	var view api.SheetView
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		s, err := d.sheet(tx, id, l)
		if err != nil {
			return err
		}
		if s.Version != version {
			return problem.Say(http.StatusConflict, l, "conflict", nil)
		}
		if findings := s.Edited().Check(); product.Broken(findings) {
			return draftErrors(l, s.Edited().Draft(), findings)
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		reached, err := reach(tx, &b, &s, calendar.DayOf(d.Now().In(b.Location())), l)
		if err != nil {
			return err
		}
		refused := problem.Say(http.StatusUnprocessableEntity, l, "draft_errors", nil)
		for _, r := range reached {
			for _, e := range r.Errors {
				if r.Sold {
					refused.Errors = append(refused.Errors, api.FieldError{Key: r.Title, Code: "draft", Message: r.Title + ": " + e})
				}
			}
		}
		if len(refused.Errors) > 0 {
			return refused
		}
		s.Published, s.PublishedContent, s.PublishedRule, s.OnSale, s.Changed = s.Questions, s.Content, s.Rule, true, false
		s.PublishedCurrency = s.Currency
		if err := tx.SaveSheet(&s); err != nil {
			return err
		}
		if err := d.spread(tx); err != nil {
			return err
		}
		if err := d.log(ctx, tx, sheetPublished, s.Name); err != nil {
			return err
		}
		view, err = d.sheetView(tx, s, l)
		return err
	})
	return view, err
}

// spread publishes the editions that changed sheets make, and notes which
// drafts differ from what is on sale.
func (d *Desk) spread(tx *store.Tx) error {
	sheets, err := tx.UsedSheets()
	if err != nil {
		return err
	}
	products, err := tx.Products()
	if err != nil {
		return err
	}
	for i := range products {
		p := &products[i]
		if p.EditionID != nil {
			e, err := tx.EditionByID(*p.EditionID)
			if err != nil {
				return err
			}
			if now := e.Content.With(p.ID, sheets); !sameDraft(e.Content, now) {
				if err := d.publish(tx, p, now); err != nil {
					return err
				}
			}
		}
		if p.Changed, err = d.differs(tx, *p); err != nil {
			return err
		}
		if err := tx.SaveProduct(p); err != nil {
			return err
		}
	}
	return nil
}

// DropSheet takes a sheet away that no product uses.
func (d *Desk) DropSheet(ctx context.Context, id int64, l words.Language) error {
	return d.Store.Write(ctx, func(tx *store.Tx) error {
		s, err := d.sheet(tx, id, l)
		if err != nil {
			return err
		}
		users, err := usersOf(tx, &s)
		if err != nil {
			return err
		}
		var titles []string
		for _, u := range users {
			titles = append(titles, u.Title)
		}
		if len(titles) > 0 {
			return problem.Say(http.StatusConflict, l, "sheet_used", words.Params{"products": strings.Join(titles, ", ")})
		}
		if err := tx.DropSheet(id); err != nil {
			return err
		}
		return d.log(ctx, tx, sheetDropped, s.Name)
	})
}
