package desk

import (
	"context"

	"ruvo/api"
	"ruvo/internal/core/order"
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
	if err := a.Validate(); err != nil {
		return a, problem.Invalid(l, []api.FieldError{{Key: "sections", Code: "arrangement", Message: sentence(err, l)}})
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
