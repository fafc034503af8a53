package product

import (
	"fmt"
	"slices"

	"ruvo/internal/core/charge"
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
	Key   string `json:"key,omitempty"` // the question's or step's key, or the charge's number from 1
	Text  string `json:"text"`
}

// A Part is where in a product a finding lies.
type Part string

const (
	InProduct  Part = "product"
	InQuestion Part = "question"
	InCharge   Part = "charge"
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
	c.conditions()
	c.charges()
	c.booking()
	c.steps()
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
	if _, err := e.Currency.Digits(); err != nil {
		c.wrong(InProduct, "currency", "The currency must be an ISO 4217 code such as EUR.")
	}
	if e.Price < 0 || e.Price > 100_000_000_00 {
		c.wrong(InProduct, "price", "The price must not be below zero.")
	}
	if e.Tax.IsNegative() || e.Tax.IntPart() > 100 {
		c.wrong(InProduct, "tax", "The tax must lie between 0 and 100 per cent.")
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
		case slices.Contains(OrderFields(), key):
			c.wrong(InQuestion, key, "The key %q is a fact of every order; choose another one.", key)
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
		item := Item{Question: q, Spec: spec}
		if t, ok := spec.(question.Templated); ok {
			item.Text = c.template(InQuestion, key, q.Wording, t.Template(), q.Moment)
		}
		e.index[q.Key] = len(e.Items)
		e.Items = append(e.Items, item)
	}
	for i := range e.Items {
		e.Items[i].Fields = c.fields(InQuestion, string(e.Items[i].Key), e.Items[i].Wording, e.Items[i].Text, e.Items[i].Moment)
	}
}

func (c *check) conditions() {
	e := c.edition
	needs := map[question.Key][]question.Key{}
	var keys []question.Key
	for i := range e.Items {
		item := &e.Items[i]
		keys = append(keys, item.Key)
		item.Test = c.condition(InQuestion, string(item.Key), item.Wording, item.When, item.Moment)
		needs[item.Key] = item.Test.Keys(nil)
	}
	order, err := condition.Order(keys, needs)
	if err != nil {
		c.wrong(InQuestion, string(err.(*condition.CycleError).Keys[0]), "The conditions go round in a circle; %s.", err)
		// Without its conditions the product can still be tried.
		for i := range e.Items {
			e.Items[i].Test = nil
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

func (c *check) template(part Part, key, name, text string, _ question.Moment) *merge.Template {
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

func (c *check) charges() {
	e := c.edition
	e.Pricing = charge.Pricing{Title: e.Title, Price: e.Price, Currency: e.Currency, Rounding: e.Rounding, Tax: e.Tax}
	type placed struct {
		at   int
		rule charge.Rule
	}
	var rules []placed
	for i, ch := range e.Draft.Charges {
		key := fmt.Sprint(i + 1)
		if err := ch.Validate(); err != nil {
			c.wrong(InCharge, key, "Charge %s%s: %s.", key, on(ch.On), err)
			continue
		}
		r := placed{at: -1, rule: charge.Rule{Charge: ch}}
		if ch.On != "" {
			item, ok := e.Item(ch.On)
			if !ok || !item.Asked() {
				c.wrong(InCharge, key, "Charge %s is on the question %q, which is not there.", key, ch.On)
				continue
			}
			if item.Moment.Rank() > question.Paying.Rank() {
				c.wrong(InCharge, key, "“%s” is asked after payment, so it cannot change the price.", item.Wording)
				continue
			}
			r.at, r.rule.Wording = e.index[ch.On], item.Wording
			if !c.fits(key, ch, item, &r.rule) {
				continue
			}
		}
		rules = append(rules, r)
	}
	slices.SortStableFunc(rules, func(a, b placed) int { return a.at - b.at })
	for _, r := range rules {
		e.Pricing.Charges = append(e.Pricing.Charges, r.rule)
	}
}

// fits checks that a charge can count what its question answers.
func (c *check) fits(key string, ch charge.Charge, item *Item, r *charge.Rule) bool {
	class := item.Spec.Class()
	switch {
	case ch.Choice != "":
		labels, ok := item.Spec.(question.Labelled)
		label := ""
		if ok {
			label, ok = labels.Label(ch.Choice)
		}
		if !ok {
			c.wrong(InCharge, key, "Charge %s is on the choice %q, which “%s” does not have.", key, ch.Choice, item.Wording)
			return false
		}
		r.Wording = label
	case ch.Per == charge.Character && class != question.ClassText:
		c.wrong(InCharge, key, "“%s” is not answered with text, so its letters cannot be counted.", item.Wording)
		return false
	case ch.Per == charge.Answer && (class == question.ClassText || class == question.ClassDay):
		c.wrong(InCharge, key, "“%s” is not answered with a number, so it cannot be counted.", item.Wording)
		return false
	case ch.Rate.Answered && item.Kind != "amount":
		c.wrong(InCharge, key, "“%s” does not ask for an amount.", item.Wording)
		return false
	}
	return true
}

func on(k question.Key) string {
	if k == "" {
		return ""
	}
	return fmt.Sprintf(" on %q", k)
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
		r.Text = c.template(InStep, key, s.Title, s.Instructions, question.Desk)
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
