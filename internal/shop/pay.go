package shop

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"regexp"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/standin"
	"ruvo/internal/store"
)

var (
	cardCode    = regexp.MustCompile(`^[0-9]{3}$`)
	attemptName = regexp.MustCompile(`^[0-9a-zA-Z_-]{8,64}$`)
)

// Pay pays a checkout with a card. The attempt's name makes a repeat harmless:
// a doubled click or a request sent again gets the first outcome.
//
// The bank is asked between two transactions: the first holds the places and
// notes the attempt, the second records the outcome. Should the process end in
// between, SettlePending finishes the work at the next start.
func (s *Shop) Pay(ctx context.Context, name string, card api.Card, l words.Language) (api.Payment, error) {
	var view api.Payment
	if card.Number == "" {
		if free, err := s.free(ctx, name, l); err != nil || free != nil {
			return deref(free), err
		}
	}
	if wrong := s.card(card, l); len(wrong) > 0 {
		return view, problem.Invalid(l, wrong)
	}
	var done *api.Payment
	var p store.Payment
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, paid, err := s.checkout(tx, name, l)
		if err != nil || paid != nil {
			done = paid
			return err
		}
		if p, err = s.attempt(tx, &o, hash(name+card.Attempt), card, l); err != nil {
			return err
		}
		return s.regain(tx, &o, l)
	})
	if err != nil {
		return view, err
	}
	if done != nil {
		return *done, nil
	}
	receipt, err := s.Cards.Charge(ctx, p.Attempt, p.Amount, card.Number)
	if err != nil {
		return view, err
	}
	return s.record(ctx, p, receipt, l)
}

// free completes a checkout that costs nothing, for which no bank is asked;
// nothing comes back for one that does cost something.
func (s *Shop) free(ctx context.Context, name string, l words.Language) (*api.Payment, error) {
	var done *api.Payment
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, paid, err := s.checkout(tx, name, l)
		if err != nil || paid != nil || o.Slip.Now()+o.Slip.Held != 0 {
			done = paid
			return err
		}
		if err := s.regain(tx, &o, l); err != nil {
			return err
		}
		if err := s.complete(tx, &o); err != nil {
			return err
		}
		p, err := s.paid(tx, &o)
		done = &p
		return err
	})
	return done, err
}

// deref gives what is pointed at; the zero value for nil.
func deref[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}

// checkout finds an order by its checkout's name; for one that is paid already
// also the answer that says so.
func (s *Shop) checkout(tx *store.Tx, name string, l words.Language) (store.Order, *api.Payment, error) {
	o, err := tx.OrderByCheckout(hash(name))
	if errors.Is(err, store.ErrNotFound) {
		return o, nil, problem.NotFound(l, "no_checkout")
	}
	if err != nil || o.State != store.OrderPaid {
		return o, nil, err
	}
	paid, err := s.paid(tx, &o)
	return o, &paid, err
}

// card checks what can be checked before the bank is asked.
func (s *Shop) card(card api.Card, l words.Language) []api.FieldError {
	var wrong []api.FieldError
	if len(card.Number) > 40 || !standin.ValidNumber(card.Number) {
		wrong = append(wrong, problem.Field(l, "number", "card_number", nil))
	}
	last, err := time.Parse("01/06", strings.ReplaceAll(card.Expiry, " ", ""))
	if err != nil || !last.AddDate(0, 1, 0).After(s.Now()) {
		wrong = append(wrong, problem.Field(l, "expiry", "card_expiry", nil))
	}
	if !cardCode.MatchString(card.Code) {
		wrong = append(wrong, problem.Field(l, "code", "card_code", nil))
	}
	if !attemptName.MatchString(card.Attempt) {
		wrong = append(wrong, problem.Field(l, "attempt", "required", nil))
	}
	return wrong
}

// attempt notes an attempt to pay, or finds the one of the same name.
func (s *Shop) attempt(tx *store.Tx, o *store.Order, attempt string, card api.Card, l words.Language) (store.Payment, error) {
	p, err := tx.PaymentByAttempt(attempt)
	if err == nil || !errors.Is(err, store.ErrNotFound) {
		return p, err
	}
	if card.Total != nil && money.Amount(*card.Total) != o.Total {
		return p, problem.Say(http.StatusConflict, l, "price_changed", nil)
	}
	waiting, err := tx.WaitingPayments(o.ID)
	if err != nil {
		return p, err
	}
	for _, other := range waiting {
		if other.State == "pending" {
			return p, problem.Say(http.StatusConflict, l, "paying", nil)
		}
		// The customer took another card instead of confirming the first.
		if _, err := s.refuse(tx, &other); err != nil {
			return p, err
		}
	}
	number := standin.Digits(card.Number)
	p = store.Payment{OrderID: o.ID, Attempt: attempt, State: "pending", Amount: o.Slip.Now() + o.Slip.Held, Last4: number[len(number)-4:], CreatedAt: s.Now().UTC()}
	return p, tx.SavePayment(&p)
}

func (s *Shop) refuse(tx *store.Tx, p *store.Payment) (*store.Payment, error) {
	p.State, p.Reason = string(standin.Declined), "refused"
	return p, tx.SavePayment(p)
}

