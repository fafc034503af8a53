package shop

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"net/http"
	"regexp"
	"slices"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

var checkoutName = regexp.MustCompile(`^[0-9a-f]{32}$`)

func hash(secret string) string {
	sum := sha256.Sum256([]byte(secret))
	return hex.EncodeToString(sum[:])
}

// PutCheckout prepares an order from a basket and holds its places. Repeated
// under the same name it replaces what it prepared; once the order is placed it
// changes nothing and says so. A payment that waits for the customer's word is
// given up, since they went back to change something; while the service has not
// answered nothing is changed.
func (s *Shop) PutCheckout(ctx context.Context, name string, req api.CheckoutRequest, l words.Language) (api.Checkout, error) {
	var view api.Checkout
	if !checkoutName.MatchString(name) {
		return view, problem.NotFound(l, "no_checkout")
	}
	var leave []store.Attempt
	put := func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		o, err := tx.OrderByCheckout(hash(name))
		switch {
		case errors.Is(err, store.ErrNotFound):
			o, err = store.Order{State: order.Prepared}, nil
		case err == nil:
			leave, err = s.waitsFor(tx, o.ID)
		}
		if err != nil || len(leave) > 0 {
			return err
		}
		switch o.State.Refused(order.Change) {
		case "":
			if o, err = s.prepare(ctx, tx, b, o, hash(name), req, l); err != nil {
				return err
			}
		case order.WhilePaying:
			return problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
		}
		view = api.Checkout{State: o.State, Slip: o.Slip.In(l), HeldUntil: o.HeldUntil}
		return nil
	}
	err := s.Store.Write(ctx, put)
	for err == nil && len(leave) > 0 {
		for _, a := range leave {
			if s.Attempts.GiveUp(ctx, a) != nil {
				return view, problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
			}
		}
		err = s.Store.Write(ctx, put)
	}
	return view, err
}

// waitsFor lists the payments of a checkout that wait for the customer's word.
func (s *Shop) waitsFor(tx *store.Tx, id int64) ([]store.Attempt, error) {
	all, err := tx.Attempts(id)
	return slices.DeleteFunc(all, func(a store.Attempt) bool {
		return a.State != ledger.Confirm || a.Purpose != ledger.ToPlace
	}), err
}

// Checkout tells how far a checkout is and what became of its payment.
func (s *Shop) Checkout(ctx context.Context, name string, l words.Language) (api.Checkout, error) {
	var view api.Checkout
	var told error
	find := func(tx *store.Tx) (store.Order, error) { return s.checkout(tx, name, l) }
	// What the payment service says is shown by the transaction that records it.
	waits := func(tx *store.Tx) (*store.Attempt, error) {
		a, err := tx.AwaitedAt(hash(name))
		if errors.Is(err, store.ErrNotFound) {
			return nil, nil
		}
		return &a, err
	}
	asked, err := s.look(ctx, waits, func(tx *store.Tx, o *store.Order, a store.Attempt) {
		whole := *o
		if a.State.Waiting() {
			if whole, told = tx.OrderByID(o.ID); told != nil {
				return
			}
		}
		view, told = s.checkoutView(tx, &whole, l)
	})
	if err != nil || asked {
		return view, errors.Join(err, told)
	}
	err = s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := find(tx)
		if err == nil {
			view, err = s.checkoutView(tx, &o, l)
		}
		return err
	})
	return view, err
}

func (s *Shop) checkoutView(tx *store.Tx, o *store.Order, l words.Language) (api.Checkout, error) {
	view := api.Checkout{State: o.State, Slip: o.Slip.In(l), HeldUntil: o.HeldUntil}
	var p api.Payment
	var err error
	if o.State.Refused(order.LinkOnce) == "" {
		p, err = s.placed(tx, o, l)
	} else {
		attempts, aerr := tx.Attempts(o.ID)
		if aerr != nil || len(attempts) == 0 {
			return view, aerr
		}
		p, err = s.paid(tx, o, attempts[len(attempts)-1], l)
	}
	view.Payment = &p
	return view, err
}

