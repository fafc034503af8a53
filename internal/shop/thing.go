package shop

import (
	"context"
	"encoding/json"
	"net/http"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/brief"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// AnswerThing answers what the seller asked of this order beside the questions of its
// product; null takes the answer back. What stood there before is kept in words.
func (s *Shop) AnswerThing(ctx context.Context, secret string, id int64, value json.RawMessage, l words.Language) (api.OrderPage, error) {
	var page api.OrderPage
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, secret, l)
		if err != nil {
			return err
		}
		t, err := tx.ThingByID(id)
		if err != nil {
			return problem.Missing(err, l, "no_thing")
		}
		line, err := s.lineOf(tx, &o, t.LineID, l)
		if err != nil {
			return problem.NotFound(l, "no_thing") // it is of another order
		}
		if line.State().Refused(order.Answer) != "" {
			return problem.Say(http.StatusConflict, l, "brief_closed", nil)
		}
		if len(value) > brief.MostHalf {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, string(t.Question.Key), "too_long", nil)})
		}
		spec, err := question.Compile(t.Question)
		if err != nil {
			return err
		}
		before, err := apiview.ThingWords(spec, t.Value, line, l)
		if err != nil {
			return err
		}
		t.Value, t.AnsweredAt = nil, nil
		if string(value) != "null" && len(value) > 0 {
			v, wrong := spec.Decode(value)
			faults := []question.Fault{}
			if wrong != nil {
				faults = append(faults, *wrong)
			} else if v.Answered() {
				env := line.Env(l)
				env.Files = docket.Files(tx, o.ID)
				faults = spec.Check(v, env)
			}
			if len(faults) > 0 {
				for i := range faults {
					faults[i].Key = t.Question.Key
				}
				return problem.Invalid(l, problem.Fields(l, "", faults))
			}
			if v.Answered() {
				if t.Value, err = json.Marshal(v); err != nil {
					return err
				}
				if err := docket.BindFiles(tx, o.ID, question.Answers{t.Question.Key: v}, l); err != nil {
					return err
				}
				t.AnsweredAt = store.Time(s.Now())
			}
		}
		if after, err := apiview.ThingWords(spec, t.Value, line, l); err != nil {
			return err
		} else if before != "" && before != after {
			t.Was = before
		}
		if err := tx.SaveThing(&t); err != nil {
			return err
		}
		page, err = s.page(tx, o, l)
		return err
	})
	return page, err
}
