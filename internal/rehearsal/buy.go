package rehearsal

import (
	"context"
	"fmt"
	"maps"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/agreement"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/shop"
	"ruvo/internal/standin/cards"
	"ruvo/internal/store"
)

// mostAgain is how often answers are made up again that cannot be ordered with, such as
// with a choice that is sold out.
const mostAgain = 8

// buy chooses and pays.
func (w *walk) buy(ctx context.Context) (err error) {
	if ctx, err = w.arrive(ctx); err != nil {
		return err
	}
	for range mostAgain {
		w.lines = nil
		if err = at(api.WalkFailedStepChoosing, w.fill(ctx)); err != nil {
			continue
		}
		if err = at(api.WalkFailedStepCheckout, w.prepare(ctx)); err != nil {
			continue
		}
		return at(api.WalkFailedStepPaying, w.pay(ctx))
	}
	return err
}

const (
	customer = "Ada Lind"
	address  = "ada.lind@example.org"
)

// arrive has the customer be one of a group, where only groups can buy the product.
func (w *walk) arrive(ctx context.Context) (context.Context, error) {
	n, err := w.take(ctx, w.bill.Slug)
	if err != nil || len(n.edition.Groups) == 0 {
		return ctx, err
	}
	w.group = n.edition.Groups[w.r.IntN(len(n.edition.Groups))]
	err = w.store.Write(ctx, func(tx *store.Tx) error {
		groups, err := tx.Groups()
		for _, g := range groups {
			if err == nil && g.Key == w.group {
				err = tx.Join(store.Member{GroupID: g.ID, Email: address})
			}
		}
		return err
	})
	return shop.WithCustomer(ctx, address), err
}

// take takes a product that is on sale.
func (w *walk) take(ctx context.Context, slug string) (*line, error) {
	n := &line{slug: slug, answers: question.Answers{}, later: map[question.Key]bool{}, quantity: 1}
	err := w.store.Read(ctx, func(tx *store.Tx) error {
		p, err := tx.OnSale(slug)
		if err == nil {
			n.edition, err = w.server.Shop.Editions.Get(tx, *p.EditionID)
		}
		return err
	})
	return n, err
}

// fill fills the basket: with the product, and some of its add-ons.
func (w *walk) fill(ctx context.Context) error {
	first, err := w.take(ctx, w.bill.Slug)
	if err != nil {
		return err
	}
	first.quantity = 1 + w.r.IntN(min(first.edition.Units(), 3))
	w.lines = []*line{first}
	page, err := w.server.Shop.Product(ctx, first.slug, w.said)
	if err != nil {
		return err
	}
	if page.AddOns != nil {
		for _, a := range *page.AddOns {
			if w.r.IntN(2) == 0 {
				continue
			}
			n, err := w.take(ctx, a.Page.Slug)
			if err != nil {
				return err
			}
			n.quantity, n.parent = 1+w.r.IntN(max(min(a.Most, 3), 1)), 1
			w.lines = append(w.lines, n)
		}
	}
	for _, n := range w.lines {
		if err := w.choose(ctx, n); err != nil {
			return err
		}
	}
	return nil
}

// choose answers what is asked before payment, one question after the other, as each
// answer can bring others.
func (w *walk) choose(ctx context.Context, n *line) error {
	decided := map[question.Key]bool{}
	for {
		r := evaluate.Evaluate(n.edition, n.answers, w.given(n))
		next := slices.IndexFunc(r.Asked, func(a evaluate.Asked) bool {
			return a.Item.Asked() && a.Item.Moment.Rank() <= question.Paying.Rank() && !decided[a.Item.Key]
		})
		if next < 0 {
			return w.settled(n, &r)
		}
		item := r.Asked[next].Item
		decided[item.Key] = true
		switch {
		case item.Later && w.r.IntN(2) == 0:
			n.later[item.Key] = true
			continue
		case !item.Required && w.r.IntN(2) == 0:
			continue
		}
		v, err := w.makeUp(ctx, n, item)
		switch {
		case err == nil:
			n.answers[item.Key] = v
		case item.Later:
			n.later[item.Key] = true
		case item.Required:
			return err
		}
	}
}

// settled says what is still wrong with what was answered before payment.
func (w *walk) settled(n *line, r *evaluate.Result) error {
	for _, f := range r.Faults {
		if item, ok := n.edition.Item(f.Key); !ok || item.Moment.Rank() <= question.Paying.Rank() {
			return w.faulty(n, f)
		}
	}
	return nil
}