func (s *Shop) prepare(ctx context.Context, tx *store.Tx, b store.Business, o store.Order, checkout string, req api.CheckoutRequest, l words.Language) (store.Order, error) {
	now := s.Now()
	name, email, faults := order.Person(req.Name, req.Email)
	var recipient *order.Recipient
	if req.Recipient != nil && b.Checkout.Shows(order.OfRecipient) {
		of, more := apiview.ReadRecipient(req.Recipient, today(b, now))
		recipient, faults = &of, append(faults, more...)
	}
	wrong := problem.Fields(l, "", faults)
	if len(req.Lines) == 0 {
		wrong = append(wrong, problem.Field(l, "lines", "empty_basket", nil))
	}
	agreed, err := s.agreed(tx, &o, &req, l)
	if err != nil {
		return o, err
	}
	wrong = append(wrong, agreed...)
	if len(req.Lines) > order.MostLines {
		return o, problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	}
	before, err := s.held(tx, &o)
	if err != nil {
		return o, err
	}
	fresh := false
	if len(wrong) == 0 { // a row is needed before its lines can hold places
		o.Checkout, o.Name, o.Email, o.Language = checkout, name, email, string(l)
		o.State, o.HeldUntil, o.Recipient = order.Prepared, nil, recipient
		group, err := groupOf(ctx, tx)
		if err != nil {
			return o, err
		}
		o.Group = group
		if o.ID == 0 {
			o.CreatedAt = now.UTC()
		}
		if fresh = o.ID == 0; fresh {
			err = tx.AddCheckout(&o)
		} else {
			err = s.clear(tx, &o)
		}
		if err != nil {
			return o, err
		}
	}
	if o.Basket, err = s.wholeOf(ctx, tx, req.Lines, l); err != nil {
		return o, err
	}
	o.Recipient, o.Buyer.Business = recipient, req.Buyer != nil && req.Buyer.Business
	about := docket.About(&o)
	wide := order.Wide{}
	lines := make([]charge.OrderLine, 0, len(req.Lines))
	rounding := b.Rounding
	evs := make([]*evaluated, len(req.Lines))
	for i, line := range req.Lines {
		ev, faults, err := s.prepareLine(ctx, tx, b, &o, i, line, &about, wide, len(wrong) == 0, l)
		if err != nil {
			return o, err
		}
		wrong = append(wrong, faults...)
		if evs[i] = ev; ev == nil {
			continue
		}
		wrong = append(wrong, problem.Fields(l, fmt.Sprintf("lines.%d.", i), addOnFaults(req.Lines, evs, i))...)
		wrong = append(wrong, problem.Fields(l, fmt.Sprintf("lines.%d.", i), otherCurrency(ev.edition, currency(ctx, &b)))...)
		rounding = ev.edition.Rounding
		lines = append(lines, ev.priced(line))
	}
	t, err := s.total(ctx, tx, b, &o, whole{req.Coupons, req.Tip, req.Buyer}, lines, rounding, l)
	if err != nil {
		return o, err
	}
	wrong = append(wrong, t.wrong...)
	if len(wrong) > 0 {
		return o, problem.Invalid(l, wrong) // undoes all of it
	}
	if fresh && !o.ByHand {
		if err := s.counted(tx, &b, evs); err != nil {
			return o, err
		}
	}
	if len(t.ids)+len(o.Vouchers) > 0 {
		until := now.Add(s.Hold).UTC()
		o.HeldUntil = &until
	}
	if len(t.ids) > 0 || !fresh {
		if err := tx.HoldCoupons(o.ID, o.Email, t.ids, now.Add(s.Hold)); err != nil {
			return o, err
		}
	}
	holds, err := placing.Holds(tx, &o, now.Add(s.Hold))
	if err != nil {
		return o, err
	}
	if err := tx.HoldVouchers(o.ID, holds); err != nil {
		return o, err
	}
	if err := s.keepHeld(ctx, tx, &o, before); err != nil {
		return o, err
	}
	return o, tx.SaveOrder(&o)
}

