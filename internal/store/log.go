package store

import "time"

// A LogEntry says that something happened which people may ask about later: who
// did what, from where and when. No customer's answer stands in it.
type LogEntry struct {
	ID      int64
	At      time.Time
	What    string // a code, which says the words
	Topic   string // what it belongs to
	Who     string // a person's name; empty when nobody was signed in
	Address string // that it came from; empty for what runs by itself
	About   string // what it was done to: an order's number, a title, a count
}

// Log keeps an entry.
func (tx *Tx) Log(e LogEntry) error { return tx.db.Create(&e).Error }

// A LogFilter chooses entries. Empty fields choose all.
type LogFilter struct {
	Topic string
	Text  string // part of who, address or about
	From  time.Time
	Until time.Time
}

// LogEntries lists entries, the newest first, and counts all that there are.
func (tx *Tx) LogEntries(f LogFilter, skip, most int) ([]LogEntry, int64, error) {
	q := tx.db.Model(&LogEntry{})
	if f.Topic != "" {
		q = q.Where("topic = ?", f.Topic)
	}
	if f.Text != "" {
		part := containing(f.Text)
		q = q.Where(`who LIKE ? ESCAPE '\' OR address LIKE ? ESCAPE '\' OR about LIKE ? ESCAPE '\'`, part, part, part)
	}
	if !f.From.IsZero() {
		q = q.Where("at >= ?", f.From.UTC())
	}
	if !f.Until.IsZero() {
		q = q.Where("at < ?", f.Until.UTC())
	}
	var n int64
	if err := q.Count(&n).Error; err != nil {
		return nil, 0, err
	}
	var rows []LogEntry
	err := q.Order("at DESC, id DESC").Offset(skip).Limit(most).Find(&rows).Error
	return rows, n, err
}

// SweepLog takes away the entries from before a time.
func (tx *Tx) SweepLog(before time.Time) error {
	return tx.db.Where("at < ?", before.UTC()).Delete(&LogEntry{}).Error
}
