package handover

import (
	"slices"
	"testing"
)

var waiting = []Candidate{
	{Line: 1, Number: 1042, Customer: "Tamsin Okafor", Files: []string{"Luna.jpg"}},
	{Line: 2, Number: 1043, Customer: "Jörg Weiß", Parts: []string{"Mila", "Ole"}},
	{Line: 3, Number: 1043, Customer: "Jörg Weiß", Parts: []string{"front"}},
	{Line: 4, Number: 1050, Customer: "Ida Brandt"},
	{Line: 5, Number: 1051, Customer: "Ida Brandt"},
}

// By number, by what the seller's pattern says, by the customer's own file, by name;
// where a name fits several orders, all of them are told and none is chosen.
func TestForWhichOrderAFileIs(t *testing.T) {
	for _, c := range []struct {
		name, pattern string
		want          []int64
		by            By
	}{
		{"1042-final.jpg", "", []int64{1}, ByNumber},
		{"#1042 chart (2).pdf", "", []int64{1}, ByNumber},
		{"11042.jpg", "", nil, ""},
		{"scan_1042_1050.png", "", []int64{1, 4}, ByNumber},
		{"1043.zip", "", []int64{2, 3}, ByNumber},
		{"1043-Mila.png", "", []int64{2}, ByNumber},
		{"1043 front.png", "", []int64{3}, ByNumber},
		{"luna.png", "", []int64{1}, ByFile},
		{"Tamsin_Okafor-chart.pdf", "", []int64{1}, ByCustomer},
		{"joerg.png", "", nil, ""},
		{"Jorg Weiß.png", "", []int64{2, 3}, ByCustomer},
		{"ida-brandt.mp3", "", []int64{4, 5}, ByCustomer},
		{"chart_2026_1050_v2.pdf", "chart_{{number}}_{{order}}_{{name}}", []int64{4}, ByPattern},
		{"1043-ole.jpg", "{{order}}-{{part}}", []int64{2}, ByPattern},
		{"Ida Brandt, 3.jpg", "{{customer}}, {{number}}.jpg", []int64{4, 5}, ByPattern},
		{"readme.txt", "{{order}}-{{name}}", nil, ""},
		{"", "", nil, ""},
	} {
		var p *Pattern
		if c.pattern != "" {
			var ok bool
			if p, ok = ParsePattern(c.pattern); !ok {
				t.Fatalf("%q is no pattern", c.pattern)
			}
		}
		if got := Find(c.name, p, waiting); !slices.Equal(got.Lines, c.want) || got.By != c.by {
			t.Errorf("%q by %q: %v by %s, want %v by %s", c.name, c.pattern, got.Lines, got.By, c.want, c.by)
		}
	}
	wanted := slices.Clone(waiting)
	wanted[4].Wanted = true
	if got := Find("ida brandt.mp3", nil, wanted); !slices.Equal(got.Lines, []int64{5}) {
		t.Errorf("of what is handed over now: %v", got.Lines)
	}
}

func TestPatternsThatAreNone(t *testing.T) {
	for _, text := range []string{"", "plain", "{{order", "{{surname}}", "{{>order}}", "{{#order}}x{{/order}}"} {
		if _, ok := ParsePattern(text); ok {
			t.Errorf("%q is a pattern", text)
		}
	}
}

// Whatever a pattern and a name are, finding comes to an end and gives lines that are
// there.
func FuzzFind(f *testing.F) {
	f.Add("1042-final.jpg", "{{order}}-{{name}}")
	f.Add("(.+)+$", "{{ order }}(.*){{part}}")
	f.Add("\x00\xff.", "{{number}}{{number}}{{number}}")
	f.Fuzz(func(t *testing.T, name, pattern string) {
		p, ok := ParsePattern(pattern)
		if !ok {
			p = nil
		}
		for _, line := range Find(name, p, waiting).Lines {
			if line < 1 || line > 5 {
				t.Errorf("line %d", line)
			}
		}
	})
}

func TestScanned(t *testing.T) {
	for text, want := range map[string][2]int64{
		"https://studio.example/desk/orders/17": {17, 0}, " 1042 ": {0, 1042}, "#1042": {0, 1042}, "hello": {0, 0}, "": {0, 0}, "https://studio.example/o/17": {0, 0},
	} {
		if line, number := Scanned(text); line != want[0] || number != want[1] {
			t.Errorf("%q: line %d, number %d", text, line, number)
		}
	}
}
