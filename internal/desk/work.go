package desk

import (
	"context"
	"maps"
	"net/http"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
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
		drafts := map[int64]product.Draft{}
		products, err := tx.Products()
		for _, p := range products {
			drafts[p.ID] = p.Draft
		}
		for _, r := range rows {
			title := r.Title
			for _, s := range drafts[r.ProductID].Steps {
				if s.Key == r.Step {
					title = s.Called()
				}
			}
			views = append(views, api.StepRow{
				Product: r.ProductID, ProductTitle: drafts[r.ProductID].Title, Step: string(r.Step), Title: title, Open: r.N, Minutes: r.Minutes,
			})
		}
		return err
	})
	return views, err
}

// ActOnWork starts or finishes items, or takes the last of that back, and
// plans the rest of their orders again. All of it happens, or none.
func (d *Desk) ActOnWork(ctx context.Context, ids []int64, action string, l words.Language) ([]api.WorkItem, error) {
	if !slices.Contains(order.WorkActs(), order.WorkAct(action)) {
		return nil, problem.NotFound(l, "not_found")
	}
	var rows []store.WorkItem
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		if err := settle(tx, who(ctx).user.ID, d.Now()); err != nil {
			return err
		}
		for _, id := range ids {
			w, err := d.act(ctx, tx, id, action, l)
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

func (d *Desk) act(ctx context.Context, tx *store.Tx, id int64, action string, l words.Language) (store.WorkItem, error) {
	w, err := tx.ItemByID(id)
	if err != nil {
		return w, problem.Missing(err, l, "no_item")
	}
	if w.LineID == 0 {
		return d.actByHand(ctx, tx, w, order.WorkAct(action), l)
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
	was := w
	w.Take(item)
	if err := d.clocked(ctx, &w, was, order.WorkAct(action), l); err != nil {
		return w, err
	}
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
