package web

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"ruvo/api"
)

// measures does a step of an order line by the clock, for so many minutes.
func (h *house) measures(d *client, line int64, step string, minutes int) {
	h.t.Helper()
	for _, w := range d.docket(line).Work {
		if w.Step == step && w.State != "done" {
			d.want(200, "POST", "/api/desk/work/start", fields{"items": []int64{w.Id}})
			h.ahead.Add(int64(time.Duration(minutes) * time.Minute))
			d.want(200, "POST", "/api/desk/work/finish", fields{"items": []int64{w.Id}})
			return
		}
	}
	h.t.Fatalf("there is no %s", step)
}

func (c *client) earnings(by, more string) api.Earnings {
	c.t.Helper()
	return read[api.Earnings](c.t, c.want(200, "GET", "/api/desk/earnings?by="+by+more, nil))
}

// What a new order earned is told by product, extra, choice, step and customer, each
// row with its orders, and all of them come to the same.
func TestWhatAnOrderEarns(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	before := map[string]api.EarningRow{}
	for _, r := range d.earnings("product", "").Rows {
		before[r.Key] = r
	}
	c.buys(with(chart(), fields{"title": "The night on which we met by the sea"})) // 28 letters, four beyond those that are free
	line := d.newest().Line
	h.measures(d, line, "compute", 20)
	product := func() api.EarningRow {
		t.Helper()
		e := d.earnings("product", "&key=1")
		if len(e.Rows) != 1 || e.Lines == nil {
			t.Fatalf("%+v", e)
		}
		return e.Rows[0]
	}
	after := product()
	// 38.40 with 19 % in it is 32.27 without; the size costs 1.10 more than the 2.20 of any.
	if income := after.Income - before["1"].Income; income != 3227 || after.Orders-before["1"].Orders != 1 {
		t.Errorf("income %d, %+v", income, after)
	}
	if cost := after.Cost - before["1"].Cost; cost != 330 {
		t.Errorf("cost %d", cost)
	}
	if measured := after.Measured - before["1"].Measured; measured != 20 {
		t.Errorf("measured %d", measured)
	}
	if fee := after.Fees - before["1"].Fees; fee <= 0 {
		t.Errorf("fees %d", fee)
	}
	find := func(by, label string) api.EarningRow {
		t.Helper()
		rows := d.earnings(by, "").Rows
		i := slices.IndexFunc(rows, func(r api.EarningRow) bool { return r.Label == label })
		if i < 0 {
			t.Fatalf("no %s in %+v", label, rows)
		}
		return rows[i]
	}
	if r := find("customer", "Ada Quill"); r.Income != 3227 || r.Orders != 1 || r.PerHour == nil || *r.PerHour != (r.Left*60*10/r.Minutes+5)/10 {
		t.Errorf("%+v", r)
	}
	if r := find("extra", "Title on the chart"); r.Income != 202 || r.Of == nil || r.Minutes == 0 { // 2.40 with tax
		t.Errorf("%+v", r)
	}
	// What is given back without cancelling is not earned: 10.00 of it is 8.40 without tax.
	d.want(200, "POST", fmt.Sprintf("/api/desk/orders/%d/return", d.newest().Number), fields{"amount": 1000, "note": "a smudge"})
	if r := find("customer", "Ada Quill"); r.Income != 3227-840 {
		t.Errorf("given back: %+v", r)
	}
	find("choice", "Size of the file: Large, 50 × 70 cm")
	find("step", "Compute the sky")
	for _, by := range []string{"product", "customer"} {
		e := d.earnings(by, "")
		sum := api.EarningRow{}
		for _, r := range e.Rows {
			sum.Income, sum.Fees, sum.Cost, sum.Minutes = sum.Income+r.Income, sum.Fees+r.Fees, sum.Cost+r.Cost, sum.Minutes+r.Minutes
		}
		if sum.Income != e.Total.Income || sum.Fees != e.Total.Fees || sum.Cost != e.Total.Cost || sum.Minutes != e.Total.Minutes {
			t.Errorf("by %s: %+v, all %+v", by, sum, e.Total)
		}
	}
	if e := d.earnings("product", "&currency=CHF"); e.Currency != "CHF" || len(e.Rows) == 0 || e.Total.Income == 0 {
		t.Errorf("%+v", e)
	}
	if e := d.earnings("product", "&from=2020-01-01&to=2020-12-31"); len(e.Rows) != 0 || e.Total.Orders != 0 {
		t.Errorf("%+v", e)
	}
	d.refused(422, "from earned_day", "GET", "/api/desk/earnings?by=product&from=yesterday", nil)
	d.refused(422, "currency currency_unsold", "GET", "/api/desk/earnings?by=product&currency=JPY", nil)
}

