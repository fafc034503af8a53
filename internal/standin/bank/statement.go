// Package bank stands in for the bank that a business has its account with: it
// writes statements of transfers that somebody made up, as camt.053 and as a
// table.
package bank

import (
	"bytes"
	"encoding/csv"
	"encoding/xml"
	"fmt"
	"hash/crc32"
	"strings"
	"text/template"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
)

// A Transfer is one that the bank tells of.
type Transfer struct {
	Day       calendar.Day
	Amount    money.Amount // below zero when it went out
	Currency  money.Currency
	Payer     string
	Text      string
	Reference string // of the creditor; empty for none
	Name      string // the bank's own for it; empty for none
}

// A Statement is what it tells of an account.
type Statement struct {
	Account   string // its number, without spaces
	Transfers []Transfer
}

// Value gives the amount in major units, without its sign.
func (t Transfer) Value() string {
	if t.Amount < 0 {
		return (-t.Amount).Plain(t.Currency)
	}
	return t.Amount.Plain(t.Currency)
}

// Direction gives the code of ISO 20022 for credit or debit.
func (t Transfer) Direction() string {
	if t.Amount < 0 {
		return "DBIT"
	}
	return "CRDT"
}

var camt = template.Must(template.New("camt").Funcs(template.FuncMap{"x": escaped}).Parse(`<?xml version="1.0" encoding="UTF-8"?>
<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08">
  <BkToCstmrStmt>
    <GrpHdr><MsgId>SIMULATED</MsgId><CreDtTm>2000-01-01T00:00:00</CreDtTm></GrpHdr>
    <Stmt>
      <Id>1</Id>
      <Acct><Id><IBAN>{{x .Account}}</IBAN></Id></Acct>
{{- range .Transfers}}
      <Ntry>
        <Amt Ccy="{{x .Currency}}">{{.Value}}</Amt>
        <CdtDbtInd>{{.Direction}}</CdtDbtInd>
        <Sts><Cd>BOOK</Cd></Sts>
        <BookgDt><Dt>{{.Day}}</Dt></BookgDt>
        <ValDt><Dt>{{.Day}}</Dt></ValDt>
        {{- if .Name}}
        <AcctSvcrRef>{{x .Name}}</AcctSvcrRef>
        {{- end}}
        <BkTxCd><Prtry><Cd>TRF</Cd></Prtry></BkTxCd>
        <NtryDtls>
          <TxDtls>
            <Refs><EndToEndId>NOTPROVIDED</EndToEndId></Refs>
            <RltdPties><{{if lt .Amount 0}}Cdtr{{else}}Dbtr{{end}}><Pty><Nm>{{x .Payer}}</Nm></Pty></{{if lt .Amount 0}}Cdtr{{else}}Dbtr{{end}}></RltdPties>
            <RmtInf>
              {{- if .Text}}<Ustrd>{{x .Text}}</Ustrd>{{end}}
              {{- if .Reference}}<Strd><CdtrRefInf><Tp><CdOrPrtry><Cd>SCOR</Cd></CdOrPrtry></Tp><Ref>{{x .Reference}}</Ref></CdtrRefInf></Strd>{{end -}}
            </RmtInf>
          </TxDtls>
        </NtryDtls>
      </Ntry>
{{- end}}
    </Stmt>
  </BkToCstmrStmt>
</Document>
`))

func escaped(v any) string {
	var b bytes.Buffer
	if err := xml.EscapeText(&b, []byte(fmt.Sprint(v))); err != nil {
		return ""
	}
	return b.String()
}

// CAMT writes it as camt.053 (ISO 20022, version 08).
func (s Statement) CAMT() ([]byte, error) {
	var b bytes.Buffer
	err := camt.Execute(&b, s)
	return b.Bytes(), err
}

// Table writes it as a table with semicolons and decimal commas, as banks of
// continental Europe do.
func (s Statement) Table() ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	w.Comma = ';'
	rows := [][]string{{"Auftragskonto", "Buchungstag", "Name Zahlungsbeteiligter", "Verwendungszweck", "Betrag", "Waehrung"}}
	for _, t := range s.Transfers {
		amount := strings.ReplaceAll(t.Value(), ".", ",")
		if t.Amount < 0 {
			amount = "-" + amount
		}
		rows = append(rows, []string{s.Account, fmt.Sprintf("%02d.%02d.%d", t.Day.Number, t.Day.Month, t.Day.Year), t.Payer, strings.TrimSpace(t.Text + " " + t.Reference), amount, string(t.Currency)})
	}
	err := w.WriteAll(rows)
	return b.Bytes(), err
}

// named gives each transfer a name of the bank's own, by what it is.
func (s Statement) named() Statement {
	for i := range s.Transfers {
		t := &s.Transfers[i]
		sum := crc32.ChecksumIEEE([]byte(t.Day.String() + "|" + t.Payer + "|" + t.Text + "|" + t.Reference))
		t.Name = fmt.Sprintf("SIM%08X-%d", sum, i+1)
	}
	return s
}
