package product

import (
	"fmt"
	"slices"

	"ruvo/internal/core/condition"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

// The limits of one product.
const (
	mostQuestions = 600
	mostCharges   = 1000
	mostSteps     = 200
	longestText   = 20_000
)

// A Finding is a mistake found in a product. An error stops publishing.
type Finding struct {
	Error bool   `json:"error"`
	Part  Part   `json:"part"`
	Key   string `json:"key,omitempty"` // the question's or step's key, or the charge's or value's number from 1
	At    int    `json:"at,omitempty"`  // within a formula, the character from 1
	Text  string `json:"text"`
	// Whole says that nothing is left out for it.
	Whole bool `json:"-"`
}

// A Part is where in a product a finding lies.
type Part string

const (
	InProduct  Part = "product"
	InQuestion Part = "question"
	InCharge   Part = "charge"
	InValue    Part = "value"
	InStep     Part = "step"
	InBooking  Part = "booking"
)

type check struct {
	edition  *Edition
	findings []Finding
}

func (c *check) wrong(part Part, key string, format string, args ...any) {
	c.findings = append(c.findings, Finding{Error: true, Part: part, Key: key, Text: fmt.Sprintf(format, args...)})
}

func (c *check) warn(part Part, key string, format string, args ...any) {
	c.findings = append(c.findings, Finding{Part: part, Key: key, Text: fmt.Sprintf(format, args...)})
}

// Compile makes a draft ready and lists all that is wrong with it. The edition
// is usable even with errors, leaving out the parts that are wrong, so that a
// product can be tried while it is edited; only one without errors may be
// published.
func Compile(d Draft) (*Edition, []Finding) {
	c := &check{edition: &Edition{Draft: d, index: map[question.Key]int{}}}
	c.product()
	c.questions()
	c.measures()
	c.conditions()
	c.price()
	c.charges()
	c.booking()
	c.steps()
	for _, f := range c.findings {
		if f.Error && !f.Whole {
			c.edition.lacks = append(c.edition.lacks, f)
		}
	}
	return c.edition, c.findings
}

// Broken says whether any finding is an error.
func Broken(f []Finding) bool {
	return slices.ContainsFunc(f, func(f Finding) bool { return f.Error })
}

func (c *check) product() {
	e := c.edition
	if e.Title == "" {
		c.wrong(InProduct, "title", "The product needs a title.")
	}
	for name, text := range map[string]string{"title": e.Title, "summary": e.Summary, "description": e.Description, "next": e.Next} {
		if len(text) > longestText {
			c.wrong(InProduct, name, "This text is longer than %d bytes.", longestText)
		}
	}
	if e.Picture != "" && !question.PictureName(e.Picture) {
		c.wrong(InProduct, "picture", "The picture must be the name of a picture.")
	}
	if _, err := e.Currency.Digits(); err != nil {
		c.wrong(InProduct, "currency", "The currency must be an ISO 4217 code such as EUR.")
	}
	if e.MostUnits < 0 || e.MostUnits > 10_000 {
		c.wrong(InProduct, "most_units", "The most units of one order must lie between 1 and 10000.")
	}
	if len(e.Questions) > mostQuestions || len(e.Draft.Charges) > mostCharges || len(e.Steps) > mostSteps {
		c.wrong(InProduct, "size", "A product can have %d questions, %d charges and %d steps.", mostQuestions, mostCharges, mostSteps)
		e.Questions = e.Questions[:min(len(e.Questions), mostQuestions)]
		e.Draft.Charges = e.Draft.Charges[:min(len(e.Draft.Charges), mostCharges)]
		e.Steps = e.Steps[:min(len(e.Steps), mostSteps)]
	}
}

func (c *check) questions() {
	e := c.edition
	for _, q := range e.Questions {
		key := string(q.Key)
		_, twice := e.index[q.Key]
		spec, err := question.Compile(q.Question)
		switch {
		case !q.Key.Valid():
			c.wrong(InQuestion, key, "The key %q needs lower-case letters, digits and underscores, a letter first.", key)
		case slices.Contains(FactNames(), key):
			c.findings = append(c.findings, Finding{Error: true, Whole: true, Part: InQuestion, Key: key, Text: fmt.Sprintf("The key %q is the name of a fact of every order, which formulas and conditions read instead; choose another one.", key)})
		case twice:
			c.wrong(InQuestion, key, "Two questions have the key %q.", key)
		case q.Moment.Rank() < 0:
			c.wrong(InQuestion, key, "“%s” must be asked while choosing, paying, briefing or at the desk.", q.Wording)
		case err != nil:
			c.wrong(InQuestion, key, "“%s”: %s.", q.Wording, err)
		case q.Wording == "" && spec.Class() != question.ClassNone:
			c.wrong(InQuestion, key, "The question %q needs a wording.", key)
		case q.Later && q.Moment.Rank() > question.Paying.Rank():
			c.wrong(InQuestion, key, "“%s” is asked after payment, so it cannot be left until later.", q.Wording)
		case spec.Class() == question.ClassBooking && q.Later:
			c.wrong(InQuestion, key, "“%s” must be answered before payment, so that its place can be held.", q.Wording)
		}
		if err != nil || twice || q.Moment.Rank() < 0 {
			continue
		}
		c.scope(q, spec)
		if q.Scope == question.OfUnit {
			spec = question.EachUnit(spec, q.Required)
		}
		item := Item{Question: q, Spec: spec}
		if t, ok := spec.(question.Templated); ok {
			item.Text = c.template(InQuestion, key, q.Wording, t.Template())
		}
		e.index[q.Key] = len(e.Items)
		e.Items = append(e.Items, item)
	}
	for i := range e.Items {
		c.section(i)
		c.refers(&e.Items[i])
		e.Items[i].Fields = c.fields(InQuestion, string(e.Items[i].Key), e.Items[i].Wording, e.Items[i].Text, e.Items[i].Moment)
	}
}

// scope checks whom the answer belongs to and where it appears.
func (c *check) scope(q Question, spec question.Spec) {
	key := string(q.Key)
	switch {
	case !slices.Contains(question.Scopes(), q.Scope):
		c.wrong(InQuestion, key, "“%s” can be asked of the line, each unit, the order or the customer.", q.Wording)
	case q.Scope != question.OfLine && spec.Class() == question.ClassNone:
		c.wrong(InQuestion, key, "“%s” is only shown, so it belongs to the line.", q.Wording)
	case q.Scope == question.OfUnit && !question.Repeatable(q.Kind):
		c.wrong(InQuestion, key, "“%s” is of a kind that can be asked only once, not for each unit.", q.Wording)
	case q.Scope != question.OfLine && spec.Class() == question.ClassBooking:
		c.wrong(InQuestion, key, "“%s” books a time for the order line, so it belongs to the line.", q.Wording)
	case q.Scope == question.OfOrder && q.Moment == question.Choosing:
		c.wrong(InQuestion, key, "“%s” is asked of the whole order, so it is asked at checkout or after paying.", q.Wording)
	}
	for _, p := range q.Shown {
		if !slices.Contains(question.Places(), p) {
			c.wrong(InQuestion, key, "The answer to “%s” cannot appear at %q.", q.Wording, p)
		}
	}
}

// section checks that a question's section is there, before it, at the same
// moment. A question whose section is not stands outside of any.
func (c *check) section(i int) {
	item := &c.edition.Items[i]
	if item.Section == "" {
		return
	}
	at, ok := c.edition.index[item.Section]
	switch {
	case !ok || !question.Sections(c.edition.Items[at].Spec):
		c.wrong(InQuestion, string(item.Key), "“%s” stands in the section %q, which is not there.", item.Wording, item.Section)
	case question.Sections(item.Spec):
		c.wrong(InQuestion, string(item.Key), "The section “%s” cannot stand in another one.", item.Wording)
	case c.edition.Items[at].Moment != item.Moment:
		c.wrong(InQuestion, string(item.Key), "“%s” is asked at another moment than its section “%s”.", item.Wording, c.edition.Items[at].Wording)
	default:
		return
	}
	item.Section = ""
}

// refers checks the other answers that a question's limits read.
func (c *check) refers(item *Item) {
	r, ok := item.Spec.(question.Referring)
	if !ok {
		return
	}
	for _, k := range r.Refers() {
		other, ok := c.edition.Item(k)
		switch {
		case !ok || k == item.Key || other.Spec.Class() != question.ClassDay && other.Spec.Class() != question.ClassSpan:
			c.wrong(InQuestion, string(item.Key), "The days of “%s” depend on %q, which is no question for a day.", item.Wording, k)
		case other.Moment.Rank() > item.Moment.Rank():
			c.wrong(InQuestion, string(item.Key), "The days of “%s” depend on “%s”, which is only asked later.", item.Wording, other.Wording)
		}
	}
}

// offers compiles the conditions of a question's choices.
func (c *check) offers(item *Item) []question.Key {
	spec, ok := item.Spec.(question.Choosable)
	if !ok {
		return nil
	}
	var keys []question.Key
	preselected := 0
	for _, ch := range spec.All() {
		if ch.Preselected {
			preselected++
		}
		if len(ch.When) == 0 || string(ch.When) == "null" {
			continue
		}
		when, err := condition.Read(ch.When)
		if err != nil {
			c.wrong(InQuestion, string(item.Key), "The condition of the choice “%s” cannot be read: %s.", ch.Label, err)
			continue
		}
		test := c.condition(InQuestion, string(item.Key), ch.Label, when, item.Moment)
		if item.Offers == nil {
			item.Offers = map[string]*condition.Test{}
		}
		item.Offers[ch.Code] = test
		keys = append(test.Keys(keys), c.edition.factsOf(test)...)
	}
	if preselected > 1 && item.Kind == "one_choice" {
		c.wrong(InQuestion, string(item.Key), "“%s” takes one choice, and %d are preselected.", item.Wording, preselected)
	}
	return keys
}

func (c *check) conditions() {
	e := c.edition
	needs := map[question.Key][]question.Key{}
	var keys []question.Key
	for i := range e.Items {
		item := &e.Items[i]
		keys = append(keys, item.Key)
		item.Test = c.condition(InQuestion, string(item.Key), item.Wording, item.When, item.Moment)
		needs[item.Key] = append(append(item.Test.Keys(nil), c.edition.factsOf(item.Test)...), c.offers(item)...)
		if item.Section != "" {
			needs[item.Key] = append(needs[item.Key], item.Section)
		}
	}
	order, err := condition.Order(keys, needs)
	if err != nil {
		c.wrong(InQuestion, string(err.(*condition.CycleError).Keys[0]), "The conditions go round in a circle; %s.", err)
		// Without its conditions the product can still be tried.
		for i := range e.Items {
			e.Items[i].Test, e.Items[i].Offers = nil, nil
		}
		order = keys
	}
	for _, k := range order {
		e.Order = append(e.Order, e.index[k])
	}
}

// condition compiles a condition and checks that what it reads is known by
// the moment at which it is read.
func (c *check) condition(part Part, key, name string, when *condition.Condition, by question.Moment) *condition.Test {
	test, err := condition.Compile(when, func(k question.Key) (question.Class, bool) {
		s, ok := c.edition.Spec(k)
		if !ok {
			return 0, false
		}
		return s.Class(), true
	})
	if err != nil {
		c.wrong(part, key, "The condition of “%s” does not work: %s.", name, err)
		return nil
	}
	for _, k := range test.Keys(nil) {
		if item, _ := c.edition.Item(k); item.Moment.Rank() > by.Rank() {
			c.wrong(part, key, "“%s” depends on “%s”, which is only asked later.", name, item.Wording)
		}
	}
	return test
}

func (c *check) template(part Part, key, name, text string) *merge.Template {
	t, err := merge.Parse(text)
	if err != nil {
		c.wrong(part, key, "The text of “%s” does not work: %s.", name, err)
		return nil
	}
	return t
}

// fields finds the answers that a text reads and the names that nothing has.
func (c *check) fields(part Part, key, name string, t *merge.Template, by question.Moment) []question.Key {
	var keys []question.Key
	for _, f := range t.Fields() {
		item, ok := c.edition.Item(question.Key(f))
		switch {
		case ok && item.Moment.Rank() > by.Rank():
			c.wrong(part, key, "“%s” shows the answer to “%s”, which is only asked later.", name, item.Wording)
		case ok:
			keys = append(keys, item.Key)
		case !slices.Contains(OrderFields(), f):
			c.wrong(part, key, "“%s” has the merge field {{%s}}, and there is no question with that key.", name, f)
		}
	}
	return keys
}

func (c *check) booking() {
	e := c.edition
	asked := slices.ContainsFunc(e.Items, func(i Item) bool { return i.Spec.Class() == question.ClassBooking })
	switch {
	case e.Booking == nil && asked:
		c.wrong(InBooking, "", "A question asks for a booking, and the product has no booking rule.")
	case e.Booking != nil && !asked:
		c.wrong(InBooking, "", "The product has a booking rule, and no question asks for the booking.")
	}
	if e.Booking == nil {
		return
	}
	if err := e.Booking.Validate(); err != nil {
		c.wrong(InBooking, "", "The booking rule does not work: %s.", err)
		e.Booking = nil
	}
	n := 0
	for _, i := range e.Items {
		if i.Spec.Class() == question.ClassBooking {
			n++
			if i.Moment != question.Choosing {
				c.wrong(InQuestion, string(i.Key), "“%s” must be asked while choosing, so that its place can be held at checkout.", i.Wording)
			}
		}
	}
	if n > 1 {
		c.wrong(InBooking, "", "A product can ask for one booking.")
	}
	if e.Units() > 1 {
		c.wrong(InBooking, "", "A bookable product is sold one at a time; the people are counted in the booking.")
	}
}

func (c *check) steps() {
	e := c.edition
	seen := map[workplan.StepKey]bool{}
	for i := range e.Steps {
		s := &e.Steps[i]
		key := string(s.Key)
		if err := s.Validate(); err != nil {
			c.wrong(InStep, key, "The step “%s”: %s.", s.Title, err)
			continue
		}
		if seen[s.Key] {
			c.wrong(InStep, key, "Two steps have the key %q.", s.Key)
			continue
		}
		seen[s.Key] = true
		if s.Booked() && e.Booking == nil {
			c.wrong(InStep, key, "The step “%s” has its time from the booking, and the product is not bookable.", s.Title)
		}
		r := workplan.Ready{Step: *s}
		r.Test = c.condition(InStep, key, s.Title, s.When, question.Desk)
		r.Text = c.template(InStep, key, s.Title, s.Instructions)
		r.Fields = c.fields(InStep, key, s.Title, r.Text, question.Desk)
		r.Needs = nil
		for _, k := range append(slices.Clone(s.Needs), s.Minutes.Of) {
			if item, ok := e.Item(k); k != "" && (!ok || !item.Asked()) {
				c.wrong(InStep, key, "The step “%s” needs the answer %q, and there is no such question.", s.Title, k)
			} else if k != "" && slices.Contains(s.Needs, k) && !slices.Contains(r.Needs, k) {
				r.Needs = append(r.Needs, k)
			}
		}
		e.Plan.Steps = append(e.Plan.Steps, r)
	}
	c.stepOrder(seen)
	if len(e.Steps) == 0 {
		c.warn(InStep, "", "There is no step yet, so an order makes no work.")
	}
}

// stepOrder finds steps that wait on each other or on nothing.
func (c *check) stepOrder(known map[workplan.StepKey]bool) {
	var keys []question.Key
	after := map[question.Key][]question.Key{}
	for _, s := range c.edition.Plan.Steps {
		keys = append(keys, question.Key(s.Key))
		if s.Start.On != workplan.AfterStep {
			continue
		}
		if !known[s.Start.Step] {
			c.wrong(InStep, string(s.Key), "The step “%s” starts after %q, and there is no such step.", s.Title, s.Start.Step)
		}
		after[question.Key(s.Key)] = []question.Key{question.Key(s.Start.Step)}
	}
	if _, err := condition.Order(keys, after); err != nil {
		cycle := err.(*condition.CycleError)
		c.wrong(InStep, string(cycle.Keys[0]), "Steps wait on each other, so none can begin: %v.", cycle.Keys)
	}
}
