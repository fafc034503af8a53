package shop

import (
	"context"
	"encoding/json"
	"errors"
	"maps"
	"net/http"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/brief"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/revising"
	"ruvo/internal/store"
)

// SaveBrief keeps what a customer types, field by field. What is right becomes an answer;
// what is not right yet, or changes a price that the customer did not agree to, is kept
// as it was typed and counts for nothing. A field in which somebody else typed meanwhile
// is left as it is and named.
func (s *Shop) SaveBrief(ctx context.Context, secret string, id int64, save api.BriefSave, l words.Language) (api.BriefSaved, error) {
	half := map[string]bool{} // what is no answer yet
	for {
		var saved api.BriefSaved
		err := s.Store.Write(ctx, func(tx *store.Tx) (err error) {
			saved, err = s.saveBrief(tx, secret, id, save, half, l)
			return err
		})
		if err == nil || !s.halves(err, save.Answers, half) {
			return saved, err
		}
	}
}

// halves notes what of answers is no answer yet for what stood against them, and says
// whether that is any more than was known before.
func (s *Shop) halves(err error, answers map[string]json.RawMessage, half map[string]bool) bool {
	before := len(half)
	var p *problem.Problem
	switch {
	case errors.Is(err, revising.ErrPriced):
		for k := range answers {
			half[k] = true
		}
	case errors.As(err, &p) && p.Status == http.StatusUnprocessableEntity:
		for _, f := range p.Errors {
			if k, _, _ := strings.Cut(f.Key, "."); answers[k] != nil && f.Code != "unknown" && f.Code != "closed" && f.Code != "booked" && f.Code != "too_long" {
				half[k] = true
			}
		}
	}
	return len(half) > before
}

func (s *Shop) saveBrief(tx *store.Tx, secret string, id int64, save api.BriefSave, half map[string]bool, l words.Language) (api.BriefSaved, error) {
	var saved api.BriefSaved
	o, mailed, err := s.letIn(tx, secret, l)
	if err != nil {
		return saved, err
	}
	line, err := s.lineOf(tx, &o, id, l)
	if err != nil {
		return saved, err
	}
	if saved.Others, err = s.keepBrief(tx, line, by{mailed: mailed}, save, half, l); err != nil {
		return saved, err
	}
	saved.Page, err = s.page(tx, line.Order, l)
	return saved, err
}

// by is who types into a brief: the buyer, unless there is a name.
type by struct {
	name   string // of whom the order is for
	mailed bool   // by a link that was mailed to the buyer
}

// keepBrief keeps what was typed, and names the fields that somebody else changed.
func (s *Shop) keepBrief(tx *store.Tx, line *docket.Line, who by, save api.BriefSave, half map[string]bool, l words.Language) (others []string, err error) {
	others = []string{}
	if line.Row.ClosedAt != nil || line.State().Refused(order.Answer) != "" {
		return nil, problem.Say(http.StatusConflict, l, "brief_closed", nil)
	}
	if wrong := unsavable(line, &save, l); len(wrong) > 0 {
		return nil, problem.Invalid(l, wrong)
	}
	right := map[string]json.RawMessage{}
	for k, next := range save.Answers {
		key := question.Key(k)
		if brief.Other(line.Standing(key), apiview.Given(save.Was)[k], next) {
			others = append(others, k)
			continue
		}
		delete(line.Row.Halves, key)
		if !brief.Same(line.Row.Answers[k], next) {
			right[k] = next
		}
	}
	slices.Sort(others)
	if save.Agreed == nil {
		for _, k := range s.revising().Priced(line, right) {
			half[k] = true
		}
	}
	for k := range half {
		if next, ok := right[k]; ok {
			delete(right, k)
			if err := line.KeepHalf(tx, question.Key(k), brief.Half{Value: next, At: s.Now().UTC()}, l); err != nil {
				return nil, err
			}
		}
	}
	if err := s.unknown(tx, line, apiview.Given(save.Unknown), l); err != nil {
		return nil, err
	}
	if len(right) > 0 {
		return others, s.revise(tx, line, revising.Change{Answers: right, Author: who.name, Mailed: who.mailed, Typed: true, Agreed: save.Agreed}, l)
	}
	return others, tx.SaveLine(&line.Row)
}

// unsavable says what of a brief cannot be kept, not even half.
func unsavable(line *docket.Line, save *api.BriefSave, l words.Language) (wrong []api.FieldError) {
	keys := slices.Concat(slices.Collect(maps.Keys(save.Answers)), slices.Collect(maps.Keys(apiview.Given(save.Unknown))))
	slices.Sort(keys)
	for _, k := range slices.Compact(keys) {
		item, ok := line.Edition.Item(question.Key(k))
		switch {
		case !ok || item.Moment == question.Desk:
			wrong = append(wrong, problem.Field(l, k, "unknown", nil))
		case line.Locked(item.Key):
			wrong = append(wrong, problem.Field(l, k, "closed", nil))
		case len(save.Answers[k]) > brief.MostHalf:
			wrong = append(wrong, problem.Field(l, k, "too_long", nil))
		}
	}
	return wrong
}

// unknown notes which questions the customer cannot answer yet, and which they can.
func (s *Shop) unknown(tx *store.Tx, line *docket.Line, said map[string]bool, l words.Language) error {
	for k, is := range said {
		key := question.Key(k)
		if line.Row.Halves[key].Unknown {
			delete(line.Row.Halves, key)
		}
		if _, answered := line.Row.Answers[k]; is && !answered {
			if err := line.KeepHalf(tx, key, brief.Half{Unknown: true, At: s.Now().UTC()}, l); err != nil {
				return err
			}
		}
	}
	return nil
}

// briefView shows what is half, until when answers can be changed, and what is said once
// all is there.
func (s *Shop) briefView(tx *store.Tx, v *api.OrderLine, line *docket.Line, l words.Language) {
	v.Halves = []api.HalfAnswer{}
	for _, k := range slices.Sorted(maps.Keys(line.Row.Halves)) {
		v.Halves = append(v.Halves, s.halfView(tx, line, k, l))
	}
	if at := line.Row.ClosesAt; at != nil && line.Row.ClosedAt == nil {
		last := calendar.DayOf(at.In(line.Given.Zone)).Add(-1).String()
		v.Closes = &last
	}
	if t := line.Edition.Brief; t != nil && line.Row.Brief != order.Waiting {
		if said := line.Said(t.Thanks); said != "" {
			v.Thanks = &said
		}
		if t.Address != "" {
			v.Next = &t.Address
		}
	}
}

func (s *Shop) halfView(tx *store.Tx, line *docket.Line, k question.Key, l words.Language) api.HalfAnswer {
	h := line.Row.Halves[k]
	v := api.HalfAnswer{Key: string(k), Unknown: h.Unknown, At: h.At, Faults: []api.FieldError{}}
	if h.Unknown {
		return v
	}
	v.Value = h.Value
	change := map[string]json.RawMessage{string(k): h.Value}
	after, wrong := line.Tried(change, evaluate.Against(docket.Files(tx, line.Order.ID), nil, nil), s.Now())
	for _, f := range slices.Concat(wrong, after.Faults) {
		if f.Key == k {
			v.Faults = append(v.Faults, problem.Fields(l, "", []question.Fault{f})...)
		}
	}
	v.Priced = len(v.Faults) == 0 && after.Slip.Total != line.Row.Slip.Total
	if v.Priced && !line.Edition.Reprices {
		v.Faults = problem.Fields(l, "", revising.Dearer(line, change, &after, "price_changes"))
		v.Priced = false
	}
	return v
}
