package desk

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"ruvo/api"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/transfer"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Terms shows how the business computes, and its rules for whole orders.
func (d *Desk) Terms(ctx context.Context, l words.Language) (api.BusinessTerms, error) {
	var view api.BusinessTerms
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		view, err = terms(tx, l)
		return err
	})
	return view, err
}

func terms(tx *store.Tx, l words.Language) (api.BusinessTerms, error) {
	b, err := tx.Business()
	if err != nil {
		return api.BusinessTerms{}, err
	}
	stale, unpriced := []string{}, []api.Unpriced{}
	products, err := tx.Products()
	if err != nil {
		return api.BusinessTerms{}, err
	}
	for _, p := range products {
		if c := b.Computes(p.Draft).Currency; c != b.Currency {
			unpriced = append(unpriced, api.Unpriced{Id: p.ID, Title: p.Draft.Title, Currency: string(c)})
		}
		if p.EditionID == nil {
			continue
		}
		e, err := tx.EditionByID(*p.EditionID)
		if err != nil {
			return api.BusinessTerms{}, err
		}
		if !sameDraft(b.Computes(e.Content), e.Content) {
			stale = append(stale, e.Content.Title)
		}
	}
	sheets, err := tx.Sheets()
	if err != nil {
		return api.BusinessTerms{}, err
	}
	for _, s := range sheets {
		old := money.Currency("")
		sold, edited := s.Used(), s.Edited()
		if s.OnSale && s.PublishedCurrency != b.Currency && len(sold.Priced()) > 0 {
			old = s.PublishedCurrency // also when they were given anew and are not published yet
		} else if s.Currency != b.Currency && len(edited.Priced()) > 0 {
			old = s.Currency
		}
		if old != "" {
			is := true
			unpriced = append(unpriced, api.Unpriced{Id: s.ID, Title: s.Name, Currency: string(old), Sheet: &is})
		}
	}
	codes := []string{}
	for _, c := range money.Currencies() {
		codes = append(codes, string(c))
	}
	amounts := b.Terms.Amounts(b.Currency, l)
	ways := append([]ledger.Way{}, b.Ways...)
	further := []api.FurtherTerms{}
	for _, f := range b.Further {
		further = append(further, api.FurtherTerms{Currency: string(f.Currency), Terms: f.Terms})
	}
	return api.BusinessTerms{
		Currency: string(b.Currency), Rounding: api.BusinessTermsRounding(b.Rounding), TaxAdded: b.TaxAdded, ShowZero: b.ShowZero, Few: b.Few, LinkDays: &b.LinkDays, Account: &b.Account, Ways: &ways,
		Terms: b.Terms, Further: &further, Currencies: codes, Stale: &stale, Unpriced: &unpriced, Amounts: &amounts,
	}, nil
}

// mostLinkDays is for how long a private link can work that does end: ten years.
const mostLinkDays = 3650

// PutTerms keeps them. Products that compute in another way have changed then,
// and do so once they are published again.
func (d *Desk) PutTerms(ctx context.Context, t api.BusinessTerms, l words.Language) (api.BusinessTerms, error) {
	var wrong []api.FieldError
	add := func(key, text string) { wrong = append(wrong, api.FieldError{Key: key, Code: key, Message: text}) }
	if _, err := money.Currency(t.Currency).Digits(); err != nil {
		wrong = append(wrong, problem.Field(l, "currency", "currency_code", nil))
	}
	if r := money.Rounding(t.Rounding); r != money.HalfUp && r != money.HalfEven {
		wrong = append(wrong, problem.Field(l, "rounding", "rounding", nil))
	}
	if t.Few < 0 || t.Few > 1_000_000 {
		wrong = append(wrong, problem.Field(l, "few", "few", nil))
	}
	if t.LinkDays != nil && (*t.LinkDays < 0 || *t.LinkDays > mostLinkDays) {
		wrong = append(wrong, problem.Field(l, "link_days", "link_days", nil))
	}
	var account transfer.Account
	if t.Account != nil {
		account = t.Account.Read()
	}
	if err := account.Validate(); err != nil {
		add("account", sentence(err, l))
	}
	if t.Ways != nil && !ledger.ValidWays(*t.Ways) {
		wrong = append(wrong, problem.Field(l, "ways", "ways", nil))
	}
	if err := t.Terms.Validate(); err != nil {
		add("terms", sentence(err, l))
	}
	further, faults := furtherTerms(t, l)
	wrong = append(wrong, faults...)
	if len(wrong) > 0 {
		return api.BusinessTerms{}, problem.Invalid(l, wrong)
	}
	var view api.BusinessTerms
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		if err := repriced(t, b.Currency, l); err != nil {
			return err
		}
		b.Currency, b.Rounding = money.Currency(t.Currency), money.Rounding(t.Rounding)
		b.TaxAdded, b.ShowZero, b.Few, b.Terms = t.TaxAdded, t.ShowZero, t.Few, t.Terms
		if t.LinkDays != nil {
			b.LinkDays = *t.LinkDays
		}
		if t.Account != nil {
			b.Account = account
		}
		if t.Further != nil {
			b.Further = further
		}
		if slices.ContainsFunc(b.Further, func(f store.Further) bool { return f.Currency == b.Currency }) {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "further", "further_currency", words.Params{"currency": string(b.Currency)})})
		}
		if t.Ways != nil {
			b.Ways = *t.Ways
		}
		if len(ledger.WaysOf(b.Account.Given(), b.Ways)) == 0 {
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "ways", "ways_account", nil)})
		}
		if err := tx.SaveBusiness(b); err != nil {
			return err
		}
		if err := d.log(ctx, tx, termsChanged, ""); err != nil {
			return err
		}
		products, err := tx.Products()
		if err != nil {
			return err
		}
		for _, p := range products {
			changed, err := d.differs(tx, p)
			if err != nil {
				return err
			}
			if changed == p.Changed {
				continue
			}
			p.Changed = changed
			if err := tx.SaveProduct(&p); err != nil {
				return err
			}
		}
		view, err = terms(tx, l)
		return err
	})
	return view, err
}

