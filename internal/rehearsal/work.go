package rehearsal

import (
	"context"
	"fmt"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/workplan"
	"ruvo/internal/store"
)

// mostWeeks is how long a walk waits for work to become ready, in weeks.
const mostWeeks = farthest / 7

// work has all work done, handed over and accepted. Where it waits for a day, that day
// comes.
func (w *walk) work(ctx context.Context) error {
	for weeks := 0; ; {
		open, moved, stuck := 0, false, error(nil)
		for at, n := range w.lines {
			items, err := w.items(ctx, n)
			if err != nil {
				return err
			}
			open += len(items)
			for _, i := range items {
				if err := w.do(ctx, at, n, i); err == nil {
					moved = true
					break // what it brings stands in the list anew
				} else {
					stuck = err
				}
			}
		}
		switch {
		case open == 0:
			return at(api.WalkFailedStepHandover, w.handOver(ctx))
		case moved:
			continue
		case weeks == mostWeeks:
			return at(api.WalkFailedStepWork, fmt.Errorf("%s %s", w.said.Say("walk.no_end", nil), told(stuck)))
		}
		weeks++
		if _, err := w.SetDay(ctx, w.today().Add(7).String(), w.said); err != nil {
			return at(api.WalkFailedStepWork, err)
		}
	}
}

// items lists the open work of a line.
func (w *walk) items(ctx context.Context, n *line) (open []store.WorkItem, err error) {
	err = w.store.Read(ctx, func(tx *store.Tx) error {
		all, err := tx.Items(n.id)
		for _, i := range all {
			if i.DoneAt == nil {
				open = append(open, i)
			}
		}
		return err
	})
	return open, err
}

// do does one item. What a step makes that the customer is asked about is shown and
// accepted.
func (w *walk) do(ctx context.Context, at int, n *line, i store.WorkItem) error {
	asks := slices.ContainsFunc(n.edition.Steps, func(s workplan.Step) bool { return s.Key == i.Step && s.Acceptance != nil })
	if !asks {
		_, err := w.server.Desk.ActOnWork(ctx, []int64{i.ID}, "finish", w.said)
		return err
	}
	name, message, finish := string(i.Step), "—", true
	_, err := w.server.Desk.HandOver(ctx, n.id, api.NewHandover{Files: []string{}, Step: &name, Message: &message, Finish: &finish}, w.said)
	if err != nil {
		return err
	}
	return w.accept(ctx, at)
}

// accept has the customer accept what they were given last.
func (w *walk) accept(ctx context.Context, at int) error {
	page, err := w.server.Shop.OrderPage(ctx, w.link, w.said)
	if err != nil || page.Lines[at].Handovers == nil || len(*page.Lines[at].Handovers) == 0 {
		return err
	}
	given := (*page.Lines[at].Handovers)[0]
	actions := []api.HandoverAnswerAction{"open"}
	if given.Asks {
		actions = append(actions, "accept")
	}
	for _, action := range actions {
		if _, err := w.server.Shop.AnswerHandover(ctx, w.link, given.Id, api.HandoverAnswer{Action: action}, w.said); err != nil {
			return err
		}
	}
	return nil
}

// handOver hands all of it over that was not handed over with the work.
func (w *walk) handOver(ctx context.Context) error {
	for at, n := range w.lines {
		var row store.OrderLine
		err := w.store.Read(ctx, func(tx *store.Tx) (err error) {
			row, err = tx.LineByID(n.id)
			return err
		})
		if err != nil {
			return err
		}
		if row.HandedAt != nil || n.edition.Handover == nil {
			continue
		}
		message := "—"
		if _, err := w.server.Desk.HandOver(ctx, n.id, api.NewHandover{Files: []string{}, Message: &message, Whole: true}, w.said); err != nil {
			return err
		}
		if err := w.accept(ctx, at); err != nil {
			return err
		}
	}
	return nil
}
