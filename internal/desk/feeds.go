package desk

import (
	"context"
	"errors"
	"slices"
	"strconv"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/ics"
	"ruvo/internal/link"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// What a feed shows and what bounds feeds.
const (
	feedBack  = 31 * 24 * time.Hour  // of what is over
	feedAhead = 400 * 24 * time.Hour // of what is to come
	mostFeeds = 100
	// mostEvents is how many work items a feed shows, the most urgent first.
	mostEvents = 2000
	closedFor  = 1100 // days ahead that a calendar closes times
)

// Feeds lists the private addresses of calendars, and the calendars that close
// times of resources.
func (d *Desk) Feeds(ctx context.Context) (api.FeedsView, error) {
	var view api.FeedsView
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		view, err = feeds(tx)
		return err
	})
	return view, err
}

func feeds(tx *store.Tx) (api.FeedsView, error) {
	view := api.FeedsView{Feeds: []api.FeedRow{}, Closed: []api.ClosedRow{}}
	b, err := tx.Business()
	if err != nil {
		return view, err
	}
	named := func(id booking.ResourceID) api.ResourceName {
		i := slices.IndexFunc(b.Resources, func(r booking.Resource) bool { return r.ID == id })
		if i < 0 {
			return api.ResourceName{Id: id, Name: "–"}
		}
		return api.ResourceName{Id: id, Name: b.Resources[i].Name}
	}
	all, err := tx.Feeds()
	if err != nil {
		return view, err
	}
	for _, f := range all {
		row := api.FeedRow{Id: f.ID, Shows: api.FeedRowShows(f.Shows), Made: f.CreatedAt, By: f.Author}
		if f.Shows == store.FeedResource {
			row.Resource = new(named(f.ResourceID))
		}
		view.Feeds = append(view.Feeds, row)
	}
	read, err := tx.BusySources()
	for _, s := range read {
		view.Closed = append(view.Closed, api.ClosedRow{Resource: named(s.ResourceID), Source: s.Source, Times: s.Times, Until: s.Until[:min(len(s.Until), 10)]})
	}
	return view, err
}

// AddFeed makes a private address of a calendar.
func (d *Desk) AddFeed(ctx context.Context, f api.NewFeed, l words.Language) (api.FeedMade, error) {
	var made api.FeedMade
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		row := store.Feed{Shows: string(f.Shows), Author: Author(ctx), CreatedAt: d.Now().UTC()}
		switch {
		case !slices.Contains([]string{store.FeedAll, store.FeedResource, store.FeedWork}, row.Shows):
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "shows", "choice", words.Params{"choices": "all, resource, work"})})
		case row.Shows == store.FeedResource:
			if f.Resource == nil || !slices.ContainsFunc(b.Resources, func(r booking.Resource) bool { return r.ID == *f.Resource }) {
				return problem.Invalid(l, []api.FieldError{problem.Field(l, "resource", "resource_unknown", nil)})
			}
			row.ResourceID = *f.Resource
		}
		there, err := tx.Feeds()
		if err != nil {
			return err
		}
		if len(there) >= mostFeeds {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "shows", "list_too_long", words.Params{"most": "100"})})
		}
		secret := link.Secret()
		row.Hash = link.Hash(secret)
		if err := tx.AddFeed(&row); err != nil {
			return err
		}
		made.Address = b.Address + "/api/feeds/" + secret + ".ics"
		if err := d.log(ctx, tx, feedMade, row.Shows); err != nil {
			return err
		}
		made.View, err = feeds(tx)
		return err
	})
	return made, err
}

// EndFeed ends a private address of a calendar.
func (d *Desk) EndFeed(ctx context.Context, id int64) (api.FeedsView, error) {
	var view api.FeedsView
	err := d.Store.Write(ctx, func(tx *store.Tx) (err error) {
		if err = tx.RevokeFeed(id, d.Now()); err != nil {
			return err
		}
		if err = d.log(ctx, tx, feedEnded, ""); err != nil {
			return err
		}
		view, err = feeds(tx)
		return err
	})
	return view, err
}

// Feed writes the calendar of a private address.
func (d *Desk) Feed(ctx context.Context, secret string, l words.Language) (string, error) {
	text := ""
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		f, err := tx.FeedByHash(link.Hash(strings.TrimSuffix(secret, ".ics")))
		if errors.Is(err, store.ErrNotFound) {
			return problem.NotFound(l, "not_found")
		}
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		now := d.Now()
		var events []ics.Event
		if f.Shows == store.FeedWork {
			events, err = d.workEvents(tx, b)
		} else {
			events, err = d.bookedEvents(tx, b, f, now)
		}
		text = ics.Write(ics.Feed, b.Name, events, now)
		return err
	})
	return text, err
}

