package evaluate

import (
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

// Orders of the sample business, reckoned by hand as a person at the desk would
// with the sentences of its charges: the arithmetic stands beside each.
func TestReckonedByHand(t *testing.T) {
	for _, c := range []struct {
		name, product, answers string
		quantity               int
		group                  string
		day                    calendar.Day // of the order; of the test when empty
		want                   int64
	}{
		// 3 nights × 18.00
		{"a telescope for three nights", "telescope-hire", `{"nights_out":{"start":"2027-01-08T16:00:00+01:00","end":"2027-01-11T11:00:00+01:00","people":1}}`, 1, "", calendar.Day{}, 5400},
		// 3 × 18.00 + (5 − 2 people) × 1.50 × 3 = 54.00 + 13.50
		{"with five people", "telescope-hire", `{"nights_out":{"start":"2027-01-08T16:00:00+01:00","end":"2027-01-11T11:00:00+01:00","people":1},"lookers":5}`, 1, "", calendar.Day{}, 6750},
		// 28 × 1.50 × 3 = 126.00 is more than 30.00
		{"with thirty", "telescope-hire", `{"nights_out":{"start":"2027-01-08T16:00:00+01:00","end":"2027-01-11T11:00:00+01:00","people":1},"lookers":30}`, 1, "", calendar.Day{}, 8400},
		// 9 × 18.00 + 3 × 3.00 + 4 × 2.00 + 2 × 1.00 = 162.00 + 19.00
		{"insured for nine nights", "telescope-hire", `{"nights_out":{"start":"2027-01-01T16:00:00+01:00","end":"2027-01-10T11:00:00+01:00","people":1},"insurance":true}`, 1, "", calendar.Day{}, 18100},
		// 3 × 14.40
		{"for a night school", "telescope-hire", `{"nights_out":{"start":"2027-01-08T16:00:00+01:00","end":"2027-01-11T11:00:00+01:00","people":1}}`, 1, "night-schools", calendar.Day{}, 4320},
		// 2 × 14.00, which is below the group's 14.40
		{"for a night school in summer", "telescope-hire", `{"nights_out":{"start":"2027-06-04T16:00:00+02:00","end":"2027-06-06T11:00:00+02:00","people":1}}`, 1, "night-schools", day(2027, 6, 1), 2800},
		// 3 nights × 18.00 + 4 days × 2.00
		{"and for the sun", "telescope-hire", `{"nights_out":{"start":"2027-01-08T16:00:00+01:00","end":"2027-01-11T11:00:00+01:00","people":1},"sun_filter":true}`, 1, "", calendar.Day{}, 6200},
		// 3 × 14.40 + 2 eyepieces × 1.50, instead of 2.50, × 3
		{"with two eyepieces for a night school", "telescope-hire", `{"nights_out":{"start":"2027-01-08T16:00:00+01:00","end":"2027-01-11T11:00:00+01:00","people":1},"eyepieces":{"planets":2}}`, 1, "night-schools", calendar.Day{}, 5220},

		// 2 × 24.00 + 18.00 + 2.5 hours × 3.00
		{"three people and a stove", "evening-under-the-stars", `{"evening":{"start":"2026-11-28T18:30:00Z","people":3},"languages":["en"],"stove":true}`, 1, "", calendar.Day{}, 7350},

		{"a lamp", "red-lamp", `{}`, 1, "", calendar.Day{}, 950},
		// 8 letters × 0.25 = 2.00, the least; once for each lamp: 3 × 9.50 + 3 × 2.00
		{"three lamps with a short word", "red-lamp", `{"engraving":"Lofthus"}`, 3, "", calendar.Day{}, 3375},
		{"nine lamps", "red-lamp", `{}`, 9, "", calendar.Day{}, 8550},
		{"ten lamps, 10 % off", "red-lamp", `{}`, 10, "", calendar.Day{}, 8550},
		{"twenty lamps for 7.90", "red-lamp", `{}`, 20, "", calendar.Day{}, 15800},
		{"a school's lamp", "red-lamp", `{}`, 1, "night-schools", calendar.Day{}, 820},
		{"a school's twenty lamps", "red-lamp", `{}`, 20, "night-schools", calendar.Day{}, 15800},

		// 60.00 + 2.60 m × 2.00 m × 39.00 + 1 seam × 200 cm × 0.04
		{"a paper wall", "mural", `{"width":260,"height":200,"material":"paper","mural_night":"2020-08-12"}`, 1, "", calendar.Day{}, 6000 + 20280 + 800},
		// 60.00 + 4 m × 2.5 m × 72.00 + 3 seams × 250 × 0.04 = 810.00, less 10 %
		{"a large wall of film", "mural", `{"width":400,"height":250,"material":"film","mural_night":"2020-08-12"}`, 1, "", calendar.Day{}, 72900},
		// 60.00 + 1.30 × 1.00 × 58.00 + 4 words × 3.50
		{"with four words below", "mural", `{"width":130,"height":100,"material":"cloth","mural_night":"2020-08-12","words_below":"Where we both stood"}`, 1, "", calendar.Day{}, 14940},
		// two words are 7.00, and 10.00 is the least
		{"with two words below", "mural", `{"width":130,"height":100,"material":"cloth","mural_night":"2020-08-12","words_below":"Hidden Valley"}`, 1, "", calendar.Day{}, 14540},
		// 60.00 + 1.30 × 1.00 × 58.00, and no seam
		{"one breadth of cloth", "mural", `{"width":130,"height":100,"material":"cloth","mural_night":"2020-08-12"}`, 1, "", calendar.Day{}, 13540},

		{"a frame", "oak-frame", `{"frame_size":"small"}`, 1, "", calendar.Day{}, 3900},
		// 25 % of 39.00 is 9.75, and 15.00 is the least
		{"a frame with good glass", "oak-frame", `{"frame_size":"small","glass":true}`, 1, "", calendar.Day{}, 5400},
		// 39.00 + 55.00, and a quarter more
		{"a wall's frame with good glass", "oak-frame", `{"frame_size":"wall","glass":true}`, 1, "", calendar.Day{}, 11750},

		// 2 × 65.00 less 8 %
		{"two large frames", "oak-frame", `{"frame_size":"large"}`, 2, "", calendar.Day{}, 11960},

		// 3 × 4.20 + 3 × 0.60
		{"three stacks in pouches", "sky-cards", `{"card_language":"en","pouch":true}`, 3, "", calendar.Day{}, 1440},
		{"nineteen stacks", "sky-cards", `{"card_language":"de"}`, 19, "", calendar.Day{}, 7980},
		// 84.00 less 15 %
		{"twenty stacks", "sky-cards", `{"card_language":"de"}`, 20, "", calendar.Day{}, 7140},

		// 9 × 1.20, and 10 × 0.90
		{"nine badges", "star-party", `{"badges":[` + badges(9) + `]}`, 1, "", calendar.Day{}, 1080},
		{"ten badges", "star-party", `{"badges":[` + badges(10) + `]}`, 1, "", calendar.Day{}, 900},

		// 12 × 5.00 + 25.00
		{"a class of twelve", "school-night", `{"pupils":12,"school_day":"2026-12-10"}`, 1, "night-schools", calendar.Day{}, 8500},

		// 171.00 + 2 days × 68.00 + 40.00 + 2 beds × 9.00 + 3 × 14.50 + 12.00
		{"three nights in the larger cabin", "observatory-cabin", `{"stay":{"start":"2026-12-03T15:00:00+01:00","end":"2026-12-06T10:00:00+01:00","people":1},"cabin":"juniper","beds":3,"baskets":{"breakfast":3},"firewood":"plenty"}`, 1, "", calendar.Day{}, 42050},
	} {
		e := coretest.Sample(t, c.product)
		f := asGiven()
		f.Quantity, f.Group, f.Ordered = c.quantity, c.group, c.day
		if f.Ordered == (calendar.Day{}) {
			f.Ordered = day(2026, 11, 24)
		}
		r := Evaluate(e, coretest.Decode(t, e, c.answers), f)
		if int64(r.Slip.Total) != c.want {
			t.Errorf("%s: %d, by hand %d", c.name, r.Slip.Total, c.want)
			for _, l := range r.Slip.Lines {
				t.Logf("    %s %d (%s)", l.Label, l.Amount, l.Why)
			}
		}
		f.Language = words.German
		if g := Evaluate(e, coretest.Decode(t, e, c.answers), f); g.Slip.Total != r.Slip.Total || len(g.Slip.Lines) != len(r.Slip.Lines) {
			t.Errorf("%s costs something else in German: %d", c.name, g.Slip.Total)
		}
	}
}

// A line that a formula made names what it was computed from, also through
// named values.
func TestFormulasAreExplained(t *testing.T) {
	e := coretest.Sample(t, "mural")
	f := asGiven()
	f.Ordered = day(2026, 11, 24)
	for language, want := range map[words.Language][2]string{
		words.English: {"1 × 200 cm × 0.04; computed from: How wide is the wall? · How high?", "5.2 m² × 39; computed from: How wide is the wall? · How high? · Printed on"},
		words.German:  {"1 × 200 cm × 0,04; berechnet aus: How wide is the wall? · How high?", "5,2 m² × 39; berechnet aus: How wide is the wall? · How high? · Printed on"},
	} {
		f.Language = language
		r := Evaluate(e, coretest.Decode(t, e, `{"width":260,"height":200,"material":"paper","mural_night":"2020-08-12"}`), f)
		shown := r.Slip.In(language)
		if got := [2]string{shown.Lines[1].Why, shown.Lines[2].Why}; got != want {
			t.Errorf("%q", got)
		}
		if s := shown.Stated; len(s) != 1 || s[0].Label != "Wall to paint" || s[0].Words != want[1][:strings.Index(want[1], " ×")] {
			t.Errorf("%+v", s)
		}
	}
}

// badges writes so many entries.
func badges(n int) string {
	return strings.TrimSuffix(strings.Repeat(`{"badge_name":"Ada"},`, n), ",")
}

func day(year, month, d int) calendar.Day {
	return calendar.Day{Year: year, Month: time.Month(month), Number: d}
}
