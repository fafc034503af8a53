package web

import (
	"encoding/csv"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/api"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

// The log keeps who did what, from where and when, can be searched and taken
// out, and tells nothing of what customers answered.
func TestTheLog(t *testing.T) {
	h := guarded(t)
	desk := h.client().from("203.0.113.1")
	desk.want(200, "POST", "/api/desk/session", signIn("under the same sky"))
	groups := read[[]api.CustomerGroup](t, desk.want(200, "POST", "/api/desk/groups", fields{"name": "Night club", "domains": []string{}}))
	id := fmt.Sprint(groups[slices.IndexFunc(groups, func(g api.CustomerGroup) bool { return g.Name == "Night club" })].Id)
	desk.want(200, "PUT", "/api/desk/groups/"+id, fields{"name": "Night clubs", "domains": []string{}})
	desk.want(200, "POST", "/api/desk/groups/"+id+"/invite", nil)
	desk.want(200, "POST", "/api/desk/groups/"+id+"/members", fields{"emails": []string{"secret-member@example.org"}})
	desk.want(200, "DELETE", "/api/desk/groups/"+id+"/members", fields{"emails": []string{"secret-member@example.org"}})
	desk.want(200, "DELETE", "/api/desk/groups/"+id, nil)
	desk.terms(func(b *api.BusinessTerms) { b.Few = 5 })
	desk.coupon(fields{"code": "NOVA-TEN", "percent": "10"}, 0, 0)
	desk.change(1, func(d *api.Draft) { d.Title = "Sky chart, new" })
	o := read[api.OrderPage](t, desk.want(200, "GET", desk.buys(chart()), nil))
	line := itoa(o.Lines[0].Id)
	desk.want(200, "POST", "/api/desk/dockets/"+line+"/relink", nil)
	desk.want(200, "POST", "/api/desk/dockets/"+line+"/end_links", nil)
	desk.money(o.Number, "cancel", true)
	counts := desk.counts(fields{"product": 3, "pieces": 3})
	for range 2 { // a doubled click
		desk.want(200, "DELETE", fmt.Sprintf("/api/desk/stock/%d", counts), nil)
	}
	desk.want(200, "GET", "/api/desk/orders.csv", nil)
	desk.want(200, "GET", "/api/desk/worksheets/1/compute/table.csv", nil)
	stranger := h.client().from("203.0.113.2")
	stranger.refused(401, "", "POST", "/api/desk/session", fields{"email": "my password in the wrong field", "password": "x"})
	stranger.refused(401, "", "GET", "/api/desk/orders", nil)
	stranger.refused(401, "", "GET", "/api/desk/session", nil) // what every desk asks when it opens

	page := func(query string) api.LogPage {
		t.Helper()
		return read[api.LogPage](t, desk.want(200, "GET", "/api/desk/log?"+query, nil))
	}
	var got []string
	for _, e := range page("").Entries {
		if e.Who != "" && e.Who != "Ilse Brandt" || !e.At.Equal(today) && e.Address != "" {
			t.Errorf("%+v", e)
		}
		if e.Address != "" {
			got = append(got, strings.Join([]string{e.Who, e.What, e.About, e.Address}, " | "))
		}
	}
	number := fmt.Sprint(o.Number)
	want := []string{
		" | was refused for want of rights | GET /api/desk/orders | 203.0.113.2",
		" | failed to sign in |  | 203.0.113.2",
		"Ilse Brandt | exported a worksheet | compute | 203.0.113.1",
		"Ilse Brandt | exported orders |  | 203.0.113.1",
		"Ilse Brandt | stopped counting | Photo rescue | 203.0.113.1",
		"Ilse Brandt | cancelled an order | " + number + " | 203.0.113.1",
		"Ilse Brandt | ended an order's private links | " + number + " | 203.0.113.1",
		"Ilse Brandt | replaced an order's private links | " + number + " | 203.0.113.1",
		"Ilse Brandt | published a product | Sky chart, new | 203.0.113.1",
		"Ilse Brandt | made coupons | NOVA-TEN (1) | 203.0.113.1",
		"Ilse Brandt | changed the terms |  | 203.0.113.1",
		"Ilse Brandt | took a customer group away | Night clubs | 203.0.113.1",
		"Ilse Brandt | took members out | Night clubs (1) | 203.0.113.1",
		"Ilse Brandt | added members | Night clubs (1) | 203.0.113.1",
		"Ilse Brandt | made a new sign-up link | Night clubs | 203.0.113.1",
		"Ilse Brandt | changed a customer group | Night clubs | 203.0.113.1",
		"Ilse Brandt | made a customer group | Night club | 203.0.113.1",
		"Ilse Brandt | signed in |  | 203.0.113.1",
	}
	if !slices.Equal(got, want) {
		t.Errorf("the log is\n%s", strings.Join(got, "\n"))
	}
	for query, n := range map[string]int64{
		"topic=access&text=203.0.113": 3, "text=Night+clubs": 5, "topic=money&text=203.0.113": 1, "text=nobody+at+all": 0, "from=2026-11-24&to=2026-11-24&text=203.0.113": int64(len(want)),
		"from=2026-11-25": 0, "text=%25": 0,
	} {
		if v := page(query); v.Total != n {
			t.Errorf("%s: %d entries, want %d", query, v.Total, n)
		}
	}
	desk.refused(422, "from day", "GET", "/api/desk/log?from=yesterday", nil)
	a := desk.want(200, "GET", "/api/desk/log.csv?topic=prices&text=203.0.113", nil)
	rows, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(string(a.body), "\ufeff"))).ReadAll()
	must(t, err)
	if len(rows) != 5 || rows[2][2] != "published a product" || rows[1][0] != "2026-11-24T08:30:00Z" {
		t.Errorf("%q", rows)
	}
	if e := page("topic=exports").Entries[0]; e.What != "exported the log" {
		t.Errorf("%+v", e)
	}
	german := read[api.LogPage](t, desk.want(200, "GET", "/api/desk/log?topic=money", nil, "Accept-Language", "de"))
	if german.Entries[0].What != "hat eine Bestellung storniert" {
		t.Errorf("%+v", german.Entries[0])
	}
	// It holds more than a page, and forgets after a while.
	for range 60 {
		desk.want(200, "GET", "/api/desk/orders.csv?text=nobody", nil)
	}
	first, second := page("topic=exports"), page("topic=exports&page=2")
	if first.Total != second.Total || len(first.Entries) != first.Size || len(second.Entries) != int(first.Total)-first.Size {
		t.Errorf("%d, %d of %d", len(first.Entries), len(second.Entries), first.Total)
	}
	h.ahead.Store(int64(401 * 24 * time.Hour))
	must(t, h.server.Desk.Sweep(t.Context()))
	db := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File))
	var n int
	must(t, db.QueryRow("SELECT COUNT(*) FROM log_entries").Scan(&n))
	if n != 0 {
		t.Errorf("%d entries are kept for ever", n)
	}
}

