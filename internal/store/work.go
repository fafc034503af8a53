package store

import (
	"time"

	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

// A WorkItem is a work item as it is kept.
type WorkItem struct {
	ID           int64
	LineID       int64
	ProductID    int64
	Step         workplan.StepKey
	Round        int
	Title        string
	Instructions string
	Minutes      int
	Missing      []question.Key `gorm:"serializer:json"`
	AfterStep    workplan.StepKey
	WaitsBrief   bool
	ReadyAt      *time.Time
	DueAt        *time.Time
	Uses         map[question.Key]string `gorm:"serializer:json"`
	StartedAt    *time.Time
	DoneAt       *time.Time
	Seen         map[question.Key]string `gorm:"serializer:json"`
	Marks        []workplan.Mark         `gorm:"serializer:json"`
}

// Plan gives the item as the work plan knows it.
func (w *WorkItem) Plan() workplan.Item {
	return workplan.Item{
		Step: w.Step, Round: w.Round, Title: w.Title, Instructions: w.Instructions, Minutes: w.Minutes,
		Missing: w.Missing, After: w.AfterStep, Brief: w.WaitsBrief, Ready: When(w.ReadyAt), Due: When(w.DueAt),
		Uses: w.Uses, Started: When(w.StartedAt), Done: When(w.DoneAt), Seen: w.Seen, Marks: w.Marks,
	}
}

// Take makes the row what the work plan says of the item.
func (w *WorkItem) Take(i workplan.Item) {
	w.Step, w.Round, w.Title, w.Instructions, w.Minutes = i.Step, i.Round, i.Title, i.Instructions, i.Minutes
	w.Missing, w.AfterStep, w.WaitsBrief, w.ReadyAt, w.DueAt = i.Missing, i.After, i.Brief, Time(i.Ready), Time(i.Due)
	w.Uses, w.StartedAt, w.DoneAt, w.Seen, w.Marks = i.Uses, Time(i.Started), Time(i.Done), i.Seen, i.Marks
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
	return tx.db.Create(&items).Error
}

// SaveItem updates a work item.
func (tx *Tx) SaveItem(w *WorkItem) error { return tx.db.Save(w).Error }

// DropItem takes a work item away.
func (tx *Tx) DropItem(id int64) error { return tx.db.Delete(&WorkItem{}, id).Error }

// An ItemFilter narrows the list of open work items. Zero fields do not.
type ItemFilter struct {
	Product int64
	Step    workplan.StepKey
	Until   time.Time // due before; items without a due time are left out
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
		q = q.Where("due_at < ?", f.Until.UTC())
	}
	var items []WorkItem
	err := q.Order("due_at IS NULL, due_at, id").Limit(f.Most).Find(&items).Error
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
		FROM work_items WHERE done_at IS NULL GROUP BY product_id, step ORDER BY product_id, MIN(id)`).Scan(&rows).Error
	return rows, err
}

// A Load is the work due on one day, in minutes.
type Load struct {
	DueAt   time.Time
	Minutes int
}

// OpenLoad lists due times and minutes of open items that are due before a time.
func (tx *Tx) OpenLoad(until time.Time) ([]Load, error) {
	var rows []Load
	err := tx.db.Raw("SELECT due_at, minutes FROM work_items WHERE done_at IS NULL AND due_at < ?", until.UTC()).Scan(&rows).Error
	return rows, err
}