// furtherTerms reads the currencies that are sold in besides the business's own,
// each once and with terms that can hold.
func furtherTerms(t api.BusinessTerms, l words.Language) (list []store.Further, wrong []api.FieldError) {
	if t.Further == nil {
		return nil, nil
	}
	seen := map[string]bool{t.Currency: true}
	for i, f := range *t.Further {
		at := fmt.Sprintf("further[%d]", i)
		_, err := money.Currency(f.Currency).Digits()
		switch {
		case err != nil:
			wrong = append(wrong, problem.Field(l, at+".currency", "currency_code", nil))
		case seen[f.Currency] || i >= mostFurther:
			wrong = append(wrong, problem.Field(l, at+".currency", "further_currency", words.Params{"currency": f.Currency}))
		}
		seen[f.Currency] = true
		if err := f.Terms.Validate(); err != nil {
			wrong = append(wrong, api.FieldError{Key: at + ".terms", Code: "terms", Message: sentence(err, l)})
		}
		list = append(list, store.Further{Currency: money.Currency(f.Currency), Terms: f.Terms})
	}
	return list, wrong
}

// mostFurther is in how many currencies one can sell besides one's own.
const mostFurther = 10

// repriced refuses a change of the currency that would take amounts of the old
// one for amounts of the new one.
func repriced(t api.BusinessTerms, old money.Currency, l words.Language) error {
	next := money.Currency(t.Currency)
	amounts := t.Terms.Amounts(old, l)
	if next == old || len(amounts) == 0 || t.AmountsIn != nil && money.Currency(*t.AmountsIn) == next {
		return nil
	}
	return problem.Invalid(l, []api.FieldError{problem.Field(l, "currency", "terms_currency", words.Params{
		"old": string(old), "new": string(next), "amounts": strings.Join(amounts, ", "),
	})})
}

// sentence writes an error as a sentence.
func sentence(err error, l words.Language) string {
	s := []rune(words.Of(err, l))
	if len(s) > 0 {
		s[0] = unicode.ToUpper(s[0])
	}
	return string(s) + "."
}

// couponRows shows all coupons, the newest first.
func (d *Desk) couponRows(tx *store.Tx, l words.Language) ([]api.CouponRow, error) {
	rows := []api.CouponRow{}
	b, err := tx.Business()
	if err != nil {
		return nil, err
	}
	all, err := tx.Coupons()
	if err != nil {
		return nil, err
	}
	sums, err := tx.CouponSums(d.Now())
	for _, c := range all {
		sum := sums[c.ID]
		rows = append(rows, api.CouponRow{
			Id: c.ID, Coupon: c.Rule, MostUses: c.MostUses, MostEach: c.MostEach, Off: c.Off, Batch: c.Batch,
			Used: sum.Used, Held: sum.Held, Given: int(sum.Given), Says: c.Rule.Sentence(cmp.Or(c.Rule.Currency, b.Currency), l),
		})
	}
	return rows, err
}

// Coupons lists all coupons.
func (d *Desk) Coupons(ctx context.Context, l words.Language) ([]api.CouponRow, error) {
	var rows []api.CouponRow
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		rows, err = d.couponRows(tx, l)
		return err
	})
	return rows, err
}

// SwitchCoupon takes a coupon out of use, or brings it back.
func (d *Desk) SwitchCoupon(ctx context.Context, id int64, off bool, l words.Language) ([]api.CouponRow, error) {
	var rows []api.CouponRow
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		all, err := tx.Coupons()
		if err != nil {
			return err
		}
		i := slices.IndexFunc(all, func(c store.Coupon) bool { return c.ID == id })
		if i < 0 {
			return problem.NotFound(l, "no_coupon")
		}
		all[i].Off = off
		if err := tx.SaveCoupon(&all[i]); err != nil {
			return err
		}
		if err := d.log(ctx, tx, couponSwitched, all[i].Code); err != nil {
			return err
		}
		rows, err = d.couponRows(tx, l)
		return err
	})
	return rows, err
}
