package product

import (
	"encoding/json"
	"fmt"
	"strings"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"

	"github.com/shopspring/decimal"
)

// An AmountAt is an amount of money in a draft, or a formula that can have some
// in it. Zero is no amount: nothing is nothing in every currency.
type AmountAt struct {
	Place   string // where it stands, as long as nothing is moved
	Of      string // what it belongs to, in the seller's words; empty for the product
	Was     money.Fine
	Formula string // instead of an amount
	what    string
	n       int
}

// What says what it is in a language: "price", "2nd band".
func (a AmountAt) What(l words.Language) string {
	return words.Tell("amount."+a.what, "n", a.n).Say(l)
}

// Amounts lists all amounts of money in a draft, in the order in which it is
// edited.
func (d Draft) Amounts() []AmountAt {
	var list []AmountAt
	c := d.copied()
	c.eachAmount(func(at AmountAt, a *money.Amount, fine *money.Fine, f *string) {
		at.was(a, fine, f)
		list = append(list, at)
	})
	return list
}

// Repriced gives a draft with its amounts in another currency: each is given
// anew, by its place, for only the seller knows what is asked in it. Missing are
// those that are not.
func (d Draft) Repriced(c money.Currency, amounts map[string]money.Fine, formulas map[string]string) (next Draft, missing []AmountAt) {
	next = d.copied()
	next.Currency = c
	next.eachAmount(func(at AmountAt, a *money.Amount, fine *money.Fine, f *string) {
		at.was(a, fine, f)
		v, given := amounts[at.Place]
		switch {
		case f != nil:
			text := formulas[at.Place]
			if given = strings.TrimSpace(text) != ""; given {
				*f = text
			}
		case given && fine != nil:
			*fine = v
		case given:
			*a = v.Amount(d.Rounding)
		}
		if !given {
			missing = append(missing, at)
		}
	})
	return next, missing
}

// was tells what stands at a place now.
func (at *AmountAt) was(a *money.Amount, fine *money.Fine, f *string) {
	switch {
	case f != nil:
		at.Formula = *f
	case fine != nil:
		at.Was = *fine
	default:
		at.Was = a.Fine()
	}
}

// copied gives a draft that shares nothing with this one.
func (d Draft) copied() Draft {
	var c Draft
	raw, err := json.Marshal(d)
	if err == nil {
		err = json.Unmarshal(raw, &c)
	}
	if err != nil {
		panic(err) // a draft is plain data
	}
	return c
}

// A visitAmount is shown one of three: an amount, one that can be finer, or a
// formula that stands for one.
type visitAmount func(at AmountAt, a *money.Amount, fine *money.Fine, f *string)

// eachAmount shows every amount, or the formula that stands for one, and lets
// them be changed.
func (d *Draft) eachAmount(visit visitAmount) { d.eachAmountOf(false, visit) }

// eachAmountOf shows those of sheets too, when it is to.
func (d *Draft) eachAmountOf(sheets bool, visit visitAmount) {
	v := &amountVisit{visit: visit}
	v.amount("price", &d.Price)
	for i := range d.Values {
		v := v.at("values."+d.Values[i].Name, d.Values[i].Name)
		v.formula("formula", &d.Values[i].Formula)
		v.otherwise(d.Values[i].Otherwise)
	}
	v = v.at("", "")
	v.bands(d.Bands)
	v.specials(d.Prices)
	v.optional("least_price", d.Limits.Least)
	v.optional("most_price", d.Limits.Most)
	if d.Booking != nil {
		for i := range d.Booking.Fixed {
			f := &d.Booking.Fixed[i]
			v.at("fixed."+f.Name, f.Name).optional("fixed_price", f.Price)
		}
	}
	if d.Bundle != nil {
		v.amount("bundle", &d.Bundle.Price)
	}
	v.amount("cost", &d.Cost)
	v.amount("deposit", &d.Deposit)
	for i, a := range d.Payment.Amounts() {
		if i == 0 && d.Payment.Amount != nil {
			v.amount("part", a)
			continue
		}
		v.at(fmt.Sprintf("payment.%d", i+1), "").amount("part_later", a)
	}
	for i, a := range d.Cancelling.Amounts() {
		v.at(fmt.Sprintf("cancelling.%d", i+1), "").amount("cancel", a)
	}
	labels := map[string]string{}
	for i := range d.Questions {
		q := &d.Questions[i]
		labels[string(q.Key)] = q.Wording
		if q.Sheet != 0 && !sheets { // they are the sheet's
			continue
		}
		q.Settings = question.EachAmount(q.Kind, q.Settings, func(place, of string, a *money.Amount) {
			if strings.HasPrefix(place, "choices.") {
				labels[string(q.Key)+"."+strings.Split(place, ".")[1]] = of
			}
			if of != "" {
				of = q.Wording + ", " + of
			} else {
				of = q.Wording
			}
			what, n := place, 0
			if dot := strings.LastIndex(place, "."); dot >= 0 {
				what = place[dot+1:]
			}
			if _, err := fmt.Sscan(what, &n); err == nil {
				what = "suggestion"
			}
			v.at("questions."+string(q.Key)+"."+place, of).numbered("", what, n, a)
		})
	}
	places := chargePlaces(d.Charges)
	for i := range d.Charges {
		c := &d.Charges[i]
		v.at(places[i], chargeName(c, labels)).charge(c)
	}
	for i := range d.Steps {
		if s := &d.Steps[i]; s.Acceptance != nil && (s.Sheet == 0 || sheets) {
			v.at("steps."+string(s.Key), s.Title).amount("round", &s.Acceptance.Price)
		}
	}
	for _, u := range d.Sheets {
		for i := range u.Figures {
			if sheets { // the sheet's own figures stand there by now
				break
			}
			if f := &u.Figures[i]; f.Amount != nil {
				v.at(fmt.Sprintf("sheets.%d.%s", u.Sheet, f.Place), "").fine("", "sheet_figure", 0, f.Amount)
			}
		}
	}
	d.eachCompared(v, labels, sheets)
}

