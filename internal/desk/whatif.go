package desk

import (
	"context"
	"slices"
	"strconv"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/earn"
	"ruvo/internal/core/money"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/whatif"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/problem"
	"ruvo/internal/queue"
	"ruvo/internal/store"

	"github.com/shopspring/decimal"
)

// The bounds of a what-if.
const (
	lastOrders  = 200
	longestYear = 366 // days
	beyond      = 120 // days after the last order in which its work may still be done
	mostMore    = 20  // people
)

// WhatIf does the work of the last orders, or of those of the last year, again with other
// prices, minutes, hours or people, and sets it beside what it comes to with those of
// now. It keeps nothing.
func (d *Desk) WhatIf(ctx context.Context, w api.WhatIf, l words.Language) (api.WhatIfView, error) {
	var view api.WhatIfView
	if fields := badWhatIf(&w, l); len(fields) > 0 {
		return view, problem.Invalid(l, fields)
	}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		g := &gathering{d: d, tx: tx, of: map[int64]earned{}, labels: map[string][2]string{}, at: map[int64]int{}, currency: b.Currency}
		now := d.Now()
		most := lastOrders
		if w.Of == api.Year {
			most = mostEarned
		}
		orders, err := tx.LastOrders(now.AddDate(0, 0, -longestYear), now, most)
		if err != nil {
			return err
		}
		orders = slices.DeleteFunc(orders, func(o store.Order) bool { return o.Currency != b.Currency })
		if err := g.read(orders); err != nil {
			return err
		}
		view.Currency = string(b.Currency)
		if len(g.lines) == 0 {
			return nil
		}
		a := &again{gathering: g, b: &b, wish: w, zone: b.Location(), learned: map[string]*earn.Learned{}}
		if err := a.prepare(l); err != nil {
			return err
		}
		view.Now, view.Changed = a.view(a.run(false)), a.view(a.run(true))
		view.From, view.To = a.first.String(), a.last.String()
		return nil
	})
	return view, err
}

func badWhatIf(w *api.WhatIf, l words.Language) (bad []api.FieldError) {
	percent := func(key string, n *int) {
		if v := apiview.Given(n); v < -90 || v > 900 {
			bad = append(bad, problem.Field(l, key, "what_if_percent", nil))
		}
	}
	for i, p := range w.Products {
		percent("products."+strconv.Itoa(i)+".price", p.Price)
		percent("products."+strconv.Itoa(i)+".minutes", p.Minutes)
	}
	for i, p := range w.People {
		percent("people."+strconv.Itoa(i)+".hours", p.Hours)
	}
	if len(apiview.Given(w.More)) > mostMore {
		bad = append(bad, problem.Field(l, "more", "most_files", words.Params{"most": strconv.Itoa(mostMore)}))
	}
	return bad
}

// again is the work of earlier orders being done again.
type again struct {
	*gathering
	b           *store.Business
	wish        api.WhatIf
	zone        *time.Location
	first, last calendar.Day
	workers     []schedule.Worker
	weeks       []schedule.Minute
	learned     map[string]*earn.Learned // by product and step
}

