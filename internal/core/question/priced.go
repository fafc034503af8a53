package question

import (
	"encoding/json"
	"fmt"

	"ruvo/internal/core/money"
)

// VisitAmount is shown an amount of money and may change it. Place says where
// in the settings it stands, its last word what it is: "choices.gold.cost"; of
// names what it belongs to in the seller's words, such as a choice's label.
type VisitAmount func(place, of string, a *money.Amount)

// priced is a kind with amounts of money in its settings. It gives the settings
// with the amounts as they were left.
type priced interface {
	eachAmount(raw json.RawMessage, visit VisitAmount) (any, error)
}

// IsMoney says whether the answers of a kind are amounts of money, which
// conditions compare in minor units.
func IsMoney(k KindName) bool { return k == "amount" }

// EachAmount shows every amount of money in a question's settings and gives the
// settings with the amounts as they were left. What cannot be read stays as it
// is.
func EachAmount(k KindName, raw json.RawMessage, visit VisitAmount) json.RawMessage {
	kind, ok := kinds[k].(priced)
	if !ok {
		return raw
	}
	left, err := kind.eachAmount(raw, visit)
	if err != nil {
		return raw
	}
	changed, err := json.Marshal(left)
	if err != nil {
		return raw
	}
	return changed
}

func (amount) eachAmount(raw json.RawMessage, visit VisitAmount) (any, error) {
	s, err := settings[amountSpec](raw)
	if s.Least != nil {
		visit("least", "", s.Least)
	}
	if s.Most != nil {
		visit("most", "", s.Most)
	}
	for i := range s.Suggestions {
		visit(fmt.Sprintf("suggestions.%d", i+1), "", &s.Suggestions[i])
	}
	return s, err
}

func (oneChoice) eachAmount(raw json.RawMessage, visit VisitAmount) (any, error) {
	return costs(raw, visit)
}

func (severalChoices) eachAmount(raw json.RawMessage, visit VisitAmount) (any, error) {
	return costs(raw, visit)
}

// costs shows what choices cost the seller.
func costs(raw json.RawMessage, visit VisitAmount) (choices, error) {
	s, err := settings[choices](raw)
	for i := range s.Choices {
		c := &s.Choices[i]
		visit("choices."+c.Code+".cost", c.Label, (*money.Amount)(&c.Cost))
	}
	return s, err
}

func (repeat) eachAmount(raw json.RawMessage, visit VisitAmount) (any, error) {
	s, err := settings[repeatSpec](raw)
	for i := range s.Questions {
		q := &s.Questions[i]
		q.Settings = EachAmount(q.Kind, q.Settings, func(place, of string, a *money.Amount) {
			if of == "" {
				of = q.Wording
			}
			visit("questions."+string(q.Key)+"."+place, of, a)
		})
	}
	return s, err
}
