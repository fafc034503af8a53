package charge

import (
	"slices"
	"strconv"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Slip is the computed price. The same input makes the same slip, byte for
// byte.
type Slip struct {
	Currency money.Currency `json:"currency"`
	Lines    []Line         `json:"lines"`
	Taxes    []Tax          `json:"taxes"`
	Total    money.Amount   `json:"total"` // the sum of the lines, tax included
}

// A Line is one row of a slip, already rounded.
type Line struct {
	Question question.Key `json:"question,omitempty"` // whose answer makes it; none for the product itself
	Label    string       `json:"label"`
	Why      string       `json:"why,omitempty"` // how the amount was computed
	Amount   money.Amount `json:"amount"`
}

// A Tax is the tax of one rate on the sum of that rate's lines.
type Tax struct {
	Percent decimal.Decimal `json:"percent"`
	Gross   money.Amount    `json:"gross"`
	Net     money.Amount    `json:"net"`
	Amount  money.Amount    `json:"amount"`
}

// A Pricing is what the lines of one product are made from.
type Pricing struct {
	Title    string
	Price    money.Amount // of one unit
	Currency money.Currency
	Rounding money.Rounding
	Tax      decimal.Decimal // per cent, contained in the prices
	Charges  []Rule          // in the order of their questions
}

// A Rule is a charge with the question that it reads.
type Rule struct {
	Charge
	Wording string // the label when there is no other
}

// An Input is what changes from order to order.
type Input struct {
	Answers  question.Answers // only what is asked
	Quantity int
	Language words.Language
}

func itoa(n int) string { return strconv.Itoa(n) }

// Make computes the slip of one order line (computation.md, The slip).
// Every line is rounded when it is made, and the total adds rounded lines.
func (p *Pricing) Make(in Input) Slip {
	quantity := int64(in.Quantity)
	price, label := p.Price, p.Title
	for i := range p.Charges {
		r := &p.Charges[i]
		if r.Effect != Sets {
			continue
		}
		if v, ok := r.counts(in.Answers); ok {
			price = r.amount(v)
			if r.Choice != "" {
				label = p.Title + ", " + r.Wording
			}
		}
	}
	base := Line{Label: label, Amount: price.Times(quantity)}
	if quantity != 1 {
		base.Why = in.Language.Say("slip.base_times", words.Params{"amount": in.Language.Amount(price, p.Currency), "count": itoa(in.Quantity)})
	}
	slip := Slip{Currency: p.Currency, Total: base.Amount, Lines: make([]Line, 1, len(p.Charges)+1)}
	slip.Lines[0] = base
	for i := range p.Charges {
		r := &p.Charges[i]
		if r.Effect == Sets {
			continue
		}
		v, ok := r.counts(in.Answers)
		if !ok {
			continue
		}
		line := p.line(r, v, slip.Total, in)
		if line.Amount == 0 {
			continue
		}
		if line.Amount < 0 && slip.Total+line.Amount < 0 {
			line.Amount = -slip.Total
			line.Why = in.Language.Say("slip.floor", nil)
		}
		slip.Lines = append(slip.Lines, line)
		slip.Total += line.Amount
	}
	// A product without a price of its own, such as a voucher, is nothing but
	// its charges; a first row of zero would say nothing.
	if base.Amount == 0 && len(slip.Lines) > 1 {
		slip.Lines = slip.Lines[1:]
	}
	slip.Taxes = []Tax{taxOf(p.Rounding, p.Tax, slip.Total)}
	return slip
}

// counts says whether a charge's answer is there, and gives it.
func (r *Rule) counts(answers question.Answers) (question.Value, bool) {
	if r.On == "" {
		return nil, true
	}
	v, ok := answers[r.On]
	if !ok || !v.Answered() {
		return nil, false
	}
	if r.Choice != "" {
		return v, slices.Contains(v.Terms().Codes, r.Choice)
	}
	switch v := v.(type) {
	case question.YesNo:
		return v, bool(v)
	case question.Consent:
		return v, v.Agreed
	case question.Units:
		return v, slices.ContainsFunc(v.Each, r.countsUnit)
	}
	return v, true
}

// countsUnit says whether the answer for one unit counts.
func (r *Rule) countsUnit(v question.Value) bool {
	if !v.Answered() {
		return false
	}
	if r.Choice != "" {
		return slices.Contains(v.Terms().Codes, r.Choice)
	}
	y, yes := v.(question.YesNo)
	return !yes || bool(y)
}

// times gives how often a charge that counts once is made: for each unit that
// it counts for, and for each piece of a counted choice.
func (r *Rule) times(v question.Value) int64 {
	switch v := v.(type) {
	case question.Units:
		n := int64(0)
		for _, u := range v.Each {
			if r.countsUnit(u) {
				n += r.times(u)
			}
		}
		return n
	case question.Counts:
		if r.Choice != "" {
			return v[r.Choice]
		}
	}
	return 1
}

// amount gives the amount of a charge. What a customer sets is shown before it
// is checked, so it is kept within the range of amounts here.
func (r *Rule) amount(v question.Value) money.Amount {
	if r.Rate.Answered {
		if a, ok := v.(question.Amount); ok {
			return min(max(money.Amount(a), 0), money.Largest)
		}
		return 0
	}
	return *r.Rate.Amount
}

// line makes the slip line of one charge on what the line costs so far.
func (p *Pricing) line(r *Rule, v question.Value, soFar money.Amount, in Input) Line {
	l := in.Language
	line := Line{Question: r.On, Label: r.Label}
	if line.Label == "" {
		line.Label = r.Wording
	}
	switch {
	case r.Rate.Percent != nil:
		line.Amount = p.Rounding.Percent(soFar, *r.Rate.Percent)
		if line.Amount != 0 {
			line.Why = l.Say("slip.percent", words.Params{"percent": l.Number(*r.Rate.Percent), "of": l.Amount(soFar, p.Currency)})
		}
	case r.Per == Once:
		n := r.times(v)
		line.Amount = r.amount(v).Times(n)
		switch {
		case r.Rate.Answered:
			line.Why = l.Say("slip.decided", nil)
		case n > 1:
			line.Why = l.Say("slip.each", words.Params{"amount": l.Amount(*r.Rate.Amount, p.Currency), "count": strconv.FormatInt(n, 10)})
		}
	default:
		n := r.counted(v)
		line.Amount = r.Rate.Amount.Times(n)
		if n == 0 {
			return line
		}
		code := "slip.counted"
		switch {
		case r.Included > 0:
			code = "slip.counted_after"
		case r.UpTo > 0:
			code = "slip.counted_first"
		}
		line.Why = l.Say(code, words.Params{
			"count": strconv.FormatInt(n, 10), "noun": r.noun(n, l),
			"included": itoa(r.Included), "amount": l.Amount(*r.Rate.Amount, p.Currency),
		})
	}
	if r.EachUnit && r.Rate.Percent == nil && in.Quantity != 1 {
		if line.Why == "" {
			line.Why = l.Say("slip.each", words.Params{"amount": l.Amount(line.Amount, p.Currency), "count": itoa(in.Quantity)})
		} else {
			line.Why = l.Say("slip.times", words.Params{"why": line.Why, "quantity": itoa(in.Quantity)})
		}
		line.Amount = line.Amount.Times(int64(in.Quantity))
	}
	if r.Effect == TakesOff {
		line.Amount = -line.Amount
	}
	return line
}

// counted gives how many are charged: those beyond the included number, up to
// the last that counts. Parts of one do not count.
// Each unit has its own included number.
func (r *Rule) counted(v question.Value) int64 {
	var n int64
	if u, ok := v.(question.Units); ok {
		for _, each := range u.Each {
			if each.Answered() {
				n += r.counted(each)
			}
		}
		return n
	}
	if r.Per == Character {
		n = int64(question.Letters(v.Terms().Text))
	} else {
		n = v.Terms().Number.IntPart()
	}
	if r.UpTo > 0 {
		n = min(n, int64(r.UpTo))
	}
	return max(n-int64(r.Included), 0)
}

// tax takes the tax out of a gross sum. Net and tax add up to it exactly, as
// EN 16931 rule BR-CO-15 asks of an invoice's totals.
func taxOf(r money.Rounding, percent decimal.Decimal, gross money.Amount) Tax {
	hundred := decimal.NewFromInt(100)
	amount := r.Round(decimal.NewFromInt(int64(gross)).Mul(percent).DivRound(hundred.Add(percent), 12))
	return Tax{Percent: percent, Gross: gross, Net: gross - amount, Amount: amount}
}

// Join makes one slip of the slips of an order's lines: the lines after each
// other, the tax computed anew on the sum of each rate.
func Join(r money.Rounding, slips ...Slip) Slip {
	joined := Slip{Lines: []Line{}, Taxes: []Tax{}}
	for _, s := range slips {
		joined.Currency = s.Currency
		joined.Lines = append(joined.Lines, s.Lines...)
		joined.Total += s.Total
		for _, t := range s.Taxes {
			i := slices.IndexFunc(joined.Taxes, func(x Tax) bool { return x.Percent.Equal(t.Percent) })
			if i < 0 {
				joined.Taxes = append(joined.Taxes, t)
			} else {
				joined.Taxes[i] = taxOf(r, t.Percent, joined.Taxes[i].Gross+t.Gross)
			}
		}
	}
	slices.SortFunc(joined.Taxes, func(a, b Tax) int { return b.Percent.Cmp(a.Percent) })
	return joined
}
