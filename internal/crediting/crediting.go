// Package crediting takes charges of placed orders back: what is given back of
// an order's price, and what cancelling it comes to. Shop and desk decide what is
// wanted; what becomes of the money that was paid is the ledger's.
package crediting

import (
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// An Order is a placed order with what was credited of it.
type Order struct {
	*charge.Credited
	Row      *store.Order
	Lines    []*docket.Line
	Business store.Business
	Before   []store.Credit
	now      time.Time
}

// Open opens an order to credit something of it.
func Open(tx *store.Tx, editions *docket.Editions, o *store.Order, now time.Time) (*Order, error) {
	c := &Order{Row: o, now: now}
	var err error
	if c.Business, err = tx.Business(); err != nil {
		return nil, err
	}
	rows, err := tx.Lines(o.ID)
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		line, err := docket.Open(tx, editions, c.Business, *o, row, now)
		if err != nil {
			return nil, err
		}
		c.Lines = append(c.Lines, line)
	}
	if c.Before, err = tx.Credits(o.ID); err != nil {
		return nil, err
	}
	whole, err := docket.Whole(tx, editions, o)
	if err != nil {
		return nil, err
	}
	before := make([]charge.Credit, len(c.Before))
	for i := range c.Before {
		before[i] = c.Before[i].Credit
	}
	c.Credited = whole.Credited(before)
	return c, nil
}

// With adds to lines the add-ons that belong to them, and leaves out those that
// are cancelled already and those that are not of the order.
func (c *Order) With(ids []int64) []int64 {
	var all []int64
	for _, l := range c.Lines {
		wanted := slices.Contains(ids, l.Row.ID)
		if l.Row.Parent > 0 && l.Row.Parent <= len(c.Lines) {
			wanted = wanted || slices.Contains(ids, c.Lines[l.Row.Parent-1].Row.ID)
		}
		if wanted && l.Row.CancelledAt == nil {
			all = append(all, l.Row.ID)
		}
	}
	return all
}

// Alive lists the lines that are not cancelled.
func (c *Order) Alive() []int64 {
	var all []int64
	for _, l := range c.Lines {
		if l.Row.CancelledAt == nil {
			all = append(all, l.Row.ID)
		}
	}
	return all
}

// Those gives lines by their ids.
func (c *Order) Those(ids []int64) []*docket.Line {
	var list []*docket.Line
	for _, l := range c.Lines {
		if slices.Contains(ids, l.Row.ID) {
			list = append(list, l)
		}
	}
	return list
}

// A Choice is what the seller chose to take off, instead of what the rules say.
type Choice func(of int, left money.Amount) *money.Amount

// Cancelling says what cancelling lines comes to; with a choice, by it.
func (c *Order) Cancelling(ids []int64, choice Choice) []charge.Cancelled {
	undone := func(of int, rules *charge.Cancelling, at charge.Undoing) order.Undone {
		u := order.Undone{Of: of, Rules: rules, At: at}
		if choice != nil {
			u.Off = choice(of, c.Left(of))
		}
		return u
	}
	var lines []order.Undone
	whole := charge.Undoing{Now: c.now, Placed: store.When(c.Row.PlacedAt), Zone: c.Business.Location()}
	for i, l := range c.Lines {
		at := c.undoing(l)
		whole.Begun, whole.Booked = earliest(whole.Begun, at.Begun), earliest(whole.Booked, at.Booked)
		if slices.Contains(ids, l.Row.ID) {
			lines = append(lines, undone(i+1, Rules(c.Row.Terms, l), at))
		}
	}
	if len(lines) < len(c.Alive()) {
		return order.CancelLines(c.Credited, lines, nil)
	}
	rest := undone(0, c.Row.Terms.Cancelling, whole)
	return order.CancelLines(c.Credited, lines, &rest)
}

// Rules gives the rules that hold for a line: its product's, or those that the
// business had when it was ordered.
func Rules(terms charge.Terms, l *docket.Line) *charge.Cancelling {
	if own := l.Edition.Cancelling; own != nil {
		return own
	}
	return terms.Cancelling
}

func (c *Order) undoing(l *docket.Line) charge.Undoing {
	u := charge.Undoing{Now: c.now, Placed: store.When(c.Row.PlacedAt), Zone: c.Business.Location()}
	for _, i := range l.Items {
		u.Begun = earliest(u.Begun, earliest(store.When(i.StartedAt), store.When(i.DoneAt)))
	}
	if b, ok := l.Booked(); ok {
		u.Booked = b.Start
	} else if day := l.Result.Measured.First; day != (calendar.Day{}) {
		u.Booked = day.At(0, u.Zone)
	}
	return u
}

// earliest gives the earlier of two instants, of which either may be missing.
func earliest(a, b time.Time) time.Time {
	if a.IsZero() || !b.IsZero() && b.Before(a) {
		return b
	}
	return a
}

// Keep keeps a credit: in the ledger, in the figures and with its parts.
func (c *Order) Keep(tx *store.Tx, credit charge.Credit, kind string, lines []charge.Cancelled, author, note string) error {
	if lines == nil {
		lines = []charge.Cancelled{}
	}
	zone := c.Business.Location()
	over := c.Row.State == order.Cancelled
	if err := tx.AddEntries(c.Row, ledger.Uncharging(credit.Total, kind, author, note, c.now), zone); err != nil {
		return err
	}
	if err := tx.AddFigures(c.Row, ledger.Less(&c.Row.Slip, credit, over), c.now, zone); err != nil {
		return err
	}
	return tx.AddCredit(&store.Credit{
		OrderID: c.Row.ID, At: c.now.UTC(), Kind: kind, Author: author, Note: note, Total: credit.Total, Credit: credit, Lines: lines,
	})
}

// Movable says whether a customer may move what a line books by themselves: it has
// not begun, and cancelling it now would give back all of it. So moving never
// dodges what cancelling would cost. Common practice; no source.
func (c *Order) Movable(id int64) bool {
	for i, l := range c.Lines {
		b, booked := l.Booked()
		if l.Row.ID != id || !booked || l.Row.CancelledAt != nil || !b.Start.After(c.now) {
			continue
		}
		list := c.Cancelling([]int64{id}, nil)
		if !order.SelfCancel(list) {
			return false
		}
		for _, x := range list {
			if x.Of == i+1 && x.Off < x.Left {
				return false
			}
		}
		return true
	}
	return false
}
