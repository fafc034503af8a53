package desk

import (
	"context"
	"errors"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// mostPieces bounds what can be on hand.
const mostPieces = 1_000_000

// stockRows shows all that is counted, product by product.
func (d *Desk) stockRows(tx *store.Tx) ([]api.StockRow, error) {
	rows := []api.StockRow{}
	stocks, err := tx.Stocks()
	if err != nil {
		return nil, err
	}
	held, err := tx.HeldStock(d.Now(), 0)
	if err != nil {
		return nil, err
	}
	products, err := tx.Products()
	if err != nil {
		return nil, err
	}
	for _, p := range products {
		var draft *product.Draft
		for _, s := range stocks {
			if s.ProductID == nil || *s.ProductID != p.ID {
				continue
			}
			if draft == nil {
				whole, err := whole(tx, p)
				if err != nil {
					return nil, err
				}
				draft = &whole
			}
			v := stockRow(&s, draft, held[s.ID])
			v.Product, v.Title = &p.ID, p.Draft.Title
			rows = append(rows, v)
		}
	}
	sheets, err := tx.Sheets()
	for _, sheet := range sheets {
		draft := product.Draft{Questions: sheet.Published}
		for _, s := range stocks {
			if s.SheetID == nil || *s.SheetID != sheet.ID {
				continue
			}
			v := stockRow(&s, &draft, held[s.ID])
			v.Sheet, v.Title = &sheet.ID, sheet.Name
			rows = append(rows, v)
		}
	}
	return rows, err
}

// stockRow shows one thing that is counted.
func stockRow(s *store.Stock, draft *product.Draft, held int) api.StockRow {
	v := api.StockRow{
		Id: s.ID, Label: choiceWords(draft, s.Question, s.Choice), Pieces: s.Pieces, Held: held,
		Left: s.Pieces - held, Low: s.Low, Closes: s.Closes, State: api.Enough,
	}
	if s.Question != "" {
		key := string(s.Question)
		v.Question, v.Choice = &key, &s.Choice
	}
	switch {
	case v.Left <= 0:
		v.State = api.Out
	case v.Left <= s.Low:
		v.State = api.Low
	}
	return v
}

// choiceWords names a choice with its question; empty for the product itself.
func choiceWords(d *product.Draft, k question.Key, code string) string {
	if k == "" {
		return ""
	}
	for _, q := range d.Questions {
		if q.Key != k {
			continue
		}
		spec, err := question.Compile(q.Question)
		if labels, ok := spec.(question.Labelled); err == nil && ok {
			if label, ok := labels.Label(code); ok {
				return q.Wording + ": " + label
			}
		}
		return q.Wording + ": " + code
	}
	return string(k) + ": " + code
}

// Stock lists all that is counted.
func (d *Desk) Stock(ctx context.Context) ([]api.StockRow, error) {
	var rows []api.StockRow
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		rows, err = d.stockRows(tx)
		return err
	})
	return rows, err
}

// stockChange runs a change of what is counted, and lists all of it.
func (d *Desk) stockChange(ctx context.Context, change func(*store.Tx) error) ([]api.StockRow, error) {
	var rows []api.StockRow
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		if err := change(tx); err != nil {
			return err
		}
		var err error
		rows, err = d.stockRows(tx)
		return err
	})
	return rows, err
}

// counting gives what is to be counted of: a product, or a sheet for all products
// that use it; with its draft, and what is counted of it already.
func (d *Desk) counting(tx *store.Tx, n api.NewStock, l words.Language) (s store.Stock, draft product.Draft, there []store.Stock, err error) {
	if (n.Product == nil) == (n.Sheet == nil) {
		return s, draft, nil, problem.Invalid(l, []api.FieldError{problem.Field(l, "product", "stock_of", nil)})
	}
	if n.Sheet != nil {
		sheet, err := tx.SheetByID(*n.Sheet)
		if err != nil {
			return s, draft, nil, problem.Missing(err, l, "no_sheet")
		}
		s.SheetID, draft.Questions = &sheet.ID, sheet.Published
		there, err = tx.StocksOfSheet(sheet.ID)
		return s, draft, there, err
	}
	p, err := d.product(tx, *n.Product, l)
	if err != nil {
		return s, draft, nil, err
	}
	s.ProductID = &p.ID
	if draft, err = whole(tx, p); err == nil {
		there, err = tx.StocksOf(p.ID)
	}
	return s, draft, there, err
}

