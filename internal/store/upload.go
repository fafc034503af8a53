package store

import (
	"time"

	"ruvo/internal/core/question"
)

// An Upload is a file that a customer sends. It begins before there is an
// order and is bound to one at checkout.
type Upload struct {
	ID        string // random; also the name of its file in the folder
	OrderID   *int64
	Name      string // the customer's own for it
	Size      int64  // bytes, as announced
	Received  int64  // bytes
	Sender    string // who sends it, by an alias that leads to nobody
	Desk      bool   // sent by the seller
	Kept      bool   // it lies beside work, and stays without an order
	Type      string // media type told by the content, once it is whole
	Width     int    // pixels
	Height    int
	CreatedAt time.Time
}

// Facts gives what the core wants to know of an upload.
func (u *Upload) Facts() question.File {
	return question.File{Size: u.Size, Whole: u.Received == u.Size, Type: u.Type, Width: u.Width, Height: u.Height}
}

// Upload finds an upload.
func (tx *Tx) Upload(id string) (Upload, error) { return first[Upload](tx, "id = ?", id) }

// UploadFor finds an upload that an order may use: one that no other placed
// order has.
func (tx *Tx) UploadFor(id string, order int64) (Upload, error) {
	return first[Upload](tx, "id = ? AND NOT desk AND (order_id IS NULL OR order_id = ? OR order_id IN (SELECT id FROM orders WHERE state NOT IN ('placed', 'cancelled')))", id, order)
}

// AddUpload adds an upload.
func (tx *Tx) AddUpload(u *Upload) error { return tx.db.Create(u).Error }

// UploadArrived keeps how much of an upload is here, and what it holds.
func (tx *Tx) UploadArrived(u *Upload) error {
	return tx.db.Model(u).Select("Received", "Type", "Width", "Height").Updates(u).Error
}

// DropUpload takes an upload away that no order has.
func (tx *Tx) DropUpload(id string) error {
	return tx.db.Exec("DELETE FROM uploads WHERE id = ? AND order_id IS NULL", id).Error
}

// loose chooses the uploads that no placed order has, but for those that were
// begun long ago and never sent a byte.
const loose = "NOT desk AND (received > 0 OR created_at > ?) AND (order_id IS NULL OR order_id IN (SELECT id FROM orders WHERE state NOT IN ('placed', 'cancelled')))"

// Loose is what strangers have left here without an order that is placed.
type Loose struct {
	N     int64
	Bytes int64 // that really arrived
}

// LooseUploads counts the uploads that no placed order has. Those that were
// begun before idle and never sent a byte do not count.
func (tx *Tx) LooseUploads(idle time.Time) (Loose, error) {
	var l Loose
	err := tx.db.Raw("SELECT COUNT(*) AS n, COALESCE(SUM(received), 0) AS bytes FROM uploads WHERE "+loose, idle.UTC()).Scan(&l).Error
	return l, err
}

// LooseUploadsOf counts those of one sender.
func (tx *Tx) LooseUploadsOf(sender string, idle time.Time) (Loose, error) {
	var l Loose
	err := tx.db.Raw("SELECT COUNT(*) AS n, COALESCE(SUM(received), 0) AS bytes FROM uploads WHERE sender = ? AND "+loose, sender, idle.UTC()).Scan(&l).Error
	return l, err
}

// BindUploads makes uploads those of an order.
func (tx *Tx) BindUploads(order int64, ids []string) error {
	if len(ids) == 0 {
		return nil
	}
	return tx.db.Exec("UPDATE uploads SET order_id = ? WHERE id IN ?", order, ids).Error
}

// UploadedBytes gives how many bytes the uploads of an order have, with those
// that answers of earlier named.
func (tx *Tx) UploadedBytes(order int64) (int64, error) {
	var n int64
	err := tx.db.Raw("SELECT COALESCE(SUM(received), 0) FROM uploads WHERE order_id = ? AND NOT desk", order).Scan(&n).Error
	return n, err
}

// UnbindUploads sets the uploads of an order free that is not placed.
func (tx *Tx) UnbindUploads(order int64) error {
	return tx.db.Exec("UPDATE uploads SET order_id = NULL WHERE order_id = ?", order).Error
}

// FinishedUpload finds a finished file that can be handed over with an order.
func (tx *Tx) FinishedUpload(id string, order int64) (Upload, error) {
	return first[Upload](tx, "id = ? AND desk AND (order_id IS NULL OR order_id = ?)", id, order)
}

// DeskUpload finds a whole file that the seller sent.
func (tx *Tx) DeskUpload(id string) (Upload, error) {
	return first[Upload](tx, "id = ? AND desk AND received = size AND type <> ''", id)
}

// KeepUploads has files of the seller's stay without an order.
func (tx *Tx) KeepUploads(ids []string) error {
	if len(ids) == 0 {
		return nil
	}
	return tx.db.Exec("UPDATE uploads SET kept = TRUE WHERE desk AND id IN ?", ids).Error
}

// UploadsOf lists the uploads of an order.
func (tx *Tx) UploadsOf(order int64) ([]Upload, error) {
	return list[Upload](tx, "created_at, id", "order_id = ? AND NOT desk", order)
}

// SweepUploads takes the uploads away that were begun before a time and that
// no placed order has, and those that were begun before idle and never sent a
// byte.
func (tx *Tx) SweepUploads(before, idle time.Time) error {
	if err := tx.db.Exec("DELETE FROM uploads WHERE created_at < ? AND received = 0 AND order_id IS NULL", idle.UTC()).Error; err != nil {
		return err
	}
	return tx.db.Exec("DELETE FROM uploads WHERE created_at < ? AND NOT kept AND (order_id IS NULL OR order_id IN (SELECT id FROM orders WHERE state NOT IN ('placed', 'cancelled')))", before.UTC()).Error
}

// ForgetFinished takes the row of a finished file away whose time is over.
func (tx *Tx) ForgetFinished(id string) error {
	return tx.db.Exec("DELETE FROM uploads WHERE id = ? AND desk", id).Error
}
