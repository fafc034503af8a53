package shop

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"time"
	"unicode/utf8"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

var checkoutName = regexp.MustCompile(`^[0-9a-f]{32}$`)

func hash(secret string) string {
	sum := sha256.Sum256([]byte(secret))
	return hex.EncodeToString(sum[:])
}

// mostLines bounds the lines of one order.
const mostLines = 50

// PutCheckout prepares an order from a basket and holds its places. Repeated
// under the same name it replaces what it prepared; once the order is paid it
// changes nothing and says so.
func (s *Shop) PutCheckout(ctx context.Context, name string, req api.CheckoutRequest, l words.Language) (api.Checkout, error) {
	var view api.Checkout
	if !checkoutName.MatchString(name) {
		return view, problem.NotFound(l, "no_checkout")
	}
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		o, err := tx.OrderByCheckout(hash(name))
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		if o.ID == 0 || o.State == store.OrderOpen {
			if o, err = s.prepare(ctx, tx, b, o, hash(name), req, l); err != nil {
				return err
			}
		}
		view = api.Checkout{State: api.CheckoutState(o.State), Slip: o.Slip, HeldUntil: o.HeldUntil}
		return nil
	})
	return view, err
}

func (s *Shop) prepare(ctx context.Context, tx *store.Tx, b store.Business, o store.Order, checkout string, req api.CheckoutRequest, l words.Language) (store.Order, error) {
	now := s.Now()
	wrong := person(req, l)
	if len(req.Lines) == 0 {
		wrong = append(wrong, problem.Field(l, "lines", "empty_basket", nil))
	}
	if len(req.Lines) > mostLines {
		return o, problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	}
	if len(wrong) == 0 { // a row is needed before its lines can hold places
		o.Checkout, o.Name, o.Email, o.Language = checkout, strings.TrimSpace(req.Name), question.MailAddress(req.Email), string(l)
		o.State, o.HeldUntil = store.OrderOpen, nil
		group, err := groupOf(ctx, tx)
		if err != nil {
			return o, err
		}
		o.Group = group
		if o.ID == 0 {
			o.CreatedAt = now.UTC()
		}
		if err := tx.SaveOrder(&o); err != nil {
			return o, err
		}
		if err := tx.ReplaceLines(o.ID); err != nil {
			return o, err
		}
		if err := tx.UnbindUploads(o.ID); err != nil {
			return o, err
		}
	}
	wide := map[question.Key]json.RawMessage{}
	lines := make([]charge.OrderLine, 0, len(req.Lines))
	rounding := b.Rounding
	evs := make([]*evaluated, len(req.Lines))
	for i, line := range req.Lines {
		ev, faults, err := s.prepareLine(ctx, tx, b, &o, i, line, wide, len(wrong) == 0, l)
		if err != nil {
			return o, err
		}
		wrong = append(wrong, faults...)
		if evs[i] = ev; ev == nil {
			continue
		}
		wrong = append(wrong, problem.Fields(l, fmt.Sprintf("lines.%d.", i), parents(req.Lines, evs, i))...)
		if len(lines) > 0 && ev.edition.Currency != lines[0].Slip.Currency {
			wrong = append(wrong, problem.Field(l, fmt.Sprintf("lines.%d.product", i), "currency", words.Params{"currency": string(lines[0].Slip.Currency)}))
		}
		rounding = ev.edition.Rounding
		lines = append(lines, ev.priced(line))
	}
	t, err := s.total(tx, b, &o, whole{req.Coupons, req.Tip, req.Buyer}, lines, rounding, l)
	if err != nil {
		return o, err
	}
	wrong = append(wrong, t.wrong...)
	if len(wrong) > 0 {
		return o, problem.Invalid(l, wrong) // undoes all of it
	}
	if len(t.ids) > 0 {
		until := now.Add(s.Hold).UTC()
		o.HeldUntil = &until
	}
	if err := tx.HoldCoupons(o.ID, o.Email, t.ids, now.Add(s.Hold)); err != nil {
		return o, err
	}
	return o, tx.SaveOrder(&o)
}

func (s *Shop) prepareLine(ctx context.Context, tx *store.Tx, b store.Business, o *store.Order, i int, line api.BasketLine, wide map[question.Key]json.RawMessage, keep bool, l words.Language) (*evaluated, []api.FieldError, error) {
	prefix := fmt.Sprintf("lines.%d.", i)
	ev, err := s.evaluate(ctx, tx, b, line.Product, answering(line), l, o.ID)
	if unsold(err) {
		return nil, []api.FieldError{problem.Field(l, prefix+"product", "not_sold", nil)}, nil
	}
	if err != nil {
		return nil, nil, err
	}
	faults := docket.Faults(ev.wrong, ev.edition, &ev.result, question.Paying)
	for k := range ev.result.Answers { // the desk's questions are not the customer's to answer
		if item, _ := ev.edition.Item(k); item.Moment == question.Desk {
			faults = append(faults, question.Fault{Key: k, Code: "unknown"})
		}
	}
	answers, err := question.Encode(ev.answers)
	if err != nil {
		return nil, nil, err
	}
	faults = append(faults, orderWide(ev, answers, wide)...)
	if len(faults) > 0 || !keep {
		return ev, problem.Fields(l, prefix, faults), nil
	}
	row := store.OrderLine{
		OrderID: o.ID, Position: i + 1, Parent: deref(line.Parent), ProductID: ev.product.ID, EditionID: *ev.product.EditionID, Quantity: line.Quantity,
		Answers: answers, Later: keys(line.Later), Slip: ev.result.Slip, Version: 1,
		Brief: store.BriefWaiting, Missing: ev.result.Brief(ev.edition),
	}
	if err := tx.SaveLine(&row); err != nil {
		return ev, nil, err
	}
	if err := tx.BindUploads(o.ID, docket.FileIDs(ev.answers)); err != nil {
		return ev, nil, err
	}
	short, err := docket.HoldStock(tx, &row, &ev.result, s.Now(), s.Now().Add(s.Hold))
	if err != nil || len(short) > 0 {
		return ev, problem.Fields(l, prefix, short), err
	}
	if ev.facts.Stock != nil {
		until := s.Now().Add(s.Hold).UTC()
		o.HeldUntil = &until
	}
	return ev, nil, s.hold(tx, o, row, ev)
}

