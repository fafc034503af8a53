package charge

import (
	"slices"
	"strconv"
	"strings"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// Measured is what an order line is measured by. What is not known yet is zero.
type Measured struct {
	People money.Count
	Hours  money.Count
	Days   money.Count
	Nights money.Count
	// First is the first day or night, for prices that depend on the day.
	First calendar.Day
}

// answer gives an answer that counts; nil without one. The charges on a question
// stand together, so the last one that was asked for is kept.
func (in *Input) answer(k question.Key) question.Value {
	if in.lastKey != k {
		in.lastKey, in.last = k, in.Answers[k]
	}
	return in.last
}

// measured gives how many of a measure a line has.
func (in *Input) measured(p Per) money.Count {
	switch p {
	case Unit:
		return money.Whole(int64(in.Quantity))
	case Person:
		return in.Facts.People
	case Hour:
		return in.Facts.Hours
	case Day:
		return in.Facts.Days
	case Night:
		return in.Facts.Nights
	}
	return money.One
}

// counts says whether a charge's answer is there, and gives it.
func (r *Compiled) counts(in *Input) (question.Value, bool) {
	if r.Test != nil && !r.Test.Holds(in.Answers, in.Known) {
		return nil, false
	}
	if r.On == "" {
		return nil, true
	}
	v := in.answer(r.On)
	if v == nil || !v.Answered() {
		return nil, false
	}
	if r.Choice != "" {
		return v, chosen(v, r.Choice)
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

func chosen(v question.Value, code string) bool {
	if one, ok := v.(question.One); ok {
		return string(one) == code
	}
	return slices.Contains(v.Terms().Codes, code)
}

// countsUnit says whether the answer for one unit counts.
func (r *Compiled) countsUnit(v question.Value) bool {
	if !v.Answered() {
		return false
	}
	if r.Choice != "" {
		return chosen(v, r.Choice)
	}
	y, yes := v.(question.YesNo)
	return !yes || bool(y)
}

// times gives how often a charge that counts once is made: for each unit that
// it counts for, and for each piece of a counted choice.
func (r *Compiled) times(v question.Value) int64 {
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

// count gives how many there are of what is counted, the free ones included.
func (r *Compiled) count(v question.Value, in *Input) money.Count {
	var n money.Count
	switch r.Per {
	case Character:
		n = money.Whole(int64(question.Letters(textOf(v))))
	case CharacterSpaced:
		n = money.Whole(int64(question.Characters(textOf(v))))
	case Word:
		n = money.Whole(int64(len(strings.Fields(textOf(v)))))
	case Answer:
		n = max(numberOf(v), 0)
	default:
		n = in.measured(r.Per)
	}
	if r.UpTo > 0 {
		n = min(n, money.Whole(int64(r.UpTo)))
	}
	return n
}

func textOf(v question.Value) string {
	if t, ok := v.(question.Text); ok {
		return string(t)
	}
	return v.Terms().Text
}

func numberOf(v question.Value) money.Count {
	switch v := v.(type) {
	case question.Number:
		return money.CountOf(v.Decimal)
	case question.Count:
		return money.Whole(int64(v))
	}
	return money.CountOf(v.Terms().Number)
}

// each gives the counts that a charge is made for: one, or one for each unit,
// as each unit has its own included number and its own bands.
func (r *Compiled) each(v question.Value, in *Input, all []money.Count) []money.Count {
	u, ok := v.(question.Units)
	if !ok || r.Per.Measure() {
		return append(all, r.count(v, in))
	}
	for _, x := range u.Each {
		if x.Answered() {
			all = append(all, r.count(x, in))
		}
	}
	return all
}

// A stretch is a part of a count with its own rate.
type stretch struct {
	n    money.Count
	rate money.Amount
}

// stretches cuts a count at the bands, leaving out what is free.
func (r *Compiled) stretches(n money.Count, rate money.Amount, into []stretch) []stretch {
	free := money.Whole(int64(r.Included))
	if n <= free {
		return into
	}
	if !r.Graduated {
		for _, b := range r.Bands {
			if n > money.Whole(int64(b.After)) {
				rate = b.Amount
			}
		}
		return join(into, stretch{n - free, rate})
	}
	from := free
	for _, b := range r.Bands {
		if end := money.Whole(int64(b.After)); n > end {
			into = join(into, stretch{end - from, rate})
			from, rate = end, b.Amount
		}
	}
	return join(into, stretch{n - from, rate})
}

// join adds a stretch to one of the same rate, if there is one.
func join(list []stretch, s stretch) []stretch {
	for i := range list {
		if list[i].rate == s.rate {
			list[i].n += s.n
			return list
		}
	}
	return append(list, s)
}

// Told names one of what is counted, for whoever tells of it.
func (p Per) Told() *words.Message {
	return words.Tell(p.nounCode(), "count", "1")
}

// noun names so many of what is counted.
func (c *Charge) noun(n money.Count, l words.Language) string {
	if c.Noun != "" {
		if c.Nouns == "" || l.Singular(number(n, l)) {
			return c.Noun
		}
		return c.Nouns
	}
	return nounOf(c.Per, n, l)
}

func nounOf(p Per, n money.Count, l words.Language) string {
	return l.Fill(p.nounCode(), "count", number(n, l))
}

func (p Per) nounCode() string {
	switch p {
	case CharacterSpaced:
		return "noun.character"
	case Character, Word, Unit, Person, Hour, Day, Night:
		return "noun." + string(p)
	}
	return "noun.piece"
}

func number(n money.Count, l words.Language) string {
	if n%money.One == 0 && n < 1000*money.One && n >= 0 {
		return strconv.Itoa(int(n / money.One))
	}
	return l.Number(n.Decimal())
}

func itoa(n int) string { return strconv.Itoa(n) }
