// Package product holds an edition as a whole: what is asked, what it costs,
// when it happens and what must be done, and the product check that finds its
// mistakes.
package product

import (
	"maps"
	"slices"
	"sync"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/atonce"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/brief"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/handover"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/workplan"
)

// A Draft is a product as the seller edits it. Published, it becomes the
// content of an edition and changes no more.
type Draft struct {
	Title       string           `json:"title"`
	Summary     string           `json:"summary,omitempty"`     // one sentence
	Description string           `json:"description,omitempty"` // Markdown
	Next        string           `json:"next,omitempty"`        // what happens after the order; Markdown
	Reaches     Reach            `json:"reaches,omitempty"`     // how it comes to the customer
	Licence     string           `json:"licence,omitempty"`     // what may be done with it; Markdown
	Picture     string           `json:"picture,omitempty"`     // name of a shipped picture
	Currency    money.Currency   `json:"currency"`
	Price       money.Amount     `json:"price" need:"always"`  // of one unit, or of one of what it is measured by
	BaseLabel   string           `json:"base_label,omitempty"` // the slip's words for the price; the title when empty
	Measure     charge.Per       `json:"measure,omitempty"`    // person, hour, day or night that the price is for
	Prices      []charge.Special `json:"prices,omitempty"`     // other prices
	Combine     charge.Combine   `json:"combine,omitempty"`    // which of those that hold is taken
	Bands       []charge.Band    `json:"bands,omitempty"`      // other prices from a number on
	Graduated   bool             `json:"graduated,omitempty"`  // each part at the price of its own band
	Limits      charge.Limits    `json:"limits,omitzero"`      // of a whole order line
	Cost        money.Amount     `json:"cost,omitempty"`       // of one unit, for the margin; seen at the desk only
	Article     string           `json:"article,omitempty"`    // code, to which choices add theirs
	Values      []NamedFormula   `json:"values,omitempty"`     // intermediate values for formulas
	Deposit     money.Amount     `json:"deposit,omitempty"`    // held as security for each unit
	DepositBy   string           `json:"deposit_by,omitempty"` // the named value that says how much is held instead
	Payment     *charge.Parts    `json:"payment,omitempty"`    // paid in parts; nil is all at once
	Tax         decimal.Decimal  `json:"tax" need:"always"`    // per cent
	// Reprices lets customers change answers after payment that change the price.
	Reprices bool `json:"reprices,omitempty"`
	// Ways are the ways in which it can be paid; none for those of the business.
	Ways []ledger.Way `json:"ways,omitempty"`
	// Cancelling is what comes back when it is cancelled; nil for what the
	// business says.
	Cancelling *charge.Cancelling `json:"cancelling,omitempty"`
	Exempt     string             `json:"exempt,omitempty"` // why no tax is taken
	Groups     []string           `json:"groups,omitempty"` // only customers of these groups see it; none: everybody
	AddOns     []AddOn            `json:"add_ons,omitempty"`
	// Bundle is what its add-ons cost together; nil for their own prices.
	Bundle *charge.Bundle `json:"bundle,omitempty"`
	// Voucher makes it a voucher, which pays here; nil for any other product.
	Voucher *charge.Voucher `json:"voucher,omitempty"`
	// PriceLists are what it costs in further currencies.
	PriceLists []PriceList `json:"price_lists,omitempty"`
	AddOnOnly  bool        `json:"add_on_only,omitempty"` // not on the front page

	// Rules are those that the edition computes by.
	Rules charge.Rules `json:"rules,omitempty"`
	// The business's ways of computing, as they were at publishing.
	Rounding money.Rounding `json:"rounding,omitempty"`
	TaxAdded bool           `json:"tax_added,omitempty"` // prices are without tax
	ShowZero bool           `json:"show_zero,omitempty"` // the slip keeps lines at zero

	MostUnits int        `json:"most_units,omitempty"` // of one order line; 0 or 1 asks for no quantity
	Category  string     `json:"category,omitempty"`   // sheets can be used by category
	Sheets    []SheetUse `json:"sheets,omitempty"`     // beside those that their own rules bring in

	Questions []Question      `json:"questions,omitempty"`
	Charges   []charge.Charge `json:"charges,omitempty"`
	// ByHand has the charges stand in the slip as they stand in their list,
	// instead of with their questions.
	ByHand  bool            `json:"by_hand,omitempty"`
	Steps   []workplan.Step `json:"steps,omitempty"`
	Rush    *Rush           `json:"rush,omitempty"`    // an answer that puts its work first
	Promise *schedule.Terms `json:"promise,omitempty"` // how it is promised; nil for what the business says
	Booking *booking.Rule   `json:"booking,omitempty"`
	// Handover is how finished files are handed over; nil where none are, and an order
	// is done with its work.
	Handover *handover.Terms `json:"handover,omitempty"`
	// Brief is how answers are collected after payment; nil for without more ado.
	Brief *brief.Terms `json:"brief,omitempty"`
	// AtOnce is what every buyer gets as soon as it is paid.
	AtOnce []atonce.Gift `json:"at_once,omitempty"`
}

