// Package shop holds the use cases of the customer's side. Each loads what it
// needs, has the core decide, and keeps the outcome in one transaction.
package shop

import (
	"cmp"
	"context"
	"errors"
	"net/http"
	"slices"
	"sync"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/limit"
	"ruvo/internal/payment"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
	"ruvo/internal/upload"
)

// A Shop runs the customer's use cases.
type Shop struct {
	Store    *store.Store
	Editions *docket.Editions
	Attempts *payment.Attempts
	Uploads  upload.Folder
	Now      func() time.Time
	// Hold is how long places are held for a checkout.
	Hold time.Duration
	// Limits are what strangers may take.
	Limits *limit.Table

	uploading sync.Map // names of uploads whose bytes are coming in
}

// Front lists what is on sale.
func (s *Shop) Front(ctx context.Context) (api.ShopFront, error) {
	front := api.ShopFront{Products: []api.ProductCard{}}
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		front.Business, front.Tagline, front.Zone = b.Name, &b.Tagline, b.Zone
		if b.Contact != "" {
			front.Contact = &b.Contact
		}
		if b.Postal != "" {
			front.Postal = &b.Postal
		}
		front.Currency, front.Currencies = string(currency(ctx, &b)), []string{}
		for _, c := range b.Currencies() {
			front.Currencies = append(front.Currencies, string(c))
		}
		group, err := groupOf(ctx, tx)
		if err != nil {
			return err
		}
		products, err := tx.Products()
		if err != nil {
			return err
		}
		for _, p := range products {
			if p.EditionID == nil {
				continue
			}
			e, err := s.Editions.Get(tx, *p.EditionID)
			if err != nil {
				return err
			}
			if len(docket.Unsold(&b, e)) > 0 || e.AddOnOnly || len(e.Groups) > 0 && !slices.Contains(e.Groups, group) {
				continue
			}
			e = in(ctx, &b, e)
			c := card(p.Slug, e, today(b, s.Now()))
			var page api.ProductPage
			if err := s.left(tx, b, p.ID, e, &page); err != nil {
				return err
			}
			c.SoldOut, c.Left = page.SoldOut, page.Left
			front.Products = append(front.Products, c)
		}
		return nil
	})
	return front, err
}

func card(slug string, e *product.Edition, today calendar.Day) api.ProductCard {
	c := api.ProductCard{Slug: slug, Title: e.Title, Summary: e.Summary, Picture: e.Picture, Currency: string(e.Currency)}
	c.Price, c.Hint = priceHint(e, today)
	return c
}

// today is the day that it is at the business.
func today(b store.Business, now time.Time) calendar.Day { return calendar.DayOf(now.In(b.Location())) }

// onSale finds the edition of a product that is on sale.
func (s *Shop) onSale(ctx context.Context, tx *store.Tx, slug string, l words.Language) (store.Product, *product.Edition, error) {
	p, err := tx.OnSale(slug)
	if errors.Is(err, store.ErrNotFound) || err == nil && p.EditionID == nil {
		return p, nil, problem.NotFound(l, "no_product")
	}
	if err != nil {
		return p, nil, err
	}
	e, err := s.Editions.Get(tx, *p.EditionID)
	if err != nil {
		return p, nil, err
	}
	b, err := tx.Business()
	if err == nil && len(docket.Unsold(&b, e)) > 0 { // nobody knows what it would cost
		err = problem.NotFound(l, "no_product")
	}
	e = in(ctx, &b, e)
	if err != nil || len(e.Groups) == 0 {
		return p, e, err
	}
	group, err := groupOf(ctx, tx)
	if err == nil && !slices.Contains(e.Groups, group) {
		err = problem.NotFound(l, "no_product")
	}
	return p, e, err
}

// Product shows a product's page.
func (s *Shop) Product(ctx context.Context, slug string, l words.Language) (api.ProductPage, error) {
	var page api.ProductPage
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		p, e, err := s.onSale(ctx, tx, slug, l)
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		page = apiview.Page(slug, *p.EditionID, e, question.Paying, l)
		form := order.Form(e)
		page.Form = &form
		if price, hint := priceHint(e, today(b, s.Now())); hint == api.From {
			page.From = &price
		}
		if err := s.left(tx, b, p.ID, e, &page); err != nil {
			return err
		}
		addOns, err := s.addOns(ctx, tx, b, e, l)
		page.AddOns = &addOns
		page.Booking = apiview.Booked(e, &b, s.Now())
		return err
	})
	return page, err
}

// Openings lists the times of a product that can be booked.
func (s *Shop) Openings(ctx context.Context, slug string, l words.Language) ([]api.Opening, error) {
	openings := []api.Opening{}
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		p, e, err := s.onSale(ctx, tx, slug, l)
		if err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		q, err := placing.Query(tx, p.ID, e, b.Location(), s.Now(), 0)
		if err == nil && q != nil {
			openings = apiview.Openings(e.Booking.Openings(*q), q.Zone)
		}
		return err
	})
	return openings, err
}

