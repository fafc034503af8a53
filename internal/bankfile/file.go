// Package bankfile reads the files in which banks tell of an account: camt.053
// (ISO 20022), and tables.
package bankfile

import (
	"bufio"
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/statement"
	"ruvo/internal/core/words"
)

// A Format is how a statement is written.
type Format string

const (
	CAMT  Format = "camt.053" // ISO 20022, bank to customer statement
	Table Format = "csv"      // RFC 4180, with a line of column names
)

// MostRows is how many rows one statement can have.
const MostRows = 200_000

// A File is what was read of one.
type File struct {
	Format  Format
	Account string // its number, without spaces; empty when it is not told
	Rows    []statement.Row
}

// Expected is what a statement must be of.
type Expected struct {
	Account  string // the business's, without spaces; empty for any
	Currency money.Currency
}

// Read reads a whole statement. It returns a words.Message as its error for what
// people are told: a file that is none, that ends early, of another account, or
// with a row that cannot be read.
func Read(in io.Reader, want Expected) (*File, error) {
	buffered := bufio.NewReaderSize(in, 4096)
	head, err := buffered.Peek(512)
	if len(head) == 0 {
		if err != nil && !errors.Is(err, io.EOF) {
			return nil, err
		}
		return nil, words.Tell("statement.empty")
	}
	var s *File
	if isXML(head) {
		s, err = readCAMT(buffered, want)
	} else {
		s, err = readTable(buffered, want)
	}
	if err != nil {
		return nil, err
	}
	if len(s.Rows) == 0 {
		return nil, words.Tell("statement.no_rows")
	}
	s.name()
	return s, nil
}

func isXML(head []byte) bool {
	head = bytes.TrimPrefix(head, []byte("\xef\xbb\xbf"))
	if bytes.HasPrefix(head, []byte("\xff\xfe<")) || bytes.HasPrefix(head, []byte("\xfe\xff\x00<")) {
		return true
	}
	return bytes.HasPrefix(bytes.TrimSpace(head), []byte("<"))
}

// wrongAccount says of an account's number that the statement is of another one.
func (e Expected) wrongAccount(iban string) error {
	if e.Account == "" || iban == "" || iban == e.Account {
		return nil
	}
	return words.Tell("statement.account", "theirs", iban, "ours", e.Account)
}

// name gives each row its identity: the bank's own name for it where it has one,
// else all that is told of it, counted, since the same person may send the same
// amount twice in a day.
func (s *File) name() {
	seen := map[string]int{}
	for i := range s.Rows {
		r := &s.Rows[i]
		parts := []string{r.Day.String(), strconv.FormatInt(int64(r.Amount), 10), string(r.Currency)}
		if r.Bank != "" {
			parts = append(parts, r.Bank)
		} else {
			parts = append(parts, r.Payer, r.Text, r.Reference)
		}
		h := sha256.New()
		for _, p := range parts {
			p = squeeze(p)
			h.Write([]byte(strconv.Itoa(len(p)) + ":" + p))
		}
		sum := hex.EncodeToString(h.Sum(nil)[:16])
		seen[sum]++
		r.Identity = sum + "-" + strconv.Itoa(seen[sum])
	}
}

// Days gives the first and the last day of its rows.
func (s *File) Days() (first, last calendar.Day) {
	for i, r := range s.Rows {
		if i == 0 || r.Day.Before(first) {
			first = r.Day
		}
		if i == 0 || r.Day.After(last) {
			last = r.Day
		}
	}
	return first, last
}

// squeeze gives a text without what does not tell one transfer from another.
func squeeze(s string) string { return strings.ToLower(strings.Join(strings.Fields(s), " ")) }

// longestText is how much of a text is kept, in characters; a statement's own
// fields are shorter (ISO 20022: 140 each).
const longestText = 500

// clean gives a text as it is kept: without control characters, in one line.
func clean(s string) string {
	s = strings.ToValidUTF8(s, "�")
	s = strings.Map(func(r rune) rune {
		if unicode.IsControl(r) || unicode.Is(unicode.Zl, r) || unicode.Is(unicode.Zp, r) {
			return ' '
		}
		return r
	}, s)
	s = strings.Join(strings.Fields(s), " ")
	if utf8.RuneCountInString(s) > longestText {
		s = string([]rune(s)[:longestText])
	}
	return s
}
