package desk

import (
	"context"
	"slices"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/product"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/docket"
	"ruvo/internal/queue"
	"ruvo/internal/store"
)

// queue gives the waiting work as it is now.
func (d *Desk) queue(ctx context.Context) (*queue.Queue, error) {
	return queue.Of(d.Store).At(ctx, d.Now())
}

// shown shows items that were just changed.
func (d *Desk) shown(ctx context.Context, rows []store.WorkItem) (views []api.WorkItem, err error) {
	q, err := d.queue(ctx)
	if err != nil {
		return nil, err
	}
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err == nil {
			views, err = d.items(tx, b, q, rows)
		}
		return err
	})
	return views, err
}

// items shows work items with the orders they belong to.
func (d *Desk) items(tx *store.Tx, b store.Business, q *queue.Queue, rows []store.WorkItem) ([]api.WorkItem, error) {
	views := make([]api.WorkItem, 0, len(rows))
	var ids []int64
	for i := range rows {
		if rows[i].LineID != 0 {
			ids = append(ids, rows[i].LineID)
		}
	}
	of, err := tx.OwnersOf(ids)
	if err != nil {
		return nil, err
	}
	for i := range rows {
		v, err := d.item(tx, b, q, rows[i], of[rows[i].LineID])
		if err != nil {
			return nil, err
		}
		views = append(views, v)
	}
	return views, nil
}

func (d *Desk) item(tx *store.Tx, b store.Business, q *queue.Queue, w store.WorkItem, of store.Owner) (api.WorkItem, error) {
	plan := w.Plan()
	v := api.WorkItem{
		Id: w.ID, Line: w.LineID, Number: of.Number, Customer: of.Customer, Step: string(w.Step), Round: w.Round,
		Title: w.Title, Instructions: w.Instructions, Minutes: w.Minutes, State: state(&plan), Waits: []api.Wait{},
		Marks: []api.MarkView{}, Due: w.ByAt, Done: w.DoneAt, Version: &w.Version,
	}
	if of.EditionID != 0 {
		e, err := d.Editions.Get(tx, of.EditionID)
		if err != nil {
			return v, err
		}
		v.Product, v.Waits = e.Title, apiview.Waits(&plan, e)
		ofProduct(&v, &w, e)
	}
	if w.ByAt != nil {
		zone := b.Location()
		day, clock, late := apiview.DayString(*w.ByAt, zone), apiview.Clock(*w.ByAt, zone), w.DoneAt == nil && w.ByAt.Before(d.Now())
		v.DueDay, v.DueTime, v.Late = &day, &clock, &late
	}
	if w.SinceAt != nil {
		if err := countedNow(tx, &w, d.Now(), q.Hours); err != nil {
			return v, err
		}
	}
	byPeople(&v, &w, b.Location())
	if w.Request != 0 {
		if err := d.asked(tx, &v, &w); err != nil {
			return v, err
		}
	}
	d.placed(&v, &w, q)
	return v, nil
}

// ofProduct shows what only the edition knows of an item.
func ofProduct(v *api.WorkItem, w *store.WorkItem, e *product.Edition) {
	for _, m := range w.Marks {
		wording := string(m.Key)
		if item, ok := e.Item(m.Key); ok {
			wording = item.Wording
		}
		v.Marks = append(v.Marks, api.MarkView{Wording: wording, Old: m.Old, New: m.New})
	}
	var papers []string
	var beside []api.BesideFile
	for i := range e.Plan.Steps {
		if s := &e.Plan.Steps[i]; s.Key == w.Step {
			for _, p := range s.Papers {
				papers = append(papers, p.Title)
			}
			for _, f := range s.Files {
				beside = append(beside, api.BesideFile{File: f.File, Name: f.Name})
			}
		}
	}
	if beside != nil {
		v.Beside = &beside
	}
	if papers != nil {
		v.Papers = &papers
	}
}

// asked shows what the customer asked to be changed beside the work that answers it.
func (d *Desk) asked(tx *store.Tx, v *api.WorkItem, w *store.WorkItem) error {
	r, err := tx.ChangeRequest(w.Request)
	if err != nil {
		return err
	}
	files, err := tx.FilesOfHandovers([]int64{r.HandoverID})
	if err != nil {
		return err
	}
	asked := apiview.ChangeRequest(&r, &docket.Line{Items: []store.WorkItem{*w}}, files[r.HandoverID])
	v.Asked = &asked
	return nil
}

