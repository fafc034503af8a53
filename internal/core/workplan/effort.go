package workplan

import (
	"strings"

	"ruvo/internal/core/question"
)

func (s *Ready) minutes(f *Basis, p Part) int {
	m := s.Minutes.Fixed
	if s.For != nil && s.For.Each == EachUnit {
		m += s.Minutes.Unit
	} else {
		m += s.Minutes.Unit * f.Quantity
	}
	answer := func(k question.Key) (question.Value, bool) {
		if v, ok := p.Answers[k]; ok {
			return v, v.Answered()
		}
		v, ok := f.Answers[k]
		return v, ok && v.Answered()
	}
	if v, ok := answer(s.Minutes.Of); ok && s.Minutes.Each > 0 {
		m += s.Minutes.Each * s.counted(f, v)
	}
	for _, c := range s.Minutes.Choices {
		if v, ok := answer(c.Of); ok {
			n, _ := question.Times(v, c.Code)
			m += c.Minutes * int(min(n, longest))
		}
	}
	if s.Minutes.Value != "" {
		m += int(max(min(f.Value(s.Minutes.Value).Round(0).IntPart(), longest), 0))
	}
	return min(m, 10*longest)
}

// counted gives what of an answer takes minutes each.
func (s *Ready) counted(f *Basis, v question.Value) int {
	if list, ok := v.(question.Repeat); ok && s.Entry != nil {
		n := 0
		for _, e := range list.Entries {
			if s.Entry.Holds(e, f.Known) {
				n++
			}
		}
		return n
	}
	switch s.Minutes.Per {
	case Character:
		return question.Letters(v.Terms().Text)
	case Word:
		return len(strings.Fields(v.Terms().Text))
	}
	return int(min(v.Terms().Number.IntPart(), longest))
}
