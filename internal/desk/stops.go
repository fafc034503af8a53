package desk

import (
	"context"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/stops"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Stops shows how far customers come with a product, edition by edition, the newest
// first: the one on sale, and those that anybody saw or bought in those days.
func (d *Desk) Stops(ctx context.Context, id int64, days int, l words.Language) (api.Stops, error) {
	view := api.Stops{Editions: []api.StopsEdition{}}
	if days < 1 || days > 400 {
		return view, problem.Invalid(l, []api.FieldError{problem.Field(l, "days", "stops_days", nil)})
	}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		p, err := d.product(tx, id, l)
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		to := calendar.DayOf(d.Now().In(b.Location()))
		from := to.Add(1 - days)
		view.Title, view.From, view.To = p.Draft.Title, from.String(), to.String()
		counts, err := tx.StopCounts(id, from, to)
		if err != nil {
			return err
		}
		sold, err := tx.OrderedOf(id, from.At(0, b.Location()), to.Add(1).At(0, b.Location()))
		if err != nil {
			return err
		}
		editions, err := tx.EditionsOf(id)
		if err != nil {
			return err
		}
		byEdition := map[int64][]store.StopCount{}
		for _, c := range counts {
			byEdition[c.EditionID] = append(byEdition[c.EditionID], c)
		}
		for _, row := range editions {
			onSale := p.EditionID != nil && *p.EditionID == row.ID
			i := slices.IndexFunc(sold, func(s store.Sold) bool { return s.EditionID == row.ID })
			if !onSale && i < 0 && byEdition[row.ID] == nil { // nothing to look at
				continue
			}
			e, err := d.Editions.Get(tx, row.ID)
			if err != nil {
				return err
			}
			v := stopsOf(e, byEdition[row.ID])
			if v.Number, v.OnSale = row.Number, onSale; i >= 0 {
				v.Paid, v.Briefed = sold[i].Paid, sold[i].Briefed
			}
			view.Editions = append(view.Editions, v)
		}
		return nil
	})
	return view, err
}

func stopsOf(e *product.Edition, counts []store.StopCount) api.StopsEdition {
	v := api.StopsEdition{Questions: []api.StopsQuestion{}}
	reached, took := map[string]int{}, map[string][]int{}
	for _, c := range counts {
		switch c.What {
		case stops.Opened:
			v.Opened = c.N
		case stops.Returned:
			v.Returned = c.N
		case stops.Began:
			v.Began = c.N
		case stops.Added:
			v.Added = c.N
		case stops.Prepared:
			v.Prepared = c.N
		case stops.Reached:
			reached[c.Key] = c.N
		case stops.Took:
			if took[c.Key] == nil {
				took[c.Key] = make([]int, stops.Spans())
			}
			if c.Span < stops.Spans() {
				took[c.Key][c.Span] = c.N
			}
		}
	}
	for i := range e.Items {
		item := &e.Items[i]
		if item.Off || !item.Asked() || item.Moment == question.Desk || item.Kind == "link_value" {
			continue
		}
		k := string(item.Key)
		q := api.StopsQuestion{Key: k, Wording: item.Wording, Moment: item.Moment, Required: item.Required, Reached: reached[k], Estimate: product.SecondsFor(item.Question.Question)}
		for _, n := range took[k] {
			q.Answered += n
		}
		if m, ok := stops.Median(took[k]); ok {
			q.Median = &m
		}
		v.Questions = append(v.Questions, q)
	}
	return v
}
