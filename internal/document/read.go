package document

import (
	"encoding/csv"
	"io"
	"regexp"
	"strings"
)

// ReadTable reads a table as RFC 4180 says, or as spreadsheets of some countries write
// it: with semicolons or tabs between the cells. Rows may have fewer cells than the
// first. The apostrophe that CSV puts before what could run is taken away again.
func ReadTable(text string) ([][]string, error) {
	text = strings.TrimPrefix(text, "\ufeff")
	head, _, _ := strings.Cut(text, "\n")
	in := csv.NewReader(strings.NewReader(text))
	in.FieldsPerRecord, in.TrimLeadingSpace = -1, true
	for _, comma := range []rune{';', '\t'} {
		if strings.Count(head, string(comma)) > strings.Count(head, string(in.Comma)) {
			in.Comma = comma
		}
	}
	var rows [][]string
	for {
		row, err := in.Read()
		if err == io.EOF {
			return rows, nil
		}
		if err != nil {
			return nil, err
		}
		for i := range row {
			row[i] = tamed.ReplaceAllString(row[i], "$1$2$3")
		}
		rows = append(rows, row)
	}
}

var tamed = regexp.MustCompile("(^|[;,|\t\r\n\"'])([ \u00a0]*)'([=+\\-@\uff1d\uff0b\uff0d\uff20])")
