package desk

import (
	"context"
	"crypto/rand"
	"errors"
	"strconv"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// mostAtOnce is how many coupons can be made with one request.
const mostAtOnce = 5000

// letters are those that nobody takes for another one.
const letters = "ABCDEFGHJKMNPQRSTUVWXYZ23456789"

// AddCoupons makes one coupon, or many of the same rule with codes of their
// own: the given code, a hyphen and eight random letters.
func (d *Desk) AddCoupons(ctx context.Context, n api.NewCoupons, l words.Language) ([]api.CouponRow, error) {
	n.Coupon.Code = strings.ToUpper(strings.TrimSpace(n.Coupon.Code))
	many := 0
	if n.Many != nil {
		many = *n.Many
	}
	var wrong []api.FieldError
	if err := n.Coupon.Validate(); err != nil {
		wrong = append(wrong, api.FieldError{Key: "coupon", Code: "coupon", Message: sentence(err, l)})
	}
	if n.MostUses < 0 || n.MostEach < 0 || many < 0 || many > mostAtOnce || many > 0 && len(n.Coupon.Code) > 30 {
		wrong = append(wrong, problem.Field(l, "many", "coupon_numbers", nil))
	}
	if len(wrong) > 0 {
		return nil, problem.Invalid(l, wrong)
	}
	var rows []api.CouponRow
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		if err := d.usable(tx, n.Coupon, l); err != nil {
			return err
		}
		b, err := tx.Business()
		if err != nil {
			return err
		}
		if n.Coupon.Currency == "" {
			n.Coupon.Currency = b.Currency
		}
		if !b.Sells(n.Coupon.Currency) {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "coupon.currency", "currency_unsold", words.Params{"currency": string(n.Coupon.Currency)})})
		}
		codes := []string{n.Coupon.Code}
		batch := ""
		if many > 0 {
			batch, codes = n.Coupon.Code, nil
			for range many {
				codes = append(codes, n.Coupon.Code+"-"+randomLetters(8))
			}
		}
		for _, code := range codes {
			_, err := tx.CouponByCode(code)
			if err == nil {
				return problem.Invalid(l, []api.FieldError{problem.Field(l, "coupon.code", "coupon_there", nil)})
			}
			if !errors.Is(err, store.ErrNotFound) {
				return err
			}
			rule := n.Coupon
			rule.Code = code
			c := store.Coupon{Code: code, Rule: rule, MostUses: n.MostUses, MostEach: n.MostEach, Batch: batch, CreatedAt: d.Now().UTC()}
			if err := tx.SaveCoupon(&c); err != nil {
				return err
			}
		}
		if err := d.log(ctx, tx, couponsAdded, counted(n.Coupon.Code, len(codes))); err != nil {
			return err
		}
		rows, err = d.couponRows(tx, l)
		return err
	})
	return rows, err
}

// usable refuses a coupon that nobody could ever use: for products that are not
// there, or with its last day over.
func (d *Desk) usable(tx *store.Tx, c charge.Coupon, l words.Language) error {
	var wrong []api.FieldError
	for _, id := range c.Products {
		if _, err := tx.ProductByID(id); errors.Is(err, store.ErrNotFound) {
			wrong = append(wrong, problem.Field(l, "coupon.products", "coupon_product", words.Params{"product": strconv.FormatInt(id, 10)}))
		} else if err != nil {
			return err
		}
	}
	b, err := tx.Business()
	if err != nil {
		return err
	}
	if today := calendar.DayOf(d.Now().In(b.Location())); c.To != nil && c.To.Before(today) {
		wrong = append(wrong, problem.Field(l, "coupon.to", "coupon_over", words.Params{"day": l.Day(*c.To)}))
	}
	if len(wrong) > 0 {
		return problem.Invalid(l, wrong)
	}
	return nil
}

// randomLetters gives so many letters that cannot be guessed.
func randomLetters(n int) string {
	b := make([]byte, n)
	rand.Read(b)
	for i := range b {
		b[i] = letters[int(b[i])%len(letters)]
	}
	return string(b)
}
