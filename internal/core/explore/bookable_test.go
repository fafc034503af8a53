package explore

import (
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/coretest"
)

// A booking rule is looked at in the business as it is.
func TestBookable(t *testing.T) {
	today := calendar.DayOf(coretest.Now)
	edge := func(days int) booking.Edge { return booking.Edge{Day: today.Add(days)} }
	for name, c := range map[string]struct {
		change func(*booking.Rule)
		want   string
	}{
		"as it is":          {func(*booking.Rule) {}, ""},
		"notice to the end": {func(r *booking.Rule) { r.Notice = 24 * 400 }, "leaves no opening"},
		"closed all along": {func(r *booking.Rule) {
			r.Seasons = []booking.Season{{Name: "x", From: edge(0), To: edge(400), Closed: true}}
		}, "leaves no opening"},
		"nobody there":  {func(r *booking.Rule) { r.Needs[0].Of = []booking.ResourceID{2} }, "leaves no opening"},
		"somebody gone": {func(r *booking.Rule) { r.Needs[0].Of = []booking.ResourceID{1, 9} }, "not in the settings any more"},
		"rivals": {func(r *booking.Rule) {
			r.Seasons = []booking.Season{{Name: "one", From: edge(0), To: edge(9)}, {Name: "other", From: edge(9), To: edge(12)}}
		}, "“one” and “other” both hold"},
		"by the night": {func(r *booking.Rule) {
			*r = booking.Rule{By: booking.ByNight, Places: 1, Horizon: 60, Stays: &booking.Stays{Arrive: 900, Depart: 600}, Needs: r.Needs}
		}, ""},
		"by the night, never": {func(r *booking.Rule) {
			*r = booking.Rule{By: booking.ByNight, Places: 1, Horizon: 60, Stays: &booking.Stays{Arrive: 900, Depart: 600, Span: booking.Span{Least: 70}}, Until: new(today.Add(2)), Closures: []calendar.Closure{{From: today.Add(50), To: today.Add(60)}}}
		}, "leaves no opening"},
	} {
		r := &booking.Rule{Length: 60, Grid: 60, Places: 1, Horizon: 60, Private: true, Needs: []booking.Need{{Name: "Guide", Of: []booking.ResourceID{1}}}}
		r.Week[time.Wednesday] = []calendar.Span{{From: 600, To: 720}}
		c.change(r)
		away := calendar.Week{}
		q := booking.Query{From: today, To: today.Add(60), Now: coretest.Now, Zone: time.UTC, Resources: map[booking.ResourceID]booking.Resource{1: {ID: 1}, 2: {ID: 2, Week: &away}}}
		var said []string
		for _, f := range Bookable(&product.Edition{Draft: product.Draft{Booking: r}}, q) {
			said = append(said, f.Said("en"))
		}
		got := strings.Join(said, " ")
		if c.want == "" && got != "" || !strings.Contains(got, c.want) {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
	}
	if Bookable(&product.Edition{}, booking.Query{}) != nil {
		t.Error("what is not booked is found to be wrong")
	}
}

// What a fixed stay costs lies within the range of prices.
func TestRangeOfFixedStays(t *testing.T) {
	rule := &booking.Rule{By: booking.ByNight, Places: 1, Horizon: 60, Stays: &booking.Stays{Arrive: 900, Depart: 600, Span: booking.Span{Least: 2, Most: 3}}}
	d := product.Draft{Title: "House", Currency: "EUR", Price: 10000, Measure: charge.Night, Questions: []product.Question{coretest.Ask("stay", "booking", "")}, Booking: rule}
	d.Questions[0].Required = true
	e, findings := product.Compile(d)
	if product.Broken(findings) {
		t.Fatal(product.Told(findings, "en"))
	}
	if r := RangeOf(e, calendar.Day{}); r.Least != 20000 || r.Most != 30000 || !r.Exact {
		t.Errorf("%+v", r)
	}
	christmas := booking.Edge{Day: calendar.Day{Year: 2026, Month: 12, Number: 23}}
	rule.Fixed = []booking.FixedStay{{Name: "Christmas", From: christmas, To: booking.Edge{Day: christmas.Day.Add(4)}, Price: new(money.Amount(90000))}}
	e, _ = product.Compile(d)
	if r := RangeOf(e, calendar.Day{}); r.Least > 20000 || r.Most < 90000 || r.Exact {
		t.Errorf("with Christmas at 900.00: %+v", r)
	}
}
