package store

import (
	"encoding/json"
	"time"

	"ruvo/internal/core/question"
)

// A Thing is what a seller asked of one order line beside the questions of its product.
type Thing struct {
	ID         int64
	LineID     int64
	Question   question.Question `gorm:"serializer:json"`
	Value      json.RawMessage   // the answer; nil for none
	Was        string            // the answer before, in words
	AskedAt    time.Time
	AskedBy    string
	AnsweredAt *time.Time
}

// Things lists what was asked of a line, the oldest first.
func (tx *Tx) Things(line int64) ([]Thing, error) { return list[Thing](tx, "id", "line_id = ?", line) }

// ThingByID finds one.
func (tx *Tx) ThingByID(id int64) (Thing, error) { return first[Thing](tx, "id = ?", id) }

// SaveThing adds or updates one.
func (tx *Tx) SaveThing(t *Thing) error { return tx.db.Save(t).Error }

// DropThing takes one back.
func (tx *Tx) DropThing(id int64) error { return tx.db.Delete(&Thing{}, id).Error }
