package desk

import (
	"context"
	"slices"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/queue"
	"ruvo/internal/store"
)

// How many rows a worksheet has that is asked for as a whole, and how many a page.
const (
	mostRows   = 5000
	pageOfRows = 300
)

// Worksheet shows the open items of one step side by side, with just the answers that
// the step needs, or those that people chose.
func (d *Desk) Worksheet(ctx context.Context, productID int64, step string, l words.Language) (api.Worksheet, error) {
	return d.worksheet(ctx, productID, step, 0, mostRows, l)
}

// WorksheetPage shows a page of a worksheet, from a row on.
func (d *Desk) WorksheetPage(ctx context.Context, productID int64, step string, from int, l words.Language) (api.Worksheet, error) {
	if from < 0 {
		return api.Worksheet{}, problem.Invalid(l, []api.FieldError{problem.Field(l, "from", "least", words.Params{"least": "0"})})
	}
	return d.worksheet(ctx, productID, step, from, pageOfRows, l)
}

func (d *Desk) worksheet(ctx context.Context, productID int64, step string, from, most int, l words.Language) (api.Worksheet, error) {
	view := api.Worksheet{Columns: []api.Column{}, Rows: []api.WorksheetRow{}, All: []api.Column{}}
	q, err := d.queue(ctx)
	if err != nil {
		return view, err
	}
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, productID, l)
		if err != nil {
			return err
		}
		layout, err := tx.Layout(productID, workplan.StepKey(step))
		if err != nil {
			return err
		}
		view.Product, view.Title, view.Grouped = p.Draft.Title, step, layout.Grouped
		rows, err := tx.OpenItems(store.ItemFilter{Product: productID, Step: workplan.StepKey(step), Skip: from, Most: most + 1})
		if err != nil {
			return err
		}
		if more := len(rows) > most; more {
			rows, view.More = rows[:most], &more
		}
		s := &sheeting{d: d, tx: tx, q: q, l: l, layout: layout, view: &view}
		for _, w := range rows {
			if err := s.row(w); err != nil {
				return err
			}
		}
		s.lay()
		return nil
	})
	return view, err
}

// sheeting is a worksheet being made.
type sheeting struct {
	d      *Desk
	tx     *store.Tx
	q      *queue.Queue
	l      words.Language
	layout store.WorksheetLayout
	needed []question.Key
	view   *api.Worksheet
	last   *sheetLine // the line of the row before: mostly several have the same
}

// A sheetLine is an order line with its answers as a worksheet shows them.
type sheetLine struct {
	*docket.Line
	answers []api.DocketAnswer
}

func (s *sheeting) line(id int64) (*sheetLine, error) {
	if s.last != nil && s.last.Row.ID == id {
		return s.last, nil
	}
	line, err := s.d.open(s.tx, id, s.l)
	if err != nil {
		return nil, err
	}
	history, err := apiview.History(s.tx, line, question.Desk)
	if err != nil {
		return nil, err
	}
	files, err := s.d.filesOf(s.tx, line)
	if err != nil {
		return nil, err
	}
	s.last = &sheetLine{line, answers(line, history, files, s.l)}
	return s.last, nil
}

func (s *sheeting) row(w store.WorkItem) error {
	line, err := s.line(w.LineID)
	if err != nil {
		return err
	}
	v, err := s.d.item(s.tx, s.q.Business, s.q, w, store.Owner{LineID: line.Row.ID, EditionID: line.Row.EditionID, Number: *line.Order.Number, Customer: line.Order.Name})
	if err != nil {
		return err
	}
	row := api.WorksheetRow{Item: v, Cells: map[string]api.DocketAnswer{}}
	for _, a := range line.answers {
		if own, part := w.Uses[question.Key(a.Key)]; part && w.Part != "" { // its own of what holds several
			a.Words = own
		}
		row.Cells[a.Key] = a
	}
	if ready := line.Edition.Plan.Step(w.Step); ready != nil {
		s.view.Title = ready.Called()
		for _, k := range ready.Needs {
			if !slices.Contains(s.needed, k) {
				s.needed = append(s.needed, k)
			}
		}
	}
	for i := range line.Edition.Items {
		item := &line.Edition.Items[i]
		known := slices.ContainsFunc(s.view.All, func(c api.Column) bool { return c.Key == string(item.Key) })
		if item.Asked() && item.Appears(question.Worksheet) && !known {
			s.view.All = append(s.view.All, api.Column{Key: string(item.Key), Wording: item.Wording})
		}
	}
	s.view.Rows = append(s.view.Rows, row)
	return nil
}

// lay puts the columns in their order and leaves out what they do not show.
func (s *sheeting) lay() {
	keys := s.layout.Columns
	if len(keys) == 0 {
		keys = s.needed
	}
	for _, k := range keys {
		if i := slices.IndexFunc(s.view.All, func(c api.Column) bool { return c.Key == string(k) }); i >= 0 {
			s.view.Columns = append(s.view.Columns, s.view.All[i])
		}
	}
	for _, r := range s.view.Rows {
		for k := range r.Cells {
			if k != s.layout.Grouped && !slices.ContainsFunc(s.view.Columns, func(c api.Column) bool { return c.Key == k }) {
				delete(r.Cells, k)
			}
		}
	}
}

// LayOut chooses the columns of a worksheet and their order, and what it is grouped by,
// for everybody at the desk.
func (d *Desk) LayOut(ctx context.Context, productID int64, step string, c api.WorksheetLayout, l words.Language) (api.Worksheet, error) {
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		if _, err := d.product(tx, productID, l); err != nil {
			return err
		}
		if !workplanKey(step) {
			return problem.NotFound(l, "not_found")
		}
		layout := store.WorksheetLayout{ProductID: productID, Step: workplan.StepKey(step), Grouped: c.Grouped}
		for _, k := range c.Columns {
			if key := question.Key(k); key.Valid() && !slices.Contains(layout.Columns, key) {
				layout.Columns = append(layout.Columns, key)
			}
		}
		return tx.SaveLayout(layout)
	})
	if err != nil {
		return api.Worksheet{}, err
	}
	return d.Worksheet(ctx, productID, step, l)
}

func workplanKey(step string) bool { return question.Key(step).Valid() }
