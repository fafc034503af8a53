package desk

import (
	"context"
	"net/url"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// An OrderQuery narrows the orders, with days as they are written.
type OrderQuery struct {
	store.LineFilter
	FromDay, ToDay string // 2026-11-27
	Customer       string // a mail address
}

// filter reads what narrows the orders.
func (q OrderQuery) filter(tx *store.Tx, l words.Language) (f store.LineFilter, err error) {
	f = q.LineFilter
	b, err := tx.Business()
	if err != nil {
		return f, err
	}
	for _, day := range []struct {
		key, text string
		more      int
		to        *time.Time
	}{{"from", q.FromDay, 0, &f.From}, {"to", q.ToDay, 1, &f.To}} {
		if day.text == "" {
			continue
		}
		d, err := calendar.ParseDay(day.text)
		if err != nil {
			return f, problem.Invalid(l, []api.FieldError{problem.Field(l, day.key, "earned_day", nil)})
		}
		*day.to = d.Add(day.more).At(0, b.Location())
	}
	if q.Customer != "" {
		f.Mails, err = tx.MailsOf(q.Customer)
	}
	return f, err
}

// mostFilters bounds the filters that have a name.
const mostFilters = 100

// SavedFilters lists the filters of the orders that have a name.
func (d *Desk) SavedFilters(ctx context.Context) ([]api.SavedFilter, error) {
	list := []api.SavedFilter{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		rows, err := tx.SavedFilters()
		for _, f := range rows {
			list = append(list, api.SavedFilter{Id: f.ID, Name: f.Name, Query: f.Query})
		}
		return err
	})
	return list, err
}

// SaveFilter gives a filter of the orders a name; one that has the name is replaced.
func (d *Desk) SaveFilter(ctx context.Context, f api.SavedFilterKeep, l words.Language) ([]api.SavedFilter, error) {
	name := strings.TrimSpace(f.Name)
	var wrong []api.FieldError
	if n := len([]rune(name)); n == 0 || n > 60 {
		wrong = append(wrong, problem.Field(l, "name", "filter_name", nil))
	}
	if _, err := url.ParseQuery(f.Query); err != nil || f.Query == "" || len(f.Query) > 2000 {
		wrong = append(wrong, problem.Field(l, "query", "filter_empty", nil))
	}
	if len(wrong) > 0 {
		return nil, problem.Invalid(l, wrong)
	}
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		rows, err := tx.SavedFilters()
		if err == nil && len(rows) >= mostFilters {
			err = problem.Invalid(l, []api.FieldError{problem.Field(l, "name", "list_too_long", words.Params{"most": "100"})})
		}
		if err != nil {
			return err
		}
		return tx.SaveFilter(store.SavedFilter{Name: name, Query: f.Query})
	})
	if err != nil {
		return nil, err
	}
	return d.SavedFilters(ctx)
}

// DropFilter forgets a filter.
func (d *Desk) DropFilter(ctx context.Context, id int64) ([]api.SavedFilter, error) {
	if err := d.Store.Write(ctx, func(tx *store.Tx) error { return tx.DropFilter(id) }); err != nil {
		return nil, err
	}
	return d.SavedFilters(ctx)
}

// SeeOrder notes that somebody at the desk opened an order: it is new no longer.
func (d *Desk) SeeOrder(ctx context.Context, line int64, l words.Language) error {
	return d.Store.Write(ctx, func(tx *store.Tx) error {
		if _, err := tx.LineByID(line); err != nil {
			return problem.Missing(err, l, "no_line")
		}
		return tx.SeeLine(line, d.Now())
	})
}
