package calendar

import (
	"slices"
	"testing"
)

// Source: the holiday laws of the German states, from memory: Epiphany is a
// holiday in Baden-Württemberg, Bavaria and Saxony-Anhalt and not in Berlin,
// Reformation Day in Brandenburg and not in Bavaria.
func TestHolidaysOfRegions(t *testing.T) {
	epiphany, reformation := Day{2027, 1, 6}, Day{2027, 10, 31}
	for _, c := range []struct {
		region string
		day    Day
		want   bool
	}{
		{"DE-BW", epiphany, true}, {"DE-BY", epiphany, true}, {"DE-ST", epiphany, true}, {"DE-BE", epiphany, false}, {"", epiphany, false},
		{"DE-BB", reformation, true}, {"DE-BY", reformation, false},
	} {
		if _, ok := HolidaysIn("DE", c.region, nil).Holiday(c.day); ok != c.want {
			t.Errorf("%s in %q: %v", c.day, c.region, ok)
		}
	}
	christmas := Day{2027, 12, 25}
	name, _ := HolidaysIn("DE", "", nil).Holiday(christmas)
	if _, ok := HolidaysIn("DE", "", []string{name}).Holiday(christmas); ok || name == "" {
		t.Errorf("%q is worked on", name)
	}
	if HolidaysIn("", "", nil) != nil {
		t.Error("no country has holidays")
	}
	if n := len(RegionsOf("DE")); n != 16 || len(RegionsOf("CH")) != 26 || len(RegionsOf("US")) != 0 {
		t.Errorf("%d states", n)
	}
	if !slices.ContainsFunc(RegionsOf("CH"), func(r Region) bool { return r.Code == "CH-ZH" && r.Name == "Zürich" }) {
		t.Error("Zürich is missing")
	}
	// Days off stand beside weekly hours.
	h := Hours{Closures: []Closure{{From: epiphany, To: epiphany, Reason: "skiing"}}}
	if reason, off := h.Off(epiphany); !off || reason != "skiing" {
		t.Errorf("%q %v", reason, off)
	}
	if _, off := h.Off(christmas); off {
		t.Error("a day without hours is no day off")
	}
}