// A NamedFormula is an intermediate value that formulas can read by its name.
type NamedFormula struct {
	Name    string `json:"name"`
	Formula string `json:"formula"`
	// Label stands behind its number where a computation is shown: "5.2 m²".
	Label string `json:"label,omitempty"`
	// Title is its name on the slip, where it then stands in a row of its own;
	// empty for none.
	Title string `json:"title,omitempty"`
	// Otherwise is the value where the formula has no result.
	Otherwise *decimal.Decimal `json:"otherwise,omitempty"`
	// Sheet is the sheet that brought it in; zero for the product's own.
	Sheet SheetID `json:"sheet,omitempty"`
}

// An AddOn is another product that is offered with this one, as a line of its
// own with its own questions.
type AddOn struct {
	Product int64 `json:"product"`
	Most    int   `json:"most,omitempty"` // units; 0 or 1 is one
}

// Units gives the most units of the add-on.
func (a AddOn) Units() int { return max(a.Most, 1) }

// A Question is asked under a condition; without one, always.
type Question struct {
	question.Question
	When *condition.Condition `json:"when,omitempty"`
	// CountsAs makes the answered number the line's people, hours, days or
	// nights.
	CountsAs charge.Per `json:"counts_as,omitempty"`
	// Sheet is the sheet that brought the question in; zero for the product's own.
	Sheet SheetID `json:"sheet,omitempty"`
	// Currency is what the amounts in its settings are in, where that is not
	// the product's: its sheet brought them, and they mean nothing here.
	Currency money.Currency `json:"currency,omitempty"`
}

// An Edition is a draft made ready to be evaluated. It is immutable and can be
// used by several goroutines.
type Edition struct {
	Draft
	// Items are the questions in display order.
	Items []Item
	// Order gives the questions' places in an order in which conditions can
	// be evaluated.
	Order   []int
	Pricing charge.Pricing
	Plan    workplan.Plan

	measures map[charge.Per]question.Key // the questions whose answers measure the line
	working  []question.Key              // the questions whose answers say what work there is
	index    map[question.Key]int
	always   question.Answers // that hold for every order, unless one says otherwise
	lacks    []Finding
	in       map[money.Currency]*Edition // as it is sold in further currencies
	ranging  sync.Mutex
	ranged   *calendar.Day // of the order, for which the range was looked for
	spread   Range
}

// A Range is the least and the most that one unit can cost over all valid
// answers, with tax. Exact says that both are reached; otherwise they are
// bounds.
type Range struct {
	Least money.Amount
	Most  money.Amount
	Exact bool
}

// Endless says that nothing limits what one unit can cost.
func (r Range) Endless() bool { return r.Most >= question.Unlimited }

// Lacks are the mistakes for which parts of the draft were left out, so that
// what is computed is not what was meant. An edition that was published under
// milder rules than today's can have some.
func (e *Edition) Lacks() []Finding { return e.lacks }