// evaluated is one line of a basket, evaluated against the edition on sale.
type evaluated struct {
	product store.Product
	edition *product.Edition
	answers question.Answers
	wrong   []question.Fault
	facts   evaluate.Given
	result  evaluate.Result
	counted bool // whether anything of the product is counted
	// promise is by when the work would be done, turn from when on it takes its turn,
	// and rushes the day of each answer that puts it first.
	promise *store.Promise
	turn    time.Time
	rushes  func() map[string]string
}

// priced gives what the order's slip needs of the line.
func (ev *evaluated) priced(line api.BasketLine) charge.OrderLine {
	return docket.Priced(ev.product.ID, ev.edition, &ev.result, min(max(ev.facts.Quantity, 1), ev.edition.Units()), deref(line.Parent))
}

// evaluate evaluates answers that came from a browser. Bookings are
// checked against all that is taken, by other lines of the same order too;
// files against what other orders than the given one have.
func (s *Shop) evaluate(ctx context.Context, tx *store.Tx, b store.Business, slug string, a api.Answering, whole *condition.Whole, l words.Language, except int64) (*evaluated, error) {
	p, e, err := s.onSale(ctx, tx, slug, l)
	if err != nil {
		return nil, err
	}
	ev := s.decoded(b, p, e, a, l)
	bookings, err := s.query(ctx, tx, ev)
	if err != nil {
		return nil, err
	}
	shelf, _, err := placing.Shelf(tx, p.ID, e, 0, ev.facts.Now)
	if err != nil {
		return nil, err
	}
	ev.counted = shelf != nil
	ev.facts.Checks = evaluate.Against(docket.Files(tx, except), bookings, shelf)
	if ev.facts.Group, err = groupOf(ctx, tx); err != nil {
		return nil, err
	}
	if whole != nil {
		ev.facts.Whole = *whole
	}
	ev.result = evaluate.Evaluate(e, ev.answers, ev.facts)
	return ev, s.foretell(ctx, &b, ev, func(from time.Time) (int, error) { return tx.OrderedSince(p.ID, from) })
}

// decoded reads answers that came from a browser.
func (s *Shop) decoded(b store.Business, p store.Product, e *product.Edition, a api.Answering, l words.Language) *evaluated {
	ev := &evaluated{product: p, edition: e}
	ev.answers, ev.wrong = question.Decode(a.Answers, e.Spec)
	now := s.Now()
	ev.answers.Date(now, nil)
	ev.facts = evaluate.Given{Quantity: a.Quantity, Now: now, Zone: b.Location(), Language: l, Later: docket.LaterSet(keys(a.Later)), Whole: condition.Alone(p.Slug, e.Category, string(l))}
	return ev
}

// query asks for what is taken only when a booking is among the answers.
func (s *Shop) query(ctx context.Context, tx *store.Tx, ev *evaluated) (*booking.Query, error) {
	if _, ok := booked(ev); !ok {
		return nil, nil
	}
	q, err := placing.Query(tx, ev.product.ID, ev.edition, ev.facts.Zone, ev.facts.Now, 0)
	if err == nil {
		_, err = mine(ctx, tx, q, ev.facts.Now)
	}
	return q, err
}

// keys reads the keys that a browser sends; those of no use are harmless.
func keys(list *[]string) []question.Key {
	keep := []question.Key{}
	if list != nil {
		for _, k := range *list {
			if key := question.Key(k); key.Valid() && !slices.Contains(keep, key) && len(keep) < 600 {
				keep = append(keep, key)
			}
		}
	}
	return keep
}

// Evaluate gives what a product's answers ask, what is wrong with them and
// what they cost, for a customer who is still choosing.
func (s *Shop) Evaluate(ctx context.Context, slug string, a api.Answering, l words.Language) (api.Evaluation, error) {
	ev, err := s.atOnce(ctx, slug, a, l)
	if ev == nil && err == nil {
		err = s.Store.Read(ctx, func(tx *store.Tx) error {
			b, err := tx.Business()
			if err != nil {
				return err
			}
			ev, err = s.evaluate(ctx, tx, b, slug, a, nil, l, 0)
			return err
		})
	}
	if err != nil {
		return api.Evaluation{}, err
	}
	view := apiview.Evaluated(*ev.product.EditionID, ev.edition, &ev.result, ev.wrong, ev.facts, question.Choosing)
	ev.promised(&view)
	return view, nil
}

