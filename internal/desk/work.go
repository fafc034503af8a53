package desk

import (
	"context"
	"net/http"
	"slices"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// How many items a list of work shows, and how many it can show.
const (
	shownItems = 200
	mostItems  = 1000
)

// items shows work items with the orders they belong to.
func (d *Desk) items(tx *store.Tx, b store.Business, rows []store.WorkItem) ([]api.WorkItem, error) {
	views := make([]api.WorkItem, 0, len(rows))
	ids := make([]int64, len(rows))
	for i := range rows {
		ids[i] = rows[i].LineID
	}
	of, err := tx.OwnersOf(ids)
	if err != nil {
		return nil, err
	}
	for i := range rows {
		v, err := d.item(tx, b, rows[i], of[rows[i].LineID])
		if err != nil {
			return nil, err
		}
		views = append(views, v)
	}
	return views, nil
}

func (d *Desk) item(tx *store.Tx, b store.Business, w store.WorkItem, of store.Owner) (api.WorkItem, error) {
	e, err := d.Editions.Get(tx, of.EditionID)
	if err != nil {
		return api.WorkItem{}, err
	}
	plan := w.Plan()
	v := api.WorkItem{
		Id: w.ID, Line: w.LineID, Number: of.Number, Product: e.Title, Customer: of.Customer, Step: string(w.Step), Round: w.Round,
		Title: w.Title, Instructions: w.Instructions, Minutes: w.Minutes, State: state(&plan), Waits: apiview.Waits(&plan, e),
		Marks: []api.MarkView{}, Due: w.DueAt, Done: w.DoneAt,
	}
	for _, m := range w.Marks {
		wording := string(m.Key)
		if item, ok := e.Item(m.Key); ok {
			wording = item.Wording
		}
		v.Marks = append(v.Marks, api.MarkView{Wording: wording, Old: m.Old, New: m.New})
	}
	if w.DueAt != nil {
		zone := b.Location()
		day, clock, late := apiview.DayString(*w.DueAt, zone), apiview.Clock(*w.DueAt, zone), w.DoneAt == nil && w.DueAt.Before(d.Now())
		v.DueDay, v.DueTime, v.Late = &day, &clock, &late
	}
	return v, nil
}

func state(i *workplan.Item) api.WorkItemState {
	switch {
	case !i.Done.IsZero():
		return api.WorkItemStateDone
	case !i.Started.IsZero():
		return api.WorkItemStateStarted
	case i.Waiting():
		return api.WorkItemStateWaiting
	}
	return api.WorkItemStateReady
}

// Work lists the open work by day. What waits for something is apart, as it
// cannot be done yet, unless it is late.
func (d *Desk) Work(ctx context.Context, most int) (api.WorkByDay, error) {
	if most <= 0 {
		most = shownItems
	}
	most = min(most, mostItems)
	view := api.WorkByDay{Late: []api.WorkItem{}, Days: []api.WorkDay{}, Waiting: []api.WorkItem{}}
	now := d.Now()
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		rows, err := tx.OpenItems(store.ItemFilter{Most: most})
		if err != nil {
			return err
		}
		all, err := d.items(tx, b, rows)
		if err != nil {
			return err
		}
		if len(rows) == most {
			n, err := tx.CountOpenItems()
			if err != nil {
				return err
			}
			view.More = n - len(rows)
		}
		hours := b.Hours()
		today := calendar.DayOf(now.In(hours.Zone))
		for _, i := range all {
			switch {
			case i.DueDay == nil || i.State == api.WorkItemStateWaiting && !*i.Late:
				view.Waiting = append(view.Waiting, i)
			case *i.DueDay < today.String():
				view.Late = append(view.Late, i)
			default:
				addToDay(&view, i, hours, today)
			}
		}
		return nil
	})
	return view, err
}

func addToDay(view *api.WorkByDay, i api.WorkItem, hours *calendar.Hours, today calendar.Day) {
	if n := len(view.Days); n == 0 || view.Days[n-1].Day != *i.DueDay {
		day, err := calendar.ParseDay(*i.DueDay)
		if err != nil {
			return
		}
		v := api.WorkDay{Day: *i.DueDay, Hours: hours.Minutes(day), Items: []api.WorkItem{}}
		if reason, closed := hours.Closed(day); closed {
			v.Closed = &reason
		}
		view.Days = append(view.Days, v)
	}
	last := &view.Days[len(view.Days)-1]
	last.Planned += i.Minutes
	last.Items = append(last.Items, i)
}

