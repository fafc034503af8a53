package store

import "time"

// What a feed shows.
const (
	FeedAll      = "all"
	FeedResource = "resource"
	FeedWork     = "work"
)

// A Feed lets a calendar program read what is booked, or the work that is due,
// by a private address. The address itself is not kept.
type Feed struct {
	ID         int64
	Hash       string
	Shows      string
	ResourceID int64 // of which, if it shows one
	Author     string
	CreatedAt  time.Time
	RevokedAt  *time.Time
}

// AddFeed keeps a feed.
func (tx *Tx) AddFeed(f *Feed) error { return tx.db.Create(f).Error }

// Feeds lists the feeds that nobody ended, the oldest first.
func (tx *Tx) Feeds() ([]Feed, error) { return list[Feed](tx, "id", "revoked_at IS NULL") }

// FeedByHash finds a feed that nobody ended.
func (tx *Tx) FeedByHash(hash string) (Feed, error) {
	return first[Feed](tx, "hash = ? AND revoked_at IS NULL", hash)
}

// RevokeFeed ends a feed.
func (tx *Tx) RevokeFeed(id int64, at time.Time) error {
	return tx.db.Model(&Feed{}).Where("id = ?", id).Update("revoked_at", at.UTC()).Error
}

// A BusyTime closes a time of a resource, as a calendar says that is kept elsewhere.
type BusyTime struct {
	ID         int64
	ResourceID int64
	Source     string
	StartAt    time.Time
	EndAt      time.Time
	Summary    string
	ReadAt     time.Time
}

// SetBusy replaces the times that a source closes of a resource.
func (tx *Tx) SetBusy(resource int64, source string, times []BusyTime) error {
	tx.peopled = true
	if err := tx.db.Where("resource_id = ? AND source = ?", resource, source).Delete(&BusyTime{}).Error; err != nil || len(times) == 0 {
		return err
	}
	return tx.db.CreateInBatches(times, 500).Error
}

// Busy lists the closed times of resources that touch a stretch of time, in order.
func (tx *Tx) Busy(resources []int64, from, to time.Time) ([]BusyTime, error) {
	return list[BusyTime](tx, "start_at, id", "resource_id IN ? AND end_at > ? AND start_at < ?", resources, from.UTC(), to.UTC())
}

// A BusySource is a calendar that was read for a resource.
type BusySource struct {
	ResourceID int64
	Source     string
	Times      int
	ReadAt     string
	Until      string
}

// BusySources lists the calendars that were read.
func (tx *Tx) BusySources() ([]BusySource, error) {
	var rows []BusySource
	err := tx.db.Raw(`SELECT resource_id, source, COUNT(*) AS times, MAX(read_at) AS read_at, MAX(end_at) AS until FROM busy_times GROUP BY resource_id, source ORDER BY resource_id, source`).Scan(&rows).Error
	return rows, err
}
