package desk

import (
	"context"
	"net/http"
	"strings"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/problem"
	"ruvo/internal/queue"
	"ruvo/internal/store"
)

// Promise promises an order line by another day, and writes that to the customer if
// that is wanted.
func (d *Desk) Promise(ctx context.Context, id int64, p api.NewPromise, l words.Language) (api.Docket, error) {
	var view api.Docket
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		line, err := d.open(tx, id, l)
		if err != nil {
			return err
		}
		if code := line.State().Refused(order.Work); code != "" {
			return problem.Say(http.StatusConflict, l, code, nil)
		}
		by, err := readDay(p.Day, line.Business.Hours())
		switch {
		case err != nil:
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "day", "type_date", nil)})
		case by.Before(d.Now()):
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "day", "promise_past", nil)})
		}
		line.PromiseBy(by, Author(ctx), d.Now())
		if err := line.Keep(tx, d.Now()); err != nil {
			return err
		}
		if deref(p.Tell) {
			if err := message.WritePromise(tx, line, strings.TrimSpace(deref(p.Word)), d.Now()); err != nil {
				return err
			}
		}
		view, err = d.docket(tx, line, l)
		return err
	})
	return view, err
}

// promised fills in why a line was promised by its day, and whether that holds.
func (d *Desk) promised(v *api.Docket, tx *store.Tx, line *docket.Line, q *queue.Queue, l words.Language) error {
	rows, err := tx.Replans(line.Row.ID, 20)
	if err != nil {
		return err
	}
	replans := make([]api.ReplanView, len(rows))
	for i, r := range rows {
		replans[i] = api.ReplanView{At: r.At, Said: make([]string, len(r.Said))}
		for k, s := range r.Said {
			replans[i].Said[k] = s.Say(l, line.Wording)
		}
	}
	if len(replans) > 0 {
		v.Replans = &replans
	}
	p := line.Row.Promise
	if p == nil || line.Row.PromisedAt == nil {
		return nil
	}
	view := api.PromiseView{Made: p.Made, Ahead: p.Ahead, Own: p.Own, Slack: p.Slack, Rush: p.Rush, Later: []int64{}}
	if p.Author != "" {
		view.Author = &p.Author
	}
	if end, is := q.Plan.Ends()[line.Row.ID]; is && line.Row.OpenItems > 0 {
		day := apiview.DayString((end - 1).Time(), q.Hours.Zone)
		late := day > line.Promised()
		view.Foreseen, view.Late = &day, &late
	}
	of, err := tx.OwnersOf(p.Later)
	if err != nil {
		return err
	}
	for _, id := range p.Later {
		view.Later = append(view.Later, of[id].Number)
	}
	v.Promise = &view
	return nil
}
