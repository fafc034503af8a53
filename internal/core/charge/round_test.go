package charge

import (
	"testing"

	"ruvo/internal/core/money"
)

// Source: how cash payments are rounded in Switzerland since the coins of one and
// two centimes are gone, from memory: to the nearest 5, so that 1 and 2 go down
// and 3 and 4 up. How a half of another step goes is common practice with no
// source: away from zero.
func TestCashRounding(t *testing.T) {
	for a, want := range map[money.Amount]money.Amount{1230: 1230, 1231: 1230, 1232: 1230, 1233: 1235, 1234: 1235, 1235: 1235, 1236: 1235, 1237: 1235, 1238: 1240, -1233: -1235, 2: 0, 3: 5} {
		if got := nearest(a, 5); got != want {
			t.Errorf("%d is rounded to %d, want %d", a, got, want)
		}
	}
	if nearest(1245, 10) != 1250 || nearest(1244, 10) != 1240 || nearest(1250, 100) != 1300 || nearest(1249, 100) != 1200 || nearest(7, 0) != 7 || nearest(7, 1) != 7 {
		t.Error("another step rounds otherwise")
	}
}

// What the total is rounded by is a row of its own, with no tax in it.
func TestTheTotalIsRounded(t *testing.T) {
	o := order(line(1, "19", base(1233)))
	o.Terms.RoundTo = 5
	s := o.Make()
	if got, want := print(s), "Base 12.33; Rounding 0.02 (to the nearest 0.05); 12.35"; got != want {
		t.Errorf("%s, want %s", got, want)
	}
	if len(s.Taxes) != 1 || s.Taxes[0].Gross != 1233 {
		t.Errorf("%+v", s.Taxes)
	}
	credit := o.Credited(nil).Credit(map[int]money.Amount{0: 2, 1: 1233})
	if credit.Total != 1235 || len(credit.Taxes) != 1 || credit.Taxes[0].Gross != 1233 {
		t.Errorf("%+v", credit)
	}
	o.Terms.RoundTo = 0
	if s := o.Make(); s.Total != 1233 {
		t.Errorf("%+v", s)
	}
}
