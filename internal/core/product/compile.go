package product

import (
	"cmp"
	"slices"
	"strconv"
	"strings"
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
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
	// Field is the field of the part, as a path: "rate.amount"; empty for the whole.
	Field string `json:"field,omitempty"`
	// Text is what the finding tells, in the words of somebody's language, once
	// it is told.
	Text string `json:"text"`
	// Whole says that nothing is left out for it.
	Whole bool `json:"-"`

	message *words.Message
}

// SheetCurrency is the code of the finding that a sheet's amounts are in
// another currency than the product's.
const SheetCurrency = "finding.sheet_currency"

// Is says whether the finding tells the text of a code.
func (f Finding) Is(code string) bool { return f.message != nil && f.message.Code == code }

// Find makes a finding that tells a message.
func Find(wrong bool, part Part, key string, m *words.Message) Finding {
	return Finding{Error: wrong, Part: part, Key: key, message: m}
}

// Place names where in a draft a finding lies, as a path with its index:
// "charges[2]".
func (d Draft) Place(f Finding) string {
	list := map[Part]string{InQuestion: "questions", InCharge: "charges", InValue: "values", InStep: "steps"}[f.Part]
	at := -1
	switch f.Part {
	case InQuestion:
		at = slices.IndexFunc(d.Questions, func(q Question) bool { return string(q.Key) == f.Key })
	case InStep:
		at = slices.IndexFunc(d.Steps, func(s workplan.Step) bool { return string(s.Key) == f.Key })
	case InCharge, InValue:
		if n, err := strconv.Atoi(f.Key); err == nil {
			at = n - 1
		}
	case InProduct:
		return f.Key + f.Field
	case InBooking:
		return string(f.Part)
	}
	if at < 0 {
		return list
	}
	return strings.TrimSuffix(list+"["+strconv.Itoa(at)+"]."+f.Field, ".")
}

// Said gives what a finding tells in a language.
func (f Finding) Said(l words.Language) string { return f.message.Say(l) }

// Told puts findings into the words of a language.
func Told(findings []Finding, l words.Language) []Finding {
	told := make([]Finding, len(findings))
	for i, f := range findings {
		f.Text = f.Said(l)
		told[i] = f
	}
	return told
}

// A Part is where in a product a finding lies.
type Part string

const (
	InProduct  Part = "product"  // the product itself; the key names the setting
	InQuestion Part = "question" // known by its key
	InCharge   Part = "charge"   // known by its number from 1
	InValue    Part = "value"    // a named value, known by its number from 1
	InStep     Part = "step"     // known by its key
	InBooking  Part = "booking"  // the booking rule
)

type check struct {
	edition  *Edition
	findings []Finding
}

func (c *check) wrong(part Part, key, code string, pairs ...any) {
	f := Find(true, part, key, words.Tell(code, pairs...))
	for _, p := range pairs {
		if e, ok := p.(*charge.FieldError); ok {
			f.Field = e.Field
		}
	}
	c.findings = append(c.findings, f)
}

// refuse is wrong for what leaves nothing out.
func (c *check) refuse(part Part, key, code string, pairs ...any) {
	c.wrong(part, key, code, pairs...)
	c.findings[len(c.findings)-1].Whole = true
}

func (c *check) warn(part Part, key, code string, pairs ...any) {
	c.findings = append(c.findings, Find(false, part, key, words.Tell(code, pairs...)))
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
	c.surprises()
	c.booking()
	c.steps()
	c.rush()
	c.handover()
	c.briefTerms()
	c.atOnce()
	c.findWorking()
	c.priceLists()
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
		c.wrong(InProduct, "title", "finding.product_needs_title")
	}
	for name, text := range map[string]string{"title": e.Title, "summary": e.Summary, "description": e.Description, "next": e.Next, "licence": e.Licence} {
		if len(text) > longestText {
			c.wrong(InProduct, name, "finding.this_text_longer_than_bytes", "longesttext", longestText)
		}
	}
	if !slices.Contains(Reaches(), e.Reaches) {
		c.wrong(InProduct, "reaches", "finding.reaches_unknown")
	}
	if e.Picture != "" && !question.PictureName(e.Picture) {
		c.wrong(InProduct, "picture", "finding.picture_must_name_picture")
	}
	if _, err := e.Currency.Digits(); err != nil {
		c.wrong(InProduct, "currency", "finding.currency_must_iso_4217_code")
	}
	if e.MostUnits < 0 || e.MostUnits > 10_000 {
		c.wrong(InProduct, "most_units", "finding.most_units_one_order_must")
	}
	if len(e.Questions) > mostQuestions || len(e.Draft.Charges) > mostCharges || len(e.Steps) > mostSteps {
		c.wrong(InProduct, "size", "finding.product_can_have_questions_charges", "mostquestions", mostQuestions, "mostcharges", mostCharges, "moststeps", mostSteps)
		e.Questions = e.Questions[:min(len(e.Questions), mostQuestions)]
		e.Draft.Charges = e.Draft.Charges[:min(len(e.Draft.Charges), mostCharges)]
		e.Steps = e.Steps[:min(len(e.Steps), mostSteps)]
	}
}