// Confirm passes the customer's word on to their bank.
func (s *Shop) Confirm(ctx context.Context, name string, approve bool, l words.Language) (api.Payment, error) {
	var view api.Payment
	var done *api.Payment
	var p store.Payment
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, paid, err := s.checkout(tx, name, l)
		if err != nil || paid != nil {
			done = paid
			return err
		}
		if p, err = tx.LastPayment(o.ID, string(standin.Confirm)); errors.Is(err, store.ErrNotFound) {
			return problem.Say(http.StatusConflict, l, "nothing_to_confirm", nil)
		} else if err != nil {
			return err
		}
		return s.regain(tx, &o, l)
	})
	if err != nil {
		return view, err
	}
	if done != nil {
		return *done, nil
	}
	receipt, err := s.Cards.Confirm(ctx, p.Attempt, approve)
	if err != nil {
		return view, err
	}
	return s.record(ctx, p, receipt, l)
}

// record keeps the bank's answer and, when it is a yes, completes the order:
// number, places, work and mail, together or not at all.
func (s *Shop) record(ctx context.Context, p store.Payment, receipt standin.Receipt, l words.Language) (api.Payment, error) {
	var view api.Payment
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := tx.OrderByID(p.OrderID)
		if err != nil {
			return err
		}
		if p, err = tx.PaymentByAttempt(p.Attempt); err != nil {
			return err
		}
		if p.Purpose == store.PayRest {
			view, err = s.recordRest(tx, &o, p, receipt, l)
			return err
		}
		if o.State == store.OrderPaid { // the same attempt, recorded a moment ago
			view, err = s.paid(tx, &o)
			return err
		}
		p.State, p.Reason = string(receipt.Outcome), receipt.Reason
		if err := tx.SavePayment(&p); err != nil {
			return err
		}
		switch receipt.Outcome {
		case standin.Paid:
			if err := s.complete(tx, &o); err != nil {
				return err
			}
			view, err = s.paid(tx, &o)
			return err
		case standin.Confirm:
			o.State = store.OrderConfirm
			view = api.Payment{State: api.PaymentStateConfirm}
		default:
			o.State = store.OrderOpen
			reason := l.Say("card."+receipt.Reason, nil)
			view = api.Payment{State: api.PaymentStateDeclined, Reason: &reason}
		}
		return tx.SaveOrder(&o)
	})
	return view, err
}

// complete makes a checkout an order.
func (s *Shop) complete(tx *store.Tx, o *store.Order) error {
	now := s.Now()
	number, err := tx.NextNumber()
	if err != nil {
		return err
	}
	b, err := tx.Business()
	if err != nil {
		return err
	}
	o.Number, o.State, o.PaidAt, o.HeldUntil = &number, store.OrderPaid, store.Time(now), nil
	o.Received, o.Held = o.Slip.Now(), o.Slip.Held
	if err := tx.SaveOrder(o); err != nil {
		return err
	}
	rows, err := tx.Lines(o.ID)
	if err != nil {
		return err
	}
	var lines []*docket.Line
	for _, row := range rows {
		row.Paid = true
		if err := docket.TakeStock(tx, &row, o.Name, now); err != nil {
			return err
		}
		held, err := tx.BookingOf(row.ID)
		if err == nil {
			held.Sold, held.HeldUntil = true, nil
			err = tx.SaveBooking(&held)
		}
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		line, err := docket.Open(tx, s.Editions, b, *o, row, now)
		if err != nil {
			return err
		}
		if err := line.Settle(tx, now); err != nil {
			return err
		}
		if err := line.KeepForCustomer(tx, now); err != nil {
			return err
		}
		lines = append(lines, line)
	}
	if err := tx.TakeCoupons(o.ID); err != nil {
		return err
	}
	return docket.WriteOrderMail(tx, b, *o, lines, now)
}

// paid answers for a paid order with a private link of its own: the links are
// kept hashed, so the one in the mail cannot be shown again.
func (s *Shop) paid(tx *store.Tx, o *store.Order) (api.Payment, error) {
	link, err := docket.NewLink(tx, o.ID, s.Now())
	return api.Payment{State: api.PaymentStatePaid, Link: &link, Number: o.Number}, err
}

// SettlePending asks the bank about attempts whose outcome was never recorded,
// because the process ended in between, and records it.
func (s *Shop) SettlePending(ctx context.Context) error {
	var pending []store.Payment
	err := s.Store.Read(ctx, func(tx *store.Tx) (err error) {
		pending, err = tx.PendingPayments()
		return err
	})
	if err != nil {
		return err
	}
	for _, p := range pending {
		receipt, err := s.Cards.Ask(ctx, p.Attempt)
		if errors.Is(err, standin.ErrNoAttempt) {
			receipt, err = standin.Receipt{Outcome: standin.Declined, Reason: "refused"}, nil
		}
		if err == nil {
			_, err = s.record(ctx, p, receipt, words.English)
		}
		if err != nil {
			return fmt.Errorf("settling payment %d: %w", p.ID, err)
		}
		slog.Info("settled a payment left pending", "payment", p.ID, "outcome", receipt.Outcome)
	}
	return nil
}
