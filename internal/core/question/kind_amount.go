package question

import (
	"encoding/json"
	"slices"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

type amount struct{}

func (amount) Name() KindName { return "amount" }

// Class implements Kind.
func (amount) Class() Class { return ClassNumber }

// amountSpec is a customer-set amount, in minor units like its bounds.
type amountSpec struct {
	Least       *money.Amount  `json:"least,omitempty"`
	Most        *money.Amount  `json:"most,omitempty"`
	Suggestions []money.Amount `json:"suggestions,omitempty"`
}

func (amount) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[amountSpec](raw)
	if err != nil {
		return nil, err
	}
	least, most := s.bounds()
	if least < 0 || least > most || most > money.Largest {
		return nil, words.Tell("setting.least_amount_must_lie_between")
	}
	if len(s.Suggestions) > 8 {
		return nil, words.Tell("setting.takes_at_most_8_suggestions")
	}
	if slices.ContainsFunc(s.Suggestions, func(a money.Amount) bool { return a < least || a > most }) {
		return nil, words.Tell("setting.suggestions_must_lie_between_least")
	}
	return s, nil
}

// Range gives the range of its valid answers, in minor units.
func (s amountSpec) Range() (least, most float64) {
	a, b := s.bounds()
	return float64(a), float64(b)
}

// Unlimited is the most, in minor units, that a customer can set where the
// seller gives no limit.
const Unlimited money.Amount = 1_000_000_00

func (s amountSpec) bounds() (least, most money.Amount) {
	most = Unlimited
	if s.Least != nil {
		least = *s.Least
	}
	if s.Most != nil {
		most = *s.Most
	}
	return least, most
}

func (amountSpec) Class() Class { return ClassNumber }

func (amountSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var n int64
	if json.Unmarshal(raw, &n) != nil {
		return nil, fault("type_amount")
	}
	return Amount(n), nil
}

func (s amountSpec) Check(v Value, env Env) []Fault {
	least, most := s.bounds()
	switch a := money.Amount(v.(Amount)); {
	case a < least:
		return faults(fault("least", "least", env.Language.Money(least, env.Currency)))
	case a > most:
		return faults(fault("most", "most", env.Language.Money(most, env.Currency)))
	}
	return nil
}

func (amountSpec) Words(v Value, env Env) string {
	return env.Language.Money(money.Amount(v.(Amount)), env.Currency)
}

// Amount is a customer-set amount in minor units.
type Amount money.Amount

// Answered is true for zero too: nothing is an answer to "how much".
func (Amount) Answered() bool { return true }

// Terms implements Value.
func (a Amount) Terms() Terms { return Terms{Number: decimal.NewFromInt(int64(a))} }

// Samples implements Sampled.
func (s amountSpec) Samples([]int) ([]Value, bool) {
	least, most := s.bounds()
	return []Value{Amount(least), Amount(most)}, false
}
