package product

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

// Compare says in plain sentences, in English, what a draft changes of an
// earlier one. Nothing changed gives none.
func Compare(old, now Draft) []string {
	c := comparison{old: old, now: now}
	c.product()
	c.questions()
	c.charges()
	c.steps()
	if !same(old.Booking, now.Booking) {
		switch {
		case old.Booking == nil:
			c.say("It can be booked.")
		case now.Booking == nil:
			c.say("It can no longer be booked.")
		default:
			c.say("The booking rule is another one.")
		}
	}
	return c.said
}

type comparison struct {
	old, now Draft
	said     []string
	others   []string
}

func (c *comparison) say(format string, args ...any) {
	c.said = append(c.said, fmt.Sprintf(format, args...))
}

func same(a, b any) bool {
	x, err1 := json.Marshal(a)
	y, err2 := json.Marshal(b)
	return err1 == nil && err2 == nil && bytes.Equal(x, y)
}

func (c *comparison) product() {
	text := func(what, old, now string) {
		if old != now {
			c.say("%s reads “%s” instead of “%s”.", what, shorten(now), shorten(old))
		}
	}
	text("The title", c.old.Title, c.now.Title)
	text("The summary", c.old.Summary, c.now.Summary)
	text("The description", c.old.Description, c.now.Description)
	text("What happens next", c.old.Next, c.now.Next)
	if c.old.Picture != c.now.Picture {
		c.say("The picture is another one.")
	}
	if c.old.Currency != c.now.Currency {
		c.say("The currency is %s instead of %s.", c.now.Currency, c.old.Currency)
	}
	if c.old.Price != c.now.Price {
		c.say("The price is %s instead of %s.", c.amount(c.now.Price), c.amount(c.old.Price))
	}
	c.pricing()
	if !c.old.Tax.Equal(c.now.Tax) {
		c.say("The tax is %s %% instead of %s %%.", c.now.Tax, c.old.Tax)
	}
	if c.old.Units() != c.now.Units() {
		c.say("One order can have %d of it instead of %d.", c.now.Units(), c.old.Units())
	}
	if c.old.Rounding != c.now.Rounding {
		c.say("Amounts are rounded in another way.")
	}
}

// pricing compares what belongs to the price besides the price itself.
func (c *comparison) pricing() {
	if c.old.Measure != c.now.Measure {
		c.say("The price is for %s instead of %s.", measured(c.now.Measure), measured(c.old.Measure))
	}
	if c.old.BaseLabel != c.now.BaseLabel {
		c.say("The price stands on the slip as “%s”.", shorten(c.now.BaseLabel))
	}
	c.list("Another price", len(c.old.Prices), len(c.now.Prices), func(i int) string {
		return c.old.Prices[i].Sentence(c.now.Currency, words.English)
	}, func(i int) string { return c.now.Prices[i].Sentence(c.now.Currency, words.English) })
	c.list("A named value", len(c.old.Values), len(c.now.Values), func(i int) string {
		return c.old.Values[i].Name + " = " + c.old.Values[i].Formula
	}, func(i int) string { return c.now.Values[i].Name + " = " + c.now.Values[i].Formula })
	if c.old.Deposit != c.now.Deposit {
		c.say("The security deposit is %s instead of %s.", c.amount(c.now.Deposit), c.amount(c.old.Deposit))
	}
	if c.old.Cost != c.now.Cost || c.old.Article != c.now.Article {
		c.say("Its cost or article code is another one.")
	}
	for what, differs := range map[string]bool{
		"It is paid in another way.":                         !same(c.old.Payment, c.now.Payment),
		"Other products are offered with it.":                !same(c.old.AddOns, c.now.AddOns),
		"Other groups can buy it.":                           !slices.Equal(c.old.Groups, c.now.Groups),
		"Prices are with or without tax in another way.":     c.old.TaxAdded != c.now.TaxAdded,
		"The reason why no tax is taken is another one.":     c.old.Exempt != c.now.Exempt,
		"Its slip treats lines at zero in another way.":      c.old.ShowZero != c.now.ShowZero,
		"Whether it is sold by itself is decided otherwise.": c.old.AddOnOnly != c.now.AddOnOnly,
	} {
		if differs {
			c.others = append(c.others, what)
		}
	}
	slices.Sort(c.others)
	c.said = append(c.said, c.others...)
}

func measured(p charge.Per) string {
	if p == charge.Once {
		return "one of it"
	}
	return "each " + string(p)
}

// list compares two lists of sentences, one by one.
func (c *comparison) list(what string, old, now int, was, is func(int) string) {
	for i := range max(old, now) {
		switch {
		case i >= now:
			c.say("%s is gone: %s.", what, was(i))
		case i >= old:
			c.say("%s is new: %s.", what, is(i))
		case was(i) != is(i):
			c.say("%s is %s instead of %s.", what, is(i), was(i))
		}
	}
}

func (c *comparison) amount(a money.Amount) string { return words.English.Amount(a, c.now.Currency) }

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

var momentWords = map[question.Moment]string{
	question.Choosing: "while choosing", question.Paying: "at checkout", question.Briefing: "after paying", question.Desk: "only at the desk",
}

