package document

import (
	"bytes"
	"fmt"
	"regexp"
	"strings"
	"testing"
	"time"
)

func sheet(rows int) Sheet {
	s := Sheet{Title: "Letter the title", Under: "Sky chart", Page: "Page", Made: time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC),
		Columns: []SheetColumn{{"Order", 1}, {"Title", 3}, {"Größe", 2}}}
	for i := range rows {
		if i%10 == 0 {
			s.Rows = append(s.Rows, SheetRow{Group: fmt.Sprint("Group ", i/10)})
		}
		s.Rows = append(s.Rows, SheetRow{Cells: []string{fmt.Sprint(1000 + i), "„Drei Schwestern“, Żółw, Ночь " + strings.Repeat("and more ", i%7), "70 × 100 cm"}})
	}
	return s
}

var pageObject = regexp.MustCompile(`/Type /Page\b[^s]`)

// A sheet is a PDF with as many pages as it needs, on the paper that was asked for
// (ISO 216: A4 is 210 × 297 mm, 595 × 842 points; ANSI Letter 8½ × 11 in, 612 × 792),
// the same whenever it is drawn.
func TestSheetOnPaper(t *testing.T) {
	pages := map[string]int{}
	for name, s := range map[string]Sheet{"a4": sheet(60), "letter": func() Sheet { s := sheet(60); s.Paper = "Letter"; return s }(), "large": func() Sheet { s := sheet(60); s.Large = true; return s }()} {
		pdf, err := s.PDF()
		if err != nil {
			t.Fatal(err)
		}
		again, err := s.PDF()
		if err != nil || !bytes.Equal(pdf, again) {
			t.Errorf("%s: drawn twice it differs", name)
		}
		if !bytes.HasPrefix(pdf, []byte("%PDF-1.")) || !bytes.Contains(pdf, []byte("%%EOF")) {
			t.Errorf("%s is no PDF", name)
		}
		box := "[0 0 841.89 595.28]"
		if name == "letter" {
			box = "[0 0 792.00 612.00]"
		}
		if !bytes.Contains(pdf, []byte(box)) {
			t.Errorf("%s has no page of %s", name, box)
		}
		pages[name] = len(pageObject.FindAll(pdf, -1))
	}
	if pages["a4"] < 2 || pages["large"] <= pages["a4"] {
		t.Errorf("pages: %v", pages)
	}
	empty, err := Sheet{Title: "Nothing", Columns: []SheetColumn{{"Order", 1}}}.PDF()
	if err != nil || len(pageObject.FindAll(empty, -1)) != 1 {
		t.Errorf("an empty sheet: %v", err)
	}
	odd := Sheet{Title: "💥 \xff\x00", Under: "\u202e", Columns: []SheetColumn{{"🦉", 1}, {"", 0.1}}, Rows: []SheetRow{{Group: "🌙"}, {Cells: []string{"a 🌠 b\xff\tc", "☐"}}}}
	if _, err := odd.PDF(); err != nil {
		t.Error(err)
	}
	huge := Sheet{Columns: []SheetColumn{{"Text", 1}}, Rows: []SheetRow{{Cells: []string{strings.Repeat("long words ", 5000)}}}}
	if _, err := huge.PDF(); err != nil {
		t.Error(err)
	}
}