// orderWide wants the answers that belong to the whole order to be the same
// on all of its lines, and notes those of this line.
func orderWide(ev *evaluated, answers map[string]json.RawMessage, wide map[question.Key]json.RawMessage) []question.Fault {
	var wrong []question.Fault
	for _, a := range ev.result.Asked {
		k := a.Item.Key
		if a.Item.Scope != question.OfOrder || !a.Answered {
			continue
		}
		if other, ok := wide[k]; ok && !bytes.Equal(other, answers[string(k)]) {
			wrong = append(wrong, question.Fault{Key: k, Code: "order_wide"})
		}
		wide[k] = answers[string(k)]
	}
	return wrong
}

// hold keeps the place of a line's booking for the time of the checkout.
func (s *Shop) hold(tx *store.Tx, o *store.Order, row store.OrderLine, ev *evaluated) error {
	k, ok := ev.edition.BookingKey()
	if !ok {
		return nil
	}
	b, ok := ev.result.Answers[k].(question.Booking)
	if !ok {
		return nil
	}
	until := s.Now().Add(s.Hold).UTC()
	o.HeldUntil = &until
	return tx.SaveBooking(&store.Booking{
		LineID: row.ID, ProductID: row.ProductID, StartAt: b.Start.UTC(),
		EndAt: b.Start.Add(time.Duration(ev.edition.Booking.Length) * time.Minute).UTC(), People: b.People, HeldUntil: &until,
	})
}

// person checks the two things that are always asked.
func person(req api.CheckoutRequest, l words.Language) []api.FieldError {
	var wrong []api.FieldError
	name := strings.TrimSpace(req.Name)
	if name == "" || question.Characters(name) > 120 || len(name) > 2000 || !utf8.ValidString(name) || strings.ContainsAny(name, "\r\n\x00") {
		wrong = append(wrong, problem.Field(l, "name", "name", nil))
	}
	if question.MailAddress(req.Email) == "" {
		wrong = append(wrong, problem.Field(l, "email", "email", nil))
	}
	return wrong
}

// regain makes sure that an order's places are its own for long enough to
// pay, taking them anew when their time had run out.
func (s *Shop) regain(tx *store.Tx, o *store.Order, l words.Language) error {
	b, err := tx.Business()
	if err != nil {
		return err
	}
	lines, err := tx.Lines(o.ID)
	if err != nil {
		return err
	}
	now := s.Now()
	until := now.Add(s.Hold).UTC()
	for i, row := range lines {
		if err := s.regainStock(tx, b, o, i, row, until, l); err != nil {
			return err
		}
		held, err := tx.BookingOf(row.ID)
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return err
		}
		if held.HeldUntil == nil || !held.HeldUntil.After(now) {
			e, err := s.Editions.Get(tx, row.EditionID)
			if err != nil {
				return err
			}
			q, err := docket.Query(tx, row.ProductID, e, b.Location(), now, o.ID)
			if err != nil {
				return err
			}
			if f := e.Booking.Check(question.Booking{Start: held.StartAt, People: held.People}, *q, l); f != nil {
				f.Key, _ = e.BookingKey()
				return problem.Invalid(l, problem.Fields(l, fmt.Sprintf("lines.%d.", i), []question.Fault{*f}))
			}
		}
		held.HeldUntil = &until
		if err := tx.SaveBooking(&held); err != nil {
			return err
		}
		o.HeldUntil = &until
	}
	if err := s.regainCoupons(tx, o, until, l); err != nil {
		return err
	}
	return tx.SaveOrder(o)
}

// regainStock makes sure that a line's pieces are its own for long enough to
// pay.
func (s *Shop) regainStock(tx *store.Tx, b store.Business, o *store.Order, i int, row store.OrderLine, until time.Time, l words.Language) error {
	holds, err := tx.HoldsOf(row.ID)
	if err != nil || len(holds) == 0 {
		return err
	}
	line, err := docket.Open(tx, s.Editions, b, *o, row, s.Now())
	if err != nil {
		return err
	}
	short, err := docket.HoldStock(tx, &row, &line.Result, s.Now(), until)
	if err != nil {
		return err
	}
	if len(short) > 0 {
		return problem.Invalid(l, problem.Fields(l, fmt.Sprintf("lines.%d.", i), short))
	}
	o.HeldUntil = &until
	return nil
}

// regainCoupons makes sure that an order may still use its coupons.
func (s *Shop) regainCoupons(tx *store.Tx, o *store.Order, until time.Time, l words.Language) error {
	var ids []int64
	for i := range o.Coupons {
		c, err := tx.CouponByCode(o.Coupons[i].Code)
		if err != nil {
			return err
		}
		all, each, err := tx.CouponUses(c.ID, o.Email, s.Now(), o.ID)
		if err != nil {
			return err
		}
		if c.MostUses > 0 && all >= c.MostUses || c.MostEach > 0 && each >= c.MostEach {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, fmt.Sprintf("coupons.%d", i), "coupon_used", nil)})
		}
		ids = append(ids, c.ID)
	}
	if len(ids) == 0 {
		return nil
	}
	o.HeldUntil = &until
	return tx.HoldCoupons(o.ID, o.Email, ids, until)
}
