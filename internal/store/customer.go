package store

import (
	"encoding/json"
	"strings"
	"time"

	"gorm.io/gorm/clause"

	"ruvo/internal/core/question"
)

// A CustomerAnswer is an answer that belongs to a person, known by their mail
// address in lower case.
type CustomerAnswer struct {
	Email     string `gorm:"primaryKey"`
	Key       question.Key
	Kind      question.KindName
	Answer    json.RawMessage `gorm:"serializer:json"`
	UpdatedAt time.Time
}

// KeepCustomerAnswer keeps an answer; in place of the one from before only when
// it is to replace it.
func (tx *Tx) KeepCustomerAnswer(a CustomerAnswer, replace bool) error {
	a.Email = strings.ToLower(a.Email)
	known := clause.OnConflict{Columns: []clause.Column{{Name: "email"}, {Name: "key"}}, UpdateAll: replace, DoNothing: !replace}
	return tx.db.Clauses(known).Create(&a).Error
}

// CustomerAnswers lists what is kept of a person.
func (tx *Tx) CustomerAnswers(email string) ([]CustomerAnswer, error) {
	return list[CustomerAnswer](tx, "key", "email = ?", strings.ToLower(email))
}
