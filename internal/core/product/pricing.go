package product

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// price checks the product's own price and what belongs to it.
func (c *check) price() {
	e := c.edition
	if e.Price < 0 {
		c.wrong(InProduct, "price", "finding.price_must_not_below_zero")
	}
	if e.Price > 100_000_000_00 {
		c.wrong(InProduct, "price", "finding.price_too_large", "price", amount(e.Draft, e.Price), "most", amount(e.Draft, 100_000_000_00))
	}
	if e.Cost < 0 || e.Cost > money.Largest {
		c.wrong(InProduct, "cost", "finding.cost_must_not_below_zero")
	}
	if e.Deposit < 0 || e.Deposit > 100_000_000_00 {
		c.wrong(InProduct, "deposit", "finding.security_deposit_must_not_below")
	}
	if e.Measure == charge.Unit || e.Measure != charge.Once && !e.Measure.Measure() {
		c.wrong(InProduct, "measure", "finding.price_can_person_hour_day")
		e.Measure = charge.Once
	}
	if e.Measure != charge.Once {
		if _, ok := e.measures[e.Measure]; !ok {
			c.wrong(InProduct, "measure", "finding.price_each_no_question_says", "measure", e.Measure)
		}
	}
	if err := charge.ValidateSpecials(e.Prices, e.Combine); err != nil {
		c.wrong(InProduct, "prices", "finding.price", "why", err)
		e.Prices, e.Combine = nil, ""
	}
	if err := charge.ValidateBands(e.Bands, 0); err != nil || len(e.Bands) > 50 {
		c.wrong(InProduct, "bands", "finding.price", "why", cmp.Or(err, error(words.Tell("charge.bands_belong_amount_counted_there"))))
		e.Bands = nil
	}
	if e.Graduated && len(e.Bands) == 0 {
		c.wrong(InProduct, "bands", "finding.price", "why", words.Tell("charge.only_what_has_bands_can"))
	}
	if err := e.Limits.Validate(); err != nil {
		c.wrong(InProduct, "limits", "finding.price", "why", err)
		e.Limits = charge.Limits{}
	}
	if !e.Rules.Known() {
		c.wrong(InProduct, "rules", "finding.rules_unknown")
		e.Rules = charge.RulesNow
	}
	if err := e.Payment.Validate(); err != nil {
		c.wrong(InProduct, "payment", "finding.payment_parts", "why", err)
		e.Payment = nil
	}
	if e.Payment.Books() {
		if _, span := e.span(); e.Booking == nil && !span {
			c.wrong(InProduct, "payment", "finding.rest_paid_before_booking_product")
		}
	}
	if err := e.Cancelling.Validate(); err != nil {
		c.wrong(InProduct, "cancelling", "finding.cancelling", "why", err)
		e.Cancelling = nil
	}
	if !ledger.ValidWays(e.Ways) {
		c.wrong(InProduct, "ways", "finding.ways")
		e.Ways = nil
	}
	tax := charge.TaxRule{Percent: e.Tax, Added: e.TaxAdded, Exempt: e.Exempt}
	if err := tax.Validate(); err != nil {
		c.wrong(InProduct, "tax", "finding.tax", "why", err)
	}
	if len(e.Article) > 60 || len(e.BaseLabel) > 200 || len(e.Groups) > 100 {
		c.wrong(InProduct, "article", "finding.article_code_words_price_groups")
	}
	seen := map[int64]bool{}
	for _, a := range e.AddOns {
		if a.Product <= 0 || seen[a.Product] || a.Most < 0 || a.Most > 10_000 || len(e.AddOns) > 50 {
			c.wrong(InProduct, "add_ons", "finding.addon_must_another_product_each")
			e.AddOns = nil
			break
		}
		seen[a.Product] = true
	}
	if err := e.Bundle.Validate(); err != nil {
		c.wrong(InProduct, "add_ons", "finding.bundle", "why", err)
		e.Bundle = nil
	}
	if err := e.Voucher.Validate(); err != nil {
		c.wrong(InProduct, "voucher", "finding.voucher", "why", err)
		e.Voucher = nil
	}
	if e.Voucher != nil && e.Reprices { // what was sold would be worth what it was, and cost another amount
		c.refuse(InProduct, "voucher", "finding.voucher_reprices")
	}
	if e.Voucher != nil && e.Payment != nil {
		c.refuse(InProduct, "voucher", "finding.voucher_in_parts")
	}
	if e.Bundle != nil {
		if len(e.AddOns) < 2 {
			c.refuse(InProduct, "add_ons", "finding.bundle_alone")
		}
		whole := *e.Bundle
		whole.Products = nil
		for _, a := range e.AddOns {
			whole.Products = append(whole.Products, a.Product)
		}
		e.Bundle = &whole
	}
}

