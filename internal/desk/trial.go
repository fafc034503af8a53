package desk

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/explore"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/docket"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// A trial is a draft with answers that are tried.
type trial struct {
	product  store.Product
	draft    product.Draft
	edition  *product.Edition // in the currency that it is tried in
	whole    *product.Edition // in its own
	business store.Business
	findings []product.Finding
	answers  question.Answers
	wrong    []question.Fault
	given    evaluate.Given
	bookings *booking.Query
	sheets   []product.Sheet
	now      time.Time
	zone     *time.Location
}

// trial reads what is tried. The draft may have lost a question that was
// answered.
func (d *Desk) trial(tx *store.Tx, id int64, t api.Trial, l words.Language) (trial, error) {
	var v trial
	var err error
	if v.product, err = d.product(tx, id, l); err != nil {
		return v, err
	}
	b, err := tx.Business()
	if err != nil {
		return v, err
	}
	sheets, err := tx.UsedSheets()
	if err != nil {
		return v, err
	}
	v.sheets = sheets
	v.draft = b.Computes(t.Draft).With(v.product.ID, sheets)
	if v.edition, v.findings, err = d.checked(tx, v.product.ID, &b, v.draft); err != nil {
		return v, err
	}
	v.business, v.whole = b, v.edition
	if t.Currency != nil {
		in, ok := v.edition.In(money.Currency(*t.Currency))
		if !ok {
			return v, problem.Invalid(l, []api.FieldError{problem.Field(l, "currency", "list_none", words.Params{"currency": *t.Currency})})
		}
		v.edition = in
	}
	v.now, v.zone = d.Now(), b.Location()
	if t.Day != nil {
		day, err := calendar.ParseDay(*t.Day)
		if err != nil {
			return v, problem.Invalid(l, []api.FieldError{problem.Field(l, "day", "day", nil)})
		}
		v.now = day.At(v.now.In(v.zone).Hour()*60+v.now.In(v.zone).Minute(), v.zone)
	}
	known := map[string]json.RawMessage{}
	for k, raw := range t.Answers {
		if _, ok := v.edition.Spec(question.Key(k)); ok {
			known[k] = raw
		}
	}
	v.answers, v.wrong = question.Decode(known, v.edition.Spec)
	v.answers.Date(v.now, nil)
	v.given = evaluate.Given{
		Quantity: t.Quantity, Now: v.now, Zone: v.zone, Language: l, Customer: "…", Order: "…", Later: map[question.Key]bool{},
		Work: &evaluate.Work{Language: l, Hours: b.Hours(), Paid: v.now, Briefed: v.now},
	}
	v.given.Whole = condition.Alone(v.product.Slug, v.draft.Category, string(l))
	v.given.Whole.Gift, v.given.Whole.Business = t.Gift != nil && *t.Gift, t.Business != nil && *t.Business
	if t.Group != nil {
		v.given.Group = *t.Group
	}
	if t.Later != nil {
		for _, k := range *t.Later {
			v.given.Later[question.Key(k)] = true
		}
	}
	if v.bookings, err = placing.Query(tx, v.product.ID, v.edition, v.zone, v.now, 0); err != nil {
		return v, err
	}
	v.given.Checks = evaluate.Against(func(id string) (question.File, bool) {
		u, err := tx.Upload(id)
		return u.Facts(), err == nil
	}, v.bookings, nil)
	return v, nil
}

