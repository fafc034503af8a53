// Package revising changes answers of placed orders: what customers may change, what the
// seller may, what it does to bookings, stock and price. Shop and desk decide who asks.
package revising

import (
	"encoding/json"
	"errors"
	"maps"
	"net/http"
	"slices"
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/crediting"
	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// ErrPriced says that a change changes the price and that nobody agreed to it.
var ErrPriced = errors.New("a change of the price was not agreed to")

// Any agrees to whatever the price becomes.
var Any = new(int)

// Revising changes answers.
type Revising struct {
	Editions *docket.Editions
	Now      func() time.Time
}

// A Change is of answers of an order line.
type Change struct {
	Answers  map[string]json.RawMessage // null clears one
	Author   string
	Language words.Language
	Mailed   bool // by a link that was mailed to whoever ordered
	Typed    bool // saved while it was typed
	// Seller says that the seller makes it, who may also change what is closed to the
	// customer.
	Seller bool
	// Agreed is the order's total that was agreed to; nil where nothing was.
	Agreed *int
}

// Make changes answers of a line, and of the order's other lines where they belong to
// all of it; each change is kept in the history, the work is planned again, and what
// becomes of the price is charged. It gives ErrPriced where that was not agreed to.
func (r Revising) Make(tx *store.Tx, line *docket.Line, c Change) error {
	before := line.Order.Slip
	if err := r.line(tx, line, c); err != nil {
		return err
	}
	if err := r.wide(tx, line, c); err != nil {
		return err
	}
	switch {
	case line.Order.Slip.Total == before.Total:
		return nil
	case c.Agreed == nil:
		return ErrPriced
	case c.Agreed != Any && money.Amount(*c.Agreed) != line.Order.Slip.Total:
		return problem.Say(http.StatusConflict, c.Language, "price_agreed", nil)
	}
	author := ""
	if c.Seller {
		author = c.Author
	}
	return docket.Repriced(tx, &line.Order, before, author, r.Now())
}

// line revises a line as whoever asks may: customers not when the brief is closed, nor a
// booked time that they may not move, nothing of the desk's, and nothing that changes
// what was paid where the product does not let them.
func (r Revising) line(tx *store.Tx, line *docket.Line, c Change) error {
	settled, err := r.Settled(tx, line)
	if err != nil {
		return err
	}
	movable, err := r.Movable(tx, line)
	if err != nil {
		return err
	}
	before := line.Result
	was, _ := line.Booked()
	err = line.Revise(tx, docket.Revision{
		Answers: c.Answers, Author: c.Author, Proven: c.Mailed, Typed: c.Typed, Language: c.Language, Editions: r.Editions, Files: docket.Files(tx, line.Order.ID),
		Refused: func(item *product.Item) string { return c.refused(line, item, movable) },
		Judged: func(after *evaluate.Result) []question.Fault {
			switch {
			case after.Slip.Total == line.Row.Slip.Total && after.Slip.Held == line.Row.Slip.Held:
				return nil
			case !c.Seller && !line.Edition.Reprices && !moves(line, c.Answers) || after.Slip.Held != line.Row.Slip.Held:
				return Dearer(line, c.Answers, after, "price_changes")
			case settled:
				return Dearer(line, c.Answers, after, "price_settled")
			}
			return nil
		},
	}, r.Now())
	if err != nil {
		return err
	}
	moved, err := placing.Moved(tx, line, was, r.Now())
	if err != nil {
		return err
	}
	if moved {
		if err := message.WriteMoved(tx, line, was, "", r.Now()); err != nil {
			return err
		}
	}
	short, err := placing.Adjust(tx, &line.Row, line.Edition, &before, &line.Result, line.Order.Name, r.Now())
	if err == nil && len(short) > 0 {
		err = problem.Invalid(c.Language, problem.Fields(c.Language, "", short))
	}
	return err
}

// refused gives the code of what stands against changing an answer.
func (c *Change) refused(line *docket.Line, item *product.Item, movable bool) string {
	switch {
	case item == nil || item.Moment == question.Desk && !c.Seller:
		return "unknown"
	case !c.Seller && (line.State().Refused(order.Answer) != "" || line.Locked(item.Key)):
		return "closed"
	case item.Spec.Class() == question.ClassBooking && (c.Seller || !movable): // the desk moves it in its calendar
		return "booked"
	}
	return ""
}

// wide gives the other lines of the order the answers that belong to all of it.
func (r Revising) wide(tx *store.Tx, line *docket.Line, c Change) error {
	rows, err := tx.Lines(line.Order.ID)
	if err != nil {
		return err
	}
	for _, row := range rows {
		if row.ID == line.Row.ID {
			continue
		}
		other, err := docket.Open(tx, r.Editions, line.Business, line.Order, row, r.Now())
		if err != nil {
			return err
		}
		shared := c
		shared.Answers = order.Shared(line.Edition, other.Edition, c.Answers)
		if len(shared.Answers) == 0 {
			continue
		}
		if err := r.line(tx, other, shared); err != nil {
			return err
		}
		line.Order = other.Order
	}
	return nil
}

// Movable says whether the customer may move what a line books.
func (r Revising) Movable(tx *store.Tx, line *docket.Line) (bool, error) {
	if _, booked := line.Booked(); !booked || line.State().Refused(order.Cancel) != "" {
		return false, nil
	}
	c, err := crediting.Open(tx, r.Editions, &line.Order, r.Now())
	if err != nil {
		return false, err
	}
	return c.Movable(line.Row.ID), nil
}

// moves says whether a change is of what a line books, and of nothing else.
func moves(line *docket.Line, change map[string]json.RawMessage) bool {
	k, ok := line.Edition.BookingKey()
	_, of := change[string(k)]
	return ok && of && len(change) == 1
}

// Settled says that the price of an order cannot change any more: something of
// it was credited, or a payment of it is under way.
func (r Revising) Settled(tx *store.Tx, line *docket.Line) (bool, error) {
	credits, err := tx.Credits(line.Order.ID)
	if err != nil || len(credits) > 0 {
		return true, err
	}
	account, err := tx.Account(line.Order.ID)
	return err == nil && account.Coming() != nil, err
}

// Priced gives which changed answers change the line's price; all of them where only
// together they do.
func (r Revising) Priced(line *docket.Line, change map[string]json.RawMessage) (keys []string) {
	dearer := func(change map[string]json.RawMessage) bool {
		after, _ := line.Tried(change, evaluate.Held, r.Now())
		return after.Slip.Total != line.Row.Slip.Total
	}
	if len(change) == 0 || !dearer(change) {
		return nil
	}
	for k, v := range change {
		if dearer(map[string]json.RawMessage{k: v}) {
			keys = append(keys, k)
		}
	}
	if len(keys) == 0 {
		return slices.Collect(maps.Keys(change))
	}
	return keys
}

// Dearer says of a change that it would change what was paid, at the keys
// that have a price, or at all of them when the change works from afar.
func Dearer(line *docket.Line, change map[string]json.RawMessage, after *evaluate.Result, code string) []question.Fault {
	l := line.Given.Language
	params := words.Params{"old": l.Money(line.Row.Slip.Total, line.Edition.Currency), "new": l.Money(after.Slip.Total, line.Edition.Currency)}
	var priced, all []question.Fault
	for k := range change {
		f := question.Fault{Key: question.Key(k), Code: code, Params: params}
		all = append(all, f)
		if slices.ContainsFunc(line.Edition.Pricing.Charges, func(r charge.Compiled) bool { return r.On == f.Key }) {
			priced = append(priced, f)
		}
	}
	if len(priced) > 0 {
		return priced
	}
	return all
}
