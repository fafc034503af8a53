package bankfile

import (
	"encoding/xml"
	"errors"
	"io"
	"strings"

	"golang.org/x/text/encoding/ianaindex"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/statement"
	"ruvo/internal/core/words"
)

// The parts of camt.053 (ISO 20022, BankToCustomerStatement) that are read; the
// names are those of its schema, versions 02 to 13, which differ in where a
// party's name and an entry's status stand.
type (
	camtAmount struct {
		Currency string `xml:"Ccy,attr"`
		Value    string `xml:",chardata"`
	}
	camtDay struct {
		Date string `xml:"Dt"`
		Time string `xml:"DtTm"`
	}
	camtParty struct {
		Name  string `xml:"Nm"`     // up to version 02
		Party string `xml:"Pty>Nm"` // from version 08 on
	}
	camtRemittance struct {
		Free       []string `xml:"Ustrd"`
		Structured []struct {
			Reference string   `xml:"CdtrRefInf>Ref"`
			More      []string `xml:"AddtlRmtInf"`
		} `xml:"Strd"`
	}
	camtTransaction struct {
		Bank      string         `xml:"Refs>AcctSvcrRef"`
		Name      string         `xml:"Refs>TxId"`
		EndToEnd  string         `xml:"Refs>EndToEndId"`
		Amount    camtAmount     `xml:"Amt"`
		Inner     camtAmount     `xml:"AmtDtls>TxAmt>Amt"`
		Direction string         `xml:"CdtDbtInd"`
		Debtor    camtParty      `xml:"RltdPties>Dbtr"`
		Ultimate  camtParty      `xml:"RltdPties>UltmtDbtr"`
		Creditor  camtParty      `xml:"RltdPties>Cdtr"`
		Text      camtRemittance `xml:"RmtInf"`
		More      string         `xml:"AddtlTxInf"`
	}
	camtEntry struct {
		Bank      string     `xml:"AcctSvcrRef"`
		Amount    camtAmount `xml:"Amt"`
		Direction string     `xml:"CdtDbtInd"`
		Reversal  string     `xml:"RvslInd"`
		Status    struct {
			Text string `xml:",chardata"` // up to version 07
			Code string `xml:"Cd"`        // from version 08 on
		} `xml:"Sts"`
		Booked       camtDay           `xml:"BookgDt"`
		Valued       camtDay           `xml:"ValDt"`
		Transactions []camtTransaction `xml:"NtryDtls>TxDtls"`
		More         string            `xml:"AddtlNtryInf"`
	}
	camtAccount struct {
		IBAN     string `xml:"Id>IBAN"`
		Currency string `xml:"Ccy"`
	}
)

const camtSpace = "urn:iso:std:iso:20022:tech:xsd:camt.053.001."

// readCAMT reads a camt.053 document, entry by entry.
func readCAMT(in io.Reader, want Expected) (*File, error) {
	source := &watched{in: in}
	d := xml.NewDecoder(source)
	d.CharsetReader = func(name string, in io.Reader) (io.Reader, error) {
		e, err := ianaindex.IANA.Encoding(name)
		if err != nil || e == nil {
			return nil, words.Tell("statement.charset", "name", name)
		}
		return e.NewDecoder().Reader(in), nil
	}
	r := camtReader{d: d, source: source, want: want, s: &File{Format: CAMT}}
	for {
		t, err := d.Token()
		if errors.Is(err, io.EOF) && r.ended {
			return r.s, nil
		}
		if err == nil {
			err = r.token(t)
		}
		if err != nil {
			return nil, r.told(err)
		}
	}
}

type camtReader struct {
	d       *xml.Decoder
	source  *watched
	want    Expected
	s       *File
	path    []string
	ended   bool // the document's element was closed
	account camtAccount
}

// told puts an error of the decoder into words.
func (r *camtReader) told(err error) error {
	var m *words.Message
	var syntax *xml.SyntaxError
	switch {
	case errors.As(err, &m):
		return m
	case r.source.failed != nil:
		return r.source.failed
	case errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, io.EOF):
		return words.Tell("statement.truncated")
	case errors.As(err, &syntax) && strings.Contains(syntax.Msg, "unexpected EOF"):
		return words.Tell("statement.truncated")
	}
	line, _ := r.d.InputPos()
	return words.Tell("statement.syntax", "line", line)
}

// watched tells errors of what is read from apart from those in it.
type watched struct {
	in     io.Reader
	failed error
}

func (w *watched) Read(p []byte) (int, error) {
	n, err := w.in.Read(p)
	if err != nil && !errors.Is(err, io.EOF) {
		w.failed = err
	}
	return n, err
}

func (r *camtReader) token(t xml.Token) error {
	switch t := t.(type) {
	case xml.Directive: // a DTD can have a reader fetch files and grow a text without end
		return words.Tell("statement.dtd")
	case xml.EndElement:
		r.path = r.path[:len(r.path)-1]
		r.ended = len(r.path) == 0
	case xml.StartElement:
		return r.start(t)
	}
	return nil
}

