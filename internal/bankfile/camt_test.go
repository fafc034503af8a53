package bankfile

import (
	"errors"
	"fmt"
	"io"
	"strings"
	"testing"
	"testing/iotest"

	"golang.org/x/text/encoding/charmap"

	"ruvo/internal/core/words"
)

// document wraps entries as ISO 20022 has them: Document, BkToCstmrStmt, GrpHdr,
// Stmt with Id, Acct, Bal and Ntry (camt.053, BankToCustomerStatement; the names
// and their order from memory of the published message definition).
func document(version, entries string) string {
	return `<?xml version="1.0" encoding="UTF-8"?>
<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.` + version + `" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance">
<BkToCstmrStmt>
 <GrpHdr><MsgId>M1</MsgId><CreDtTm>2026-11-24T06:00:00</CreDtTm></GrpHdr>
 <Stmt>
  <Id>S1</Id><ElctrncSeqNb>7</ElctrncSeqNb><CreDtTm>2026-11-24T06:00:00</CreDtTm>
  <Acct><Id><IBAN>DE52 0000 0000 0012 3456 78</IBAN></Id><Ccy>EUR</Ccy><Ownr><Nm>Fernlight Sky Studio</Nm></Ownr></Acct>
  <Bal><Tp><CdOrPrtry><Cd>OPBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">99999.99</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-23</Dt></Dt></Bal>
  ` + entries + `
 </Stmt>
</BkToCstmrStmt>
</Document>`
}

const (
	// An entry of version 02: the status is text, a party's name stands in it.
	old = `<Ntry><NtryRef>1</NtryRef><Amt Ccy="EUR">36.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>2026-11-24</Dt></BookgDt><ValDt><Dt>2026-11-24</Dt></ValDt>
	 <AcctSvcrRef>B-1</AcctSvcrRef><BkTxCd><Domn><Cd>PMNT</Cd><Fmly><Cd>RCDT</Cd><SubFmlyCd>ESCT</SubFmlyCd></Fmly></Domn></BkTxCd>
	 <NtryDtls><TxDtls><Refs><EndToEndId>NOTPROVIDED</EndToEndId></Refs><RltdPties><Dbtr><Nm>Ada  Quill</Nm></Dbtr><DbtrAcct><Id><IBAN>DE89370400440532013000</IBAN></Id></DbtrAcct></RltdPties>
	 <RmtInf><Strd><CdtrRefInf><Tp><CdOrPrtry><Cd>SCOR</Cd></CdOrPrtry></Tp><Ref>RF22 1034</Ref></CdtrRefInf></Strd></RmtInf></TxDtls></NtryDtls></Ntry>`
	// One of version 08: the status is a code, a party is a Pty.
	newer = `<Ntry><Amt Ccy="EUR">5.5</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><DtTm>2026-11-24T12:30:00+01:00</DtTm></BookgDt>
	 <NtryDtls><TxDtls><Refs><EndToEndId>rf22 1034</EndToEndId></Refs><RltdPties><Dbtr><Pty><Nm>Otto Thorn</Nm></Pty></Dbtr></RltdPties>
	 <RmtInf><Ustrd>for the</Ustrd><Ustrd>chart &amp; more</Ustrd></RmtInf></TxDtls></NtryDtls></Ntry>`
	paid     = `<Ntry><Amt Ccy="EUR">900.00</Amt><CdtDbtInd>DBIT</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>2026-11-24</Dt></BookgDt><NtryDtls><TxDtls><RltdPties><Cdtr><Nm>The landlord</Nm></Cdtr></RltdPties></TxDtls></NtryDtls></Ntry>`
	pending  = `<Ntry><Amt Ccy="EUR">1.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts>PDNG</Sts><BookgDt><Dt>2026-11-24</Dt></BookgDt></Ntry>`
	reversal = `<Ntry><Amt Ccy="EUR">36.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><RvslInd>true</RvslInd><Sts>BOOK</Sts><BookgDt><Dt>2026-11-24</Dt></BookgDt></Ntry>`
)

