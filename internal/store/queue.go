package store

import (
	"sync"
	"time"

	"ruvo/internal/core/order"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/workplan"
)

// A Promise is why an order line was promised by a day.
type Promise struct {
	Made    time.Time `json:"made"`
	Ends    time.Time `json:"ends"`             // when the last of its work is done, as it was placed then; zero where nobody is there for it
	By      time.Time `json:"by"`               // the promise: with the slack on top, or as it was put by hand
	Slack   int       `json:"slack,omitempty"`  // working days
	Ahead   int       `json:"ahead,omitempty"`  // minutes of work that waited then
	Own     int       `json:"own"`              // minutes of its own
	Rush    bool      `json:"rush,omitempty"`   // it went before all others
	Booking time.Time `json:"booking,omitzero"` // what was booked then
	Turns   int       `json:"turns,omitempty"`  // how often the customer had accepted or asked for changes
	Author  string    `json:"author,omitempty"` // who put it by hand
	Later   []int64   `json:"later,omitempty"`  // lines whose promise it made late, as a rush can
}

// A Waiting is an open work item as the queue reads it.
type Waiting struct {
	ID, LineID     int64
	Step           workplan.StepKey
	Part           string
	Round          int
	Title, Label   string
	Minutes        int
	ReadyAt, DueAt *time.Time
	AfterStep      workplan.StepKey
	Stuck          bool // it waits for an answer
	Accept         bool // it waits for the customer to accept what AfterStep makes
	Silence        int  // days after which no answer counts as that; 0 for never
	StartedAt      *time.Time
	Taken          *int
	Person         int64
	Skill          string
	During         bool
	AssignedTo     int64
	OwnDueAt       *time.Time
	OwnFromAt      *time.Time
	Priority       int
	TurnAt         *time.Time
	Rush           bool
	PlacedAt       *time.Time
	PromiseEnds    string
	PromisedAt     *time.Time
}

// WaitingItems lists the open work items of some order lines, those without a line
// being of line 0; of all with nil.
func (tx *Tx) WaitingItems(lines []int64) ([]Waiting, error) {
	const columns = `SELECT i.id, COALESCE(i.line_id, 0) AS line_id, i.step, i.part, i.round, i.title, i.label, i.minutes, i.ready_at, i.due_at, i.after_step,
		(i.waits_brief OR COALESCE(i.missing, '') NOT IN ('', 'null', '[]')) AS stuck, i.accept, i.silence, i.started_at, i.taken, i.person, i.skill, i.during, i.assigned_to, i.own_due_at, i.own_from_at, i.priority,
		l.turn_at, COALESCE(l.rush, 0) AS rush, o.placed_at, COALESCE(json_extract(l.promise, '$.ends'), '') AS promise_ends, l.promised_at
		FROM work_items i LEFT JOIN order_lines l ON l.id = i.line_id LEFT JOIN orders o ON o.id = l.order_id
		WHERE i.done_at IS NULL`
	var all []Waiting
	if lines == nil {
		err := tx.db.Raw(columns).Scan(&all).Error
		return all, err
	}
	for len(lines) > 0 {
		n := min(len(lines), 500)
		var part []Waiting
		if err := tx.db.Raw(columns+" AND (i.line_id IN ? OR (? AND i.line_id IS NULL))", lines[:n], contains(lines[:n], 0)).Scan(&part).Error; err != nil {
			return nil, err
		}
		all, lines = append(all, part...), lines[n:]
	}
	return all, nil
}

func contains(list []int64, n int64) bool {
	for _, o := range list {
		if o == n {
			return true
		}
	}
	return false
}

// A Taking is a stretch of time in which a person does nothing else.
type Taking struct {
	Person  int64
	StartAt time.Time
	EndAt   time.Time
}