func (d *Desk) bookedEvents(tx *store.Tx, b store.Business, f store.Feed, now time.Time) ([]ics.Event, error) {
	rows, err := tx.BookingsBetween(now.Add(-feedBack), now.Add(feedAhead))
	if err != nil {
		return nil, err
	}
	with, err := tx.With(rows)
	if err != nil {
		return nil, err
	}
	var events []ics.Event
	for _, r := range rows {
		if f.Shows == store.FeedResource && !slices.ContainsFunc(with[r.ID], func(w store.BookingResource) bool { return w.ResourceID == f.ResourceID }) {
			continue
		}
		line, err := docket.OpenByID(tx, d.Editions, r.LineID, now)
		if err != nil {
			return nil, err
		}
		for _, e := range line.Events(namesOf(with[r.ID]), false) {
			if !e.Start.Equal(r.StartAt) { // another meeting of its course
				continue
			}
			e.Summary = line.Order.Name + ": " + e.Summary
			e.Link = b.Address + "/desk/orders/" + strconv.FormatInt(r.LineID, 10)
			events = append(events, e)
		}
	}
	return events, nil
}

// workEvents are the open work items, each ending when it is due.
func (d *Desk) workEvents(tx *store.Tx, b store.Business) ([]ics.Event, error) {
	items, err := tx.OpenItems(store.ItemFilter{Most: mostEvents})
	if err != nil {
		return nil, err
	}
	var events []ics.Event
	for _, i := range items {
		if i.ByAt == nil {
			continue
		}
		length := time.Duration(max(i.Minutes, 5)) * time.Minute
		events = append(events, ics.Event{
			UID: "work-" + strconv.FormatInt(i.ID, 10) + strings.TrimPrefix(ics.UID(0, 0, b.Address), "booking-0"), Start: i.ByAt.Add(-length), End: *i.ByAt,
			Summary: i.Title, Details: i.Instructions, Link: b.Address + "/desk/orders/" + strconv.FormatInt(i.LineID, 10),
		})
	}
	return events, nil
}

// PutClosed reads a calendar as closed times of a resource, in place of what was
// read under the same name.
func (d *Desk) PutClosed(ctx context.Context, id booking.ResourceID, c api.ClosedTimes, l words.Language) (api.FeedsView, error) {
	var view api.FeedsView
	source := strings.TrimSpace(c.Source)
	if source == "" || len([]rune(source)) > 60 {
		return view, problem.Invalid(l, []api.FieldError{problem.Field(l, "source", "resource_name", nil)})
	}
	var zone *time.Location
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err == nil && !slices.ContainsFunc(b.Resources, func(r booking.Resource) bool { return r.ID == id }) {
			err = problem.NotFound(l, "not_found")
		}
		zone = b.Location()
		return err
	})
	if err != nil {
		return view, err
	}
	// Outside of a transaction: a large calendar takes long to read.
	times, err := readClosed(id, source, c.Text, zone, d.Now(), l)
	if err != nil {
		return view, err
	}
	err = d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(b.Resources, func(r booking.Resource) bool { return r.ID == id }) { // gone meanwhile
			return problem.NotFound(l, "not_found")
		}
		if err := tx.SetBusy(id, source, times); err != nil {
			return err
		}
		if err := d.log(ctx, tx, closedRead, source); err != nil {
			return err
		}
		view, err = feeds(tx)
		return err
	})
	return view, err
}

// readClosed reads the times that a calendar closes; none where there is no text.
func readClosed(id booking.ResourceID, source, text string, zone *time.Location, now time.Time, l words.Language) ([]store.BusyTime, error) {
	if text == "" {
		return nil, nil
	}
	busy, err := ics.Read(strings.NewReader(text), zone, now.AddDate(0, 0, -1), calendar.DayOf(now.In(zone)).Add(closedFor).At(0, zone))
	var told words.Told
	if errors.As(err, &told) {
		return nil, problem.Invalid(l, []api.FieldError{{Key: "text", Code: "ics", Message: told.Told().Say(l)}})
	}
	if err != nil {
		return nil, err
	}
	if len(busy) == 0 {
		return nil, problem.Invalid(l, []api.FieldError{problem.Field(l, "text", "ics_nothing", nil)})
	}
	times := make([]store.BusyTime, len(busy))
	for i, t := range busy {
		times[i] = store.BusyTime{ResourceID: id, Source: source, StartAt: t.Start.UTC(), EndAt: t.End.UTC(), Summary: t.Summary, ReadAt: now.UTC()}
	}
	return times, nil
}

// busyRows shows the times that a calendar kept elsewhere closes, by resource.
func busyRows(tx *store.Tx, b *store.Business, from, to time.Time) (map[booking.ResourceID][]api.BusyRow, error) {
	var ids []booking.ResourceID
	for _, r := range b.Resources {
		ids = append(ids, r.ID)
	}
	times, err := tx.Busy(ids, from, to)
	rows := map[booking.ResourceID][]api.BusyRow{}
	zone := b.Location()
	for _, t := range times {
		rows[t.ResourceID] = append(rows[t.ResourceID], api.BusyRow{
			Day: apiview.DayString(t.StartAt, zone), Time: apiview.Clock(t.StartAt, zone), Last: apiview.DayString(t.EndAt.Add(-time.Nanosecond), zone), Ends: apiview.Clock(t.EndAt, zone), Summary: t.Summary,
		})
	}
	return rows, err
}