// Steps lists the steps that have open work.
func (d *Desk) Steps(ctx context.Context) ([]api.StepRow, error) {
	views := []api.StepRow{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		rows, err := tx.OpenSteps()
		if err != nil {
			return err
		}
		titles := map[int64]string{}
		products, err := tx.Products()
		for _, p := range products {
			titles[p.ID] = p.Draft.Title
		}
		for _, r := range rows {
			views = append(views, api.StepRow{
				Product: r.ProductID, ProductTitle: titles[r.ProductID], Step: string(r.Step), Title: r.Title, Open: r.N, Minutes: r.Minutes,
			})
		}
		return err
	})
	return views, err
}

// Worksheet shows the open items of one step side by side, with just the
// answers that the step needs.
func (d *Desk) Worksheet(ctx context.Context, productID int64, step string, l words.Language) (api.Worksheet, error) {
	view := api.Worksheet{Columns: []api.Column{}, Rows: []api.WorksheetRow{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, productID, l)
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		view.Product, view.Title = p.Draft.Title, step
		rows, err := tx.OpenItems(store.ItemFilter{Product: productID, Step: workplan.StepKey(step), Most: mostItems})
		if err != nil {
			return err
		}
		for _, w := range rows {
			line, err := d.open(tx, w.LineID, l)
			if err != nil {
				return err
			}
			v, err := d.item(tx, b, w, store.Owner{LineID: line.Row.ID, EditionID: line.Row.EditionID, Number: *line.Order.Number, Customer: line.Order.Name})
			if err != nil {
				return err
			}
			history, err := apiview.History(tx, line, question.Desk)
			if err != nil {
				return err
			}
			row := api.WorksheetRow{Item: v, Cells: map[string]api.DocketAnswer{}}
			files, err := d.filesOf(tx, line)
			if err != nil {
				return err
			}
			for _, k := range needs(line, w.Step) {
				if item, ok := line.Edition.Item(k); ok && !item.Appears(question.Worksheet) {
					continue
				}
				if !slices.ContainsFunc(view.Columns, func(c api.Column) bool { return c.Key == string(k) }) {
					view.Columns = append(view.Columns, api.Column{Key: string(k), Wording: line.Wording(k)})
				}
			}
			for _, a := range answers(line, history, files, l) {
				row.Cells[a.Key] = a
			}
			view.Title = w.Title
			view.Rows = append(view.Rows, row)
		}
		for _, r := range view.Rows { // only the columns' answers are needed
			for k := range r.Cells {
				if !slices.ContainsFunc(view.Columns, func(c api.Column) bool { return c.Key == k }) {
					delete(r.Cells, k)
				}
			}
		}
		return nil
	})
	return view, err
}

func needs(line *docket.Line, step workplan.StepKey) []question.Key {
	for _, s := range line.Edition.Plan.Steps {
		if s.Key == step {
			return s.Needs
		}
	}
	return nil
}

// ActOnWork starts or finishes items, or takes the last of that back, and
// plans the rest of their orders again. All of it happens, or none.
func (d *Desk) ActOnWork(ctx context.Context, ids []int64, action string, l words.Language) ([]api.WorkItem, error) {
	var views []api.WorkItem
	if !slices.Contains(order.WorkActs(), order.WorkAct(action)) {
		return nil, problem.NotFound(l, "not_found")
	}
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		var rows []store.WorkItem
		for _, id := range ids {
			w, err := d.act(tx, id, action, l)
			if err != nil {
				return err
			}
			rows = append(rows, w)
		}
		views, err = d.items(tx, b, rows)
		return err
	})
	return views, err
}

func (d *Desk) act(tx *store.Tx, id int64, action string, l words.Language) (store.WorkItem, error) {
	w, err := tx.ItemByID(id)
	if err != nil {
		return w, problem.Missing(err, l, "no_item")
	}
	line, err := d.open(tx, w.LineID, l)
	if err != nil {
		return w, err
	}
	code := line.State().Refused(order.Work)
	item := w.Plan()
	if code == "" {
		item, code = order.Worked(item, order.WorkAct(action), line.Plans(), d.Now())
	}
	if code != "" {
		return w, problem.Say(http.StatusConflict, l, code, nil)
	}
	w.Take(item)
	if err := tx.SaveItem(&w); err != nil {
		return w, err
	}
	if line, err = d.open(tx, w.LineID, l); err != nil {
		return w, err
	}
	if err := line.Keep(tx, d.Now()); err != nil {
		return w, err
	}
	return tx.ItemByID(id)
}
