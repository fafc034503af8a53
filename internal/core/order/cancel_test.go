package order

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
)

func percentBack(from charge.CancelFrom, count int, percent string) charge.CancelRule {
	p := decimal.RequireFromString(percent)
	return charge.CancelRule{From: from, Count: count, Portion: charge.Portion{Percent: &p}}
}

func amountBack(from charge.CancelFrom, count int, a money.Amount) charge.CancelRule {
	return charge.CancelRule{From: from, Count: count, Portion: charge.Portion{Amount: &a}}
}

// Which rule holds at an instant, reckoned with a calendar by hand. The booking
// is on Sunday 28 March 2027 at 10:00 in Berlin, on the morning of which the
// clocks go forward.
func TestWhichCancelRuleHolds(t *testing.T) {
	berlin, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		t.Fatal(err)
	}
	at := func(s string) time.Time {
		if s == "" {
			return time.Time{}
		}
		v, err := time.ParseInLocation("2006-01-02 15:04", s, berlin)
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
	hours := percentBack(charge.FromBooking, 24, "25")
	hours.Hours = true
	rules := &charge.Cancelling{Rules: []charge.CancelRule{percentBack(charge.FromPlacing, 14, "100"), percentBack(charge.FromBooking, 7, "50"), hours}}
	work := &charge.Cancelling{Rules: []charge.CancelRule{percentBack(charge.FromWork, 0, "80"), amountBack(charge.FromAlways, 0, 0)}}
	for _, c := range []struct {
		rules  *charge.Cancelling
		now    string
		begun  string
		booked string
		want   string // the per cent; - for none
	}{
		{rules, "2027-03-01 09:00", "", "2027-03-28 10:00", "100"}, {rules, "2027-03-15 23:59", "", "2027-03-28 10:00", "100"},
		{rules, "2027-03-16 00:00", "", "2027-03-28 10:00", "50"}, {rules, "2027-03-21 23:59", "", "2027-03-28 10:00", "50"},
		{rules, "2027-03-22 00:00", "", "2027-03-28 10:00", "25"},
		{rules, "2027-03-27 09:00", "", "2027-03-28 10:00", "25"}, // 24 hours before, as one is left out that night
		{rules, "2027-03-27 09:01", "", "2027-03-28 10:00", "-"}, {rules, "2027-03-29 00:00", "", "2027-03-28 10:00", "-"},
		{rules, "2027-04-20 00:00", "", "", "-"}, // nothing is booked
		{work, "2027-06-01 12:00", "", "", "80"}, {work, "2027-06-01 12:00", "2027-06-01 12:01", "", "80"}, {work, "2027-06-01 12:00", "2027-06-01 12:00", "", "0"},
		{nil, "2027-03-01 09:00", "", "", "-"}, {&charge.Cancelling{}, "2027-03-01 09:00", "", "", "-"},
	} {
		rule, ok := c.rules.At(charge.Undoing{Now: at(c.now), Placed: at("2027-03-01 08:00"), Begun: at(c.begun), Booked: at(c.booked), Zone: berlin})
		got := "-"
		if ok {
			got = "0"
			if rule.Percent != nil {
				got = rule.Percent.String()
			}
		}
		if got != c.want {
			t.Errorf("on %s, begun %q, booked %q: %s, want %s", c.now, c.begun, c.booked, got, c.want)
		}
	}
}