func (w *walk) faulty(n *line, f question.Fault) error {
	wording := string(f.Key)
	if item, ok := n.edition.Item(f.Key); ok {
		wording = item.Wording
	}
	return fmt.Errorf("%s: %s", wording, f.Message(w.said))
}

// env is what an answer of a line is made up and said with.
func (w *walk) env(n *line) question.Env {
	return question.Env{Today: w.today(), Zone: w.zone, Currency: n.edition.Currency, Language: w.said, Answers: n.answers, Units: n.quantity}
}

// makeUp makes up an answer that the order can have as it is answered now.
func (w *walk) makeUp(ctx context.Context, n *line, item *product.Item) (question.Value, error) {
	if item.Spec.Class() == question.ClassBooking {
		return w.booked(ctx, n)
	}
	for range mostAgain {
		v, ok := question.MakeUp(item.Spec, w.r, w.env(n))
		if !ok {
			break
		}
		if err := w.send(ctx, item.Spec, v); err != nil {
			return nil, err
		}
		if w.fits(n, item.Key, v) {
			return v, nil
		}
	}
	return nil, fmt.Errorf("%s: %s", item.Wording, w.said.Say("walk.no_answer", nil))
}

// fits says whether nothing is wrong with an answer beside the others.
func (w *walk) fits(n *line, k question.Key, v question.Value) bool {
	with := maps.Clone(n.answers)
	with[k] = v
	r := evaluate.Evaluate(n.edition, with, w.given(n))
	return !slices.ContainsFunc(r.Faults, func(f question.Fault) bool { return f.Key == k })
}

// prepare brings the basket to the checkout.
func (w *walk) prepare(ctx context.Context) error {
	request := api.CheckoutRequest{Name: customer, Email: address}
	for _, n := range w.lines {
		raw, err := question.Encode(evaluate.Evaluate(n.edition, n.answers, w.given(n)).Answers)
		if err != nil {
			return err
		}
		later := []string{}
		for k := range n.later {
			later = append(later, string(k))
		}
		request.Lines = append(request.Lines, api.BasketLine{Product: n.slug, Quantity: n.quantity, Answers: raw, Later: &later, Parent: &n.parent})
	}
	texts, err := w.server.Shop.Basket(ctx, api.Basket{Lines: request.Lines}, w.said)
	if err != nil {
		return err
	}
	for _, t := range texts.Agreements { // they read the terms of sale, and some want news
		switch agreement.Kind(t.Kind) {
		case agreement.Terms:
			request.Terms = &t.Version
		case agreement.News:
			if w.r.IntN(2) == 0 {
				request.News = &t.Version
			}
		}
	}
	w.link = fmt.Sprintf("%016x%016x", w.r.Uint64(), w.r.Uint64())
	_, err = w.server.Shop.PutCheckout(ctx, w.link, request, w.said)
	return err
}

// pay pays as the product lets customers: by card, or by a transfer that comes in.
func (w *walk) pay(ctx context.Context) error {
	name := w.link
	wish := api.PayRequest{Attempt: name}
	if b, err := w.business(ctx); err != nil {
		return err
	} else if ways := ledger.WaysOf(b.Account.Given(), b.Ways, w.lines[0].edition.Ways); len(ways) > 0 && ways[0] == ledger.Transfer {
		way := api.PayRequestWay(ledger.Transfer)
		wish.Way = &way
	}
	paid, err := w.server.Shop.Pay(ctx, name, wish, w.said)
	if err != nil {
		return err
	}
	if paid.Page != nil {
		if err := w.bank.Pay(ctx, *paid.Page, cards.Works); err != nil {
			return err
		}
	}
	c, err := w.server.Shop.Checkout(ctx, name, w.said)
	if err != nil {
		return err
	}
	if c.Payment == nil || c.Payment.Link == nil {
		return fmt.Errorf("%s", w.said.Say("walk.not_placed", nil))
	}
	w.link = *c.Payment.Link
	page, err := w.server.Shop.OrderPage(ctx, w.link, w.said)
	if err != nil {
		return err
	}
	for i, n := range w.lines {
		n.id = page.Lines[i].Id
	}
	if page.Awaiting != nil {
		amount, note := page.Awaiting.Missing, "walk"
		_, err = w.server.Desk.MoveMoney(ctx, page.Number, "receive", api.MoneyMove{Amount: &amount, Note: &note}, "", w.said)
	}
	return err
}