// batch is an entry of several transactions, which come to sum.
func batch(sum string) string {
	return `<Ntry><Amt Ccy="EUR">` + sum + `</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>2026-11-24</Dt></BookgDt><AcctSvcrRef>B-9</AcctSvcrRef><NtryDtls><Btch><NbOfTxs>2</NbOfTxs></Btch>
	 <TxDtls><Refs><TxId>T1</TxId></Refs><AmtDtls><TxAmt><Amt Ccy="EUR">10.00</Amt></TxAmt></AmtDtls><RltdPties><Dbtr><Nm>One</Nm></Dbtr></RltdPties></TxDtls>
	 <TxDtls><Refs><TxId>T2</TxId></Refs><Amt Ccy="EUR">20.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><RltdPties><Dbtr><Nm>Two</Nm></Dbtr></RltdPties></TxDtls></NtryDtls></Ntry>`
}

var expected = Expected{Account: "DE52000000000012345678", Currency: "EUR"}

func shown(f *File) string {
	var all []string
	for _, r := range f.Rows {
		one := fmt.Sprintf("%s %d %s %q %q %q", r.Day, r.Amount, r.Currency, r.Payer, r.Text, r.Reference)
		if r.Reversal {
			one += " reversal"
		}
		all = append(all, one)
	}
	return strings.Join(all, "\n")
}

func TestCAMT(t *testing.T) {
	for _, c := range []struct{ name, in, want string }{
		{"version 02", document("02", old), `2026-11-24 3600 EUR "Ada Quill" "" "RF221034"`},
		{"version 08", document("08", newer), `2026-11-24 550 EUR "Otto Thorn" "for the chart & more" "RF221034"`},
		{"what went out", document("02", paid), `2026-11-24 -90000 EUR "The landlord" "" ""`},
		{"what is only announced", document("02", pending+old), `2026-11-24 3600 EUR "Ada Quill" "" "RF221034"`},
		{"one that is taken back", document("02", reversal), `2026-11-24 3600 EUR "" "" "" reversal`},
		{"a batch", document("02", batch("30.00")), "2026-11-24 1000 EUR \"One\" \"\" \"\"\n2026-11-24 2000 EUR \"Two\" \"\" \"\""},
		{"a batch that does not add up", document("02", batch("31.00")), `2026-11-24 3100 EUR "" "" ""`},
		{"in other characters", encoded(t, "ISO-8859-1", strings.Replace(document("02", old), "Ada  Quill", "Jürgen Ölmüller", 1)), `2026-11-24 3600 EUR "Jürgen Ölmüller" "" "RF221034"`},
		{"a byte order mark", "\xef\xbb\xbf" + document("02", old), `2026-11-24 3600 EUR "Ada Quill" "" "RF221034"`},
	} {
		f, err := Read(strings.NewReader(c.in), expected)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if got := shown(f); got != c.want || f.Format != CAMT || f.Account != expected.Account {
			t.Errorf("%s:\n%s\nwant\n%s", c.name, got, c.want)
		}
	}
}