func (c *check) charges() {
	e := c.edition
	e.Pricing = charge.Pricing{
		Rules: e.Rules, Title: e.Title, Price: e.Price, Prices: e.Prices, Combine: e.Combine, Bands: e.Bands, Graduated: e.Graduated, Limits: e.Limits, Bundle: e.Bundle, Measure: e.Measure, Measured: e.measures, Currency: e.Currency, Rounding: e.Rounding,
		Tax: charge.TaxRule{Percent: e.Tax, Added: e.TaxAdded, Exempt: e.Exempt}, ShowZero: e.ShowZero, Deposit: e.Deposit, Held: e.DepositBy, Plan: e.Payment, Voucher: e.Voucher,
	}
	if e.BaseLabel != "" {
		e.Pricing.Title = e.BaseLabel
	}
	c.values()
	e.Pricing.Units = e.units()
	c.valued("deposit", &e.Pricing.Held)
	if e.Payment != nil {
		c.valued("payment", &e.Payment.Value)
	}
	type placed struct {
		at   int
		rule charge.Compiled
	}
	var rules []placed
	for i, ch := range e.Draft.Charges {
		key := fmt.Sprint(i + 1)
		if err := ch.Validate(); err != nil {
			code := "finding.charge"
			if ch.On != "" {
				code = "finding.charge_of"
			}
			c.wrong(InCharge, key, code, "key", key, "on", ch.On, "why", err)
			continue
		}
		r := placed{at: -1, rule: charge.Compiled{Charge: ch, Draft: i}}
		if ch.Effect == charge.TakesOff || ch.Rate.Percent != nil && e.Rules != charge.Rules1 {
			r.at = math.MaxInt // a share that hangs on no answer is of all of them
		}
		name := cmp.Or(ch.Label, e.Title)
		if ch.On != "" {
			item, ok := e.Item(ch.On)
			if !ok || !item.Asked() {
				c.wrong(InCharge, key, "finding.charge_on_question_which_not", "key", key, "on", ch.On)
				continue
			}
			if item.Moment.Rank() > question.Paying.Rank() {
				c.wrong(InCharge, key, "finding.asked_after_payment_so_cannot_3", "wording", item.Wording)
				continue
			}
			r.at, r.rule.Wording = e.index[ch.On], item.Wording
			name = cmp.Or(ch.Label, item.Wording)
			if !c.fits(key, ch, item, &r.rule) {
				continue
			}
		} else if ch.Label == "" {
			c.warn(InCharge, key, "finding.charge_always_counts_has_no", "key", key)
			r.rule.Wording = e.Title
		}
		if !c.counted(key, ch) {
			continue
		}
		r.rule.Test = c.condition(InCharge, key, name, ch.When, question.Paying)
		if ch.Entries != nil {
			item, _ := e.Item(ch.On)
			within := entryNames(item)
			if within == nil {
				c.wrong(InCharge, key, "finding.entries_need_list", "name", name, "wording", item.Wording)
				continue
			}
			if r.rule.Entry = c.test(InCharge, key, name, ch.Entries, *within, ch.On); r.rule.Entry == nil {
				continue
			}
		}
		if ch.Rate.Formula != "" {
			if r.rule.Formula = c.formula(InCharge, key, name, ch.Rate.Formula, len(e.Pricing.Values)); r.rule.Formula == nil {
				continue
			}
			c.resultless(InCharge, key, name, r.rule.Formula, ch.Rate.Otherwise)
			r.rule.From = strings.Join(c.reads(r.rule.Formula), " · ")
		}
		if ch.Effect == charge.Sets && ch.Choice != "" {
			r.rule.Priced = e.Pricing.Title + ", " + r.rule.Wording
		}
		switch {
		case e.ByHand:
			r.at = 0
		case ch.Place == charge.AtStart:
			r.at = -1
		case ch.Place == charge.AtEnd:
			r.at = math.MaxInt
		}
		rules = append(rules, r)
	}
	slices.SortStableFunc(rules, func(a, b placed) int { return cmp.Compare(a.at, b.at) })
	left := func(s charge.Special) bool { return s.Left > 0 }
	e.Pricing.ReadsLeft = slices.ContainsFunc(e.Prices, left)
	for _, r := range rules {
		e.Pricing.Charges = append(e.Pricing.Charges, r.rule)
		e.Pricing.ReadsLeft = e.Pricing.ReadsLeft || slices.ContainsFunc(r.rule.Prices, left)
	}
}

