package charge

import (
	"slices"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// A TaxRule says how what is sold is taxed.
type TaxRule struct {
	Percent decimal.Decimal
	// Added says that prices come without tax, which is added to their sum.
	Added bool
	// Exempt is the reason why no tax is taken; empty when it is.
	Exempt string
	// Reversed says that no tax is taken since the buyer owes it.
	Reversed bool
}

// Validate says what is wrong with it.
func (t TaxRule) Validate() error {
	switch {
	case !percentIn(t.Percent, 100):
		return words.Tell("charge.tax_must_lie_between_0")
	case t.Exempt != "" && !t.Percent.IsZero():
		return words.Tell("charge.what_exempt_from_tax_takes")
	case len(t.Exempt) > 500:
		return words.Tell("charge.reason_why_no_tax_taken")
	}
	return nil
}

// same says whether two rules tax the same way.
func (t TaxRule) same(o TaxRule) bool {
	return t.Percent.Equal(o.Percent) && t.Added == o.Added && t.Exempt == o.Exempt && t.Reversed == o.Reversed
}

// of gives how a line is taxed: by its own rate, or as the product is.
func (t TaxRule) of(l Line) TaxRule {
	if l.Exempt != "" {
		return TaxRule{Exempt: l.Exempt}
	}
	if l.Tax == nil {
		return t
	}
	return TaxRule{Percent: *l.Tax, Added: t.Added}
}

// taxed is what of a line is taxed at one rate.
type taxed struct {
	bucket
	tax money.Amount // in the sum or added to it
}

// byRate sums the rows of an order line by how they are taxed, the product's own
// rate first, and what of each can be discounted. Vouchers that are not taxed stand
// for the product's own rate.
func byRate(lines []Line, rule TaxRule) (parts []taxed, open []int64) {
	first := rule
	if len(lines) > 0 && lines[0].Part == PartVoucher {
		first = rule.of(lines[0])
	}
	parts, open = []taxed{{bucket: bucket{TaxRule: first}}}, []int64{0}
	for k := range lines {
		l := &lines[k]
		own := rule.of(*l)
		at := slices.IndexFunc(parts, func(p taxed) bool { return p.same(own) })
		if at < 0 {
			at = len(parts)
			parts, open = append(parts, taxed{bucket: bucket{TaxRule: own}}), append(open, 0)
		}
		parts[at].sum += l.Amount
		if l.discountable() {
			open[at] += int64(l.Amount)
		}
	}
	return parts, open
}

// level has no rate of a line below zero: what is taken off at one rate beyond
// what there is of it is taken off the others.
func level(parts []taxed) {
	if len(parts) == 1 {
		return
	}
	var short money.Amount
	weights := make([]int64, len(parts))
	for i := range parts {
		if p := &parts[i]; p.sum < 0 {
			short, p.sum = short-p.sum, 0
		} else {
			weights[i] = int64(p.sum)
		}
	}
	if short == 0 {
		return
	}
	for i, off := range money.Split(short, weights) {
		parts[i].sum -= off
	}
}

// A Tax is the tax of one rate on the sum of that rate's lines.
type Tax struct {
	Percent decimal.Decimal `json:"percent"`
	Gross   money.Amount    `json:"gross"`
	Net     money.Amount    `json:"net"`
	Amount  money.Amount    `json:"amount"`
	Added   bool            `json:"added,omitempty"`  // to prices without it
	Exempt  string          `json:"exempt,omitempty"` // why no tax is taken
	// Reversed says that it is not taken since the buyer owes it.
	Reversed bool `json:"reversed,omitempty"`
}

// bucket is the sum of all lines that are taxed the same way.
type bucket struct {
	TaxRule
	sum money.Amount
}

// tax computes the tax of one rate on the sum of its lines. Net and tax add up
// to gross exactly, as EN 16931 rule BR-CO-15 asks of an invoice's totals.
func (b bucket) tax(r money.Rounding) Tax {
	t := Tax{Percent: b.Percent, Added: b.Added, Exempt: b.Exempt, Reversed: b.Reversed}
	if b.Added {
		t.Net, t.Amount = b.sum, r.Percent(b.sum, b.Percent)
		t.Gross = t.Net + t.Amount
		return t
	}
	t.Gross, t.Amount = b.sum, r.Contained(b.sum, b.Percent)
	t.Net = t.Gross - t.Amount
	return t
}

// buckets sums by how it is taxed, the highest rate first.
type buckets []bucket

func (all *buckets) add(t TaxRule, sum money.Amount) {
	i := slices.IndexFunc(*all, func(b bucket) bool {
		return b.same(t)
	})
	if i < 0 {
		*all = append(*all, bucket{TaxRule: t, sum: sum})
		return
	}
	(*all)[i].sum += sum
}

func (all buckets) taxes(r money.Rounding) []Tax {
	slices.SortStableFunc(all, func(a, b bucket) int { return b.Percent.Cmp(a.Percent) })
	list := make([]Tax, len(all))
	for i, b := range all {
		list[i] = b.tax(r)
	}
	return list
}

// Of gives what a sum costs with the tax that is added to it, if any is.
func (t TaxRule) Of(sum money.Amount, r money.Rounding) money.Amount {
	return bucket{t, sum}.tax(r).Gross
}

// Net gives the slip's total without the taxes in it.
func (s *Slip) Net() money.Amount {
	var net money.Amount
	for _, t := range s.Taxes {
		net += t.Net
	}
	return net
}
