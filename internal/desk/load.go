package desk

import (
	"cmp"
	"context"
	"slices"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/queue"
	"ruvo/internal/store"
)

// How far ahead the load is told, and how much of what is wrong.
const (
	loadAhead = 60 // days
	mostLate  = 20 // late orders
	mostHelp  = 3  // ways for each
	mostTried = 60 // ways that are tried for each
)

// A dayLoad is what a day has of work, and of hours for it, in minutes.
type dayLoad struct{ planned, hours int }

// loadOf sums the work that is placed on each of the coming days, and the hours, of
// everybody or of one person.
func loadOf(q *queue.Queue, today calendar.Day, person int64) map[string]dayLoad {
	loads := map[string]dayLoad{}
	for _, l := range loadByPerson(q, today) {
		for _, p := range l.Loads {
			if person == 0 || p.Person == person {
				sum := loads[l.Day]
				loads[l.Day] = dayLoad{sum.planned + p.Planned, sum.hours + p.Hours}
			}
		}
	}
	return loads
}

// loadByPerson gives the work that is placed on each of the coming days, and the
// hours, of each person.
func loadByPerson(q *queue.Queue, today calendar.Day) []api.LoadDay {
	zone := q.Hours.Zone
	days := make([]api.LoadDay, loadAhead)
	begins := make([]schedule.Minute, loadAhead+1)
	at := map[int64]int{}
	for i := range q.Workers {
		at[q.Workers[i].ID] = i
	}
	for i := range begins {
		day := today.Add(i)
		begins[i] = schedule.At(day.At(0, zone))
		if i == loadAhead {
			break
		}
		days[i] = api.LoadDay{Day: day.String(), Loads: make([]api.PersonLoad, len(q.Workers))}
		if reason, closed := q.Hours.Closed(day); closed {
			days[i].Closed = &reason
		}
		for n := range q.Workers {
			days[i].Loads[n].Person = q.Workers[n].ID
		}
	}
	each := func(s schedule.Span, add func(day, minutes int)) {
		i, _ := slices.BinarySearch(begins, s.From+1)
		for i--; i >= 0 && i < loadAhead && begins[i] < s.To; i++ {
			add(i, int(min(s.To, begins[i+1])-max(s.From, begins[i])))
		}
	}
	for n := range q.Workers {
		for _, s := range q.Workers[n].Free {
			each(s, func(day, minutes int) { days[day].Loads[n].Hours += minutes })
		}
	}
	for _, p := range q.Plan.Pieces {
		each(p.Span, func(day, minutes int) { days[day].Loads[at[p.Person]].Planned += minutes })
	}
	return days
}

// Load tells how the waiting work fills the hours of people, what will be late, and
// what would help.
func (d *Desk) Load(ctx context.Context) (api.WorkLoad, error) {
	view := api.WorkLoad{People: []api.WorkPerson{}, Days: []api.LoadDay{}, Late: []api.LateOrder{}, Nobody: []api.WorkItem{}}
	q, err := d.queue(ctx)
	if err != nil {
		return view, err
	}
	for i := range q.People {
		p := &q.People[i]
		view.People = append(view.People, api.WorkPerson{Id: p.ID, Name: p.Name, Me: who(ctx).user.PersonID == p.ID, Skills: append([]string{}, p.Skills...)})
	}
	today := calendar.DayOf(d.Now().In(q.Hours.Zone))
	for _, day := range loadByPerson(q, today) {
		if hours := slices.ContainsFunc(day.Loads, func(p api.PersonLoad) bool { return p.Hours > 0 }); hours && len(view.Days) < loadDays {
			view.Days = append(view.Days, day)
		}
	}
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		if view.Late, err = d.late(tx, q); err != nil {
			return err
		}
		view.Nobody, err = d.nobody(tx, q)
		return err
	})
	return view, err
}

// nobody shows the items that nobody can do.
func (d *Desk) nobody(tx *store.Tx, q *queue.Queue) ([]api.WorkItem, error) {
	ids := []int64{}
	for _, j := range q.Plan.Jobs() {
		if !q.Plan.At(j.ID).Placed() {
			ids = append(ids, j.ID)
		}
	}
	if len(ids) == 0 {
		return []api.WorkItem{}, nil
	}
	rows, err := tx.OpenItems(store.ItemFilter{IDs: ids, Most: 50})
	if err != nil {
		return nil, err
	}
	return d.items(tx, q.Business, q, rows)
}

// late lists the orders that will be done later than promised, those that are to be
// done first first.
func (d *Desk) late(tx *store.Tx, q *queue.Queue) ([]api.LateOrder, error) {
	late := q.Late()
	slices.SortFunc(late, func(a, b schedule.Later) int { return cmp.Compare(a.Limit, b.Limit) })
	list := []api.LateOrder{}
	for i, l := range late {
		if i == mostLate {
			break
		}
		of, err := d.lineOf(tx, l.Line)
		if err != nil {
			return nil, err
		}
		zone := q.Hours.Zone
		row := api.LateOrder{Line: l.Line, Number: of.Number, Customer: of.Customer, Product: of.Product, Foreseen: apiview.DayString((l.After - 1).Time(), zone)}
		row.Promised = of.Promised
		list = append(list, row)
	}
	return list, nil
}

