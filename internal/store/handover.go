package store

import (
	"time"

	"ruvo/internal/core/handover"
	"ruvo/internal/core/money"
	"ruvo/internal/core/workplan"
)

// A Handover is finished files, links and a message that were given to a customer.
type Handover struct {
	ID         int64
	LineID     int64
	Step       workplan.StepKey // that made it; empty for none in particular
	Whole      bool             // with it all of the line is handed over
	Message    string
	Links      []FinishedLink `gorm:"serializer:json"`
	State      handover.State
	Asks       bool // the customer is asked to accept it
	MadeAt     time.Time
	MadeBy     string
	SilentAt   *time.Time // when no answer counts as acceptance
	OpenedAt   *time.Time // by the customer, for the first time
	AnsweredAt *time.Time
	AnsweredBy string     // the customer's or a person's name; empty for nobody, by silence
	UntilAt    *time.Time // when its files go
	WarnAt     *time.Time // when the customer is told so; nil once they were
}

// A FinishedLink leads to something that is handed over elsewhere.
type FinishedLink struct {
	Title   string `json:"title"`
	Address string `json:"address"`
}

// A HandoverFile is a file of a handover.
type HandoverFile struct {
	ID           int64
	HandoverID   int64
	Position     int
	Upload       string // the name of its file in the folder
	Name         string
	Size         int64
	Type         string
	Width        int
	Height       int
	OpenedAt     *time.Time // by the customer
	DownloadedAt *time.Time
	Downloads    int
	GoneAt       *time.Time // when it was taken away
}

// A ChangeRequest is what a customer asked to be changed.
type ChangeRequest struct {
	ID         int64
	HandoverID int64
	LineID     int64
	Step       workplan.StepKey
	At         time.Time
	Words      string
	Marks      []handover.Mark `gorm:"serializer:json"`
	Price      money.Amount    // what its round costs beyond those that were included
}

// AddHandover adds a handover with its files.
func (tx *Tx) AddHandover(h *Handover, files []HandoverFile) error {
	if err := tx.db.Create(h).Error; err != nil || len(files) == 0 {
		return err
	}
	for i := range files {
		files[i].HandoverID, files[i].Position = h.ID, i+1
	}
	return tx.db.CreateInBatches(files, 200).Error
}

// SaveHandover keeps what became of a handover.
func (tx *Tx) SaveHandover(h *Handover) error { return tx.db.Save(h).Error }

// Handover finds a handover.
func (tx *Tx) Handover(id int64) (Handover, error) { return first[Handover](tx, "id = ?", id) }

// Handovers lists those of an order line, the newest first.
func (tx *Tx) Handovers(line int64) ([]Handover, error) {
	return list[Handover](tx, "id DESC", "line_id = ?", line)
}

// FilesOfHandovers lists the files of handovers by their ids.
func (tx *Tx) FilesOfHandovers(ids []int64) (map[int64][]HandoverFile, error) {
	rows, err := list[HandoverFile](tx, "handover_id, position", "handover_id IN ?", ids)
	of := make(map[int64][]HandoverFile, len(ids))
	for _, f := range rows {
		of[f.HandoverID] = append(of[f.HandoverID], f)
	}
	return of, err
}

// HandoverFile finds a file that was handed over.
func (tx *Tx) HandoverFile(id int64) (HandoverFile, error) {
	return first[HandoverFile](tx, "id = ?", id)
}

// SaveHandoverFile keeps what became of a file.
func (tx *Tx) SaveHandoverFile(f *HandoverFile) error { return tx.db.Save(f).Error }

// AddChangeRequest adds what a customer asked to be changed.
func (tx *Tx) AddChangeRequest(r *ChangeRequest) error { return tx.db.Create(r).Error }

// ChangeRequests lists those of an order line, the newest first.
func (tx *Tx) ChangeRequests(line int64) ([]ChangeRequest, error) {
	return list[ChangeRequest](tx, "id DESC", "line_id = ?", line)
}

// ChangeRequest finds one.
func (tx *Tx) ChangeRequest(id int64) (ChangeRequest, error) {
	return first[ChangeRequest](tx, "id = ?", id)
}

