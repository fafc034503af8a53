package charge

import (
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/formula"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// The names that every formula can read besides answers and named values.
const (
	NameQuantity = "quantity"
	NamePeople   = "people"
	NameHours    = "hours"
	NameDays     = "days"
	NameNights   = "nights"
	NameList     = "list_price" // of one unit, in major units
	NameGroup    = "group"      // the code of the customer's group; empty for none
	// Of what is booked; empty while that is not known.
	NameWeekday = "weekday" // on which it begins: sunday to saturday
	NameDay     = "day"     // on which it begins, as 2026-12-24
	NameSeason  = "season"  // the name of the season, or fixed stay, that it begins in
)

// BookedNames lists those of what is booked that formulas compare with a text.
func BookedNames() []string { return []string{NameWeekday, NameDay, NameSeason} }

// FormulaNames lists those that are numbers.
func FormulaNames() []string {
	return []string{NameQuantity, NamePeople, NameHours, NameDays, NameNights, NameList}
}

// formula gives the amount of a charge's formula, or the one that the seller
// gave for when it has no result. Without one the price cannot be computed.
func (m *making) formula(r *Compiled) (money.Product, Reason) {
	n, err := r.Formula.Compute(m.value)
	if err == nil {
		why := Reason{}
		if text := r.Formula.Explain(m.value, m.unit); text != "" && m.Rules != Rules1 {
			why = Reason{Code: whyComputed, Text: text}
		}
		return m.step(m.minor(n)), why
	}
	if m.Rules == Rules1 {
		return nought, Reason{}
	}
	why := told(err)
	if r.Rate.Otherwise != nil && why != formula.RangeCode {
		p := m.minor(*r.Rate.Otherwise)
		return p, because(Reason{Code: whyInstead, Text: why}, p)
	}
	m.noResult(r.On, why)
	return nought, Reason{}
}

// unit gives what stands behind the number of a name in a computation.
func (m *making) unit(name string) string { return m.Units[name] }

// minor gives a number of major units as an amount.
func (m *making) minor(n decimal.Decimal) money.Product {
	digits, _ := m.Currency.Digits()
	return money.ProductOf(n.Shift(int32(digits)))
}

func (m *making) noResult(of question.Key, why string) {
	if why == formula.RangeCode {
		m.beyond(of, "price_beyond")
		return
	}
	m.beyond(of, "price_none", "why", why)
}

// told gives the code of what stands in the way of a formula's result.
func told(err error) string {
	if m, ok := err.(*words.Message); ok {
		return m.Code
	}
	return ""
}

// valued gives the amount of a named value, not below zero.
func (m *making) valued(name string) money.Amount {
	return max(m.round(m.minor(m.value(name).Number), ""), 0)
}

// statedPlaces is how many digits behind the point a named value has on the slip.
const statedPlaces = 4

// state puts the named values on the slip that have a name for it. What comes to
// nothing is left out, as lines at zero are.
func (m *making) state() {
	for i := range m.Values {
		v := &m.Values[i]
		if v.Title == "" {
			continue
		}
		if n := m.value(v.Name).Number.Round(statedPlaces); !n.IsZero() || m.ShowZero {
			m.slip.Stated = append(m.slip.Stated, Stated{Label: v.Title, Value: n, Unit: m.Units[v.Name]})
		}
	}
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
	case NameGroup:
		return formula.Value{Code: m.Group}
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
				switch why := told(err); {
				case m.Rules == Rules1:
				case v.Otherwise != nil && why != formula.RangeCode:
					n = *v.Otherwise
				default:
					m.noResult("", why)
				}
			}
			if m.named == nil {
				m.named = map[string]formula.Value{}
			}
			m.named[name] = number(n)
			return number(n)
		}
	}
	return m.booked(name)
}

// booked gives what a name has of what is booked. What was on sale before formulas
// could read it can have a question of that name, which is read then.
func (m *making) booked(name string) formula.Value {
	if m.Known.Booked == nil || !slices.Contains(BookedNames(), name) {
		return formula.Value{}
	}
	switch day, season := m.Known.Booked(); {
	case day == (calendar.Day{}):
		return formula.Value{}
	case name == NameWeekday:
		return formula.Value{Code: strings.ToLower(day.Weekday().String())}
	case name == NameDay:
		return formula.Value{Code: day.String()}
	default:
		return formula.Value{Code: season}
	}
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
	case question.Repeat:
		list := formula.Value{Number: v.Terms().Number, Entries: make([]func(string) formula.Value, len(v.Entries))}
		for i, entry := range v.Entries {
			list.Entries[i] = func(name string) formula.Value {
				if of, ok := entry[question.Key(name)]; ok && of.Answered() {
					return m.answered(of)
				}
				return formula.Value{}
			}
		}
		return list
	case question.Date: // days from the day of the order
		return formula.Value{Number: decimal.NewFromInt(int64(v.Day.Since(m.Day)))}
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
	m := p.making(in)
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

// PriceOn gives the price of one, or of one of what it is measured by, if it is booked
// on a day; false where the product has no price of its own that a day could change.
func (p *Pricing) PriceOn(in Input, day calendar.Day) (money.Amount, bool) {
	if p.Price == 0 || len(p.Prices) == 0 || slices.ContainsFunc(p.Charges, func(r Compiled) bool { return r.Effect == Sets }) {
		return 0, false
	}
	in.Facts.First = day
	m := p.making(in)
	return m.round(m.best(m.Price.Exactly(), m.Prices, m.Combine, day).price, ""), true
}

// Named gives what a named value comes to for an order line; nothing without a
// result.
func (p *Pricing) Named(name string, in Input) decimal.Decimal {
	return p.making(in).value(name).Number
}

// Below gives what a formula comes to, if that lies below zero and makes no
// charge, or no price.
func (p *Pricing) Below(i int, in Input) (money.Amount, bool) {
	m := p.making(in)
	r := &p.Charges[i]
	if v, ok := r.counts(&m.Input); r.Formula == nil || !ok || v == nil && r.On != "" {
		return 0, false
	}
	sum, _ := m.formula(r)
	a, _ := p.Rounding.Product(sum)
	return a, a < 0
}
