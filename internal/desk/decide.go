package desk

import (
	"context"
	"net/http"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/queue"
	"ruvo/internal/store"
)

// Decide gives an item to somebody, another day, another place in the queue, a note
// or ticks. What is left out stays. It is refused when somebody else decided about
// the item meanwhile.
func (d *Desk) Decide(ctx context.Context, id int64, c api.ItemDecision, l words.Language) (api.WorkItem, error) {
	var row store.WorkItem
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		w, err := tx.ItemByID(id)
		if err != nil {
			return problem.Missing(err, l, "no_item")
		}
		if w.Version != c.Version {
			return problem.Say(http.StatusConflict, l, "item_changed", nil)
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		if c.Files != nil {
			if err := besideItem(tx, &w, *c.Files, l); err != nil {
				return err
			}
		}
		if err := decide(&w, &b, c, l); err != nil {
			return err
		}
		w.Version++
		promised := w.ByAt
		if w.LineID != 0 {
			line, err := tx.LineByID(w.LineID)
			if err != nil {
				return err
			}
			promised = line.PromisedAt
		}
		if w.DoneAt == nil {
			w.By(promised)
		}
		row = w
		return tx.SaveItem(&row)
	})
	if err != nil {
		return api.WorkItem{}, err
	}
	views, err := d.shown(ctx, []store.WorkItem{row})
	if err != nil {
		return api.WorkItem{}, err
	}
	return views[0], nil
}

// decide changes what is decided about an item.
func decide(w *store.WorkItem, b *store.Business, c api.ItemDecision, l words.Language) error {
	var wrong []api.FieldError
	if c.Assigned != nil {
		if *c.Assigned != 0 && !b.Person(*c.Assigned) {
			wrong = append(wrong, problem.Field(l, "assigned", "no_person", nil))
		}
		w.AssignedTo = *c.Assigned
	}
	if c.OwnDue != nil {
		w.OwnDueAt = nil
		if *c.OwnDue != "" {
			at, err := readDay(*c.OwnDue, b.Hours())
			if err != nil {
				wrong = append(wrong, problem.Field(l, "own_due", "type_date", nil))
			}
			w.OwnDueAt = store.Time(at)
		}
	}
	if c.OwnFrom != nil {
		w.OwnFromAt = nil
		if *c.OwnFrom != "" {
			day, err := calendar.ParseDay(*c.OwnFrom)
			if err != nil {
				wrong = append(wrong, problem.Field(l, "own_from", "type_date", nil))
			}
			w.OwnFromAt = store.Time(day.At(0, b.Location()))
		}
	}
	if c.Priority != nil {
		w.Priority = min(max(*c.Priority, -1), 1)
	}
	if c.Taken != nil {
		seconds := min(max(*c.Taken, 0), mostMinutes) * 60
		w.Taken = &seconds
	}
	if c.Note != nil {
		w.Note = strings.TrimSpace(*c.Note)
	}
	if c.Ticked != nil {
		w.Ticked = slices.DeleteFunc(slices.Clone(*c.Ticked), func(t string) bool { return !slices.Contains(w.Checks, t) })
	}
	if w.Step == "" {
		wrong = append(wrong, byHand(w, c.Title, c.Instructions, c.Minutes, l)...)
	}
	if len(wrong) > 0 {
		return problem.Invalid(l, wrong)
	}
	return nil
}

// Foresee tells what comes of a decision: when orders would be done then. Nothing is
// kept.
func (d *Desk) Foresee(ctx context.Context, id int64, c api.ItemDecision, l words.Language) (api.Foresight, error) {
	view := api.Foresight{Moves: []api.ForeseenMove{}}
	q, err := d.queue(ctx)
	if err != nil {
		return view, err
	}
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		w, err := tx.ItemByID(id)
		if err != nil {
			return problem.Missing(err, l, "no_item")
		}
		if err := decide(&w, &q.Business, c, l); err != nil {
			return err
		}
		waiting, ok := q.Items[id]
		if !ok {
			return problem.Say(http.StatusConflict, l, "item_done", nil)
		}
		waiting.AssignedTo, waiting.OwnDueAt, waiting.OwnFromAt, waiting.Priority, waiting.Minutes = w.AssignedTo, w.OwnDueAt, w.OwnFromAt, w.Priority, w.Minutes
		job := queue.Job(&waiting)
		for _, j := range q.Plan.Jobs() {
			if j.ID == id {
				job.After = j.After
			}
		}
		p, moves := q.If([]schedule.Job{job})
		zone := q.Hours.Zone
		if at := p.At(id); at.Placed() {
			view.Begins, view.Ends = apiview.DayString(at.From.Time(), zone), apiview.DayString((at.To-1).Time(), zone)
		}
		view.Moves, err = d.moves(tx, q, moves)
		return err
	})
	return view, err
}

// moves shows the orders that would be done on another day.
func (d *Desk) moves(tx *store.Tx, q *queue.Queue, moves []schedule.Move) ([]api.ForeseenMove, error) {
	list := []api.ForeseenMove{}
	day := func(m schedule.Minute) string {
		if m == 0 {
			return ""
		}
		return apiview.DayString((m - 1).Time(), q.Hours.Zone)
	}
	for _, m := range moves {
		v := api.ForeseenMove{Line: m.Line, Before: day(m.Before), After: day(m.After)}
		if v.Before == v.After {
			continue
		}
		of, err := d.lineOf(tx, m.Line)
		if err != nil {
			return nil, err
		}
		v.Number, v.Customer, v.Product = of.Number, of.Customer, of.Product
		if of.Promised != "" {
			v.Promised = &of.Promised
			v.Late = v.After == "" || v.After > of.Promised
			if mended := v.Before > of.Promised && !v.Late; mended {
				v.Mended = &mended
			}
		}
		list = append(list, v)
	}
	return list, nil
}