// byPeople shows what people decided about an item.
func byPeople(v *api.WorkItem, w *store.WorkItem, zone *time.Location) {
	if w.Label != "" {
		v.Part = &w.Label
	}
	if w.AssignedTo != 0 {
		v.Assigned = &w.AssignedTo
	}
	if w.OwnDueAt != nil {
		day := apiview.DayString(*w.OwnDueAt, zone)
		v.OwnDue = &day
	}
	if w.OwnFromAt != nil {
		day := apiview.DayString(*w.OwnFromAt, zone)
		v.OwnFrom = &day
	}
	if w.Priority != 0 {
		v.Priority = &w.Priority
	}
	if w.Note != "" {
		v.Note = &w.Note
	}
	if len(w.Checks) > 0 {
		checks := make([]api.Check, len(w.Checks))
		for i, c := range w.Checks {
			checks[i] = api.Check{Text: c, Done: slices.Contains(w.Ticked, c)}
		}
		v.Checks = &checks
	}
	if len(w.Files) > 0 {
		v.Files = &w.Files
	}
	if w.Taken != nil {
		minutes := (*w.Taken + 30) / 60
		v.Taken = &minutes
	}
	if w.SinceAt != nil {
		v.Since = w.SinceAt
	}
	if w.BegunName != "" {
		v.By = &w.BegunName
	}
	if w.Unneeded && w.DoneAt == nil {
		v.Unneeded = &w.Unneeded
	}
	if w.SetAside {
		v.Aside = &w.SetAside
	}
	if byHand := w.Step == ""; byHand {
		v.ByHand = &byHand
	}
	if w.Repeats != "" {
		v.Repeats = &w.Repeats
	}
}

// placed shows who will do an item, and when.
func (d *Desk) placed(v *api.WorkItem, w *store.WorkItem, q *queue.Queue) {
	l := words.Language(q.Business.Language)
	if who := whom(w, q, l); who != "" {
		v.PlannedFor = &who
	}
	if w.DoneAt != nil {
		return
	}
	place := q.Plan.At(w.ID)
	if !place.Placed() {
		if _, waits := q.Items[w.ID]; waits && !slices.ContainsFunc(q.Stuck, func(s store.Waiting) bool { return s.ID == w.ID }) {
			nobody := true
			v.Nobody = &nobody
		}
		return
	}
	zone := q.Hours.Zone
	begins, ends := apiview.DayString(place.From.Time(), zone), apiview.DayString((place.To-1).Time(), zone)
	v.Begins, v.Ends = &begins, &ends
	if place.Person != 0 {
		v.Person = &place.Person
	}
	if slips := w.ByAt != nil && place.To > schedule.At(*w.ByAt); slips {
		v.Slips = &slips
	}
}

// whom says for whom an item is planned; empty for anybody.
func whom(w *store.WorkItem, q *queue.Queue, l words.Language) string {
	switch {
	case w.AssignedTo != 0 && nameOf(q, w.AssignedTo) == "":
		return l.Say("work.somebody_gone", nil)
	case w.Skill != "":
		return l.Say("work.skilled", words.Params{"skill": w.Skill})
	case w.Person != 0:
		if name := nameOf(q, w.Person); name != "" {
			return name
		}
		return l.Say("work.somebody_gone", nil)
	case w.Booked:
		return l.Say("work.whoever_is_booked", nil)
	}
	return ""
}

func nameOf(q *queue.Queue, person int64) string {
	for i := range q.People {
		if q.People[i].ID == person {
			return q.People[i].Name
		}
	}
	return ""
}

func state(i *workplan.Item) api.WorkItemState {
	switch {
	case !i.Done.IsZero():
		return api.WorkItemStateDone
	case !i.Started.IsZero():
		return api.WorkItemStateStarted
	case i.Waiting():
		return api.WorkItemStateWaiting
	}
	return api.WorkItemStateReady
}

// readDay reads a day that somebody puts an item to: the end of its hours.
func readDay(text string, hours *calendar.Hours) (time.Time, error) {
	day, err := calendar.ParseDay(strings.TrimSpace(text))
	if err != nil {
		return time.Time{}, err
	}
	if spans := hours.Spans(day); len(spans) > 0 {
		return day.At(spans[len(spans)-1].To, hours.Zone), nil
	}
	return day.Add(1).At(0, hours.Zone).Add(-time.Minute), nil
}
