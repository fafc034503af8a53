package atonce

import (
	"testing"
	"time"

	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

func TestGiftsAreChecked(t *testing.T) {
	good := Gift{Key: "a", Title: "A sky", Files: []workplan.File{{File: "x", Name: "x.png"}}, Downloads: 3, Days: 30}
	if err := good.Validate(); err != nil {
		t.Error(err)
	}
	for _, change := range []func(*Gift){
		func(g *Gift) { g.Key = "" }, func(g *Gift) { g.Title = " " }, func(g *Gift) { g.Files = nil }, func(g *Gift) { g.Downloads = -1 },
		func(g *Gift) { g.Days = 3651 }, func(g *Gift) { g.Links = []Link{{Address: "javascript:alert(1)"}} }, func(g *Gift) { g.Text = string(make([]rune, 5001)) },
		func(g *Gift) { g.Files = make([]workplan.File, 21) },
	} {
		bad := good
		change(&bad)
		if bad.Validate() == nil {
			t.Errorf("taken: %+v", bad)
		}
	}
}

func TestWhoGetsIt(t *testing.T) {
	g := Gift{Of: "size", Codes: []string{"large", "wall"}}
	for code, want := range map[string]bool{"small": false, "wall": true} {
		if got := g.For(question.Answers{"size": question.One(code)}); got != want {
			t.Errorf("%s: %t", code, got)
		}
	}
	if g.For(nil) || !(&Gift{}).For(nil) {
		t.Error("without an answer")
	}
}

// The last day is had whole, worked by hand over the end of summer time in Berlin.
func TestUntil(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		t.Fatal(err)
	}
	placed := time.Date(2026, 10, 24, 20, 0, 0, 0, zone)
	if got := (&Gift{Days: 2}).Until(placed, zone).Format("2006-01-02 15:04 -0700"); got != "2026-10-27 00:00 +0100" {
		t.Error(got)
	}
	if !(&Gift{}).Until(placed, zone).IsZero() || !(&Gift{Days: 2}).Until(time.Time{}, zone).IsZero() {
		t.Error("it ends, though nobody said when")
	}
}

// A buyer of an earlier edition is shown what is newer of the same gift, and no other.
func TestNewer(t *testing.T) {
	a := Gift{Key: "a", Title: "A", Files: []workplan.File{{File: "1", Name: "x"}}}
	b := Gift{Key: "b", Title: "B", Text: "same"}
	a2 := a
	a2.Files, a2.Title = []workplan.File{{File: "2", Name: "x"}}, "A, again"
	b2 := b
	b2.Title = "B, with another title"
	if got := Newer([]Gift{a, b}, []Gift{a2, b2, {Key: "c", Text: "new"}}); len(got) != 1 || got[0].Title != "A, again" {
		t.Errorf("%+v", got)
	}
}
