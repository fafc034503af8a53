package desk

import (
	"cmp"
	"context"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// What the calendar shows: without days given, four weeks; at most a good quarter.
const (
	calendarDays     = 28
	mostCalendarDays = 100
)

// bookings shows bookings with who comes and what they take.
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
		v := api.BookingRow{
			Answers: shown, Line: line.ID, Version: line.Version, Number: *o.Number, Customer: o.Name, Product: e.Title, ProductId: line.ProductID, People: r.People,
			Start: r.StartAt, Day: apiview.DayString(r.StartAt, zone), Time: apiview.Clock(r.StartAt, zone),
			Ends: apiview.Clock(r.EndAt, zone), Last: apiview.DayString(r.EndAt.Add(-time.Nanosecond), zone), Minutes: int(r.EndAt.Sub(r.StartAt) / time.Minute),
			With: []api.ResourceName{}, NoShow: r.NoShowAt,
		}
		if e.Booking != nil {
			v.Stay = e.Booking.Stays != nil
		}
		if r.Meetings > 0 {
			v.Meeting, v.Meetings = &r.Meeting, &r.Meetings
		}
		for _, w := range with[r.ID] {
			v.With = append(v.With, api.ResourceName{Id: w.ResourceID, Name: w.Name})
		}
		views = append(views, v)
	}
	return views, nil
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

// namesOf gives the names of what a booking takes.
func namesOf(with []store.BookingResource) []string {
	list := []string{}
	for _, w := range with {
		list = append(list, w.Name)
	}
	return list
}

// Calendar shows some days: what can be booked on them, what is booked, the work
// that is due, and who and what is away. Without days it is the coming four weeks.
func (d *Desk) Calendar(ctx context.Context, from, to *string, l words.Language) (api.CalendarView, error) {
	view := api.CalendarView{Days: []api.CalendarDay{}, Bookings: []api.BookingRow{}, Resources: []api.ResourceRow{}, Waits: []api.WaitRow{}, Kept: []api.KeptRow{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		zone := b.Location()
		today := calendar.DayOf(d.Now().In(zone))
		first, last, wrong := shownDays(from, to, today, l)
		if wrong != nil {
			return wrong
		}
		view.Today, view.Zone = today.String(), zone.String()
		rows, err := tx.BookingsBetween(first.At(0, zone), last.Add(1).At(0, zone))
		if err != nil {
			return err
		}
		if view.Bookings, err = d.bookings(tx, b, rows); err != nil {
			return err
		}
		if view.Days, err = d.calendarDays(tx, b, first, last); err != nil {
			return err
		}
		if view.Waits, err = d.waits(tx, &b, first.At(0, zone), last.Add(1).At(0, zone)); err != nil {
			return err
		}
		if view.Kept, err = keptRows(tx, &b, first.At(0, zone), last.Add(1).At(0, zone)); err != nil {
			return err
		}
		busy, err := busyRows(tx, &b, first.At(0, zone), last.Add(1).At(0, zone))
		if err != nil {
			return err
		}
		for _, r := range b.Resources {
			row := api.ResourceRow{Busy: append([]api.BusyRow{}, busy[r.ID]...), Id: r.ID, Name: r.Name, Number: max(r.Number, 1), Person: r.Person, Away: []calendar.Closure{}}
			for _, c := range r.Closures {
				switch {
				case c.To.Before(first) || c.From.After(last):
				case c.Time == nil:
					row.Away = append(row.Away, c)
				default:
					row.Busy = append(row.Busy, closedHours(c, first, last, zone)...)
				}
			}
			view.Resources = append(view.Resources, row)
		}
		return nil
	})
	return view, err
}

// closedHours shows the hours that a closure closes on each of some days.
func closedHours(c calendar.Closure, first, last calendar.Day, zone *time.Location) []api.BusyRow {
	var rows []api.BusyRow
	for d := first; !d.After(last); d = d.Add(1) {
		if c.Has(d) {
			rows = append(rows, api.BusyRow{Day: d.String(), Time: apiview.Clock(d.At(c.Time.From, zone), zone), Last: d.String(), Ends: apiview.Clock(d.At(c.Time.To, zone), zone), Summary: c.Reason})
		}
	}
	return rows
}

