package product

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/formula"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"

	"github.com/shopspring/decimal"
)

// values reads the intermediate values. Each can read those before it.
func (c *check) values() {
	e := c.edition
	if len(e.Values) > 50 {
		c.wrong(InProduct, "values", "finding.there_can_50_named_values")
		e.Values = e.Values[:50]
	}
	for i, v := range e.Values {
		key := fmt.Sprint(i + 1)
		_, asked := e.index[question.Key(v.Name)]
		twice := slices.ContainsFunc(e.Values[:i], func(o NamedFormula) bool { return o.Name == v.Name })
		switch {
		case len(v.Label) > 60 || len(v.Title) > 200:
			c.wrong(InValue, key, "finding.value_label_long", "name", v.Name)
			continue
		case v.Name == charge.NameGroup:
			c.wrong(InValue, key, "finding.name_taken_already_choose_another", "name", v.Name)
			continue
		case !question.Key(v.Name).Valid():
			c.wrong(InValue, key, "finding.name_needs_lowercase_letters_digits", "name", v.Name)
			continue
		case asked || twice || slices.Contains(charge.FormulaNames(), v.Name):
			c.wrong(InValue, key, "finding.name_taken_already_choose_another", "name", v.Name)
			continue
		}
		if f := c.formula(InValue, key, v.Name, v.Formula, len(e.Pricing.Values)); f != nil {
			c.resultless(InValue, key, v.Name, f, v.Otherwise)
			e.Pricing.Values = append(e.Pricing.Values, charge.NamedValue{Name: v.Name, Title: v.Title, Draft: i, Formula: f, Otherwise: v.Otherwise})
		}
	}
}

// formula reads a formula that can use so many of the named values.
func (c *check) formula(part Part, key, name, source string, values int) *formula.Formula {
	e := c.edition
	later := ""
	f, err := formula.Read(source, func(n string) (formula.Kind, bool) {
		if slices.Contains(charge.FormulaNames(), n) {
			return formula.Number, true
		}
		if n == charge.NameGroup {
			return formula.Code, true
		}
		if slices.ContainsFunc(e.Pricing.Values[:values], func(v charge.NamedValue) bool { return v.Name == n }) {
			return formula.Number, true
		}
		list, field, within := strings.Cut(n, ".")
		item, ok := e.Item(question.Key(list))
		if !ok && slices.Contains(charge.BookedNames(), n) && len(e.measures) > 0 {
			return formula.Code, true
		}
		if ok && item.Moment.Rank() > question.Paying.Rank() {
			later = item.Wording
			return 0, false
		}
		if !ok {
			return 0, false
		}
		if within {
			return entryKind(item, field)
		}
		return formulaKind(item)
	})
	var at *formula.Error
	switch {
	case later != "":
		c.wrong(part, key, "finding.formula_reads_which_asked_after", "name", name, "later", later)
	case errors.As(err, &at):
		c.wrong(part, key, "finding.formula_does_not_work_at", "name", name, "at", at.At+1, "why", at.Why)
		c.findings[len(c.findings)-1].At = at.At + 1
	case err == nil:
		c.reading(part, key, name, f)
		return f
	}
	return nil
}

// reads lists how the questions are worded whose answers a formula reads, by
// itself or through named values, each once.
func (c *check) reads(f *formula.Formula) (wordings []string) {
	e := c.edition
	for _, n := range f.Names() {
		var more []string
		if item, ok := e.Item(question.Key(n)); ok {
			more = []string{item.Wording}
		} else if i := slices.IndexFunc(e.Pricing.Values, func(v charge.NamedValue) bool { return v.Name == n }); i >= 0 {
			more = c.reads(e.Pricing.Values[i].Formula)
		}
		for _, w := range more {
			if !slices.Contains(wordings, w) {
				wordings = append(wordings, w)
			}
		}
	}
	return wordings
}

// units gives what stands behind the numbers of names in formulas.
func (e *Edition) units() map[string]string {
	units := map[string]string{}
	for i := range e.Items {
		if spec, ok := e.Items[i].Spec.(question.United); ok && spec.UnitOf() != "" {
			units[string(e.Items[i].Key)] = spec.UnitOf()
		}
	}
	for _, v := range e.Values {
		if v.Label != "" {
			units[v.Name] = v.Label
		}
	}
	return units
}

// InFormulas says whether formulas can read the question's answer.
func (i *Item) InFormulas() bool {
	_, ok := formulaKind(i)
	return ok
}

// formulaKind says what an answer is to a formula.
func formulaKind(i *Item) (formula.Kind, bool) {
	switch i.Spec.Class() {
	case question.ClassYesNo:
		return formula.YesNo, true
	case question.ClassOne:
		return formula.Code, true
	case question.ClassNumber, question.ClassSeveral, question.ClassBooking, question.ClassSpan, question.ClassList, question.ClassText, question.ClassDay:
		return formula.Number, true
	}
	return 0, false
}

// entryKind says what a name within the entries of a list is to a formula; of no
// name, whether there are entries at all.
func entryKind(list *Item, field string) (formula.Kind, bool) {
	spec, ok := list.Spec.(question.Listing)
	if !ok || field == "" {
		return formula.List, ok
	}
	of, ok := spec.EntrySpec(question.Key(field))
	if !ok {
		return 0, false
	}
	return formulaKind(&Item{Spec: of})
}