// chargePlaces names the places of charges so that they stay with them when
// others come and go: by the question, the choice, and which of several on it.
func chargePlaces(charges []charge.Charge) []string {
	same := map[string]int{}
	places := make([]string, len(charges))
	for i, c := range charges {
		base := fmt.Sprintf("charges.%s.%s", c.On, c.Choice)
		same[base]++
		places[i] = fmt.Sprintf("%s.%d", base, same[base])
	}
	return places
}

// eachCompared shows the amounts that conditions compare answers with.
func (d *Draft) eachCompared(v *amountVisit, labels map[string]string, sheets bool) {
	asked := map[question.Key]bool{}
	for _, q := range d.Questions {
		if question.IsMoney(q.Kind) && q.Scope != question.OfUnit { // of units it is compared how many there are
			asked[q.Key] = true
		}
	}
	if len(asked) == 0 {
		return
	}
	for i := range d.Questions {
		q := &d.Questions[i]
		if q.Sheet != 0 && !sheets {
			continue
		}
		v := v.at("questions."+string(q.Key)+".when", q.Wording)
		v.compared(q.When, asked)
		q.Settings = choiceConditions(q.Settings, func(code string, c *condition.Condition) {
			v.at("questions."+string(q.Key)+".choices."+code+".when", q.Wording+", "+labelOf(q.Settings, code)).compared(c, asked)
		})
	}
	places := chargePlaces(d.Charges)
	for i := range d.Charges {
		c := &d.Charges[i]
		v.at(places[i]+".when", chargeName(c, labels)).compared(c.When, asked)
	}
	for i := range d.Steps {
		s := &d.Steps[i]
		v.at("steps."+string(s.Key)+".when", s.Title).compared(s.When, asked)
	}
}

// compared shows the amounts in a condition, in the order in which they stand.
func (v *amountVisit) compared(c *condition.Condition, asked map[question.Key]bool) {
	n := 0
	condition.EachNumber(c, func(answer question.Key, value *int64) {
		if n++; asked[answer] && *value != 0 {
			a := money.Amount(*value)
			v.numbered(fmt.Sprint(n), "compared", 0, &a)
			*value = int64(a)
		}
	})
}

// chargeName names a charge as its line on the slip would read.
func chargeName(c *charge.Charge, labels map[string]string) string {
	on := labels[string(c.On)]
	switch {
	case c.Label != "":
		return c.Label
	case c.Choice == "":
		return on
	case labels[string(c.On)+"."+c.Choice] != "":
		return on + ", " + labels[string(c.On)+"."+c.Choice]
	}
	return on + ", " + c.Choice
}

// An amountVisit shows the amounts of one part of a draft.
type amountVisit struct {
	visit     visitAmount
	place, of string
}

// at goes to another part.
func (v *amountVisit) at(place, of string) *amountVisit { return &amountVisit{v.visit, place, of} }

func (v *amountVisit) amount(what string, a *money.Amount) { v.numbered(what, what, 0, a) }

func (v *amountVisit) optional(what string, a *money.Amount) {
	if a != nil {
		v.amount(what, a)
	}
}

func (v *amountVisit) numbered(place, what string, n int, a *money.Amount) {
	if *a != 0 {
		v.visit(AmountAt{Place: v.under(place), Of: v.of, what: what, n: n}, a, nil, nil)
	}
}

func (v *amountVisit) formula(what string, f *string) {
	if *f != "" {
		v.visit(AmountAt{Place: v.under(what), Of: v.of, what: what}, nil, nil, f)
	}
}

func (v *amountVisit) under(place string) string {
	return strings.Trim(v.place+"."+place, ".")
}

func (v *amountVisit) charge(c *charge.Charge) {
	if c.Rate.Amount != nil {
		v.fine("rate", "rate", 0, c.Rate.Amount)
	}
	v.optional("difference", c.Rate.Difference)
	v.formula("formula", &c.Rate.Formula)
	v.otherwise(c.Rate.Otherwise)
	v.bands(c.Bands)
	v.optional("least", c.Least)
	v.optional("most", c.Most)
	v.specials(c.Prices)
}

func (v *amountVisit) fine(place, what string, n int, f *money.Fine) {
	if *f != 0 {
		v.visit(AmountAt{Place: v.under(place), Of: v.of, what: what, n: n}, nil, f, nil)
	}
}

func (v *amountVisit) bands(list []charge.Band) {
	for i := range list {
		v.fine(fmt.Sprintf("bands.%d", i+1), "band", list[i].After+1, &list[i].Amount)
	}
}

// otherwise shows the amount in major units that stands where a formula has no
// result.
func (v *amountVisit) otherwise(d *decimal.Decimal) {
	if d != nil && !d.IsZero() {
		text := d.String()
		v.visit(AmountAt{Place: v.under("otherwise"), Of: v.of, what: "otherwise"}, nil, nil, &text)
		if n, err := decimal.NewFromString(strings.TrimSpace(text)); err == nil {
			*d = n
		}
	}
}

func (v *amountVisit) specials(list []charge.Special) {
	for i := range list {
		if a := list[i].Amount; a != nil {
			v.numbered(fmt.Sprintf("prices.%d", i+1), "other", i+1, a)
		}
	}
}
