package handover

import (
	"strings"
	"testing"
	"time"
)

// What may be done in which state, as a seller would read it.
func TestWhatAHandoverAllows(t *testing.T) {
	want := map[State]string{Given: "accept changes withdraw", Accepted: "withdraw reopen", Changes: "", Withdrawn: ""}
	for state, acts := range want {
		var may []string
		for _, a := range Acts() {
			if state.Refused(a, true, true) == "" {
				may = append(may, string(a))
			}
		}
		if got := strings.Join(may, " "); got != acts {
			t.Errorf("%s allows %q, want %q", state, got, acts)
		}
	}
	if Given.Refused(Accept, false, true) != "handover_unasked" || Given.Refused(Ask, true, false) != "handover_replaced" || Given.Refused(Withdraw, false, false) != "" {
		t.Error("what nobody is asked about, or what was replaced, can be answered")
	}
}

func TestWhatCanBeAsked(t *testing.T) {
	known := func(id int64) bool { return id == 1 }
	mark := func(m Mark) []Mark { return []Mark{m} }
	for _, c := range []struct {
		words string
		marks []Mark
		want  string
	}{
		{"Larger letters, please", nil, ""},
		{"", mark(Mark{File: 1, X: 0.5, Y: 0.25, Words: " darker "}), ""},
		{"", mark(Mark{File: 1, Page: 2, X: 0.1, Y: 0.1, W: 0.9, H: 0.2, Words: "this"}), ""},
		{"  ", nil, "changes_empty"},
		{"x", mark(Mark{File: 2, Words: "darker"}), "mark_file"},
		{"x", mark(Mark{File: 1, X: 1.1, Words: "darker"}), "mark_place"},
		{"x", mark(Mark{File: 1, X: 0.6, W: 0.6, Words: "darker"}), "mark_place"},
		{"x", mark(Mark{File: 1, Page: -1, Words: "darker"}), "mark_place"},
		{"x", mark(Mark{File: 1, Words: " "}), "mark_words"},
		{strings.Repeat("x", longestWords+1), nil, "longest"},
		{"x", make([]Mark, MostMarks+1), "marks_most"},
	} {
		_, marks, fault := Asked(c.words, c.marks, known)
		switch {
		case c.want == "" && fault != nil:
			t.Errorf("%+v: %s", c, fault.Code)
		case c.want != "" && (fault == nil || fault.Code != c.want):
			t.Errorf("%.20q %+v: %v, want %s", c.words, c.marks, fault, c.want)
		case c.want == "" && len(marks) == 1 && strings.TrimSpace(marks[0].Words) != marks[0].Words:
			t.Errorf("untidy: %q", marks[0].Words)
		}
	}
}

// Kept for so many days means all of the last one, and the customer hears of it a week
// before, or half way where there is no week.
func TestHowLongFilesAreKept(t *testing.T) {
	zone := time.FixedZone("CET", 3600)
	now := time.Date(2026, 11, 27, 16, 0, 0, 0, zone)
	for keep, want := range map[int][2]string{30: {"2026-12-28 00:00", "2026-12-21 00:00"}, 2: {"2026-11-30 00:00", "2026-11-28 20:00"}} {
		terms := Terms{Keep: keep}
		until := terms.Until(now, zone)
		if got := [2]string{until.Format("2006-01-02 15:04"), Warns(now, until).Format("2006-01-02 15:04")}; got != want {
			t.Errorf("%d days: %v, want %v", keep, got, want)
		}
	}
	if !(&Terms{}).Until(now, zone).IsZero() {
		t.Error("what is kept for ever ends")
	}
	for _, wrong := range []Terms{{Keep: -1}, {Keep: longestKept + 1}, {Message: strings.Repeat("x", LongestMessage+1)}} {
		if wrong.Validate() == nil {
			t.Errorf("%d days are taken", wrong.Keep)
		}
	}
}