// reading finds codes that no choice has, and facts that are always none.
func (c *check) reading(part Part, key, name string, f *formula.Formula) {
	for _, use := range f.Codes() {
		list, field, within := strings.Cut(use.Name, ".")
		item, ok := c.edition.Item(question.Key(list))
		if !ok {
			c.bookedCode(part, key, name, use)
			continue
		}
		spec, wording := item.Spec, item.Wording
		if within {
			spec, wording = entryOf(item, question.Key(field))
		}
		if labels, ok := spec.(question.Labelled); ok {
			if _, there := labels.Label(use.Code); !there && use.Code != "" {
				c.refuse(part, key, "finding.unknown_code_formula", "name", name, "code", use.Code, "at", use.At+1, "wording", wording)
				c.findings[len(c.findings)-1].At = use.At + 1
			}
		}
	}
	for _, n := range f.Names() {
		if m, is := measureNames[n]; is {
			if _, there := c.edition.measures[m]; !there {
				c.refuse(part, key, "finding.formula_fact_never", "name", name, "fact", n)
			}
		}
	}
}

// bookedCode finds a weekday or a season that there is none of.
func (c *check) bookedCode(part Part, key, name string, use formula.CodeUse) {
	known := true
	switch use.Name {
	case charge.NameWeekday:
		known = false
		for d := time.Sunday; d <= time.Saturday; d++ {
			known = known || strings.ToLower(d.String()) == use.Code
		}
	case charge.NameSeason:
		known = c.edition.Booking != nil && slices.Contains(c.edition.Booking.Names(), use.Code)
	case charge.NameDay:
		_, err := calendar.ParseDay(use.Code)
		known = err == nil
	}
	if !known && use.Code != "" {
		c.refuse(part, key, "finding.unknown_booked_formula", "name", name, "code", use.Code, "at", use.At+1, "fact", use.Name)
		c.findings[len(c.findings)-1].At = use.At + 1
	}
}

// measureNames are the measures that formulas can read.
var measureNames = map[string]charge.Per{charge.NamePeople: charge.Person, charge.NameHours: charge.Hour, charge.NameDays: charge.Day, charge.NameNights: charge.Night}

// resultless refuses a formula that can have no result, where the seller gives no
// other amount. What was published before such formulas were refused leaves
// nothing out.
func (c *check) resultless(part Part, key, name string, f *formula.Formula, otherwise *decimal.Decimal) {
	b := f.Bounds(c.edition.Range)
	digits, _ := c.edition.Currency.Digits()
	if otherwise == nil && b.Zero {
		c.refuse(part, key, "finding.formula_no_result", "name", name)
	}
	if otherwise == nil && b.Gap {
		c.refuse(part, key, "finding.table_no_result", "name", name)
	}
	if part == InCharge && !b.Zero && b.Most > major(int64(money.Largest), digits) && b.Most < formula.Anything.Most {
		c.warn(part, key, "finding.formula_beyond", "name", name)
	}
}

// Range gives the range of what a formula's name can be over all valid
// answers, as far as the questions tell.
func (e *Edition) Range(name string) formula.Range {
	switch name {
	case charge.NameQuantity:
		return formula.Range{Least: 1, Most: float64(e.Units())}
	case charge.NameList:
		digits, _ := e.Currency.Digits()
		price := major(int64(e.Price), digits)
		return formula.Range{Least: price, Most: price}
	}
	for i, v := range e.Pricing.Values {
		if v.Name == name {
			return e.Pricing.Values[i].Formula.Bounds(e.Range).Range
		}
	}
	list, field, within := strings.Cut(name, ".")
	item, ok := e.Item(question.Key(list))
	if !ok {
		return formula.Range{Least: 0, Most: formula.Anything.Most}
	}
	if within {
		spec, _ := entryOf(item, question.Key(field))
		item = &Item{Spec: spec} // of an entry, which can be left open
	}
	r := formula.Anything
	if spec, ok := item.Spec.(question.Ranged); ok {
		r.Least, r.Most = spec.Range()
	} else if item.Spec.Class() != question.ClassNumber {
		r.Least = 0
	}
	if item.Kind == "amount" {
		digits, _ := e.Currency.Digits()
		r.Least, r.Most = major(int64(r.Least), digits), major(int64(r.Most), digits)
	}
	if !item.Required || item.Test != nil || item.Section != "" || item.Off { // without an answer it is zero
		r.Least, r.Most = min(r.Least, 0), max(r.Most, 0)
	}
	return r
}

func major(minor int64, digits int) float64 {
	n := float64(minor)
	for range digits {
		n /= 10
	}
	return n
}

// FactKeys gives the questions that a condition's facts are known from.
func (e *Edition) FactKeys(t *condition.Test) []question.Key { return e.factsOf(t) }

// FormulaKeys gives the questions that a formula reads, by named values and
// measures too.
func (e *Edition) FormulaKeys(f *formula.Formula) []question.Key {
	var keys []question.Key
	for _, n := range f.Names() {
		if _, ok := e.index[question.Key(n)]; ok {
			keys = append(keys, question.Key(n))
		}
		if k, ok := e.measures[measureNames[n]]; ok {
			keys = append(keys, k)
		}
		if k, ok := e.BookingKey(); ok && slices.Contains(charge.BookedNames(), n) {
			keys = append(keys, k)
		}
		for _, v := range e.Pricing.Values {
			if v.Name == n {
				keys = append(keys, e.FormulaKeys(v.Formula)...)
			}
		}
	}
	return keys
}

// factsOf gives the questions that a condition's facts are known from.
func (e *Edition) factsOf(t *condition.Test) []question.Key {
	var keys []question.Key
	for _, f := range t.Facts(nil) {
		if k, ok := e.measures[perFact[f]]; ok {
			keys = append(keys, k)
		}
		if k, ok := e.BookingKey(); ok && (f == condition.Season || f == condition.Weekday || f == condition.Booked) {
			keys = append(keys, k)
		}
	}
	return keys
}
