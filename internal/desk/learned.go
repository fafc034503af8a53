package desk

import (
	"cmp"
	"context"
	"math"
	"net/http"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/earn"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/problem"
	"ruvo/internal/queue"
	"ruvo/internal/store"
)

// mostMeasured bounds the measured items that are looked at.
const mostMeasured = 5000

// Learned lists the steps of which work was measured, those whose minutes are farthest
// off first.
func (d *Desk) Learned(ctx context.Context, l words.Language) ([]api.LearnedStep, error) {
	list := []api.LearnedStep{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		rows, err := tx.MeasuredItems(0, "", mostMeasured)
		if err != nil {
			return err
		}
		type key struct {
			product int64
			step    workplan.StepKey
		}
		var order []key
		of := map[key][]store.WorkItem{}
		for _, w := range rows {
			k := key{w.ProductID, w.Step}
			if _, known := of[k]; !known {
				order = append(order, k)
			}
			of[k] = append(of[k], w)
		}
		for _, k := range order {
			v, _, err := d.learn(tx, k.product, k.step, of[k], l)
			if err != nil {
				return err
			}
			if v != nil {
				v.Samples = nil
				list = append(list, *v)
			}
		}
		return nil
	})
	slices.SortStableFunc(list, func(a, b api.LearnedStep) int { return cmp.Compare(b.Off-b.OffLearned, a.Off-a.OffLearned) })
	return list, err
}

// LearnedStep tells what was measured of one step, and what it would change in promises
// if its minutes were taken over.
func (d *Desk) LearnedStep(ctx context.Context, productID int64, step string, l words.Language) (api.LearnedStep, error) {
	q, err := d.queue(ctx)
	if err != nil {
		return api.LearnedStep{}, err
	}
	var view *api.LearnedStep
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		rows, err := tx.MeasuredItems(productID, workplan.StepKey(step), mostMeasured)
		if err != nil {
			return err
		}
		var learned earn.Learned
		if view, learned, err = d.learn(tx, productID, workplan.StepKey(step), rows, l); err != nil {
			return err
		}
		if view == nil {
			return problem.NotFound(l, "not_found")
		}
		if learned.Model == nil {
			return nil
		}
		view.Effect, err = d.effect(tx, q, productID, workplan.StepKey(step), *learned.Model)
		return err
	})
	if err != nil {
		return api.LearnedStep{}, err
	}
	return *view, nil
}

// learn learns from the measured items of a step as the product has it now; nil where
// it has none any more.
func (d *Desk) learn(tx *store.Tx, productID int64, key workplan.StepKey, rows []store.WorkItem, l words.Language) (*api.LearnedStep, earn.Learned, error) {
	none := earn.Learned{}
	p, err := d.product(tx, productID, l)
	if err != nil {
		return nil, none, problem.Missing(err, l, "no_product")
	}
	draft, err := whole(tx, p)
	if err != nil {
		return nil, none, err
	}
	at := slices.IndexFunc(draft.Steps, func(s workplan.Step) bool { return s.Key == key })
	if at < 0 {
		return nil, none, nil
	}
	s := &draft.Steps[at]
	samples := make([]earn.Sample, 0, len(rows))
	view := &api.LearnedStep{Product: productID, Title: draft.Title, Step: string(key), Called: s.Called(), Version: p.Version, Groups: []api.LearnedGroup{}, Shared: s.Sheet != 0}
	points := []api.LearnedSample{}
	for i := range rows {
		w := &rows[i]
		sample, owner, err := d.sample(tx, w)
		if err != nil {
			return nil, none, err
		}
		samples = append(samples, sample)
		points = append(points, api.LearnedSample{Line: w.LineID, Number: owner.Number, Planned: sample.Planned, Taken: sample.Taken, Customer: owner.Customer})
	}
	learned := earn.Learn(samples, s.Minutes)
	view.Planned, view.Taken = summary(learned.Planned), summary(learned.Taken)
	view.Off, view.OffLearned = tenth(learned.Off), tenth(learned.Then)
	view.Now, view.Suggested, view.Samples = s.Minutes, learned.Model, &points
	for _, g := range learned.Groups {
		view.Groups = append(view.Groups, group(g, draft))
	}
	return view, learned, nil
}

// sample gives a measured item as what is learned from.
func (d *Desk) sample(tx *store.Tx, w *store.WorkItem) (earn.Sample, store.Owner, error) {
	row, err := tx.LineByID(w.LineID)
	if err != nil {
		return earn.Sample{}, store.Owner{}, err
	}
	o, err := tx.OrderHead(row.OrderID)
	if err != nil {
		return earn.Sample{}, store.Owner{}, err
	}
	e, err := d.Editions.Get(tx, row.EditionID)
	if err != nil {
		return earn.Sample{}, store.Owner{}, err
	}
	owner := store.Owner{LineID: row.ID}
	if o.Number != nil {
		owner.Number = *o.Number
	}
	s := sampleOf(e, &row, w)
	if w.Taken != nil {
		s.Taken = max((*w.Taken+30)/60, 1)
	}
	return s, owner, nil
}

