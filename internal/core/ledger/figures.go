package ledger

import (
	"slices"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
)

// A Figure is something that sellers want summed up of what was ordered.
type Figure string

const (
	Ordered   Figure = "ordered"    // orders, with their totals
	Given     Figure = "given"      // set by customers themselves
	ByCoupons Figure = "by_coupons" // taken off by coupons
	Sold      Figure = "vouchers"   // vouchers, for what they were sold for
	ByVoucher Figure = "by_voucher" // paid with vouchers, less what went back to them
	TaxOf     Figure = "tax"        // the tax of one rate, with the net amount that it is of
)

// A Share is what one order has of a figure.
type Share struct {
	Figure  Figure
	Percent string // of a tax
	Net     money.Amount
	Amount  money.Amount
	N       int // orders that it is of; -1 takes one back
}

// Figures gives an order's shares of all figures.
func Figures(slip *charge.Slip) []Share {
	list := []Share{{Figure: Ordered, Amount: slip.Total, N: 1}}
	var given, coupons, sold money.Amount
	for _, l := range slip.Lines {
		switch l.Part {
		case charge.PartGiven, charge.PartTip:
			given += l.Amount
		case charge.PartVoucher:
			sold += l.Amount
		case charge.PartCoupon:
			coupons -= l.Amount
		}
	}
	if given != 0 {
		list = append(list, Share{Figure: Given, Amount: given, N: 1})
	}
	if coupons != 0 {
		list = append(list, Share{Figure: ByCoupons, Amount: coupons, N: 1})
	}
	if sold != 0 {
		list = append(list, Share{Figure: Sold, Amount: sold, N: 1})
	}
	for _, t := range slip.Taxes {
		if counts(t) && (t.Amount != 0 || t.Net != 0) {
			list = append(list, Share{Figure: TaxOf, Percent: t.Percent.String(), Net: t.Net, Amount: t.Amount, N: 1})
		}
	}
	return list
}

// counts says whether a sum is one that tax is reckoned of. The sale of a voucher
// whose use is taxed is none: it counts when it is used.
func counts(t charge.Tax) bool { return t.Exempt != charge.VoucherExempt }

// Using gives the shares by which figures move when an order is paid with
// vouchers, or something goes back to them: what was taxed when the voucher was
// sold is not taxed again.
func Using(uses []charge.Use) []Share {
	var list []Share
	for _, u := range uses {
		if u.Amount == 0 {
			continue
		}
		list = append(list, Share{Figure: ByVoucher, Amount: u.Amount})
		if t := u.Tax; t != nil {
			list = append(list, Share{Figure: TaxOf, Percent: t.Percent.String(), Net: -t.Net, Amount: -t.Amount})
		}
	}
	return list
}

// Less gives the shares by which figures fall with a credit. Whole says that
// nothing is left of the order, so that it counts no longer, and neither does
// what its customer gave or its coupons took off.
func Less(slip *charge.Slip, credit charge.Credit, whole bool) []Share {
	less := Share{Figure: Ordered, Amount: -credit.Total}
	if whole {
		less.N = -1
	}
	list := []Share{less}
	for _, t := range credit.Taxes {
		if !counts(t) {
			list = append(list, Share{Figure: Sold, Amount: -t.Gross})
			continue
		}
		list = append(list, Share{Figure: TaxOf, Percent: t.Percent.String(), Net: -t.Net, Amount: -t.Amount})
	}
	if !whole {
		return list
	}
	for _, s := range Figures(slip) {
		if s.Figure == Given || s.Figure == ByCoupons {
			list = append(list, Share{Figure: s.Figure, Amount: -s.Amount, N: -s.N})
		}
	}
	return list
}

// Changed gives the shares by which figures move when a slip becomes another
// one.
func Changed(before, after *charge.Slip) []Share {
	var list []Share
	add := func(shares []Share, sign money.Amount) {
		for _, s := range shares {
			s.N, s.Net, s.Amount = 0, sign*s.Net, sign*s.Amount
			i := slices.IndexFunc(list, func(o Share) bool { return o.Figure == s.Figure && o.Percent == s.Percent })
			if i < 0 {
				list = append(list, s)
				continue
			}
			list[i].Net, list[i].Amount = list[i].Net+s.Net, list[i].Amount+s.Amount
		}
	}
	add(Figures(before), -1)
	add(Figures(after), 1)
	return slices.DeleteFunc(list, func(s Share) bool { return s.Net == 0 && s.Amount == 0 })
}