func (c *comparison) questions() {
	before := map[question.Key]Question{}
	for _, q := range c.old.Questions {
		before[q.Key] = q
	}
	for _, q := range c.now.Questions {
		old, was := before[q.Key]
		if !was {
			c.say("“%s” is new, asked %s.", name(q), momentWords[q.Moment])
			continue
		}
		delete(before, q.Key)
		c.question(old, q)
	}
	for _, q := range c.old.Questions {
		if _, gone := before[q.Key]; gone {
			c.say("“%s” is gone.", name(q))
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
		c.say("The questions stand in another order.")
	}
}

func (c *comparison) question(old, now Question) {
	n := name(now)
	if old.Wording != now.Wording {
		c.say("“%s” reads “%s”.", name(old), shorten(now.Wording))
	}
	if old.Kind != now.Kind {
		c.say("“%s” is of another kind: %s instead of %s.", n, now.Kind, old.Kind)
	}
	if old.Help != now.Help {
		c.say("The help under “%s” reads “%s”.", n, shorten(now.Help))
	}
	if old.Moment != now.Moment {
		c.say("“%s” is asked %s instead of %s.", n, momentWords[now.Moment], momentWords[old.Moment])
	}
	turn := func(old, now bool, on, off string) {
		if now && !old {
			c.say("“%s” %s.", n, on)
		} else if old && !now {
			c.say("“%s” %s.", n, off)
		}
	}
	turn(old.Required, now.Required, "must be answered now", "need not be answered any more")
	turn(old.Later, now.Later, "may be left until after paying", "may no longer be left until after paying")
	turn(old.Off, now.Off, "is switched off", "is switched on again")
	turn(old.Half, now.Half, "stands beside its neighbour", "has a row of its own")
	if old.Scope != now.Scope {
		c.say("“%s” belongs to %s.", n, map[question.Scope]string{question.OfLine: "the order line", question.OfUnit: "each unit", question.OfOrder: "the whole order", question.OfCustomer: "the customer"}[now.Scope])
	}
	if old.Section != now.Section {
		c.say("“%s” stands in another section.", n)
	}
	if !slices.Equal(old.Shown, now.Shown) {
		c.say("The answer to “%s” appears in other places.", n)
	}
	if !same(old.When, now.When) {
		switch {
		case now.When == nil:
			c.say("“%s” is always asked.", n)
		case old.When == nil:
			c.say("“%s” is asked under a condition.", n)
		default:
			c.say("“%s” is asked under another condition.", n)
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
			c.say("“%s”: %s is no longer set.", n, settingName(k))
		case len(b[k]) > 60:
			c.say("“%s”: %s is another one.", n, settingName(k))
		case a[k] == nil:
			c.say("“%s”: %s is %s.", n, settingName(k), plainly(b[k]))
		default:
			c.say("“%s”: %s is %s instead of %s.", n, settingName(k), plainly(b[k]), plainly(a[k]))
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
			c.say("“%s” has the new choice “%s”.", n, ch.Label)
		case was.Label != ch.Label:
			c.say("The choice “%s” of “%s” reads “%s”.", was.Label, n, ch.Label)
		case !same(was, ch):
			c.say("The choice “%s” of “%s” is another one.", ch.Label, n)
		}
	}
	for _, ch := range a {
		if _, gone := before[ch.Code]; gone {
			c.say("“%s” no longer has the choice “%s”.", n, ch.Label)
		}
	}
	if len(a) == len(b) && len(before) == 0 && !slices.EqualFunc(a, b, func(x, y question.Choice) bool { return x.Code == y.Code }) {
		c.say("The choices of “%s” stand in another order.", n)
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
				c.say("%s no longer %s.", c.chargeName(c.old, a[i]), c.does(a[i]))
			case i >= len(a):
				c.say("%s %s.", c.chargeName(c.now, b[i]), c.does(b[i]))
			case !same(a[i], b[i]):
				if c.does(a[i]) == c.does(b[i]) {
					c.say("%s has other words on the slip.", c.chargeName(c.now, b[i]))
				} else {
					c.say("%s %s; before, it %s.", c.chargeName(c.now, b[i]), c.does(b[i]), c.does(a[i]))
				}
			}
		}
	}
}

func (c *comparison) chargeName(d Draft, ch charge.Charge) string {
	for _, q := range d.Questions {
		if q.Key != ch.On {
			continue
		}
		if ch.Choice == "" {
			return "“" + name(q) + "”"
		}
		var s struct {
			Choices []question.Choice `json:"choices"`
		}
		json.Unmarshal(q.Settings, &s)
		for _, x := range s.Choices {
			if x.Code == ch.Choice {
				return "“" + x.Label + "” of “" + name(q) + "”"
			}
		}
	}
	if ch.On == "" {
		return "A charge that always counts"
	}
	return "“" + string(ch.On) + "”"
}

// does says what a charge does: "adds 0.60 for each letter after 24".
func (c *comparison) does(ch charge.Charge) string { return ch.Sentence(c.now.Currency, words.English) }

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
			c.say("The step “%s” is new.", s.Title)
		case was.Title != s.Title:
			c.say("The step “%s” is called “%s”.", was.Title, s.Title)
		case !same(was, s):
			c.say("The step “%s” works in another way.", s.Title)
		}
	}
	for _, s := range c.old.Steps {
		if _, gone := before[s.Key]; gone {
			c.say("The step “%s” is gone.", s.Title)
		}
	}
}
