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
	// Minute is when on that day what is booked begins, if Timed.
	Minute int
	Timed  bool
	// Left is how many places were left of what is booked when it was ordered; 0
	// is not known.
	Left int
	// Whole is what is booked whole at a price of its own; nil for anything else.
	Whole *Whole
	// Meetings are those that are booked of a course, which has MeetingsOf; 0 of
	// anything else.
	Meetings, MeetingsOf int
}

// Whole is something that is booked only whole, and what it costs.
type Whole struct {
	Name  string
	Price money.Amount
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
	if p == Unit {
		return money.Whole(int64(in.Quantity))
	}
	return in.Facts.Of(p)
}

// Of gives how many of a measure there are; one of what is none.
func (f *Measured) Of(p Per) money.Count {
	switch p {
	case Person:
		return f.People
	case Hour:
		return f.Hours
	case Day:
		return f.Days
	case Night:
		return f.Nights
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
	if !in.formerly && !r.AlsoNone && r.Formula == nil && nothing(v) {
		return v, false
	}
	if r.Choice != "" {
		return v, chooses(v, r.Choice)
	}
	switch v := v.(type) {
	case question.YesNo:
		return v, bool(v)
	case question.Consent:
		return v, v.Agreed
	case question.Units:
		return v, slices.ContainsFunc(v.Each, r.countsUnit)
	case question.Repeat:
		return v, r.Entry == nil || r.entries(v, in) > 0
	}
	return v, true
}

// nothing says whether what was answered is nothing: the number or the amount 0,
// for each unit.
func nothing(v question.Value) bool {
	switch v := v.(type) {
	case question.Number:
		return v.IsZero()
	case question.Count:
		return v == 0
	case question.Amount:
		return v == 0
	case question.Units:
		return !slices.ContainsFunc(v.Each, func(u question.Value) bool { return u.Answered() && !nothing(u) })
	}
	return false
}

func chooses(v question.Value, code string) bool {
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
		return chooses(v, r.Choice)
	}
	y, yes := v.(question.YesNo)
	return !yes || bool(y)
}

// countsUnit says whether a charge that is made once is made for one unit.
func (m *making) countsUnit(r *Compiled, v question.Value) bool {
	return r.countsUnit(v) && (m.formerly || r.AlsoNone || !nothing(v))
}

// times gives how often a charge that counts once is made: for each unit that
// it counts for, and for each piece of a counted choice.
func (m *making) times(r *Compiled, v question.Value) int64 {
	switch v := v.(type) {
	case question.Units:
		n := int64(0)
		for _, u := range v.Each {
			if m.countsUnit(r, u) {
				n += m.times(r, u)
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
		n = max(r.answered(v, in), 0)
	default:
		n = in.measured(r.Per)
	}
	if r.UpTo > 0 {
		n = min(n, money.Whole(int64(r.UpTo)))
	}
	return n
}

// answered gives how many an answer counts: of a charge on a choice the pieces
// of that choice, of one on entries those that meet its condition.
func (r *Compiled) answered(v question.Value, in *Input) money.Count {
	switch {
	case r.Entry != nil:
		return money.Whole(int64(r.entries(v, in)))
	case r.Choice == "" || in.formerly:
	default:
		if all, counted := v.(question.Counts); counted {
			return money.Whole(all[r.Choice])
		}
		return money.One
	}
	return numberOf(v)
}

// entries gives how many entries of a list meet the charge's condition.
func (r *Compiled) entries(v question.Value, in *Input) int {
	list, ok := v.(question.Repeat)
	if !ok {
		return 0
	}
	n := 0
	for _, e := range list.Entries {
		if r.Entry.Holds(e, in.Known) {
			n++
		}
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
		if x.Answered() && (in.formerly || r.Choice == "" || chooses(x, r.Choice)) {
			all = append(all, r.count(x, in))
		}
	}
	return all
}

// A stretch is a part of a count with its own rate.
type stretch struct {
	n    money.Count
	rate money.Product
	fine money.Fine // the rate, where it is an amount
}

// stretches cuts a count at bands, leaving out what is free.
func stretches(n money.Count, included int, rate stretch, bands []Band, graduated bool, into []stretch) []stretch {
	free := money.Whole(int64(included))
	if n <= free {
		return into
	}
	from := free
	for _, b := range bands {
		end := money.Whole(int64(b.After))
		if n <= end {
			break
		}
		if graduated {
			rate.n = end - from
			into, from = join(into, rate), end
		}
		rate.rate, rate.fine = b.Amount.Exactly(), b.Amount
	}
	rate.n = n - from
	return join(into, rate)
}

// join adds a stretch to one of the same rate, if there is one.
func join(list []stretch, s stretch) []stretch {
	for i := range list {
		if list[i].rate.Cmp(s.rate) == 0 {
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