// Somebody who asks for what is not theirs all day fills no disk.
func TestStrangersDoNotFillTheLog(t *testing.T) {
	h := guarded(t)
	c := h.client().from("203.0.113.1")
	for range 300 {
		c.send("GET", "/api/desk/orders", nil)
	}
	v := read[api.LogPage](t, h.desk().want(200, "GET", "/api/desk/log?text=203.0.113.1", nil))
	if v.Total != 60 {
		t.Errorf("%d entries", v.Total)
	}
}

// A change that is not kept is not in the log either, and the other way round.
func TestTheLogStandsAndFallsWithTheChange(t *testing.T) {
	h := open(t, nil)
	desk := h.desk()
	before := read[api.LogPage](t, desk.want(200, "GET", "/api/desk/log", nil)).Total
	desk.refused(422, "coupon.products coupon_product", "POST", "/api/desk/coupons", fields{"coupon": fields{"code": "NOVA-TEN", "percent": "10", "products": []int{987}}, "most_uses": 0, "most_each": 0})
	desk.refused(404, "", "POST", "/api/desk/groups/987/invite", nil)
	if n := read[api.LogPage](t, desk.want(200, "GET", "/api/desk/log", nil)).Total; n != before {
		t.Errorf("the log has %d more entries", n-before)
	}
	db := storetest.SQL(t, filepath.Join(h.store.Folder(), store.File))
	_, err := db.Exec("CREATE TRIGGER shut BEFORE INSERT ON log_entries BEGIN SELECT RAISE(ABORT, 'no'); END")
	must(t, err)
	desk.want(500, "POST", "/api/desk/coupons", fields{"coupon": fields{"code": "NOVA-TEN", "percent": "10"}, "most_uses": 0, "most_each": 0})
	desk.want(500, "GET", "/api/desk/orders.csv", nil)
	if rows := read[[]api.CouponRow](t, desk.want(200, "GET", "/api/desk/coupons", nil)); slices.ContainsFunc(rows, func(r api.CouponRow) bool { return r.Coupon.Code == "NOVA-TEN" }) {
		t.Error("a coupon that is not in the log was made")
	}
}