// PriceRange gives the edition's price range on a day of the order, looking for
// it once: editions never change, and few have prices that depend on the day.
func (e *Edition) PriceRange(day calendar.Day, look func() Range) Range {
	e.ranging.Lock()
	defer e.ranging.Unlock()
	if e.ranged == nil || *e.ranged != day && e.dated() {
		e.spread, e.ranged = look(), &day
	}
	return e.spread
}

// dated says whether a price depends on the day of the order.
func (e *Edition) dated() bool {
	of := func(s charge.Special) bool { return s.From != nil || s.To != nil }
	return slices.ContainsFunc(e.Pricing.Prices, of) || slices.ContainsFunc(e.Pricing.Charges, func(r charge.Compiled) bool {
		return slices.ContainsFunc(r.Prices, of)
	})
}

// An Item is a question of an edition, ready.
type Item struct {
	Question
	Spec   question.Spec
	Offers map[string]*condition.Test // of choices that depend on a condition, by code
	Test   *condition.Test
	Text   *merge.Template // of what is only shown
	Fields []question.Key  // the answers that the text reads
}

// Asked says whether the question can be answered at all.
func (i *Item) Asked() bool { return i.Spec.Class() != question.ClassNone }

// Always gives answers with those that the seller gave for every order, where there is no
// other. It changes nothing that it is given.
func (e *Edition) Always(answers question.Answers) question.Answers {
	if len(e.always) == 0 {
		return answers
	}
	all := maps.Clone(e.always)
	for k, v := range answers {
		if _, fact := all[k]; !fact || v.Answered() {
			all[k] = v
		}
	}
	return all
}

// Item finds a question by its key.
func (e *Edition) Item(k question.Key) (*Item, bool) {
	i, ok := e.index[k]
	if !ok {
		return nil, false
	}
	return &e.Items[i], true
}

// SectionAsked says whether the section that a question stands in is asked;
// true without one. Asked tells of the questions by their places.
func (e *Edition) SectionAsked(i *Item, asked []bool) bool {
	if i.Section == "" {
		return true
	}
	return asked[e.index[i.Section]]
}

// Spec finds what a question asks for, in the form that question.Decode takes.
func (e *Edition) Spec(k question.Key) (question.Spec, bool) {
	i, ok := e.Item(k)
	if !ok {
		return nil, false
	}
	return i.Spec, true
}

// Units gives the most units of one order line.
func (e *Draft) Units() int { return max(e.MostUnits, 1) }

// BookingKey finds the question that asks for the booking.
func (e *Edition) BookingKey() (question.Key, bool) {
	i := slices.IndexFunc(e.Items, func(i Item) bool { return i.Spec.Class() == question.ClassBooking })
	if i < 0 || e.Booking == nil {
		return "", false
	}
	return e.Items[i].Key, true
}

// FactNames are the names of what is known of every order besides its answers.
// Conditions, formulas and texts read them, so no question has such a key: its
// answer would stand in their shadow.
func FactNames() []string {
	names := OrderFields()
	for _, n := range slices.Concat(charge.FormulaNames(), []string{string(condition.Group)}, charge.BookedNames(), BookedFields()) {
		if !slices.Contains(names, n) {
			names = append(names, n)
		}
	}
	return names
}

// BookedFields are the merge fields that what is booked, or measured, has: of nothing
// they are empty.
func BookedFields() []string {
	return []string{charge.NamePeople, charge.NameHours, charge.NameDays, charge.NameNights, charge.NameWeekday, charge.NameDay, charge.NameSeason, FieldBegins, FieldBookedWith}
}

// countable says whether something of the product can be booked or measured.
func (d *Draft) countable() bool {
	return d.Booking != nil || slices.ContainsFunc(d.Questions, func(q Question) bool { return q.CountsAs != charge.Once || q.Kind == "date_span" })
}

// Merge fields that formulas do not read.
const (
	FieldBegins     = "begins"      // the time of day at which what is booked begins
	FieldBookedWith = "booked_with" // the people, rooms and things that it takes
)

// OrderFields are the merge fields that every order has besides its answers.
func OrderFields() []string {
	return []string{"product", "order", "customer", "quantity", "voucher_codes"}
}