func sampleOf(e *product.Edition, row *store.OrderLine, w *store.WorkItem) earn.Sample {
	s := earn.Sample{Item: w.ID, Planned: w.Minutes, Units: row.Quantity, Codes: map[question.Key][]string{}}
	if of := e.Plan.Step(w.Step); of != nil {
		s.Minutes = of.Minutes
	}
	answers, _ := question.Decode(row.Answers, e.Spec)
	for i := range e.Items {
		item := &e.Items[i]
		if v, ok := answers[item.Key]; ok && (item.Spec.Class() == question.ClassYesNo || choosable(item)) {
			s.Codes[item.Key] = v.Terms().Codes
		}
	}
	return s
}

func choosable(item *product.Item) bool {
	_, ok := item.Spec.(question.Choosable)
	return ok
}

func summary(s earn.Summary) api.LearnedSummary {
	return api.LearnedSummary{N: s.N, Median: tenth(s.Median), Lower: tenth(s.Lower), Upper: tenth(s.Upper)}
}

// tenth rounds minutes to a tenth.
func tenth(minutes float64) float32 { return float32(math.Round(minutes*10) / 10) }

func group(g earn.Group, draft product.Draft) api.LearnedGroup {
	v := api.LearnedGroup{Of: string(g.Of), Wording: string(g.Of), Explains: int(math.Round(g.Explains * 100)), Values: []api.LearnedValue{}}
	label := func(code string) string { return code }
	for i := range draft.Questions {
		if q := &draft.Questions[i]; q.Key == g.Of {
			v.Wording, label = q.Wording, q.Called
		}
	}
	for _, of := range g.Values {
		v.Values = append(v.Values, api.LearnedValue{Code: of.Code, Label: label(of.Code), Taken: summary(of.Taken)})
	}
	return v
}

// effect tells how the waiting work and its promises would be if the items of a step
// took as long as was learned.
func (d *Desk) effect(tx *store.Tx, q *queue.Queue, productID int64, step workplan.StepKey, model workplan.Minutes) (*api.LearnedEffect, error) {
	v := &api.LearnedEffect{Late: []api.LateLine{}}
	jobs := slices.Clone(q.Plan.Jobs())
	minutes := map[int64]int{}
	for id, w := range q.Items {
		if w.Step != step || w.LineID == 0 {
			continue
		}
		row, err := tx.LineByID(w.LineID)
		if err != nil {
			return nil, err
		}
		if row.ProductID != productID {
			continue
		}
		e, err := d.Editions.Get(tx, row.EditionID)
		if err != nil {
			return nil, err
		}
		s := sampleOf(e, &row, &store.WorkItem{ID: id, Step: step, Minutes: w.Minutes})
		minutes[id] = earn.Predict(s, s.Minutes, model)
		v.Items++
		v.Before += w.Minutes
		v.After += minutes[id]
	}
	for i := range jobs {
		if m, of := minutes[jobs[i].ID]; of {
			jobs[i].Minutes = m
		}
	}
	then := schedule.NewQueue(q.Workers, jobs, q.Limits, q.Plan.Now)
	before, after := q.Plan.Ends(), then.Plan.Ends()
	for line, by := range q.Promised {
		was, is := before[line] > by, after[line] > by
		if was {
			v.LateBefore++
		}
		if is {
			v.LateAfter++
		}
		if is && !was {
			owners, err := tx.OwnersOf([]int64{line})
			if err != nil {
				return nil, err
			}
			v.Late = append(v.Late, api.LateLine{Line: line, Number: owners[line].Number, Customer: owners[line].Customer, Days: int(after[line]-by+24*60-1) / (24 * 60)})
		}
	}
	slices.SortFunc(v.Late, func(a, b api.LateLine) int { return cmp.Compare(a.Number, b.Number) })
	return v, nil
}

// TakeMinutes takes learned minutes of a step over into the product's draft.
func (d *Desk) TakeMinutes(ctx context.Context, productID int64, step string, version int, l words.Language) (api.DeskProduct, error) {
	var learned earn.Learned
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		rows, err := tx.MeasuredItems(productID, workplan.StepKey(step), mostMeasured)
		if err == nil {
			_, learned, err = d.learn(tx, productID, workplan.StepKey(step), rows, l)
		}
		return err
	})
	if err != nil {
		return api.DeskProduct{}, err
	}
	if learned.Model == nil {
		return api.DeskProduct{}, problem.Say(http.StatusConflict, l, "learned_few", nil)
	}
	return d.redraft(ctx, productID, version, l, func(tx *store.Tx, p *store.Product) error {
		next, ok := p.Draft.Timed(workplan.StepKey(step), *learned.Model)
		if !ok {
			return problem.Say(http.StatusConflict, l, "learned_shared", nil)
		}
		return d.keepState(tx, p, next, Author(ctx), false)
	})
}
