package product

import (
	"slices"

	"ruvo/internal/core/question"
)

// A Rush is the answer with which the work of an order line goes before that of
// others. What it costs is a charge like any other.
type Rush struct {
	Of    question.Key `json:"of"`    // a choice, or a yes-or-no
	Codes []string     `json:"codes"` // "yes" for a yes-or-no
}

// Rushes says whether the answers that count put the work first.
func (e *Edition) Rushes(answers question.Answers) bool {
	if e.Rush == nil {
		return false
	}
	v, ok := answers[e.Rush.Of]
	return ok && v.Answered() && slices.ContainsFunc(v.Terms().Codes, func(c string) bool { return slices.Contains(e.Rush.Codes, c) })
}

// rush checks the answer that puts work first, and the terms of the promise.
func (c *check) rush() {
	e := c.edition
	if e.Promise != nil {
		if err := e.Promise.Validate(); err != nil {
			c.wrong(InProduct, "promise", "finding.promise", "why", err)
			e.Promise = nil
		}
	}
	if e.Rush == nil {
		return
	}
	item, ok := e.Item(e.Rush.Of)
	class := question.ClassNone
	if ok {
		class = item.Spec.Class()
	}
	switch {
	case class != question.ClassOne && class != question.ClassYesNo:
		c.wrong(InProduct, "rush", "finding.rush_of_no_choice", "k", e.Rush.Of)
	case item.Moment.Rank() > question.Paying.Rank() || item.Scope == question.OfUnit:
		c.wrong(InProduct, "rush", "finding.rush_too_late", "wording", item.Wording)
	case len(e.Rush.Codes) == 0:
		c.wrong(InProduct, "rush", "finding.rush_without_code", "wording", item.Wording)
	default:
		for _, code := range e.Rush.Codes {
			labels, of := item.Spec.(question.Labelled)
			if of {
				_, of = labels.Label(code)
			}
			if !of && !(class == question.ClassYesNo && code == "yes") {
				c.wrong(InProduct, "rush", "finding.unknown_code", "name", item.Wording, "code", code, "wording", item.Wording)
			}
		}
		return
	}
	e.Rush = nil
}
