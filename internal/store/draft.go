package store

import (
	"errors"
	"time"

	"gorm.io/gorm/clause"

	"ruvo/internal/core/product"
)

// A DraftState is a draft as it was, to go back to.
type DraftState struct {
	ProductID int64         `gorm:"primaryKey"`
	Position  int           `gorm:"primaryKey"`
	Draft     product.Draft `gorm:"serializer:json"`
	Author    string
	At        time.Time
}

// keptStates is how many states of a draft are kept.
const keptStates = 300

// DraftStateAt finds the state of a draft at a position.
func (tx *Tx) DraftStateAt(product int64, position int) (DraftState, error) {
	return first[DraftState](tx, "product_id = ? AND position = ?", product, position)
}

// KeepDraftState keeps a state at its position and forgets what was undone
// beyond it.
func (tx *Tx) KeepDraftState(s DraftState) error {
	if err := tx.db.Exec("DELETE FROM draft_states WHERE product_id = ? AND (position > ? OR position < ?)", s.ProductID, s.Position, s.Position-keptStates).Error; err != nil {
		return err
	}
	return tx.db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "product_id"}, {Name: "position"}}, UpdateAll: true}).Create(&s).Error
}

// HasDraftState says whether there is a state at a position.
func (tx *Tx) HasDraftState(product int64, position int) (bool, error) {
	_, err := tx.DraftStateAt(product, position)
	if errors.Is(err, ErrNotFound) {
		return false, nil
	}
	return err == nil, err
}

// EditionsOf lists a product's editions, the newest first.
func (tx *Tx) EditionsOf(product int64) ([]Edition, error) {
	return list[Edition](tx, "number DESC", "product_id = ?", product)
}

// EditionByNumber finds an edition of a product.
func (tx *Tx) EditionByNumber(product int64, number int) (Edition, error) {
	return first[Edition](tx, "product_id = ? AND number = ?", product, number)
}

// SoldOf counts the order lines of each edition of a product.
func (tx *Tx) SoldOf(product int64) (map[int64]int, error) {
	var rows []struct {
		EditionID int64
		N         int
	}
	err := tx.db.Raw("SELECT edition_id, COUNT(*) AS n FROM order_lines WHERE placed = 1 AND product_id = ? GROUP BY edition_id", product).Scan(&rows).Error
	counts := make(map[int64]int, len(rows))
	for _, r := range rows {
		counts[r.EditionID] = r.N
	}
	return counts, err
}
