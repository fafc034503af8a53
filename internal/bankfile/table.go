package bankfile

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"io"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
	"golang.org/x/text/transform"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/statement"
	"ruvo/internal/core/words"
)

// A column is what a table can tell of a transfer.
type column int

const (
	colDay column = iota
	colAmount
	colIn
	colOut
	colSign
	colCurrency
	colPayer
	colText
	colReference
	colAccount
	columns
)

// headings are the names that columns have in tables of banks, in English and
// German (common practice, from memory), small and without marks. Earlier ones
// are preferred.
var headings = [columns][]string{
	colDay:       {"buchungstag", "buchungsdatum", "booking date", "booked", "datum", "date", "tag", "day", "valuta", "value date"},
	colAmount:    {"betrag", "amount", "umsatz", "wert", "value"},
	colIn:        {"haben", "gutschrift", "credit", "eingang", "paid in", "money in"},
	colOut:       {"soll", "lastschrift", "debit", "ausgang", "paid out", "money out"},
	colSign:      {"soll/haben", "s/h", "credit/debit", "direction", "cdtdbtind"},
	colCurrency:  {"wahrung", "waehrung", "currency"},
	colPayer:     {"zahlungspflichtiger", "auftraggeber", "zahlungsbeteiligter", "gegenpartei", "payer", "debtor", "counterparty", "name"},
	colText:      {"verwendungszweck", "zahlungszweck", "remittance information", "purpose", "details", "description", "buchungstext", "text", "mitteilung"},
	colReference: {"referenz", "creditor reference", "reference"},
	colAccount:   {"auftragskonto", "own account", "eigenes konto", "konto des auftraggebers"},
}

// preamble is within how many lines the column names must stand: some banks
// write a few lines about the account before them.
const preamble = 40

// longestLine is how long a line of a table can be, in bytes.
const longestLine = 64 << 10

// readTable reads a table in whatever of the usual characters, with commas,
// semicolons or tabs.
func readTable(in io.Reader, want Expected) (*File, error) {
	text, err := decoded(in)
	if err != nil {
		return nil, err
	}
	head, skip, comma := titles(text)
	if head == nil {
		return nil, words.Tell("statement.no_columns")
	}
	at, err := head.columns()
	if err != nil {
		return nil, err
	}
	lines := csv.NewReader(bytes.NewReader(text[skip:]))
	lines.Comma, lines.FieldsPerRecord = comma, -1
	t := table{at: at, want: want, before: bytes.Count(text[:skip], []byte("\n"))}
	for {
		cells, err := lines.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			var bad *csv.ParseError
			if errors.As(err, &bad) {
				return nil, words.Tell("statement.quotes", "line", t.before+bad.StartLine)
			}
			return nil, err
		}
		line, _ := lines.FieldPos(0)
		if err := t.line(cells, t.before+line); err != nil {
			return nil, err
		}
	}
	return t.statement()
}

// decoded reads a whole table as UTF-8: by its byte order mark, as UTF-8, or as
// what banks wrote before (Windows-1252).
func decoded(in io.Reader) ([]byte, error) {
	raw, err := io.ReadAll(in)
	if err != nil {
		return nil, err
	}
	if bytes.HasPrefix(raw, []byte("\xff\xfe")) || bytes.HasPrefix(raw, []byte("\xfe\xff")) || bytes.HasPrefix(raw, []byte("\xef\xbb\xbf")) {
		raw, _, err = transform.Bytes(unicode.BOMOverride(transform.Nop), raw)
	} else if !utf8.Valid(raw) {
		raw, _, err = transform.Bytes(charmap.Windows1252.NewDecoder(), raw)
	}
	if err != nil || bytes.IndexByte(raw, 0) >= 0 {
		return nil, words.Tell("statement.no_text")
	}
	return raw, nil
}

// A heading is the line of column names.
type heading []string

// titles finds the line of column names: the first that names a day and an
// amount. It gives where the line after it begins.
func titles(text []byte) (head heading, skip int, comma rune) {
	in := bufio.NewScanner(bytes.NewReader(text))
	in.Buffer(nil, longestLine)
	in.Split(func(data []byte, end bool) (int, []byte, error) { // lines with their ends
		if i := bytes.IndexByte(data, '\n'); i >= 0 {
			return i + 1, data[:i+1], nil
		}
		if end && len(data) > 0 {
			return len(data), data, nil
		}
		return 0, nil, nil
	})
	for n := 0; n < preamble && in.Scan(); n++ {
		skip += len(in.Bytes())
		for _, comma := range []rune{';', ',', '\t'} {
			lines := csv.NewReader(strings.NewReader(strings.TrimRight(in.Text(), "\r\n")))
			lines.Comma = comma
			cells, err := lines.Read()
			if err != nil || len(cells) < 2 {
				continue
			}
			h := make(heading, len(cells))
			for i, c := range cells {
				h[i] = statement.Fold(c)
			}
			if h.find(colDay) >= 0 && (h.find(colAmount) >= 0 || h.find(colIn) >= 0) {
				return h, skip, comma
			}
		}
	}
	return nil, 0, 0
}

