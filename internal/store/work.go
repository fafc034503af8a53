package store

import (
	"encoding/json"
	"errors"
	"time"

	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

// A WorkItem is a work item as it is kept.
type WorkItem struct {
	ID           int64
	LineID       int64 `gorm:"serializer:nullzero"` // 0 belongs to no order
	ProductID    int64 `gorm:"serializer:nullzero"`
	Step         workplan.StepKey
	Part         string
	Place        int
	Label        string
	Round        int
	Title        string
	Instructions string
	Minutes      int
	Missing      []question.Key `gorm:"serializer:json"`
	AfterStep    workplan.StepKey
	WaitsBrief   bool
	Accept       bool  // it waits for the customer to accept what AfterStep made
	Silence      int   // days after which no answer counts as that; 0 for never
	Request      int64 // the request for changes that it answers; 0 for none
	ReadyAt      *time.Time
	DueAt        *time.Time
	Person       int64 // who does it, of the business's resources; 0 leaves it open
	Skill        string
	Booked       bool                    // by who was booked
	During       bool                    // in the booked time
	Checks       []string                `gorm:"serializer:json"`
	Uses         map[question.Key]string `gorm:"serializer:json"`
	Unneeded     bool
	StartedAt    *time.Time
	DoneAt       *time.Time // finished, or set aside
	SetAside     bool
	Seen         map[question.Key]string `gorm:"serializer:json"`
	Marks        []workplan.Mark         `gorm:"serializer:json"`

	// What people decided. Planning never changes it.
	AssignedTo int64      // the person whom the seller gave it to; 0 as planned
	OwnDueAt   *time.Time // instead of the planned one
	OwnFromAt  *time.Time // not before this, whatever it waits for otherwise
	Priority   int        // above zero before all others, below zero after
	Note       string
	Ticked     []string   `gorm:"serializer:json"` // of the checklist
	Files      []ItemFile `gorm:"serializer:json"` // that lie beside it
	Repeats    string     // of an item by hand: when it comes again, as an RRULE; empty for once
	ByAt       *time.Time // when it is to be done: by the seller's own due time, else the planned one
	Version    int        // counts what people changed

	// How long it takes.
	Taken     *int       // seconds so far; nil when nobody measured
	SinceAt   *time.Time // when what runs was last counted; nil while nobody works on it
	BegunBy   int64      // the user who works, or worked, on it
	BegunName string
}

// An ItemFile is a file that somebody laid beside an item.
type ItemFile struct {
	File   string `json:"file"` // the upload
	Name   string `json:"name"`
	Type   string `json:"type"`
	Size   int64  `json:"size"`
	Width  int    `json:"width,omitempty"` // pixels, of a picture
	Height int    `json:"height,omitempty"`
}

// Plan gives the item as the work plan knows it.
func (w *WorkItem) Plan() workplan.Item {
	return workplan.Item{
		Step: w.Step, Part: w.Part, Place: w.Place, Label: w.Label, Round: w.Round, Title: w.Title, Instructions: w.Instructions, Minutes: w.Minutes,
		Missing: w.Missing, After: w.AfterStep, Brief: w.WaitsBrief, Accept: w.Accept, Silence: w.Silence, Request: w.Request, Ready: When(w.ReadyAt), Due: When(w.DueAt),
		Who: workplan.Who{Person: w.Person, Skill: w.Skill, Booked: w.Booked}, During: w.During, Checks: w.Checks,
		Uses: w.Uses, Unneeded: w.Unneeded, Started: When(w.StartedAt), Done: When(w.DoneAt), SetAside: w.SetAside, Seen: w.Seen, Marks: w.Marks,
	}
}

// Take makes the row what the work plan says of the item.
func (w *WorkItem) Take(i workplan.Item) {
	w.Step, w.Part, w.Place, w.Label, w.Round = i.Step, i.Part, i.Place, i.Label, i.Round
	w.Title, w.Instructions, w.Minutes = i.Title, i.Instructions, i.Minutes
	w.Missing, w.AfterStep, w.WaitsBrief, w.ReadyAt, w.DueAt = i.Missing, i.After, i.Brief, Time(i.Ready), Time(i.Due)
	w.Accept, w.Silence, w.Request = i.Accept, i.Silence, i.Request
	w.Person, w.Skill, w.Booked, w.During, w.Checks = i.Who.Person, i.Who.Skill, i.Who.Booked, i.During, i.Checks
	w.Uses, w.Unneeded, w.StartedAt, w.DoneAt, w.SetAside, w.Seen, w.Marks = i.Uses, i.Unneeded, Time(i.Started), Time(i.Done), i.SetAside, i.Seen, i.Marks
	if w.DoneAt != nil { // nobody works on what is done
		w.SinceAt = nil
	}
}

// By has the item known by when it is to be done: by its own due time where people
// gave it one, else by when it is planned, but not after its order is promised.
func (w *WorkItem) By(promised *time.Time) {
	switch {
	case w.OwnDueAt != nil:
		w.ByAt = w.OwnDueAt
	case w.DueAt != nil && promised != nil && promised.Before(*w.DueAt):
		w.ByAt = promised
	default:
		w.ByAt = w.DueAt
	}
}

// Items lists the work items of an order line in the order they were planned.
func (tx *Tx) Items(line int64) ([]WorkItem, error) {
	return list[WorkItem](tx, "id", "line_id = ?", line)
}

// ItemByID finds a work item.
func (tx *Tx) ItemByID(id int64) (WorkItem, error) { return first[WorkItem](tx, "id = ?", id) }

// AddItems adds work items.
func (tx *Tx) AddItems(items []WorkItem) error {
	if len(items) == 0 {
		return nil
	}
	for i := range items {
		tx.works(items[i].LineID)
	}
	return tx.db.Create(&items).Error
}

// SaveItem updates a work item.
func (tx *Tx) SaveItem(w *WorkItem) error {
	tx.works(w.LineID)
	return tx.db.Save(w).Error
}

// DropItem takes a work item away.
func (tx *Tx) DropItem(w *WorkItem) error {
	tx.works(w.LineID)
	return tx.db.Delete(&WorkItem{}, w.ID).Error
}

// An ItemFilter narrows the list of open work items. Zero fields do not.
type ItemFilter struct {
	Product int64
	Step    workplan.StepKey
	Until   time.Time // due before; items without a due time are left out
	IDs     []int64   // only these; nil for all
	Skip    int       // so many before the first
	Most    int
}

// OpenItems lists work items that are not done, by due time, those without
// one last.
func (tx *Tx) OpenItems(f ItemFilter) ([]WorkItem, error) {
	q := tx.db.Where("done_at IS NULL")
	if f.Product != 0 {
		q = q.Where("product_id = ? AND step = ?", f.Product, f.Step)
	}
	if !f.Until.IsZero() {
		q = q.Where("by_at < ?", f.Until.UTC())
	}
	if f.IDs != nil {
		q = q.Where("id IN (SELECT value FROM json_each(?))", idList(f.IDs))
	}
	var items []WorkItem
	err := q.Order("by_at IS NULL, by_at, id").Offset(f.Skip).Limit(f.Most).Find(&items).Error
	return items, err
}

// CountOpenItems counts the items that are not done.
func (tx *Tx) CountOpenItems() (n int, err error) {
	err = tx.db.Raw("SELECT COUNT(*) FROM work_items WHERE done_at IS NULL").Scan(&n).Error
	return n, err
}

// An OpenStep counts the open items of one step.
type OpenStep struct {
	ProductID int64
	Step      workplan.StepKey
	Title     string
	N         int
	Minutes   int
}

// OpenSteps lists the steps that have open items.
func (tx *Tx) OpenSteps() ([]OpenStep, error) {
	var rows []OpenStep
	err := tx.db.Raw(`SELECT product_id, step, MAX(title) AS title, COUNT(*) AS n, SUM(minutes) AS minutes
		FROM work_items WHERE done_at IS NULL AND step <> '' GROUP BY product_id, step ORDER BY product_id, MIN(id)`).Scan(&rows).Error
	return rows, err
}

// A Load is the work due on one day, in minutes.
type Load struct {
	ByAt    time.Time
	Minutes int
}

// OpenLoad lists due times and minutes of open items that are due before a time.
func (tx *Tx) OpenLoad(until time.Time) ([]Load, error) {
	var rows []Load
	err := tx.db.Raw("SELECT by_at, minutes FROM work_items WHERE done_at IS NULL AND by_at < ?", until.UTC()).Scan(&rows).Error
	return rows, err
}

// idList writes ids as a JSON list: a query has a bounded number of parameters.
func idList(ids []int64) string {
	raw, err := json.Marshal(ids)
	if err != nil {
		return "[]"
	}
	return string(raw)
}

// DropRepeated takes away the item that a repeating one left behind when it was done,
// unless somebody began it.
func (tx *Tx) DropRepeated(w *WorkItem) error {
	tx.works(0)
	return tx.db.Where("line_id IS NULL AND step = '' AND place = ? AND started_at IS NULL", w.ID).Delete(&WorkItem{}).Error
}

// Clock gives how long the item was worked on.
func (w *WorkItem) Clock() workplan.Clock {
	c := workplan.Clock{Since: When(w.SinceAt)}
	if w.Taken != nil {
		c.Taken = time.Duration(*w.Taken) * time.Second
	}
	return c
}

// Keep takes over how long the item was worked on.
func (w *WorkItem) Keep(c workplan.Clock) {
	seconds := int((c.Taken + time.Second/2) / time.Second)
	w.Taken, w.SinceAt = &seconds, Time(c.Since)
}

// Running lists the items that somebody works on now.
func (tx *Tx) Running(user int64) ([]WorkItem, error) {
	return list[WorkItem](tx, "id", "begun_by = ? AND since_at IS NOT NULL", user)
}

// A WorksheetLayout is how people look at the worksheet of a step.
type WorksheetLayout struct {
	ProductID int64            `gorm:"primaryKey;autoIncrement:false"`
	Step      workplan.StepKey `gorm:"primaryKey"`
	Columns   []question.Key   `gorm:"serializer:json"` // in their order; none for those that the step needs
	Grouped   string           // by a column, "due" or "customer"; empty for not
}

// Layout gives how people look at a worksheet; the zero layout where nobody said.
func (tx *Tx) Layout(product int64, step workplan.StepKey) (WorksheetLayout, error) {
	l, err := first[WorksheetLayout](tx, "product_id = ? AND step = ?", product, step)
	if errors.Is(err, ErrNotFound) {
		return WorksheetLayout{ProductID: product, Step: step}, nil
	}
	return l, err
}

// SaveLayout keeps how people look at a worksheet.
func (tx *Tx) SaveLayout(l WorksheetLayout) error { return tx.db.Save(&l).Error }
