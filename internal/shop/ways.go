package shop

import (
	"context"
	"net/http"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/limit"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// takes gives the ways in which products can be paid together.
func takes(b *store.Business, editions []*product.Edition) []ledger.Way {
	chosen := [][]ledger.Way{b.Ways}
	for _, e := range editions {
		chosen = append(chosen, e.Ways)
	}
	return ledger.WaysOf(b.Account.Given(), chosen...)
}

// waysNow shows how products can be paid together now, whose first booking
// begins at a time; zero when there is none.
func (s *Shop) waysNow(b *store.Business, editions []*product.Edition, first time.Time, l words.Language) []api.WayToPay {
	list := []api.WayToPay{}
	for _, w := range takes(b, editions) {
		v := api.WayToPay{Way: api.WayToPayWay(w)}
		if code := s.wayRefused(b, w, first); code != "" {
			why := l.Say("problem."+code, nil)
			v.Refused = &why
		} else if w == ledger.Transfer {
			until := calendar.DayOf(placing.WaitOf(b, s.Now()).Until.In(b.Location())).String()
			v.Until = &until
		}
		list = append(list, v)
	}
	return list
}

// wayRefused gives the code of what stands against paying in a way: what is
// booked must not begin before its transfer can come in.
func (s *Shop) wayRefused(b *store.Business, w ledger.Way, first time.Time) string {
	if w == ledger.Transfer && !first.IsZero() && first.Before(placing.WaitOf(b, s.Now()).Until) {
		return "transfer_too_near"
	}
	return ""
}

// editionsOf gives the editions of order lines.
func (s *Shop) editionsOf(tx *store.Tx, lines []store.OrderLine) (list []*product.Edition, err error) {
	list = make([]*product.Edition, len(lines))
	for i, row := range lines {
		if list[i], err = s.Editions.Get(tx, row.EditionID); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// mayPayBy says whether lines of an order can be paid in a way.
func (s *Shop) mayPayBy(tx *store.Tx, lines []store.OrderLine, act order.Act, w ledger.Way, l words.Language) error {
	b, err := tx.Business()
	if err != nil {
		return err
	}
	editions, err := s.editionsOf(tx, lines)
	if err != nil {
		return err
	}
	if !slices.Contains(takes(&b, editions), w) {
		return problem.Say(http.StatusConflict, l, "way_not_taken", nil)
	}
	if act != order.Pay || w != ledger.Transfer {
		return nil
	}
	first, err := placing.Soonest(tx, lines)
	if err == nil {
		if code := s.wayRefused(&b, w, first); code != "" {
			err = problem.Say(http.StatusConflict, l, code, nil)
		}
	}
	return err
}

// mostAwaiting is how many orders of one mail address can await their transfers.
const mostAwaiting = 5

// await has a checkout await its transfer: it is ordered, and all that it takes
// is held for days.
func (s *Shop) await(ctx context.Context, tx *store.Tx, o *store.Order, lines []store.OrderLine, l words.Language) (api.Payment, error) {
	n, err := tx.CountAwaiting(o.Email)
	if err != nil {
		return api.Payment{}, err
	}
	if n >= mostAwaiting {
		return api.Payment{}, problem.Say(http.StatusConflict, l, "many_awaiting", nil)
	}
	if wait := s.Limits.Awaiting.Take(limit.Sender(ctx), 1); wait > 0 {
		return api.Payment{}, problem.Throttled(l, "many_transfers", wait)
	}
	if err := s.mayMail(ctx, o.Email, l); err != nil {
		return api.Payment{}, err
	}
	if err := placing.Regain(tx, s.Editions, o, lines, s.Now(), s.Hold, l); err != nil {
		return api.Payment{}, err
	}
	if err := placing.Await(tx, s.Editions, o, s.Now()); err != nil {
		return api.Payment{}, err
	}
	return s.placed(tx, o, l)
}

// firstBooking gives when the first booking in a basket begins; the zero time
// when there is none.
func firstBooking(evs []*evaluated) (first time.Time) {
	for _, ev := range evs {
		if ev == nil {
			continue
		}
		k, ok := ev.edition.BookingKey()
		if b, booked := ev.result.Answers[k].(question.Booking); ok && booked && (first.IsZero() || b.Start.Before(first)) {
			first = b.Start
		}
	}
	return first
}
