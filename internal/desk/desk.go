// Package desk holds the use cases of the seller's side.
package desk

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/banking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/limit"
	"ruvo/internal/payment"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
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
	present       attendance
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
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
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
		all, err := d.items(tx, b, items)
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
		view.Load, err = d.load(tx, b, today)
		return err
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

// loadDays is how many working days the load shows.
const loadDays = 10

// load sums the minutes due on each of the next working days; what is late
// counts for the first.
func (d *Desk) load(tx *store.Tx, b store.Business, today calendar.Day) ([]api.DayLoad, error) {
	hours := b.Hours()
	var days []api.DayLoad
	index := map[string]int{}
	for day := today; len(days) < loadDays && day.Since(today) < 60; day = day.Add(1) {
		if m := hours.Minutes(day); m > 0 {
			index[day.String()] = len(days)
			days = append(days, api.DayLoad{Day: day.String(), Hours: m})
		}
	}
	if len(days) == 0 {
		return []api.DayLoad{}, nil
	}
	loads, err := tx.OpenLoad(today.Add(60).At(0, hours.Zone))
	if err != nil {
		return nil, err
	}
	for _, l := range loads {
		day := calendar.DayOf(l.DueAt.In(hours.Zone)).String()
		at, ok := index[day]
		switch {
		case day < days[0].Day:
			at = 0
		case !ok: // due on a day without hours: it has to be done on the working day before
			for at = len(days) - 1; at > 0 && days[at].Day > day; {
				at--
			}
			if day > days[len(days)-1].Day {
				continue
			}
		}
		days[at].Planned += l.Minutes
	}
	return days, nil
}

func (d *Desk) bookings(tx *store.Tx, b store.Business, rows []store.Booking) ([]api.BookingRow, error) {
	views := []api.BookingRow{}
	zone := b.Location()
	with, err := tx.With(rows)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		line, err := tx.LineByID(r.LineID)
		if err != nil {
			return nil, err
		}
		o, err := tx.OrderByID(line.OrderID)
		if err != nil {
			return nil, err
		}
		e, err := d.Editions.Get(tx, line.EditionID)
		if err != nil {
			return nil, err
		}
		shown, err := d.onCalendar(tx, b, o, line, e)
		if err != nil {
			return nil, err
		}
		views = append(views, api.BookingRow{
			With: namesOf(with[r.ID]), Ends: apiview.Ends(e, question.Booking{Start: r.StartAt, End: r.EndAt}, zone),
			Answers: shown, Line: line.ID, Number: *o.Number, Customer: o.Name, Product: e.Title, People: r.People,
			Start: r.StartAt, Day: apiview.DayString(r.StartAt, zone), Time: apiview.Clock(r.StartAt, zone),
		})
	}
	return views, nil
}

// namesOf gives the names of what a booking takes.
func namesOf(with []store.BookingResource) []string {
	list := []string{}
	for _, w := range with {
		list = append(list, w.Name)
	}
	return list
}

// onCalendar gives the answers of a line that appear on the calendar.
func (d *Desk) onCalendar(tx *store.Tx, b store.Business, o store.Order, row store.OrderLine, e *product.Edition) (*[]api.DocketAnswer, error) {
	if !slices.ContainsFunc(e.Items, func(i product.Item) bool { return i.Asked() && i.Appears(question.Calendar) }) {
		return nil, nil
	}
	line, err := docket.Open(tx, d.Editions, b, o, row, d.Now())
	if err != nil {
		return nil, err
	}
	list := []api.DocketAnswer{}
	for _, a := range line.Result.Asked {
		if a.Answered && a.Item.Appears(question.Calendar) {
			list = append(list, answer(line, a.Item.Key, words.Language(b.Language)))
		}
	}
	return &list, nil
}

// calendarDays is how far ahead the calendar lists.
const calendarDays = 28

// Calendar lists the coming weeks' openings with their bookings.
func (d *Desk) Calendar(ctx context.Context) ([]api.CalendarDay, error) {
	days := []api.CalendarDay{}
	now := d.Now()
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		zone, hours := b.Location(), b.Hours()
		today := calendar.DayOf(now.In(zone))
		index := map[string]int{}
		for day := today; day.Since(today) < calendarDays; day = day.Add(1) {
			v := api.CalendarDay{Day: day.String(), Openings: []api.CalendarOpening{}}
			if reason, closed := hours.Closed(day); closed && reason != "" {
				v.Closed = &reason
			}
			index[v.Day] = len(days)
			days = append(days, v)
		}
		sold, err := tx.SoldBookings(now, today.Add(calendarDays).At(0, zone))
		if err != nil {
			return err
		}
		rows, err := d.bookings(tx, b, sold)
		if err != nil {
			return err
		}
		products, err := tx.Products()
		if err != nil {
			return err
		}
		listed := map[int64]bool{}
		for _, p := range products {
			if p.EditionID == nil {
				continue
			}
			e, err := d.Editions.Get(tx, *p.EditionID)
			if err != nil {
				return err
			}
			q, err := placing.Query(tx, p.ID, e, zone, now, 0)
			if err != nil {
				return err
			}
			if q == nil {
				continue
			}
			q.To = today.Add(min(calendarDays-1, e.Booking.Horizon))
			for _, o := range e.Booking.Openings(*q) {
				v := api.CalendarOpening{
					Product: e.Title, Time: apiview.Clock(o.Start, zone), Ends: apiview.Clock(o.End, zone),
					Places: e.Booking.Places, Left: max(o.Left, 0), Bookings: []api.BookingRow{},
				}
				for i, s := range sold {
					if s.ProductID == p.ID && s.StartAt.Equal(o.Start) {
						v.Bookings, listed[s.ID] = append(v.Bookings, rows[i]), true
					}
				}
				if at, ok := index[apiview.DayString(o.Start, zone)]; ok {
					days[at].Openings = append(days[at].Openings, v)
				}
			}
		}
		// A booking stands even when its opening is no longer offered: within
		// the notice, or since the rule changed.
		for i, s := range sold {
			if at, ok := index[rows[i].Day]; ok && !listed[s.ID] {
				addLone(&days[at], rows[i], apiview.Clock(s.EndAt, zone))
			}
		}
		for i := range days { // of all products, as the day goes
			slices.SortStableFunc(days[i].Openings, func(a, b api.CalendarOpening) int { return cmp.Compare(a.Time, b.Time) })
		}
		return nil
	})
	return days, err
}

// addLone puts a booking under an opening of its own, together with others of
// the same time.
func addLone(day *api.CalendarDay, row api.BookingRow, ends string) {
	for i := range day.Openings {
		if o := &day.Openings[i]; o.Product == row.Product && o.Time == row.Time && o.Places == 0 {
			o.Bookings = append(o.Bookings, row)
			return
		}
	}
	day.Openings = append(day.Openings, api.CalendarOpening{Product: row.Product, Time: row.Time, Ends: ends, Bookings: []api.BookingRow{row}})
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