// Try evaluates answers to a draft as a customer would give them, and shows
// the work that they would make. It keeps nothing.
func (d *Desk) Try(ctx context.Context, id int64, t api.Trial, l words.Language) (api.TrialResult, error) {
	var view api.TrialResult
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		v, err := d.trial(tx, id, t, l)
		if err != nil {
			return err
		}
		e, f := v.edition, v.given
		r := evaluate.Evaluate(e, v.answers, f)
		view = api.TrialResult{
			Page: apiview.Page(v.product.Slug, 0, e, question.Desk, l), Evaluation: apiview.Evaluated(0, e, &r, v.wrong, f, question.Choosing),
			Says: says(v.draft, l), Results: results(e, &r, f), Names: names(e, l), Article: e.ArticleOf(r.Answers),
			Items: planned(e, &r), Findings: product.Told(v.findings, l), Openings: []api.Opening{}, Efforts: e.Efforts(), Linked: linked(v.draft), Ties: v.draft.Ties(),
			Measures: measures(e), Order: []int{}, Steps: steps(e, &r, f, l), Tabled: tabled(e),
		}
		brought(&view, v.draft, v.sheets, l)
		view.Page.Booking = apiview.Booked(e, &v.business, v.now)
		view.SoldIn, view.Listable = soldIn(v.whole), listable(v.draft, l)
		if t.AddOns != nil && len(*t.AddOns) > 0 {
			whole, err := d.withAddOns(tx, &v, &r, *t.AddOns)
			if err != nil {
				return err
			}
			shown := whole.In(l)
			view.Whole = &shown
		}
		for i := range e.Pricing.Charges {
			view.Order = append(view.Order, e.Pricing.Charges[i].Draft+1)
		}
		if e.Costed() {
			cost := e.CostOf(r.Answers, f.Quantity)
			view.Cost, view.Margin = figure(cost), figure(r.Slip.Net()-cost)
		}
		view.Range = priceRange(e, calendar.DayOf(v.now.In(v.zone)))
		if v.bookings != nil {
			view.Openings = apiview.Openings(e.Booking.Openings(*v.bookings), v.zone)
		}
		return nil
	})
	return view, err
}

// TryDays shows what could be booked of a draft on some days.
func (d *Desk) TryDays(ctx context.Context, id int64, t api.DaysTried, l words.Language) (api.BookableDays, error) {
	view := api.BookableDays{Days: []api.BookableDay{}}
	a, err := apiview.ReadAsked(t.Asked, l)
	if err != nil {
		return view, err
	}
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		v, err := d.trial(tx, id, t.Trial, l)
		if err != nil || v.bookings == nil {
			return err
		}
		v.given.Checks = evaluate.Held
		r := evaluate.Evaluate(v.edition, v.answers, v.given)
		v.bookings.Wish = apiview.WishOf(r.Wish(v.edition, v.given), t.Asked)
		view = apiview.Days(v.edition.Booking, *v.bookings, a, l)
		if a.Begin == nil {
			apiview.Price(&view, v.edition, r.Input(v.edition, v.given))
			apiview.PriceCourses(&view, v.edition, v.answers, v.given, a.People)
		}
		count := len(begins(v.edition.Booking, *v.bookings))
		if view.Courses != nil {
			count = 0
			for _, c := range *view.Courses {
				if c.Why == nil {
					count++
				}
			}
		}
		view.Count = &count
		if v.edition.Booking.Stays != nil {
			nights := 0
			for _, a := range v.edition.Booking.Arrivals(*v.bookings) {
				nights += a.Free
			}
			view.Nights = &nights
		}
		broken, err := d.broken(tx, &v)
		view.Broken = &broken
		return err
	})
	return view, err
}

// broken lists the bookings to come that a draft's rule would not take any more. Notice
// and horizon are those of who books now, so they are passed over.
func (d *Desk) broken(tx *store.Tx, v *trial) ([]api.BookingRow, error) {
	sold, err := tx.SoldBookings(v.now, v.now.AddDate(10, 0, 0))
	if err != nil {
		return nil, err
	}
	rule := *v.edition.Booking
	rule.Notice, rule.Horizon, rule.Until, rule.LeastPeople = 0, 3660, nil, 0
	rule.Seasons = slices.Clone(rule.Seasons)
	for i := range rule.Seasons {
		rule.Seasons[i].Notice, rule.Seasons[i].LeastPeople, rule.Seasons[i].Horizon = nil, 0, 0
	}
	var rows []store.Booking
	for _, s := range sold {
		if s.ProductID != v.product.ID || s.Forced {
			continue
		}
		if s.Meetings > 0 || rule.By == booking.ByCourse {
			if !meets(&rule, s, v.zone) {
				rows = append(rows, s)
			}
			continue
		}
		q := *v.bookings
		q.Taken, q.Wish = nil, booking.Wish{Length: int(s.EndAt.Sub(s.StartAt) / time.Minute)}
		b := question.Booking{Start: s.StartAt, End: s.EndAt, People: s.People}
		if rule.Check(b, q, v.given.Language) != nil {
			rows = append(rows, s)
		}
	}
	return d.bookings(tx, v.business, rows)
}

