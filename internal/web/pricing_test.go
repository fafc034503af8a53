package web

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
)

// try tries a product's draft, changed as given, with answers.
func (c *client) try(product int, answers fields, change func(*api.Draft)) api.TrialResult {
	c.t.Helper()
	at := fmt.Sprintf("/api/desk/products/%d", product)
	p := read[api.DeskProduct](c.t, c.want(200, "GET", at, nil))
	if change != nil {
		change(&p.Draft)
	}
	return read[api.TrialResult](c.t, c.want(200, "POST", at+"/try", fields{"draft": p.Draft, "quantity": 1, "answers": answers}))
}

// The bench is told of each charge as a sentence, what each formula comes to,
// what formulas can read, and what one can cost.
func TestTryingPrices(t *testing.T) {
	h := open(t, nil)
	desk := h.desk()
	wall := fields{"width": 420, "height": 250, "material": "cloth"}
	r := desk.try(10, wall, nil)
	if !slices.Equal(r.Says, []string{"adds what its formula gives", "adds what its formula gives", "adds 3.50 for each word, at least 10.00", "takes off 10 % of the price so far, under a condition"}) {
		t.Errorf("%q", r.Says)
	}
	said := map[string]string{}
	for _, x := range r.Results {
		said[string(x.Part)+x.Key] = *x.Result
	}
	if said["value1"] != "10.5" || said["value2"] != "3" || said["charge1"] != "609" || said["charge2"] != "30" {
		t.Errorf("%v", said)
	}
	names := map[string][]string{}
	for _, n := range r.Names {
		names[n.Name] = nil
		if n.Codes != nil {
			names[n.Name] = *n.Codes
		}
	}
	if !slices.Equal(names["material"], []string{"paper", "cloth", "film"}) {
		t.Errorf("%v", names)
	}
	for _, n := range []string{"width", "area", "quantity", "nights", "list_price"} {
		if _, ok := names[n]; !ok {
			t.Errorf("nobody names %q", n)
		}
	}
	if _, ok := names["in_the_way"]; ok {
		t.Error("what is asked after payment cannot be in a formula")
	}
	if r.Article != "MURAL-C" || r.Range.Exact || r.Range.Least > 9000 || r.Range.Most < 200_000 {
		t.Errorf("%s %+v", r.Article, r.Range)
	}
	if due := r.Evaluation.Slip.Due; len(due) != 3 || due[0].Amount+due[1].Amount+due[2].Amount != r.Evaluation.Slip.Total || due[1].Day != "begin" || due[2].Day != "handover" {
		t.Errorf("%+v", due)
	}
	// A formula without a result says why; one with a mistake says where.
	r = desk.try(10, wall, func(d *api.Draft) {
		d.Charges[0].Rate.Formula = "area / (quantity - 1)"
		d.Values[1].Formula = "max(widht, 3)"
	})
	problem, at := "", 0
	for _, x := range r.Results {
		if x.Problem != nil {
			problem = *x.Problem
		}
	}
	for _, f := range r.Findings {
		at = max(at, f.At)
	}
	if problem != "It divides by zero for these answers, so it charges nothing." || at != 5 {
		t.Errorf("%q at %d of %+v", problem, at, r.Findings)
	}
	if r.Evaluation.Slip.Total <= 0 {
		t.Errorf("%+v", r.Evaluation.Slip)
	}
}

// Amounts have their currency's digits everywhere: in hints, slips, mails and
// exports.
func TestCurrenciesWithOtherDigits(t *testing.T) {
	for currency, want := range map[string]struct{ hint, why, mail, csv string }{
		"JPY": {"+600", "2 pictures after 3 × 600", "¥4,000", "4000"},
		"BHD": {"+0.600", "2 pictures after 3 × 0.600", "BHD\u00a04.000", "4.000"},
		"EUR": {"+6.00", "2 pictures after 3 × 6.00", "€40.00", "40.00"},
	} {
		h := open(t, nil)
		desk, c := h.desk(), h.client()
		desk.sellsIn(currency)
		desk.repriced(3)
		page := read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/photo-rescue", nil))
		if i := slices.IndexFunc(page.Questions, func(q api.QuestionView) bool { return q.Key == "pictures" }); !strings.HasPrefix(page.Questions[i].Hint, want.hint+" a picture") {
			t.Errorf("%s: %q", currency, page.Questions[i].Hint)
		}
		link := c.buys(fields{"product": "photo-rescue", "quantity": 1, "answers": fields{"pictures": 5}})
		o := read[api.OrderPage](t, c.want(200, "GET", link, nil))
		if string(o.Slip.Currency) != currency || o.Slip.Total != 4000 || o.Slip.Lines[1].Why != want.why {
			t.Errorf("%s: %+v", currency, o.Slip)
		}
		if m := h.lastMail(); !strings.Contains(m.Body, want.mail) {
			t.Errorf("%s: %s", currency, m.Body)
		}
		csv := string(desk.want(200, "GET", fmt.Sprintf("/api/desk/orders.csv?text=%d", o.Number), nil).body)
		if !strings.Contains(csv, want.csv) {
			t.Errorf("%s: %s", currency, csv)
		}
		h.audit()
	}
}