// Minutes are learned from what was measured, told with what they would change in the
// waiting work, and taken over into the draft, from which they can be taken back.
func TestLearningMinutes(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	for i := range 3 {
		c.buys(with(chart(), fields{"title": fmt.Sprint("Night ", i)}))
		h.measures(d, d.newest().Line, "compute", 22)
	}
	path := "/api/desk/learned/1/compute"
	s := read[api.LearnedStep](t, d.want(200, "GET", path, nil))
	if s.Taken.N < 10 || s.Suggested == nil || s.Suggested.Fixed < 20 || s.Suggested.Fixed > 23 || s.OffLearned >= s.Off || len(*s.Samples) != s.Taken.N {
		t.Fatalf("%+v", s)
	}
	if e := s.Effect; e == nil || e.Items == 0 || e.After <= e.Before || e.LateAfter < e.LateBefore {
		t.Errorf("%+v", e)
	}
	all := read[[]api.LearnedStep](t, d.want(200, "GET", "/api/desk/learned", nil))
	if len(all) < 5 || !slices.ContainsFunc(all, func(o api.LearnedStep) bool { return o.Step == "compute" && o.Samples == nil }) {
		t.Errorf("%d steps", len(all))
	}
	d.refused(404, "", "GET", "/api/desk/learned/1/dance", nil)
	d.refused(409, "", "POST", "/api/desk/learned/2/paper", fields{"version": 1})
	p := read[api.DeskProduct](t, d.want(200, "POST", path, fields{"version": s.Version}))
	if got := p.Draft.Steps[0].Minutes.Fixed; got != s.Suggested.Fixed || !p.Changed {
		t.Errorf("the draft has %d", got)
	}
	d.refused(409, "", "POST", path, fields{"version": s.Version}) // pressed twice
	back := read[api.DeskProduct](t, d.want(200, "POST", "/api/desk/products/1/draft/undo", fields{"version": p.Version}))
	if got := back.Draft.Steps[0].Minutes.Fixed; got != 15 {
		t.Errorf("taken back to %d", got)
	}
}

