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
	var given, coupons money.Amount
	for _, l := range slip.Lines {
		switch l.Part {
		case charge.PartGiven, charge.PartTip:
			given += l.Amount
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
	for _, t := range slip.Taxes {
		if t.Amount != 0 || t.Net != 0 {
			list = append(list, Share{Figure: TaxOf, Percent: t.Percent.String(), Net: t.Net, Amount: t.Amount, N: 1})
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
