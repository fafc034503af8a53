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
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		if fields := badWhatIf(&w, &b, l); len(fields) > 0 {
			return problem.Invalid(l, fields)
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

// badWhatIf says what is wrong with a what-if.
func badWhatIf(w *api.WhatIf, b *store.Business, l words.Language) (bad []api.FieldError) {
	known := func(key string, who int64) {
		if !staffOf(b).Knows(who) {
			bad = append(bad, problem.Field(l, key, "what_if_person", nil))
		}
	}
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
		known("people."+strconv.Itoa(i)+".person", p.Person)
	}
	for i, who := range apiview.Given(w.More) {
		known("more."+strconv.Itoa(i), who)
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
	workers     [2][]schedule.Worker // as it is, and as it is wished
	weeks       []schedule.Minute
	learned     map[string]*earn.Learned // by product and step
}

// prepare reads the hours of the people in that time.
func (a *again) prepare(l words.Language) (err error) {
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
	wished := *a.b
	staff := wishedStaff(a.b, &a.wish, l)
	wished.Week, wished.Resources = staff.Week, staff.Resources
	for i, b := range []*store.Business{a.b, &wished} {
		if _, a.workers[i], err = queue.Workers(a.tx, b, a.first, a.last.Since(a.first)+beyond); err != nil {
			return err
		}
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
	workers := a.workers[0]
	if wished {
		workers = a.workers[1]
		for _, p := range a.wish.Products {
			products[p.Product] = p
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
		if w.SetAside || w.Step == "" {
			continue
		}
		item := w.Plan()
		item.Started, item.Done, item.Missing, item.Brief = time.Time{}, time.Time{}, nil, false
		item.Ready = of.placed
		if s := of.edition.Plan.Step(w.Step); w.Round > 0 && w.ReadyAt != nil {
			item.Ready = *w.ReadyAt // when the customer asked for it
		} else if s != nil {
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

// staffOf gives who works in a business.
func staffOf(b *store.Business) whatif.Staff {
	return whatif.Staff{Week: b.Week, Resources: b.Resources}
}

// wishedStaff gives who would work, and when.
func wishedStaff(b *store.Business, w *api.WhatIf, l words.Language) whatif.Staff {
	percent := map[booking.ResourceID]int{}
	for _, p := range w.People {
		percent[p.Person] = apiview.Given(p.Hours)
	}
	return staffOf(b).With(percent, apiview.Given(w.More), b.LastResource+1, l.Say("what_if_name", nil))
}