// What if: nothing changed is nothing changed; prices, minutes, hours and people each
// change what they should, and nothing is kept until it is taken over.
func TestWhatIf(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	ask := func(wish fields) api.WhatIfView {
		t.Helper()
		all := fields{"of": "last", "products": []fields{}, "people": []fields{}}
		for k, v := range wish {
			all[k] = v
		}
		return read[api.WhatIfView](t, d.want(200, "POST", "/api/desk/what-if", all))
	}
	same := ask(nil)
	if same.Now.Orders < 25 || same.Now.Income != same.Changed.Income || same.Now.Minutes != same.Changed.Minutes || same.Now.LateDays != same.Changed.LateDays {
		t.Errorf("%+v", same)
	}
	dearer := ask(fields{"products": []fields{{"product": 1, "price": 10}}})
	charts := d.earnings("product", "&key=1").Rows[0].Income
	if more := dearer.Changed.Income - dearer.Now.Income; more < charts/10-20 || more > charts/10+20 || dearer.Changed.Minutes != dearer.Now.Minutes {
		t.Errorf("%d more of %d", more, charts)
	}
	slower := ask(fields{"products": []fields{{"product": 1, "minutes": 400}}})
	if slower.Changed.Minutes <= slower.Now.Minutes || slower.Changed.LateDays < slower.Now.LateDays || *slower.Changed.PerHour >= *slower.Now.PerHour {
		t.Errorf("%+v", slower.Changed)
	}
	learned := ask(fields{"products": []fields{{"product": 1, "learned": true}}})
	if learned.Changed.Minutes <= learned.Now.Minutes {
		t.Errorf("%+v", learned.Changed)
	}
	more := ask(fields{"of": "year", "people": []fields{{"person": 4, "hours": 20}}, "more": []int64{5}})
	if more.Changed.Weeks[2].Free <= more.Now.Weeks[2].Free || more.Changed.LateDays > more.Now.LateDays {
		t.Errorf("%+v, %+v", more.Changed.Weeks, more.Now.Weeks)
	}
	before := read[api.DeskProduct](t, d.want(200, "GET", "/api/desk/products/1", nil))
	wish := fields{"of": "last", "people": []fields{}, "products": []fields{{"product": 1, "price": 10, "minutes": -20}, {"product": 2, "price": 0}}}
	taken := read[api.WhatIfTaken](t, d.want(200, "POST", "/api/desk/what-if/take", wish)).Products
	if len(taken) != 1 || taken[0].Draft.Price != 2640 || taken[0].Draft.Steps[0].Minutes.Fixed != 12 || taken[0].Draft.Cost != before.Draft.Cost {
		t.Errorf("%+v", taken)
	}
	d.refused(422, "products.0.price what_if_percent", "POST", "/api/desk/what-if", fields{"of": "last", "people": []fields{}, "products": []fields{{"product": 1, "price": -95}}})
	d.refused(422, "people.0.person what_if_person", "POST", "/api/desk/what-if", fields{"of": "last", "people": []fields{{"person": 99}}, "products": []fields{}})
	d.refused(422, "more.0 what_if_person", "POST", "/api/desk/what-if/take", fields{"of": "last", "people": []fields{}, "products": []fields{}, "more": []int{0}})
}

// Hours and people of a what-if are taken over into the settings as they were compared,
// together with the prices or not at all, and taken back.
func TestTakeHoursOver(t *testing.T) {
	h := open(t, nil)
	d := h.desk()
	settings := func() api.SettingsView {
		return read[api.SettingsView](t, d.want(200, "GET", "/api/desk/settings", nil))
	}
	wish := fields{"of": "year", "products": []fields{}, "people": []fields{{"person": 4, "hours": 20}}, "more": []int64{5}}
	compared := read[api.WhatIfView](t, d.want(200, "POST", "/api/desk/what-if", wish)).Changed
	before := settings()
	broken := fields{"of": "year", "products": []fields{{"product": 999, "price": 5}}, "people": wish["people"]}
	d.refused(404, "", "POST", "/api/desk/what-if/take", broken)
	if settings().Version != before.Version {
		t.Fatal("half of it was taken over")
	}
	taken := read[api.WhatIfTaken](t, d.want(200, "POST", "/api/desk/what-if/take", wish))
	after := settings()
	if len(taken.People) != 1 || taken.Settings == nil || *taken.Settings != after.Version || len(after.Settings.Resources) != len(before.Settings.Resources)+1 {
		t.Fatalf("%+v", taken)
	}
	same := read[api.WhatIfView](t, d.want(200, "POST", "/api/desk/what-if", fields{"of": "year", "products": []fields{}, "people": []fields{}})).Now
	for i, w := range compared.Weeks {
		if same.Weeks[i].Free != w.Free {
			t.Errorf("week %s: %d minutes were compared, there are %d", w.Monday, w.Free, same.Weeks[i].Free)
		}
	}
	d.want(200, "POST", "/api/desk/settings/undo", fields{"version": after.Version})
	if back := settings(); len(back.Settings.Resources) != len(before.Settings.Resources) {
		t.Errorf("%+v", back.Settings.Resources)
	}
}
