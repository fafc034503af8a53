// Package evaluate is the front door of the rules: one call gives what to ask,
// what is wrong, the slip and the work. The shop's live price, the checkout,
// the desk's try-out and the audit of stored orders all use it.
package evaluate

import (
	"maps"
	"slices"
	"strconv"
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/stock"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

// Given is what an evaluation depends on besides the edition and the answers.
type Given struct {
	Quantity int
	Now      time.Time
	Zone     *time.Location
	Language words.Language
	// Later are the questions that the customer left until after payment.
	Later map[question.Key]bool
	// Customer and Order are merge fields, empty while unknown.
	Customer string
	// VoucherCodes are those that the line sold; empty until it is placed.
	VoucherCodes string
	Order        string
	// Group is the key of the customer's group; empty for none.
	Group string
	// Whole is what conditions read of the whole order.
	Whole condition.Whole
	// Ordered is the day of the order, for prices that depend on it; zero is today.
	Ordered calendar.Day
	// Left is how many places were left of what is booked when it was ordered; 0
	// looks for it.
	Left int
	// With names the people, rooms and things that what is booked takes, once that is
	// known.
	With []string
	// Checks says whether what others may take meanwhile is looked at: Held, or
	// Against something.
	Checks Checks
	// Shown is what became of what steps made that the customer was shown.
	Shown map[workplan.StepKey]workplan.Shown
	// Work, when set, has the work items made.
	Work *Work
}

// Checks are what answers are checked against besides their questions: files
// that others may have, places and pieces that others may take.
type Checks struct {
	files    func(id string) (question.File, bool)
	bookings *booking.Query
	stock    *stock.Shelf
}

// Held passes these checks over: the files, places and pieces are the order's
// own already.
var Held = Checks{}

// Against checks answers that are still to be ordered. Files finds what is known
// of an uploaded file; a product that takes no bookings has no query, and one of
// which nothing is counted no shelf.
func Against(files func(id string) (question.File, bool), bookings *booking.Query, shelf *stock.Shelf) Checks {
	return Checks{files, bookings, shelf}
}

// held says whether what answers take is the order's own already.
func (c Checks) held() bool { return c.files == nil && c.bookings == nil && c.stock == nil }

// Work is what only the work plan needs.
type Work struct {
	// Language is that of the people who do the work.
	Language words.Language
	Hours    *calendar.Hours
	Paid     time.Time
	Briefed  time.Time
	Existing []workplan.Item
	// Entries are those of the line's lists as they were known when it was last
	// planned.
	Entries workplan.Entries
	// People are those whom the booking takes.
	People []int64
	// Cancelled says that nothing is to be done any more.
	Cancelled bool
	// Foreseen has the work made as if all were paid and answered now.
	Foreseen bool
}

// A Result is all that follows from an order line's answers.
type Result struct {
	// Asked are the questions that apply, in display order.
	Asked []Asked
	// Faults are all that is wrong, in display order, what is missing too.
	Faults []question.Fault
	// Missing are the required questions without an answer, those left until
	// later included; the brief is complete when there are none.
	Missing []question.Key
	Slip    charge.Slip
	// Measured are the people, hours, days and nights of the order line.
	Measured charge.Measured
	// Answers are the answers that count: those of questions that are asked.
	Answers question.Answers
	own     bool // whether Answers is a copy of what was given
	// Picture is the main picture that a choice asks for; empty for none.
	Picture string
	// Work are the wanted work items, and Diff what they change, if asked for.
	Work []workplan.Item
	Diff workplan.Diff
	// Entries are those of the line's lists as they are known now; nil where no
	// step is for them.
	Entries workplan.Entries
}

// Asked is one question that applies.
type Asked struct {
	Item     *product.Item
	Answered bool
	Later    bool     // left until after payment
	Text     string   // of a note, Markdown with the merge fields filled
	Hidden   []string // codes of choices that are not offered
}

// Evaluate walks an order line's answers once: conditions, validity, slip,
// booking, work. It changes nothing that it is given.
func Evaluate(e *product.Edition, answers question.Answers, f Given) Result {
	// Mostly all answers count, so they are taken as they are until one does not.
	answers = e.Always(answers)
	r := Result{Answers: answers}
	asked, counting, hidden := r.walk(e, answers, &f, e.Order)
	units := units(e, &f)
	env := question.Env{Today: calendar.DayOf(f.Now.In(f.Zone)), Zone: f.Zone, Currency: e.Currency, Language: f.Language, Units: units, Files: f.Checks.files}
	env.Answers = r.Answers
	if f.Quantity < 1 || f.Quantity > e.Units() {
		r.Faults = append(r.Faults, question.Fault{Key: "quantity", Code: "quantity", Params: words.Params{"most": strconv.Itoa(e.Units())}})
		f.Quantity = min(max(f.Quantity, 1), e.Units())
	}
	r.Asked = make([]Asked, 0, len(e.Items))
	for i := range e.Items {
		if !asked[i] {
			continue
		}
		item := &e.Items[i]
		a := Asked{Item: item, Hidden: hidden[i]}
		if !item.Asked() {
			if item.Text != nil {
				a.Text = item.Text.Render(func(name string) string { return r.mergeField(e, &f, &env, name) })
			}
			r.Asked = append(r.Asked, a)
			continue
		}
		v := counting[i]
		if a.Answered = v != nil; a.Answered {
			r.check(item, v, e, &f, &env)
			if c, can := item.Spec.(question.Choosable); can {
				if p := c.Showing(v); p != "" {
					r.Picture = p
				}
			}
		} else {
			a.Later = f.Later[item.Key] && item.Later
			r.missing(item, a.Later, f.Later[item.Key])
		}
		r.Asked = append(r.Asked, a)
	}
	r.Faults = append(r.Faults, f.Checks.stock.Check(r.Answers, units)...)
	r.price(e, &f)
	r.measure(e, &f)
	if f.Work != nil {
		r.plan(e, f, env)
	}
	return r
}

// A Walked is what conditions alone decide.
type Walked struct {
	Asked   []bool           // by the question's place
	Hidden  map[int][]string // codes of choices that are not offered, by place
	Answers question.Answers // that count
}

// Walk goes over the questions at some places, in an order in which each stands
// after those that decide about it, and evaluates nothing but their conditions:
// for whoever tries many answers.
func Walk(e *product.Edition, answers question.Answers, quantity int, places []int) Walked {
	r := Result{Answers: answers}
	asked, _, hidden := r.walk(e, answers, &Given{Quantity: quantity}, places)
	return Walked{Asked: asked, Hidden: hidden, Answers: r.Answers}
}

// walk goes over the questions at some places, each after those that decide
// about it, and tells which are asked, the answers that count, and the choices
// that are not offered, all by place. The result's answers are then those that
// count.
func (r *Result) walk(e *product.Edition, answers question.Answers, f *Given, order []int) (asked []bool, counting []question.Value, hidden map[int][]string) {
	asked, counting = make([]bool, len(e.Items)), make([]question.Value, len(e.Items))
	current := r.Answers // as conditions read them, on the way
	facts := e.ConditionFacts(f.Quantity, f.Group, f.Whole, f.Zone, &current)
	units := units(e, f)
	for _, i := range order {
		item := &e.Items[i]
		v := answers[item.Key]
		if item.Off || !e.SectionAsked(item, asked) || !item.Test.Holds(r.Answers, facts) {
			if v != nil {
				r.put(answers, item.Key, nil)
				current = r.Answers
			}
			continue
		}
		asked[i] = true
		given := v
		if item.Offers != nil {
			if hidden == nil {
				hidden = map[int][]string{}
			}
			v, hidden[i] = offered(item, v, r.Answers, facts)
		}
		narrowed := item.Offers != nil && v != nil
		if u, of := v.(question.Units); of {
			v, narrowed = u.Of(units), true
		}
		if v != nil && v.Answered() {
			counting[i] = v
		}
		if given != nil && (narrowed || counting[i] == nil) {
			r.put(answers, item.Key, counting[i])
			current = r.Answers
		}
	}
	return asked, counting, hidden
}

// units gives how many units are priced, also for a quantity that is refused.
func units(e *product.Edition, f *Given) int { return min(max(f.Quantity, 1), e.Units()) }

// put makes an answer count instead of the one that was given, or makes it
// count nowhere.
func (r *Result) put(given question.Answers, k question.Key, v question.Value) {
	if !r.own {
		r.Answers, r.own = maps.Clone(given), true
	}
	if v == nil {
		delete(r.Answers, k)
	} else {
		r.Answers[k] = v
	}
}

// input is what the slip is made from.
func (r *Result) input(e *product.Edition, f *Given) charge.Input {
	in := charge.Input{
		Answers: r.Answers, Quantity: min(max(f.Quantity, 1), e.Units()), Group: f.Group,
		Facts: e.Facts(r.Answers, f.Zone), Day: f.Ordered,
	}
	if in.Facts.Left = f.Left; in.Facts.Left == 0 && f.Checks.bookings != nil && e.Booking != nil && e.Pricing.ReadsLeft {
		if k, ok := e.BookingKey(); ok {
			if b, ok := r.Answers[k].(question.Booking); ok {
				q := *f.Checks.bookings
				q.Wish = booking.Wish{Length: int(e.Booking.Ends(b).Sub(b.Start) / time.Minute), With: b.With}
				in.Facts.Left = e.Booking.Left(b.Start, q)
			}
		}
	}
	counting := r.Answers
	in.Known = e.ConditionFacts(in.Quantity, f.Group, f.Whole, f.Zone, &counting)
	if e.Booking != nil && len(e.Booking.Seasons)+len(e.Booking.Fixed) > 0 {
		in.InSeason = e.Booking.Lies
	}
	if in.Day == (calendar.Day{}) {
		in.Day = calendar.DayOf(f.Now.In(f.Zone))
	}
	for i := range e.Plan.Steps {
		if s := &e.Plan.Steps[i]; s.Acceptance != nil && f.Shown[s.Key].Paid() > 0 {
			in.Further = append(in.Further, charge.Further{Of: s.Called(), Count: f.Shown[s.Key].Paid(), Price: s.Acceptance.Price})
		}
	}
	return in
}

// Wish gives what the answers narrow a booking to: how long it is, and what it
// takes.
func (r *Result) Wish(e *product.Edition, f Given) booking.Wish {
	var w booking.Wish
	if e.Booking == nil {
		return w
	}
	if e.Booking.LengthBy != "" {
		in := r.input(e, &Given{Quantity: f.Quantity, Now: f.Now, Zone: f.Zone, Group: f.Group, Ordered: f.Ordered, Left: 1})
		w.Length = int(e.Pricing.Named(e.Booking.LengthBy, in).IntPart())
	}
	for i, n := range e.Booking.Needs {
		v, answered := r.Answers[n.By]
		item, known := e.Item(n.By)
		if n.By == "" || !answered || !known {
			continue
		}
		choices, ok := item.Spec.(question.Choosable)
		if !ok {
			continue
		}
		for code, of := range n.Codes {
			// What is chosen is what is left of the answer without it.
			kept := choices.Narrow(v, func(c string) bool { return c == code })
			if kept == nil || !kept.Answered() {
				continue
			}
			if w.Only == nil {
				w.Only = map[int][]booking.ResourceID{}
			}
			w.Only[i] = append(w.Only[i], of...)
		}
	}
	return w
}

// price makes the slip.
func (r *Result) price(e *product.Edition, f *Given) {
	in := r.input(e, f)
	r.Slip, r.Measured = e.Pricing.Make(in), in.Facts
	for _, fault := range r.Slip.Faults {
		if why := fault.Params["why"]; why != "" {
			fault.Params = words.Params{"why": f.Language.Fill(why)}
		}
		r.Faults = append(r.Faults, fault)
	}
}

// MeasureNone is the code of the fault that a line has nothing of what its price
// is for.
const MeasureNone = "measure_none"

// measure has no line sold that has nothing of what its price is for: no people,
// no nights. Whoever has ordered it already keeps it.
func (r *Result) measure(e *product.Edition, f *Given) {
	if e.Measure == charge.Once || r.Measured.Of(e.Measure) > 0 || f.Checks.held() && e.Rules == charge.Rules1 {
		return
	}
	k := e.Measures()[e.Measure]
	for _, old := range r.Faults { // it is missing, or wrong, and said to be
		if old.Key == k {
			return
		}
	}
	if !slices.ContainsFunc(r.Asked, func(a Asked) bool { return a.Item.Key == k }) {
		k = question.QuantityKey
	}
	r.Faults = append(r.Faults, question.Fault{Key: k, Code: MeasureNone, Params: words.Params{"measure": f.Language.Fill("noun."+string(e.Measure), "count", "1")}})
}

// Input is what prices are looked for with, for whoever asks for one of many days.
func (r *Result) Input(e *product.Edition, f Given) charge.Input { return r.input(e, &f) }

// Formulas gives what each formula comes to for these answers.
func (r *Result) Formulas(e *product.Edition, f Given) []charge.FormulaValue {
	return e.Pricing.Formulas(r.input(e, &f))
}

// Trace says how the slip came about.
func (r *Result) Trace(e *product.Edition, f Given) []charge.Step {
	return e.Pricing.Trace(r.input(e, &f))
}

// offered gives the answer without the choices that are not offered, and
// their codes.
func offered(item *product.Item, v question.Value, answers question.Answers, facts condition.Facts) (question.Value, []string) {
	spec := item.Spec.(question.Choosable)
	var hidden []string
	for _, ch := range spec.All() {
		if test, ok := item.Offers[ch.Code]; ok && !test.Holds(answers, facts) {
			hidden = append(hidden, ch.Code)
		}
	}
	if v != nil && v.Answered() && len(hidden) > 0 {
		v = spec.Narrow(v, func(code string) bool { return !slices.Contains(hidden, code) })
	}
	return v, hidden
}

func (r *Result) check(item *product.Item, v question.Value, e *product.Edition, f *Given, env *question.Env) {
	wrong := item.Spec.Check(v, *env)
	if b, ok := v.(question.Booking); ok && len(wrong) == 0 && f.Checks.bookings != nil && e.Booking != nil {
		q := *f.Checks.bookings
		q.Wish = r.Wish(e, *f)
		if fault := e.Booking.Check(b, q, f.Language); fault != nil {
			wrong = append(wrong, *fault)
		}
	}
	_, units := v.(question.Units)
	later := item.Later && f.Later[item.Key]
	missing := false
	for _, w := range wrong {
		w.Key = item.Key
		// A unit without its answer is missing as a question without one is.
		if units && w.Missing() {
			missing = true
			if later {
				continue
			}
		}
		r.Faults = append(r.Faults, w)
	}
	if missing {
		r.Missing = append(r.Missing, item.Key)
	}
}

func (r *Result) missing(item *product.Item, later, claimed bool) {
	if claimed && !later && item.Required {
		r.Faults = append(r.Faults, question.Fault{Key: item.Key, Code: "not_later"})
		r.Missing = append(r.Missing, item.Key)
		return
	}
	if !item.Required {
		return
	}
	r.Missing = append(r.Missing, item.Key)
	if !later {
		r.Faults = append(r.Faults, question.Fault{Key: item.Key, Code: "required"})
	}
}

// Upto gives the faults that stand in the way at a moment: those of questions
// asked by then. What is asked later may still be missing.
func (r *Result) Upto(e *product.Edition, m question.Moment) []question.Fault {
	var stand []question.Fault
	for _, f := range r.Faults {
		if item, ok := e.Item(f.Key); ok && f.Missing() && item.Moment.Rank() > m.Rank() {
			continue
		}
		stand = append(stand, f)
	}
	return stand
}

// Brief gives the required questions without an answer that customers can
// give; what only the desk fills does not hold up a brief.
func (r *Result) Brief(e *product.Edition) []question.Key {
	var open []question.Key
	for _, k := range r.Missing {
		if item, _ := e.Item(k); item.Moment != question.Desk {
			open = append(open, k)
		}
	}
	return open
}

// Words says how an answer reads; empty without one.
func (r *Result) Words(e *product.Edition, k question.Key, f Given) string {
	v, ok := r.Answers[k]
	item, known := e.Item(k)
	if !ok || !known {
		return ""
	}
	return item.Spec.Words(v, question.Env{Zone: f.Zone, Currency: e.Currency, Language: f.Language, Units: f.Quantity})
}
