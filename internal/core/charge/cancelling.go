package charge

import (
	"strconv"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// Cancelling are the rules of what comes back when an order, or a line of it, is
// cancelled. The first rule holds whose span holds the instant; beyond all of
// them nothing comes back, and customers cannot cancel by themselves.
type Cancelling struct {
	Rules []CancelRule `json:"rules,omitempty"`
}

// A CancelFrom is what a span of a rule is counted from.
type CancelFrom string

const (
	FromPlacing CancelFrom = "placing" // so long after the order was placed
	FromWork    CancelFrom = "work"    // until work on it begins
	FromBooking CancelFrom = "booking" // so long before what is booked begins
	FromAlways  CancelFrom = "always"  // whenever it is
)

// A CancelRule says how much of a line is no longer charged when it is cancelled
// within a span: so many per cent, or an amount and no more than the line.
type CancelRule struct {
	From  CancelFrom `json:"from"`
	Count int        `json:"count,omitempty"` // days, or hours
	Hours bool       `json:"hours,omitempty"`
	Portion
	// Asking says that customers ask for it instead of doing it themselves.
	Asking bool `json:"asking,omitempty"`
}

const mostCancelRules = 10

// Validate says what is wrong with them.
func (c *Cancelling) Validate() error {
	if c == nil {
		return nil
	}
	if len(c.Rules) > mostCancelRules {
		return words.Tell("charge.cancel_many_rules", "most", strconv.Itoa(mostCancelRules))
	}
	for i, r := range c.Rules {
		n := strconv.Itoa(i + 1)
		counted := r.From == FromPlacing || r.From == FromBooking
		switch {
		case !counted && r.From != FromWork && r.From != FromAlways:
			return words.Tell("charge.cancel_from", "n", n)
		case !r.decided():
			return words.Tell("charge.cancel_portion", "n", n)
		case !r.within():
			return words.Tell("charge.cancel_within", "n", n)
		case counted && (r.Count < 0 || r.Count > 1000), r.From == FromPlacing && r.Count == 0, !counted && (r.Count != 0 || r.Hours):
			return words.Tell("charge.cancel_count", "n", n)
		}
	}
	return nil
}

// Amounts gives the amounts of money in the rules, to be given anew in another
// currency.
func (c *Cancelling) Amounts() []*money.Amount {
	var list []*money.Amount
	if c == nil {
		return nil
	}
	for i := range c.Rules {
		if a := c.Rules[i].Amount; a != nil {
			list = append(list, a)
		}
	}
	return list
}

// An Undoing is when something is cancelled, with what its spans are counted
// from. What has not happened, or is not there, is zero.
type Undoing struct {
	Now    time.Time
	Placed time.Time
	Begun  time.Time // work on it
	Booked time.Time // what is booked begins
	Zone   *time.Location
}

// At gives the rule that holds; ok is false beyond all of them. Days are those
// of the calendar in the business's zone, both ends counted: what may be
// cancelled within 14 days of Monday 1 may be until the end of Monday 15
// (Regulation (EEC, Euratom) No 1182/71, Article 3, counts so, from memory).
func (c *Cancelling) At(u Undoing) (rule CancelRule, ok bool) {
	if c == nil {
		return CancelRule{}, false
	}
	for _, r := range c.Rules {
		if r.holds(u) {
			return r, true
		}
	}
	return CancelRule{}, false
}

func (r CancelRule) holds(u Undoing) bool {
	from, to := u.Placed, u.Now
	switch r.From {
	case FromAlways:
		return true
	case FromWork:
		return u.Begun.IsZero() || u.Now.Before(u.Begun)
	case FromBooking:
		if u.Booked.IsZero() {
			return false
		}
		from, to = u.Now, u.Booked
		if r.Hours {
			return to.Sub(from) >= time.Duration(r.Count)*time.Hour
		}
		return from.Before(to) && days(from, to, u.Zone) >= r.Count
	}
	if r.Hours {
		return to.Sub(from) <= time.Duration(r.Count)*time.Hour
	}
	return days(from, to, u.Zone) <= r.Count
}

func days(from, to time.Time, zone *time.Location) int {
	return calendar.DayOf(to.In(zone)).Since(calendar.DayOf(from.In(zone)))
}

// Off gives how much of what is charged is no longer.
func (r CancelRule) Off(left money.Amount, rounding money.Rounding) money.Amount {
	if left <= 0 {
		return 0
	}
	return min(r.of(left, rounding), left)
}

// A Cancelled is what became of the charge of one line, with the words for it.
type Cancelled struct {
	Of   int          `json:"of"` // the order line, from 1; 0 for what belongs to the whole order
	Rule *CancelRule  `json:"rule,omitempty"`
	Left money.Amount `json:"left"` // what was charged of it
	Off  money.Amount `json:"off"`  // what no longer is
	// Chosen says that the seller chose how much, instead of a rule.
	Chosen bool `json:"chosen,omitempty"`
	// With says that it goes with all of the order's lines.
	With bool `json:"with,omitempty"`
}

// Said gives how much comes off and why: by which rule, or by the seller.
func (c Cancelled) Said(cur money.Currency, l words.Language) string {
	fill := func(code string, pairs ...string) string { return l.Fill("cancel."+code, pairs...) }
	switch {
	case c.Chosen:
		return fill("chosen", "off", l.Amount(c.Off, cur), "left", l.Amount(c.Left, cur))
	case c.With:
		return fill("with")
	case c.Rule == nil:
		return fill("beyond", "left", l.Amount(c.Left, cur))
	}
	return c.Rule.Span(l) + ": " + fill("of", "portion", c.Rule.portion(cur, l), "left", l.Amount(c.Left, cur))
}

// Span gives the span of a rule in words.
func (r CancelRule) Span(l words.Language) string {
	code := "cancel." + string(r.From)
	if r.Count == 0 && r.From == FromBooking {
		code += "_begins"
	} else if r.From == FromPlacing || r.From == FromBooking {
		code += "_days"
		if r.Hours {
			code = "cancel." + string(r.From) + "_hours"
		}
	}
	return l.Fill(code, "count", strconv.Itoa(r.Count))
}

func (r CancelRule) portion(cur money.Currency, l words.Language) string {
	if r.Percent != nil {
		return l.Fill("cancel.percent", "percent", l.Number(*r.Percent))
	}
	return l.Amount(*r.Amount, cur)
}

// Said gives the rules in words, one sentence each, as they are shown beside
// the total; nothing when there are none.
func (c *Cancelling) Said(cur money.Currency, l words.Language) []string {
	if c == nil || len(c.Rules) == 0 {
		return nil
	}
	var list []string
	always := false
	for i, r := range c.Rules {
		code, span := "cancel.back", r.Span(l)
		if r.From == FromAlways && i > 0 {
			span = l.Fill("cancel.else")
		}
		switch {
		case r.Percent != nil && r.Percent.IsZero() || r.Amount != nil && *r.Amount == 0:
			code = "cancel.nothing"
		case r.Percent != nil && r.Percent.Equal(decimal.NewFromInt(100)):
			code = "cancel.all"
		}
		text := l.Fill(code, "span", span, "portion", r.portion(cur, l))
		if r.Asking {
			text += " " + l.Fill("cancel.asking")
		}
		list = append(list, text)
		always = always || r.From == FromAlways
	}
	if !always {
		list = append(list, l.Fill("cancel.otherwise"))
	}
	return list
}
