// Package queue keeps the waiting work of all orders placed into the hours of those
// who do it, in memory, and brings it up to date with what changes.
package queue

import (
	"context"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/workplan"
	"ruvo/internal/store"
)

// horizon is for how many days ahead hours are looked at.
const horizon = 400

// A Queue is the waiting work as it is at one moment. It must not be changed.
type Queue struct {
	*schedule.Queue
	Items    map[int64]store.Waiting // by id
	Stuck    []store.Waiting         // what waits for answers, or on what does
	People   []booking.Resource
	Business store.Business
	Hours    *calendar.Hours

	told  sync.Map // what was found out of it, by a name
	tells atomic.Int64
}

// mostTold bounds what is kept of what was found out.
const mostTold = 20_000

// Told gives what was found out of the queue under a name before, or finds it out.
func Told[T any](q *Queue, name string, find func() T) T {
	if known, is := q.told.Load(name); is {
		return known.(T)
	}
	found := find()
	if q.tells.Add(1) < mostTold {
		q.told.Store(name, found)
	}
	return found
}

// A Keeper keeps the queue of one store.
type Keeper struct {
	store *store.Store

	lock     sync.Mutex
	mark     int64
	read     bool
	lines    map[int64][]store.Waiting
	business store.Business
	day      calendar.Day
	people   []booking.Resource
	workers  []schedule.Worker
	made     *Queue
	minute   schedule.Minute
}

// Of gives the keeper of a store.
func Of(s *store.Store) *Keeper {
	return s.Keeper(func(s *store.Store) any { return &Keeper{store: s} }).(*Keeper)
}

// At gives the queue as it is now, with all that was kept by now. What a transaction
// that is under way changes is not in it.
func (k *Keeper) At(ctx context.Context, now time.Time) (*Queue, error) {
	k.lock.Lock()
	defer k.lock.Unlock()
	lines, all, people, mark := k.store.WorkChanged(k.mark)
	all = all || !k.read
	if k.made != nil && !all && !people && len(lines) == 0 && k.minute == schedule.At(now) {
		return k.made, nil
	}
	err := k.store.ReadApart(ctx, func(tx *store.Tx) (err error) {
		if k.business, err = tx.Business(); err != nil {
			return err
		}
		if day := calendar.DayOf(now.In(k.business.Location())); all || people || day != k.day {
			if err := k.readPeople(tx, &k.business, day); err != nil {
				return err
			}
		}
		return k.readItems(tx, lines, all)
	})
	if err != nil {
		k.read = false // what was read of it may be half of it
		return nil, err
	}
	k.mark, k.read, k.minute = mark, true, schedule.At(now)
	k.made = k.make(&k.business)
	return k.made, nil
}

func (k *Keeper) readPeople(tx *store.Tx, b *store.Business, day calendar.Day) (err error) {
	k.day = day
	k.people, k.workers, err = Workers(tx, b, day, horizon)
	return err
}

// Workers gives the people of a business, and the time that each has for work from a
// day on, for so many days, without what is booked. Where there is nobody, whoever they
// are, they work when the business does.
func Workers(tx *store.Tx, b *store.Business, day calendar.Day, days int) (people []booking.Resource, workers []schedule.Worker, err error) {
	var ids []int64
	for _, r := range b.Resources {
		if r.Person {
			people, ids = append(people, r), append(ids, r.ID)
		}
	}
	hours := b.Hours()
	from := day.At(0, hours.Zone)
	if len(people) == 0 {
		return nil, []schedule.Worker{{Free: schedule.Hours(&booking.Resource{}, hours, nil, from, days)}}, nil
	}
	taken, err := tx.PeopleTaken(ids, from, day.Add(days).At(0, hours.Zone))
	if err != nil {
		return nil, nil, err
	}
	of := map[int64][]schedule.Span{}
	for _, t := range taken {
		of[t.Person] = append(of[t.Person], schedule.Span{From: schedule.At(t.StartAt), To: schedule.At(t.EndAt)})
	}
	for i := range people {
		r := &people[i]
		workers = append(workers, schedule.Worker{ID: r.ID, Skills: r.Skills, Free: schedule.Hours(r, hours, of[r.ID], from, days)})
	}
	return people, workers, nil
}

func (k *Keeper) readItems(tx *store.Tx, lines []int64, all bool) error {
	if all {
		lines, k.lines = nil, map[int64][]store.Waiting{}
	} else if len(lines) == 0 {
		return nil
	}
	rows, err := tx.WaitingItems(lines)
	if err != nil {
		return err
	}
	for _, line := range lines {
		delete(k.lines, line)
	}
	for _, r := range rows {
		k.lines[r.LineID] = append(k.lines[r.LineID], r)
	}
	return nil
}

func (k *Keeper) make(b *store.Business) *Queue {
	n := 0
	for _, items := range k.lines {
		n += len(items)
	}
	q := &Queue{Items: make(map[int64]store.Waiting, n), People: k.people, Business: *b, Hours: b.Hours()}
	jobs := make([]schedule.Job, 0, n)
	limits, promised := map[int64]schedule.Minute{}, map[int64]schedule.Minute{}
	for line, items := range k.lines {
		made, stuck := Jobs(items)
		jobs, q.Stuck = append(jobs, made...), append(q.Stuck, stuck...)
		for _, i := range items {
			q.Items[i.ID] = i
		}
		if ends, err := time.Parse(time.RFC3339, items[0].PromiseEnds); err == nil && !ends.IsZero() && line != 0 {
			limits[line] = q.over(ends)
			if by := items[0].PromisedAt; by != nil {
				promised[line] = q.over(*by)
			}
		}
	}
	q.Queue = schedule.NewQueue(k.workers, jobs, limits, k.minute)
	q.Promised = promised
	return q
}

