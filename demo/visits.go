package demo

import (
	"context"
	"math/rand/v2"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/store"
)

// visited are the products whose pages people opened in the sample, with how many of a
// hundred stop at a question of each moment.
var visited = []struct {
	slug  string
	daily int // visits
	stop  map[question.Moment]int
}{
	{"sky-chart", 9, map[question.Moment]int{question.Choosing: 7, question.Paying: 5, question.Briefing: 4}},
	{"photo-rescue", 6, map[question.Moment]int{question.Choosing: 8, question.Paying: 5, question.Briefing: 5}},
	{"evening-under-the-stars", 5, map[question.Moment]int{question.Choosing: 10, question.Paying: 6, question.Briefing: 6}},
}

// visits has people look at products in the days before, and come as far as they come.
func (f *filling) visits(ctx context.Context) error {
	r := rand.New(rand.NewPCG(11, 24)) // the same sample each time
	for _, v := range visited {
		editions, err := f.editions(ctx, v.slug)
		if err != nil {
			return err
		}
		for day := -29; day <= 0; day++ {
			f.clock = f.moment(day, "21:00")
			on := editions[0]
			for _, e := range editions {
				if !e.row.PublishedAt.After(f.clock) {
					on = e
				}
			}
			var events []api.StopEvent
			for range v.daily/2 + r.IntN(v.daily) {
				events = append(events, visit(r, on.asked, v.stop)...)
			}
			for part := range slices.Chunk(events, 200) {
				if err := f.shop.Count(ctx, v.slug, api.StopEvents{Edition: on.row.ID, Events: part}, "en"); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// An edition with what it asks.
type edition struct {
	row   store.Edition
	asked []*product.Item
}

// editions gives the editions of a product, the oldest first.
func (f *filling) editions(ctx context.Context, slug string) (all []edition, err error) {
	err = f.store.Read(ctx, func(tx *store.Tx) error {
		p, err := tx.OnSale(slug)
		if err != nil {
			return err
		}
		rows, err := tx.EditionsOf(p.ID)
		if err != nil {
			return err
		}
		for _, row := range slices.Backward(rows) {
			e, err := f.desk.Editions.Get(tx, row.ID)
			if err != nil {
				return err
			}
			one := edition{row: row}
			for i := range e.Items {
				if item := &e.Items[i]; item.Asked() && item.Moment != question.Desk {
					one.asked = append(one.asked, item)
				}
			}
			slices.SortStableFunc(one.asked, func(a, b *product.Item) int { return a.Moment.Rank() - b.Moment.Rank() })
			all = append(all, one)
		}
		return nil
	})
	return all, err
}

// visit makes up what one person does on a page.
func visit(r *rand.Rand, asked []*product.Item, stop map[question.Moment]int) []api.StopEvent {
	events := []api.StopEvent{{What: "opened"}}
	if r.IntN(6) == 0 {
		events[0].What = "returned"
	}
	if r.IntN(100) < 35 { // looks and goes
		return events
	}
	events = append(events, api.StopEvent{What: "began"})
	added, paid := false, false
	for _, q := range asked {
		if q.Moment == question.Briefing && !paid {
			if r.IntN(100) < 80 { // goes no further than the payment
				return events
			}
			paid = true
		}
		if q.Moment != question.Choosing && !added {
			events, added = append(events, api.StopEvent{What: "added"}), true
		}
		key := string(q.Key)
		events = append(events, api.StopEvent{What: "reached", Key: &key})
		hard := 0
		switch q.Key { // where one has to think of words
		case "title", "guests":
			hard = 9
		case "story":
			hard = 30
		}
		if r.IntN(100) < stop[q.Moment]+hard {
			return events
		}
		if q.Required || r.IntN(3) == 0 {
			seconds := min(1+int(float64(product.SecondsFor(q.Question.Question))*(0.4+r.ExpFloat64())*float64(1+hard/6)), 600)
			events = append(events, api.StopEvent{What: "took", Key: &key, Seconds: &seconds})
		}
	}
	return events
}
