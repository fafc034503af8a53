package explore

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// Review is the part of the product check that tries answers out: what can
// never be asked or chosen, what cannot be declined or booked, and what sells
// badly. Compile finds all other mistakes.
func Review(e *product.Edition, now time.Time, zone *time.Location) []product.Finding {
	r := &review{e: e}
	if zone != nil {
		r.today = calendar.DayOf(now.In(zone))
	}
	r.reach()
	r.declined()
	r.prices()
	r.later()
	r.wordings()
	r.askedTwice()
	r.long()
	r.days(now, zone)
	r.steps()
	r.charges()
	r.below()
	if item, open := e.Open(); open {
		r.say(false, product.InProduct, "measure", "finding.measure_open", "measure", e.Measure, "wording", item.Wording)
	}
	return r.found
}

type review struct {
	e     *product.Edition
	today calendar.Day // of the order
	found []product.Finding
}

func (r *review) say(wrong bool, part product.Part, key, code string, pairs ...any) {
	r.found = append(r.found, product.Find(wrong, part, key, words.Tell(code, pairs...)))
}

// tried is how many combinations of answers are tried for one question.
const tried = 1500

// reach finds questions that no answers can reach and choices that are never
// offered.
func (r *review) reach() {
	s := &search{e: r.e}
	for i := range r.e.Items {
		item := &r.e.Items[i]
		if item.Off {
			continue
		}
		keys := r.closure(s, item.Key)
		if len(keys) == 0 {
			continue
		}
		asked, offered, known := r.ever(s, item, keys)
		if !known {
			continue
		}
		if !asked {
			r.say(false, product.InQuestion, string(item.Key), "finding.can_never_asked_no_answers", "wording", item.Wording)
			continue
		}
		spec, ok := item.Spec.(question.Choosable)
		if !ok || item.Offers == nil {
			continue
		}
		never := 0
		for _, ch := range spec.All() {
			if !offered[ch.Code] {
				never++
				r.say(false, product.InQuestion, string(item.Key), "finding.choice_never_offered_no_answers", "choice", ch.Label, "wording", item.Wording)
			}
		}
		if never == len(spec.All()) && item.Required {
			r.say(true, product.InQuestion, string(item.Key), "finding.must_answered_none_choices_ever", "wording", item.Wording)
		}
	}
}

// days finds questions for a day that no day answers: the earliest lies after
// the latest, or the weekdays that are taken do not lie between them. Ends that
// move with today are looked at as they are now.
func (r *review) days(now time.Time, zone *time.Location) {
	if zone == nil {
		return
	}
	env := question.Env{Today: calendar.DayOf(now.In(zone)), Zone: zone, Answers: question.Answers{}}
	for i := range r.e.Items {
		item := &r.e.Items[i]
		if spec, ok := item.Spec.(question.OfDays); ok && !item.Off && !spec.Leaves(env) {
			r.say(item.Required, product.InQuestion, string(item.Key), "finding.no_day_answers_earliest_day", "wording", item.Wording)
		}
	}
}

// steps finds steps whose condition no answers meet, so that they never make
// work.
func (r *review) steps() {
	s := &search{e: r.e}
	for i := range r.e.Plan.Steps {
		step := &r.e.Plan.Steps[i]
		if r.never(s, step.Test) {
			r.say(false, product.InStep, string(step.Key), "finding.step_never_makes_work_no", "step", step.Title)
		}
	}
}

// charges finds charges whose condition no answers meet.
func (r *review) charges() {
	s := &search{e: r.e}
	for i := range r.e.Pricing.Charges {
		c := &r.e.Pricing.Charges[i]
		if r.never(s, c.Test) {
			r.say(false, product.InCharge, fmt.Sprint(c.Draft+1), "finding.charge_never", "name", c.Name())
		}
	}
}

// never says whether no answers meet a condition; facts of the order can always.
func (r *review) never(s *search, test *condition.Test) bool {
	if test == nil || len(test.Facts(nil)) > 0 {
		return false
	}
	keys := r.deciding(s, test.Keys(nil))
	domains, known := r.domains(keys)
	if !known {
		return false
	}
	met, order := false, r.orderOf(keys)
	combinations(keys, domains, func(a question.Answers) {
		if met {
			return
		}
		walk := evaluate.Walk(r.e, a, 1, order)
		met = test.Holds(walk.Answers, condition.Facts{Quantity: 1})
	})
	return !met
}

