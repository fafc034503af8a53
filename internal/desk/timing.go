package desk

import (
	"context"
	"net/http"
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// settle counts what passed for all that somebody has running, before one of them is
// begun, paused or finished: those that run together share the time. What was left
// running overnight stopped when the hours of its day were over.
func settle(tx *store.Tx, user int64, now time.Time) error {
	running, err := tx.Running(user)
	if err != nil || len(running) == 0 {
		return err
	}
	b, err := tx.Business()
	if err != nil {
		return err
	}
	count(running, now, b.Hours())
	for i := range running {
		if err := tx.SaveItem(&running[i]); err != nil {
			return err
		}
	}
	return nil
}

// count counts what passed for items that one person has running.
func count(running []store.WorkItem, now time.Time, hours *calendar.Hours) {
	clocks := make([]workplan.Clock, len(running))
	all := make([]*workplan.Clock, len(running))
	for i := range running {
		clocks[i] = running[i].Clock()
		all[i] = &clocks[i]
	}
	at, overnight := closing(clocks[0].Since, now, hours)
	workplan.Settle(all, at)
	for i := range running {
		if overnight {
			clocks[i].Since = time.Time{}
		}
		running[i].Keep(clocks[i])
	}
}

// countedNow gives an item that runs as it would be if it was settled now.
func countedNow(tx *store.Tx, w *store.WorkItem, now time.Time, hours *calendar.Hours) error {
	running, err := tx.Running(w.BegunBy)
	if err != nil {
		return err
	}
	count(running, now, hours)
	for i := range running {
		if running[i].ID == w.ID {
			w.Taken, w.SinceAt = running[i].Taken, running[i].SinceAt
		}
	}
	return nil
}

// closing gives until when work that runs since an instant is counted: until now, or,
// if that is another day, until the end of the hours of its own.
func closing(since, now time.Time, hours *calendar.Hours) (at time.Time, overnight bool) {
	day := calendar.DayOf(since.In(hours.Zone))
	if day == calendar.DayOf(now.In(hours.Zone)) {
		return now, false
	}
	if spans := hours.Spans(day); len(spans) > 0 {
		if end := day.At(spans[len(spans)-1].To, hours.Zone); end.After(since) {
			return end, true
		}
	}
	return since, true // begun after hours: how long is not known
}

// clocked starts or stops the clock of an item with what somebody does; was is the item
// before. What somebody else has running is refused with who that is.
func (d *Desk) clocked(ctx context.Context, w *store.WorkItem, was store.WorkItem, act order.WorkAct, l words.Language) error {
	me := who(ctx).user
	switch {
	case act == order.Begin && was.SinceAt != nil && was.BegunBy != me.ID:
		return problem.Say(http.StatusConflict, l, "item_begun_by", words.Params{"who": was.BegunName})
	case act == order.Begin && w.DoneAt == nil:
		c := w.Clock()
		if !c.Runs() {
			c.Since = d.Now()
		}
		w.Keep(c)
		w.BegunBy, w.BegunName = me.ID, me.Name
		if w.AssignedTo == 0 {
			w.AssignedTo = me.PersonID
		}
	case slices.Contains([]order.WorkAct{order.Pause, order.Finish, order.Aside}, act):
		w.SinceAt = nil
		if w.BegunBy == 0 {
			w.BegunBy, w.BegunName = me.ID, me.Name
		}
	case act == order.Undo && w.StartedAt == nil: // as if it was never begun
		w.Taken, w.SinceAt, w.BegunBy, w.BegunName = nil, nil, 0, ""
	}
	return nil
}