// over gives when the day of an instant is over: promises are for days.
func (q *Queue) over(t time.Time) schedule.Minute {
	return schedule.At(calendar.DayOf(t.In(q.Hours.Zone)).Add(1).At(0, q.Hours.Zone))
}

// Jobs makes jobs of the open items of one order line, or of those without a line.
// Items that wait for answers, and those that wait on such items, are stuck.
func Jobs(items []store.Waiting) (jobs []schedule.Job, stuck []store.Waiting) {
	held := make([]bool, len(items))
	for i := range items {
		held[i] = items[i].StartedAt == nil && (items[i].Stuck || items[i].ReadyAt == nil && items[i].AfterStep == "")
	}
	after := make([][]int, len(items))
	for i := range items {
		after[i] = awaited(items, i)
		// What it waits on is done: now it is the customer's turn.
		held[i] = held[i] || items[i].Accept && items[i].StartedAt == nil && len(after[i]) == 0
	}
	for changed := true; changed; {
		changed = false
		for i := range items {
			if !held[i] && slices.ContainsFunc(after[i], func(o int) bool { return held[o] }) {
				held[i], changed = true, true
			}
		}
	}
	for i := range items {
		if held[i] {
			stuck = append(stuck, items[i])
			continue
		}
		j := Job(&items[i])
		for _, o := range after[i] {
			j.After = append(j.After, items[o].ID)
		}
		if items[i].Accept {
			j.Lag = schedule.Minute(items[i].Silence) * 24 * 60
		}
		jobs = append(jobs, j)
	}
	return jobs, stuck
}

// awaited gives the items that one waits on: of the same part, where the step that it
// waits on is for the same parts, else all of that step.
func awaited(items []store.Waiting, i int) (of []int) {
	w := &items[i]
	if w.AfterStep == "" || w.StartedAt != nil {
		return nil
	}
	for o := range items {
		if items[o].Step == w.AfterStep && o != i {
			of = append(of, o)
		}
	}
	if same := slices.DeleteFunc(slices.Clone(of), func(o int) bool { return items[o].Part != w.Part }); w.Part != "" && len(same) > 0 {
		return same
	}
	return of
}

// Job makes a job of an item, without what it waits on.
func Job(w *store.Waiting) schedule.Job {
	j := schedule.Job{
		ID: w.ID, Line: w.LineID, Minutes: w.Minutes, Turn: store.Never, Person: w.Person, Skill: w.Skill, During: w.During,
	}
	if w.Taken != nil {
		clock := workplan.Clock{Taken: time.Duration(*w.Taken) * time.Second}
		j.Minutes = clock.Left(w.Minutes)
	}
	switch {
	case w.StartedAt != nil:
		j.Rank = schedule.Begun
	case w.Priority > 0 || w.Priority == 0 && w.Rush:
		j.Rank = schedule.First
	case w.Priority < 0:
		j.Rank = schedule.Last
	}
	if w.AssignedTo != 0 {
		j.Person, j.Skill = w.AssignedTo, ""
	}
	if w.ReadyAt != nil && w.StartedAt == nil {
		j.Ready = schedule.At(*w.ReadyAt)
	}
	if w.OwnFromAt != nil && w.StartedAt == nil {
		j.Ready = max(j.Ready, schedule.At(*w.OwnFromAt))
	}
	switch {
	case w.OwnDueAt != nil:
		j.Turn = schedule.At(*w.OwnDueAt)
	case w.DueAt != nil:
		j.Turn = schedule.At(*w.DueAt)
	}
	if w.TurnAt != nil && w.OwnDueAt == nil {
		j.Turn = max(j.Turn, schedule.At(*w.TurnAt))
	}
	if w.PlacedAt != nil {
		j.Age = schedule.At(*w.PlacedAt)
	}
	return j
}

// WaitingOf makes of a planned item, that may not be kept yet, what the queue reads.
func WaitingOf(i *workplan.Item, id int64, rush bool) store.Waiting {
	return store.Waiting{
		ID: id, Step: i.Step, Part: i.Part, Round: i.Round, Title: i.Title, Label: i.Label, Minutes: i.Minutes,
		ReadyAt: store.Time(i.Ready), DueAt: store.Time(i.Due), AfterStep: i.After, Accept: i.Accept, Silence: i.Silence, Stuck: i.Brief || len(i.Missing) > 0,
		StartedAt: store.Time(i.Started), Person: i.Who.Person, Skill: i.Who.Skill, During: i.During, Rush: rush,
	}
}

// Without gives the queue as it would be without the items of an order line.
func (q *Queue) Without(line int64) *Queue {
	jobs := slices.DeleteFunc(slices.Clone(q.Plan.Jobs()), func(j schedule.Job) bool { return j.Line == line })
	without := &Queue{Queue: schedule.NewQueue(q.Workers, jobs, q.Limits, q.Plan.Now), Items: q.Items, Stuck: q.Stuck, People: q.People, Business: q.Business, Hours: q.Hours}
	without.Promised = q.Promised
	return without
}
