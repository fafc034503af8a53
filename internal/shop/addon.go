package shop

import (
	"context"
	"errors"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/explore"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/placing"
	"ruvo/internal/store"
)

// addOns shows the add-ons of a product that are on sale, each with its page.
func (s *Shop) addOns(ctx context.Context, tx *store.Tx, b store.Business, e *product.Edition, l words.Language) ([]api.AddOnPage, error) {
	pages := []api.AddOnPage{}
	for _, a := range e.AddOns {
		row, err := tx.ProductByID(a.Product)
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return nil, err
		}
		p, other, err := s.onSale(ctx, tx, row.Slug, l)
		if unsold(err) {
			continue
		}
		if err != nil {
			return nil, err
		}
		if other.Currency != e.Currency { // it could not be ordered with it
			continue
		}
		page := apiview.Page(p.Slug, *p.EditionID, other, question.Paying, l)
		page.Booking = apiview.Booked(other, &b, s.Now())
		if err := s.left(tx, b, p.ID, other, &page); err != nil {
			return nil, err
		}
		r := explore.RangeOf(other, today(b, s.Now()))
		first := evaluate.Given{Quantity: 1, Now: s.Now(), Zone: b.Location(), Language: l}
		asked := evaluate.Evaluate(other, nil, first)
		pages = append(pages, api.AddOnPage{Page: page, Asked: apiview.AskedViews(other, &asked, first), Most: min(a.Units(), other.Units()), From: int(r.Least), Fixed: r.Least == r.Most})
	}
	return pages, nil
}

// addOnFaults checks a basket's line as an add-on, or as what has them.
func addOnFaults(lines []api.BasketLine, evs []*evaluated, at int) []question.Fault {
	taken := make([]order.Taken, len(lines))
	for i, l := range lines {
		taken[i] = order.Taken{Quantity: l.Quantity, Parent: deref(l.Parent)}
		if evs[i] != nil {
			taken[i].Product, taken[i].Edition = evs[i].product.ID, evs[i].edition
		}
	}
	return order.AddOn(taken, at)
}

// left tells on a product's page what is sold out, and what only few are left of.
func (s *Shop) left(tx *store.Tx, b store.Business, id int64, e *product.Edition, page *api.ProductPage) error {
	shelf, _, err := placing.Shelf(tx, id, e, 0, s.Now())
	if err != nil || shelf == nil {
		return err
	}
	closed := shelf.Closed()
	page.SoldOut = &closed
	for k, n := range shelf.Left {
		n = max(n, 0)
		if n > b.Few {
			continue
		}
		if k.Question == "" {
			page.Left = &n
			continue
		}
		for i := range page.Questions {
			if q := &page.Questions[i]; q.Key == string(k.Question) {
				if q.ChoicesLeft == nil {
					q.ChoicesLeft = &map[string]int{}
				}
				(*q.ChoicesLeft)[k.Choice] = n
			}
		}
	}
	return nil
}

// priceHint says of the price no more than is sure: that it is fixed, that it
// begins there, that the customer decides, or that it is made by what they take.
func priceHint(e *product.Edition, today calendar.Day) (int, api.ProductCardHint) {
	for i := range e.Pricing.Charges {
		if c := &e.Pricing.Charges[i]; c.Effect == charge.Sets && c.Rate.Answered {
			return 0, api.Decided
		}
	}
	if e.Bundle != nil {
		return int(e.Bundle.Price), api.From
	}
	if order.Form(e) {
		return 0, api.Chosen
	}
	r := explore.RangeOf(e, today)
	if r.Least == r.Most && r.Exact {
		return int(r.Least), api.Fixed
	}
	return int(r.Least), api.From
}
