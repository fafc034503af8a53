package web

import (
	"cmp"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"ruvo/api"
)

// A visit is one line of the log that is replayed: what somebody did on the product's
// page, in order.
type visit struct {
	came    string // opened, returned
	reached []string
	took    map[string]int // seconds at a question
	added   bool
}

// madeUpLog makes up a log of visits.
func madeUpLog(r *rand.Rand, keys []string) []visit {
	var log []visit
	for range 60 {
		v := visit{came: "opened", took: map[string]int{}}
		if r.IntN(4) == 0 {
			v.came = "returned"
		}
		for _, k := range keys[:r.IntN(len(keys)+1)] {
			v.reached = append(v.reached, k)
			if r.IntN(3) > 0 {
				v.took[k] = r.IntN(90)
			}
		}
		v.added = len(v.reached) == len(keys)
		log = append(log, v)
	}
	return log
}

func (v *visit) events() []fields {
	list := []fields{{"what": v.came}}
	if len(v.took) > 0 {
		list = append(list, fields{"what": "began"})
	}
	for _, k := range v.reached {
		list = append(list, fields{"what": "reached", "key": k})
		if s, ok := v.took[k]; ok {
			list = append(list, fields{"what": "took", "key": k, "seconds": s})
		}
	}
	if v.added {
		list = append(list, fields{"what": "added"})
	}
	return list
}

// What is counted agrees with a log that is replayed, which is summed here by itself;
// medians lie where those of the log do. Orders count as they were placed.
func TestStopsAgreeWithAReplayedLog(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	const slug = "mural" // nobody has counted anything of it yet
	page := read[api.ProductPage](t, c.want(200, "GET", "/api/shop/products/"+slug, nil))
	id := int64(0)
	for _, p := range read[[]api.ProductRow](t, d.want(200, "GET", "/api/desk/products", nil)) {
		if p.Slug == slug {
			id = p.Id
		}
	}
	keys := []string{"wide", "high", "print"}
	keys = keys[:0]
	for _, q := range page.Questions {
		if q.Moment == "choosing" && q.Kind != "heading" && q.Kind != "section" && q.Kind != "note" && q.Kind != "picture" {
			keys = append(keys, q.Key)
		}
	}
	log := madeUpLog(rand.New(rand.NewPCG(7, 7)), keys)
	for _, v := range log {
		c.want(204, "POST", "/api/shop/products/"+slug+"/counts", fields{"edition": page.Edition, "events": v.events()})
	}
	path := fmt.Sprintf("/api/desk/products/%d/stops", id)
	shown := read[api.Stops](t, d.want(200, "GET", path, nil))
	if len(shown.Editions) != 1 {
		t.Fatalf("%+v", shown)
	}
	e := shown.Editions[0]
	sum := func(counts func(*visit) bool) (n int) {
		for i := range log {
			if counts(&log[i]) {
				n++
			}
		}
		return n
	}
	for what, n := range map[string][2]int{
		"opened":   {e.Opened, sum(func(v *visit) bool { return v.came == "opened" })},
		"returned": {e.Returned, sum(func(v *visit) bool { return v.came == "returned" })},
		"began":    {e.Began, sum(func(v *visit) bool { return len(v.took) > 0 })},
		"added":    {e.Added, sum(func(v *visit) bool { return v.added })},
	} {
		if n[0] != n[1] {
			t.Errorf("%s: %d are counted, and the log has %d", what, n[0], n[1])
		}
	}
	for _, q := range e.Questions {
		reached := sum(func(v *visit) bool { return slices.Contains(v.reached, q.Key) })
		var times []int
		for _, v := range log {
			if s, ok := v.took[q.Key]; ok {
				times = append(times, s)
			}
		}
		slices.Sort(times)
		if q.Reached != reached || q.Answered != len(times) {
			t.Errorf("%s: %d reached and %d answered, and the log has %d and %d", q.Key, q.Reached, q.Answered, reached, len(times))
		}
		if len(times) == 0 {
			continue
		}
		// Within the widest span of up to 90 seconds, which is 30.
		if middle := times[len(times)/2]; q.Median == nil || *q.Median < float64(middle)-30 || *q.Median > float64(middle)+30 {
			t.Errorf("%s: the median is %v, and the middle of %v is %d", q.Key, cmp.Or(q.Median), times, middle)
		}
	}

	// Whoever works at the desk is no customer; what is no question counts for nothing.
	d.want(204, "POST", "/api/shop/products/"+slug+"/counts", fields{"edition": page.Edition, "events": []fields{{"what": "opened"}}})
	c.want(204, "POST", "/api/shop/products/"+slug+"/counts", fields{"edition": page.Edition, "events": []fields{{"what": "reached", "key": "nothing"}, {"what": "took", "key": keys[0], "seconds": -3}}})
	if again := read[api.Stops](t, d.want(200, "GET", path, nil)); again.Editions[0].Opened != e.Opened || again.Editions[0].Questions[0].Answered != e.Questions[0].Answered {
		t.Errorf("%+v", again.Editions[0])
	}
	c.refused(422, "edition unknown_edition", "POST", "/api/shop/products/"+slug+"/counts", fields{"edition": 1, "events": []fields{}})
	c.refused(422, "events.0.what choice", "POST", "/api/shop/products/"+slug+"/counts", fields{"edition": page.Edition, "events": []fields{{"what": "paid"}}})
	c.refused(404, "", "POST", "/api/shop/products/none/counts", fields{"edition": 1, "events": []fields{}})
	d.refused(422, "days stops_days", "GET", path+"?days=0", nil)

	// Another month has none of it.
	h.ahead.Add(int64(40 * 24 * time.Hour))
	if later := read[api.Stops](t, h.desk().want(200, "GET", path, nil)); len(later.Editions) != 1 || later.Editions[0].Opened+later.Editions[0].Began+later.Editions[0].Paid+later.Editions[0].Questions[0].Reached != 0 {
		t.Errorf("%+v", later)
	}
}

// A checkout counts once however often it is prepared, and what the seller places for a
// caller is nobody's purchase.
func TestStopsCountPurchases(t *testing.T) {
	h := open(t, nil)
	c, d := h.client(), h.desk()
	stops := func() api.StopsEdition {
		t.Helper()
		return read[api.Stops](t, d.want(200, "GET", "/api/desk/products/1/stops", nil)).Editions[0]
	}
	at := checkout()
	c.want(200, "PUT", at, basket(chart()))
	before := stops()
	for range 2 {
		c.want(200, "PUT", at, basket(chart()))
	}
	c.pay(at)
	if after := stops(); after.Prepared != before.Prepared || after.Paid != before.Paid+1 {
		t.Errorf("%+v, and before %+v", after, before)
	}
	d.want(200, "POST", "/api/desk/orders", fields{"name": "Ada Quill", "email": "ada@example.org", "line": chart(), "paid": "cash"})
	if after := stops(); after.Paid != before.Paid+1 {
		t.Errorf("an order by hand counts as a purchase: %+v", after)
	}
}
