package desk

import (
	"context"
	"slices"

	"ruvo/api"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Arrangement gives how the checkout is laid out, with all of its sections.
func (d *Desk) Arrangement(ctx context.Context) (order.Arrangement, error) {
	var a order.Arrangement
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		a = b.Checkout.Whole()
		return err
	})
	return a, err
}

// Arrange lays the checkout out.
func (d *Desk) Arrange(ctx context.Context, a order.Arrangement, l words.Language) (order.Arrangement, error) {
	if field, err := a.Validate(); err != nil {
		return a, problem.Invalid(l, []api.FieldError{{Key: field, Code: "arrangement", Message: sentence(err, l)}})
	}
	a = a.Whole()
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		b.Checkout = a
		if err := tx.SaveBusiness(b); err != nil {
			return err
		}
		return d.log(ctx, tx, checkoutArranged, "")
	})
	return a, err
}

// CheckoutQuestions lists what products on sale ask while paying, each question once, in
// the order in which customers meet them.
func (d *Desk) CheckoutQuestions(ctx context.Context) ([]api.CheckoutQuestion, error) {
	list := []api.CheckoutQuestion{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
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
			e, err := d.Editions.Get(tx, *p.EditionID)
			if err != nil {
				return err
			}
			for i := range e.Items {
				item := &e.Items[i]
				if item.Moment != question.Paying || item.Off || !item.Asked() {
					continue
				}
				at := slices.IndexFunc(list, func(q api.CheckoutQuestion) bool { return q.Key == string(item.Key) })
				if at < 0 {
					at, list = len(list), append(list, api.CheckoutQuestion{Key: string(item.Key), Wording: item.Wording, Products: []string{}})
				}
				list[at].Products = append(list[at].Products, e.Title)
			}
		}
		slices.SortStableFunc(list, func(x, y api.CheckoutQuestion) int {
			return b.Checkout.Rank(question.Key(x.Key)) - b.Checkout.Rank(question.Key(y.Key))
		})
		return nil
	})
	return list, err
}
