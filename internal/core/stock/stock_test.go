package stock

import (
	"testing"

	"ruvo/internal/core/question"
)

func TestShelf(t *testing.T) {
	silk, tea := Key{"paper", "silk"}, Key{"drinks", "tea"}
	answers := func(paper string, teas int64) question.Answers {
		return question.Answers{"paper": question.One(paper), "drinks": question.Counts{"tea": teas}}
	}
	each := question.Answers{"paper": question.Units{Each: []question.Value{question.One("silk"), question.One("plain"), question.One("silk")}}}
	for _, c := range []struct {
		name     string
		shelf    *Shelf
		answers  question.Answers
		quantity int
		want     string
	}{
		{"nothing counted", nil, answers("silk", 9), 9, ""},
		{"enough", &Shelf{Left: map[Key]int{{}: 3, silk: 3}}, answers("silk", 0), 3, ""},
		{"one too many", &Shelf{Left: map[Key]int{{}: 3}}, answers("silk", 0), 4, "quantity stock_left"},
		{"nothing left", &Shelf{Left: map[Key]int{{}: 0}}, answers("silk", 0), 1, "quantity sold_out"},
		{"another choice is sold out", &Shelf{Left: map[Key]int{silk: 0}}, answers("plain", 0), 1, ""},
		{"the choice is sold out", &Shelf{Left: map[Key]int{silk: 0}}, answers("silk", 0), 1, "paper sold_out_choice"},
		{"a choice that closes the product", &Shelf{Left: map[Key]int{silk: 0}, Closes: map[Key]bool{silk: true}}, answers("plain", 0), 1, "quantity sold_out"},
		{"of each unit", &Shelf{Left: map[Key]int{silk: 1}}, answers("silk", 0), 2, "paper stock_left"},
		{"counted choices count once", &Shelf{Left: map[Key]int{tea: 4}}, answers("silk", 4), 3, ""},
		{"too many counted", &Shelf{Left: map[Key]int{tea: 4}}, answers("silk", 5), 1, "drinks stock_left"},
		{"asked of each unit", &Shelf{Left: map[Key]int{silk: 2}}, each, 3, ""},
		{"asked of each unit, too many", &Shelf{Left: map[Key]int{silk: 1}}, each, 3, "paper stock_left"},
	} {
		got := ""
		for _, f := range c.shelf.Check(c.answers, c.quantity) {
			got += string(f.Key) + " " + f.Code
		}
		if got != c.want {
			t.Errorf("%s: %q, want %q", c.name, got, c.want)
		}
	}
}
