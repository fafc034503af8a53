package demo

import (
	"context"
	"math/rand/v2"
	"slices"

	"ruvo/api"
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
	{"evening-under-the-stars", 5, map[question.Moment]int{question.Choosing: 10, question.Paying: 6, question.Briefing: 6}},
}

// visits has people look at products in the days before, and come as far as they come.
func (f *filling) visits(ctx context.Context) error {
	r := rand.New(rand.NewPCG(11, 24)) // the same sample each time
	for _, v := range visited {
		edition, asked, err := f.asked(ctx, v.slug)
		if err != nil {
			return err
		}
		for day := -29; day <= 0; day++ {
			f.clock = f.moment(day, "21:00")
			var events []api.StopEvent
			for range v.daily/2 + r.IntN(v.daily) {
				events = append(events, visit(r, asked, v.stop)...)
			}
			for part := range slices.Chunk(events, 200) {
				if err := f.shop.Count(ctx, v.slug, api.StopEvents{Edition: edition, Events: part}, "en"); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// asked gives the edition that is on sale, and what it asks.
func (f *filling) asked(ctx context.Context, slug string) (edition int64, asked []api.StopsQuestion, err error) {
	var id int64
	err = f.store.Read(ctx, func(tx *store.Tx) error {
		p, err := tx.OnSale(slug)
		if err == nil {
			id, edition = p.ID, *p.EditionID
		}
		return err
	})
	if err != nil {
		return edition, nil, err
	}
	stops, err := f.desk.Stops(ctx, id, 400, "en")
	for _, e := range stops.Editions {
		asked = e.Questions
	}
	return edition, asked, err
}

// visit makes up what one person does on a page.
func visit(r *rand.Rand, asked []api.StopsQuestion, stop map[question.Moment]int) []api.StopEvent {
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
		key := q.Key
		events = append(events, api.StopEvent{What: "reached", Key: &key})
		hard := 0
		if q.Key == "title" || q.Key == "guests" { // where one has to think of words
			hard = 9
		}
		if r.IntN(100) < stop[q.Moment]+hard {
			return events
		}
		if q.Required || r.IntN(3) == 0 {
			seconds := min(1+int(float64(q.Estimate)*(0.4+r.ExpFloat64())*float64(1+hard/6)), 600)
			events = append(events, api.StopEvent{What: "took", Key: &key, Seconds: &seconds})
		}
	}
	return events
}
