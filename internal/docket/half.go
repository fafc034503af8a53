package docket

import (
	"encoding/json"
	"maps"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/core/brief"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// Standing gives what stands at a question, as a customer sees it: what they typed half,
// else its answer; nil for nothing.
func (l *Line) Standing(k question.Key) json.RawMessage {
	if h, ok := l.Row.Halves[k]; ok && !h.Unknown {
		return h.Value
	}
	return l.Row.Answers[string(k)]
}

// Locked says whether the customer can no longer change an answer: the brief is closed,
// or it closes with the work and work with that answer began.
func (l *Line) Locked(k question.Key) bool {
	if l.Row.ClosedAt != nil {
		return true
	}
	if l.Edition.Brief == nil || l.Edition.Brief.Closes != brief.WithWork || l.Row.Reopened {
		return false
	}
	return slices.ContainsFunc(l.Items, func(w store.WorkItem) bool {
		_, seen := w.Seen[k]
		return seen && (w.StartedAt != nil || w.DoneAt != nil && !w.SetAside)
	})
}

// closes notes when the brief closes by itself.
func (l *Line) closes() {
	l.Row.ClosesAt = nil
	if l.Row.Reopened || !l.State().IsOrdered() {
		return
	}
	booked, _ := l.Booked()
	l.Row.ClosesAt = store.Time(l.Edition.Brief.Ends(l.Order.Since(), booked.Start, l.Given.Zone))
}

// KeepHalf keeps something of a question that is no answer yet, with the files in it.
func (l *Line) KeepHalf(tx *store.Tx, k question.Key, h brief.Half, lang words.Language) error {
	if l.Row.Halves == nil {
		l.Row.Halves = map[question.Key]brief.Half{}
	}
	l.Row.Halves[k] = h
	given, _ := question.Decode(map[string]json.RawMessage{string(k): h.Value}, l.Edition.Spec)
	return BindKnown(tx, l.Order.ID, given, lang)
}

// HalfSaid shows what the customer said of a question that is no answer yet; nil where
// there is nothing.
func (l *Line) HalfSaid(k question.Key, lang words.Language) *api.HalfSaid {
	h, ok := l.Row.Halves[k]
	if !ok {
		return nil
	}
	v := &api.HalfSaid{Unknown: h.Unknown, At: h.At}
	if h.Unknown {
		return v
	}
	facts := l.Given
	facts.Language = lang
	after, _ := l.Tried(map[string]json.RawMessage{string(k): h.Value}, evaluate.Held, facts.Now)
	if v.Words = after.Words(l.Edition, k, facts); v.Words == "" {
		if json.Unmarshal(h.Value, &v.Words) != nil { // no text, and nothing that reads as an answer
			v.Words = ""
		}
	}
	return v
}

// Tried evaluates the line as it would be with some answers changed, and keeps nothing.
func (l *Line) Tried(change map[string]json.RawMessage, checks evaluate.Checks, now time.Time) (evaluate.Result, []question.Fault) {
	answers := maps.Clone(l.Row.Answers)
	if answers == nil {
		answers = map[string]json.RawMessage{}
	}
	maps.Copy(answers, change)
	return l.Evaluate(answers, checks, now)
}