func encoded(t *testing.T, name, text string) string {
	t.Helper()
	out, err := charmap.ISO8859_1.NewEncoder().String(strings.Replace(text, "UTF-8", name, 1))
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// The same transfer has the same identity in whatever statement, and two that
// are alike in one are two.
func TestIdentities(t *testing.T) {
	ids := func(in string) (all []string) {
		f, err := Read(strings.NewReader(in), expected)
		if err != nil {
			t.Fatal(err)
		}
		for _, r := range f.Rows {
			all = append(all, r.Identity)
		}
		return all
	}
	a := ids(document("02", old+newer+newer))
	b := ids(document("02", paid+newer+old+newer))
	if a[0] != b[2] || a[1] != b[1] || a[2] != b[3] || a[1] == a[2] {
		t.Errorf("%v\n%v", a, b)
	}
	// A bank's own name for it counts more than how it words the text.
	if other := ids(document("02", strings.Replace(old, "Ada  Quill", "ADA QUILL", 1))); other[0] != a[0] {
		t.Error("worded otherwise it is another one")
	}
	batched := ids(document("02", batch("30.00")))
	if batched[0] == batched[1] {
		t.Error("two of a batch are one")
	}
}

// codeOf gives the code of what people are told.
func codeOf(err error) string {
	var m *words.Message
	if errors.As(err, &m) {
		return m.Code
	}
	return fmt.Sprint(err)
}

func TestFilesThatAreNone(t *testing.T) {
	whole := document("02", old+newer)
	for _, c := range []struct{ code, in string }{
		{"statement.amount", document("02", strings.Replace(old, "36.00", "36.001", 1))},
		{"statement.amount", document("02", strings.Replace(old, "36.00", "-36.00", 1))},
		{"statement.amount", document("02", strings.Replace(old, `Ccy="EUR"`, `Ccy="XXY"`, 1))},
		{"statement.amount", document("02", strings.Replace(old, "CRDT", "BOTH", 1))},
		{"statement.amount", document("02", strings.Replace(old, "36.00", "99999999999999999999", 1))},
		{"statement.day", document("02", strings.Replace(old, "2026-11-24", "2026-11-31", 2))},
		{"statement.not_camt", strings.Replace(whole, "camt.053", "camt.054", 1)},
		{"statement.not_camt", strings.ReplaceAll(whole, "BkToCstmrStmt", "BkToCstmrAcctRpt")},
		{"statement.no_rows", document("02", pending)},
		{"statement.account", strings.Replace(whole, "DE52 0000", "DE53 0000", 1)},
		{"statement.dtd", `<!DOCTYPE Document SYSTEM "file:///etc/passwd">` + whole},
		{"statement.syntax", strings.Replace(whole, "Quill", "&quill;", 1)},
	} {
		if _, err := Read(strings.NewReader(c.in), expected); codeOf(err) != c.code {
			t.Errorf("%v, want %s", codeOf(err), c.code)
		}
	}
	// Wherever it is cut off, it is not taken for a shorter one.
	for n := 5; n < len(whole)-1; n += 7 {
		if _, err := Read(strings.NewReader(whole[:n]), expected); err == nil {
			t.Fatalf("cut off after %d of %d bytes it is read", n, len(whole))
		}
	}
	if _, err := Read(strings.NewReader(whole+"\n<!-- done -->\n"), expected); err != nil {
		t.Error(err)
	}
}

// A statement with more rows than anybody's is refused, and the largest is read
// in one go.
func TestTooManyRows(t *testing.T) {
	entry := `<Ntry><Amt Ccy="EUR">1.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>2026-11-24</Dt></BookgDt></Ntry>`
	if _, err := Read(strings.NewReader(document("02", strings.Repeat(entry, MostRows+1))), expected); codeOf(err) != "statement.many_rows" {
		t.Error(err)
	}
	lines := "Date,Amount,Name\n" + strings.Repeat("2026-11-24,1.00,Ada\n", 100_000)
	f, err := Read(strings.NewReader(lines), expected)
	if err != nil || len(f.Rows) != 100_000 {
		t.Fatal(err)
	}
	if _, err := Read(strings.NewReader(lines+strings.Repeat("2026-11-24,1.00,Ada\n", MostRows)), expected); codeOf(err) != "statement.many_rows" {
		t.Error(err)
	}
}

func FuzzRead(f *testing.F) {
	for _, in := range []string{document("02", old+batch("30.00")), document("08", newer), "Date;Amount;Name\n24.11.2026;1.234,50;Ada\n", "\xff\xfeD\x00", `"`, "<", "<!DOCTYPE a>"} {
		f.Add([]byte(in))
	}
	f.Fuzz(func(t *testing.T, in []byte) {
		file, err := Read(strings.NewReader(string(in)), expected)
		if err != nil {
			var m *words.Message
			if !errors.As(err, &m) || strings.HasPrefix(m.Say(words.English), "statement.") {
				t.Errorf("an error without words: %v", err)
			}
			return
		}
		seen := map[string]bool{}
		for _, r := range file.Rows {
			if r.Identity == "" || seen[r.Identity] || r.Currency == "" {
				t.Errorf("%+v", r)
			}
			seen[r.Identity] = true
		}
	})
}

// A file that cannot be read to its end, for whatever reason, is told as that and
// not as one that the bank wrote badly.
func TestReadersThatFail(t *testing.T) {
	failed := errors.New("the line went dead")
	for _, in := range []string{document("02", old), "Date,Amount,Name\n2026-11-24,1.00,Ada\n"} {
		if _, err := Read(io.MultiReader(strings.NewReader(in[:len(in)-3]), iotest.ErrReader(failed)), expected); !errors.Is(err, failed) {
			t.Errorf("%v", err)
		}
	}
}
