package charge

import (
	"github.com/shopspring/decimal"

	"ruvo/internal/core/formula"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// The names that every formula can read besides answers and named values.
const (
	NameQuantity = "quantity"
	NamePeople   = "people"
	NameHours    = "hours"
	NameDays     = "days"
	NameNights   = "nights"
	NameList     = "list_price" // of one unit, in major units
)

// FormulaNames lists them.
func FormulaNames() []string {
	return []string{NameQuantity, NamePeople, NameHours, NameDays, NameNights, NameList}
}

// formula gives the amount of a charge's formula. One that gives no number
// makes no charge.
func (m *making) formula(r *Compiled) money.Amount {
	n, err := r.Formula.Compute(m.value)
	if err != nil {
		return 0
	}
	digits, _ := m.Currency.Digits()
	return m.Rounding.Round(n.Shift(int32(digits)))
}

// valued gives the amount of a named value, not below zero.
func (m *making) valued(name string) money.Amount {
	digits, _ := m.Currency.Digits()
	return max(m.Rounding.Round(m.value(name).Number.Shift(int32(digits))), 0)
}

// value gives what a name has for this order line. A question without an
// answer is nothing: zero, no, no choice.
func (m *making) value(name string) formula.Value {
	number := func(n decimal.Decimal) formula.Value { return formula.Value{Number: n} }
	switch name {
	case NameQuantity:
		return number(decimal.NewFromInt(int64(m.Quantity)))
	case NamePeople:
		return number(m.Facts.People.Decimal())
	case NameHours:
		return number(m.Facts.Hours.Decimal())
	case NameDays:
		return number(m.Facts.Days.Decimal())
	case NameNights:
		return number(m.Facts.Nights.Decimal())
	case NameList:
		digits, _ := m.Currency.Digits()
		return number(decimal.New(int64(m.Price), -int32(digits)))
	}
	if v, ok := m.Answers[question.Key(name)]; ok && v.Answered() {
		return m.answered(v)
	}
	if v, ok := m.named[name]; ok {
		return v
	}
	for _, v := range m.Values {
		if v.Name == name {
			n, err := v.Formula.Compute(m.value)
			if err != nil {
				n = decimal.Zero
			}
			if m.named == nil {
				m.named = map[string]formula.Value{}
			}
			m.named[name] = number(n)
			return number(n)
		}
	}
	return formula.Value{}
}

func (m *making) answered(v question.Value) formula.Value {
	switch v := v.(type) {
	case question.YesNo:
		return formula.Value{Yes: bool(v)}
	case question.Consent:
		return formula.Value{Yes: v.Agreed}
	case question.One:
		return formula.Value{Code: string(v)}
	case question.Text:
		return formula.Value{Number: decimal.NewFromInt(int64(question.Letters(string(v))))}
	case question.Amount:
		digits, _ := m.Currency.Digits()
		return formula.Value{Number: decimal.New(int64(v), -int32(digits))}
	}
	return formula.Value{Number: v.Terms().Number}
}

// A FormulaValue is what a formula comes to.
type FormulaValue struct {
	Part   string // "charge" or "value"
	Number int    // among the draft's, from 1
	Result decimal.Decimal
	Why    error // there is no result
}

// Formulas computes every formula of the product for an order line, whether it
// counts or not, for whoever writes them.
func (p *Pricing) Formulas(in Input) []FormulaValue {
	m := making{Pricing: p, Input: &in}
	var all []FormulaValue
	for i := range p.Values {
		v := &p.Values[i]
		n, err := v.Formula.Compute(m.value)
		all = append(all, FormulaValue{"value", v.Draft + 1, n, err})
	}
	for i := range p.Charges {
		if r := &p.Charges[i]; r.Formula != nil {
			n, err := r.Formula.Compute(m.value)
			all = append(all, FormulaValue{"charge", r.Draft + 1, n, err})
		}
	}
	return all
}
