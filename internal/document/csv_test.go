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
// doubled (7); any field may be enclosed (5). The examples are the RFC's own.
func TestCSV(t *testing.T) {
	var b bytes.Buffer
	if err := CSV(&b, [][]string{{"aaa", "bbb", "ccc"}, {"aaa", "b\r\nbb", "ccc"}, {"aaa", `b"bb`, "ccc"}, {"a,b", "", "ä"}}); err != nil {
		t.Fatal(err)
	}
	want := "\ufeff\"aaa\",\"bbb\",\"ccc\"\r\n" + "\"aaa\",\"b\r\nbb\",\"ccc\"\r\n" + "\"aaa\",\"b\"\"bb\",\"ccc\"\r\n" + "\"a,b\",\"\",\"ä\"\r\n"
	if got := b.String(); got != want {
		t.Errorf("%q, want %q", got, want)
	}
}

// A cell that a spreadsheet would run is made words, whatever it takes for the
// end of a cell, and reads back as such with a reader that is not ours.
func TestCellsThatWouldRun(t *testing.T) {
	hostile := []string{
		`=HYPERLINK("http://example.org","x")`, "+47 22 86 44 00", "-1+1", "@SUM(A1)", "\t=1", "\r=1", "a;=1+1", "a; =1+1", "a,+1", "a\t@x", "a|-1", "line\n=1",
		`say "=1+1"`, "\uff1d1+1", " =1", "harmless", "1=1", "a-b", "twenty-four", "name@example.org", "",
	}
	var b bytes.Buffer
	if err := CSV(&b, [][]string{hostile}); err != nil {
		t.Fatal(err)
	}
	row, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(b.String(), "\ufeff"))).Read()
	if err != nil {
		t.Fatal(err)
	}
	for i, cell := range row {
		for _, part := range strings.FieldsFunc(cell, func(r rune) bool { return strings.ContainsRune(";,|\t\r\n\"", r) }) {
			if part = strings.TrimLeft(part, " "); part != "" && strings.ContainsAny(string([]rune(part)[0]), "=+-@\uff1d") {
				t.Errorf("%q would run", cell)
			}
		}
		// The reader takes CR LF for LF within a cell, as the package says.
		if strings.ReplaceAll(cell, "'", "") != hostile[i] {
			t.Errorf("%q became %q", hostile[i], cell)
		}
	}
	for _, same := range []string{"harmless", "1=1", "a-b", "twenty-four", "name@example.org"} {
		if !slices.Contains(row, same) {
			t.Errorf("%q is harmless, and changed", same)
		}
	}
}
