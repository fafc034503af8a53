package charge

import (
	"regexp"
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// A Reason says how an amount of a slip was computed: a code and what the text
// of that code has gaps for. It is kept with the slip and put into words only
// when somebody reads it, in their language. Which fields a reason has depends
// on its code.
type Reason struct {
	Code   ReasonCode  `json:"code"`
	Amount money.Fine  `json:"amount,omitempty"` // the rate, or the limit
	Of     money.Fine  `json:"of,omitempty"`     // what a percentage is of, or the price that it is instead of
	Count  money.Count `json:"count,omitempty"`
	// Percent is a share, as the seller wrote it.
	Percent  *decimal.Decimal `json:"percent,omitempty"`
	Included int              `json:"included,omitempty"`
	Per      Per              `json:"per,omitempty"`  // what is counted,
	Noun     string           `json:"noun,omitempty"` // in the seller's own words
	Nouns    string           `json:"nouns,omitempty"`
	Text     string           `json:"text,omitempty"` // the seller's words: another price's, a coupon's code, questions
	Parts    []Reason         `json:"parts,omitempty"`
}

// A ReasonCode names a reason; its words are "slip."+code.
type ReasonCode string

const (
	whyAmount     ReasonCode = "amount"        // the amount by itself
	whyMeasured   ReasonCode = "measured"      // so many nights × an amount
	whyOne        ReasonCode = "one"           // an amount for each night, of which there are none yet
	whyBase       ReasonCode = "base_times"    // an amount × units
	whyEach       ReasonCode = "each"          // an amount × how often it is chosen
	whyTimes      ReasonCode = "times"         // a part × so many
	whyPercent    ReasonCode = "percent"       // so many per cent of an amount
	whyDecided    ReasonCode = "decided"       // by the customer
	whyCounted    ReasonCode = "counted"       // so many letters × an amount, or × a part
	whyAfter      ReasonCode = "counted_after" // those after the ones that are free
	whyFirst      ReasonCode = "counted_first" // the first ones
	whyAnd        ReasonCode = "and"           // two parts added
	whyFloor      ReasonCode = "floor"         // no more than is left to pay
	whyLeast      ReasonCode = "least"         // a part, at least an amount
	whyMost       ReasonCode = "most"          // a part, at most an amount
	whySpecial    ReasonCode = "special"       // another price instead of the usual one
	whyFormula    ReasonCode = "formula"       // from the answers to questions
	whyBundle     ReasonCode = "bundle"        // so much together, instead of the sum of prices
	whyRound      ReasonCode = "rounded"       // to the nearest multiple of an amount
	whyCoupon     ReasonCode = "coupon_code"   // a coupon's code, with its per cent
	whySpecials   ReasonCode = "specials"      // several other prices together instead of the usual one
	whyLimitLeast ReasonCode = "limit_least"   // up to the least price of a line
	whyLimitMost  ReasonCode = "limit_most"    // down to the most
	whyComputed   ReasonCode = "computed"      // a formula with its numbers, in braces
	whyInstead    ReasonCode = "instead"       // an amount, as the formula has no result
	whyWhole      ReasonCode = "whole"         // something that is booked only whole
	whyJoined     ReasonCode = "joined"        // so many of the meetings of a course
	whyRounds     ReasonCode = "rounds"        // an amount × further rounds of changes
)

// The names of other prices that have no words of their own.
const (
	namedUnits ReasonCode = "special_units"
	namedGroup ReasonCode = "special_group"
	namedDated ReasonCode = "special_dated"
	namedDay   ReasonCode = "special_day"
	namedHours ReasonCode = "special_hours"
	namedLeft  ReasonCode = "special_left"
	// namedSeason is by the season's own name.
	namedSeason ReasonCode = "special_season"
)

// because gives a reason its rate, which can be finer than the smallest coin.
func because(r Reason, rate money.Product) Reason {
	r.Amount = rate.Fine()
	return r
}

// and adds another part to a reason.
func (r Reason) and(other Reason) Reason {
	if r.Code == "" {
		return other
	}
	return Reason{Code: whyAnd, Parts: []Reason{r, other}}
}

// numbered are the numbers in the text of a computation.
var numbered = regexp.MustCompile(`\{[^{}]*\}`)

// said puts a reason into words.
func (r *Reason) said(c money.Currency, l words.Language) string {
	fill := func(pairs ...string) string { return l.Fill("slip."+string(r.Code), pairs...) }
	amount := func(f money.Fine) string { return l.Fine(f, c) }
	part := func(i int) string {
		if i >= len(r.Parts) {
			return ""
		}
		return r.Parts[i].said(c, l)
	}
	switch r.Code {
	case whyAmount:
		return amount(r.Amount)
	case whyMeasured, whyOne:
		n := r.Count
		if r.Code == whyOne {
			n = money.One
		}
		return fill("count", number(n, l), "noun", nounOf(r.Per, n, l), "amount", amount(r.Amount))
	case whyBase, whyEach, whyRounds:
		return fill("amount", amount(r.Amount), "count", number(r.Count, l))
	case whyTimes:
		one := part(0)
		if len(r.Parts) > 0 && (r.Parts[0].Code == whyAnd || r.Parts[0].Code == whyComputed && strings.ContainsAny(r.Parts[0].Text, "+−")) {
			one = "(" + one + ")"
		}
		times := number(r.Count, l)
		if r.Per != Once {
			times += " " + nounOf(r.Per, r.Count, l)
		}
		return fill("why", one, "quantity", times)
	case whyPercent:
		return fill("percent", l.Number(*r.Percent), "of", amount(r.Of))
	case whyCounted, whyAfter, whyFirst:
		of := amount(r.Amount)
		if len(r.Parts) > 0 {
			of = part(0)
		}
		counted := Charge{Per: r.Per, Noun: r.Noun, Nouns: r.Nouns}
		return fill("count", number(r.Count, l), "noun", counted.noun(r.Count, l), "included", itoa(r.Included), "amount", of)
	case whyAnd:
		return fill("one", part(0), "other", part(1))
	case whyLeast, whyMost:
		return strings.TrimPrefix(part(0)+", "+fill("amount", amount(r.Amount)), ", ")
	case whySpecial:
		name := r.Text
		if name == "" {
			name = part(0)
		}
		return fill("name", name, "amount", amount(r.Amount), "list", amount(r.Of))
	case namedSeason:
		return fill("name", r.Text)
	case namedUnits:
		return fill("count", number(r.Count, l))
	case whySpecials:
		list := ""
		for i := range r.Parts {
			p := &r.Parts[i]
			name := p.Text
			if name == "" && len(p.Parts) > 0 {
				name = p.Parts[0].said(c, l)
			}
			sign := "+"
			if p.Amount < 0 {
				sign = ""
			}
			if i > 0 {
				list += ", "
			}
			list += name + " " + sign + amount(p.Amount)
		}
		return fill("names", list, "amount", amount(r.Amount), "list", amount(r.Of))
	case whyBundle:
		return fill("amount", amount(r.Amount), "list", amount(r.Of))
	case whyLimitLeast, whyLimitMost, whyRound:
		return fill("amount", amount(r.Amount))
	case whyWhole:
		return fill("name", r.Text)
	case whyJoined:
		return fill("count", number(r.Count, l), "of", itoa(r.Included))
	case whyInstead:
		return fill("amount", amount(r.Amount), "why", l.Fill(r.Text))
	case whyComputed:
		return numbered.ReplaceAllStringFunc(r.Text, func(n string) string {
			d, err := decimal.NewFromString(n[1 : len(n)-1])
			if err != nil {
				return n
			}
			return l.Number(d)
		})
	case whyFormula:
		return fill("of", r.Text)
	case whyCoupon:
		if r.Percent == nil {
			return r.Text
		}
		return fill("code", r.Text, "percent", l.Number(*r.Percent))
	}
	return fill()
}

// whole counts units of something.
func wholes(n int) money.Count { return money.Whole(int64(n)) }

// name gives the reason that names another price.
func (s *Special) name() Reason {
	switch {
	case s.AtLeast > 0:
		return Reason{Code: namedUnits, Count: wholes(s.AtLeast)}
	case s.Group != "":
		return Reason{Code: namedGroup}
	case s.Season != "":
		return Reason{Code: namedSeason, Text: s.Season}
	case s.Left > 0:
		return Reason{Code: namedLeft}
	case s.Hours != nil:
		return Reason{Code: namedHours}
	case len(s.Weekdays) > 0:
		return Reason{Code: namedDay}
	}
	return Reason{Code: namedDated}
}

// instead gives the reason for another price than the usual one.
func (m *making) instead(is chosen, list money.Product) Reason {
	r := because(Reason{Code: whySpecial}, is.price)
	r.Of = list.Fine()
	if len(is.of) > 1 {
		r.Code = whySpecials
		for _, s := range is.of {
			d := because(Reason{Code: whyAmount, Text: s.Label}, s.priceOf(list, m.Rounding, m.Rules).Minus(list))
			if s.Label == "" {
				d.Parts = []Reason{s.name()}
			}
			r.Parts = append(r.Parts, d)
		}
		return r
	}
	if r.Text = is.of[0].Label; r.Text == "" {
		r.Parts = []Reason{is.of[0].name()}
	}
	return r
}

// In gives the slip as it is shown in a language: with the words for its
// reasons, for what has no words of the seller's, and for when its parts are
// due. A slip from before reasons were kept shows the words of its time.
func (s Slip) In(l words.Language) Slip {
	lines := make([]Line, len(s.Lines))
	for i, line := range s.Lines {
		if len(line.Reasons) > 0 {
			line.Why = ""
		}
		for k := range line.Reasons {
			if k > 0 {
				line.Why += "; "
			}
			line.Why += line.Reasons[k].said(s.Currency, l)
		}
		if line.Label == "" {
			switch line.Part {
			case PartCoupon:
				line.Label = l.Fill("slip.coupon")
			case PartReverse:
				line.Label = l.Fill("slip.reverse")
			case PartBundle:
				line.Label = l.Fill("slip.bundle_label")
			case PartRound:
				line.Label = l.Fill("slip.rounding")
			case PartLimit:
				if line.Label = l.Fill("slip.least_price"); line.Amount < 0 {
					line.Label = l.Fill("slip.most_price")
				}
			}
		}
		line.Reasons = nil
		lines[i] = line
	}
	s.Lines = lines
	if slices.ContainsFunc(s.Taxes, func(t Tax) bool { return t.Reversed || t.Exempt == VoucherExempt }) {
		s.Taxes = slices.Clone(s.Taxes)
		for i := range s.Taxes {
			switch t := &s.Taxes[i]; {
			case t.Reversed:
				t.Exempt = l.Fill("slip.reverse_reason")
			case t.Exempt == VoucherExempt:
				t.Exempt = l.Fill("slip.voucher_reason")
			}
		}
	}
	s.Stated = slices.Clone(s.Stated)
	for i := range s.Stated {
		v := &s.Stated[i]
		if v.Words = l.Number(v.Value); v.Unit != "" {
			v.Words += " " + v.Unit
		}
	}
	if len(s.Vouchers) > 0 {
		beside := s.ToPay()
		s.Beside = &beside
	}
	if len(s.Due) > 0 {
		due := make([]Due, len(s.Due))
		for i, d := range s.Due {
			d.Words = d.Said(l)
			due[i] = d
		}
		s.Due = due
	}
	return s
}

func dayWords(day string, l words.Language) string {
	if d, err := calendar.ParseDay(day); err == nil {
		return l.Fill("due.on", "day", l.Day(d))
	}
	return l.Fill("due." + day)
}
