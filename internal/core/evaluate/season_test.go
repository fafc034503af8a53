package evaluate

import (
	"encoding/json"
	"testing"
	"time"

	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A house by the night at 100: 140 in August, 160 on its Fridays, 80 the night in
// the last week of October as a whole; a fixed stay at Christmas for 900; a cleaning
// of 30 outside of August. Each night takes its own. Reckoned by hand.
func TestPricesOfSeasons(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		t.Fatal(err)
	}
	var d product.Draft
	if err := json.Unmarshal([]byte(`{
		"title": "House", "currency": "EUR", "price": 10000, "tax": "7", "measure": "night", "combine": "last",
		"prices": [{"season": "August", "amount": 14000}, {"season": "August", "weekdays": [5], "amount": 16000}, {"label": "Autumn", "season": "Autumn", "percent": "20"}],
		"questions": [{"key": "stay", "kind": "booking", "moment": "choosing", "wording": "Stay", "required": true}],
		"charges": [{"label": "Cleaning", "effect": "adds", "rate": {"amount": 3000}, "when": {"fact": "season", "op": "is_not", "value": "August"}},
			{"label": "Late key", "effect": "adds", "rate": {"amount": 500}, "when": {"fact": "weekday", "op": "is", "value": "sunday"}},
			{"label": "Early bird", "effect": "takes_off", "rate": {"amount": 700}, "when": {"fact": "day", "op": "before", "value": "2026-07-01"}}],
		"booking": {"by": "nights", "week": [[],[],[],[],[],[],[]], "length": 60, "grid": 60, "places": 4, "horizon": 400, "stays": {"arrive": 900, "depart": 600},
			"seasons": [{"name": "August", "yearly": true, "from": {"day": "2026-08-01"}, "to": {"day": "2026-08-31"}}, {"name": "Autumn", "from": {"day": "2026-10-24"}, "to": {"day": "2026-10-31"}}],
			"fixed": [{"name": "Christmas", "yearly": true, "from": {"day": "2026-12-23"}, "to": {"day": "2026-12-27"}, "price": 90000}]}
	}`), &d); err != nil {
		t.Fatal(err)
	}
	e, findings := product.Compile(d)
	if product.Broken(findings) {
		t.Fatal(product.Told(findings, "en"))
	}
	for _, c := range []struct {
		from, to string
		want     int64
	}{
		{"2026-07-06", "2026-07-09", 30000 + 3000},
		{"2026-07-30", "2026-08-02", 10000 + 10000 + 14000 + 3000}, // begins in July
		{"2026-08-06", "2026-08-09", 14000 + 16000 + 14000},        // a Friday in between
		{"2026-08-30", "2026-09-02", 14000 + 14000 + 10000 + 500},  // a Sunday
		{"2026-10-23", "2026-10-26", 10000 + 8000 + 8000 + 3000},   // over the clock change
		{"2026-12-23", "2026-12-27", 90000 + 3000},                 // whole
		{"2026-06-02", "2026-06-03", 10000 + 3000 - 700},
	} {
		at := func(day string, clock string) string {
			x, err := time.ParseInLocation("2006-01-02 15:04", day+" "+clock, zone)
			if err != nil {
				t.Fatal(err)
			}
			return x.Format(time.RFC3339)
		}
		raw := map[string]json.RawMessage{"stay": json.RawMessage(`{"start":"` + at(c.from, "15:00") + `","end":"` + at(c.to, "10:00") + `","people":2}`)}
		answers, wrong := question.Decode(raw, e.Spec)
		if len(wrong) > 0 {
			t.Fatal(wrong)
		}
		r := Evaluate(e, answers, Given{Quantity: 1, Now: time.Date(2026, 5, 1, 12, 0, 0, 0, zone), Zone: zone, Language: words.English, Checks: Held})
		if int64(r.Slip.Total) != c.want {
			t.Errorf("%s to %s: %d, want %d\n%+v", c.from, c.to, r.Slip.Total, c.want, r.Slip.In(words.English).Lines)
		}
	}
	d.Prices[0].Season = "Spring"
	if _, findings := product.Compile(d); !product.Broken(findings) {
		t.Error("a price for a season that is not there is taken")
	}
	d.Prices[0].Season, d.Booking.Seasons, d.Booking.Fixed = "August", nil, nil
	if _, findings := product.Compile(d); !product.Broken(findings) {
		t.Error("conditions on a season that never is are taken")
	}
}