// What lies exactly between two amounts goes where the business says, and a
// slip keeps lines at zero if it wants them.
func TestHowTheBusinessComputes(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	total := func() string {
		e := read[api.Evaluation](t, c.want(200, "POST", "/api/shop/products/photo-rescue/evaluate", fields{"quantity": 1, "answers": fields{"pictures": 2, "licence": true}}))
		return fmt.Sprint(e.Slip.Total, " in ", len(e.Slip.Lines))
	}
	odd := func(d *api.Draft) {
		d.Price = 2825
		d.Charges[2].Rate.Percent = ptrOf(percentOf("10")) // of 28.25 is 2.825
	}
	desk.change(3, odd)
	if got := total(); got != "3108 in 2" {
		t.Error(got)
	}
	desk.terms(func(b *api.BusinessTerms) { b.Rounding, b.ShowZero = "half_even", true })
	if got := total(); got != "3108 in 2" {
		t.Errorf("%s: what is on sale changed by itself", got)
	}
	desk.change(3, func(*api.Draft) {})
	if got := total(); got != "3107 in 3" { // the pictures that are included stay as a line
		t.Error(got)
	}
	h.audit()
}

func ptrOf[T any](v T) *T { return &v }

// A question can be for one group only.
func TestQuestionsForAGroup(t *testing.T) {
	h := open(t, nil)
	desk := h.desk()
	desk.change(7, func(d *api.Draft) {
		for i := range d.Questions {
			if d.Questions[i].Key == "engraving" {
				d.Questions[i].When = &condition.Condition{Fact: condition.Group, Op: condition.Is, Value: []byte(`"night-schools"`)}
			}
		}
	})
	ask := func(c *client) int {
		e := read[api.Evaluation](t, c.want(200, "POST", "/api/shop/products/red-lamp/evaluate", fields{"quantity": 1, "answers": fields{"engraving": "Orion"}}))
		return int(e.Slip.Total)
	}
	if got := ask(h.client()); got != 950 {
		t.Errorf("a stranger pays %d", got)
	}
	c := h.client()
	c.want(204, "POST", "/api/shop/pass", fields{"email": "odalys@example.org"})
	c.want(200, "POST", "/api/shop/pass/open", fields{"token": passLink.FindStringSubmatch(h.lastMail().Body)[1]})
	if got := ask(c); got != 820+200 {
		t.Errorf("a school pays %d", got)
	}
	// The order keeps the group that it was made under.
	link := c.buys(fields{"product": "red-lamp", "quantity": 1, "answers": fields{"engraving": "Orion"}})
	c.want(200, "DELETE", "/api/shop/pass", nil)
	if o := read[api.OrderPage](t, c.want(200, "GET", link, nil)); o.Money.Group == nil || *o.Money.Group != "night-schools" || len(o.Lines[0].Asked) != 1 {
		t.Errorf("%+v", o.Money)
	}
	h.audit()
}

// The shelf says the least that one costs; a group's products are not on it.
func TestPricesOnTheShelf(t *testing.T) {
	c := open(t, nil).client()
	want := map[string]string{
		"sky-chart": "2400 from", "gift-voucher": "0 decided", "red-lamp": "950 from", "telescope-hire": "1400 from", "evening-under-the-stars": "2400 from",
		"photo-rescue": "2800 from", "observatory-cabin": "17100 from", "star-party": "0 chosen", "mural": "", "dinner-under-the-dome": "9000 from", "first-night-set": "1150 from",
		"lesson-at-the-telescope": "3600 from", "solar-telescope": "3500 from", "six-evenings": "18000 from", "winter-skies": "600 from",
	}
	for _, p := range read[api.ShopFront](t, c.want(200, "GET", "/api/shop", nil)).Products {
		say, ok := want[p.Slug]
		if !ok {
			t.Errorf("%s is on the shelf", p.Slug)
		}
		if got := fmt.Sprint(p.Price, " ", p.Hint); say != "" && got != say {
			t.Errorf("%s: %s, want %s", p.Slug, got, say)
		}
	}
}

