package product

import (
	"bytes"
	"encoding/json"
	"maps"
	"slices"
	"strings"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

// Compare tells in plain sentences what a draft changes of an earlier one.
// Nothing changed gives none.
func Compare(old, now Draft) []*words.Message {
	c := comparison{old: old, now: now}
	c.product()
	c.questions()
	c.charges()
	c.steps()
	if !same(old.Booking, now.Booking) {
		switch {
		case old.Booking == nil:
			c.say("booked")
		case now.Booking == nil:
			c.say("unbooked")
		default:
			c.say("booking")
		}
	}
	return c.said
}

type comparison struct {
	old, now Draft
	said     []*words.Message
}

func (c *comparison) say(code string, pairs ...any) {
	c.said = append(c.said, words.Tell("changed."+code, pairs...))
}

func same(a, b any) bool {
	x, err1 := json.Marshal(a)
	y, err2 := json.Marshal(b)
	return err1 == nil && err2 == nil && bytes.Equal(x, y)
}

func (c *comparison) product() {
	text := func(what, old, now string) {
		if old != now {
			c.say(what, "now", shorten(now), "old", shorten(old))
		}
	}
	text("title", c.old.Title, c.now.Title)
	text("summary", c.old.Summary, c.now.Summary)
	text("description", c.old.Description, c.now.Description)
	text("next", c.old.Next, c.now.Next)
	text("licence", c.old.Licence, c.now.Licence)
	if c.old.Reaches != c.now.Reaches {
		c.say("reaches")
	}
	if c.old.Picture != c.now.Picture {
		c.say("picture")
	}
	if c.old.Currency != c.now.Currency {
		c.say("currency", "now", c.now.Currency, "old", c.old.Currency)
	}
	if c.old.Price != c.now.Price {
		c.say("price", "now", amount(c.now, c.now.Price), "old", amount(c.old, c.old.Price))
	}
	c.pricing()
	if !c.old.Tax.Equal(c.now.Tax) {
		c.say("tax", "now", c.now.Tax, "old", c.old.Tax)
	}
	if c.old.Units() != c.now.Units() {
		c.say("units", "now", c.now.Units(), "old", c.old.Units())
	}
	if c.old.Rounding != c.now.Rounding {
		c.say("rounding")
	}
}

// pricing compares what belongs to the price besides the price itself.
func (c *comparison) pricing() {
	if c.old.Measure != c.now.Measure {
		c.say("measure", "now", measured(c.now.Measure), "old", measured(c.old.Measure))
	}
	if c.old.BaseLabel != c.now.BaseLabel {
		c.say("base_label", "now", shorten(c.now.BaseLabel))
	}
	special := func(d Draft) func(int) any {
		return func(i int) any {
			return words.Spoken(func(l words.Language) string { return d.Prices[i].Sentence(d.Currency, l) })
		}
	}
	c.list("special", len(c.old.Prices), len(c.now.Prices), special(c.old), special(c.now))
	value := func(d Draft) func(int) any {
		return func(i int) any {
			v := d.Values[i]
			said := v.Name + " = " + v.Formula
			if v.Title != "" {
				said += ", " + v.Title
			}
			if v.Label != "" {
				said += ", " + v.Label
			}
			return said
		}
	}
	c.list("value", len(c.old.Values), len(c.now.Values), value(c.old), value(c.now))
	if c.old.Deposit != c.now.Deposit {
		c.say("deposit", "now", amount(c.now, c.now.Deposit), "old", amount(c.old, c.old.Deposit))
	}
	if c.old.Cost != c.now.Cost || c.old.Article != c.now.Article {
		c.say("cost")
	}
	for _, other := range []struct {
		code    string
		differs bool
	}{
		{"payment", !same(c.old.Payment, c.now.Payment)},
		{"reprices", c.old.Reprices != c.now.Reprices},
		{"ways", !slices.Equal(c.old.Ways, c.now.Ways)},
		{"cancelling", !same(c.old.Cancelling, c.now.Cancelling)},
		{"add_ons", !same(c.old.AddOns, c.now.AddOns)},
		{"groups", !slices.Equal(c.old.Groups, c.now.Groups)},
		{"tax_added", c.old.TaxAdded != c.now.TaxAdded},
		{"exempt", c.old.Exempt != c.now.Exempt},
		{"show_zero", c.old.ShowZero != c.now.ShowZero},
		{"price_lists", !same(c.old.PriceLists, c.now.PriceLists)},
		{"bundle", !same(c.old.Bundle, c.now.Bundle)},
		{"voucher", !same(c.old.Voucher, c.now.Voucher)},
		{"add_on_only", c.old.AddOnOnly != c.now.AddOnOnly},
	} {
		if other.differs {
			c.say(other.code)
		}
	}
}

// measured names what a price is for.
func measured(p charge.Per) *words.Message {
	if p == charge.Once {
		return words.Tell("changed.measure_one")
	}
	return words.Tell("changed.measure_each", "noun", p)
}

// list compares two lists of sentences, one by one.
func (c *comparison) list(what string, old, now int, was, is func(int) any) {
	for i := range max(old, now) {
		switch {
		case i >= now:
			c.say(what+"_gone", "old", was(i))
		case i >= old:
			c.say(what+"_new", "now", is(i))
		case read(was(i)) != read(is(i)):
			c.say(what, "now", is(i), "old", was(i))
		}
	}
}

// read gives a sentence to compare it with another one.
func read(v any) string { return words.Tell("changed.same", "it", v).Error() }

// amount is said in the reader's language.
func amount(d Draft, a money.Amount) words.Spoken {
	return func(l words.Language) string { return l.Amount(a, d.Currency) }
}

func shorten(s string) string {
	if r := []rune(s); len(r) > 60 {
		return string(r[:60]) + "…"
	}
	return s
}

func name(q Question) string {
	if q.Wording == "" {
		return string(q.Key)
	}
	return q.Wording
}

// moment names a moment.
func moment(m question.Moment) *words.Message { return words.Tell("changed.moment_" + string(m)) }

func (c *comparison) questions() {
	before := map[question.Key]Question{}
	for _, q := range c.old.Questions {
		before[q.Key] = q
	}
	for _, q := range c.now.Questions {
		old, was := before[q.Key]
		if !was {
			c.say("question_new", "wording", name(q), "moment", moment(q.Moment))
			continue
		}
		delete(before, q.Key)
		c.question(old, q)
	}
	for _, q := range c.old.Questions {
		if _, gone := before[q.Key]; gone {
			c.say("question_gone", "wording", name(q))
		}
	}
	c.order()
}

// order says that questions which stayed stand in another order.
func (c *comparison) order() {
	keys := func(d Draft, in Draft) (list []question.Key) {
		known := map[question.Key]bool{}
		for _, q := range in.Questions {
			known[q.Key] = true
		}
		for _, m := range question.Moments() {
			for _, q := range d.Questions {
				if q.Moment == m && known[q.Key] {
					list = append(list, q.Key)
				}
			}
		}
		return list
	}
	moved := func(q Question) bool {
		return slices.ContainsFunc(c.now.Questions, func(n Question) bool { return n.Key == q.Key && n.Moment != q.Moment })
	}
	if !slices.Equal(keys(c.old, c.now), keys(c.now, c.old)) && !slices.ContainsFunc(c.old.Questions, moved) {
		c.say("order")
	}
}

func (c *comparison) question(old, now Question) {
	n := name(now)
	if old.Wording != now.Wording {
		c.say("wording", "old", name(old), "now", shorten(now.Wording))
	}
	if old.Kind != now.Kind {
		c.say("kind", "wording", n, "now", now.Kind, "old", old.Kind)
	}
	if old.Help != now.Help {
		c.say("help", "wording", n, "now", shorten(now.Help))
	}
	if old.Moment != now.Moment {
		c.say("moment", "wording", n, "now", moment(now.Moment), "old", moment(old.Moment))
	}
	turn := func(old, now bool, what string) {
		if now && !old {
			c.say(what+"_on", "wording", n)
		} else if old && !now {
			c.say(what+"_off", "wording", n)
		}
	}
	turn(old.Required, now.Required, "required")
	turn(old.Later, now.Later, "later")
	turn(old.Off, now.Off, "off")
	turn(old.Half, now.Half, "half")
	if !bytes.Equal(old.Always, now.Always) {
		c.say("same_always", "wording", n)
	}
	turn(old.Recipient, now.Recipient, "recipient")
	if old.Scope != now.Scope {
		scope := now.Scope
		if scope == question.OfLine {
			scope = "line"
		}
		c.say("scope", "wording", n, "now", words.Tell("changed.scope_"+string(scope)))
	}
	if old.Section != now.Section {
		c.say("section", "wording", n)
	}
	if !slices.Equal(old.Shown, now.Shown) {
		c.say("shown", "wording", n)
	}
	if !same(old.When, now.When) {
		switch {
		case now.When == nil:
			c.say("always", "wording", n)
		case old.When == nil:
			c.say("condition", "wording", n)
		default:
			c.say("other_condition", "wording", n)
		}
	}
	c.settings(n, old.Settings, now.Settings)
}

func (c *comparison) settings(n string, old, now json.RawMessage) {
	var a, b map[string]json.RawMessage
	json.Unmarshal(old, &a)
	json.Unmarshal(now, &b)
	keys := map[string]bool{}
	for k := range a {
		keys[k] = true
	}
	for k := range b {
		keys[k] = true
	}
	for _, k := range slices.Sorted(maps.Keys(keys)) {
		switch {
		case compactly(a[k]) == compactly(b[k]):
		case k == "choices":
			c.choices(n, a[k], b[k])
		case b[k] == nil:
			c.say("setting_gone", "wording", n, "setting", settingName(k))
		case len(b[k]) > 60:
			c.say("setting_other", "wording", n, "setting", settingName(k))
		case a[k] == nil:
			c.say("setting_new", "wording", n, "setting", settingName(k), "now", plainly(b[k]))
		default:
			c.say("setting", "wording", n, "setting", settingName(k), "now", plainly(b[k]), "old", plainly(a[k]))
		}
	}
}

func settingName(k string) string { return strings.ReplaceAll(k, "_", " ") }

func compactly(raw json.RawMessage) string {
	var out bytes.Buffer
	if json.Compact(&out, raw) != nil {
		return string(raw)
	}
	return out.String()
}

func plainly(raw json.RawMessage) string {
	var s string
	if json.Unmarshal(raw, &s) == nil {
		return "“" + s + "”"
	}
	return string(raw)
}

func (c *comparison) choices(n string, old, now json.RawMessage) {
	var a, b []question.Choice
	json.Unmarshal(old, &a)
	json.Unmarshal(now, &b)
	before := map[string]question.Choice{}
	for _, ch := range a {
		before[ch.Code] = ch
	}
	for _, ch := range b {
		was, ok := before[ch.Code]
		delete(before, ch.Code)
		switch {
		case !ok:
			c.say("choice_new", "wording", n, "choice", ch.Label)
		case was.Label != ch.Label:
			c.say("choice_reads", "old", was.Label, "wording", n, "now", ch.Label)
		case !same(was, ch):
			c.say("choice_other", "choice", ch.Label, "wording", n)
		}
	}
	for _, ch := range a {
		if _, gone := before[ch.Code]; gone {
			c.say("choice_gone", "wording", n, "choice", ch.Label)
		}
	}
	if len(a) == len(b) && len(before) == 0 && !slices.EqualFunc(a, b, func(x, y question.Choice) bool { return x.Code == y.Code }) {
		c.say("choices_order", "wording", n)
	}
}

// charges compares the charges of each question and choice one by one.
func (c *comparison) charges() {
	type place struct {
		on     question.Key
		choice string
	}
	group := func(list []charge.Charge) (map[place][]charge.Charge, []place) {
		m := map[place][]charge.Charge{}
		var order []place
		for _, ch := range list {
			p := place{ch.On, ch.Choice}
			if m[p] == nil {
				order = append(order, p)
			}
			m[p] = append(m[p], ch)
		}
		return m, order
	}
	old, places := group(c.old.Charges)
	now, more := group(c.now.Charges)
	for _, p := range more {
		if !slices.Contains(places, p) {
			places = append(places, p)
		}
	}
	for _, p := range places {
		a, b := old[p], now[p]
		for i := range max(len(a), len(b)) {
			switch {
			case i >= len(b):
				c.say("charge_gone", "charge", c.chargeName(c.old, a[i]), "does", does(c.old, a[i]))
			case i >= len(a):
				c.say("charge_new", "charge", c.chargeName(c.now, b[i]), "does", does(c.now, b[i]))
			case !same(a[i], b[i]):
				if read(does(c.old, a[i])) == read(does(c.now, b[i])) {
					c.say("charge_words", "charge", c.chargeName(c.now, b[i]))
				} else {
					c.say("charge", "charge", c.chargeName(c.now, b[i]), "now", does(c.now, b[i]), "old", does(c.old, a[i]))
				}
			}
		}
	}
}

func (c *comparison) chargeName(d Draft, ch charge.Charge) *words.Message {
	for _, q := range d.Questions {
		if q.Key != ch.On {
			continue
		}
		if ch.Choice == "" {
			return words.Tell("changed.of_question", "wording", name(q))
		}
		var s struct {
			Choices []question.Choice `json:"choices"`
		}
		json.Unmarshal(q.Settings, &s)
		for _, x := range s.Choices {
			if x.Code == ch.Choice {
				return words.Tell("changed.of_choice", "choice", x.Label, "wording", name(q))
			}
		}
	}
	if ch.On == "" {
		return words.Tell("changed.of_nothing")
	}
	return words.Tell("changed.of_question", "wording", ch.On)
}

// does says what a charge does: "adds 0.60 for each letter after 24".
func does(d Draft, ch charge.Charge) words.Spoken {
	return func(l words.Language) string { return ch.Sentence(d.Currency, l) }
}

func (c *comparison) steps() {
	before := map[workplan.StepKey]workplan.Step{}
	for _, s := range c.old.Steps {
		before[s.Key] = s
	}
	for _, s := range c.now.Steps {
		was, ok := before[s.Key]
		delete(before, s.Key)
		switch {
		case !ok:
			c.say("step_new", "step", s.Title)
		case was.Title != s.Title:
			c.say("step_called", "old", was.Title, "now", s.Title)
		case !same(was, s):
			c.say("step", "step", s.Title)
		}
	}
	for _, s := range c.old.Steps {
		if _, gone := before[s.Key]; gone {
			c.say("step_gone", "step", s.Title)
		}
	}
}