// deciding lists questions with those that decide whether they are asked.
func (r *review) deciding(s *search, keys []question.Key) []question.Key {
	for _, k := range slices.Clone(keys) {
		for _, more := range r.closure(s, k) {
			if !slices.Contains(keys, more) {
				keys = append(keys, more)
			}
		}
	}
	return keys
}

// below finds formulas that fall below zero, and names the answers with which
// they are lowest.
func (r *review) below() {
	s := &search{e: r.e}
	for i := range r.e.Pricing.Charges {
		c := &r.e.Pricing.Charges[i]
		if c.Formula == nil || c.Formula.Bounds(r.e.Range).Least >= 0 {
			continue
		}
		key := fmt.Sprint(c.Draft + 1)
		keys := s.keysOf(c)
		domains := make([][]question.Value, len(keys))
		n := 1
		for j, k := range keys {
			item, _ := r.e.Item(k)
			spec, ok := item.Spec.(question.Sampled)
			if !ok || item.Scope == question.OfUnit || c.Formula.Entries(string(k)) {
				n = tried + 1
				break
			}
			values, _ := spec.Samples(nil)
			if !item.Required {
				values = append([]question.Value{nil}, values...)
			}
			domains[j] = values
			n *= max(len(values), 1)
			if n > tried {
				break
			}
		}
		if n > tried {
			r.say(false, product.InCharge, key, "finding.formula_below_some", "name", c.Name())
			continue
		}
		var lowest money.Amount
		var with question.Answers
		combinations(keys, domains, func(a question.Answers) {
			in := charge.Input{Answers: a, Quantity: 1, Day: r.today, Facts: r.e.Facts(a, time.UTC), Known: r.e.ConditionFacts(1, "", condition.Whole{}, time.UTC, &a)}
			if sum, is := r.e.Pricing.Below(i, in); is && sum < lowest {
				lowest, with = sum, maps.Clone(a)
			}
		})
		if with == nil {
			continue
		}
		code := "finding.formula_below_zero"
		if c.Effect == charge.Sets {
			code = "finding.sets_below_zero"
		}
		r.say(false, product.InCharge, key, code, "name", c.Name(), "amount", r.amount(lowest), "answers", r.answers(keys, with))
	}
}

func (r *review) amount(a money.Amount) words.Spoken {
	return func(l words.Language) string { return l.Amount(a, r.e.Currency) }
}

// answers says answers in words: "Width: 0.5, Paper: thin".
func (r *review) answers(keys []question.Key, a question.Answers) words.Spoken {
	return func(l words.Language) string {
		var parts []string
		for _, k := range keys {
			item, _ := r.e.Item(k)
			if v, ok := a[k]; ok {
				parts = append(parts, item.Wording+": "+item.Spec.Words(v, question.Env{Currency: r.e.Currency, Language: l, Zone: time.UTC}))
			} else {
				parts = append(parts, item.Wording+": –")
			}
		}
		return strings.Join(parts, ", ")
	}
}

// domains lists all answers to some questions, none among them; it is not
// known when they are too many or without end.
func (r *review) domains(keys []question.Key) (domains [][]question.Value, known bool) {
	n := 1
	for _, k := range keys {
		other, _ := r.e.Item(k)
		spec, ok := other.Spec.(question.Sampled)
		if !ok || other.Scope == question.OfUnit || standsForAny(other) {
			return nil, false
		}
		values, all := spec.Samples(nil)
		if !all {
			return nil, false
		}
		domains = append(domains, append([]question.Value{nil}, values...))
		if n *= len(values) + 1; n > tried {
			return nil, false
		}
	}
	return domains, true
}

// orderOf gives the places of some questions and their sections in the order in
// which they are decided; the others decide nothing about them.
func (r *review) orderOf(keys []question.Key) (order []int) {
	part := map[question.Key]bool{}
	for _, k := range keys {
		other, _ := r.e.Item(k)
		part[k], part[other.Section] = true, true
	}
	for _, i := range r.e.Order {
		if part[r.e.Items[i].Key] {
			order = append(order, i)
		}
	}
	return order
}

// closure lists the questions that decide whether one is asked and what it
// offers, and those that decide about them.
func (r *review) closure(s *search, k question.Key) []question.Key {
	var keys []question.Key
	next := s.decides(k)
	for len(next) > 0 {
		k, next = next[0], next[1:]
		if slices.Contains(keys, k) {
			continue
		}
		keys = append(keys, k)
		next = append(next, s.decides(k)...)
	}
	return keys
}

