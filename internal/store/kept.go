package store

import (
	"time"

	"ruvo/internal/core/booking"
)

// A KeptTime is a time that the seller keeps by hand: of a product, or of a person, a
// room or a thing.
type KeptTime struct {
	ID         int64
	ProductID  int64 // 0 of a resource
	ResourceID int64 // 0 of a product
	StartAt    time.Time
	EndAt      time.Time
	People     int // places of the product; 0 is all of them
	Reason     string
	Author     string
	CreatedAt  time.Time
}

// SaveKept adds a kept time.
func (tx *Tx) SaveKept(k *KeptTime) error {
	tx.peopled = true
	return tx.db.Save(k).Error
}

// DropKept lets a kept time go; ErrNotFound when it is not there.
func (tx *Tx) DropKept(id int64) error {
	tx.peopled = true
	done := tx.db.Where("id = ?", id).Delete(&KeptTime{})
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}

// KeptBetween lists the kept times that touch a stretch of time, in order.
func (tx *Tx) KeptBetween(from, to time.Time) ([]KeptTime, error) {
	return list[KeptTime](tx, "start_at, id", "end_at > ? AND start_at < ?", from.UTC(), to.UTC())
}

// KeptOf lists what is kept of a product in a stretch of time.
func (tx *Tx) KeptOf(product int64, from, to time.Time) ([]booking.Kept, error) {
	rows, err := list[KeptTime](tx, "start_at, id", "product_id = ? AND end_at > ? AND start_at < ?", product, from.UTC(), to.UTC())
	kept := make([]booking.Kept, len(rows))
	for i, k := range rows {
		kept[i] = booking.Kept{Start: k.StartAt, End: k.EndAt, People: k.People, Reason: k.Reason}
	}
	return kept, err
}

// keptResources lists what is kept of resources in a stretch of time.
func (tx *Tx) keptResources(resources []booking.ResourceID, from, to time.Time) ([]KeptTime, error) {
	return list[KeptTime](tx, "start_at, id", "resource_id IN ? AND end_at > ? AND start_at < ?", resources, from.UTC(), to.UTC())
}
