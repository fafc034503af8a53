package docket

import (
	"encoding/json"
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/store"
)

// A Line is an order line opened: its rows, its edition, and what its answers
// come to.
type Line struct {
	Business store.Business
	Order    store.Order
	Row      store.OrderLine
	Edition  *product.Edition
	Items    []store.WorkItem
	Facts    evaluate.Facts
	Result   evaluate.Result
	files    func(id string) (question.File, bool) // while new files are checked
}

// Open opens a line and evaluates its stored answers.
func Open(tx *store.Tx, editions *Editions, b store.Business, o store.Order, row store.OrderLine, now time.Time) (*Line, error) {
	e, err := editions.Get(tx, row.EditionID)
	if err != nil {
		return nil, err
	}
	l := &Line{Business: b, Order: o, Row: row, Edition: e}
	if l.Items, err = tx.Items(row.ID); err != nil {
		return nil, err
	}
	l.evaluate(now)
	return l, nil
}

// OpenByID opens a line by its id.
func OpenByID(tx *store.Tx, editions *Editions, id int64, now time.Time) (*Line, error) {
	row, err := tx.LineByID(id)
	if err != nil {
		return nil, err
	}
	o, err := tx.OrderByID(row.OrderID)
	if err != nil {
		return nil, err
	}
	b, err := tx.Business()
	if err != nil {
		return nil, err
	}
	return Open(tx, editions, b, o, row, now)
}

// Evaluate evaluates the line with other answers and keeps nothing.
func (l *Line) Evaluate(raw map[string]json.RawMessage, now time.Time) (evaluate.Result, []question.Fault) {
	answers, wrong := question.Decode(raw, l.Edition.Spec)
	facts := l.facts(now)
	facts.Files = l.files
	return evaluate.Evaluate(l.Edition, answers, facts), wrong
}

func (l *Line) evaluate(now time.Time) {
	l.Facts = l.facts(now)
	l.Result, _ = l.Evaluate(l.Row.Answers, now)
}

func (l *Line) facts(now time.Time) evaluate.Facts {
	existing := make([]workplan.Item, len(l.Items))
	for i := range l.Items {
		existing[i] = l.Items[i].Plan()
	}
	f := evaluate.Facts{
		Quantity: l.Row.Quantity, Now: now, Zone: l.Business.Location(), Language: words.Language(l.Order.Language),
		Later: LaterSet(l.Row.Later), Customer: l.Order.Name, Group: l.Order.Group, Ordered: Ordered(&l.Order),
		Work: &evaluate.Work{Language: words.Language(l.Business.Language), Hours: l.Business.Hours(), Paid: store.When(l.Order.PaidAt), Briefed: store.When(l.Row.BriefedAt), Existing: existing, Cancelled: l.Order.State == store.OrderCancelled},
	}
	if l.Order.Number != nil {
		f.Order = itoa(*l.Order.Number)
	}
	if f.Work.Briefed.IsZero() { // complete now, should nothing be missing
		f.Work.Briefed = now
	}
	return f
}

// LaterSet makes a list of keys a set.
func LaterSet(keys []question.Key) map[question.Key]bool {
	set := make(map[question.Key]bool, len(keys))
	for _, k := range keys {
		set[k] = true
	}
	return set
}

// Settle evaluates the line as it is now, applies what that changes in its
// work, and keeps line and work. Settling with nothing changed keeps the work
// items as they are.
func (l *Line) Settle(tx *store.Tx, now time.Time) error {
	l.evaluate(now)
	missing := l.Result.Brief(l.Edition)
	if len(missing) > 0 {
		l.Row.BriefedAt = nil
	} else if l.Row.BriefedAt == nil {
		l.Row.BriefedAt = store.Time(now)
	}
	l.Row.Missing, l.Row.Slip = missing, l.Result.Slip
	// Rework that is added makes the steps after it wait, which a second
	// planning finds; a plan cannot be deeper than its steps.
	for range len(l.Edition.Plan.Steps) + 1 {
		if l.Result.Diff.Empty() {
			break
		}
		if err := l.apply(tx, l.Result.Diff); err != nil {
			return err
		}
		l.evaluate(now)
	}
	l.Row.OpenItems = 0
	for _, i := range l.Items {
		if i.DoneAt == nil {
			l.Row.OpenItems++
		}
	}
	l.Row.Brief = l.brief()
	l.promise()
	return tx.SaveLine(&l.Row)
}