// ever tries the answers to some questions and tells whether another one is
// asked in any of them, and which of its choices are offered.
func (r *review) ever(s *search, item *product.Item, keys []question.Key) (asked bool, offered map[string]bool, known bool) {
	domains, known := r.domains(keys)
	if !known {
		return false, nil, false
	}
	order := r.orderOf(append(slices.Clone(keys), item.Key))
	at := slices.IndexFunc(r.e.Items, func(i product.Item) bool { return i.Key == item.Key })
	offered = map[string]bool{}
	combinations(keys, domains, func(a question.Answers) {
		for _, quantity := range slices.Compact([]int{1, r.e.Units()}) {
			walk := evaluate.Walk(r.e, a, quantity, order)
			if !walk.Asked[at] {
				continue
			}
			asked = true
			if spec, ok := item.Spec.(question.Choosable); ok {
				for _, ch := range spec.All() {
					if !slices.Contains(walk.Hidden[at], ch.Code) {
						offered[ch.Code] = true
					}
				}
			}
		}
	})
	if asked || !readsFacts(s, item, keys) {
		return asked, offered, true
	}
	return false, nil, false // a fact such as the customer's group decides
}

// readsFacts says whether facts of the order decide whether a question is asked.
func readsFacts(s *search, item *product.Item, keys []question.Key) bool {
	for _, k := range append(slices.Clone(keys), item.Key) {
		other, _ := s.e.Item(k)
		if len(other.Test.Facts(nil)) > 0 {
			return true
		}
		if section, ok := s.e.Item(other.Section); ok && len(section.Test.Facts(nil)) > 0 {
			return true
		}
	}
	return false
}

// combinations calls back for every combination of answers.
func combinations(keys []question.Key, domains [][]question.Value, call func(question.Answers)) {
	at := make([]int, len(keys))
	for {
		a := question.Answers{}
		for i, k := range keys {
			if v := domains[i][at[i]]; v != nil {
				a[k] = v
			}
		}
		call(a)
		i := 0
		for ; i < len(at); i++ {
			if at[i]++; at[i] < len(domains[i]) {
				break
			}
			at[i] = 0
		}
		if i == len(at) {
			return
		}
	}
}

// declined finds paid extras that nobody can decline: a question that must be
// answered and costs something whatever the answer.
func (r *review) declined() {
	for i := range r.e.Items {
		item := &r.e.Items[i]
		spec, ok := item.Spec.(question.Choosable)
		if ok && len(spec.All()) > 0 && item.Required && !item.Off && r.alwaysCosts(item) {
			r.say(false, product.InQuestion, string(item.Key), "finding.must_answered_every_choice_costs", "wording", item.Wording)
		}
	}
}

func paid(c *charge.Compiled) bool {
	return c.Rate.Amount == nil || *c.Rate.Amount > 0 || len(c.Bands) > 0
}

// prices finds prices that can come to nothing and tax that seems to be taken
// twice.
func (r *review) prices() {
	if newSearch(r.e, r.today).floors() {
		r.say(false, product.InProduct, "price", "finding.what_taken_off_can_more")
	}
	for i := range r.e.Pricing.Charges {
		c := &r.e.Pricing.Charges[i]
		if c.Effect == charge.Adds && c.Rate.Percent != nil && !r.e.Tax.IsZero() && c.Rate.Percent.Equal(r.e.Tax) {
			r.say(false, product.InCharge, fmt.Sprint(c.Draft+1), "finding.charge_adds_which_tax_price", "percent", c.Rate.Percent)
		}
	}
}

// later finds questions that are answered after payment and cost something whatever the
// answer, where answers must not change the price then: no answer would be taken.
func (r *review) later() {
	if r.e.Reprices {
		return
	}
	for i := range r.e.Items {
		item := &r.e.Items[i]
		if !item.Off && (item.Later || item.Moment == question.Briefing) && r.alwaysCosts(item) {
			r.say(false, product.InQuestion, string(item.Key), "finding.later_costs", "wording", item.Wording)
		}
	}
}