func shownDays(from, to *string, today calendar.Day, l words.Language) (first, last calendar.Day, wrong error) {
	first, last = today, today.Add(calendarDays-1)
	var fields []api.FieldError
	read := func(key string, text *string, day *calendar.Day) {
		if text == nil {
			return
		}
		x, err := calendar.ParseDay(*text)
		if err != nil {
			fields = append(fields, problem.Field(l, key, "day", nil))
		}
		*day = x
	}
	read("from", from, &first)
	if to == nil {
		last = first.Add(calendarDays - 1)
	}
	read("to", to, &last)
	switch {
	case len(fields) > 0:
	case last.Before(first):
		fields = append(fields, problem.Field(l, "to", "closure_order", nil))
	case last.Since(first) >= mostCalendarDays:
		last = first.Add(mostCalendarDays - 1)
	}
	if len(fields) > 0 {
		return first, last, problem.Invalid(l, fields)
	}
	return first, last, nil
}

// calendarDays shows what can be booked on days, what is closed, and what is due.
func (d *Desk) calendarDays(tx *store.Tx, b store.Business, first, last calendar.Day) ([]api.CalendarDay, error) {
	days := []api.CalendarDay{}
	zone, hours, index := b.Location(), b.Hours(), map[string]int{}
	for day := first; !day.After(last); day = day.Add(1) {
		v := api.CalendarDay{Day: day.String(), Openings: []api.CalendarOpening{}, Stays: []api.CalendarStay{}}
		if reason, closed := hours.Closed(day); closed && reason != "" {
			v.Closed = &reason
		}
		index[v.Day] = len(days)
		days = append(days, v)
	}
	due, err := tx.OpenLoad(last.Add(1).At(0, zone))
	if err != nil {
		return nil, err
	}
	for _, w := range due {
		if at, shown := index[apiview.DayString(w.ByAt, zone)]; shown {
			days[at].Work++
		}
	}
	err = d.eachBookable(tx, b, func(p store.Product, e *product.Edition, q *booking.Query) error {
		if q.From.Before(first) {
			q.From = first
		}
		if q.To.After(last) {
			q.To = last
		}
		for _, o := range append(e.Booking.Openings(*q), e.Booking.Meetings(*q)...) {
			at := index[apiview.DayString(o.Start, zone)]
			days[at].Openings = append(days[at].Openings, api.CalendarOpening{
				Product: e.Title, ProductId: p.ID, Start: o.Start.UTC(), End: o.End.UTC(), Time: apiview.Clock(o.Start, zone), Ends: apiview.Clock(o.End, zone), Minutes: int(o.End.Sub(o.Start) / time.Minute),
				Places: e.Booking.Places, Left: max(o.Left, 0), Private: e.Booking.Alone(),
			})
		}
		for _, s := range e.Booking.Arrivals(*q) {
			at := index[s.Day.String()]
			days[at].Stays = append(days[at].Stays, api.CalendarStay{Product: e.Title, ProductId: p.ID, Free: s.Free, Begins: s.Why == nil})
		}
		return nil
	})
	for i := range days { // of all products, as the day goes
		slices.SortStableFunc(days[i].Openings, func(a, b api.CalendarOpening) int { return cmp.Compare(a.Time, b.Time) })
	}
	return days, err
}

// waits lists those who wait for what begins in a stretch of time.
func (d *Desk) waits(tx *store.Tx, b *store.Business, from, to time.Time) ([]api.WaitRow, error) {
	list := []api.WaitRow{}
	rows, err := tx.WaitsBetween(from, to)
	if err != nil {
		return nil, err
	}
	for _, w := range rows {
		p, err := tx.ProductByID(w.ProductID)
		if err != nil {
			return nil, err
		}
		list = append(list, api.WaitRow{
			Product: p.Draft.Title, ProductId: p.ID, Meetings: len(w.Meetings), Day: apiview.DayString(w.StartAt, b.Location()), Time: apiview.Clock(w.StartAt, b.Location()),
			People: w.People, Name: w.Name, Since: w.CreatedAt, Until: w.OfferedUntil,
		})
	}
	return list, nil
}

// noShow marks that nobody came to what a line booked, or takes it back.
func noShow(tx *store.Tx, line *docket.Line, meeting int, came bool, l words.Language, now time.Time) error {
	rows, err := tx.BookingsOf(line.Row.ID)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(rows, func(b store.Booking) bool { return b.Meeting == meeting })
	if i < 0 {
		return problem.NotFound(l, "no_booking")
	}
	b := rows[i]
	if b.NoShowAt = store.Time(now); came {
		b.NoShowAt = nil
	}
	if b.StartAt.After(now) && !came {
		return problem.Say(409, l, "not_begun", nil)
	}
	return tx.SaveBooking(&b)
}
