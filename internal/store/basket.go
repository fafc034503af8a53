package store

import (
	"errors"
	"time"

	"gorm.io/gorm/clause"

	"ruvo/internal/core/order"
)

// A Basket is what somebody of a mail address has in their basket.
type Basket struct {
	Email     string       `gorm:"primaryKey"`
	Basket    order.Basket `gorm:"serializer:json"`
	UpdatedAt time.Time
}

// A KeptBasket is a basket to which a link was mailed.
type KeptBasket struct {
	Hash   string       `gorm:"primaryKey"`
	Basket order.Basket `gorm:"serializer:json"`
	At     time.Time
}

// BasketOf gives the basket of a mail address; an empty one for none.
func (tx *Tx) BasketOf(email string) (order.Basket, error) {
	b, err := first[Basket](tx, "email = ?", email)
	if errors.Is(err, ErrNotFound) {
		return order.Basket{}, nil
	}
	return b.Basket, err
}

// SaveBasket keeps the basket of a mail address.
func (tx *Tx) SaveBasket(b Basket) error {
	return tx.db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&b).Error
}

// KeepBasket keeps a basket for a link.
func (tx *Tx) KeepBasket(k KeptBasket) error { return tx.db.Create(&k).Error }

// KeptBasketByHash finds a basket by its link.
func (tx *Tx) KeptBasketByHash(hash string) (KeptBasket, error) {
	return first[KeptBasket](tx, "hash = ?", hash)
}

// SweepBaskets takes away the baskets that nobody touched since a time.
func (tx *Tx) SweepBaskets(before time.Time) error {
	if err := tx.db.Where("updated_at < ?", before.UTC()).Delete(&Basket{}).Error; err != nil {
		return err
	}
	return tx.db.Where("at < ?", before.UTC()).Delete(&KeptBasket{}).Error
}