// The overview sums what came in, and lists what is open and held until it is
// settled.
func TestMoneyOverview(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	view := func() api.MoneyView { return read[api.MoneyView](t, desk.want(200, "GET", "/api/desk/money", nil)) }
	before := view()
	if len(before.Periods) != 12 || before.Periods[0].Period != "2026-11" || len(before.Waiting) != 6 {
		t.Fatalf("%+v", before)
	}
	at := checkout()
	c.want(200, "PUT", at, whole(basket(chart()), fields{"coupons": []string{"NEW-MOON"}, "tip": 700}))
	c.pay(at)
	after := view()
	a, b := before.Periods[0], after.Periods[0]
	if b.Orders != a.Orders+1 || b.Charged != a.Charged+3240+700 || b.Paid != a.Paid+3240+700 || b.Given != a.Given+700 || b.Coupons != a.Coupons+360 {
		t.Errorf("%+v, before %+v", b, a)
	}
	sum := 0
	for _, x := range b.Taxes {
		sum += x.Net + x.Amount
	}
	if sum != b.Charged-b.Vouchers { // which are taxed when they are used
		t.Errorf("the taxes are on %d of %d", sum, b.Charged-b.Vouchers)
	}
	for _, w := range after.Waiting {
		if w.Held > 0 {
			desk.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/release", w.Number), fields{})
		}
		if w.Open > 0 {
			desk.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/receive", w.Number), fields{})
		}
	}
	if v := view(); len(v.Waiting) != 0 {
		t.Errorf("%+v", v.Waiting)
	}
}

// A coupon and a tip stay with an order whose answers change later, and the
// order's slip is made again from what it keeps.
func TestCouponsOutliveChangedAnswers(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	at := checkout()
	c.want(200, "PUT", at, whole(basket(chart()), fields{"coupons": []string{"NEW-MOON"}, "tip": 200}))
	link := c.pay(at)
	for _, row := range read[[]api.CouponRow](t, desk.want(200, "GET", "/api/desk/coupons", nil)) {
		if row.Coupon.Code == "NEW-MOON" {
			desk.want(200, "POST", fmt.Sprintf("/api/desk/coupons/%d/off", row.Id), nil)
		}
	}
	desk.terms(func(b *api.BusinessTerms) { b.Terms = charge.Terms{} })
	o := read[api.OrderPage](t, c.want(200, "GET", link, nil))
	line := o.Lines[0]
	o = read[api.OrderPage](t, c.want(200, "PATCH", fmt.Sprintf("%s/lines/%d/answers", link, line.Id), fields{"version": line.Version, "answers": fields{"place": "Elvdal"}}))
	if o.Slip.Total != 3240+200 || o.Slip.Lines[len(o.Slip.Lines)-1].Part != charge.PartTip {
		t.Errorf("%+v", o.Slip)
	}
	h.audit()
}

// Hostile terms and coupons are refused with a reason, and nothing is kept.
func TestHostileTerms(t *testing.T) {
	h := open(t, nil)
	desk, c := h.desk(), h.client()
	before := desk.want(200, "GET", "/api/desk/terms", nil).body
	for _, terms := range []string{
		`{"charges":[{"label":"X","effect":"adds","tax":"0"}]}`, `{"charges":[{"label":"X","effect":"adds","amount":-5,"tax":"0"}]}`,
		`{"charges":[{"label":"X","effect":"sets","amount":5,"tax":"0"}]}`, `{"tip":{"label":"X","least":900,"most":100,"tax":"0"}}`,
		`{"tip":{"label":"X","tax":"999"}}`, `{"charges":[{"label":"X","effect":"adds","percent":"1e9","tax":"0"}]}`,
	} {
		body := `{"currency":"EUR","rounding":"","tax_added":false,"show_zero":false,"few":3,"currencies":[],"terms":` + terms + `}`
		desk.refused(422, "terms terms", "PUT", "/api/desk/terms", body)
	}
	for _, coupon := range []string{
		`{"code":"ABC"}`, `{"code":"ABC","amount":5,"percent":"5"}`, `{"code":"a b","amount":5}`, `{"code":"ABC","percent":"101"}`, `{"code":"ABC","amount":0}`,
		`{"code":"ABC","amount":5,"from":"2026-12-02","to":"2026-12-01"}`, `{"code":"ABC","amount":5,"least_order":-1}`,
	} {
		desk.refused(422, "coupon coupon", "POST", "/api/desk/coupons", `{"coupon":`+coupon+`,"most_uses":0,"most_each":0}`)
	}
	if after := desk.want(200, "GET", "/api/desk/terms", nil).body; string(after) != string(before) {
		t.Error("something of it was kept")
	}
	// A customer's odd extras.
	for _, extra := range []fields{
		{"tip": -1}, {"tip": int64(money.Largest) * 2}, {"coupons": []string{"", " ", strings.Repeat("X", 5000)}}, {"buyer": fields{"business": true, "company": strings.Repeat("x", 9999), "country": "💫", "tax_id": "'; DROP"}},
	} {
		v := read[api.BasketView](t, c.want(200, "POST", "/api/shop/basket", whole(fields{"lines": []fields{chart()}}, extra)))
		if v.Slip.Total != 3600 || len(v.Faults) == 0 {
			t.Errorf("%v: %d, %+v", extra, v.Slip.Total, v.Faults)
		}
	}
	c.refused(413, "", "POST", "/api/shop/basket", fields{"lines": slices.Repeat([]fields{chart()}, 60)})
}
