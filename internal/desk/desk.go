// Package desk holds the use cases of the seller's side.
package desk

import (
	"context"
	"errors"
	"time"

	"ruvo/api"
	"ruvo/internal/banking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/limit"
	"ruvo/internal/payment"
	"ruvo/internal/problem"
	"ruvo/internal/queue"
	"ruvo/internal/store"
	"ruvo/internal/upload"
)

// A Desk runs the seller's use cases.
type Desk struct {
	Store    *store.Store
	Editions *docket.Editions
	Attempts *payment.Attempts
	Clerk    *banking.Clerk
	Now      func() time.Time
	Uploads  upload.Folder
	Shown    Pictures
	Guard    Guard
	// Idle is how long somebody may leave the desk alone before they have to sign
	// in again; an hour when it is zero.
	Idle time.Duration
	// Delivered shows what stand-ins were given to deliver; nil when mail goes out.
	Delivered Delivered
	// Simulated is the path of the page on which the payment service's stand-in is
	// told how to behave; empty for a real service.
	Simulated string
	// SimulatedBank is the path of the page of the bank's stand-in; empty for none.
	SimulatedBank string
	// Stage is where products are rehearsed; nil in a rehearsal.
	Stage   Stage
	present attendance
}

// Delivered gives the text of a message as a stand-in got it, with its private
// links, which Ruvo itself does not keep.
type Delivered func(key string) (body string, ok bool)

// A Guard counts what strangers try at the desk. The zero Guard counts nothing.
type Guard struct {
	tries     *limit.Pauses  // sign-ins of a sender with a mail address
	senders   *limit.Pauses  // sign-ins of a sender
	strangers *limit.Buckets // what the log keeps of a sender who is not signed in
}

// NewGuard makes a guard that counts.
func NewGuard(now func() time.Time) Guard {
	return Guard{
		tries: limit.NewPauses(freeTries, longestPause), senders: limit.NewPauses(freeSenderTries, longestPause),
		strangers: limit.New(limit.Rate{Burst: 60, Each: time.Minute}, now),
	}
}

// open opens a line of what was ordered for the desk.
func (d *Desk) open(tx *store.Tx, line int64, l words.Language) (*docket.Line, error) {
	opened, err := docket.OpenByID(tx, d.Editions, line, d.Now())
	if errors.Is(err, store.ErrNotFound) || err == nil && !opened.Order.State.IsOrdered() {
		return nil, problem.NotFound(l, "no_line")
	}
	return opened, err
}

// coming is how far Today looks ahead for bookings.
const coming = 14 * 24 * time.Hour

// Today gathers what waits on the seller, what waits on customers and what
// comes up.
func (d *Desk) Today(ctx context.Context, l words.Language) (api.Today, error) {
	view := api.Today{Work: []api.WorkItem{}, Customers: []api.WaitingCustomer{}, Load: []api.DayLoad{}}
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
		zone := b.Location()
		today := calendar.DayOf(now.In(zone))
		items, err := tx.OpenItems(store.ItemFilter{Until: today.Add(2).At(0, zone), Most: 200})
		if err != nil {
			return err
		}
		all, err := d.items(tx, b, q, items)
		if err != nil {
			return err
		}
		for _, i := range all {
			if i.State != api.WorkItemStateWaiting {
				view.Work = append(view.Work, i)
			}
		}
		waiting, err := tx.ListLines(store.LineFilter{Brief: order.Waiting, Most: 100})
		if err != nil {
			return err
		}
		for i := len(waiting) - 1; i >= 0; i-- { // the longest wait first
			w, err := d.waiting(tx, waiting[i])
			if err != nil {
				return err
			}
			view.Customers = append(view.Customers, w)
		}
		if view.Customers, err = d.shownTo(tx, view.Customers); err != nil {
			return err
		}
		if err := d.written(tx, &view); err != nil {
			return err
		}
		sold, err := tx.SoldBookings(now.Add(-time.Hour), now.Add(coming))
		if err != nil {
			return err
		}
		if view.Coming, err = d.bookings(tx, b, sold); err != nil {
			return err
		}
		n, err := tx.CountAwaitingAll()
		if err != nil {
			return err
		}
		view.Awaiting = int(n)
		if view.Undecided, err = tx.CountOpenTransfers(); err != nil {
			return err
		}
		if view.Overdue, err = d.overdue(tx, b, l); err != nil {
			return err
		}
		view.Load = load(q, today)
		return nil
	})
	return view, err
}

func (d *Desk) waiting(tx *store.Tx, row store.ListedLine) (api.WaitingCustomer, error) {
	e, err := d.Editions.Get(tx, row.EditionID)
	if err != nil {
		return api.WaitingCustomer{}, err
	}
	w := api.WaitingCustomer{
		Line: row.ID, Number: row.Number, Customer: row.Name, Product: e.Title, Since: row.Since(), Reminded: row.RemindedAt, Missing: []string{},
	}
	for _, k := range row.Missing {
		if item, ok := e.Item(k); ok {
			w.Missing = append(w.Missing, item.Wording)
		}
	}
	return w, nil
}

// shownTo adds those who were shown something and have not said what they think of it.
func (d *Desk) shownTo(tx *store.Tx, list []api.WaitingCustomer) ([]api.WaitingCustomer, error) {
	asked, err := tx.AskedHandovers(100)
	if err != nil {
		return nil, err
	}
	yes := true
	for _, h := range asked {
		row, err := tx.LineByID(h.LineID)
		if err != nil {
			return nil, err
		}
		o, err := tx.OrderByID(row.OrderID)
		if err != nil {
			return nil, err
		}
		e, err := d.Editions.Get(tx, row.EditionID)
		if err != nil {
			return nil, err
		}
		list = append(list, api.WaitingCustomer{Line: row.ID, Number: *o.Number, Customer: o.Name, Product: e.Title, Since: h.MadeAt, Missing: []string{}, Shown: &yes})
	}
	return list, nil
}

// loadDays is how many working days the load shows.
const loadDays = 10

// load gives the work that is placed on each of the next working days.
func load(q *queue.Queue, today calendar.Day) []api.DayLoad {
	days := []api.DayLoad{}
	loads := loadOf(q, today, 0)
	for day := today; len(days) < loadDays && day.Since(today) < loadAhead; day = day.Add(1) {
		if l := loads[day.String()]; l.hours > 0 || l.planned > 0 {
			days = append(days, api.DayLoad{Day: day.String(), Hours: l.hours, Planned: l.planned})
		}
	}
	return days
}

// Outbox shows the newest messages.
func (d *Desk) Outbox(ctx context.Context) ([]api.Message, error) {
	views := []api.Message{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		rows, err := tx.LatestMessages(200)
		for _, m := range rows {
			body := m.Body
			if d.Delivered != nil && m.SentAt != nil {
				if whole, ok := d.Delivered(m.Key); ok {
					body = whole
				}
			}
			views = append(views, api.Message{Id: m.ID, Way: api.MessageWay(m.Way), To: m.Recipient, Subject: m.Subject, Body: body, Written: m.CreatedAt, Sent: m.SentAt})
		}
		return err
	})
	return views, err
}
