package store

import (
	"time"

	"gorm.io/gorm/clause"
)

// A Notice is what a payment service told of its own accord, kept until what it
// is about was asked for.
type Notice struct {
	ID      string `gorm:"primaryKey"`
	Attempt string
	At      time.Time
	Tries   int
	WorkAt  *time.Time // when it is worked on next; nil once that is done
}

// AddNotice keeps a notice, once for each id; new is false for one that came
// before.
func (tx *Tx) AddNotice(n *Notice) (added bool, err error) {
	r := tx.db.Clauses(clause.OnConflict{DoNothing: true}).Create(n)
	return r.RowsAffected > 0, r.Error
}

// NoticesToWork lists the notices whose time has come.
func (tx *Tx) NoticesToWork(now time.Time) ([]Notice, error) {
	var rows []Notice
	err := tx.db.Where("work_at IS NOT NULL AND (work_at <= ? OR work_at > ?)", now.UTC(), now.Add(longestPause).UTC()).Order("at, id").Limit(200).Find(&rows).Error
	return rows, err
}

// SaveNotice updates a notice.
func (tx *Tx) SaveNotice(n *Notice) error { return tx.db.Save(n).Error }

// SweepNotices forgets the notices that were worked on, once they are so old
// that nobody takes them if they come again.
func (tx *Tx) SweepNotices(before time.Time) error {
	return tx.db.Exec("DELETE FROM notices WHERE work_at IS NULL AND at < ?", before.UTC()).Error
}
