package shop

import (
	"context"
	"encoding/json"
	"net/http"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/brief"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

const longestWhy = 2000 // letters

// AskAmendment asks the seller for a change of an answer that the customer can no longer
// make. Asking again for the same answer replaces what was asked for before.
func (s *Shop) AskAmendment(ctx context.Context, secret string, id int64, ask api.AmendmentAsk, l words.Language) (api.OrderPage, error) {
	var page api.OrderPage
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, _, err := s.letIn(tx, secret, l)
		if err != nil {
			return err
		}
		line, err := s.lineOf(tx, &o, id, l)
		if err != nil {
			return err
		}
		if code := line.State().Refused(order.Answer); code != "" {
			return problem.Say(http.StatusConflict, l, code, nil)
		}
		a, wrong := s.amendment(tx, line, ask, l)
		if len(wrong) > 0 {
			return problem.Invalid(l, wrong)
		}
		before, err := tx.Amendments(line.Row.ID)
		if err != nil {
			return err
		}
		for i := range before {
			if before[i].Key == a.Key && before[i].State == brief.Waiting {
				a.ID = before[i].ID
			}
		}
		given, _ := question.Decode(map[string]json.RawMessage{ask.Key: ask.Value}, line.Edition.Spec)
		if err := docket.BindKnown(tx, o.ID, given, l); err != nil {
			return err
		}
		if err := tx.SaveAmendment(&a); err != nil {
			return err
		}
		page, err = s.page(tx, o, l)
		return err
	})
	return page, err
}

// amendment reads what is asked for, or says what is wrong with it.
func (s *Shop) amendment(tx *store.Tx, line *docket.Line, ask api.AmendmentAsk, l words.Language) (store.Amendment, []api.FieldError) {
	k := question.Key(ask.Key)
	a := store.Amendment{LineID: line.Row.ID, Key: k, Value: ask.Value, Why: strings.TrimSpace(apiview.Given(ask.Why)), State: brief.Waiting, At: s.Now().UTC()}
	wrong := func(code string) (store.Amendment, []api.FieldError) {
		return a, []api.FieldError{problem.Field(l, ask.Key, code, nil)}
	}
	item, ok := line.Edition.Item(k)
	switch {
	case !ok || item.Moment == question.Desk || !item.Asked():
		return wrong("unknown")
	case item.Spec.Class() == question.ClassBooking:
		return wrong("booked")
	case !line.Locked(k):
		return wrong("amend_open")
	case len(ask.Value) > brief.MostHalf:
		return wrong("too_long")
	case len([]rune(a.Why)) > longestWhy:
		return a, []api.FieldError{problem.Field(l, "why", "too_long", nil)}
	case brief.Same(line.Row.Answers[ask.Key], ask.Value):
		return wrong("amend_same")
	}
	after, faults := line.Tried(map[string]json.RawMessage{ask.Key: ask.Value}, evaluate.Against(docket.Files(tx, line.Order.ID), nil, nil), s.Now())
	for _, f := range slices.Concat(faults, after.Faults) {
		if f.Key == k {
			return a, problem.Fields(l, "", []question.Fault{f})
		}
	}
	a.Old, a.New = line.Result.Words(line.Edition, k, line.Given), after.Words(line.Edition, k, line.Given)
	return a, nil
}

// WithdrawAmendment takes back what a customer asked for, while nobody answered it.
func (s *Shop) WithdrawAmendment(ctx context.Context, secret string, id int64, l words.Language) (api.OrderPage, error) {
	var page api.OrderPage
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, _, err := s.letIn(tx, secret, l)
		if err != nil {
			return err
		}
		a, err := tx.Amendment(id)
		if err == nil {
			_, err = s.lineOf(tx, &o, a.LineID, l)
		}
		if err != nil {
			return problem.Missing(err, l, "not_found")
		}
		if a.State != brief.Waiting {
			return problem.Say(http.StatusConflict, l, "amend_answered", nil)
		}
		a.State, a.AnsweredAt = brief.Withdrawn, store.Time(s.Now())
		if err := tx.SaveAmendment(&a); err != nil {
			return err
		}
		page, err = s.page(tx, o, l)
		return err
	})
	return page, err
}
