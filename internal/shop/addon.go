package shop

import (
	"context"
	"errors"
	"slices"
	"strconv"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
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
		page := docket.Page(p.Slug, *p.EditionID, other, question.Paying, l)
		if err := s.left(tx, b, p.ID, &page); err != nil {
			return nil, err
		}
		r := evaluate.RangeOf(other)
		pages = append(pages, api.AddOnPage{Page: page, Most: min(a.Units(), other.Units()), From: int(r.Least), Fixed: r.Least == r.Most})
	}
	return pages, nil
}

// orderForm says whether a product has no price of its own and is there to
// order others with. What is asked with the order, beside the choosing, may
// cost something without making it more than that.
func orderForm(e *product.Edition) bool {
	return len(e.AddOns) > 0 && e.Price == 0 && !slices.ContainsFunc(e.Pricing.Charges, func(r charge.Rule) bool {
		item, ok := e.Item(r.On)
		return !ok || item.Moment == question.Choosing
	})
}

// parents checks that each add-on stands after the line that it belongs to,
// that this line's product offers it, in that number, and that an order form
// has at least one.
func parents(lines []api.BasketLine, evs []*evaluated, at int) []question.Fault {
	ev := evs[at]
	if ev == nil {
		return nil
	}
	if orderForm(ev.edition) && !slices.ContainsFunc(lines, func(l api.BasketLine) bool { return deref(l.Parent) == at+1 }) {
		return []question.Fault{{Key: "add_ons", Code: "choose_one"}}
	}
	parent := deref(lines[at].Parent)
	if parent == 0 {
		return nil
	}
	if parent < 1 || parent > at || deref(lines[parent-1].Parent) != 0 || evs[parent-1] == nil {
		return []question.Fault{{Key: "product", Code: "add_on"}}
	}
	i := slices.IndexFunc(evs[parent-1].edition.AddOns, func(a product.AddOn) bool { return a.Product == ev.product.ID })
	switch {
	case i < 0:
		return []question.Fault{{Key: "product", Code: "add_on"}}
	case lines[at].Quantity > evs[parent-1].edition.AddOns[i].Units() && lines[at].Quantity <= ev.edition.Units():
		most := evs[parent-1].edition.AddOns[i].Units()
		return []question.Fault{{Key: "quantity", Code: "quantity", Params: words.Params{"most": strconv.Itoa(most)}}}
	}
	return nil
}

// left tells on a product's page what is sold out, and what only few are left of.
func (s *Shop) left(tx *store.Tx, b store.Business, id int64, page *api.ProductPage) error {
	shelf, _, err := docket.Shelf(tx, id, 0, s.Now())
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
func priceHint(e *product.Edition) (int, api.ProductCardHint) {
	for i := range e.Pricing.Charges {
		if c := &e.Pricing.Charges[i]; c.Effect == charge.Sets && c.Rate.Answered {
			return 0, api.Decided
		}
	}
	if orderForm(e) {
		return 0, api.Chosen
	}
	r := evaluate.RangeOf(e)
	if r.Least == r.Most && r.Exact {
		return int(r.Least), api.Fixed
	}
	return int(r.Least), api.From
}
