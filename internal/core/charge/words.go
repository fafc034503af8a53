package charge

import (
	"fmt"
	"strconv"

	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// Hint says beside its question what a charge does: "+0.60 a letter after 24".
// Full tells apart what sets the price from the list price: "36.00 (+12.00)".
func (p *Pricing) Hint(r *Compiled, l words.Language) string {
	fine := func(a money.Fine) string { return l.Fine(a, p.Currency) }
	c := &r.Charge
	var hint string
	switch {
	case c.Rate.Answered:
		return l.Fill("hint.decided")
	case c.Rate.Formula != "":
		return l.Fill("hint.formula." + string(c.Effect))
	case c.Effect == Sets:
		price := p.Price.Fine()
		if c.Rate.Difference != nil {
			price = max(price+c.Rate.Difference.Fine(), 0)
		} else {
			price = *c.Rate.Amount
		}
		if difference := price - p.Price.Fine(); p.Price > 0 && difference != 0 {
			return l.Fill("hint.difference", "amount", fine(price), "difference", signed(difference, p.Currency, l))
		}
		return fine(price)
	case c.Rate.Percent != nil && c.Effect == TakesOff:
		hint = l.Fill("hint.percent_off", "percent", l.Number(*c.Rate.Percent))
	case c.Rate.Percent != nil:
		hint = l.Fill("hint.percent", "percent", l.Number(*c.Rate.Percent))
	case *c.Rate.Amount == 0 && len(c.Bands) == 0:
		return l.Fill("hint.included")
	default:
		hint = l.Fill("hint."+string(c.Effect), "amount", fine(*c.Rate.Amount))
	}
	if c.Per != Once {
		hint = l.Fill("hint.counted", "hint", hint, "noun", c.noun(money.One, l))
	} else if c.EachUnit {
		hint = l.Fill("hint.each", "hint", hint)
	}
	for _, t := range c.Times {
		hint = l.Fill("hint.counted", "hint", hint, "noun", nounOf(t, money.One, l))
	}
	if c.Included > 0 {
		hint = l.Fill("hint.after", "hint", hint, "included", itoa(c.Included))
	}
	if c.UpTo > 0 && c.Included == 0 {
		hint = l.Fill("hint.upto", "hint", hint, "upto", itoa(c.UpTo))
	}
	for _, b := range c.Bands {
		hint = l.Fill("hint.band", "hint", hint, "from", itoa(b.After+1), "amount", fine(b.Amount))
	}
	return hint
}

func signed(a money.Fine, c money.Currency, l words.Language) string {
	if a < 0 {
		return "−" + l.Fine(-a, c)
	}
	return "+" + l.Fine(a, c)
}

// Sentence says what a charge does, for the seller: "adds 18.50 for each guest
// after 2, per night, at most 92.50".
func (c *Charge) Sentence(cur money.Currency, l words.Language) string {
	amount := func(a money.Amount) string { return l.Amount(a, cur) }
	said := l.Fill("says."+string(c.Effect), "rate", c.rateWords(cur, l))
	if c.Effect == Sets && c.Rate.Difference != nil {
		said = l.Fill("says.difference", "difference", signed(c.Rate.Difference.Fine(), cur, l))
	}
	if c.Per != Once {
		said = l.Fill("says.each", "said", said, "noun", c.noun(money.One, l))
	}
	if c.Included > 0 {
		said = l.Fill("says.after", "said", said, "included", itoa(c.Included))
	}
	if c.UpTo > 0 {
		said = l.Fill("says.upto", "said", said, "upto", itoa(c.UpTo))
	}
	for i, b := range c.Bands {
		code := "says.band_all"
		if c.Graduated {
			code = "says.band"
		}
		if i > 0 {
			code = "says.band_more"
		}
		said = l.Fill(code, "said", said, "from", itoa(b.After+1), "amount", l.Fine(b.Amount, cur))
	}
	if c.EachUnit {
		said = l.Fill("says.unit", "said", said)
	}
	for _, t := range c.Times {
		said = l.Fill("says.times", "said", said, "noun", nounOf(t, money.One, l))
	}
	if c.Entries != nil {
		said = l.Fill("says.entries", "said", said)
	}
	if c.Least != nil {
		said = l.Fill("says.least", "said", said, "amount", amount(*c.Least))
	}
	if c.Most != nil {
		said = l.Fill("says.most", "said", said, "amount", amount(*c.Most))
	}
	if c.When != nil {
		said = l.Fill("says.when", "said", said)
	}
	if c.AlsoNone {
		said = l.Fill("says.also_none", "said", said)
	}
	if c.Place != WithQuestion {
		said = l.Fill("says.place_"+string(c.Place), "said", said)
	}
	if c.Tax != nil {
		said = l.Fill("says.tax", "said", said, "percent", l.Number(*c.Tax))
	}
	for i := range c.Prices {
		said = l.Fill("says.special", "said", said, "special", c.Prices[i].Sentence(cur, l))
	}
	if c.Combine != CombineLowest {
		said = l.Fill("says.combine_"+string(c.Combine), "said", said)
	}
	return said
}

func (c *Charge) rateWords(cur money.Currency, l words.Language) string {
	switch {
	case c.Rate.Amount != nil:
		return l.Fine(*c.Rate.Amount, cur)
	case c.Rate.Percent != nil && c.Rate.OfBase:
		return l.Fill("says.percent_base", "percent", l.Number(*c.Rate.Percent))
	case c.Rate.Percent != nil:
		return l.Fill("says.percent", "percent", l.Number(*c.Rate.Percent))
	case c.Rate.Formula != "":
		return l.Fill("says.formula")
	}
	return l.Fill("says.answered")
}

// Sentence says when another price holds and what it is: "20.00 for members,
// from 1 Jun 2027 to 31 Aug 2027".
func (s *Special) Sentence(cur money.Currency, l words.Language) string {
	said := ""
	switch {
	case s.Amount != nil && s.Dearer:
		said = l.Fill("says.more", "amount", l.Amount(*s.Amount, cur))
	case s.Amount != nil:
		said = l.Amount(*s.Amount, cur)
	case s.Percent != nil && s.Dearer:
		said = l.Fill("says.percent_more", "percent", l.Number(*s.Percent))
	case s.Percent != nil:
		said = l.Fill("says.percent_less", "percent", l.Number(*s.Percent))
	}
	if s.Group != "" {
		said = l.Fill("says.group", "said", said, "group", s.Group)
	}
	if s.AtLeast > 0 {
		said = l.Fill("says.units", "said", said, "count", strconv.Itoa(s.AtLeast))
	}
	if len(s.Weekdays) > 0 {
		said = l.Fill("says.weekdays", "said", said, "list", l.Weekdays(s.Weekdays))
	}
	if s.Season != "" {
		said = l.Fill("says.season", "said", said, "season", s.Season)
	}
	if s.Hours != nil {
		said = l.Fill("says.hours", "said", said, "from", clock(s.Hours.From), "to", clock(s.Hours.To))
	}
	if s.Left > 0 {
		said = l.Fill("says.left", "said", said, "count", strconv.Itoa(s.Left))
	}
	if s.From != nil {
		said = l.Fill("says.from", "said", said, "day", l.Day(*s.From))
	}
	if s.To != nil {
		said = l.Fill("says.to", "said", said, "day", l.Day(*s.To))
	}
	if s.Booked {
		said = l.Fill("says.booked", "said", said)
	}
	return said
}

func clock(minute int) string { return fmt.Sprintf("%02d:%02d", minute/60, minute%60) }

// Sentence says what a coupon does: "takes 10 % off orders from 30.00".
func (c *Coupon) Sentence(cur money.Currency, l words.Language) string {
	rate := ""
	if c.Amount != nil {
		rate = l.Amount(*c.Amount, cur)
	} else if c.Percent != nil {
		rate = l.Fill("coupon.percent", "percent", l.Number(*c.Percent))
	}
	said := l.Fill("says.takes_off", "rate", rate)
	if n := len(c.Products); n > 0 {
		said = l.Fill("coupon.products", "said", said, "count", itoa(n))
	}
	if c.LeastOrder > 0 {
		said = l.Fill("coupon.least", "said", said, "amount", l.Amount(c.LeastOrder, cur))
	}
	if c.From != nil {
		said = l.Fill("says.from", "said", said, "day", l.Day(*c.From))
	}
	if c.To != nil {
		said = l.Fill("says.to", "said", said, "day", l.Day(*c.To))
	}
	if c.Combines {
		said = l.Fill("coupon.combines", "said", said)
	}
	return said
}
