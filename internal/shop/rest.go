package shop

import (
	"context"
	"errors"
	"net/http"

	"ruvo/api"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/standin"
	"ruvo/internal/store"
)

// PayRest pays with a card what of an order is still open. As with the first
// payment, an attempt that is repeated under its name is not charged twice.
func (s *Shop) PayRest(ctx context.Context, link string, card api.Card, l words.Language) (api.Payment, error) {
	if wrong := s.card(card, l); len(wrong) > 0 {
		return api.Payment{}, problem.Invalid(l, wrong)
	}
	var p store.Payment
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, link, l)
		if err != nil {
			return err
		}
		attempt := hash(link + card.Attempt)
		if p, err = tx.PaymentByAttempt(attempt); err == nil || !errors.Is(err, store.ErrNotFound) {
			return err
		}
		switch _, err := tx.LastPayment(o.ID, "pending"); {
		case err == nil:
			return problem.Say(http.StatusConflict, l, "paying", nil)
		case !errors.Is(err, store.ErrNotFound):
			return err
		}
		open := o.Open()
		if open <= 0 {
			return problem.Say(http.StatusConflict, l, "nothing_open", nil)
		}
		number := standin.Digits(card.Number)
		p = store.Payment{OrderID: o.ID, Attempt: attempt, State: "pending", Amount: open, Last4: number[len(number)-4:], CreatedAt: s.Now().UTC(), Purpose: store.PayRest}
		return tx.SavePayment(&p)
	})
	if err != nil {
		return api.Payment{}, err
	}
	receipt, err := s.Cards.Charge(ctx, p.Attempt, p.Amount, card.Number)
	if err != nil {
		return api.Payment{}, err
	}
	return s.record(ctx, p, receipt, l)
}

// ConfirmRest passes the customer's word for a later payment on to their bank.
func (s *Shop) ConfirmRest(ctx context.Context, link string, approve bool, l words.Language) (api.Payment, error) {
	var p store.Payment
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, link, l)
		if err != nil {
			return err
		}
		if p, err = tx.LastPayment(o.ID, string(standin.Confirm)); errors.Is(err, store.ErrNotFound) {
			return problem.Say(http.StatusConflict, l, "nothing_to_confirm", nil)
		}
		return err
	})
	if err != nil {
		return api.Payment{}, err
	}
	receipt, err := s.Cards.Confirm(ctx, p.Attempt, approve)
	if err != nil {
		return api.Payment{}, err
	}
	return s.record(ctx, p, receipt, l)
}

// recordRest keeps the bank's answer to a later payment.
func (s *Shop) recordRest(tx *store.Tx, o *store.Order, p store.Payment, receipt standin.Receipt, l words.Language) (api.Payment, error) {
	before := p.State
	p.State, p.Reason = string(receipt.Outcome), receipt.Reason
	if err := tx.SavePayment(&p); err != nil {
		return api.Payment{}, err
	}
	switch receipt.Outcome {
	case standin.Paid:
		if before != string(standin.Paid) { // not the same attempt, recorded a moment ago
			o.Received += p.Amount
		}
		return api.Payment{State: api.PaymentStatePaid, Number: o.Number}, tx.SaveOrder(o)
	case standin.Confirm:
		return api.Payment{State: api.PaymentStateConfirm}, nil
	}
	reason := l.Say("card."+receipt.Reason, nil)
	return api.Payment{State: api.PaymentStateDeclined, Reason: &reason}, nil
}
