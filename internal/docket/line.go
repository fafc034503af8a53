package docket

import (
	"encoding/json"
	"slices"
	"strconv"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/voucher"
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
	Vouchers []store.Voucher // that it sold
	With     []string        // names of the people, rooms and things that its booking takes
	People   []int64         // whom its booking takes
	Given    evaluate.Given
	Result   evaluate.Result
}

// Open opens a line and evaluates its stored answers.
func Open(tx *store.Tx, editions *Editions, b store.Business, o store.Order, row store.OrderLine, now time.Time) (*Line, error) {
	items, err := tx.Items(row.ID)
	if err != nil {
		return nil, err
	}
	return open(tx, editions, b, o, row, items, now)
}

// OpenFresh opens a line that has no work yet.
func OpenFresh(tx *store.Tx, editions *Editions, b store.Business, o store.Order, row store.OrderLine, now time.Time) (*Line, error) {
	return open(tx, editions, b, o, row, nil, now)
}

func open(tx *store.Tx, editions *Editions, b store.Business, o store.Order, row store.OrderLine, items []store.WorkItem, now time.Time) (*Line, error) {
	e, err := editions.Of(tx, row.EditionID, o.Currency)
	if err != nil {
		return nil, err
	}
	l := &Line{Business: b, Order: o, Row: row, Edition: e, Items: items}
	if e.Pricing.Voucher != nil {
		if l.Vouchers, err = tx.VouchersOf(row.ID); err != nil {
			return nil, err
		}
	}
	if err := l.readWith(tx); err != nil {
		return nil, err
	}
	l.evaluate(now)
	return l, nil
}

// readWith reads what the line's booking takes.
func (l *Line) readWith(tx *store.Tx) error {
	l.With, l.People = nil, nil
	if l.Edition.Booking == nil || len(l.Edition.Booking.Needs) == 0 {
		return nil
	}
	rows, err := tx.BookingsOf(l.Row.ID)
	if err != nil {
		return err
	}
	taken, err := tx.With(rows)
	for _, b := range rows { // the meetings of a course mostly have the same
		for _, w := range taken[b.ID] {
			if !slices.Contains(l.With, w.Name) {
				l.With = append(l.With, w.Name)
			}
			if l.Business.Person(w.ResourceID) && !slices.Contains(l.People, w.ResourceID) {
				l.People = append(l.People, w.ResourceID)
			}
		}
	}
	return err
}

// Rebooked plans a line anew whose booking takes other people, rooms or things.
func (l *Line) Rebooked(tx *store.Tx, now time.Time) error {
	before := l.With
	if err := l.readWith(tx); err != nil || slices.Equal(before, l.With) {
		return err
	}
	return l.Keep(tx, now)
}

