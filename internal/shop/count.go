package shop

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
	"ruvo/internal/core/stops"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// mostEvents bounds what is counted at a time.
const mostEvents = 200

// Count counts how far customers come with a product. Nothing of who it was comes
// with it, and nothing that would make one count belong to another.
func (s *Shop) Count(ctx context.Context, slug string, c api.StopEvents, l words.Language) error {
	if len(c.Events) > mostEvents {
		return problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	}
	whats := ""
	for _, w := range stops.Whats() {
		whats = strings.TrimPrefix(whats+", "+string(w), ", ")
	}
	for i, e := range c.Events {
		if !slices.Contains(stops.Whats(), stops.What(e.What)) {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, fmt.Sprintf("events.%d.what", i), "choice", words.Params{"choices": whats})})
		}
	}
	sums := map[store.StopCount]int{}
	return s.Store.Write(ctx, func(tx *store.Tx) error {
		p, err := tx.OnSale(slug)
		if err != nil {
			return problem.Missing(err, l, "no_product")
		}
		row, err := tx.EditionByID(c.Edition)
		if errors.Is(err, store.ErrNotFound) || err == nil && row.ProductID != p.ID {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "edition", "unknown_edition", nil)})
		}
		if err != nil {
			return err
		}
		e, err := s.Editions.Get(tx, c.Edition)
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		day := calendar.DayOf(s.Now().In(b.Location())).String()
		for _, event := range c.Events {
			count := store.StopCount{ProductID: p.ID, EditionID: c.Edition, Day: day, What: stops.What(event.What)}
			if count.What.Of() {
				if item, ok := e.Item(question.Key(deref(event.Key))); !ok || !item.Asked() || item.Moment == question.Desk {
					continue // the page is of another edition
				}
				count.Key = *event.Key
			}
			if count.What == stops.Took {
				span, ok := stops.Span(deref(event.Seconds))
				if !ok {
					continue
				}
				count.Span = span
			}
			sums[count]++
		}
		counts := make([]store.StopCount, 0, len(sums))
		for c, n := range sums {
			c.N = n
			counts = append(counts, c)
		}
		return tx.Count(counts)
	})
}

// counted counts that a checkout was filled in, once for each of its lines; the first
// time only, as customers go back and forth.
func (s *Shop) counted(tx *store.Tx, b *store.Business, lines []*evaluated) error {
	day := calendar.DayOf(s.Now().In(b.Location())).String()
	var counts []store.StopCount
	for _, ev := range lines {
		counts = append(counts, store.StopCount{ProductID: ev.product.ID, EditionID: *ev.product.EditionID, Day: day, What: stops.Prepared, N: 1})
	}
	return tx.Count(counts)
}
