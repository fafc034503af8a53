package docket

import (
	"fmt"
	"time"

	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/workplan"
	"ruvo/internal/queue"
	"ruvo/internal/store"
)

// unsaved is above the id of every item: those that are not kept yet are the last.
const unsaved = int64(1) << 60

// TermsOf gives how an order line of a product is promised.
func TermsOf(b *store.Business, e *product.Edition) schedule.Terms {
	if e.Promise != nil {
		return *e.Promise
	}
	return b.Work
}

// Promised finds by when the work of an order line will be done, and that with the
// slack on top; why is nil as long as something of it waits for an answer. Items are
// those of the line, kept or not.
func Promised(q *queue.Queue, e *product.Edition, items []workplan.Item, rush bool, now time.Time) (why *store.Promise, turn time.Time) {
	var rows []store.Waiting
	own := 0
	for n := range items {
		if items[n].Done.IsZero() {
			rows, own = append(rows, queue.WaitingOf(&items[n], unsaved+int64(n), rush)), own+items[n].Minutes
		}
	}
	jobs, stuck := queue.Jobs(rows)
	if len(stuck) > 0 || len(jobs) == 0 {
		return nil, turn
	}
	for i := range jobs {
		jobs[i].Age = schedule.At(now)
		if jobs[i].Ready <= q.Plan.Now {
			jobs[i].Ready = 0
		}
	}
	terms := TermsOf(&q.Business, e)
	why = &store.Promise{Made: now.UTC(), Slack: terms.Slack, Ahead: q.Ahead(), Own: own, Rush: rush}
	ends := time.Time{}
	found := queue.Told(q, fmt.Sprint("offer ", jobs), func() offered {
		o, ok := q.Offer(jobs)
		return offered{o, ok}
	})
	if offer := found.Offer; found.ok {
		ends, turn = offer.Ends.Time(), turned(offer.Turn)
		why.Ends = ends.UTC()
		for _, l := range offer.Later {
			why.Later = append(why.Later, l.Line)
		}
	} else { // nobody is there for it, so all that is known is when it is due
		ends = order.Due(items)
	}
	if by, err := q.Hours.AddDays(ends, terms.Slack); err == nil && !ends.IsZero() {
		why.By = by.UTC()
	} else {
		why.By = ends.UTC()
	}
	for i := range items { // what hangs on a booked time is promised for that
		if s := e.Plan.Step(items[i].Step); s != nil && s.DueBooked() && items[i].Due.After(why.By) {
			why.By = items[i].Due.UTC()
		}
	}
	return why, turn
}

// offered is what the queue offers for some jobs, if somebody is there for them.
type offered struct {
	schedule.Offer
	ok bool
}

func turned(m schedule.Minute) time.Time {
	if m == 0 {
		return time.Time{}
	}
	return m.Time().UTC()
}

// promise promises the line by a day once its work is known, and again when what it
// books is at another time, or the customer asked for changes or accepted what they
// were shown. What was promised stays otherwise: more work makes the
// seller late, not the promise. The day that the customer was shown at the checkout is
// the one that is promised.
func (l *Line) promise(tx *store.Tx, now time.Time) error {
	shown := l.Row.Promise
	if l.Row.PromisedAt != nil {
		shown = nil
	} else {
		l.Row.Promise, l.Row.TurnAt = nil, nil
	}
	if l.State() != order.Placed {
		l.Row.PromisedAt = nil
		return nil
	}
	l.Row.Rush = l.Edition.Rushes(l.Result.Answers)
	booked := time.Time{}
	if b, is := l.Booked(); is {
		booked = b.Start.UTC()
	}
	turns := turnsOf(l.Row.Shown)
	p := l.Row.Promise
	if p != nil && (p.Booking.Equal(booked) && p.Turns == turns || p.Author != "") || !order.Promising(l.State(), l.Plans()) {
		return nil
	}
	q, err := queue.Of(tx.Store()).At(tx.Context(), now)
	if err != nil {
		return err
	}
	if l.Row.PromisedAt != nil { // its own items do not stand before themselves
		q = q.Without(l.Row.ID)
	}
	why, turn := Promised(q, l.Edition, l.Plans(), l.Row.Rush, now)
	if why == nil {
		return nil
	}
	if why.Booking = booked; shown != nil && shown.Booking.Equal(booked) {
		why.By = shown.By
	}
	if why.Turns = turns; p != nil && p.Turns != turns && why.By.Before(p.By) { // what they do can only make it later
		why.By = p.By
	}
	l.Row.Promise, l.Row.PromisedAt, l.Row.TurnAt = why, store.Time(why.By), store.Time(turn)
	return nil
}

// turnsOf counts how often the customer accepted what they were shown, or asked for
// changes.
func turnsOf(shown map[workplan.StepKey]workplan.Shown) (n int) {
	for _, s := range shown {
		n += len(s.Requests)
		if !s.Accepted.IsZero() {
			n++
		}
	}
	return n
}

// PromiseBy promises the line by a time that somebody put by hand. It is kept with the
// line.
func (l *Line) PromiseBy(by time.Time, author string, now time.Time) {
	p := store.Promise{}
	if l.Row.Promise != nil {
		p = *l.Row.Promise
	}
	p.Made, p.By, p.Ends, p.Author, p.Slack = now.UTC(), by.UTC(), by.UTC(), author, 0
	l.Row.Promise, l.Row.PromisedAt = &p, store.Time(by)
}

// PromiseHolds says whether the promised day is the one that was found, and there is
// one where there should be.
func (l *Line) PromiseHolds() bool {
	p := l.Row.Promise
	switch {
	case l.State() == order.Cancelled:
		return l.Row.PromisedAt == nil
	case l.State() != order.Placed: // a promise comes with the order
		return true
	case p == nil:
		return l.Row.PromisedAt == nil && !order.Promising(l.State(), l.Plans())
	}
	return p.By.Equal(store.When(l.Row.PromisedAt))
}