// meets says whether a meeting that is booked is one of the rule's courses.
func meets(rule *booking.Rule, s store.Booking, zone *time.Location) bool {
	on := calendar.DayOf(s.StartAt.In(zone))
	return s.Meetings > 0 && slices.ContainsFunc(rule.Meetings(booking.Query{From: on, To: on, Zone: zone}), func(o booking.Opening) bool {
		return o.Start.Equal(s.StartAt) && o.End.Equal(s.EndAt)
	})
}

// soldIn lists the currencies that a draft can be tried in.
func soldIn(e *product.Edition) *[]string {
	list := []string{string(e.Currency)}
	for _, p := range e.PriceLists {
		if _, ok := e.In(p.Currency); ok {
			list = append(list, string(p.Currency))
		}
	}
	return &list
}

// listable shows the amounts that price lists give; nil for a draft without any.
func listable(d product.Draft, l words.Language) *[]api.AmountAsked {
	if len(d.PriceLists) == 0 {
		return nil
	}
	list := []api.AmountAsked{}
	for _, at := range d.Listable() {
		list = append(list, asked(at, l))
	}
	return &list
}

// withAddOns makes the slip of an order of what is tried and of add-ons that are
// taken along, as they are on sale and before anything is answered about them.
func (d *Desk) withAddOns(tx *store.Tx, v *trial, r *evaluate.Result, addOns []api.TriedAddOn) (charge.Slip, error) {
	lines := []charge.OrderLine{docket.Priced(v.product.ID, v.edition, r, max(v.given.Quantity, 1), 0)}
	for _, a := range addOns {
		offered := slices.IndexFunc(v.edition.AddOns, func(o product.AddOn) bool { return o.Product == a.Product })
		if offered < 0 || a.Quantity < 1 {
			continue
		}
		p, err := tx.ProductByID(a.Product)
		if errors.Is(err, store.ErrNotFound) || err == nil && p.EditionID == nil {
			continue // the product check tells of it
		}
		if err != nil {
			return charge.Slip{}, err
		}
		e, err := d.Editions.Of(tx, *p.EditionID, v.edition.Currency)
		if err != nil {
			return charge.Slip{}, err
		}
		if e.Currency != v.edition.Currency {
			continue
		}
		f := evaluate.Given{Quantity: min(a.Quantity, v.edition.AddOns[offered].Units()), Now: v.now, Zone: v.zone, Language: v.given.Language, Group: v.given.Group}
		of := evaluate.Evaluate(e, nil, f)
		lines = append(lines, docket.Priced(p.ID, e, &of, f.Quantity, 1))
	}
	o := store.Order{Currency: v.edition.Currency, Terms: v.business.TermsIn(v.edition.Currency), PricedOn: calendar.DayOf(v.now.In(v.zone)).String()}
	return docket.SlipOf(&o, v.business.Rounding, lines), nil
}