func (c *check) questions() {
	e := c.edition
	for _, q := range e.Questions {
		key := string(q.Key)
		if q.Currency != "" && q.Currency != e.Currency {
			c.wrong(InQuestion, key, SheetCurrency, "wording", q.Wording, "old", q.Currency, "new", e.Currency)
		}
		_, twice := e.index[q.Key]
		spec, err := question.Compile(q.Question)
		switch {
		case !q.Key.Valid():
			c.wrong(InQuestion, key, "finding.key_needs_lowercase_letters_digits", "key", key)
		case slices.Contains(FactNames(), key):
			c.refuse(InQuestion, key, "finding.key_name_fact_every_order", "key", key)
		case twice:
			c.wrong(InQuestion, key, "finding.two_questions_have_key", "key", key)
		case q.Moment.Rank() < 0:
			c.wrong(InQuestion, key, "finding.must_asked_while_choosing_paying", "wording", q.Wording)
		case err != nil:
			c.wrong(InQuestion, key, "finding.question", "wording", q.Wording, "why", err)
		case q.Wording == "" && spec.Class() != question.ClassNone:
			c.wrong(InQuestion, key, "finding.question_needs_wording", "key", key)
		case q.Later && q.Moment.Rank() > question.Paying.Rank():
			c.wrong(InQuestion, key, "finding.asked_after_payment_so_cannot", "wording", q.Wording)
		case q.Recipient && (q.Moment != question.Briefing || spec.Class() == question.ClassBooking || q.Kind == "amount"):
			c.wrong(InQuestion, key, "finding.recipient_moment", "wording", q.Wording)
		case spec.Class() == question.ClassBooking && q.Later:
			c.wrong(InQuestion, key, "finding.must_answered_before_payment_so", "wording", q.Wording)
		}
		if err != nil || twice || q.Moment.Rank() < 0 {
			continue
		}
		c.scope(q, spec)
		if q.Scope == question.OfUnit {
			spec = question.EachUnit(spec, q.Required)
		}
		c.always(q, spec)
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

// always reads what is answered for every order.
func (c *check) always(q Question, spec question.Spec) {
	if len(q.Always) == 0 || string(q.Always) == "null" {
		return
	}
	e := c.edition
	v, fault := spec.Decode(q.Always)
	if fault == nil && v.Answered() {
		env := question.Env{Zone: time.UTC, Currency: e.Currency, Language: words.English, Answers: question.Answers{}, Units: 1}
		if wrong := spec.Check(v, env); len(wrong) > 0 {
			fault = &wrong[0]
		}
	}
	switch {
	case q.Moment != question.Desk || q.Scope == question.OfUnit:
		c.wrong(InQuestion, string(q.Key), "finding.always_moment", "wording", q.Wording)
	case fault != nil:
		c.wrong(InQuestion, string(q.Key), "finding.always_wrong", "wording", q.Wording)
	case v.Answered():
		if e.always == nil {
			e.always = question.Answers{}
		}
		e.always[q.Key] = v
	}
}

// scope checks whom the answer belongs to and where it appears.
func (c *check) scope(q Question, spec question.Spec) {
	key := string(q.Key)
	switch {
	case !slices.Contains(question.Scopes(), q.Scope):
		c.wrong(InQuestion, key, "finding.can_asked_line_each_unit", "wording", q.Wording)
	case q.Scope != question.OfLine && spec.Class() == question.ClassNone:
		c.wrong(InQuestion, key, "finding.only_shown_so_belongs_line", "wording", q.Wording)
	case q.Scope == question.OfUnit && !question.Repeatable(q.Kind):
		c.wrong(InQuestion, key, "finding.kind_can_asked_only_once", "wording", q.Wording)
	case q.Scope != question.OfLine && spec.Class() == question.ClassBooking:
		c.wrong(InQuestion, key, "finding.books_time_order_line_so", "wording", q.Wording)
	case q.Scope == question.OfOrder && q.Moment == question.Choosing:
		c.wrong(InQuestion, key, "finding.asked_whole_order_so_asked", "wording", q.Wording)
	}
	for _, p := range q.Shown {
		if !slices.Contains(question.Places(), p) {
			c.wrong(InQuestion, key, "finding.answer_cannot_appear_at", "wording", q.Wording, "p", p)
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
		c.wrong(InQuestion, string(item.Key), "finding.stands_section_which_not_there", "wording", item.Wording, "section", item.Section)
	case question.Sections(item.Spec):
		c.wrong(InQuestion, string(item.Key), "finding.section_cannot_stand_another_one", "wording", item.Wording)
	case c.edition.Items[at].Moment != item.Moment:
		c.wrong(InQuestion, string(item.Key), "finding.asked_at_another_moment_than", "wording", item.Wording, "wording2", c.edition.Items[at].Wording)
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
			c.wrong(InQuestion, string(item.Key), "finding.days_depend_on_which_no", "wording", item.Wording, "k", k)
		case other.Moment.Rank() > item.Moment.Rank():
			c.wrong(InQuestion, string(item.Key), "finding.days_depend_on_which_only", "wording", item.Wording, "other", other.Wording)
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
			c.wrong(InQuestion, string(item.Key), "finding.condition_choice_cannot_read", "choice", ch.Label, "why", err)
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
		c.wrong(InQuestion, string(item.Key), "finding.takes_one_choice_are_preselected", "wording", item.Wording, "preselected", preselected)
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
		c.wrong(InQuestion, string(err.(*condition.CycleError).Keys[0]), "finding.conditions_go_round_circle", "why", err)
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
	test := c.test(part, key, name, when, condition.Names{Class: func(k question.Key) (question.Class, bool) {
		s, ok := c.edition.Spec(k)
		if !ok {
			return 0, false
		}
		return s.Class(), true
	}, Entry: func(list question.Key) *condition.Names {
		item, _ := c.edition.Item(list)
		return entryNames(item)
	}}, "")
	for _, k := range test.Keys(nil) {
		if item, _ := c.edition.Item(k); item.Moment.Rank() > by.Rank() {
			c.wrong(part, key, "finding.depends_on_which_only_asked", "name", name, "wording", item.Wording)
		}
	}
	return test
}

// test compiles a condition, within the entries of a list if one is named, and
// refuses codes that no choice has and facts that are always none.
func (c *check) test(part Part, key, name string, when *condition.Condition, names condition.Names, list question.Key) *condition.Test {
	test, err := condition.Compile(when, names)
	if err != nil {
		c.wrong(part, key, "finding.condition_does_not_work", "name", name, "why", err)
		return nil
	}
	test.EachCode(func(within, k question.Key, code string) {
		item, ok := c.edition.Item(cmp.Or(within, list, k))
		if !ok {
			return
		}
		spec, wording := item.Spec, item.Wording
		if cmp.Or(within, list) != "" {
			spec, wording = entryOf(item, k)
		}
		if labels, ok := spec.(question.Labelled); ok {
			if _, there := labels.Label(code); !there {
				c.refuse(part, key, "finding.unknown_code", "name", name, "code", code, "wording", wording)
			}
		}
	})
	for _, f := range test.Facts(nil) {
		if m, is := perFact[f]; is {
			if _, there := c.edition.measures[m]; !there {
				c.refuse(part, key, "finding.fact_never", "name", name, "fact", m)
			}
		}
		if f == condition.Season && (c.edition.Booking == nil || len(c.edition.Booking.Names()) == 0) {
			c.refuse(part, key, "finding.season_never", "name", name)
		}
	}
	return test
}

// entryNames gives the names within the entries of a list; nil where there is no
// list.
func entryNames(item *Item) *condition.Names {
	if item == nil {
		return nil
	}
	spec, ok := item.Spec.(question.Listing)
	if !ok {
		return nil
	}
	return &condition.Names{Class: func(k question.Key) (question.Class, bool) {
		s, ok := spec.EntrySpec(k)
		if !ok {
			return 0, false
		}
		return s.Class(), true
	}}
}

// entryOf gives a question of a list's entries, and how it is worded.
func entryOf(list *Item, k question.Key) (question.Spec, string) {
	spec, ok := list.Spec.(question.Listing)
	if !ok {
		return nil, ""
	}
	s, _ := spec.EntrySpec(k)
	for _, q := range spec.EntryQuestions() {
		if q.Key == k {
			return s, q.Wording
		}
	}
	return s, ""
}

func (c *check) template(part Part, key, name, text string) *merge.Template {
	t, err := merge.Parse(text)
	if err != nil {
		c.wrong(part, key, "finding.text_does_not_work", "name", name, "why", err)
		return nil
	}
	return t
}

// fields finds the answers that a text reads and the names that nothing has.
func (c *check) fields(part Part, key, name string, t *merge.Template, by question.Moment) []question.Key {
	return c.fieldsOf(part, key, name, t.Fields(), by)
}

// fieldsOf is fields, of the names that a text reads.
func (c *check) fieldsOf(part Part, key, name string, names []string, by question.Moment) []question.Key {
	var keys []question.Key
	for _, f := range names {
		item, ok := c.edition.Item(question.Key(f))
		switch {
		case ok && item.Moment.Rank() > by.Rank():
			c.wrong(part, key, "finding.shows_answer_which_only_asked", "name", name, "wording", item.Wording)
		case ok:
			keys = append(keys, item.Key)
		case c.edition.countable() && slices.Contains(BookedFields(), f):
		case !slices.Contains(OrderFields(), f):
			c.wrong(part, key, "finding.has_merge_field_there_no", "name", name, "f", "{{"+f+"}}")
		}
	}
	return keys
}