// What the rules say in words, and what is wrong with some.
func TestCancelRulesInWords(t *testing.T) {
	asking := amountBack(charge.FromBooking, 0, 2500)
	asking.Asking = true
	rules := &charge.Cancelling{Rules: []charge.CancelRule{percentBack(charge.FromPlacing, 14, "100"), percentBack(charge.FromBooking, 1, "50"), asking}}
	want := "Up to 14 days after the order: all of it comes back. Up to 1 day before the booking: 50 % come back. Before the booking begins: 25.00 come back. Please write to us for it. Otherwise nothing comes back."
	if got := strings.Join(rules.Said("EUR", "en"), " "); got != want {
		t.Errorf("%s", got)
	}
	if err := rules.Validate(); err != nil {
		t.Error(err)
	}
	for _, bad := range []charge.CancelRule{
		{}, {From: "sometime", Portion: asking.Portion}, {From: charge.FromAlways}, percentBack(charge.FromPlacing, 0, "5"), percentBack(charge.FromBooking, 1001, "5"),
		percentBack(charge.FromAlways, 3, "5"), percentBack(charge.FromWork, 0, "101"), amountBack(charge.FromAlways, 0, -1),
	} {
		if (&charge.Cancelling{Rules: []charge.CancelRule{bad}}).Validate() == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
	if (&charge.Cancelling{Rules: make([]charge.CancelRule, 11)}).Validate() == nil {
		t.Error("eleven rules are taken")
	}
}

// Cancelling line by line, in any order, gives what cancelling all at once
// gives, and never more than was charged.
func TestCancellingLineByLine(t *testing.T) {
	r := rand.New(rand.NewPCG(61, 62))
	now := time.Date(2027, 3, 10, 12, 0, 0, 0, time.UTC)
	at := charge.Undoing{Now: now, Placed: now.AddDate(0, 0, -3), Booked: now.AddDate(0, 0, 10), Zone: time.UTC}
	some := func() *charge.Cancelling {
		if r.IntN(5) == 0 {
			return nil
		}
		rule := percentBack(charge.FromAlways, 0, fmt.Sprint(r.IntN(101)))
		if r.IntN(3) == 0 {
			rule = amountBack(charge.FromAlways, 0, money.Amount(r.Int64N(15000)))
		}
		return &charge.Cancelling{Rules: []charge.CancelRule{rule}}
	}
	for range 3000 {
		o := charge.Order{Terms: charge.Terms{Tip: &charge.Tip{Label: "Tip"}}, Tip: money.Amount(r.Int64N(3)) * 250}
		var undone []Undone
		for i := range 1 + r.IntN(4) {
			price := money.Amount(r.Int64N(20000))
			o.Lines = append(o.Lines, charge.OrderLine{
				Product: int64(i), Quantity: 1, Tax: charge.TaxRule{Percent: decimal.NewFromInt(int64(r.IntN(3)) * 7)},
				Slip: charge.Slip{Currency: "EUR", Lines: []charge.Line{{Label: "Base", Amount: price}}, Total: price},
			})
			undone = append(undone, Undone{Of: i + 1, Rules: some(), At: at})
		}
		whole := &Undone{Rules: some(), At: at}
		once := o.Credited(nil)
		all := once.Credit(Offs(CancelLines(once, undone, whole)))
		if slip := o.Make(); all.Total < 0 || all.Total > slip.Total {
			t.Fatalf("%d of %d", all.Total, slip.Total)
		}
		r.Shuffle(len(undone), func(i, j int) { undone[i], undone[j] = undone[j], undone[i] })
		var before []charge.Credit
		var sum money.Amount
		taxes := map[string]money.Amount{}
		for i, u := range undone {
			last := whole
			if i < len(undone)-1 {
				last = nil
			}
			c := o.Credited(before)
			credit := c.Credit(Offs(CancelLines(c, []Undone{u}, last)))
			before, sum = append(before, credit), sum+credit.Total
			for _, x := range credit.Taxes {
				taxes[x.Percent.String()] += x.Amount
			}
		}
		for _, x := range all.Taxes {
			taxes[x.Percent.String()] -= x.Amount
		}
		for rate, off := range taxes {
			if off != 0 {
				t.Fatalf("the tax at %s %% is %d more line by line", rate, off)
			}
		}
		if sum != all.Total {
			t.Fatalf("%d line by line, %d at once", sum, all.Total)
		}
	}
}

// Customers cancel by themselves what a rule lets them.
func TestSelfCancel(t *testing.T) {
	free, asking := percentBack(charge.FromAlways, 0, "50"), percentBack(charge.FromAlways, 0, "50")
	asking.Asking = true
	for _, c := range []struct {
		list []charge.Cancelled
		want bool
	}{
		{nil, false}, {[]charge.Cancelled{{Of: 1, Rule: &free}}, true}, {[]charge.Cancelled{{Of: 1, Rule: &free}, {Of: 0}}, true},
		{[]charge.Cancelled{{Of: 1, Rule: &free}, {Of: 2}}, false}, {[]charge.Cancelled{{Of: 1, Rule: &asking}}, false}, {[]charge.Cancelled{{Of: 0, Rule: &free}}, false},
	} {
		if got := SelfCancel(c.list); got != c.want {
			t.Errorf("%+v: %v", c.list, got)
		}
	}
}
