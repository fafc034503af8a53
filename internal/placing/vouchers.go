package placing

import (
	"crypto/rand"
	"fmt"
	"net/http"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/voucher"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// issue makes the codes of the vouchers that a line sells, one for each unit.
func issue(tx *store.Tx, b store.Business, e *product.Edition, o *store.Order, row *store.OrderLine, now time.Time) error {
	if e.Pricing.Voucher == nil {
		return nil
	}
	until := voucher.Until(calendar.DayOf(now.In(b.Location())), e.Pricing.Voucher.Months)
	for _, worth := range row.Slip.Worth(e.Pricing.Tax, row.Quantity, e.Rounding) {
		if worth <= 0 {
			continue
		}
		var random [voucher.CodeBytes]byte
		rand.Read(random[:])
		v := store.Voucher{Code: voucher.Code(random), LineID: row.ID, OrderID: o.ID, Currency: o.Currency, Worth: worth, CreatedAt: now.UTC()}
		if until != (calendar.Day{}) {
			v.Until = until.String()
		}
		if e.Pricing.Voucher.Tax == charge.TaxedWhenSold {
			v.Percent = e.Pricing.Tax.Percent.String()
		}
		if err := tx.AddVoucher(&v); err != nil {
			return err
		}
	}
	return nil
}

// Holds gives what an order holds of the vouchers that pay something of it.
func Holds(tx *store.Tx, o *store.Order, until time.Time) ([]store.VoucherHold, error) {
	var holds []store.VoucherHold
	until = until.UTC()
	for i, use := range o.Slip.Vouchers {
		v, err := tx.VoucherByCode(o.Vouchers[i].Code)
		if err != nil {
			return nil, err
		}
		holds = append(holds, store.VoucherHold{VoucherID: v.ID, OrderID: o.ID, Amount: use.Amount, HeldUntil: &until})
	}
	return holds, nil
}

// vouchers asks again whether vouchers pay as much as they were to: somebody
// else may have paid with them, and the seller may have blocked them.
func (r *regaining) vouchers() error {
	today := calendar.DayOf(r.now.In(r.business.Location()))
	for i, use := range r.order.Slip.Vouchers {
		v, err := r.tx.VoucherByCode(r.order.Vouchers[i].Code)
		if err != nil {
			return err
		}
		is, err := r.tx.VoucherState(&v, r.now, r.order.ID)
		if err != nil {
			return err
		}
		refused := is.Refused(r.order.Currency, today)
		if refused == "" && is.Free() < use.Amount {
			refused = "voucher_less"
		}
		if refused != "" {
			return problem.Invalid(r.language, []api.FieldError{problem.Field(r.language, fmt.Sprintf("coupons.%d", len(r.order.Coupons)+i), refused, nil)})
		}
	}
	holds, err := Holds(r.tx, r.order, r.until)
	if err != nil || len(holds) == 0 {
		return err
	}
	r.order.HeldUntil = &r.until
	return r.tx.HoldVouchers(r.order.ID, holds)
}

// takeVouchers pays an order with what it holds of vouchers, for good. Should
// the time of what it held have run out, and somebody else have used it, less is
// paid, and the order stays open for the rest.
func takeVouchers(tx *store.Tx, b store.Business, o *store.Order, now time.Time) error {
	if len(o.Vouchers) == 0 {
		return nil
	}
	holds, err := tx.VoucherHolds(o.ID)
	if err != nil {
		return err
	}
	for _, h := range holds {
		v, err := tx.VoucherByID(h.VoucherID)
		if err != nil {
			return err
		}
		if err := use(tx, b, o, &v, h.Amount, now); err != nil {
			return err
		}
	}
	return tx.ReleaseVouchers(o.ID)
}

// use pays something of an order with a voucher, no more than is left of it.
func use(tx *store.Tx, b store.Business, o *store.Order, v *store.Voucher, amount money.Amount, now time.Time) error {
	rests, err := tx.VoucherRests(v.ID)
	if err != nil {
		return err
	}
	n := min(amount, rests[v.ID])
	if n <= 0 {
		return nil
	}
	if err := tx.AddVoucherEntry(store.VoucherEntry{VoucherID: v.ID, OrderID: o.ID, Kind: voucher.Used, Amount: n, At: now}); err != nil {
		return err
	}
	entry := ledger.Entry{Kind: ledger.Paid, Amount: n, At: now, Way: ledger.Voucher, Note: charge.Hidden(v.Code)}
	if err := tx.AddEntries(o, []ledger.Entry{entry}, b.Location()); err != nil {
		return err
	}
	purse := v.Purse(rests[v.ID])
	return tx.AddFigures(o, ledger.Using([]charge.Use{purse.Use(n, b.Rounding)}), now, b.Location())
}

// PayByVoucher pays what of an order is still open with a voucher, as far as both
// go; an order that awaited it is placed once enough came in. It says how much
// that is: with a voucher that was taxed when it was sold, no more than what is
// taxed at its rate and not paid so yet.
func PayByVoucher(tx *store.Tx, editions *docket.Editions, o *store.Order, v *store.Voucher, free, open money.Amount, now time.Time) (money.Amount, error) {
	b, err := tx.Business()
	if err != nil {
		return 0, err
	}
	n := min(free, open)
	if v.Percent != "" {
		left, err := atRate(tx, o, v.Percent)
		if err != nil {
			return 0, err
		}
		n = min(n, left)
	}
	if n <= 0 {
		return 0, nil
	}
	if err := use(tx, b, o, v, n, now); err != nil {
		return 0, err
	}
	return n, Settle(tx, editions, o, now)
}

// atRate gives what of an order is taxed at a rate and not paid yet with vouchers
// that were taxed at it when they were sold.
func atRate(tx *store.Tx, o *store.Order, percent string) (money.Amount, error) {
	var left money.Amount
	for _, t := range o.Slip.Taxes {
		if t.Exempt == "" && !t.Reversed && t.Percent.String() == percent {
			left += t.Gross
		}
	}
	entries, err := tx.VoucherEntriesOf(o.ID)
	if err != nil {
		return 0, err
	}
	for _, e := range entries {
		v, err := tx.VoucherByID(e.VoucherID)
		switch {
		case err != nil:
			return 0, err
		case v.Percent != percent:
		case e.Kind == voucher.Used:
			left -= e.Amount
		case e.Kind == voucher.Returned:
			left += e.Amount
		}
	}
	return max(left, 0), nil
}

// ToVouchers gives back to vouchers what they paid of an order, the last one that
// paid first, and gives how much that was: no more than is to go back.
func ToVouchers(tx *store.Tx, o *store.Order, amount money.Amount, author, note string, now time.Time) (money.Amount, error) {
	all, err := tx.VoucherEntriesOf(o.ID)
	if err != nil || amount <= 0 {
		return 0, err
	}
	b, err := tx.Business()
	if err != nil {
		return 0, err
	}
	paid := map[int64]money.Amount{}
	var order []int64
	for _, e := range all {
		switch e.Kind {
		case voucher.Used:
			paid[e.VoucherID] += e.Amount
			order = slices.DeleteFunc(order, func(id int64) bool { return id == e.VoucherID })
			order = append(order, e.VoucherID)
		case voucher.Returned:
			paid[e.VoucherID] -= e.Amount
		}
	}
	left := amount
	for _, id := range slices.Backward(order) {
		n := min(left, paid[id])
		if n <= 0 {
			continue
		}
		v, err := tx.VoucherByID(id)
		if err != nil {
			return 0, err
		}
		rests, err := tx.VoucherRests(id)
		if err != nil {
			return 0, err
		}
		if err := tx.AddVoucherEntry(store.VoucherEntry{VoucherID: id, OrderID: o.ID, Kind: voucher.Returned, Amount: n, At: now, Author: author}); err != nil {
			return 0, err
		}
		if note == "" {
			note = charge.Hidden(v.Code)
		}
		entry := ledger.Entry{Kind: ledger.Returned, Amount: n, At: now, Way: ledger.Voucher, Author: author, Note: note}
		if err := tx.AddEntries(o, []ledger.Entry{entry}, b.Location()); err != nil {
			return 0, err
		}
		purse := v.Purse(rests[id])
		if err := tx.AddFigures(o, ledger.Using([]charge.Use{purse.Back(n, b.Rounding)}), now, b.Location()); err != nil {
			return 0, err
		}
		left -= n
	}
	return amount - left, nil
}

// void makes the vouchers of a line that is cancelled worth nothing.
func void(tx *store.Tx, row *store.OrderLine, author string, now time.Time) error {
	all, err := tx.VouchersOf(row.ID)
	if err != nil {
		return err
	}
	for _, v := range all {
		rests, err := tx.VoucherRests(v.ID)
		if err != nil {
			return err
		}
		if rests[v.ID] <= 0 {
			continue
		}
		if err := tx.AddVoucherEntry(store.VoucherEntry{VoucherID: v.ID, OrderID: v.OrderID, Kind: voucher.Voided, Amount: rests[v.ID], At: now, Author: author}); err != nil {
			return err
		}
	}
	return nil
}

// Unspent refuses to cancel lines whose vouchers paid something already: what they
// were sold for is used.
func Unspent(tx *store.Tx, o *store.Order, lines []int64, l words.Language) error {
	var spent money.Amount
	for _, id := range lines {
		all, err := tx.VouchersOf(id)
		if err != nil {
			return err
		}
		for _, v := range all {
			rests, err := tx.VoucherRests(v.ID)
			if err != nil {
				return err
			}
			spent += v.Worth - rests[v.ID]
		}
	}
	if spent > 0 {
		return problem.Say(http.StatusConflict, l, "voucher_spent", words.Params{"amount": l.Money(spent, o.Currency)})
	}
	return nil
}
