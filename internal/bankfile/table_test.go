package bankfile

import (
	"strings"
	"testing"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"ruvo/internal/core/money"
)

// Tables as banks write them (column names and forms: common practice, from
// memory).
func TestTables(t *testing.T) {
	german := "\"Umsätze\";\"Konto 12345678\"\r\n\r\nBuchungstag;Valuta;Auftraggeber / Empfänger;Verwendungszweck;Betrag (EUR);Währung\r\n24.11.2026;24.11.2026;Jürgen Ölmüller;RF22 1034 danke;1.036,00;EUR\r\n25.11.2026;25.11.2026;Vermieter;Miete;-900,00;EUR\r\n;;;;;\r\n"
	latin, err := charmap.Windows1252.NewEncoder().String(german)
	if err != nil {
		t.Fatal(err)
	}
	wide, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().String(german)
	if err != nil {
		t.Fatal(err)
	}
	both := "2026-11-24 103600 EUR \"Jürgen Ölmüller\" \"RF22 1034 danke\" \"\"\n2026-11-25 -90000 EUR \"Vermieter\" \"Miete\" \"\""
	one := `2026-11-24 103600 EUR "Ada Quill" "chart" ""`
	for _, c := range []struct{ name, in, want string }{
		{"semicolons and commas", german, both},
		{"as banks wrote before", latin, both},
		{"in two bytes each", wide, both},
		{"commas and points", "Booking date,Payer,Details,Amount,Currency\n2026-11-24,Ada Quill,chart,\"1,036.00\",EUR\n", one},
		{"tabs", "Date\tAmount\tName\tPurpose\n24/11/2026\t€1036\tAda Quill\tchart\n", one},
		{"months first", "Date,Amount,Name,Purpose\n11/24/2026,1036.00 EUR,Ada Quill,chart\n", one},
		{"in and out", "Date,Paid out,Paid in,Name,Purpose\n2026-11-24,,1036.00,Ada Quill,chart\n2026-11-24,5.00,,Shop,pen\n", one + "\n" + `2026-11-24 -500 EUR "Shop" "pen" ""`},
		{"a sign of its own", "Date;Amount;Debit/Credit;S/H;Name;Purpose\n24.11.26;1.036,00;;H;Ada Quill;chart\n24.11.26;5,00;;S;Shop;pen\n", one + "\n" + `2026-11-24 -500 EUR "Shop" "pen" ""`},
		{"a line break within", "Date,Amount,Name,Purpose\n2026-11-24,1036,Ada Quill,\"ch\nart\"\n", `2026-11-24 103600 EUR "Ada Quill" "ch art" ""`},
		{"a reference of its own", "Date,Amount,Name,Creditor reference\n2026-11-24,1036,Ada Quill,rf22 1034\n", `2026-11-24 103600 EUR "Ada Quill" "" "RF221034"`},
	} {
		f, err := Read(strings.NewReader(c.in), expected)
		if err != nil {
			t.Errorf("%s: %v", c.name, codeOf(err))
			continue
		}
		if got := shown(f); got != c.want {
			t.Errorf("%s:\n%s\nwant\n%s", c.name, got, c.want)
		}
	}
}

func TestTablesThatAreNone(t *testing.T) {
	for _, c := range []struct{ code, in string }{
		{"statement.account", "Auftragskonto;Buchungstag;Betrag;Name\nDE89370400440532013000;24.11.2026;1,00;Ada\n"},
		{"statement.day", "Date,Amount,Name\n24.11.2026,1,Ada\n2026-11-24,1,Ada\n"},
		{"statement.day", "Date,Amount,Name\n29.02.2026,1,Ada\n"},
		{"statement.day", "Date,Amount,Name\n,1,Ada\n"},
		{"statement.amount", "Date,Amount,Name\n2026-11-24,,Ada\n"},
		{"statement.amount", "Date,Amount,Name\n2026-11-24,1.2.3,Ada\n"},
		{"statement.amount", "Date,Amount,Currency,Name\n2026-11-24,1,XXY,Ada\n"},
		{"statement.no_columns", strings.Repeat("nothing here\n", 100) + "Date,Amount,Name\n2026-11-24,1,Ada\n"},
	} {
		if _, err := Read(strings.NewReader(c.in), expected); codeOf(err) != c.code {
			t.Errorf("%q: %v, want %s", c.in, codeOf(err), c.code)
		}
	}
}

func TestNumbers(t *testing.T) {
	for _, c := range []struct {
		in       string
		currency money.Currency
		want     money.Amount // -1 for none
	}{
		{"36", "EUR", 3600}, {"36.5", "EUR", 3650}, {"36,50", "EUR", 3650}, {"1.036,00", "EUR", 103600}, {"1,036.00", "EUR", 103600}, {"1.036", "EUR", 103600}, {"1 036,00", "EUR", 103600},
		{"1'036.00", "EUR", 103600}, {"1\u00a0036,00", "EUR", 103600}, {"+5.00", "EUR", 500}, {"1.234.567,89", "EUR", 123456789}, {"36.000", "EUR", 3600000}, {"0.01", "EUR", 1}, {"36.5000", "EUR", 3650},
		{"1.036", "KWD", 1036}, {"4500", "JPY", 4500}, {"4,500", "JPY", 4500}, {"45.5", "JPY", -1},
		{"", "EUR", -1}, {"-", "EUR", -1}, {".", "EUR", -1}, {"1.2.3", "EUR", -1}, {"1,23,456", "EUR", -1}, {"12a", "EUR", -1}, {"0x10", "EUR", -1}, {"1e3", "EUR", -1}, {"36.001", "EUR", 3600100}, {"99999999999999999", "EUR", -1}, {"1.00", "XXY", -1},
	} {
		got, err := number(c.in, c.currency, 0)
		if err != nil {
			got = -1
		}
		if got != c.want {
			t.Errorf("%q in %s: %d, want %d", c.in, c.currency, got, c.want)
		}
		if err == nil && got > 0 {
			for _, minus := range []string{"-" + c.in, strings.TrimPrefix(c.in, "+") + "-", "\u2212" + strings.TrimPrefix(c.in, "+")} {
				if strings.Contains(c.in, "+") && strings.HasPrefix(minus, "-") {
					continue
				}
				if n, err := number(minus, c.currency, 0); err != nil || n != -got {
					t.Errorf("%q: %d, %v", minus, n, err)
				}
			}
		}
	}
}