// StartStock begins to count a product or one of its choices, or a choice of a
// sheet.
func (d *Desk) StartStock(ctx context.Context, n api.NewStock, author string, l words.Language) ([]api.StockRow, error) {
	return d.stockChange(ctx, func(tx *store.Tx) error {
		s, draft, there, err := d.counting(tx, n, l)
		if err != nil {
			return err
		}
		if n.Question != nil {
			s.Question = question.Key(*n.Question)
		}
		if n.Choice != nil {
			s.Choice = *n.Choice
		}
		if n.Low != nil {
			s.Low = *n.Low
		}
		if n.Closes != nil {
			s.Closes = *n.Closes
		}
		var wrong []api.FieldError
		if !countable(draft, s) {
			wrong = append(wrong, problem.Field(l, "choice", "stock_choice", nil))
		}
		if n.Pieces < 0 || n.Pieces > mostPieces || s.Low < 0 || s.Low > mostPieces {
			wrong = append(wrong, problem.Field(l, "pieces", "pieces", nil))
		}
		if slices.ContainsFunc(there, func(o store.Stock) bool { return o.Question == s.Question && o.Choice == s.Choice }) {
			wrong = append(wrong, problem.Field(l, "choice", "stock_there", nil))
		}
		if len(wrong) > 0 {
			return problem.Invalid(l, wrong)
		}
		if err := tx.SaveStock(&s); err != nil {
			return err
		}
		return tx.MoveStock(s.ID, n.Pieces, "counted", author, nil, d.Now())
	})
}

// countable says whether there is what would be counted.
func countable(draft product.Draft, s store.Stock) bool {
	if s.Question == "" {
		return s.Choice == "" && s.ProductID != nil
	}
	e, _ := product.Compile(draft)
	item, ok := e.Item(s.Question)
	if !ok || item.Moment.Rank() > question.Paying.Rank() {
		return false
	}
	spec, ok := item.Spec.(question.Choosable)
	return ok && slices.ContainsFunc(spec.All(), func(c question.Choice) bool { return c.Code == s.Choice })
}

// ChangeStock changes several at once: the pieces on hand, from how many on
// they are low, and whether they close their product.
func (d *Desk) ChangeStock(ctx context.Context, c api.StockChange, author string, l words.Language) ([]api.StockRow, error) {
	why := "counted"
	if c.Why != nil && *c.Why != "" {
		why = *c.Why
	}
	bad := len(c.Ids) > 10_000 || c.Set != nil && c.Add != nil || question.Characters(why) > 200
	for _, n := range []*int{c.Set, c.Low} {
		bad = bad || n != nil && (*n < 0 || *n > mostPieces)
	}
	if bad || c.Add != nil && (*c.Add > mostPieces || *c.Add < -mostPieces) {
		return nil, problem.Invalid(l, []api.FieldError{problem.Field(l, "pieces", "pieces", nil)})
	}
	return d.stockChange(ctx, func(tx *store.Tx) error {
		for _, id := range c.Ids {
			s, err := tx.StockByID(id)
			if err != nil {
				return problem.Missing(err, l, "no_stock")
			}
			delta := 0
			if c.Set != nil {
				delta = *c.Set - s.Pieces
			} else if c.Add != nil {
				delta = min(*c.Add, mostPieces-s.Pieces)
			}
			if c.Low != nil {
				s.Low = *c.Low
			}
			if c.Closes != nil {
				s.Closes = *c.Closes
			}
			if err := tx.SaveStock(&s); err != nil {
				return err
			}
			if err := tx.MoveStock(id, delta, why, author, nil, d.Now()); err != nil {
				return err
			}
		}
		return nil
	})
}

// DropStock stops counting.
func (d *Desk) DropStock(ctx context.Context, id int64) ([]api.StockRow, error) {
	return d.stockChange(ctx, func(tx *store.Tx) error {
		s, err := tx.StockByID(id)
		if errors.Is(err, store.ErrNotFound) { // it is gone, as was wanted
			return nil
		}
		if err != nil {
			return err
		}
		name := ""
		if s.SheetID != nil {
			sheet, err := tx.SheetByID(*s.SheetID)
			if err != nil {
				return err
			}
			name = sheet.Name
		} else {
			p, err := tx.ProductByID(*s.ProductID)
			if err != nil {
				return err
			}
			name = p.Draft.Title
		}
		if err := tx.DropStock(id); err != nil {
			return err
		}
		return d.log(ctx, tx, stockDropped, name)
	})
}

// StockMoves lists the newest changes of what is counted: who and what changed
// it.
func (d *Desk) StockMoves(ctx context.Context, id int64) ([]api.StockMove, error) {
	views := []api.StockMove{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		rows, err := tx.StockMoves(id, 200)
		if err != nil {
			return err
		}
		for _, r := range rows {
			v := api.StockMove{Delta: r.Delta, Pieces: r.Pieces, Why: r.Why, By: r.Author, At: r.At}
			if r.OrderID != nil {
				o, err := tx.OrderByID(*r.OrderID)
				if err != nil {
					return err
				}
				v.Number = o.Number
			}
			views = append(views, v)
		}
		return nil
	})
	return views, err
}
