package charge

import (
	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// VoucherTax says when the tax of what a voucher buys is taken (Directive (EU)
// 2016/1065, which put Articles 30a and 30b into Directive 2006/112/EC).
type VoucherTax string

const (
	// TaxedWhenUsed is for a multi-purpose voucher: what it will buy, and so its
	// rate, is not known when it is sold. It is the empty value.
	TaxedWhenUsed VoucherTax = ""
	// TaxedWhenSold is for a single-purpose voucher: all that it can buy is taxed
	// at one known rate, the product's.
	TaxedWhenSold VoucherTax = "when_sold"
)

// Voucher makes a product one that pays: each unit is a code, worth what the
// product's own price came to. What is charged beside the price is no part of
// its worth.
type Voucher struct {
	Tax VoucherTax `json:"tax,omitempty"`
	// Months is how long it can be used after it was sold; 0 is for ever.
	Months int `json:"months,omitempty"`
}

// mostMonths is the longest time for which a voucher can be good.
const mostMonths = 600

// Validate says what is wrong with it.
func (v *Voucher) Validate() error {
	switch {
	case v == nil:
		return nil
	case v.Tax != TaxedWhenUsed && v.Tax != TaxedWhenSold:
		return words.Tell("voucher.tax_when")
	case v.Months < 0 || v.Months > mostMonths:
		return words.Tell("voucher.months")
	}
	return nil
}

// VoucherExempt is the reason why the sale of a multi-purpose voucher is not
// taxed.
const VoucherExempt = "voucher"

// sells makes a row of the product's own price one of a voucher that is sold.
func (v *Voucher) sells(l *Line) {
	if v == nil {
		return
	}
	l.Part = PartVoucher
	if v.Tax == TaxedWhenUsed {
		l.Exempt = VoucherExempt
	}
}

// Worth splits what vouchers of a line were sold for over its units, the tax
// that was added to it with it.
func (s *Slip) Worth(tax TaxRule, units int, r money.Rounding) []money.Amount {
	var sum money.Amount
	for _, l := range s.Lines {
		if l.Part == PartVoucher {
			sum += l.Amount
		}
	}
	if len(s.Lines) > 0 && s.Lines[0].Exempt == "" {
		sum = tax.Of(sum, r)
	}
	weights := make([]int64, units)
	for i := range weights {
		weights[i] = 1
	}
	return money.Split(sum, weights)
}

// A Purse is a voucher as an order is paid with it.
type Purse struct {
	Code  string       `json:"code"`
	Worth money.Amount `json:"worth"` // when it was sold
	Rest  money.Amount `json:"rest"`  // of it
	// Percent is the rate at which it was taxed when it was sold; nil for one
	// whose use is taxed.
	Percent *decimal.Decimal `json:"percent,omitempty"`
}

// A Use is what a voucher pays of an order. It is money that came in before: it
// takes nothing off the price.
type Use struct {
	Code   string       `json:"code"` // its last characters, enough for those who have it
	Amount money.Amount `json:"amount"`
	// Tax is what of the order's tax was taken when the voucher was sold.
	Tax *Tax `json:"tax,omitempty"`
}

// shownCode is how many characters of a voucher's code stand where others could
// read along.
const shownCode = 4

// Hidden gives the end of a voucher's code.
func Hidden(code string) string {
	if len(code) > shownCode {
		code = code[len(code)-shownCode:]
	}
	return "…" + code
}

// Use says what comes of using so much of a voucher. The tax of all its uses
// adds up to what was taken when it was sold, to the cent.
func (p *Purse) Use(amount money.Amount, r money.Rounding) Use {
	u := Use{Code: Hidden(p.Code), Amount: amount}
	if p.Percent != nil {
		rule := TaxRule{Percent: *p.Percent}
		used := p.Worth - p.Rest
		t, before := bucket{rule, used + amount}.tax(r), bucket{rule, used}.tax(r)
		t.Gross, t.Net, t.Amount = t.Gross-before.Gross, t.Net-before.Net, t.Amount-before.Amount
		u.Tax = &t
	}
	return u
}

// Back says what comes of giving so much back to a voucher, as a use below zero.
func (p *Purse) Back(amount money.Amount, r money.Rounding) Use { return p.Use(-amount, r) }

// vouchers pays what is due now with vouchers, as far as they go: not the price
// of vouchers, and with one that was taxed when it was sold only what is taxed
// at its rate. Those go first, as they can pay less.
func (m *totalling) vouchers() {
	room := m.slip.Now()
	at := buckets{}
	for _, t := range m.slip.Taxes {
		if t.Exempt == "" && !t.Reversed {
			at.add(TaxRule{Percent: t.Percent}, t.Gross)
		}
	}
	for i := range m.Lines {
		rule := m.Lines[i].Tax
		for _, l := range m.Lines[i].Slip.Lines {
			if l.Part != PartVoucher {
				continue
			}
			of := rule.of(l)
			room -= of.Of(l.Amount, m.Rounding)
			if l.Exempt == "" {
				at.add(TaxRule{Percent: of.Percent}, -of.Of(l.Amount, m.Rounding))
			}
		}
	}
	uses := make([]Use, len(m.Vouchers))
	pay := func(i int, most money.Amount) money.Amount {
		v := &m.Vouchers[i]
		n := max(min(v.Rest, room, most), 0)
		room -= n
		uses[i] = v.Use(n, m.Rounding)
		return n
	}
	for i := range m.Vouchers {
		if p := m.Vouchers[i].Percent; p != nil {
			rule := TaxRule{Percent: *p}
			at.add(rule, 0)
			for k := range at {
				if at[k].same(rule) {
					at[k].sum -= pay(i, at[k].sum)
				}
			}
		}
	}
	for i := range m.Vouchers {
		if m.Vouchers[i].Percent == nil {
			pay(i, room)
		}
	}
	if len(uses) > 0 {
		m.slip.Vouchers = uses
	}
}

// Vouched gives what vouchers pay of what is due now.
func (s *Slip) Vouched() money.Amount {
	var sum money.Amount
	for _, u := range s.Vouchers {
		sum += u.Amount
	}
	return sum
}

// ToPay gives what of the total is to be paid now, beside what vouchers pay.
func (s *Slip) ToPay() money.Amount { return s.Now() - s.Vouched() }