func (r *camtReader) start(t xml.StartElement) error {
	r.path = append(r.path, t.Name.Local)
	switch strings.Join(r.path, "/") {
	case "Document":
		if r.ended || !strings.HasPrefix(t.Name.Space, camtSpace) {
			return words.Tell("statement.not_camt", "space", clean(t.Name.Space))
		}
	case "Document/BkToCstmrStmt/Stmt/Acct":
		r.path = r.path[:len(r.path)-1]
		r.account = camtAccount{}
		if err := r.d.DecodeElement(&r.account, &t); err != nil {
			return err
		}
		r.s.Account = tight(r.account.IBAN)
		return r.want.wrongAccount(r.s.Account)
	case "Document/BkToCstmrStmt/Stmt/Ntry":
		r.path = r.path[:len(r.path)-1]
		var e camtEntry
		if err := r.d.DecodeElement(&e, &t); err != nil {
			return err
		}
		return r.entry(&e)
	default:
		switch {
		case len(r.path) == 1:
			return words.Tell("statement.not_camt", "space", clean(t.Name.Local))
		case len(r.path) == 2 && t.Name.Local != "BkToCstmrStmt":
			return words.Tell("statement.not_camt", "space", clean(t.Name.Local))
		case len(r.path) == 4, len(r.path) == 3 && t.Name.Local != "Stmt":
			r.path = r.path[:len(r.path)-1]
			return r.d.Skip()
		}
	}
	return nil
}

// entry takes the rows of one entry: one, or those of a batch, when these come to
// the entry's amount.
func (r *camtReader) entry(e *camtEntry) error {
	status := strings.TrimSpace(e.Status.Code)
	if status == "" {
		status = strings.TrimSpace(e.Status.Text)
	}
	if status != "" && status != "BOOK" { // announced, and not booked yet
		return nil
	}
	n := len(r.s.Rows) + 1
	day, err := e.day()
	if err != nil {
		return words.Tell("statement.day", "row", n, "value", clean(e.Booked.Date+e.Booked.Time))
	}
	amount, currency, err := e.Amount.read(e.Direction)
	if err != nil {
		return words.Tell("statement.amount", "row", n, "value", clean(e.Amount.Value+" "+e.Amount.Currency))
	}
	whole := statement.Row{Day: day, Amount: amount, Currency: currency, Bank: tight(e.Bank), Reversal: truth(e.Reversal), Text: clean(e.More)}
	rows := []statement.Row{whole}
	if len(e.Transactions) == 1 {
		rows[0] = e.Transactions[0].row(whole)
		rows[0].Amount, rows[0].Currency = amount, currency
	} else if parts, ok := e.parts(whole); ok {
		rows = parts
	}
	if len(r.s.Rows)+len(rows) > MostRows {
		return words.Tell("statement.many_rows", "most", MostRows)
	}
	r.s.Rows = append(r.s.Rows, rows...)
	return nil
}

func (e *camtEntry) day() (calendar.Day, error) {
	for _, d := range []camtDay{e.Booked, e.Valued} {
		text := strings.TrimSpace(d.Date)
		if text == "" {
			text, _, _ = strings.Cut(strings.TrimSpace(d.Time), "T")
		}
		if text == "" {
			continue
		}
		if len(text) > len("2006-01-02") { // a zone may follow an xs:date
			text = text[:len("2006-01-02")]
		}
		return calendar.ParseDay(text)
	}
	return calendar.Day{}, calendar.ErrDay
}

// parts gives a batch's transfers, when they come to what the entry says.
func (e *camtEntry) parts(whole statement.Row) ([]statement.Row, bool) {
	var rows []statement.Row
	var sum money.Amount
	for _, t := range e.Transactions {
		row := t.row(whole)
		direction := t.Direction
		if direction == "" {
			direction = e.Direction
		}
		amount := t.Amount
		if amount.Value == "" {
			amount = t.Inner
		}
		var err error
		if row.Amount, row.Currency, err = amount.read(direction); err != nil || row.Currency != whole.Currency {
			return nil, false
		}
		sum += row.Amount
		rows = append(rows, row)
	}
	return rows, len(rows) > 0 && sum == whole.Amount
}

// row gives a row with what a transaction tells beyond its entry.
func (t *camtTransaction) row(r statement.Row) statement.Row {
	if name := tight(t.Bank); name != "" {
		r.Bank = name
	} else if name := tight(t.Name); name != "" && r.Bank != "" {
		r.Bank += " " + name
	}
	from := []camtParty{t.Debtor, t.Ultimate}
	if r.Amount < 0 {
		from = []camtParty{t.Creditor}
	}
	for _, p := range from {
		for _, name := range []string{p.Name, p.Party} {
			if name = clean(name); name != "" && r.Payer == "" {
				r.Payer = name
			}
		}
	}
	texts := append([]string{}, t.Text.Free...)
	for _, s := range t.Text.Structured {
		if r.Reference == "" {
			r.Reference = tight(s.Reference)
		}
		texts = append(texts, s.More...)
	}
	// A reference may also be handed through by its sender.
	if r.Reference == "" && strings.HasPrefix(tight(t.EndToEnd), "RF") {
		r.Reference = tight(t.EndToEnd)
	}
	if text := clean(strings.Join(texts, " ")); text != "" {
		r.Text = text
	} else if text := clean(t.More); text != "" {
		r.Text = text
	}
	return r
}

// read reads an amount; it lies below zero when it went out.
func (a camtAmount) read(direction string) (money.Amount, money.Currency, error) {
	c := money.Currency(strings.TrimSpace(a.Currency))
	n, err := number(a.Value, c, '.')
	if err != nil || n < 0 {
		return 0, c, errNumber
	}
	switch strings.TrimSpace(direction) {
	case "CRDT":
		return n, c, nil
	case "DBIT":
		return -n, c, nil
	}
	return 0, c, errNumber
}

// truth reads an xs:boolean.
func truth(s string) bool {
	s = strings.TrimSpace(s)
	return s == "true" || s == "1"
}

// tight gives a number or a reference without spaces, in capitals.
func tight(s string) string { return strings.ToUpper(strings.Join(strings.Fields(clean(s)), "")) }
