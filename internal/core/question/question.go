// Package question holds the kinds of question, typed answers, and what makes
// an answer valid. Each kind stands in a file of its own, kind_*.go, and joins
// the rest by one line in the list of kinds.
package question

import (
	"encoding/json"
	"errors"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// A Key names a question within its product, for conditions, merge fields and
// exports: a lower-case letter, then letters, digits and underscores.
type Key string

// QuantityKey stands in a fault for the number of units, which is no question.
const QuantityKey Key = "quantity"

// KeyForm is the regular expression of a key, which JavaScript reads alike.
const KeyForm = `[a-z][a-z0-9_]{0,39}`

var keyForm = regexp.MustCompile(`^` + KeyForm + `$`)

// Valid says whether the key has the form of a key.
func (k Key) Valid() bool { return keyForm.MatchString(string(k)) }

// A Moment is when a question is asked.
type Moment string

const (
	Choosing Moment = "choosing" // on the product page
	Paying   Moment = "paying"   // at checkout
	Briefing Moment = "briefing" // after payment, on the order page
	Desk     Moment = "desk"     // only the seller sees and fills it
)

// Moments lists the moments in the order in which an order meets them.
func Moments() []Moment { return []Moment{Choosing, Paying, Briefing, Desk} }

// Rank gives the place of the moment in that order, and -1 for no moment.
func (m Moment) Rank() int {
	for i, x := range Moments() {
		if x == m {
			return i
		}
	}
	return -1
}

// A Scope is whom an answer belongs to.
type Scope string

const (
	OfLine     Scope = ""         // one order line
	OfUnit     Scope = "unit"     // each of the line's units
	OfOrder    Scope = "order"    // the whole order: asked once, whatever the lines
	OfCustomer Scope = "customer" // the person: kept and offered again
)

// Scopes lists the scopes.
func Scopes() []Scope { return []Scope{OfLine, OfUnit, OfOrder, OfCustomer} }

// A Place is where an answer appears.
type Place string

const (
	Receipt   Place = "receipt"    // what the customer gets on paying
	OrderPage Place = "order_page" // where the customer answers and looks again
	OnDocket  Place = "docket"     // the seller's ticket of the line
	Worksheet Place = "worksheet"  // beside the work that needs it
	Calendar  Place = "calendar"   // beside the booked time
)

// Places lists the places.
func Places() []Place { return []Place{Receipt, OrderPage, OnDocket, Worksheet, Calendar} }

// A Question is one thing that is asked, or shown among what is asked.
type Question struct {
	Key      Key      `json:"key"`
	Kind     KindName `json:"kind"`
	Moment   Moment   `json:"moment"`
	Scope    Scope    `json:"scope,omitempty"`
	Section  Key      `json:"section,omitempty"` // the section that it stands in
	Wording  string   `json:"wording"`
	Help     string   `json:"help,omitempty"`
	Required bool     `json:"required,omitempty"`
	Later    bool     `json:"later,omitempty"` // may be answered after payment
	Off      bool     `json:"off,omitempty"`   // not asked any more
	Half     bool     `json:"half,omitempty"`  // beside its neighbour, where there is room
	// Recipient has whoever the order is for answer it, where somebody else ordered.
	Recipient bool `json:"recipient,omitempty"`
	// Always is what the seller answers for every order, unless one says otherwise: a
	// fact of the product that only the desk sees.
	Always   json.RawMessage `json:"always,omitempty"`
	Shown    []Place         `json:"shown,omitempty"` // where its answer appears; none: on order page, docket and worksheet
	Settings json.RawMessage `json:"settings,omitempty"`
}

// Appears says whether the answer appears at a place.
func (q *Question) Appears(p Place) bool {
	if len(q.Shown) == 0 {
		return p == OrderPage || p == OnDocket || p == Worksheet
	}
	return slices.Contains(q.Shown, p)
}

// A KindName names a kind of question in stored editions and in the API.
type KindName string

// A Kind reads the settings that questions of its kind carry.
type Kind interface {
	Name() KindName
	// Class says what conditions may compare of its answers, as the Class of its
	// specs does.
	Class() Class
	// Spec reads and checks the settings; they may be empty. The error tells the
	// seller who typed them what is wrong.
	Spec(settings json.RawMessage) (Spec, error)
}

// A Spec is what one question asks for, ready to read and check answers.
type Spec interface {
	// Class says what conditions may compare; ClassNone for what is only shown.
	Class() Class
	// Decode reads an answer as it came in. An answer of a wrong shape is a
	// fault with a code "type_…" and never an error of another sort.
	Decode(raw json.RawMessage) (Value, *Fault)
	// Check says what is wrong with an answer that was decoded.
	Check(v Value, env Env) []Fault
	// Words says how the answer reads on a docket.
	Words(v Value, env Env) string
}

// Ranged is a Spec whose answered number lies in a known range.
type Ranged interface {
	Range() (least, most float64)
}

// United is a Spec whose number has a unit, in the seller's words; empty for none.
type United interface{ UnitOf() string }

// A Class groups kinds by what conditions can compare.
type Class int

const (
	ClassNone    Class = iota // nothing is answered
	ClassText                 // read as text
	ClassNumber               // compared by size
	ClassYesNo                // yes or no
	ClassOne                  // one code of several
	ClassSeveral              // any of several codes
	ClassDay                  // of the calendar
	ClassBooking              // a booked time
	ClassClock                // a time of day
	ClassSpan                 // first and last day
	ClassList                 // a counted list: files, entries
	ClassGiven                // there or not: a signature, an address
)

// Env is what checks and words depend on besides the answer.
type Env struct {
	Today    calendar.Day
	Zone     *time.Location
	Currency money.Currency
	Language words.Language
	// Answers are those that count, for checks against another answer.
	Answers Answers
	// Units is the line's quantity.
	Units int
	// Files finds what is known of an uploaded file; nil passes its checks over.
	Files func(id string) (File, bool)
}

// A Value is one typed answer. It marshals to the JSON it was decoded from.
type Value interface {
	// Answered is false for what counts as no answer, such as an empty text.
	Answered() bool
	// Terms gives what conditions, charges and the work plan read.
	Terms() Terms
}

// Terms are the comparable sides of an answer.
type Terms struct {
	Text   string
	Number decimal.Decimal // the counted number: a number, how many choices, how many people
	Codes  []string
	Counts map[string]int64 // of counted choices, how many of each code
	Day    calendar.Day
	Start  time.Time // a booking's start
}

// Answers are the typed answers to a product's questions.
type Answers map[Key]Value

// A Fault is one thing that is wrong with one answer.
type Fault struct {
	Key    Key
	Path   string // the part of the answer that is wrong, such as "0.name" of a list of entries
	Code   string // the text "fault."+Code says what is wrong and what would be right
	Params words.Params
}

// Message says the fault in a language.
func (f Fault) Message(l words.Language) string { return l.Say("fault."+f.Code, f.Params) }

// Missing says whether the fault is only that a required answer is not there.
func (f Fault) Missing() bool { return f.Code == "required" }

func fault(code string, pairs ...string) *Fault {
	f := &Fault{Code: code}
	for i := 0; i+1 < len(pairs); i += 2 {
		if f.Params == nil {
			f.Params = words.Params{}
		}
		f.Params[pairs[i]] = pairs[i+1]
	}
	return f
}

// Name gives the key with the path, as forms and problem documents name it.
func (f Fault) Name() string {
	if f.Path == "" {
		return string(f.Key)
	}
	return string(f.Key) + "." + f.Path
}

// within gives faults of a part as faults of the whole.
func within(path string, inner []Fault) []Fault {
	for i := range inner {
		if inner[i].Path != "" {
			inner[i].Path = path + "." + inner[i].Path
		} else {
			inner[i].Path = path
		}
	}
	return inner
}

func faults(f *Fault) []Fault {
	if f == nil {
		return nil
	}
	return []Fault{*f}
}

// kinds is the one list that a new kind joins.
var kinds map[KindName]Kind

// Repeat looks kinds up while it is one of them, so the list is filled here.
func init() {
	kinds = index(
		shortText{}, longText{}, number{}, count{}, yesNo{}, oneChoice{}, severalChoices{},
		date{}, clock{}, dateSpan{}, mail{}, phone{}, web{}, postal{}, colour{}, files{}, signature{},
		consent{}, linkValue{}, amount{}, booking{}, repeat{}, section{}, heading{}, note{}, picture{},
	)
}

func index(all ...Kind) map[KindName]Kind {
	m := make(map[KindName]Kind, len(all))
	for _, k := range all {
		m[k.Name()] = k
	}
	return m
}

// ErrKind is returned for a question of a kind that does not exist.
var ErrKind = errors.New("no such kind of question")

// A KindFact is what the desk needs to know of a kind to offer what fits it.
type KindFact struct {
	Name  KindName
	Class Class
	// Counts says what of an answer a charge or a step can count: "character" of
	// a text, "answer" for a number of something; empty for nothing.
	Counts string
	// Repeats says that it can be asked for each unit or entry.
	Repeats bool
}

// Kinds lists all kinds, by name.
func Kinds() []KindFact {
	var list []KindFact
	for name, k := range kinds {
		class := k.Class()
		f := KindFact{Name: name, Class: class, Repeats: class != ClassNone && Repeatable(name)}
		switch {
		case class == ClassText && (name == "short_text" || name == "long_text"):
			f.Counts = "character"
		case name == "amount":
		case class == ClassNumber, class == ClassSeveral, class == ClassSpan, class == ClassList, class == ClassBooking:
			f.Counts = "answer"
		}
		list = append(list, f)
	}
	slices.SortFunc(list, func(a, b KindFact) int { return strings.Compare(string(a.Name), string(b.Name)) })
	return list
}

// kindError is ErrKind, told to the seller.
type kindError struct{ *words.Message }

func (kindError) Is(target error) bool { return target == ErrKind }

// Told implements words.Told.
func (e kindError) Told() *words.Message { return e.Message }

// Compile reads a question's settings.
func Compile(q Question) (Spec, error) {
	k, ok := kinds[q.Kind]
	if !ok {
		return nil, kindError{words.Tell("setting.no_kind", "kind", q.Kind)}
	}
	return k.Spec(q.Settings)
}

// settings decodes a kind's settings; unknown names are refused so that a
// misspelt limit is seen and not silently without effect.
func settings[T any](raw json.RawMessage) (T, error) {
	var s T
	if len(raw) == 0 || string(raw) == "null" {
		return s, nil
	}
	if err := strict(raw, &s); err != nil {
		return s, words.Tell("setting.settings_cannot_read", "why", err)
	}
	return s, nil
}

// Sampled is a Spec that can name answers which stand for all valid ones where
// only their numbers and codes matter: every one of them, or, when all is
// false, those at the ends and around the given numbers, between which a price
// that counts runs in straight lines.
type Sampled interface {
	Samples(around []int) (values []Value, all bool)
}

// numbersFor gives whole numbers from least to most: all of them if they are
// few, or the ends and those around the given ones.
func numbersFor(least, most int, around []int) (list []int, all bool) {
	if most-least < 60 {
		for n := least; n <= most; n++ {
			list = append(list, n)
		}
		return list, true
	}
	list = []int{least, most}
	for _, a := range around {
		for n := a - 1; n <= a+1; n++ {
			if n > least && n < most {
				list = append(list, n)
			}
		}
	}
	slices.Sort(list)
	return slices.Compact(list), false
}