// SilentHandovers lists those that count as accepted by now, as nobody answered.
func (tx *Tx) SilentHandovers(now time.Time) ([]Handover, error) {
	return list[Handover](tx, "id", "silent_at IS NOT NULL AND silent_at <= ? AND state = ?", now.UTC(), handover.Given)
}

// AskedHandovers lists those that wait for their customers' answers, the longest wait
// first, of order lines that were not cancelled.
func (tx *Tx) AskedHandovers(most int) ([]Handover, error) {
	var rows []Handover
	err := tx.db.Raw(`SELECT h.* FROM handovers h JOIN order_lines l ON l.id = h.line_id WHERE h.state = ? AND h.asks AND l.placed AND l.cancelled_at IS NULL
		AND NOT EXISTS (SELECT 1 FROM handovers n WHERE n.line_id = h.line_id AND n.step = h.step AND n.id > h.id AND n.state <> ?) ORDER BY h.id LIMIT ?`,
		handover.Given, handover.Withdrawn, most).Scan(&rows).Error
	return rows, err
}

// EndingHandovers lists those whose customers are to be told that the files go.
func (tx *Tx) EndingHandovers(now time.Time) ([]Handover, error) {
	return list[Handover](tx, "id", "warn_at IS NOT NULL AND warn_at <= ?", now.UTC())
}

// EndedFiles lists files whose time is over and that are still there.
func (tx *Tx) EndedFiles(now time.Time) ([]HandoverFile, error) {
	return list[HandoverFile](tx, "id", "gone_at IS NULL AND handover_id IN (SELECT id FROM handovers WHERE until_at IS NOT NULL AND until_at <= ?)", now.UTC())
}

// FileStillGiven says whether a file of the folder is part of a handover that is there
// to be seen.
func (tx *Tx) FileStillGiven(upload string) (bool, error) {
	var n int64
	err := tx.db.Model(&HandoverFile{}).Where("upload = ? AND gone_at IS NULL", upload).Count(&n).Error
	return n > 0, err
}

// UnhandedLines lists order lines that can be handed over: those that are not yet, the
// newest first, and those of orders with some numbers.
func (tx *Tx) UnhandedLines(numbers []int64, most int) ([]ListedLine, error) {
	var rows []ListedLine
	err := tx.db.Raw(`SELECT l.*, o.number, o.name, o.email, o.currency, o.placed_at, o.ordered_at, o.state, o.total FROM order_lines l JOIN orders o ON o.id = l.order_id
		WHERE l.id IN (SELECT id FROM (SELECT id FROM order_lines WHERE placed = 1 AND handed_at IS NULL AND cancelled_at IS NULL ORDER BY id DESC LIMIT ?))
		OR o.number IN (SELECT value FROM json_each(?)) AND l.placed = 1 AND l.cancelled_at IS NULL ORDER BY l.id DESC`, most, idList(numbers)).Scan(&rows).Error
	return rows, err
}

// OpenParts gives what the open work of order lines is called that is for parts of
// them.
func (tx *Tx) OpenParts(lines []int64) (map[int64][]string, error) {
	var rows []struct {
		LineID int64
		Label  string
	}
	err := tx.db.Raw("SELECT line_id, label FROM work_items WHERE label <> '' AND done_at IS NULL AND line_id IN (SELECT value FROM json_each(?))", idList(lines)).Scan(&rows).Error
	of := map[int64][]string{}
	for _, r := range rows {
		of[r.LineID] = append(of[r.LineID], r.Label)
	}
	return of, err
}

// SentNames gives the names of the files that customers sent with orders.
func (tx *Tx) SentNames(orders []int64) (map[int64][]string, error) {
	var rows []struct {
		OrderID int64
		Name    string
	}
	err := tx.db.Raw("SELECT order_id, name FROM uploads WHERE NOT desk AND order_id IN (SELECT value FROM json_each(?))", idList(orders)).Scan(&rows).Error
	of := map[int64][]string{}
	for _, r := range rows {
		of[r.OrderID] = append(of[r.OrderID], r.Name)
	}
	return of, err
}