// Lines opens the lines of an order.
func Lines(tx *store.Tx, editions *Editions, o *store.Order, now time.Time) ([]*Line, error) {
	b, err := tx.Business()
	if err != nil {
		return nil, err
	}
	rows, err := tx.Lines(o.ID)
	lines := make([]*Line, len(rows))
	for i, row := range rows {
		if lines[i], err = Open(tx, editions, b, *o, row, now); err != nil {
			return nil, err
		}
	}
	return lines, err
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
func (l *Line) Evaluate(raw map[string]json.RawMessage, checks evaluate.Checks, now time.Time) (evaluate.Result, []question.Fault) {
	answers, wrong := question.Decode(raw, l.Edition.Spec)
	facts := l.given(now)
	facts.Checks = checks
	return evaluate.Evaluate(l.Edition, answers, facts), wrong
}

// Env is what checks and words of an answer depend on besides it.
func (l *Line) Env(language words.Language) question.Env {
	return question.Env{
		Today: calendar.DayOf(l.Given.Now.In(l.Given.Zone)), Zone: l.Given.Zone, Currency: l.Edition.Currency, Language: language, Answers: l.Result.Answers, Units: l.Row.Quantity,
	}
}

// A Finder finds what is known of an uploaded file.
type Finder = func(id string) (question.File, bool)

// Files finds the uploads that an order may use.
func Files(tx *store.Tx, order int64) Finder {
	return func(id string) (question.File, bool) {
		u, err := tx.UploadFor(id, order)
		return u.Facts(), err == nil
	}
}

func (l *Line) evaluate(now time.Time) {
	l.Given = l.given(now)
	l.Result, _ = l.Evaluate(l.Row.Answers, evaluate.Held, now)
}

// About gives what conditions read of a whole order.
func About(o *store.Order) condition.Whole {
	w := o.Basket
	w.Gift, w.Business, w.Language = o.Recipient != nil, o.Buyer.Business, o.Language
	return w
}

func (l *Line) given(now time.Time) evaluate.Given {
	f := evaluate.Given{
		Quantity: l.Row.Quantity, Now: now, Zone: l.Business.Location(), Language: words.Language(l.Order.Language),
		Shown: l.Row.Shown, Later: LaterSet(l.Row.Later), Customer: l.Order.Name, Group: l.Order.Group, Whole: About(&l.Order), Ordered: Ordered(&l.Order), Left: l.Row.Slip.Left, With: l.With,
		Work: &evaluate.Work{Language: words.Language(l.Business.Language), Hours: l.Business.Hours(), Paid: store.When(l.Order.PlacedAt), Briefed: store.When(l.Row.BriefedAt), Existing: l.planned(), Entries: l.Row.Entries, People: l.People, Cancelled: l.State() == order.Cancelled},
	}
	for i, v := range l.Vouchers {
		if i > 0 {
			f.VoucherCodes += ", "
		}
		f.VoucherCodes += voucher.Spaced(v.Code)
	}
	if l.Order.Number != nil {
		f.Order = strconv.FormatInt(*l.Order.Number, 10)
	}
	if f.Work.Briefed.IsZero() { // complete now, should nothing be missing
		f.Work.Briefed = now
	}
	return f
}

// State gives how far the line is: as the order, unless the line was cancelled
// by itself.
func (l *Line) State() order.State {
	if l.Row.CancelledAt != nil {
		return order.Cancelled
	}
	return l.Order.State
}

// Plans gives the line's work items as the work plan knows them.
func (l *Line) Plans() []workplan.Item {
	items := make([]workplan.Item, len(l.Items))
	for i := range l.Items {
		items[i] = l.Items[i].Plan()
	}
	return items
}

// planned gives the items that the edition's steps made: those by hand are nobody's
// to plan.
func (l *Line) planned() []workplan.Item {
	return slices.DeleteFunc(l.Plans(), func(i workplan.Item) bool { return i.Step == "" })
}

// LaterSet makes a list of keys a set.
func LaterSet(keys []question.Key) map[question.Key]bool {
	set := make(map[question.Key]bool, len(keys))
	for _, k := range keys {
		set[k] = true
	}
	return set
}

// Keep evaluates the line as it is now, applies what that changes in its work,
// and keeps line and work. With nothing changed the work items stay as they are.
func (l *Line) Keep(tx *store.Tx, now time.Time) error {
	l.evaluate(now)
	return l.KeepNew(tx, now)
}

// KeepNew keeps a line, as Keep does, that was opened a moment ago and not changed.
func (l *Line) KeepNew(tx *store.Tx, now time.Time) error {
	missing := l.Result.Brief(l.Edition)
	if len(missing) > 0 {
		l.Row.BriefedAt = nil
	} else if l.Row.BriefedAt == nil {
		l.Row.BriefedAt = store.Time(now)
	}
	l.Row.Missing, l.Row.Slip = missing, l.Result.Slip
	kept := &keeping{changed: map[itemKey]bool{}}
	replanned := len(l.Items) > 0 // not when its work is planned for the first time
	var said []workplan.Saying
	// Rework that is added makes the steps after it wait, which a second
	// planning finds; a plan cannot be deeper than its steps.
	for range len(l.Edition.Plan.Steps) + 1 {
		if l.Result.Entries != nil {
			l.Row.Entries = l.Result.Entries
		}
		if l.Result.Diff.Empty() {
			break
		}
		said = append(said, l.Result.Diff.Said(l.planned())...)
		l.apply(l.Result.Diff, kept)
		l.evaluate(now)
	}
	if l.State() == order.Cancelled {
		l.dropByHand(kept, now)
	}
	if err := l.promise(tx, now); err != nil {
		return err
	}
	if len(said) > 0 && replanned {
		if err := tx.AddReplan(store.Replan{LineID: l.Row.ID, At: now.UTC(), Said: said}); err != nil {
			return err
		}
	}
	if err := l.keepItems(tx, kept); err != nil {
		return err
	}
	l.Row.OpenItems = 0
	for _, i := range l.Items {
		if i.DoneAt == nil {
			l.Row.OpenItems++
		}
	}
	l.closes()
	l.Row.Brief = l.Brief()
	l.hand()
	if l.Row.Placed {
		if err := l.keepAnswers(tx); err != nil {
			return err
		}
	}
	return tx.SaveLine(&l.Row)
}

// An itemKey names a work item of one order line.
type itemKey struct {
	step  workplan.StepKey
	part  string
	round int
}

// keeping is what planning changed and is not kept yet.
type keeping struct {
	changed map[itemKey]bool
	dropped []store.WorkItem
}

func keyOf(w *store.WorkItem) itemKey { return itemKey{w.Step, w.Part, w.Round} }

// apply brings the line's items to what planning says.
func (l *Line) apply(d workplan.Diff, kept *keeping) {
	find := func(i workplan.Item) int {
		return slices.IndexFunc(l.Items, func(w store.WorkItem) bool { return keyOf(&w) == itemKey{i.Step, i.Part, i.Round} })
	}
	for _, i := range d.Drop {
		at := find(i)
		if l.Items[at].ID != 0 {
			kept.dropped = append(kept.dropped, l.Items[at])
		}
		l.Items = slices.Delete(l.Items, at, at+1)
	}
	for _, i := range d.Update {
		at := find(i)
		l.Items[at].Take(i)
		kept.changed[keyOf(&l.Items[at])] = true
	}
	for _, i := range d.Add {
		w := store.WorkItem{LineID: l.Row.ID, ProductID: l.Row.ProductID}
		w.Take(i)
		if i.Round > 0 { // who did it does it again
			i.Round--
			if before := find(i); before >= 0 {
				w.AssignedTo, w.Priority = l.Items[before].AssignedTo, l.Items[before].Priority
			}
		}
		l.Items = append(l.Items, w)
	}
}

// dropByHand takes away what was added by hand to a line that is cancelled; what
// somebody began is set aside.
func (l *Line) dropByHand(kept *keeping, now time.Time) {
	l.Items = slices.DeleteFunc(l.Items, func(w store.WorkItem) bool {
		gone := w.Step == "" && w.StartedAt == nil && w.DoneAt == nil
		if gone {
			kept.dropped = append(kept.dropped, w)
		}
		return gone
	})
	for i := range l.Items {
		if w := &l.Items[i]; w.Step == "" && w.DoneAt == nil {
			w.Take(w.Plan().Aside(now))
			kept.changed[keyOf(w)] = true
		}
	}
}

// keepItems keeps what planning changed, each item with the time by which it is to
// be done so that the promise holds.
func (l *Line) keepItems(tx *store.Tx, kept *keeping) error {
	for i := range kept.dropped {
		if err := tx.DropItem(&kept.dropped[i]); err != nil {
			return err
		}
	}
	var added []store.WorkItem
	for i := range l.Items {
		w := &l.Items[i]
		before := w.ByAt
		if w.DoneAt == nil {
			w.By(l.Row.PromisedAt)
		}
		switch {
		case w.ID == 0:
			added = append(added, *w)
		case kept.changed[keyOf(w)] || !store.When(before).Equal(store.When(w.ByAt)):
			if err := tx.SaveItem(w); err != nil {
				return err
			}
		}
	}
	if err := tx.AddItems(added); err != nil {
		return err
	}
	if len(added) > 0 {
		l.Items = append(slices.DeleteFunc(l.Items, func(w store.WorkItem) bool { return w.ID == 0 }), added...)
	}
	return nil
}

// Brief gives the state of the line's brief.
func (l *Line) Brief() order.Brief {
	return order.BriefOf(l.Row.ClosedAt != nil, l.Row.Missing, l.Plans())
}

// Promised gives the promised day; empty while it is not known.
func (l *Line) Promised() string {
	if l.Row.PromisedAt == nil {
		return ""
	}
	return calendar.DayOf(l.Row.PromisedAt.In(l.Given.Zone)).String()
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

// Wording gives how a question is worded; the key for one that is gone.
func (l *Line) Wording(k question.Key) string {
	if item, ok := l.Edition.Item(k); ok {
		return item.Wording
	}
	return string(k)
}
