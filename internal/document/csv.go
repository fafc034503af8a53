package document

import (
	"bufio"
	"io"
	"regexp"
	"strings"
)

// CSV writes a table as RFC 4180 says, every cell in quotes, with a byte order
// mark, by which spreadsheets tell its encoding. Where a spreadsheet would run
// something as a formula it gets an apostrophe before it.
func CSV(w io.Writer, rows [][]string) error {
	out := bufio.NewWriter(w)
	out.WriteString("\ufeff") // a Writer keeps its first error for Flush
	for _, row := range rows {
		for i, cell := range row {
			if i > 0 {
				out.WriteByte(',')
			}
			out.WriteByte('"')
			out.WriteString(strings.ReplaceAll(harmless(cell), `"`, `""`))
			out.WriteByte('"')
		}
		out.WriteString("\r\n")
	}
	return out.Flush()
}

// running is where a formula may begin: at the beginning of a cell, and after
// whatever some spreadsheet in some country takes for the end of one, since it
// may not know our commas. Source: OWASP, CSV Injection (from memory), with its
// full-width signs.
var running = regexp.MustCompile("(^|[;,|\t\r\n\"'])([ \u00a0]*)([=+\\-@\uff1d\uff0b\uff0d\uff20])")

func harmless(cell string) string { return running.ReplaceAllString(cell, "$1$2'$3") }
