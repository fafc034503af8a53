package store

import (
	"encoding/json"
	"slices"
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/question"
)

// How a wait ended.
const (
	WaitTaken  = "taken"  // what was offered was taken
	WaitPassed = "passed" // the offer ran out
	WaitLeft   = "left"   // whoever waited does not any more
	WaitOver   = "over"   // what was waited for has begun
)

// A Wait is somebody who waits for what is booked up. Once something comes free it is
// offered to them, and held until the offer runs out.
type Wait struct {
	ID           int64
	ProductID    int64
	StartAt      time.Time
	EndAt        time.Time
	FromAt       *time.Time // what nothing else may have while it is offered
	ToAt         *time.Time
	Private      bool
	Resources    []booking.ResourceID `gorm:"serializer:json"`
	Meetings     []question.Meeting   `gorm:"serializer:json"` // of a course
	MeetingsOf   int                  // that the whole course has
	People       int
	Answers      map[string]json.RawMessage `gorm:"serializer:json"` // that decide what can be booked
	Chosen       []booking.ResourceID       `gorm:"serializer:json"`
	Name         string
	Email        string
	Language     string
	CreatedAt    time.Time
	Hash         string // of the secret in the offer's address
	OfferedAt    *time.Time
	OfferedUntil *time.Time
	DoneAt       *time.Time
	Outcome      string
}

// Wanted is what is waited for.
func (w *Wait) Wanted() question.Booking {
	return question.Booking{Start: w.StartAt, End: w.EndAt, People: w.People, With: w.Chosen, Meetings: w.Meetings, Of: w.MeetingsOf}
}

// SaveWait adds or updates a wait.
func (tx *Tx) SaveWait(w *Wait) error { return tx.db.Save(w).Error }

// OpenWaits lists those who wait, the longest first.
func (tx *Tx) OpenWaits() ([]Wait, error) { return list[Wait](tx, "created_at, id", "done_at IS NULL") }

// WaitsBetween lists those who wait for what begins in a stretch of time.
func (tx *Tx) WaitsBetween(from, to time.Time) ([]Wait, error) {
	return list[Wait](tx, "start_at, created_at, id", "done_at IS NULL AND start_at >= ? AND start_at < ?", from.UTC(), to.UTC())
}

// WaitByHash finds a wait.
func (tx *Tx) WaitByHash(hash string) (Wait, error) { return first[Wait](tx, "hash = ?", hash) }

// Waiting says whether an address waits for something already.
func (tx *Tx) Waiting(product int64, start time.Time, email string) (bool, error) {
	rows, err := list[Wait](tx, "id", "done_at IS NULL AND product_id = ? AND start_at = ? AND email = ?", product, start.UTC(), email)
	return len(rows) > 0, err
}

// offered lists what is held for those to whom it is offered.
func (tx *Tx) offered(product int64, needs []booking.ResourceID, from, to, now time.Time) ([]booking.Taken, error) {
	rows, err := list[Wait](tx, "id", "done_at IS NULL AND offered_until > ? AND start_at < ? AND end_at > ?", now.UTC(), to.UTC(), from.UTC())
	var taken []booking.Taken
	for _, w := range rows {
		shares := slices.ContainsFunc(w.Resources, func(id booking.ResourceID) bool { return slices.Contains(needs, id) })
		if w.ProductID != product && !shares {
			continue
		}
		t := booking.Taken{Start: w.StartAt, End: w.EndAt, From: When(w.FromAt), To: When(w.ToAt), People: w.People, Product: w.ProductID, Private: w.Private, With: w.Resources, Wait: w.ID}
		if len(w.Meetings) == 0 {
			taken = append(taken, t)
		}
		// What is needed around a meeting is as much as around the whole.
		before, after := w.StartAt.Sub(t.From), t.To.Sub(w.EndAt)
		for _, m := range w.Meetings {
			t.Start, t.End, t.From, t.To = m.Start, m.End, m.Start.Add(-before), m.End.Add(after)
			taken = append(taken, t)
		}
	}
	return taken, err
}
