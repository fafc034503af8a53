package docket

import (
	"time"

	"ruvo/internal/core/handover"
	"ruvo/internal/core/order"
	"ruvo/internal/core/workplan"
	"ruvo/internal/store"
)

// hand tells when the line was handed over: when all of it was given, unless the
// customer asked for changes since; of a product of which nothing is given, when its
// work was done.
func (l *Line) hand() { l.Row.HandedAt = l.handed() }

func (l *Line) handed() *time.Time {
	switch {
	case l.State() != order.Placed:
		return nil
	case l.Row.GivenAt != nil:
		return l.Row.GivenAt
	case l.Edition.Handover != nil || len(l.Items) == 0 || l.Row.OpenItems > 0:
		return nil
	}
	last := time.Time{}
	for i := range l.Items {
		if at := l.Items[i].DoneAt; at.After(last) {
			last = *at
		}
	}
	return store.Time(last)
}

// HandedHolds says whether what is kept of when the line was handed over is what its
// handovers and its work say.
func (l *Line) HandedHolds() bool {
	return store.When(l.handed()).Equal(store.When(l.Row.HandedAt))
}

// Show notes that the customer is shown what a step made, at an instant.
func (l *Line) Show(step workplan.StepKey, at time.Time) {
	s := l.shown(step)
	s.Given, s.Accepted = at.UTC(), time.Time{}
	l.Row.Shown[step] = s
}

func (l *Line) shown(step workplan.StepKey) workplan.Shown {
	if l.Row.Shown == nil {
		l.Row.Shown = map[workplan.StepKey]workplan.Shown{}
	}
	return l.Row.Shown[step]
}

// Accept has a handover accepted by somebody; by nobody where the customer kept silent.
// It keeps the line with the work that can begin with it.
func (l *Line) Accept(tx *store.Tx, h *store.Handover, by string, now time.Time) error {
	h.State, h.AnsweredAt, h.AnsweredBy = handover.Accepted, store.Time(now), by
	if err := tx.SaveHandover(h); err != nil {
		return err
	}
	if h.Asks {
		s := l.shown(h.Step)
		s.Accepted = now.UTC()
		l.Row.Shown[h.Step] = s
	}
	return l.Keep(tx, now)
}

// AskChanges has the step of a handover done again as a customer asks. What the round
// costs beyond the included ones becomes part of the line's price; settling that is
// left to the caller. It gives the order's slip as it was.
func (l *Line) AskChanges(tx *store.Tx, editions *Editions, h *store.Handover, r *store.ChangeRequest, now time.Time) error {
	if err := tx.AddChangeRequest(r); err != nil {
		return err
	}
	h.State, h.AnsweredAt, h.AnsweredBy = handover.Changes, store.Time(now), l.Order.Name
	if err := tx.SaveHandover(h); err != nil {
		return err
	}
	s := l.shown(h.Step)
	s.Accepted = time.Time{}
	s.Requests = append(s.Requests, workplan.Request{ID: r.ID, At: now.UTC(), Paid: r.Price > 0})
	l.Row.Shown[h.Step] = s
	l.Row.GivenAt = nil
	if err := l.Keep(tx, now); err != nil {
		return err
	}
	return KeepSlip(tx, editions, l, now)
}

// Asks gives how the customer is asked about what a step makes; nil where they are not.
func (l *Line) Asks(key workplan.StepKey) *workplan.Acceptance {
	if s := l.Edition.Plan.Step(key); s != nil {
		return s.Acceptance
	}
	return nil
}

// Latest says whether nothing was handed over of the same step since, all handovers
// of the line given the newest first.
func Latest(h *store.Handover, all []store.Handover) bool {
	for i := range all {
		if all[i].Step == h.Step && all[i].State != handover.Withdrawn {
			return all[i].ID == h.ID
		}
	}
	return false
}

// Withdraw takes a handover back: the customer sees it no more, and what was handed over
// before it counts again.
func (l *Line) Withdraw(tx *store.Tx, h *store.Handover, all []store.Handover, now time.Time) error {
	h.State, h.AnsweredAt, h.AnsweredBy, h.SilentAt, h.WarnAt = handover.Withdrawn, nil, "", nil, nil
	if err := tx.SaveHandover(h); err != nil {
		return err
	}
	l.Row.GivenAt = nil
	asked := h.Asks
	for i := range all { // the newest first
		o := &all[i]
		if o.ID == h.ID || o.State == handover.Withdrawn {
			continue
		}
		if asked && o.Step == h.Step {
			s := l.shown(h.Step)
			s.Given, s.Accepted = o.MadeAt, time.Time{}
			if o.State == handover.Accepted {
				s.Accepted = store.When(o.AnsweredAt)
			}
			l.Row.Shown[h.Step], asked = s, false
		}
		if o.Whole && o.State != handover.Changes && l.Row.GivenAt == nil {
			l.Row.GivenAt = &o.MadeAt
		}
	}
	if asked {
		s := l.shown(h.Step)
		s.Given, s.Accepted = time.Time{}, time.Time{}
		l.Row.Shown[h.Step] = s
	}
	return l.Keep(tx, now)
}

// Reopen takes back that a handover was accepted.
func (l *Line) Reopen(tx *store.Tx, h *store.Handover, now time.Time) error {
	// Silence counted for what was said before; from now on the customer is waited for.
	h.State, h.AnsweredAt, h.AnsweredBy, h.SilentAt = handover.Given, nil, "", nil
	if err := tx.SaveHandover(h); err != nil {
		return err
	}
	s := l.shown(h.Step)
	s.Accepted = time.Time{}
	l.Row.Shown[h.Step] = s
	return l.Keep(tx, now)
}
