package workplan

import (
	"slices"
	"strconv"
	"strings"

	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Saying tells one thing that planning again changed, in words of any language.
type Saying struct {
	Code   string       `json:"code"`
	Params words.Params `json:"params"`
	// Why are the questions whose answers changed it; none where it was not answers.
	Why []question.Key `json:"why,omitempty"`
}

// Say tells it in a language; wording says how a question is worded.
func (s Saying) Say(l words.Language, wording func(question.Key) string) string {
	text := l.Say(s.Code, s.Params)
	if len(s.Why) == 0 {
		return text
	}
	var list []string
	for _, k := range s.Why {
		list = append(list, wording(k))
	}
	return l.Say("replan.because", words.Params{"what": text, "why": strings.Join(list, ", ")})
}

// Said tells what a difference changes in items that were there before, and why. When
// something can be begun, or is due, is not told of: that changes with the work.
func (d Diff) Said(before []Item) []Saying {
	find := func(i *Item) *Item {
		at := slices.IndexFunc(before, func(o Item) bool { return o.chain() == i.chain() && o.Round == i.Round })
		if at < 0 {
			return nil
		}
		return &before[at]
	}
	var said []Saying
	say := func(code string, i *Item, why []question.Key, params words.Params) {
		if params == nil {
			params = words.Params{}
		}
		params["what"] = i.Title
		said = append(said, Saying{code, params, why})
	}
	for n := range d.Add {
		i := &d.Add[n]
		if i.Request != 0 {
			say("replan.changes", i, nil, nil)
		} else if i.Round > 0 {
			why := []question.Key{}
			for _, u := range d.Update {
				if u.chain() == i.chain() {
					for _, m := range u.Marks {
						why = append(why, m.Key)
					}
				}
			}
			say("replan.again", i, why, nil)
		} else {
			say("replan.new", i, nil, nil)
		}
	}
	for n := range d.Update {
		i := &d.Update[n]
		was := find(i)
		if was == nil || !i.Done.IsZero() {
			continue
		}
		why := differing(was.Uses, i.Uses)
		switch {
		case i.Unneeded && !was.Unneeded:
			say("replan.unneeded", i, nil, nil)
		case was.Unneeded && !i.Unneeded:
			say("replan.needed", i, nil, nil)
		case was.Title != i.Title:
			say("replan.called", i, why, words.Params{"old": was.Title})
		case was.Minutes != i.Minutes:
			say("replan.minutes", i, why, words.Params{"old": strconv.Itoa(was.Minutes), "now": strconv.Itoa(i.Minutes)})
		case was.Who != i.Who:
			say("replan.who", i, nil, nil)
		case len(why) > 0:
			say("replan.answers", i, why, nil)
		}
	}
	for n := range d.Drop {
		say("replan.dropped", &d.Drop[n], nil, nil)
	}
	return said
}

// differing lists the keys under which two sets of answers differ.
func differing(a, b map[question.Key]string) (keys []question.Key) {
	for _, m := range marks(a, b) {
		keys = append(keys, m.Key)
	}
	return keys
}
