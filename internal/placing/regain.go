package placing

import (
	"errors"
	"fmt"
	"time"

	"ruvo/api"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Regain makes sure that a checkout's places, pieces, coupons and vouchers are its own
// for long enough to pay, taking them anew when their time had run out. Hold is
// how long that is, and lines are the heads of those of the order. The caller
// keeps the order itself.
func Regain(tx *store.Tx, editions *docket.Editions, o *store.Order, lines []store.OrderLine, now time.Time, hold time.Duration, l words.Language) error {
	b, err := tx.Business()
	if err != nil {
		return err
	}
	r := regaining{tx, editions, b, o, now, now.Add(hold).UTC(), l}
	for i, row := range lines {
		if err := r.stock(i, row); err != nil {
			return err
		}
		if err := r.place(i, row); err != nil {
			return err
		}
	}
	if err := r.coupons(); err != nil {
		return err
	}
	return r.vouchers()
}

type regaining struct {
	tx       *store.Tx
	editions *docket.Editions
	business store.Business
	order    *store.Order
	now      time.Time
	until    time.Time
	language words.Language
}

func (r *regaining) refused(line int, faults []question.Fault) error {
	return problem.Invalid(r.language, problem.Fields(r.language, fmt.Sprintf("lines.%d.", line), faults))
}

func (r *regaining) place(i int, row store.OrderLine) error {
	e, err := r.editions.Get(r.tx, row.EditionID)
	if err != nil || e.Booking == nil {
		return err
	}
	rows, err := r.tx.BookingsOf(row.ID)
	if err != nil || len(rows) == 0 {
		return err
	}
	held := rows[0]
	if held.HeldUntil == nil || !held.HeldUntil.After(r.now) {
		// The lines of this order that come before hold their places again by now,
		// and take them from this one.
		q, err := Query(r.tx, row.ProductID, e, r.business.Location(), r.now, 0)
		if err != nil {
			return err
		}
		line, err := docket.OpenFresh(r.tx, r.editions, r.business, *r.order, row, r.now)
		if err != nil {
			return err
		}
		b, booked := line.Booked()
		if !booked {
			b = question.Booking{Start: held.StartAt, End: held.EndAt, People: held.People}
		}
		q.Wish = line.Result.Wish(e, line.Given)
		places, f := e.Booking.Take(b, *q, r.language)
		if f != nil {
			f.Key, _ = e.BookingKey()
			return r.refused(i, []question.Fault{*f})
		}
		r.order.HeldUntil = &r.until
		return Book(r.tx, store.Booking{LineID: row.ID, ProductID: row.ProductID, People: b.People, Sold: held.Sold, HeldUntil: &r.until}, b.Of, e.Booking, places, q.Resources)
	}
	r.order.HeldUntil = &r.until
	for _, held := range rows {
		held.HeldUntil = &r.until
		if err := r.tx.SaveBooking(&held); err != nil {
			return err
		}
	}
	return nil
}

func (r *regaining) stock(i int, row store.OrderLine) error {
	holds, err := r.tx.HoldsOf(&row)
	if err != nil || len(holds) == 0 {
		return err
	}
	if row, err = r.tx.LineByID(row.ID); err != nil {
		return err
	}
	line, err := docket.OpenFresh(r.tx, r.editions, r.business, *r.order, row, r.now)
	if err != nil {
		return err
	}
	short, err := HoldStock(r.tx, &row, line.Edition, &line.Result, r.now, r.until)
	if err != nil {
		return err
	}
	if len(short) > 0 {
		return r.refused(i, short)
	}
	r.order.HeldUntil = &r.until
	return nil
}

// coupons asks again whether the order may use them: somebody else may have
// used them up, and the seller may have taken them out of use.
func (r *regaining) coupons() error {
	var ids []int64
	for i := range r.order.Coupons {
		refused := ""
		c, err := r.tx.CouponByCode(r.order.Coupons[i].Code)
		switch {
		case errors.Is(err, store.ErrNotFound) || err == nil && c.Off:
			refused = "coupon_unknown"
		case err != nil:
			return err
		default:
			uses, err := r.tx.CouponUses(c.ID, r.order.Email, r.now, r.order.ID)
			if err != nil {
				return err
			}
			if c.Limit().Spent(uses, true) {
				refused = "coupon_used"
			}
		}
		if refused != "" {
			return problem.Invalid(r.language, []api.FieldError{problem.Field(r.language, fmt.Sprintf("coupons.%d", i), refused, nil)})
		}
		ids = append(ids, c.ID)
	}
	if len(ids) == 0 {
		return nil
	}
	r.order.HeldUntil = &r.until
	return r.tx.HoldCoupons(r.order.ID, r.order.Email, ids, r.until)
}