// find gives where a column stands; -1 when it does not.
func (h heading) find(c column) int {
	for _, name := range headings[c] {
		for i, cell := range h {
			if cell == name {
				return i
			}
		}
	}
	for _, name := range headings[c] { // "betrag in eur", "auftraggeber / empfanger"
		for i, cell := range h {
			if strings.HasPrefix(cell, name+" ") || strings.HasPrefix(cell, name+"/") || strings.HasPrefix(cell, name+"(") || strings.HasPrefix(cell, name+":") {
				return i
			}
		}
	}
	return -1
}

// columns finds what stands where, and says what is missing.
func (h heading) columns() ([columns]int, error) {
	var at [columns]int
	for c := range columns {
		at[c] = h.find(c)
	}
	if at[colSign] >= 0 && at[colIn] == at[colSign] {
		at[colIn] = -1
	}
	if at[colText] < 0 && at[colReference] < 0 && at[colPayer] < 0 {
		return at, words.Tell("statement.no_text_column", "columns", clean(strings.Join(h, ", ")))
	}
	return at, nil
}

type table struct {
	at     [columns]int
	want   Expected
	before int // lines before the first of the table
	rows   []statement.Row
	days   []string // as they are written, since all together tell how to read them
	lines  []int
	s      File
}

func (t *table) cell(cells []string, c column) string {
	if i := t.at[c]; i >= 0 && i < len(cells) {
		return clean(cells[i])
	}
	return ""
}

func (t *table) line(cells []string, line int) error {
	day := t.cell(cells, colDay)
	amount := t.cell(cells, colAmount)
	out := false
	if t.at[colAmount] < 0 {
		if amount = t.cell(cells, colIn); amount == "" {
			amount, out = t.cell(cells, colOut), true
		}
	}
	if day == "" && amount == "" { // an empty line, or a sum below
		return nil
	}
	if len(t.rows) >= MostRows {
		return words.Tell("statement.many_rows", "most", MostRows)
	}
	row := statement.Row{Payer: t.cell(cells, colPayer), Text: t.cell(cells, colText), Reference: tight(t.cell(cells, colReference)), Currency: t.want.Currency}
	if account := tight(t.cell(cells, colAccount)); account != "" {
		t.s.Account = account
		if err := t.want.wrongAccount(account); err != nil && len(account) > 14 { // else it is no IBAN
			return err
		}
	}
	if c := strings.ToUpper(t.cell(cells, colCurrency)); c != "" {
		row.Currency = money.Currency(c)
	}
	n, err := number(withoutCurrency(amount, &row.Currency), row.Currency, 0)
	if err != nil {
		return words.Tell("statement.amount", "row", line, "value", amount)
	}
	if n > 0 && (out || slices.Contains([]string{"s", "soll", "d", "dbit", "debit"}, strings.ToLower(t.cell(cells, colSign)))) {
		n = -n
	}
	row.Amount = n
	t.rows, t.days, t.lines = append(t.rows, row), append(t.days, day), append(t.lines, line)
	return nil
}

// withoutCurrency takes a currency's code or the euro's sign off an amount.
func withoutCurrency(amount string, c *money.Currency) string {
	s := strings.TrimSpace(strings.ReplaceAll(amount, "€", " EUR "))
	if len(s) < 4 {
		return s
	}
	for _, cut := range []struct{ code, rest string }{{s[len(s)-3:], s[:len(s)-3]}, {s[:3], s[3:]}} {
		if _, err := money.Currency(cut.code).Digits(); err == nil {
			*c = money.Currency(cut.code)
			return strings.TrimSpace(cut.rest)
		}
	}
	return s
}

// statement reads the days, once all of them are known.
func (t *table) statement() (*File, error) {
	layout, bad := layoutOf(t.days)
	if bad >= 0 {
		return nil, words.Tell("statement.day", "row", t.lines[bad], "value", t.days[bad])
	}
	for i, text := range t.days {
		at, err := time.Parse(layout, text)
		if err != nil {
			return nil, words.Tell("statement.day", "row", t.lines[i], "value", text)
		}
		t.rows[i].Day = calendar.DayOf(at)
	}
	t.s.Format, t.s.Rows = Table, t.rows
	return &t.s, nil
}

// layoutOf finds how all days of a table are written; days before months where
// both would do. When none does it gives the first that does not read as the one
// that goes furthest.
func layoutOf(days []string) (layout string, bad int) {
	bad = -1
	for _, l := range []string{"2006-01-02", "2006-01-02T15:04:05", "2006-01-02 15:04:05", "02.01.2006", "2.1.2006", "02.01.06", "02/01/2006", "01/02/2006", "02-01-2006", "20060102", "2006/01/02"} {
		i := slices.IndexFunc(days, func(d string) bool { _, err := time.Parse(l, d); return err != nil })
		if i < 0 {
			return l, -1
		}
		bad = max(bad, i)
	}
	return "", bad
}
