package tally

import (
	"strings"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
)

// An Answer is what one answer counts for among all answers to its question.
type Answer struct {
	// Counts says how often each thing was said: labels of choices, "yes" or "no",
	// words of a text, a number as it is written.
	Counts map[string]int
	// Number and Text are what answers to the same question are put in order by: the
	// one of numbers, days and times, the other, what the answer reads like in small
	// letters, of all else.
	Number float64
	Text   string
}

// mostTimes bounds how often one answer counts for the same thing.
const mostTimes = 1000

// Of gives what an answer counts for. An answer of each unit counts for what is said of
// all of them.
func Of(spec question.Spec, v question.Value, env question.Env) Answer {
	reads := spec.Words(v, env)
	a := Answer{Counts: map[string]int{}, Text: strings.ToLower(reads)}
	if each, ok := question.Each(spec); ok {
		env.Units = 1
		for _, one := range v.(question.Units).Each {
			if one.Answered() {
				for what, n := range Of(each, one, env).Counts {
					a.Counts[what] = min(a.Counts[what]+n, mostTimes)
				}
			}
		}
		return a
	}
	if choices, ok := spec.(question.Choosable); ok {
		for _, ch := range choices.All() {
			if n, _ := question.Times(v, ch.Code); n > 0 {
				a.Counts[ch.Label] = min(a.Counts[ch.Label]+int(min(n, mostTimes)), mostTimes)
			}
		}
		return a
	}
	terms := v.Terms()
	switch spec.Class() {
	case question.ClassYesNo:
		for _, code := range terms.Codes {
			a.Counts[code] = 1
		}
	case question.ClassText:
		if _, ok := spec.(question.Prose); ok {
			for _, w := range wordsOf(reads) {
				a.Counts[w] = 1
			}
		}
	case question.ClassNumber:
		a.Counts[terms.Number.String()] = 1
		a.Number, a.Text = terms.Number.InexactFloat64(), ""
	case question.ClassClock, question.ClassList:
		a.Number, a.Text = terms.Number.InexactFloat64(), ""
	case question.ClassDay, question.ClassSpan:
		a.Number, a.Text = float64(terms.Day.Since(calendar.Day{Year: 1970, Month: 1, Number: 1})), ""
	case question.ClassBooking:
		a.Number, a.Text = float64(terms.Start.Unix()), ""
	}
	return a
}