func (l *Line) apply(tx *store.Tx, d workplan.Diff) error {
	find := func(i workplan.Item) int {
		return slices.IndexFunc(l.Items, func(w store.WorkItem) bool { return w.Step == i.Step && w.Round == i.Round })
	}
	for _, i := range d.Drop {
		at := find(i)
		if err := tx.DropItem(l.Items[at].ID); err != nil {
			return err
		}
		l.Items = slices.Delete(l.Items, at, at+1)
	}
	for _, i := range d.Update {
		at := find(i)
		l.Items[at].Take(i)
		if err := tx.SaveItem(&l.Items[at]); err != nil {
			return err
		}
	}
	added := make([]store.WorkItem, len(d.Add))
	for n, i := range d.Add {
		added[n] = store.WorkItem{LineID: l.Row.ID, ProductID: l.Row.ProductID}
		added[n].Take(i)
	}
	if err := tx.AddItems(added); err != nil {
		return err
	}
	l.Items = append(l.Items, added...)
	return nil
}

// brief says what state the brief is in.
func (l *Line) brief() string {
	switch {
	case l.Row.ClosedAt != nil:
		return store.BriefClosed
	case len(l.Row.Missing) > 0:
		return store.BriefWaiting
	case slices.ContainsFunc(l.Items, func(w store.WorkItem) bool { return w.DoneAt == nil && (w.Round > 0 || len(w.Marks) > 0) }):
		return store.BriefChanged
	}
	return store.BriefComplete
}

// promise gives the day by which the order is handed over: when the last of
// its work is due. It is not known while a due time is not.
func (l *Line) promise() {
	if l.Order.State != store.OrderCancelled && l.Row.OpenItems == 0 && l.Row.PromisedAt != nil {
		return
	}
	if l.Order.State == store.OrderCancelled {
		l.Row.PromisedAt = nil
		return
	}
	var last time.Time
	for _, i := range l.Items {
		if i.DueAt == nil {
			l.Row.PromisedAt = nil
			return
		}
		if i.DueAt.After(last) {
			last = *i.DueAt
		}
	}
	l.Row.PromisedAt = store.Time(last)
}

// Promised gives the promised day; empty while it is not known.
func (l *Line) Promised() string { return DayString(store.When(l.Row.PromisedAt), l.Facts.Zone) }

// DayString writes the local day of an instant; empty for the zero time.
func DayString(t time.Time, zone *time.Location) string {
	if t.IsZero() {
		return ""
	}
	return calendar.DayOf(t.In(zone)).String()
}

// Booked gives the booking that the answers hold.
func (l *Line) Booked() (question.Booking, bool) {
	k, ok := l.Edition.BookingKey()
	if !ok {
		return question.Booking{}, false
	}
	b, ok := l.Result.Answers[k].(question.Booking)
	return b, ok
}

// Open gives the questions that a customer can still answer after payment:
// those of the briefing, those left until later, and what is required. An
// optional question that was passed over before payment is not asked again.
func (l *Line) Open() []question.Key {
	open := []question.Key{}
	for _, a := range l.Result.Asked {
		if !a.Item.Asked() || a.Answered || a.Item.Moment == question.Desk {
			continue
		}
		if a.Item.Moment == question.Briefing || a.Later || a.Item.Required {
			open = append(open, a.Item.Key)
		}
	}
	return open
}

// Counted gives how many of the questions that customers are asked are
// answered, and how many there are.
func (l *Line) Counted() (answered, total int) {
	for _, a := range l.Result.Asked {
		if a.Answered && a.Item.Moment != question.Desk {
			answered++
		}
	}
	return answered, answered + len(l.Open())
}

// Wording gives how a question is worded; the key for one that is gone.
func (l *Line) Wording(k question.Key) string {
	if item, ok := l.Edition.Item(k); ok {
		return item.Wording
	}
	return string(k)
}
