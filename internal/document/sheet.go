package document

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
)

// A Sheet is a table on paper.
type Sheet struct {
	Title   string
	Under   string // the title: what it is of, when it was made
	Page    string // "Page {page} of {pages}"
	Columns []SheetColumn
	Rows    []SheetRow
	Paper   string // "A4" or "Letter"
	Large   bool
	Made    time.Time
}

// A SheetColumn is a column with its share of the width.
type SheetColumn struct {
	Head  string
	Share float64
}

// A SheetRow is a row, or a heading over some rows where it has a Group.
type SheetRow struct {
	Group string
	Cells []string
}

// The measures of a sheet, in mm and points.
const (
	sheetEdge  = 12.0
	sheetPad   = 1.4
	sheetSmall = 9.5
	sheetLarge = 14.0
)

// PDF draws a sheet. A row is never parted by the end of a page, unless it is longer
// than one; the heads stand on each.
func (s Sheet) PDF() ([]byte, error) {
	paper := s.Paper
	if paper == "" {
		paper = "A4"
	}
	d := &drawing{Fpdf: fpdf.New("L", "mm", paper, ""), sheet: &s, size: sheetSmall}
	if s.Large {
		d.size = sheetLarge
	}
	d.SetCreationDate(s.Made)
	d.SetModificationDate(s.Made)
	d.SetTitle(printable(s.Title), true)
	d.SetCatalogSort(true)
	d.AddUTF8FontFromBytes("go", "", goregular.TTF)
	d.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	d.SetMargins(sheetEdge, sheetEdge, sheetEdge)
	d.SetAutoPageBreak(false, sheetEdge)
	d.AliasNbPages("{pages}")
	d.measure()
	d.page(true)
	for _, r := range s.Rows {
		if r.Group != "" {
			d.group(r.Group)
		} else {
			d.row(r.Cells)
		}
	}
	var out bytes.Buffer
	if err := d.Output(&out); err != nil {
		return nil, fmt.Errorf("a sheet: %w", err)
	}
	return out.Bytes(), nil
}

// printable gives a text that a PDF's font can take: signs beyond the first plane of
// Unicode, such as emoji, and what is no text stand as a box.
func printable(s string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r > 0xFFFF || r == utf8.RuneError:
			return '□'
		case r < ' ' && r != '\n':
			return ' '
		}
		return r
	}, s)
}

type drawing struct {
	*fpdf.Fpdf
	sheet  *Sheet
	size   float64 // of type, in points
	line   float64 // mm
	widths []float64
	bottom float64
	pages  int
}

func (d *drawing) measure() {
	wide, high := d.GetPageSize()
	d.line = d.size * 0.3528 * 1.32
	d.bottom = high - sheetEdge - 6
	sum := 0.0
	for _, c := range d.sheet.Columns {
		sum += c.Share
	}
	for _, c := range d.sheet.Columns {
		d.widths = append(d.widths, (wide-2*sheetEdge)*c.Share/sum)
	}
}

func (d *drawing) page(first bool) {
	d.AddPage()
	d.pages++
	_, high := d.GetPageSize()
	d.SetFont("go", "", 8)
	d.SetXY(sheetEdge, high-sheetEdge-3)
	d.CellFormat(0, 4, fmt.Sprintf("%s %d / {pages}", d.sheet.Page, d.pages), "", 0, "R", false, 0, "")
	d.SetXY(sheetEdge, sheetEdge)
	if first {
		d.SetFont("go", "B", d.size+6)
		d.CellFormat(0, d.line*1.6, printable(d.sheet.Title), "", 1, "L", false, 0, "")
		d.SetFont("go", "", d.size)
		d.CellFormat(0, d.line*1.4, printable(d.sheet.Under), "", 1, "L", false, 0, "")
	}
	heads := make([]string, len(d.sheet.Columns))
	for i, c := range d.sheet.Columns {
		heads[i] = printable(c.Head)
	}
	d.SetFont("go", "B", d.size)
	d.put(heads, 0.5)
	d.SetFont("go", "", d.size)
}

func (d *drawing) group(name string) {
	if d.GetY()+3*d.line > d.bottom { // never alone at the end of a page
		d.page(false)
	}
	d.SetFont("go", "B", d.size)
	d.SetY(d.GetY() + d.line*0.4)
	d.CellFormat(0, d.line*1.3, printable(name), "", 1, "L", false, 0, "")
	d.SetFont("go", "", d.size)
}

func (d *drawing) row(cells []string) {
	cells = slices.Clone(cells)
	for i := range cells {
		cells[i] = printable(cells[i])
	}
	if d.GetY()+d.height(cells) > d.bottom {
		d.page(false)
	}
	d.put(cells, 0.15)
}

func (d *drawing) height(cells []string) float64 {
	lines := 1
	for i, text := range cells {
		lines = max(lines, len(d.lines(i, text)))
	}
	return float64(lines)*d.line + 2*sheetPad
}

func (d *drawing) lines(column int, text string) []string {
	if text == "" {
		return nil
	}
	return d.SplitText(text, d.widths[column]-2*sheetPad)
}

// put draws cells beside each other with a rule under them.
func (d *drawing) put(cells []string, rule float64) {
	x, y := sheetEdge, d.GetY()
	high := d.height(cells)
	for i, text := range cells {
		for n, line := range d.lines(i, text) {
			if at := y + sheetPad + float64(n)*d.line; at+d.line <= d.bottom+d.line { // a row longer than a page ends with it
				d.SetXY(x+sheetPad, at)
				d.CellFormat(d.widths[i]-2*sheetPad, d.line, line, "", 0, "L", false, 0, "")
			}
		}
		x += d.widths[i]
	}
	d.SetLineWidth(rule)
	d.Line(sheetEdge, y+high, x, y+high)
	d.SetXY(sheetEdge, y+high)
}
