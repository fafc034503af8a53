package document

import (
	"encoding/csv"
	"io"
	"strings"
)

// CSV writes a table as RFC 4180 says, with a byte order mark, by which
// spreadsheets tell its encoding. A cell that a spreadsheet would run as a
// formula gets an apostrophe before it.
func CSV(w io.Writer, rows [][]string) error {
	if _, err := io.WriteString(w, "\ufeff"); err != nil {
		return err
	}
	out := csv.NewWriter(w)
	out.UseCRLF = true
	for _, row := range rows {
		safe := make([]string, len(row))
		for i, cell := range row {
			safe[i] = harmless(cell)
		}
		if err := out.Write(safe); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

func harmless(cell string) string {
	if cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])) {
		return "'" + cell
	}
	return cell
}