// prepare reads the hours of the people in that time.
func (a *again) prepare(l words.Language) error {
	from, to := a.of[a.lines[0].ID].placed, a.of[a.lines[0].ID].placed
	for i := range a.lines {
		at := a.of[a.lines[i].ID].placed
		if at.Before(from) {
			from = at
		}
		if at.After(to) {
			to = at
		}
	}
	a.first, a.last = calendar.DayOf(from.In(a.zone)), calendar.DayOf(to.In(a.zone))
	days := a.last.Since(a.first) + beyond
	hours := a.b.Hours()
	start := a.first.At(0, a.zone)
	var ids []int64
	for _, r := range a.b.Resources {
		if r.Person {
			ids = append(ids, r.ID)
		}
	}
	taken, err := a.tx.PeopleTaken(ids, start, start.AddDate(0, 0, days))
	if err != nil {
		return err
	}
	of := map[int64][]schedule.Span{}
	for _, t := range taken {
		of[t.Person] = append(of[t.Person], schedule.Span{From: schedule.At(t.StartAt), To: schedule.At(t.EndAt)})
	}
	for i := range a.b.Resources {
		if r := &a.b.Resources[i]; r.Person {
			a.workers = append(a.workers, schedule.Worker{ID: r.ID, Skills: r.Skills, Free: schedule.Hours(r, hours, of[r.ID], start, days)})
		}
	}
	if len(a.workers) == 0 {
		a.workers = []schedule.Worker{{Free: schedule.Hours(&booking.Resource{}, hours, nil, start, days)}}
	}
	monday := a.first.Add(-(int(a.first.Weekday()) + 6) % 7)
	for day := monday; a.last.Since(day) >= -28; day = day.Add(7) {
		a.weeks = append(a.weeks, schedule.At(day.At(0, a.zone)))
	}
	for _, p := range a.wish.Products {
		if apiview.Given(p.Learned) {
			if err := a.learn(p.Product, l); err != nil {
				return err
			}
		}
	}
	return nil
}

// learn learns the minutes of a product's steps.
func (a *again) learn(id int64, l words.Language) error {
	p, err := a.d.product(a.tx, id, l)
	if err != nil {
		return err
	}
	for i := range p.Draft.Steps {
		key := p.Draft.Steps[i].Key
		rows, err := a.tx.MeasuredItems(id, key, mostMeasured)
		if err != nil {
			return err
		}
		_, learned, err := a.d.learn(a.tx, id, key, rows, l)
		if err != nil {
			return err
		}
		if learned.Model != nil {
			a.learned[strconv.FormatInt(id, 10)+" "+string(key)] = &learned
		}
	}
	return nil
}

// run does the work again: as it is now, or as it is wished.
func (a *again) run(wished bool) whatif.Outcome {
	products := map[int64]api.WhatIfProduct{}
	workers := slices.Clone(a.workers)
	if wished {
		for _, p := range a.wish.Products {
			products[p.Product] = p
		}
		for _, p := range a.wish.People {
			for i := range workers {
				if workers[i].ID == p.Person {
					workers[i] = whatif.Hours(workers[i], apiview.Given(p.Hours))
				}
			}
		}
		for n, like := range apiview.Given(a.wish.More) {
			i := slices.IndexFunc(workers, func(w schedule.Worker) bool { return w.ID == like })
			if i >= 0 {
				more := workers[i]
				more.ID = -int64(n) - 1
				workers = append(workers, more)
			}
		}
	}
	orders := make([]whatif.Order, 0, len(a.lines))
	for i := range a.lines {
		orders = append(orders, a.order(&a.lines[i], products))
	}
	return whatif.Run(orders, workers, a.weeks)
}

// order gives an order line with its jobs.
func (a *again) order(l *earn.Line, products map[int64]api.WhatIfProduct) whatif.Order {
	of := a.of[l.ID]
	p := products[of.row.ProductID]
	income := percented(l.Income, apiview.Given(p.Price))
	o := whatif.Order{ID: l.ID, Placed: schedule.At(of.placed), Income: income, Left: income - l.Fees - l.Cost}
	if at := of.row.PromisedAt; at != nil {
		o.Promised = schedule.At(calendar.DayOf(at.In(a.zone)).Add(1).At(0, a.zone))
	}
	rows := make([]store.Waiting, 0, len(of.items))
	for i := range of.items {
		w := &of.items[i]
		if w.SetAside || w.Round > 0 || w.Step == "" {
			continue
		}
		item := w.Plan()
		item.Started, item.Done, item.Missing, item.Brief = time.Time{}, time.Time{}, nil, false
		item.Ready = of.placed
		if s := of.edition.Plan.Step(w.Step); s != nil {
			if s.Start.Steps() {
				item.After, item.Ready = s.Start.Step, time.Time{}
			} else if s.Start.On == workplan.OnBooking && w.ReadyAt != nil {
				item.Ready = *w.ReadyAt
			}
		}
		if m, learned := a.learned[l.Product+" "+string(w.Step)]; learned && apiview.Given(p.Learned) {
			s := sampleOf(of.edition, &of.row, w)
			item.Minutes = earn.Predict(s, s.Minutes, *m.Model)
		}
		item.Minutes = whatif.Scaled(item.Minutes, apiview.Given(p.Minutes))
		waiting := queue.WaitingOf(&item, w.ID, of.row.Rush)
		waiting.PlacedAt, waiting.AssignedTo = &of.placed, w.AssignedTo
		rows = append(rows, waiting)
	}
	o.Jobs, _ = queue.Jobs(rows)
	return o
}