// counted checks that what a charge is multiplied by is known of a line.
func (c *check) counted(key string, ch charge.Charge) bool {
	for _, m := range append([]charge.Per{ch.Per}, ch.Times...) {
		if !m.Measure() || m == charge.Unit {
			continue
		}
		if _, ok := c.edition.measures[m]; !ok {
			c.wrong(InCharge, key, "finding.charge_counts_each_no_question", "key", key, "measure", m)
			return false
		}
	}
	return true
}

// fits checks that a charge can count what its question answers.
func (c *check) fits(key string, ch charge.Charge, item *Item, r *charge.Compiled) bool {
	class := item.Spec.Class()
	switch {
	case item.Scope == question.OfUnit && (ch.Effect == charge.Sets || ch.Rate.Amount == nil || ch.EachUnit):
		c.wrong(InCharge, key, "finding.asked_each_unit_so_charge", "wording", item.Wording)
		return false
	case ch.Choice != "":
		labels, ok := item.Spec.(question.Labelled)
		label := ""
		if ok {
			label, ok = labels.Label(ch.Choice)
		}
		if !ok {
			c.wrong(InCharge, key, "finding.charge_on_choice_which_does", "key", key, "choice", ch.Choice, "wording", item.Wording)
			return false
		}
		r.Wording = label
		c.preselected(key, ch, item, func(x question.Choice) bool { return x.Code == ch.Choice })
	case ch.Per.OfText() && class != question.ClassText:
		c.wrong(InCharge, key, "finding.not_answered_with_text_so", "wording", item.Wording)
		return false
	case ch.Per == charge.Answer && slices.Contains([]question.Class{question.ClassText, question.ClassDay, question.ClassClock, question.ClassGiven}, class):
		c.wrong(InCharge, key, "finding.not_answered_with_number_so", "wording", item.Wording)
		return false
	case ch.Rate.Answered && item.Kind != "amount":
		c.wrong(InCharge, key, "finding.does_not_ask_amount", "wording", item.Wording)
		return false
	}
	if ch.Choice == "" {
		c.preselected(key, ch, item, func(question.Choice) bool { return true })
	}
	return true
}

// preselected refuses a paid extra that is chosen before the customer looks.
// Directive 2011/83/EU, Article 22: it needs the consumer's own express
// consent; a default that has to be undone is none.
func (c *check) preselected(key string, ch charge.Charge, item *Item, of func(question.Choice) bool) {
	all, ok := item.Spec.(question.Choosable)
	if !ok || ch.Effect != charge.Adds || free(ch) {
		return
	}
	for _, x := range all.All() {
		if x.Preselected && of(x) {
			c.refuse(InCharge, key, "finding.choice_costs_something_preselected_paid", "choice", x.Label, "wording", item.Wording)
			return
		}
	}
}

// free says whether a charge is of no amount at all, as for what is included.
func free(ch charge.Charge) bool {
	return ch.Rate.Amount != nil && *ch.Rate.Amount == 0 && len(ch.Bands) == 0
}

// valued looks for the named value that says an amount, and drops what is none.
func (c *check) valued(key string, name *string) {
	if *name != "" && !slices.ContainsFunc(c.edition.Pricing.Values, func(v charge.NamedValue) bool { return v.Name == *name }) {
		part := InProduct
		if key == "length_by" {
			part = InBooking
		}
		c.wrong(part, key, "finding.value_of_payment", "name", *name)
		*name = ""
	}
}
