package desk

import (
	"context"
	"maps"
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
	"ruvo/internal/queue"
	"ruvo/internal/store"
)

// How many items a list of work shows, and how many it can show.
const (
	shownItems = 200
	mostItems  = 1000
)

// Work lists the open work by the day on which it is to be done, of everybody or of
// one person. What waits for something is apart, as it cannot be done yet, unless it
// is late.
func (d *Desk) Work(ctx context.Context, most int, person int64) (api.WorkByDay, error) {
	if most <= 0 {
		most = shownItems
	}
	most = min(most, mostItems)
	view := api.WorkByDay{Late: []api.WorkItem{}, Days: []api.WorkDay{}, Waiting: []api.WorkItem{}}
	now := d.Now()
	q, err := d.queue(ctx)
	if err != nil {
		return view, err
	}
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		filter := store.ItemFilter{Most: most}
		if person != 0 {
			filter.IDs = theirs(q, person)
		}
		rows, err := tx.OpenItems(filter)
		if err != nil {
			return err
		}
		all, err := d.items(tx, b, q, rows)
		if err != nil {
			return err
		}
		if len(rows) == most {
			n, err := tx.CountOpenItems()
			if err != nil {
				return err
			}
			view.More = n - len(rows)
			if person != 0 {
				view.More = len(filter.IDs) - len(rows)
			}
		}
		today := calendar.DayOf(now.In(q.Hours.Zone))
		loads := loadOf(q, today, person)
		byDay := map[string][]api.WorkItem{}
		for _, i := range all {
			switch {
			case i.DueDay != nil && *i.DueDay < today.String():
				view.Late = append(view.Late, i)
			case i.Begins == nil:
				view.Waiting = append(view.Waiting, i)
			default:
				byDay[*i.Begins] = append(byDay[*i.Begins], i)
			}
		}
		for _, day := range slices.Sorted(maps.Keys(byDay)) {
			view.Days = append(view.Days, workDay(day, byDay[day], loads, q.Hours))
		}
		return nil
	})
	return view, err
}

// theirs lists the items that a person is to do by the schedule.
func theirs(q *queue.Queue, person int64) []int64 {
	ids := []int64{}
	for _, j := range q.Plan.Jobs() {
		if q.Plan.At(j.ID).Person == person {
			ids = append(ids, j.ID)
		}
	}
	for _, w := range q.Stuck {
		if w.AssignedTo == person || w.AssignedTo == 0 && w.Person == person {
			ids = append(ids, w.ID)
		}
	}
	return ids
}

func workDay(name string, items []api.WorkItem, loads map[string]dayLoad, hours *calendar.Hours) api.WorkDay {
	v := api.WorkDay{Day: name, Items: items, Planned: loads[name].planned, Hours: loads[name].hours}
	if day, err := calendar.ParseDay(name); err == nil && v.Hours == 0 {
		if reason, closed := hours.Closed(day); closed {
			v.Closed = &reason
		}
	}
	return v
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
	q, err := d.queue(ctx)
	if err != nil {
		return view, err
	}
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
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
			v, err := d.item(tx, b, q, w, store.Owner{LineID: line.Row.ID, EditionID: line.Row.EditionID, Number: *line.Order.Number, Customer: line.Order.Name})
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
	if !slices.Contains(order.WorkActs(), order.WorkAct(action)) {
		return nil, problem.NotFound(l, "not_found")
	}
	var rows []store.WorkItem
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		for _, id := range ids {
			w, err := d.act(tx, id, action, l)
			if err != nil {
				return err
			}
			rows = append(rows, w)
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return d.shown(ctx, rows)
}

func (d *Desk) act(tx *store.Tx, id int64, action string, l words.Language) (store.WorkItem, error) {
	w, err := tx.ItemByID(id)
	if err != nil {
		return w, problem.Missing(err, l, "no_item")
	}
	if w.LineID == 0 {
		return d.actByHand(tx, w, order.WorkAct(action), l)
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