// PeopleTaken lists what takes the time of people from an instant on: bookings, kept
// times and what their calendars say.
func (tx *Tx) PeopleTaken(people []int64, from, to time.Time) ([]Taking, error) {
	var all []Taking
	for _, q := range []string{
		`SELECT r.resource_id AS person, b.from_at AS start_at, b.to_at AS end_at FROM booking_resources r JOIN bookings b ON b.id = r.booking_id
			JOIN order_lines l ON l.id = b.line_id JOIN orders o ON o.id = l.order_id
			WHERE r.resource_id IN ? AND b.to_at > ? AND b.from_at < ? AND (b.sold OR o.state IN ('` + string(order.Paying) + `', '` + string(order.Awaiting) + `'))`,
		`SELECT resource_id AS person, start_at, end_at FROM busy_times WHERE resource_id IN ? AND end_at > ? AND start_at < ?`,
		`SELECT resource_id AS person, start_at, end_at FROM kept_times WHERE resource_id IN ? AND end_at > ? AND start_at < ?`,
	} {
		var part []Taking
		if err := tx.db.Raw(q, people, from.UTC(), to.UTC()).Scan(&part).Error; err != nil {
			return nil, err
		}
		all = append(all, part...)
	}
	return all, nil
}

// mostChanged bounds the order lines whose changes are known one by one.
const mostChanged = 10_000

// workLog knows which order lines' work changed since when, and when what people
// have time for did. One process writes to a database, so each change passes here.
type workLog struct {
	lock   sync.Mutex
	now    int64
	all    int64 // before this, what changed is not known
	people int64
	lines  map[int64]int64
}

// WorkChanged says what of the queue changed since a mark: some lines' items, or all
// of them, and what people have time for. It gives the next mark.
func (s *Store) WorkChanged(since int64) (lines []int64, all, people bool, mark int64) {
	w := &s.work
	w.lock.Lock()
	defer w.lock.Unlock()
	if since < w.all {
		return nil, true, true, w.now
	}
	for line, at := range w.lines {
		if at > since {
			lines = append(lines, line)
		}
	}
	return lines, false, w.people > since, w.now
}

// note keeps what a transaction changed, once it is kept.
func (w *workLog) note(tx *Tx) {
	if len(tx.worked) == 0 && !tx.peopled {
		return
	}
	w.lock.Lock()
	defer w.lock.Unlock()
	w.now++
	if w.lines == nil || len(w.lines)+len(tx.worked) > mostChanged {
		w.lines, w.all, w.people = map[int64]int64{}, w.now, w.now
	}
	for line := range tx.worked {
		w.lines[line] = w.now
	}
	if tx.peopled {
		w.people = w.now
	}
}

// works notes that the work of an order line, or of none, changes.
func (tx *Tx) works(line int64) {
	if tx.worked == nil {
		tx.worked = map[int64]struct{}{}
	}
	tx.worked[line] = struct{}{}
}

// Keeper gives what is kept in memory beside the database, made when first asked for.
func (s *Store) Keeper(make func(*Store) any) any {
	s.beside.Do(func() { s.kept = make(s) })
	return s.kept
}

// Store gives the store that the transaction is of.
func (tx *Tx) Store() *Store { return tx.store }

// Never stands for the due time of what is due at no time.
var Never = schedule.At(time.Date(2200, 1, 1, 0, 0, 0, 0, time.UTC))

// A Replan is what planning an order line again changed.
type Replan struct {
	ID     int64
	LineID int64
	At     time.Time
	Said   []workplan.Saying `gorm:"serializer:json"`
}

// AddReplan keeps what planning again changed.
func (tx *Tx) AddReplan(r Replan) error { return tx.db.Create(&r).Error }

// Replans lists what planning an order line again changed, the newest first.
func (tx *Tx) Replans(line int64, most int) ([]Replan, error) {
	var rows []Replan
	err := tx.db.Where("line_id = ?", line).Order("id DESC").Limit(most).Find(&rows).Error
	return rows, err
}
