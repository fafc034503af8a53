package desk

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// longestKept bounds the days of a kept time, mostReason the letters of its reason.
const (
	longestKept = 400
	mostReason  = 200
)

// KeepTime keeps a time by hand: nobody can book it from then on. What is booked in it
// stays, and is told.
func (d *Desk) KeepTime(ctx context.Context, n api.NewKept, l words.Language) (api.KeptMade, error) {
	view := api.KeptMade{Bookings: []api.BookingRow{}}
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		k, wrong, err := readKept(tx, &b, n, l)
		if err != nil {
			return err
		}
		if len(wrong) > 0 {
			return problem.Invalid(l, wrong)
		}
		k.Author, k.CreatedAt = Author(ctx), d.Now().UTC()
		if err := tx.SaveKept(&k); err != nil {
			return err
		}
		if view.Kept, err = keptRow(tx, &b, k); err != nil {
			return err
		}
		rows, err := tx.BookingsBetween(k.StartAt, k.EndAt)
		if err != nil {
			return err
		}
		with, err := tx.With(rows)
		if err != nil {
			return err
		}
		rows = slices.DeleteFunc(rows, func(r store.Booking) bool {
			takes := slices.ContainsFunc(with[r.ID], func(w store.BookingResource) bool { return w.ResourceID == k.ResourceID })
			return r.ProductID != k.ProductID && !takes
		})
		view.Bookings, err = d.bookings(tx, b, rows)
		return err
	})
	return view, err
}

// LetTimeGo lets a kept time go.
func (d *Desk) LetTimeGo(ctx context.Context, id int64, l words.Language) error {
	return d.Store.Write(ctx, func(tx *store.Tx) error {
		err := tx.DropKept(id)
		if errors.Is(err, store.ErrNotFound) {
			return problem.NotFound(l, "not_found")
		}
		return err
	})
}

func readKept(tx *store.Tx, b *store.Business, n api.NewKept, l words.Language) (store.KeptTime, []api.FieldError, error) {
	var wrong []api.FieldError
	add := func(key, code string) { wrong = append(wrong, problem.Field(l, key, code, nil)) }
	at := func(dayKey, day, key, clock string) time.Time {
		on, err := calendar.ParseDay(day)
		if err != nil {
			add(dayKey, "day")
		}
		t, err := time.Parse("15:04", strings.Replace(clock, "24:00", "00:00", 1))
		if err != nil {
			add(key, "time")
		}
		if clock == "24:00" {
			on = on.Add(1)
		}
		return on.At(t.Hour()*60+t.Minute(), b.Location())
	}
	k := store.KeptTime{
		ProductID: deref(n.Product), ResourceID: deref(n.Resource), People: deref(n.People), Reason: strings.TrimSpace(deref(n.Reason)),
		StartAt: at("day", n.Day, "time", n.Time).UTC(), EndAt: at("last", n.Last, "ends", n.Ends).UTC(),
	}
	switch {
	case (k.ProductID == 0) == (k.ResourceID == 0):
		add("product", "kept_of_what")
	case k.ResourceID != 0 && !slices.ContainsFunc(b.Resources, func(r booking.Resource) bool { return r.ID == k.ResourceID }):
		add("resource", "resource_unknown")
	case k.ProductID != 0:
		if _, err := tx.ProductByID(k.ProductID); errors.Is(err, store.ErrNotFound) {
			add("product", "not_sold")
		} else if err != nil {
			return k, nil, err
		}
	}
	if len(wrong) == 0 && (!k.EndAt.After(k.StartAt) || k.EndAt.Sub(k.StartAt) > longestKept*24*time.Hour) {
		add("ends", "booking_order")
	}
	if k.People < 0 || k.People > 10000 || k.People > 0 && k.ResourceID != 0 {
		add("people", "kept_people")
	}
	if len([]rune(k.Reason)) > mostReason {
		add("reason", "too_long")
	}
	return k, wrong, nil
}

// keptRows shows what is kept in a stretch of time.
func keptRows(tx *store.Tx, b *store.Business, from, to time.Time) ([]api.KeptRow, error) {
	rows, err := tx.KeptBetween(from, to)
	list := []api.KeptRow{}
	for _, k := range rows {
		v, err := keptRow(tx, b, k)
		if err != nil {
			return nil, err
		}
		list = append(list, v)
	}
	return list, err
}

func keptRow(tx *store.Tx, b *store.Business, k store.KeptTime) (api.KeptRow, error) {
	zone := b.Location()
	v := api.KeptRow{
		Id: k.ID, People: k.People, Reason: k.Reason, Author: k.Author, Start: k.StartAt, Minutes: int(k.EndAt.Sub(k.StartAt) / time.Minute),
		Day: apiview.DayString(k.StartAt, zone), Time: apiview.Clock(k.StartAt, zone), Last: apiview.DayString(k.EndAt.Add(-time.Nanosecond), zone), Ends: apiview.Clock(k.EndAt, zone),
	}
	if k.ResourceID != 0 {
		v.ResourceId = &k.ResourceID
		for _, r := range b.Resources {
			if r.ID == k.ResourceID {
				v.Name = r.Name
			}
		}
		return v, nil
	}
	v.ProductId = &k.ProductID
	p, err := tx.ProductByID(k.ProductID)
	v.Name = p.Draft.Title
	return v, err
}