// atOnce evaluates what needs nothing of the database, as most of what is typed
// does not: no places and pieces that others take, no group, and no files. It gives nothing when it
// cannot.
func (s *Shop) atOnce(ctx context.Context, slug string, a api.Answering, l words.Language) (*evaluated, error) {
	c, err := s.Store.Catalogue(ctx)
	if err != nil {
		return nil, err
	}
	p, ok := c.Product(slug)
	if !ok || p.EditionID == nil || c.Stocked(p.ID) || customer(ctx) != "" {
		return nil, nil
	}
	e, ok := s.Editions.Kept(*p.EditionID)
	if !ok || len(e.Groups) > 0 || len(docket.Unsold(&c.Business, e)) > 0 {
		return nil, nil
	}
	e = in(ctx, &c.Business, e)
	ev := s.decoded(c.Business, p, e, a, l)
	if _, books := booked(ev); books || len(ev.answers.Uploads()) > 0 || docket.TermsOf(&c.Business, e).Beyond == schedule.Slow {
		return nil, nil
	}
	ev.facts.Checks = evaluate.Held // nothing of it can be taken by others
	ev.result = evaluate.Evaluate(e, ev.answers, ev.facts)
	return ev, s.foretell(ctx, &c.Business, ev, nil)
}

// booked gives the booking among the answers.
func booked(ev *evaluated) (question.Booking, bool) {
	k, ok := ev.edition.BookingKey()
	if !ok {
		return question.Booking{}, false
	}
	b, ok := ev.answers[k].(question.Booking)
	return b, ok && b.Answered()
}

// Basket evaluates a whole basket as it would be ordered now.
func (s *Shop) Basket(ctx context.Context, basket api.Basket, l words.Language) (api.BasketView, error) {
	view := api.BasketView{Lines: []api.BasketLineView{}, Ready: len(basket.Lines) > 0}
	if len(basket.Lines) > order.MostLines {
		return view, problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	}
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		upto := question.Paying
		if deref(basket.Choosing) {
			upto = question.Choosing
		}
		sells := currency(ctx, &b)
		terms := b.TermsIn(sells)
		evs := make([]*evaluated, len(basket.Lines))
		about, err := s.wholeOf(ctx, tx, basket.Lines, l)
		if err != nil {
			return err
		}
		about.Gift, about.Business = deref(basket.Gift), basket.Buyer != nil && basket.Buyer.Business
		for i, line := range basket.Lines {
			if evs[i], err = s.evaluate(ctx, tx, b, line.Product, answering(line), &about, l, 0); err != nil && !unsold(err) {
				return err
			}
		}
		if upto == question.Choosing && len(evs) > 0 && evs[0] != nil {
			// Who chooses sees what it costs, also where it is sold in another currency.
			sells = evs[0].edition.Currency
			ctx, terms = WithCurrency(ctx, sells), b.TermsIn(sells)
		}
		var lines []charge.OrderLine
		var sets []apiview.RuleSet
		rounding := b.Rounding
		for i, line := range basket.Lines {
			v := api.BasketLineView{Product: line.Product, Sold: evs[i] != nil}
			ev := evs[i]
			if ev == nil {
				view.Ready = false
				view.Lines = append(view.Lines, v)
				continue
			}
			page := apiview.Page(line.Product, *ev.product.EditionID, ev.edition, question.Paying, l)
			page.Booking = apiview.Booked(ev.edition, &b, s.Now())
			ev.result.Faults = append(ev.result.Faults, addOnFaults(basket.Lines, evs, i)...)
			other := otherCurrency(ev.edition, sells)
			ev.result.Faults = append(ev.result.Faults, other...)
			e := apiview.Evaluated(*ev.product.EditionID, ev.edition, &ev.result, ev.wrong, ev.facts, upto)
			ev.promised(&e)
			v.Page, v.Evaluation = &page, &e
			v.Newer = line.Edition != nil && *line.Edition != *ev.product.EditionID
			view.Ready = view.Ready && e.Ready
			view.Lines = append(view.Lines, v)
			if other != nil {
				continue
			}
			lines, rounding = append(lines, ev.priced(line)), ev.edition.Rounding
			sets = append(sets, apiview.RuleSet{Title: ev.edition.Title, Rules: cmp.Or(ev.edition.Cancelling, terms.Cancelling)})
		}
		group, err := groupOf(ctx, tx)
		if err != nil {
			return err
		}
		t, err := s.total(ctx, tx, b, &store.Order{Group: group}, whole{basket.Coupons, basket.Tip, basket.Buyer}, lines, rounding, l)
		if err != nil {
			return err
		}
		var editions []*product.Edition
		for _, ev := range evs {
			if ev != nil {
				editions = append(editions, ev.edition)
			}
		}
		view.Ways = s.waysNow(&b, editions, firstBooking(evs), l)
		arrangement := b.Checkout.Whole()
		view.Arrangement = &arrangement
		if view.Agreements, err = apiview.Agreements(tx); err != nil {
			return err
		}
		view.Cancelling = apiview.CancelRules(sets, t.slip.Currency, l)
		view.Slip, view.Coupons, view.Faults, view.Asking = t.slip.In(l), t.coupons, t.wrong, t.asking
		return nil
	})
	return view, err
}

func answering(l api.BasketLine) api.Answering {
	return api.Answering{Edition: l.Edition, Quantity: l.Quantity, Answers: l.Answers, Later: l.Later}
}

func unsold(err error) bool {
	var p *problem.Problem
	return errors.As(err, &p) && p.Status == http.StatusNotFound
}
