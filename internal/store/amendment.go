package store

import (
	"encoding/json"
	"time"

	"ruvo/internal/core/brief"
	"ruvo/internal/core/question"
)

// An Amendment is a change of an answer that a customer asks for once they can no longer
// make it; the seller takes it over, or refuses it.
type Amendment struct {
	ID         int64
	LineID     int64
	Key        question.Key
	Value      json.RawMessage `gorm:"serializer:json"`
	Old        string          // in the words of the time
	New        string
	Why        string
	State      brief.Asked
	At         time.Time
	AnsweredAt *time.Time
	AnsweredBy string
	Reply      string
}

// Amendments lists what was asked for of an order line, the oldest first.
func (tx *Tx) Amendments(line int64) ([]Amendment, error) {
	return list[Amendment](tx, "id", "line_id = ?", line)
}

// Amendment finds one.
func (tx *Tx) Amendment(id int64) (Amendment, error) { return first[Amendment](tx, "id = ?", id) }

// OpenAmendments lists those that wait for the seller, the oldest first.
func (tx *Tx) OpenAmendments() ([]Amendment, error) {
	return list[Amendment](tx, "id", "state = ?", brief.Waiting)
}

// SaveAmendment adds or updates one.
func (tx *Tx) SaveAmendment(a *Amendment) error { return tx.db.Save(a).Error }
