package web

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/core/charge"
)

// Every figure of the money page is the sum of the entries that it leads to, by
// day, week and month, and by way; the weeks are those of ISO 8601, of which
// 2026-12-31 is in the 53rd (the standard's own rule: the week with the year's
// first Thursday is the first).
func TestFiguresLeadToTheirEntries(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	o, _ := c.orders(desk.inParts())
	desk.moves(o.Number, "receive", fields{"amount": 500, "way": "cash"})
	desk.moves(o.Number, "return", fields{"amount": 100, "note": "for the wait"})
	sum := func(query string) (amount, net int) {
		t.Helper()
		all, shown := read[api.EntryPage](t, desk.want(200, "GET", "/api/desk/money/entries?"+query, nil)), 0
		for _, e := range all.Entries {
			shown += e.Amount
		}
		if all.More == nil && (shown != all.Amount || len(all.Entries) != all.Count) {
			t.Errorf("%s: %d entries come to %d, and %d are told to come to %d", query, len(all.Entries), shown, all.Count, all.Amount)
		}
		return all.Amount, all.Net
	}
	for _, by := range []string{"day", "week", "month"} {
		v := read[api.MoneyView](t, desk.want(200, "GET", "/api/desk/money?by="+by, nil))
		paid := 0
		for i, p := range v.Periods {
			span := fmt.Sprintf("from=%s&to=%s", p.From, p.To)
			if i > 0 && p.To >= v.Periods[i-1].From || p.From > p.To {
				t.Errorf("%s after %s", v.Periods[i-1].Period, p.Period)
			}
			for what, figure := range map[string]int{
				"&kind=paid&way=money": p.Paid, "&kind=returned&way=money": p.Returned, "&kind=fee": p.Fees, "&kind=held": p.Held, "&kind=released": p.Released,
				"&figure=ordered": p.Charged, "&figure=given": p.Given, "&figure=by_coupons": p.Coupons,
				"&figure=vouchers": p.Vouchers, "&figure=by_voucher": p.ByVoucher,
			} {
				if got, _ := sum(span + what); got != figure {
					t.Errorf("%s %s: %d, and its entries come to %d", p.Period, what, figure, got)
				}
			}
			for _, x := range p.Taxes {
				if got, net := sum(span + "&figure=tax&percent=" + x.Percent); got != x.Amount || net != x.Net {
					t.Errorf("%s, tax at %s: %d of %d, and its shares come to %d of %d", p.Period, x.Percent, x.Amount, x.Net, got, net)
				}
			}
			ways := 0
			for _, w := range p.Ways {
				if w.Way != "voucher" { // it came in when it was sold
					ways += w.Paid
				}
				if got, _ := sum(span + "&kind=paid&way=" + string(w.Way)); got != w.Paid {
					t.Errorf("%s by %s: %d, and its entries come to %d", p.Period, w.Way, w.Paid, got)
				}
			}
			if ways != p.Paid {
				t.Errorf("%s: the ways come to %d of %d", p.Period, ways, p.Paid)
			}
			paid += p.Paid
		}
		if paid == 0 {
			t.Errorf("nothing came in by %s", by)
		}
	}
	v := read[api.MoneyView](t, desk.want(200, "GET", "/api/desk/money?by=week&from=2026-12-28&to=2027-01-05", nil))
	if len(v.Periods) != 2 || v.Periods[1].Period != "2026-W53" || v.Periods[1].To != "2027-01-03" || v.Periods[0].Period != "2027-W01" {
		t.Errorf("%+v", v.Periods)
	}
	for _, bad := range []struct{ query, codes string }{{"by=year", "by money_by"}, {"from=soon", "from day"}, {"from=2026-11-25&to=2026-11-24", "from money_span"}, {"from=1999-01-01", "from money_span"}} {
		desk.refused(422, bad.codes, "GET", "/api/desk/money?"+bad.query, nil)
	}
	for _, bad := range []struct{ query, codes string }{{"kind=lost", "kind unknown"}, {"way=stamps", "way unknown"}, {"figure=luck", "figure unknown"}, {"to=31.12.", "to day"}} {
		desk.refused(422, bad.codes, "GET", "/api/desk/money/entries?"+bad.query, nil)
	}
	rows := strings.Count(string(desk.want(200, "GET", "/api/desk/money/entries.csv", nil).body), "\r\n")
	if n := h.rows("ledger_entries"); rows != n+1 {
		t.Errorf("%d lines of a table of %d entries", rows, n)
	}
}

// What is open, due, overdue, held and to be returned by now.
func TestMoneyByNow(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	now := func() api.MoneyNow { return read[api.MoneyView](t, desk.want(200, "GET", "/api/desk/money", nil)).Now }
	before := now()
	desk.change(3, func(d *api.Draft) {
		part := percentOf("25")
		d.Payment = &api.PaymentPlan{Portion: charge.Portion{Percent: &part}, Rest: "order", Days: 10}
		d.Deposit = 1500
	})
	c.orders(photos()) // 7.00 of 28.00 now
	if v := now(); v.Open-before.Open != 2100 || v.Due != before.Due || v.Overdue != before.Overdue || v.Held-before.Held != 1500 {
		t.Errorf("%+v, before %+v", v, before)
	}
	h.ahead.Store(int64(10 * 24 * time.Hour))
	desk = h.desk()
	dueThen := now()
	h.ahead.Store(int64(11 * 24 * time.Hour))
	desk = h.desk()
	if v := now(); v.Overdue-dueThen.Overdue < 2100 || dueThen.Due-dueThen.Overdue < 2100 {
		t.Errorf("on its day %+v, a day later %+v", dueThen, v)
	}
	found := false
	for _, w := range read[api.Today](t, desk.want(200, "GET", "/api/desk/today", nil)).Overdue {
		found = found || w.Customer == "Ada Quill" && w.Overdue == 2100
	}
	if !found {
		t.Error("Today does not tell of it")
	}
}