// brought shows what sheets bring into a draft besides questions, and which of
// their figures it can have differently.
func brought(view *api.TrialResult, d product.Draft, sheets []product.Sheet, l words.Language) {
	charges, values, plan, figures := []charge.Charge{}, []product.NamedFormula{}, []workplan.Step{}, []api.LinkedFigure{}
	for _, c := range d.Charges {
		if c.Sheet != 0 {
			charges = append(charges, c)
		}
	}
	for _, n := range d.Values {
		if n.Sheet != 0 {
			values = append(values, n)
		}
	}
	for _, s := range d.Steps {
		if s.Sheet != 0 {
			plan = append(plan, s)
		}
	}
	used := map[product.SheetID]bool{}
	for _, q := range d.Questions {
		used[q.Sheet] = true
	}
	for _, s := range sheets {
		if !used[s.ID] {
			continue
		}
		for _, f := range s.Figures() {
			one := api.LinkedFigure{Sheet: int64(s.ID), Place: f.Place, Of: f.Of, What: f.What(l), Amount: f.Amount, Minutes: f.Minutes}
			if f.Question != "" {
				k := string(f.Question)
				one.Question = &k
			}
			if f.Percent != nil {
				p := f.Percent.String()
				one.Percent = &p
			}
			figures = append(figures, one)
		}
	}
	view.LinkedCharges, view.LinkedValues, view.LinkedSteps, view.Figures = &charges, &values, &plan, &figures
}

// steps says how a slip came about.
func steps(e *product.Edition, r *evaluate.Result, f evaluate.Given, l words.Language) []api.TraceStep {
	list := []api.TraceStep{}
	for _, s := range r.Trace(e, f) {
		step := api.TraceStep{Line: s.Line, Charge: s.Charge, Rule: s.Rule(l), Amount: s.Amount}
		if s.Not != nil {
			not := s.Not.Say(l)
			step.Not = &not
		}
		list = append(list, step)
	}
	return list
}

// tabled lists the questions that a grid of prices can show, those first that
// charges are on.
func tabled(e *product.Edition) []string {
	keys := []string{}
	for i := range e.Items {
		if explore.Tabled(&e.Items[i]) {
			keys = append(keys, string(e.Items[i].Key))
		}
	}
	if e.Units() > 1 {
		keys = append(keys, string(question.QuantityKey))
	}
	free := func(k string) int {
		if slices.ContainsFunc(e.Pricing.Charges, func(c charge.Compiled) bool { return string(c.On) == k }) {
			return 0
		}
		return 1
	}
	slices.SortStableFunc(keys, func(a, b string) int { return free(a) - free(b) })
	return keys
}

// Grid gives the prices of two questions against each other. It keeps nothing.
func (d *Desk) Grid(ctx context.Context, id int64, asked api.GridAsked, l words.Language) (api.PriceGrid, error) {
	view := api.PriceGrid{Cells: [][]api.GridCell{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		v, err := d.trial(tx, id, asked.Trial, l)
		if err != nil {
			return err
		}
		v.given.Work, v.given.Checks = nil, evaluate.Held // only the price is asked for
		v.given.Ordered = calendar.DayOf(v.now.In(v.zone))
		grid, err := explore.GridOf(v.edition, v.answers, v.given, question.Key(asked.Rows), question.Key(asked.Columns))
		var said *words.Message
		if errors.As(err, &said) {
			return problem.Invalid(l, []api.FieldError{{Key: "rows", Code: "grid", Message: said.Say(l)}})
		}
		if err != nil {
			return err
		}
		view.Currency, view.Rows, view.Columns = string(v.edition.Currency), grid.Rows, grid.Columns
		table := [][]string{append([]string{""}, grid.Columns...)}
		for i, row := range grid.Cells {
			cells, line := make([]api.GridCell, len(row)), []string{grid.Rows[i]}
			for k, c := range row {
				cells[k].Total = int(c.Total)
				if c.Fault != nil {
					why := problem.Fields(l, "", []question.Fault{*c.Fault})[0].Message
					cells[k].Problem = &why
					line = append(line, "")
					continue
				}
				line = append(line, c.Total.Plain(v.edition.Currency))
			}
			view.Cells, table = append(view.Cells, cells), append(table, line)
		}
		var b bytes.Buffer
		w := csv.NewWriter(&b)
		w.UseCRLF = true
		if err := w.WriteAll(table); err != nil {
			return err
		}
		view.Csv = b.String()
		return nil
	})
	return view, err
}