// alwaysCosts says whether a question costs something whatever is answered.
func (r *review) alwaysCosts(item *product.Item) bool {
	costs := func(choice string) bool {
		return slices.ContainsFunc(r.e.Pricing.Charges, func(c charge.Compiled) bool {
			return c.On == item.Key && (choice != "" && c.Choice == choice || c.Choice == "" && c.Included == 0) && c.When == nil && c.Effect == charge.Adds && paid(&c)
		})
	}
	spec, ok := item.Spec.(question.Choosable)
	if !ok || len(spec.All()) == 0 {
		return costs("")
	}
	return !slices.ContainsFunc(spec.All(), func(c question.Choice) bool { return !costs(c.Code) })
}

// typed finds amounts of money that were typed into words.
var typed = regexp.MustCompile(`(?i)(€|\$|£|¥|\b(eur|usd|gbp|chf|nok|sek|dkk|euro)\b)\s?\d|\d\s?(€|\$|£|¥|\b(eur|usd|gbp|chf|nok|sek|dkk|euro)\b)|[+−-]\s?\d+[.,]\d\d\b`)

// wordings finds amounts typed into wordings, where the price shows by itself
// and what is typed stays behind when it changes.
func (r *review) wordings() {
	for i := range r.e.Items {
		item := &r.e.Items[i]
		texts := []string{item.Wording, item.Help}
		if spec, ok := item.Spec.(question.Choosable); ok {
			for _, ch := range spec.All() {
				texts = append(texts, ch.Label, ch.Help)
			}
		}
		for _, t := range texts {
			if found := typed.FindString(t); found != "" {
				r.say(false, product.InQuestion, string(item.Key), "finding.has_amount_words_price_shows", "wording", item.Wording, "found", strings.TrimSpace(found))
				break
			}
		}
	}
}

var (
	ownName = regexp.MustCompile(`(?i)^(your |the |full |first |last |what is your |what's your )*(name|surname|vorname|nachname)\W*$`)
	ownMail = regexp.MustCompile(`(?i)^(your |what is your |what's your )*(e-?mail|mail)( address)?\W*$`)
)

// askedTwice finds questions for what every checkout asks already.
func (r *review) askedTwice() {
	for i := range r.e.Items {
		item := &r.e.Items[i]
		if item.Off || item.Moment == question.Desk || item.Scope == question.OfUnit {
			continue
		}
		w := strings.TrimSpace(item.Wording)
		switch {
		case item.Kind == "short_text" && ownName.MatchString(w):
			r.say(false, product.InQuestion, string(item.Key), "finding.asks_name_which_every_checkout", "wording", item.Wording)
		case (item.Kind == "mail" || item.Kind == "short_text") && ownMail.MatchString(w):
			r.say(false, product.InQuestion, string(item.Key), "finding.asks_mail_address_which_every", "wording", item.Wording)
		}
	}
}

// The form before payment from which on a warning says so: our own estimate
// from common practice, with no source.
const (
	manyQuestions = 15
	manySeconds   = 180
)

// long says how much stands before payment, when that is much.
func (r *review) long() {
	fields, seconds := 0, 0
	for _, f := range r.e.Efforts() {
		if f.Moment == question.Choosing || f.Moment == question.Paying {
			fields, seconds = fields+f.Fields, seconds+f.Seconds
		}
	}
	if fields > manyQuestions || seconds > manySeconds {
		r.say(false, product.InProduct, "questions", "finding.questions_stand_before_payment_all", "fields", fields, "minutes", (seconds+30)/60)
	}
}

// floors says whether what is taken off can be more than a price.
func (s *search) floors() bool {
	s.run()
	return s.floored
}

// Few finds texts where people answered nearly always the same: a choice would
// be quicker for them and safer to work with. Answers are those of the last
// orders, by question.
func Few(e *product.Edition, answers map[question.Key][]string) []product.Finding {
	r := &review{e: e}
	for i := range e.Items {
		item := &e.Items[i]
		given := answers[item.Key]
		if item.Kind != "short_text" || item.Off || len(given) < fewFrom {
			continue
		}
		var distinct []string
		for _, a := range given {
			if a = strings.ToLower(strings.TrimSpace(a)); !slices.Contains(distinct, a) {
				distinct = append(distinct, a)
			}
		}
		if len(distinct) <= fewValues {
			slices.Sort(distinct)
			r.say(false, product.InQuestion, string(item.Key), "finding.free_text_last_answers_were", "wording", item.Wording, "count", len(given), "list", strings.Join(distinct, ", "))
		}
	}
	return r.found
}

// From how many answers on, and up to how many different ones, a text looks
// like a choice: our own estimate.
const (
	fewFrom   = 10
	fewValues = 4
)
