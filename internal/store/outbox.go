package store

import (
	"time"
)

// A Way is how a message goes out.
type Way string

const (
	ByMail Way = "mail" // a mail
	ByText Way = "text" // a text message to a phone
)

// A Message is written together with what it tells of, and sent afterwards.
type Message struct {
	ID        int64
	Key       string // makes writing the same message twice harmless
	Way       Way
	Recipient string // a mail address, or a phone number in E.164
	Subject   string // of a mail
	Body      string
	Code      string // the text of a payment code that goes along as a picture
	Calendar  string // a calendar (RFC 5545) that goes along
	CreatedAt time.Time
	SentAt    *time.Time
	Tries     int        // that failed
	NextAt    *time.Time // of the next try; nil for at once
	Failure   string     // of the last try that failed
}

// TableName is the outbox.
func (Message) TableName() string { return "outbox" }

// WriteMessage puts a message into the outbox, once for each key.
func (tx *Tx) WriteMessage(m Message) error {
	return tx.db.Exec(`INSERT INTO outbox (key, way, recipient, subject, body, code, calendar, created_at, sent_at, tries, next_at, failure) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING`,
		m.Key, m.Way, m.Recipient, m.Subject, m.Body, m.Code, m.Calendar, m.CreatedAt, m.SentAt, m.Tries, m.NextAt, m.Failure).Error
}

// MessageWritten says whether a message was written under a key.
func (tx *Tx) MessageWritten(key string) (bool, error) {
	var n int64
	err := tx.db.Model(&Message{}).Where("key = ?", key).Count(&n).Error
	return n > 0, err
}

// longestPause is longer than any pause between two tries. What is to be tried
// again after it was put off while the clock was wrong.
const longestPause = 24 * time.Hour

// MessagesToSend gives messages that still have to go out and may be tried now, the
// oldest first.
func (tx *Tx) MessagesToSend(now time.Time, most int) ([]Message, error) {
	var m []Message
	err := tx.db.Where("sent_at IS NULL AND (next_at IS NULL OR next_at <= ? OR next_at > ?)", now.UTC(), now.Add(longestPause).UTC()).Order("id").Limit(most).Find(&m).Error
	return m, err
}

// MessageSent notes that a message went out. From then on its private links are
// only where it went to.
func (tx *Tx) MessageSent(m *Message, at time.Time) error {
	return tx.db.Model(&Message{}).Where("id = ?", m.ID).Updates(map[string]any{"sent_at": at.UTC(), "failure": "", "body": withoutSecrets(m.Body)}).Error
}

// MessageFailed notes that a message did not go out, why, and when to try again.
func (tx *Tx) MessageFailed(id int64, next time.Time, why string) error {
	return tx.db.Exec("UPDATE outbox SET tries = tries + 1, next_at = ?, failure = ? WHERE id = ?", next.UTC(), why, id).Error
}

// LatestMessages gives the newest messages.
func (tx *Tx) LatestMessages(most int) ([]Message, error) {
	var m []Message
	err := tx.db.Order("id DESC").Limit(most).Find(&m).Error
	return m, err
}
