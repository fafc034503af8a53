// Package charge makes the slip: from a product's price, its charges and the
// answers to priced lines whose words explain them, taxes and a total.
package charge

import (
	"errors"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Charge is what one answer does to the price of its order line. It counts
// while its question is asked and answered; with a Choice, only while that
// choice is chosen; on a yes/no question, only while the answer is yes.
type Charge struct {
	On     question.Key `json:"on,omitempty"`     // none: always counts
	Choice string       `json:"choice,omitempty"` // a choice's code
	Label  string       `json:"label,omitempty"`  // the slip's words; the choice's label or the wording when empty
	Effect Effect       `json:"effect"`
	Rate   Rate         `json:"rate"`
	Per    Per          `json:"per,omitempty"`
	// EachUnit multiplies by the line's quantity.
	EachUnit bool `json:"each_unit,omitempty"`
	// Included is how many of what is counted are free.
	Included int `json:"included,omitempty"`
	// UpTo is the last one that is counted; 0 is no limit.
	UpTo int `json:"up_to,omitempty"`
	// Noun and Nouns name what is counted: "letter" and "letters".
	Noun  string `json:"noun,omitempty"`
	Nouns string `json:"nouns,omitempty"`
}

// An Effect is the direction of a charge.
type Effect string

const (
	Adds     Effect = "adds"
	TakesOff Effect = "takes_off"
	Sets     Effect = "sets" // the price of one unit, instead of the list price
)

// A Rate has exactly one of its fields set.
type Rate struct {
	// Amount is in minor units.
	Amount *money.Amount `json:"amount,omitempty"`
	// Percent is a share of the line's price and the charges before this one.
	Percent *decimal.Decimal `json:"percent,omitempty"`
	// Answered takes the customer-set amount that the question asks for.
	Answered bool `json:"answered,omitempty"`
}

// Per is what the rate is multiplied by.
type Per string

const (
	Once      Per = ""
	Character Per = "character" // of a text answer, white space not counted
	Answer    Per = "answer"    // the answered number, people booked or choices chosen
)

// Validate says what is wrong with a charge in itself.
func (c Charge) Validate() error {
	set := 0
	if c.Rate.Amount != nil {
		set++
		if *c.Rate.Amount < 0 || *c.Rate.Amount > money.Largest {
			return errors.New("its amount must not be below zero; use “takes off” for a reduction")
		}
	}
	if c.Rate.Percent != nil {
		set++
		if c.Rate.Percent.IsNegative() || c.Rate.Percent.GreaterThan(decimal.NewFromInt(1000)) {
			return errors.New("its per cent must lie between 0 and 1000")
		}
	}
	if c.Rate.Answered {
		set++
	}
	switch {
	case set != 1:
		return errors.New("it needs one rate: an amount, per cent, or the amount that the customer sets")
	case c.Effect != Adds && c.Effect != TakesOff && c.Effect != Sets:
		return errors.New("it must add, take off or set the price")
	case c.Effect == Sets && (c.Rate.Percent != nil || c.Per != Once):
		return errors.New("what sets the price must be one amount")
	case c.Per != Once && c.Per != Character && c.Per != Answer:
		return errors.New("it can count once, per character or per answer")
	case c.Per != Once && c.Rate.Amount == nil:
		return errors.New("what is counted needs an amount for each")
	case c.Per != Once && c.On == "":
		return errors.New("what is counted needs a question to count")
	case c.Rate.Answered && c.On == "":
		return errors.New("a customer-set amount needs the question that asks for it")
	case c.Included < 0 || c.UpTo < 0 || c.UpTo > 0 && c.UpTo <= c.Included:
		return errors.New("its included number must lie below the number up to which it counts")
	case c.Choice != "" && c.On == "":
		return errors.New("a choice needs its question")
	}
	return nil
}

// Hint says beside its question what a charge does: "+0.60 a letter after 24".
func (c *Charge) Hint(cur money.Currency, l words.Language) string {
	switch {
	case c.Rate.Answered:
		return l.Say("hint.decided", nil)
	case c.Rate.Percent != nil && c.Effect == TakesOff:
		return l.Say("hint.percent_off", words.Params{"percent": l.Number(*c.Rate.Percent)})
	case c.Rate.Percent != nil:
		return l.Say("hint.percent", words.Params{"percent": l.Number(*c.Rate.Percent)})
	}
	hint := l.Say("hint."+string(c.Effect), words.Params{"amount": l.Amount(*c.Rate.Amount, cur)})
	if c.Per == Once {
		return hint
	}
	hint = l.Say("hint.counted", words.Params{"hint": hint, "noun": c.noun(1, l)})
	if c.Included > 0 {
		hint = l.Say("hint.after", words.Params{"hint": hint, "included": itoa(c.Included)})
	}
	if c.UpTo > 0 && c.Included == 0 {
		hint = l.Say("hint.upto", words.Params{"hint": hint, "upto": itoa(c.UpTo)})
	}
	return hint
}

func (c *Charge) noun(n int64, l words.Language) string {
	one, many := c.Noun, c.Nouns
	switch {
	case one != "":
	case c.Per == Character:
		one, many = l.Say("slip.letter", nil), l.Say("slip.letters", nil)
	default:
		one, many = l.Say("slip.piece", nil), l.Say("slip.pieces", nil)
	}
	if n == 1 || many == "" {
		return one
	}
	return many
}
