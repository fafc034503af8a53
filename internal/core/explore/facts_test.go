package explore

import (
	"encoding/json"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

// What is booked reaches formulas and texts: its weekday, day and season, when it
// begins, and who it takes.
func TestFactsOfWhatIsBooked(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		t.Fatal(err)
	}
	draft := func(formula string) product.Draft {
		var d product.Draft
		if err := json.Unmarshal([]byte(`{
			"title": "Lesson", "currency": "EUR", "price": 5000, "tax": "19",
			"questions": [{"key": "lesson", "kind": "booking", "moment": "choosing", "wording": "Lesson", "required": true},
				{"key": "hint", "kind": "note", "moment": "briefing", "wording": "Hint", "settings": {"text": "On {{weekday}}, {{day}}, at {{begins}}, for {{people}} with {{booked_with}}; {{season}}."}}],
			"charges": [{"label": "Time", "effect": "adds", "rate": {"formula": ""}}],
			"steps": [{"key": "prepare", "title": "Prepare", "instructions": "{{hours}} h on {{day}} with {{booked_with}}", "minutes": {"fixed": 5}, "start": {"on": "payment"}, "due": {"rule": "working_days", "count": 1}}],
			"booking": {"week": [["09:00-20:00"],["09:00-20:00"],["09:00-20:00"],["09:00-20:00"],["09:00-20:00"],["09:00-20:00"],["09:00-20:00"]], "length": 90, "grid": 30, "places": 4, "private": true, "horizon": 400,
				"seasons": [{"name": "Advent", "from": {"day": "2026-11-29"}, "to": {"day": "2026-12-24"}, "closed": false}]}
		}`), &d); err != nil {
			t.Fatal(err)
		}
		d.Charges[0].Rate.Formula = formula
		return d
	}
	f := evaluate.Given{Quantity: 1, Now: coretest.Now, Zone: zone, Language: words.English, Checks: evaluate.Held, With: []string{"Tobin", "The dome"}}
	f.Work = &evaluate.Work{Language: words.English, Hours: &calendar.Hours{Zone: zone}, Paid: coretest.Now, Briefed: coretest.Now}
	answers := func(start string) string { return `{"lesson":{"start":"` + start + `","people":3}}` }
	for _, c := range []struct {
		formula, start string
		want           int64
	}{
		{`weekday == "saturday" ? 20 : 0`, "2026-12-05T14:00:00+01:00", 7000},
		{`weekday == "saturday" ? 20 : 0`, "2026-12-06T14:00:00+01:00", 5000},
		{`season == "Advent" ? 5 * hours : 0`, "2026-12-06T14:00:00+01:00", 5750},
		{`season == "Advent" ? 5 : 1`, "2027-01-06T14:00:00+01:00", 5100},
		{`day == "2026-12-24" ? 30 : 0`, "2026-12-24T14:00:00+01:00", 8000},
		// Half past midnight in Berlin is the day before in UTC.
		{`day == "2026-12-24" ? 30 : 0`, "2026-12-23T23:30:00Z", 8000},
	} {
		e := coretest.Compiled(t, draft(c.formula))
		r := evaluate.Evaluate(e, coretest.Decode(t, e, answers(c.start)), f)
		if int64(r.Slip.Total) != c.want {
			t.Errorf("%s at %s: %d, want %d", c.formula, c.start, r.Slip.Total, c.want)
		}
		// What it costs from and to holds on every day, not only on the one that is tried.
		if span := RangeOf(e, calendar.DayOf(coretest.Now)); int64(span.Least) > 5000 || int64(span.Most) < c.want {
			t.Errorf("%s: from %d to %d, and it costs %d", c.formula, span.Least, span.Most, c.want)
		}
	}
	e := coretest.Compiled(t, draft("0"))
	r := evaluate.Evaluate(e, coretest.Decode(t, e, answers("2026-12-05T14:00:00+01:00")), f)
	hint := ""
	for _, a := range r.Asked {
		hint += a.Text
	}
	if hint != "On Sat, Sat 5 Dec 2026, at 14\\:00, for 3 with Tobin, The dome; Advent." {
		t.Errorf("%q", hint)
	}
	if i := r.Work[0]; i.Instructions != "1.5 h on Sat 5 Dec 2026 with Tobin, The dome" {
		t.Errorf("%q, %q", i.Title, i.Instructions)
	}
	for formula, want := range map[string]bool{`weekday == "saturn" ? 1 : 0`: true, `season == "Summer" ? 1 : 0`: true, `day == "24.12." ? 1 : 0`: true, `weekday == "sunday" ? 1 : 0`: false} {
		if _, findings := product.Compile(draft(formula)); product.Broken(findings) != want {
			t.Errorf("%s: %v", formula, product.Told(findings, "en"))
		}
	}
}
