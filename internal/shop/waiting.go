package shop

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/link"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

type turnsKey struct{}

// mostTurns bounds the turns that one browser shows.
const mostTurns = 5

// WithTurns tells the secrets of turns that a browser has: what is held for whoever
// waited is not in its way.
func WithTurns(ctx context.Context, secrets []string) context.Context {
	return context.WithValue(ctx, turnsKey{}, secrets[:min(len(secrets), mostTurns)])
}

// mine leaves out of a query what is held for whoever is asking.
func mine(ctx context.Context, tx *store.Tx, q *booking.Query, now time.Time) ([]store.Wait, error) {
	secrets, _ := ctx.Value(turnsKey{}).([]string)
	if q == nil || len(secrets) == 0 {
		return nil, nil
	}
	waits, err := placing.OfWaits(tx, secrets, now)
	var ids []int64
	for _, w := range waits {
		ids = append(ids, w.ID)
	}
	placing.Without(q, ids)
	return waits, err
}

// Wait has somebody wait for an opening or a stay that is booked up. What can be had
// now is no reason to wait.
func (s *Shop) Wait(ctx context.Context, slug string, w api.NewWait, l words.Language) (api.Waiting, error) {
	name, email, wrong := order.Person(w.Name, w.Email)
	if len(wrong) > 0 {
		return api.Waiting{}, problem.Invalid(l, problem.Fields(l, "", wrong))
	}
	if err := s.mayMail(ctx, email, l); err != nil {
		return api.Waiting{}, err
	}
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		p, e, err := s.onSale(ctx, tx, slug, l)
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		q, err := placing.Query(tx, p.ID, e, b.Location(), s.Now(), 0)
		if err != nil {
			return err
		}
		if q == nil {
			return problem.NotFound(l, "no_booking")
		}
		answers := map[string]json.RawMessage{}
		if w.Answers != nil {
			answers = *w.Answers
		}
		q.Wish = placing.WishOf(e, answers, b.Location(), s.Now(), l)
		wanted := question.Booking{Start: w.Start.UTC(), End: w.End.UTC(), People: w.People}
		if w.Meetings != nil {
			wanted.Of = deref(w.Of)
			for _, m := range *w.Meetings {
				wanted.Meetings = append(wanted.Meetings, question.Meeting{Start: m.Start.UTC(), End: m.End.UTC()})
			}
		}
		if w.With != nil {
			wanted.With = *w.With
		}
		if !w.End.After(w.Start) {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "end", "booking_order", nil)})
		}
		if e.Booking.Check(wanted, *q, l) == nil {
			return problem.Say(http.StatusConflict, l, "wait_free", nil)
		}
		q.Taken = nil // were nothing booked, it could be had
		if f := e.Booking.Check(wanted, *q, l); f != nil {
			f.Key = "start"
			return problem.Invalid(l, problem.Fields(l, "", []question.Fault{*f}))
		}
		there, err := tx.Waiting(p.ID, wanted.Start, email)
		if err != nil || there {
			return err
		}
		return tx.SaveWait(&store.Wait{
			ProductID: p.ID, StartAt: wanted.Start, EndAt: wanted.End, People: w.People, Meetings: wanted.Meetings, MeetingsOf: wanted.Of, Answers: answers, Chosen: wanted.With, Name: name, Email: email, Language: string(l), CreatedAt: s.Now().UTC(), Hash: link.Hash(link.Secret()),
		})
	})
	return api.Waiting{Hours: placing.TurnHours}, err
}

// Turn shows what is held for whoever has its secret.
func (s *Shop) Turn(ctx context.Context, secret string, l words.Language) (api.Turn, error) {
	var view api.Turn
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		w, err := s.turn(tx, secret, l)
		if err != nil {
			return err
		}
		view = api.Turn{Start: w.StartAt, End: w.EndAt, People: w.People, Until: *w.OfferedUntil}
		if len(w.Meetings) > 0 {
			view.Meetings, view.Of = new(apiview.Meetings(w.Meetings)), &w.MeetingsOf
		}
		return nil
	})
	return view, err
}

func (s *Shop) turn(tx *store.Tx, secret string, l words.Language) (store.Wait, error) {
	w, err := tx.WaitByHash(link.Hash(secret))
	if errors.Is(err, store.ErrNotFound) {
		return w, problem.NotFound(l, "no_turn")
	}
	if err == nil && (w.DoneAt != nil || w.OfferedUntil == nil || !w.OfferedUntil.After(s.Now())) {
		err = problem.Say(http.StatusGone, l, "turn_over", nil)
	}
	return w, err
}

// LeaveTurn gives what is held to the next one who waits.
func (s *Shop) LeaveTurn(ctx context.Context, secret string, l words.Language) error {
	return s.Store.Write(ctx, func(tx *store.Tx) error {
		w, err := s.turn(tx, secret, l)
		if err != nil {
			return err
		}
		w.DoneAt, w.Outcome = store.Time(s.Now()), store.WaitLeft
		return tx.SaveWait(&w)
	})
}

// takeTurns ends the waits whose offers a held booking takes.
func takeTurns(tx *store.Tx, waits []store.Wait, product int64, start time.Time, now time.Time) error {
	for i := range waits {
		w := &waits[i]
		if w.ProductID != product || !w.StartAt.Equal(start) {
			continue
		}
		w.DoneAt, w.Outcome = store.Time(now), store.WaitTaken
		if err := tx.SaveWait(w); err != nil {
			return err
		}
	}
	return nil
}
