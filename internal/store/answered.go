package store

import (
	"time"

	"gorm.io/gorm/clause"
)

// An Answered is a request with an idempotency key, and the answer that it got.
// The key is kept as a hash, and the answer so that only who has the key can
// read it.
type Answered struct {
	Key     string `gorm:"primaryKey"` // hash, of the key with whose it is
	Request string // hash of what was asked for
	At      time.Time
	Status  int // 0 while it is worked on
	Type    string
	Answer  []byte
}

// TableName is answered_requests.
func (Answered) TableName() string { return "answered_requests" }

// Reserve notes that a request is worked on; when its key was used before, it
// gives what was noted then.
func (tx *Tx) Reserve(a Answered) (before Answered, used bool, err error) {
	r := tx.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&a)
	if r.Error != nil || r.RowsAffected > 0 {
		return Answered{}, false, r.Error
	}
	before, err = first[Answered](tx, "key = ?", a.Key)
	return before, true, err
}

// Answer keeps the answer to a request that was reserved.
func (tx *Tx) Answer(a Answered) error { return tx.db.Save(&a).Error }

// Unreserve forgets a request that came to nothing.
func (tx *Tx) Unreserve(key string) error {
	return tx.db.Exec("DELETE FROM answered_requests WHERE key = ?", key).Error
}

// SweepAnswered forgets requests from before a time.
func (tx *Tx) SweepAnswered(before time.Time) error {
	return tx.db.Exec("DELETE FROM answered_requests WHERE at < ?", before.UTC()).Error
}
