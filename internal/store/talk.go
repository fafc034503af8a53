package store

import (
	"time"

	"ruvo/internal/core/question"
)

// A Talk is one message that a customer and the seller write to each other about an
// order, about one of its lines, or about a question of one.
type Talk struct {
	ID       int64
	OrderID  int64
	LineID   int64        // zero for the whole order
	Key      question.Key // of the question that it is about; empty for none
	Customer bool         // the customer wrote it
	Author   string
	Text     string
	Files    []TalkFile `gorm:"serializer:json"`
	At       time.Time
	ReadAt   *time.Time // when the other side read it
	Settled  bool       // it waits for no answer
}

// TableName is talk.
func (Talk) TableName() string { return "talk" }

// A TalkFile is a file that goes with a message.
type TalkFile struct {
	Upload string `json:"upload"`
	Name   string `json:"name"`
	Size   int64  `json:"size"`
	Type   string `json:"type"`
	Width  int    `json:"width,omitempty"`
	Height int    `json:"height,omitempty"`
}

// Talk lists what was written about an order, the oldest first.
func (tx *Tx) Talk(order int64) ([]Talk, error) { return list[Talk](tx, "id", "order_id = ?", order) }

// TalkByID finds a message.
func (tx *Tx) TalkByID(id int64) (Talk, error) { return first[Talk](tx, "id = ?", id) }

// AddTalk keeps a message.
func (tx *Tx) AddTalk(t *Talk) error { return tx.db.Create(t).Error }

// ReadTalk notes that the messages of the one side were read by the other.
func (tx *Tx) ReadTalk(order int64, customer bool, at time.Time) error {
	return tx.db.Exec("UPDATE talk SET read_at = ? WHERE order_id = ? AND customer = ? AND read_at IS NULL", at.UTC(), order, customer).Error
}

// TalkSince counts what a customer wrote about an order since an instant.
func (tx *Tx) TalkSince(order int64, since time.Time) (int64, error) {
	var n int64
	err := tx.db.Model(&Talk{}).Where("order_id = ? AND customer AND at > ?", order, since.UTC()).Count(&n).Error
	return n, err
}

// SettleTalk notes that what a customer wrote about an order waits for no answer any more.
func (tx *Tx) SettleTalk(order int64) error {
	return tx.db.Exec("UPDATE talk SET settled = TRUE WHERE order_id = ? AND customer AND NOT settled", order).Error
}

// Unanswered lists the last message of each order in which the customer has the last
// word, the oldest first, at most so many.
func (tx *Tx) Unanswered(most int) ([]Talk, error) {
	var rows []Talk
	err := tx.db.Where("customer AND NOT settled AND id = (SELECT MAX(id) FROM talk t WHERE t.order_id = talk.order_id)").Order("id").Limit(most).Find(&rows).Error
	return rows, err
}

// A Reply is an answer that is kept to be used again, with merge fields.
type Reply struct {
	ID    int64
	Title string
	Text  string
}

// Replies lists the kept answers by title.
func (tx *Tx) Replies() ([]Reply, error) { return list[Reply](tx, "title, id", "true") }

// SaveReply adds or updates a kept answer.
func (tx *Tx) SaveReply(r *Reply) error { return tx.db.Save(r).Error }

// DropReply takes a kept answer away.
func (tx *Tx) DropReply(id int64) error { return tx.db.Delete(&Reply{}, id).Error }
