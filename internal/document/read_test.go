package document

import (
	"bytes"
	"slices"
	"testing"
)

// What CSV writes is read as it was, also what a spreadsheet could have run.
func TestReadingWhatWasWritten(t *testing.T) {
	rows := [][]string{{"mail", "note"}, {"a@example.org", "=1+1"}, {"b@example.org", "two\nlines, and a \"word\""}, {"c@example.org", "x, -5"}}
	var out bytes.Buffer
	if err := CSV(&out, rows); err != nil {
		t.Fatal(err)
	}
	got, err := ReadTable(out.String())
	if err != nil || len(got) != len(rows) {
		t.Fatal(got, err)
	}
	for i := range rows {
		if !slices.Equal(got[i], rows[i]) {
			t.Errorf("%q, want %q", got[i], rows[i])
		}
	}
}

// Spreadsheets of some countries put semicolons between cells, and rows may be short.
func TestReadingOtherTables(t *testing.T) {
	for text, want := range map[string][][]string{
		"mail;name\r\na@example.org;Ada\r\nb@example.org\r\n": {{"mail", "name"}, {"a@example.org", "Ada"}, {"b@example.org"}},
		"\ufeffmail\tname\na@example.org\tAda, Q.\n":          {{"mail", "name"}, {"a@example.org", "Ada, Q."}},
	} {
		got, err := ReadTable(text)
		if err != nil || !slices.EqualFunc(got, want, slices.Equal) {
			t.Errorf("%q: %q, %v", text, got, err)
		}
	}
	if _, err := ReadTable("mail,name\na@example.org,\"open"); err == nil {
		t.Error("an open quote was read")
	}
}
