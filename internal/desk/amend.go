package desk

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"strings"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/brief"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/problem"
	"ruvo/internal/revising"
	"ruvo/internal/store"
)

// Fill answers questions of an order line: those that only the desk fills, and any other
// for the customer, in the history under who did it. What changes the price is done once
// the order's new total is agreed to.
func (d *Desk) Fill(ctx context.Context, id int64, change api.AnswerChange, author string, l words.Language) (api.Docket, error) {
	var view api.Docket
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		line, err := d.filling(tx, id, change, change.Agreed, author, l)
		if errors.Is(err, revising.ErrPriced) {
			err = problem.Say(http.StatusConflict, l, "price_differs", nil)
		}
		if err != nil {
			return err
		}
		view, err = d.docket(tx, line, l)
		return err
	})
	return view, err
}

func (d *Desk) filling(tx *store.Tx, id int64, change api.AnswerChange, agreed *int, author string, l words.Language) (*docket.Line, error) {
	line, err := d.open(tx, id, l)
	if err != nil {
		return nil, err
	}
	if code := line.State().Refused(order.Fill); code != "" {
		return nil, problem.Say(http.StatusConflict, l, code, nil)
	}
	if line.Row.Version != change.Version {
		return nil, problem.Say(http.StatusConflict, l, "conflict", nil)
	}
	return line, d.revise(tx, line, change.Answers, agreed, author, l)
}

func (d *Desk) revise(tx *store.Tx, line *docket.Line, answers map[string]json.RawMessage, agreed *int, author string, l words.Language) error {
	r := revising.Revising{Editions: d.Editions, Now: d.Now}
	return r.Make(tx, line, revising.Change{Answers: answers, Author: author, Language: l, Seller: true, Agreed: agreed})
}

// PreviewFill says what an order would cost with other answers, and changes nothing.
func (d *Desk) PreviewFill(ctx context.Context, id int64, change api.AnswerChange, l words.Language) (api.PriceChange, error) {
	return d.preview(ctx, func(tx *store.Tx) (*docket.Line, error) { return d.open(tx, id, l) }, func(tx *store.Tx, _ *docket.Line) (*docket.Line, error) {
		return d.filling(tx, id, change, revising.Any, "", l)
	}, l)
}

// PreviewAmendment says what an order would cost with a change that its customer asks
// for, and changes nothing.
func (d *Desk) PreviewAmendment(ctx context.Context, id int64, l words.Language) (api.PriceChange, error) {
	var a store.Amendment
	return d.preview(ctx, func(tx *store.Tx) (_ *docket.Line, err error) {
		if a, err = tx.Amendment(id); err != nil {
			return nil, problem.Missing(err, l, "not_found")
		}
		return d.open(tx, a.LineID, l)
	}, func(tx *store.Tx, line *docket.Line) (*docket.Line, error) {
		return line, d.revise(tx, line, map[string]json.RawMessage{string(a.Key): a.Value}, revising.Any, "", l)
	}, l)
}

// preview tries a change of answers, and says what becomes of the price.
func (d *Desk) preview(ctx context.Context, open func(*store.Tx) (*docket.Line, error), change func(*store.Tx, *docket.Line) (*docket.Line, error), l words.Language) (api.PriceChange, error) {
	var view api.PriceChange
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		line, err := open(tx)
		if err != nil {
			return err
		}
		before := line.Order.Slip
		if line, err = change(tx, line); err != nil {
			return err
		}
		account, err := tx.Account(line.Order.ID)
		if err != nil {
			return err
		}
		view = apiview.PriceChange(&before, &line.Order, account, l)
		return errTried
	})
	if errors.Is(err, errTried) {
		err = nil
	}
	return view, err
}

// AnswerAmendment takes over a change that a customer asked for, or refuses it. They are
// told by mail.
func (d *Desk) AnswerAmendment(ctx context.Context, id int64, answer api.AmendmentAnswer, l words.Language) (api.Docket, error) {
	var view api.Docket
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		a, err := tx.Amendment(id)
		if err != nil {
			return problem.Missing(err, l, "not_found")
		}
		if a.State != brief.Waiting {
			return problem.Say(http.StatusConflict, l, "amend_answered", nil)
		}
		line, err := d.open(tx, a.LineID, l)
		if err != nil {
			return err
		}
		a.Reply = strings.TrimSpace(apiview.Given(answer.Reply))
		if len([]rune(a.Reply)) > 2000 {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "reply", "too_long", nil)})
		}
		a.State, a.AnsweredAt, a.AnsweredBy = brief.Refused, store.Time(d.Now()), Author(ctx)
		if answer.Take {
			a.State = brief.Taken
			err := d.revise(tx, line, map[string]json.RawMessage{string(a.Key): a.Value}, answer.Agreed, Author(ctx), l)
			if errors.Is(err, revising.ErrPriced) {
				err = problem.Say(http.StatusConflict, l, "price_differs", nil)
			}
			if err != nil {
				return err
			}
		}
		if err := tx.SaveAmendment(&a); err != nil {
			return err
		}
		if err := message.WriteAmendment(tx, line, &a, d.Now()); err != nil {
			return err
		}
		view, err = d.docket(tx, line, l)
		return err
	})
	return view, err
}

// closeBriefs closes the briefs whose day has come, each in a transaction of its own. One
// in which something is still to answer stays open.
func (d *Desk) closeBriefs(ctx context.Context) error {
	var due []store.OrderLine
	if err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		due, err = tx.ClosingLines(d.Now())
		return err
	}); err != nil {
		return err
	}
	var all error
	for _, row := range due {
		all = errors.Join(all, d.Store.Write(ctx, func(tx *store.Tx) error {
			line, err := docket.OpenByID(tx, d.Editions, row.ID, d.Now())
			if err != nil {
				return err
			}
			if at := line.Row.ClosesAt; at == nil || at.After(d.Now()) || line.Row.Brief == order.Waiting || line.Row.ClosedAt != nil {
				return nil
			}
			line.Row.ClosedAt = line.Row.ClosesAt
			return line.Keep(tx, d.Now())
		}))
	}
	return all
}