// clear takes away what a checkout was prepared with before.
func (s *Shop) clear(tx *store.Tx, o *store.Order) error {
	if err := tx.ReplaceLines(o.ID); err != nil {
		return err
	}
	return tx.UnbindUploads(o.ID)
}

func (s *Shop) prepareLine(ctx context.Context, tx *store.Tx, b store.Business, o *store.Order, i int, line api.BasketLine, about *condition.Whole, wide order.Wide, keep bool, l words.Language) (*evaluated, []api.FieldError, error) {
	prefix := fmt.Sprintf("lines.%d.", i)
	ev, err := s.evaluate(ctx, tx, b, line.Product, answering(line), about, l, o.ID)
	if unsold(err) {
		return nil, []api.FieldError{problem.Field(l, prefix+"product", "not_sold", nil)}, nil
	}
	if err != nil {
		return nil, nil, err
	}
	faults := apiview.Faults(ev.wrong, ev.edition, &ev.result, question.Paying)
	for k := range ev.result.Answers { // the desk's questions are not the customer's to answer
		if item, _ := ev.edition.Item(k); item.Moment == question.Desk {
			faults = append(faults, question.Fault{Key: k, Code: "unknown"})
		}
	}
	answers, err := question.Encode(ev.answers)
	if err != nil {
		return nil, nil, err
	}
	faults = append(faults, wide.Note(&ev.result, answers)...)
	if len(faults) > 0 || !keep {
		return ev, problem.Fields(l, prefix, faults), nil
	}
	row := store.OrderLine{
		OrderID: o.ID, Position: i + 1, Parent: deref(line.Parent), ProductID: ev.product.ID, EditionID: *ev.product.EditionID, Quantity: line.Quantity,
		Answers: answers, Later: keys(line.Later), Slip: ev.result.Slip, Version: 1,
		Brief: order.Waiting, Missing: ev.result.Brief(ev.edition), Promise: ev.promise, TurnAt: store.Time(ev.turn),
	}
	if err := tx.SaveLine(&row); err != nil {
		return ev, nil, err
	}
	if err := docket.BindFiles(tx, o.ID, ev.answers, l); err != nil {
		return ev, nil, err
	}
	short, err := placing.HoldStock(tx, &row, ev.edition, &ev.result, s.Now(), s.Now().Add(s.Hold))
	if err != nil || len(short) > 0 {
		return ev, problem.Fields(l, prefix, short), err
	}
	if ev.counted {
		until := s.Now().Add(s.Hold).UTC()
		o.HeldUntil = &until
	}
	return ev, nil, s.hold(ctx, tx, o, row, ev)
}

// hold keeps the place of a line's booking for the time of the checkout.
func (s *Shop) hold(ctx context.Context, tx *store.Tx, o *store.Order, row store.OrderLine, ev *evaluated) error {
	k, ok := ev.edition.BookingKey()
	if !ok {
		return nil
	}
	b, ok := ev.result.Answers[k].(question.Booking)
	if !ok {
		return nil
	}
	q, err := placing.Query(tx, row.ProductID, ev.edition, ev.facts.Zone, ev.facts.Now, 0)
	if err != nil {
		return err
	}
	waits, err := mine(ctx, tx, q, ev.facts.Now)
	if err != nil {
		return err
	}
	if err := takeTurns(tx, waits, row.ProductID, b.Start, ev.facts.Now); err != nil {
		return err
	}
	q.Wish = ev.result.Wish(ev.edition, ev.facts)
	places, fault := ev.edition.Booking.Take(b, *q, ev.facts.Language)
	if fault != nil {
		return problem.Invalid(ev.facts.Language, problem.Fields(ev.facts.Language, "", []question.Fault{*fault}))
	}
	until := s.Now().Add(s.Hold).UTC()
	o.HeldUntil = &until
	return placing.Book(tx, store.Booking{LineID: row.ID, ProductID: row.ProductID, People: b.People, HeldUntil: &until}, b.Of, ev.edition.Booking, places, q.Resources)
}
