package desk

import (
	"cmp"
	"context"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// replayed is how many orders are evaluated against a draft.
const replayed = 200

// Replay evaluates the last orders of a product against its draft, or against
// one that is given, and shows what would come out differently. It keeps
// nothing.
func (d *Desk) Replay(ctx context.Context, id int64, r api.Replaying, l words.Language) (api.Replay, error) {
	view := api.Replay{Rows: []api.ReplayRow{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, id, l)
		if err != nil {
			return err
		}
		if r.Draft != nil {
			p.Draft = *r.Draft
		}
		draft, err := whole(tx, p)
		if err != nil {
			return err
		}
		e, _ := product.Compile(draft)
		b, err := tx.Business()
		if err != nil {
			return err
		}
		view.Currency = string(e.Currency)
		rows, err := tx.ListLines(store.LineFilter{Product: id, Most: replayed})
		if err != nil {
			return err
		}
		return d.against(tx, b, rows, func(int64) *product.Edition { return e }, &view, l)
	})
	return view, err
}

// ReplaySheet evaluates the last orders of all products that publishing a sheet
// would change, and shows what would come out differently. It keeps nothing.
func (d *Desk) ReplaySheet(ctx context.Context, id int64, l words.Language) (api.Replay, error) {
	view := api.Replay{Rows: []api.ReplayRow{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		s, err := d.sheet(tx, id, l)
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		view.Currency = string(b.Currency)
		before, err := tx.UsedSheets()
		if err != nil {
			return err
		}
		after := replaced(before, &s)
		products, err := tx.Products()
		if err != nil {
			return err
		}
		editions := map[int64]*product.Edition{}
		var rows []store.ListedLine
		for _, p := range products {
			if p.EditionID == nil {
				continue
			}
			sold, err := tx.EditionByID(*p.EditionID)
			if err != nil {
				return err
			}
			now := sold.Content.With(p.ID, after)
			if sameDraft(sold.Content, now) {
				continue
			}
			editions[p.ID], _ = product.Compile(now)
			more, err := tx.ListLines(store.LineFilter{Product: p.ID, Most: replayed})
			if err != nil {
				return err
			}
			rows = append(rows, more...)
		}
		slices.SortStableFunc(rows, func(a, b store.ListedLine) int { return cmp.Compare(b.OrderID, a.OrderID) })
		return d.against(tx, b, rows[:min(len(rows), replayed)], func(of int64) *product.Edition { return editions[of] }, &view, l)
	})
	return view, err
}

// against evaluates order lines against other editions of their products.
func (d *Desk) against(tx *store.Tx, b store.Business, rows []store.ListedLine, of func(product int64) *product.Edition, view *api.Replay, l words.Language) error {
	for _, row := range rows {
		e := of(row.ProductID)
		o, err := tx.OrderByID(row.OrderID)
		if err != nil {
			return err
		}
		line, err := docket.Open(tx, d.Editions, b, o, row.OrderLine, d.Now())
		if err != nil {
			return err
		}
		e, ok := e.In(line.Row.Slip.Currency)
		if !ok { // its amounts say nothing about these
			continue
		}
		view.Orders++
		v := replay(e, line, l)
		if len(v.Moved) == 0 && len(v.Invalid) == 0 {
			view.Same++
			continue
		}
		view.Rows = append(view.Rows, v)
	}
	return nil
}

// replay evaluates one order line against another edition, as on the day on
// which it was ordered.
func replay(e *product.Edition, line *docket.Line, l words.Language) api.ReplayRow {
	answers, wrong := question.Decode(line.Row.Answers, e.Spec)
	wrong = slices.DeleteFunc(wrong, func(f question.Fault) bool { return f.Code == "unknown" }) // a question that is gone
	f := line.Given
	f.Now, f.Work, f.Language = *line.Order.PlacedAt, nil, l
	r := evaluate.Evaluate(e, answers, f)
	for _, fault := range r.Upto(e, question.Paying) {
		if !slices.ContainsFunc(wrong, func(w question.Fault) bool { return w.Key == fault.Key }) {
			wrong = append(wrong, fault)
		}
	}
	before := line.Result.Slip
	v := api.ReplayRow{
		Line: line.Row.ID, Number: *line.Order.Number, Customer: line.Order.Name, Currency: string(before.Currency), Old: int(before.Total), New: int(r.Slip.Total),
		Invalid: problem.Fields(l, "", wrong),
	}
	if v.Invalid == nil {
		v.Invalid = []api.FieldError{}
	}
	v.Moved = moved(before.In(l).Lines, r.Slip.In(l).Lines)
	return v
}

// moved compares the lines of two slips: what is gone, new or another amount.
// Lines are the same when the same answer makes them.
func moved(old, now []charge.Line) []api.MovedLine {
	type place struct {
		question question.Key
		choice   string
		part     charge.Part
		nth      int
	}
	places := func(lines []charge.Line) (map[place]charge.Line, []place) {
		m, order := map[place]charge.Line{}, []place{}
		for _, l := range lines {
			p := place{question: l.Question, choice: l.Choice, part: l.Part}
			if l.Part == charge.PartBase || l.Part == charge.PartVoucher {
				p.question, p.choice, p.part = "", "", charge.PartBase
			}
			for _, taken := m[p]; taken; _, taken = m[p] {
				p.nth++
			}
			m[p] = l
			order = append(order, p)
		}
		return m, order
	}
	was, places1 := places(old)
	is, places2 := places(now)
	list := []api.MovedLine{}
	for _, p := range places1 {
		a, b := was[p], is[p]
		_, stays := is[p]
		if stays && a.Amount == b.Amount {
			continue
		}
		before := int(a.Amount)
		row := api.MovedLine{Label: a.Label, Old: &before}
		if stays {
			after := int(b.Amount)
			row.New = &after
		}
		list = append(list, row)
	}
	for _, p := range places2 {
		if _, there := was[p]; !there {
			after := int(is[p].Amount)
			list = append(list, api.MovedLine{Label: is[p].Label, New: &after})
		}
	}
	return list
}