// A lineName is how an order line is called in lists of work.
type lineName struct {
	Number            int64
	Customer, Product string
	Promised          string // day; empty for none
}

func (d *Desk) lineOf(tx *store.Tx, line int64) (lineName, error) {
	of, err := tx.OwnersOf([]int64{line})
	if err != nil {
		return lineName{}, err
	}
	e, err := d.Editions.Get(tx, of[line].EditionID)
	if err != nil {
		return lineName{}, err
	}
	row, err := tx.LineByID(line)
	if err != nil {
		return lineName{}, err
	}
	b, err := tx.Business()
	n := lineName{Number: of[line].Number, Customer: of[line].Customer, Product: e.Title}
	if row.PromisedAt != nil {
		n.Promised = apiview.DayString(*row.PromisedAt, b.Location())
	}
	return n, err
}

// A helper looks for what would keep the promise of one line that will be late.
type helper struct {
	tx    *store.Tx
	q     *queue.Queue
	line  int64
	tried int
	found []api.Help
}

// LateHelp looks for what would keep the promise of a line that will be late; nothing for
// one that will not.
func (d *Desk) LateHelp(ctx context.Context, line int64, l words.Language) (found []api.Help, err error) {
	q, err := d.queue(ctx)
	if err != nil {
		return nil, err
	}
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		if _, err := tx.LineByID(line); err != nil {
			return problem.Missing(err, l, "not_found")
		}
		if !slices.ContainsFunc(q.Late(), func(late schedule.Later) bool { return late.Line == line }) {
			found = []api.Help{}
			return nil
		}
		found, err = help(tx, q, line)
		return err
	})
	return found, err
}

// help tries a line's items given to somebody else, its items put first, or a rush, or what
// belongs to no order, put last; without making another one late.
func help(tx *store.Tx, q *queue.Queue, line int64) ([]api.Help, error) {
	h := &helper{tx: tx, q: q, line: line, found: []api.Help{}}
	var own, before []schedule.Job
	for _, j := range q.Plan.Jobs() {
		switch {
		case j.Rank == schedule.Begun:
		case j.Line == line:
			own = append(own, j)
		case j.Rank == schedule.First || j.Line == 0:
			before = append(before, j)
		}
	}
	if err := h.others(own); err != nil {
		return nil, err
	}
	first, last := 1, -1
	if err := h.ranked(own, schedule.First, api.Help{Priority: &first}); err != nil {
		return nil, err
	}
	for i := range before { // rush fewer, and leave until later what no order waits for
		if err := h.ranked(before[i:i+1], schedule.Last, api.Help{Priority: &last}); err != nil {
			return nil, err
		}
	}
	return h.found, nil
}

// others tries to give single items to other people who can do them.
func (h *helper) others(own []schedule.Job) error {
	for _, j := range own {
		for i := range h.q.People {
			p := &h.q.People[i]
			able := schedule.Worker{ID: p.ID, Skills: p.Skills}
			if p.ID == h.q.Plan.At(j.ID).Person || j.Skill != "" && !able.Can(&j) {
				continue
			}
			change := j
			change.Person, change.Skill = p.ID, ""
			id, name := p.ID, p.Name
			if err := h.try([]schedule.Job{change}, api.Help{Assigned: &id, Name: &name}); err != nil {
				return err
			}
		}
	}
	return nil
}

// ranked tries to put jobs first, or last.
func (h *helper) ranked(jobs []schedule.Job, rank schedule.Rank, help api.Help) error {
	changed := slices.Clone(jobs)
	for i := range changed {
		changed[i].Rank = rank
	}
	return h.try(changed, help)
}

// try makes the schedule with some jobs changed, and keeps what helps.
func (h *helper) try(changed []schedule.Job, help api.Help) error {
	if h.tried++; h.tried > mostTried || len(h.found) == mostHelp || len(changed) == 0 {
		return nil
	}
	if p, _ := h.q.If(changed); !h.q.Mends(p, h.line) {
		return nil
	}
	for _, j := range changed {
		w, err := h.tx.ItemByID(j.ID)
		if err != nil {
			return err
		}
		help.Items = append(help.Items, api.HelpItem{Id: w.ID, Title: w.Title, Version: w.Version})
	}
	if other := changed[0].Line; other != h.line && other != 0 {
		of, err := h.tx.OwnersOf([]int64{other})
		if err != nil {
			return err
		}
		number := of[other].Number
		help.Number = &number
	}
	h.found = append(h.found, help)
	return nil
}
