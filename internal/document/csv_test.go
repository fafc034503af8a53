package document

import (
	"bytes"
	"encoding/csv"
	"slices"
	"strings"
	"testing"
)

// Outside check: RFC 4180, section 2. Records end in CRLF (1); fields with
// line breaks, quotes and commas are enclosed in quotes (6); a quote within is
// doubled (7). The examples are the RFC's own.
func TestCSV(t *testing.T) {
	var b bytes.Buffer
	if err := CSV(&b, [][]string{{"aaa", "bbb", "ccc"}, {"aaa", "b\r\nbb", "ccc"}, {"aaa", `b"bb`, "ccc"}, {"a,b", "", "ä"}}); err != nil {
		t.Fatal(err)
	}
	want := "\ufeffaaa,bbb,ccc\r\n" + "aaa,\"b\r\nbb\",ccc\r\n" + "aaa,\"b\"\"bb\",ccc\r\n" + "\"a,b\",,ä\r\n"
	if got := b.String(); got != want {
		t.Errorf("%q, want %q", got, want)
	}
}

// A cell that a spreadsheet would run is made words, and reads back as such.
func TestCellsThatWouldRun(t *testing.T) {
	hostile := []string{`=HYPERLINK("http://example.org","x")`, "+47 22 86 44 00", "-1+1", "@SUM(A1)", "\t=1", "harmless", "1=1", ""}
	var b bytes.Buffer
	if err := CSV(&b, [][]string{hostile}); err != nil {
		t.Fatal(err)
	}
	row, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(b.String(), "\ufeff"))).Read()
	if err != nil {
		t.Fatal(err)
	}
	for i, cell := range row {
		if cell != "" && strings.ContainsRune("=+-@\t", rune(cell[0])) {
			t.Errorf("%q would run", cell)
		}
		if strings.TrimPrefix(cell, "'") != hostile[i] {
			t.Errorf("%q became %q", hostile[i], cell)
		}
	}
	if !slices.Contains(row, "harmless") {
		t.Error("a harmless cell changed")
	}
}