func percented(a money.Amount, percent int) money.Amount {
	return money.HalfUp.Round(decimal.NewFromInt(int64(a)).Mul(decimal.NewFromInt(int64(100 + percent))).Div(decimal.NewFromInt(100)))
}

// view shows what came of it.
func (a *again) view(o whatif.Outcome) api.WhatIfOutcome {
	v := api.WhatIfOutcome{Orders: o.Orders, Income: int(o.Income), Left: int(o.Left), Minutes: o.Minutes, Undone: o.Undone, Weeks: []api.WhatIfWeek{}, Late: []api.LateLine{}}
	if o.Minutes > 0 {
		f := earn.Figures{Income: o.Left, Minutes: o.Minutes}
		per, _ := f.PerHour()
		n := int(per)
		v.PerHour = &n
	}
	for _, w := range o.Weeks {
		v.Weeks = append(v.Weeks, api.WhatIfWeek{Monday: calendar.DayOf(w.From.Time().In(a.zone)).String(), Worked: w.Worked, Free: w.Free})
	}
	for i, late := range o.Late {
		v.LateDays += late.Days
		if i < 50 {
			of := a.of[late.ID]
			v.Late = append(v.Late, api.LateLine{Line: late.ID, Number: of.number, Customer: of.customer, Days: late.Days})
		}
	}
	v.LateOrders = len(o.Late)
	return v
}

// TakeWhatIf takes prices and minutes of a what-if over into the drafts of its products.
func (d *Desk) TakeWhatIf(ctx context.Context, w api.WhatIf, l words.Language) ([]api.DeskProduct, error) {
	if fields := badWhatIf(&w, l); len(fields) > 0 {
		return nil, problem.Invalid(l, fields)
	}
	done := []api.DeskProduct{}
	for _, p := range w.Products {
		if apiview.Given(p.Price) == 0 && apiview.Given(p.Minutes) == 0 && !apiview.Given(p.Learned) {
			continue
		}
		var version int
		models := map[workplan.StepKey]workplan.Minutes{}
		err := d.Store.Read(ctx, func(tx *store.Tx) error {
			row, err := d.product(tx, p.Product, l)
			if err != nil {
				return err
			}
			version = row.Version
			if !apiview.Given(p.Learned) {
				return nil
			}
			a := &again{gathering: &gathering{d: d, tx: tx}, learned: map[string]*earn.Learned{}}
			if err := a.learn(p.Product, l); err != nil {
				return err
			}
			for i := range row.Draft.Steps {
				if m, ok := a.learned[strconv.FormatInt(p.Product, 10)+" "+string(row.Draft.Steps[i].Key)]; ok {
					models[row.Draft.Steps[i].Key] = *m.Model
				}
			}
			return nil
		})
		if err != nil {
			return done, err
		}
		v, err := d.redraft(ctx, p.Product, version, l, func(tx *store.Tx, row *store.Product) error {
			next := row.Draft
			for k, m := range models {
				if timed, ok := next.Timed(k, m); ok {
					next = timed
				}
			}
			if n := apiview.Given(p.Minutes); n != 0 {
				next = next.Slower(n)
			}
			if n := apiview.Given(p.Price); n != 0 {
				next, _ = next.Scaled(n)
			}
			return d.keepState(tx, row, next, Author(ctx), false)
		})
		if err != nil {
			return done, err
		}
		done = append(done, v)
	}
	return done, nil
}
