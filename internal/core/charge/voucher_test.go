package charge

import (
	"math/rand/v2"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

func sold(a money.Amount, tax VoucherTax) Line {
	l := Line{Label: "Voucher", Amount: a}
	(&Voucher{Tax: tax}).sells(&l)
	return l
}

// Source: Directive 2006/112/EC as amended by Directive (EU) 2016/1065. Article
// 30a defines a single-purpose voucher as one where place of supply and VAT due
// are known at the time of issue, any other is multi-purpose. Article 30b: the
// transfer of a single-purpose voucher is the supply itself, and handing over
// the service for it is no independent transaction; the transfer of a
// multi-purpose voucher is not subject to VAT, but the supply for it is.
func TestVouchersAreTaxedOnce(t *testing.T) {
	sale := order(line(1, "19", sold(50_00, TaxedWhenUsed)))
	s := sale.Make()
	if s.Total != 50_00 || len(s.Taxes) != 1 || s.Taxes[0].Amount != 0 || s.In(words.English).Taxes[0].Exempt == "" {
		t.Errorf("a multi-purpose voucher is sold with %+v", s.Taxes)
	}
	if s := order(line(1, "19", sold(119_00, TaxedWhenSold))).Make(); s.Taxes[0].Amount != 19_00 {
		t.Errorf("a single-purpose voucher is sold with %+v", s.Taxes)
	}
	use := order(line(2, "19", base(119_00)), line(3, "7", base(10_70)))
	use.Vouchers = []Purse{{Code: "AAAAMULT", Worth: 50_00, Rest: 50_00}}
	s = use.Make()
	if s.Total != 129_70 || s.Taxes[0].Amount != 19_00 || s.Vouched() != 50_00 || s.ToPay() != 79_70 || s.Vouchers[0].Tax != nil || s.Vouchers[0].Code != "…MULT" {
		t.Errorf("%+v", s)
	}
	use.Vouchers = []Purse{{Code: "AAAAMULT", Worth: 50_00, Rest: 50_00}, {Code: "BBBBSING", Worth: 200_00, Rest: 200_00, Percent: percent("19")}}
	s = use.Make()
	if one := s.Vouchers[1]; one.Amount != 119_00 || one.Tax == nil || one.Tax.Amount != 19_00 || one.Tax.Net != 100_00 {
		t.Errorf("the single-purpose voucher pays what is taxed at its rate: %+v", one)
	}
	if s.Vouchers[0].Amount != 10_70 || s.ToPay() != 0 {
		t.Errorf("the other one pays the rest: %+v", s.Vouchers)
	}
	// The buyer owes the tax: nothing is taxed at the voucher's rate here.
	use.Reversed = true
	if s := use.Make(); s.Vouchers[1].Amount != 0 {
		t.Errorf("%+v", s.Vouchers)
	}
}

// A voucher is money: nothing is taken off it, no percentage is reckoned of it,
// and it is not bought with another one.
func TestAVoucherIsSoldAtItsWorth(t *testing.T) {
	o := order(line(1, "19", sold(50_00, TaxedWhenUsed), extra(5_00)), line(2, "19", base(20_00)))
	o.Coupons = []Coupon{{Code: "HALF", Portion: Portion{Percent: percent("50")}}}
	o.Terms.Charges = []OrderCharge{{Label: "Card", Effect: Adds, Portion: Portion{Percent: percent("2")}, Tax: decimal.NewFromInt(19)}}
	o.Vouchers = []Purse{{Code: "X", Worth: 100_00, Rest: 100_00}}
	s := o.Make()
	if got, want := print(s), "Voucher 50.00; Extra 5.00; Base 20.00; Card 0.50 (2 % of 25.00); Coupon −12.50 (HALF, 50 %); 63.00"; got != want {
		t.Errorf("\n got %s\nwant %s", got, want)
	}
	if s.Vouched() != 13_00 || s.ToPay() != 50_00 {
		t.Errorf("%+v", s.Vouchers)
	}
	p := Pricing{Title: "Voucher", Currency: "EUR", Voucher: &Voucher{}, Tax: TaxRule{Percent: decimal.NewFromInt(19)}, Charges: []Compiled{
		{Charge: Charge{On: "value", Effect: Sets, Rate: Rate{Answered: true}}},
		{Charge: Charge{On: "drawn", Effect: Adds, Rate: Rate{Amount: fine(300)}}, Wording: "Drawn"},
		{Charge: Charge{On: "less", Effect: TakesOff, Rate: Rate{Amount: fine(9000)}}, Wording: "Less"},
	}}
	slip := p.Make(Input{Quantity: 3, Answers: question.Answers{"value": question.Amount(2501), "drawn": question.YesNo(true), "less": question.YesNo(true)}})
	if got, want := print(slip), "Voucher 75.03 (25.01 × 3); Drawn 3.00; Less −3.00 (no more than what is left to pay); 75.03"; got != want {
		t.Errorf("\n got %s\nwant %s", got, want)
	}
	worth := slip.Worth(p.Tax, 3, "")
	if len(worth) != 3 || worth[0] != 25_01 || worth[2] != 25_01 {
		t.Errorf("each is worth %v", worth)
	}
	added := Slip{Lines: []Line{sold(100_00, TaxedWhenSold)}}
	if w := added.Worth(TaxRule{Percent: decimal.NewFromInt(19), Added: true}, 2, ""); w[0] != 59_50 {
		t.Errorf("with the tax that was added: %v", w)
	}
	for _, v := range []*Voucher{{Tax: "never"}, {Months: -1}, {Months: 601}} {
		if v.Validate() == nil {
			t.Errorf("%+v is taken", v)
		}
	}
}

// Whatever is bought with vouchers, and given back to them: no price changes, no
// more is paid than is due, and what is due is paid as far as they go. The tax
// of all uses of a single-purpose voucher comes to what was taken when it was
// sold, to the cent, reckoned here from its worth alone.
func TestVouchersPay(t *testing.T) {
	r := rand.New(rand.NewPCG(16, 1065))
	for range 2000 {
		rate := []string{"19", "7", "5.5"}[r.IntN(3)]
		worth := money.Amount(r.Int64N(20_000) + 1)
		single := Purse{Code: "SINGLE", Worth: worth, Rest: worth, Percent: percent(rate)}
		multi := Purse{Code: "MULTI", Worth: worth, Rest: worth}
		var taken, net money.Amount
		for range 60 {
			o := order()
			for i := range r.IntN(4) + 1 {
				o.Lines = append(o.Lines, line(int64(i), []string{"19", "7", "5.5", "0"}[r.IntN(4)], base(money.Amount(r.Int64N(3000)))))
			}
			plain := o.Make()
			if o.Vouchers = []Purse{multi, single}; r.IntN(2) == 0 {
				o.Vouchers = []Purse{single, multi}
			}
			s := o.Make()
			if s.Total != plain.Total || s.ToPay() < 0 || s.Vouched() > multi.Rest+single.Rest {
				t.Fatalf("%s with %+v", print(s), s.Vouchers)
			}
			for i, u := range s.Vouchers {
				if u.Amount < 0 || u.Amount > o.Vouchers[i].Rest {
					t.Fatalf("%+v of %+v", u, o.Vouchers[i])
				}
				back := money.Amount(0)
				if u.Amount > 0 {
					back = money.Amount(r.Int64N(int64(u.Amount) + 1))
				}
				if o.Vouchers[i].Code == "MULTI" {
					if multi.Rest -= u.Amount; multi.Rest > 0 && s.ToPay() > 0 {
						t.Fatalf("%d is left on it, and %d to pay", multi.Rest, s.ToPay())
					}
					multi.Rest += back
					continue
				}
				taken, net = taken+u.Tax.Amount, net+u.Tax.Net
				single.Rest -= u.Amount
				again := single.Back(back, "")
				taken, net = taken+again.Tax.Amount, net+again.Tax.Net
				single.Rest += back
			}
		}
		used := worth - single.Rest
		want := bucket{TaxRule{Percent: *percent(rate)}, used}.tax("")
		if taken != want.Amount || net != want.Net {
			t.Fatalf("%d of tax for %d used at %s %%, want %d", taken, used, rate, want.Amount)
		}
	}
}
