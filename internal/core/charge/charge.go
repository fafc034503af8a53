// Package charge makes the slip: from a product's price, its charges and the
// answers to priced lines whose words explain them, and of the lines of an
// order its coupons, taxes, total and what is due when.
package charge

import (
	"errors"
	"strconv"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/condition"
	"ruvo/internal/core/formula"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Charge is what one answer does to the price of its order line. It counts
// while its question is asked and answered; with a Choice, only while that
// choice is chosen; on a yes/no question, only while the answer is yes; and
// only while its condition holds.
type Charge struct {
	On     question.Key         `json:"on,omitempty"`     // none: always counts
	Choice string               `json:"choice,omitempty"` // a choice's code
	When   *condition.Condition `json:"when,omitempty"`
	Label  string               `json:"label,omitempty"` // the slip's words; the choice's label or the wording when empty
	Effect Effect               `json:"effect"`
	Rate   Rate                 `json:"rate"`
	Per    Per                  `json:"per,omitempty"`
	// Entries counts only those entries of a list that meet it: its questions are
	// those of an entry. Without such an entry the charge does not count.
	Entries *condition.Condition `json:"entries,omitempty"`
	// AlsoNone has the charge count for an answer of nothing, such as the number
	// 0, too.
	AlsoNone bool `json:"also_none,omitempty"`
	// Place is where in the slip the charge stands: with its question, before or
	// after all others.
	Place Place `json:"place,omitempty"`
	// Tax is the charge's own rate, in per cent, where that is not the product's.
	Tax *decimal.Decimal `json:"tax,omitempty"`
	// EachUnit multiplies by the line's quantity.
	EachUnit bool `json:"each_unit,omitempty"`
	// Times multiplies by measures of the line: "per person per night".
	Times []Per `json:"times,omitempty"`
	// Included is how many of what is counted are free.
	Included int `json:"included,omitempty"`
	// UpTo is the last one that is counted; 0 is no limit.
	UpTo int `json:"up_to,omitempty"`
	// Bands give another rate from some number on, those that are free counted
	// in. The whole count takes the rate of the band that it reaches; if
	// Graduated, each part of it takes the rate of its own band.
	Bands     []Band `json:"bands,omitempty"`
	Graduated bool   `json:"graduated,omitempty"`
	// Least and Most hold the charge within amounts, whatever it counts.
	Least *money.Amount `json:"least,omitempty"`
	Most  *money.Amount `json:"most,omitempty"`
	// Prices are other amounts for some customers, days and quantities, and
	// Combine says which of those that hold is taken.
	Prices  []Special `json:"prices,omitempty"`
	Combine Combine   `json:"combine,omitempty"`
	// Sheet is the sheet that brought the charge in; zero for the product's own.
	Sheet int64 `json:"sheet,omitempty"`
	// Noun and Nouns name what is counted: "letter" and "letters".
	Noun  string `json:"noun,omitempty"`
	Nouns string `json:"nouns,omitempty"`
}

// An Effect is the direction of a charge.
type Effect string

const (
	Adds     Effect = "adds"      // to what comes before it
	TakesOff Effect = "takes_off" // never below zero
	Sets     Effect = "sets"      // the price of one unit, instead of the list price
)

// A Place is where in the slip a charge stands. What stands later takes its
// share of all before it.
type Place string

const (
	// WithQuestion is in the order of the questions. A charge without one stands
	// before all others; one that takes off, or takes a share, after them.
	WithQuestion Place = ""
	AtStart      Place = "start" // right after the product's own price
	AtEnd        Place = "end"   // on everything
)

// A Rate has exactly one of its fields set, beside OfBase and Otherwise.
type Rate struct {
	// Amount is in minor units, and can be finer than the smallest coin.
	Amount *money.Fine `json:"amount,omitempty"`
	// Difference to the list price, in minor units, for what sets the price.
	Difference *money.Amount `json:"difference,omitempty"`
	// Percent is a share of the line's price and the charges before this one;
	// OfBase makes it a share of the price alone.
	Percent *decimal.Decimal `json:"percent,omitempty"`
	OfBase  bool             `json:"of_base,omitempty"`
	// Answered takes the customer-set amount that the question asks for.
	Answered bool `json:"answered,omitempty"`
	// Formula gives the amount in major units.
	Formula string `json:"formula,omitempty"`
	// Otherwise is the amount, in major units, where the formula has no result:
	// it divides by zero, or a table lacks an entry.
	Otherwise *decimal.Decimal `json:"otherwise,omitempty"`
}

// A Band is the rate from some number on.
type Band struct {
	After  int        `json:"after"` // counted from the next one on
	Amount money.Fine `json:"amount"`
}

// Per is what the rate is multiplied by.
type Per string

const (
	Once            Per = ""                 // whatever is answered
	Character       Per = "character"        // of a text answer, white space not counted
	CharacterSpaced Per = "character_spaced" // white space counted too
	Word            Per = "word"             // of a text answer, between white space
	Answer          Per = "answer"           // the answered number, people booked, choices chosen, files, entries or days
	Unit            Per = "unit"             // ordered
	Person          Per = "person"           // of the line's people
	Hour            Per = "hour"             // of the booked or answered time
	Day             Per = "day"              // of the span, both ends counted
	Night           Per = "night"            // of the span, one fewer than its days
)

// Measures lists what a line is measured by, whatever its answers are: it needs
// no question of its own to be counted.
func Measures() []Per { return []Per{Unit, Person, Hour, Day, Night} }

// Measure says whether it is one of the measures.
func (p Per) Measure() bool {
	return p == Unit || p == Person || p == Hour || p == Day || p == Night
}

// ofText says whether it counts the text of an answer.
func (p Per) ofText() bool { return p == Character || p == CharacterSpaced || p == Word }

// OfText says whether it counts the text of an answer.
func (p Per) OfText() bool { return p.ofText() }

func amountIn(a *money.Amount) bool { return a == nil || *a >= 0 && *a <= money.Largest }

func fineIn(f *money.Fine) bool { return f == nil || *f >= 0 && *f <= money.Largest.Fine() }

// Validate says what is wrong with a rate in itself.
func (r Rate) validate() error {
	set := 0
	for _, is := range []bool{r.Amount != nil, r.Difference != nil, r.Percent != nil, r.Answered, r.Formula != ""} {
		if is {
			set++
		}
	}
	switch {
	case set != 1:
		return at("rate", "charge.needs_one_rate_amount_per")
	case r.Amount != nil && *r.Amount > money.Largest.Fine():
		return at("rate.amount", "charge.amount_too_large")
	case !fineIn(r.Amount):
		return at("rate.amount", "charge.amount_must_not_below_zero")
	case r.Otherwise != nil && r.Formula == "":
		return at("rate.otherwise", "charge.only_formula_otherwise")
	case r.Otherwise != nil && !decimalIn(*r.Otherwise):
		return at("rate.otherwise", "charge.otherwise_too_large")
	case r.Difference != nil && (*r.Difference < -money.Largest || *r.Difference > money.Largest):
		return at("rate.difference", "charge.difference_list_price_too_large")
	case r.Percent != nil && !percentIn(*r.Percent, 1000):
		return at("rate.percent", "charge.per_cent_must_lie_between")
	case r.OfBase && r.Percent == nil:
		return at("rate.of_base", "charge.only_per_cent_can_price")
	case len(r.Formula) > formula.Longest:
		return at("rate.formula", "charge.formula_can_have_characters", "longest", formula.Longest)
	}
	return nil
}

// decimalIn says whether a number of major units can be an amount.
func decimalIn(d decimal.Decimal) bool {
	return d.Exponent() >= -12 && d.Exponent() < 20 && d.Abs().LessThanOrEqual(decimal.NewFromInt(int64(money.Largest)))
}

func percentIn(p decimal.Decimal, most int64) bool {
	return !p.IsNegative() && p.LessThanOrEqual(decimal.NewFromInt(most)) && p.Exponent() >= -6
}

// Validate says what is wrong with a charge in itself.
func (c Charge) Validate() error {
	if err := c.Rate.validate(); err != nil {
		return err
	}
	switch {
	case c.Effect != Adds && c.Effect != TakesOff && c.Effect != Sets:
		return at("effect", "charge.must_add_take_off_set")
	case c.Effect == Sets && (c.Rate.Percent != nil || c.Per != Once || len(c.Times) > 0 || c.EachUnit):
		return at("effect", "charge.what_sets_price_must_one")
	case c.Rate.Difference != nil && c.Effect != Sets:
		return at("rate.difference", "charge.only_what_sets_price_can")
	case c.Per != Once && c.Per != Answer && !c.Per.ofText() && !c.Per.Measure():
		return at("per", "charge.can_count_once_characters_words")
	case c.Per != Once && c.Rate.Answered:
		return at("per", "charge.what_counted_needs_amount_each")
	case (c.Per == Answer || c.Per.ofText()) && c.On == "":
		return at("on", "charge.what_counted_needs_question_count")
	case c.Rate.Answered && c.On == "":
		return at("on", "charge.customerset_amount_needs_question_asks")
	case c.Included < 0 || c.UpTo < 0 || c.UpTo > 0 && c.UpTo <= c.Included:
		return at("included", "charge.included_number_must_lie_below")
	case c.Choice != "" && c.On == "":
		return at("choice", "charge.choice_needs_question")
	case !amountIn(c.Least) || !amountIn(c.Most) || c.Least != nil && c.Most != nil && *c.Least > *c.Most:
		return at("least", "charge.least_must_not_below_zero")
	case (c.Least != nil || c.Most != nil) && (c.Effect == Sets || c.Rate.Answered):
		return at("least", "charge.least_most_belong_what_adds")
	case (c.Included > 0 || c.UpTo > 0) && c.Per == Once:
		return at("included", "charge.included_up_to_belong_to_what_counts")
	case c.EachUnit && c.Rate.Percent != nil:
		return at("each_unit", "charge.share_is_of_all_units")
	case c.Entries != nil && c.On == "":
		return at("entries", "charge.entries_need_a_list")
	case c.Entries != nil && c.Effect == Sets:
		return at("entries", "charge.entries_do_not_set_price")
	case c.AlsoNone && c.On == "":
		return at("also_none", "charge.also_none_needs_question")
	case c.Place != WithQuestion && c.Place != AtStart && c.Place != AtEnd:
		return at("place", "charge.place_is_start_or_end")
	case c.Place != WithQuestion && c.Effect == Sets:
		return at("place", "charge.what_sets_price_is_first")
	case c.Tax != nil && !percentIn(*c.Tax, 100):
		return at("tax", "charge.tax_must_lie_between_0")
	case c.Tax != nil && c.Effect == Sets:
		return at("tax", "charge.what_sets_price_has_its_tax")
	}
	for _, t := range c.Times {
		if !t.Measure() || t == Unit || t == c.Per {
			return at("times", "charge.can_multiplied_by_people_hours")
		}
	}
	if err := c.bands(); err != nil {
		return err
	}
	return c.specials()
}

func (c Charge) bands() error {
	if len(c.Bands) == 0 {
		if c.Graduated {
			return at("graduated", "charge.only_what_has_bands_can")
		}
		return nil
	}
	if c.Per == Once || c.Rate.Amount == nil || len(c.Bands) > 50 {
		return at("bands", "charge.bands_belong_amount_counted_there")
	}
	if c.UpTo > 0 && c.Bands[len(c.Bands)-1].After >= c.UpTo {
		return at("bands", "charge.band_beyond_last_counted")
	}
	return within("bands", ValidateBands(c.Bands, c.Included))
}

// ValidateBands says what is wrong with bands that begin beyond what is free.
func ValidateBands(bands []Band, included int) error {
	last := included
	for i, b := range bands {
		if b.After <= last || !fineIn(&b.Amount) {
			return at("["+strconv.Itoa(i)+"]", "charge.bands_must_rise_begin_beyond")
		}
		last = b.After
	}
	return nil
}

func (c Charge) specials() error {
	if len(c.Prices) > 0 && c.Rate.Amount == nil || len(c.Prices) > 0 && len(c.Bands) > 0 {
		return at("prices", "charge.other_prices_belong_amount_without")
	}
	return within("prices", ValidateSpecials(c.Prices, c.Combine))
}

// A FieldError says what is wrong with one field of something, named by its path:
// "rate.amount".
type FieldError struct {
	Field string
	Why   *words.Message
}

func (e *FieldError) Error() string { return e.Why.Error() }

// Told implements words.Told.
func (e *FieldError) Told() *words.Message { return e.Why }

func at(field, code string, pairs ...any) error {
	return &FieldError{field, words.Tell(code, pairs...)}
}

// within gives an error as that of a field.
func within(field string, err error) error {
	var inner *FieldError
	var said *words.Message
	switch {
	case errors.As(err, &inner):
		return &FieldError{field + inner.Field, inner.Why}
	case errors.As(err, &said):
		return &FieldError{field, said}
	}
	return err
}
