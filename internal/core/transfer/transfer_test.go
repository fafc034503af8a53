package transfer

import (
	"strings"
	"testing"
)

// Account numbers of the IBAN registry's examples (ISO 13616, from memory), and
// the same with a typing mistake.
func TestIBAN(t *testing.T) {
	for _, good := range []string{
		"DE89370400440532013000", "GB82WEST12345698765432", "FR1420041010050500013M02606", "NL91ABNA0417164300", "AT611904300234573201", "CH9300762011623852957", "NO9386011117947", "MT84MALT011000012345MTLCAST001S",
	} {
		if !ValidIBAN(good) {
			t.Errorf("%s is refused", good)
		}
		for i := range good {
			other := []byte(good)
			if other[i]++; other[i] > 'Z' || other[i] > '9' && other[i] < 'A' {
				other[i] = '0'
			}
			if string(other) != good && ValidIBAN(string(other)) {
				t.Errorf("%s is taken", other)
			}
		}
	}
	for _, bad := range []string{"", "DE89", "89DE370400440532013000", "DE89 3704 0044 0532 0130 00", "DE893704004405320130001234567890123456", "DEXX370400440532013000", "de89370400440532013000"} {
		if ValidIBAN(bad) {
			t.Errorf("%q is taken", bad)
		}
	}
}

// Creditor references: published examples of ISO 11649 (from memory), each typing
// mistake of one character, and neighbours exchanged.
func TestReference(t *testing.T) {
	for _, good := range []string{"RF18539007547034", "RF712348231", "RF332348236"} {
		if !ValidReference(good) {
			t.Errorf("%s is refused", good)
		}
	}
	for _, number := range []int64{1, 7, 42, 1034, 99_999, 123_456_789_012} {
		r := Reference(number)
		if got, ok := OrderOf(Spaced(r)); !ok || got != number || !ValidReference(r) {
			t.Errorf("%s of %d is of %d, %v", r, number, got, ok)
		}
		for i := 2; i < len(r); i++ {
			for d := byte('0'); d <= '9'; d++ {
				other := []byte(r)
				if other[i] = d; string(other) != r && ValidReference(string(other)) {
					t.Errorf("%s is taken for %s", other, r)
				}
			}
			if i > 4 && r[i] != r[i-1] {
				other := []byte(r)
				other[i], other[i-1] = other[i-1], other[i]
				if ValidReference(string(other)) {
					t.Errorf("%s is taken for %s", other, r)
				}
			}
		}
	}
	for _, bad := range []string{"", "RF18", "RF", "1034", "RF19539007547034", "RF18-539007547034", "RF" + strings.Repeat("1", 24), "RF18ABCDEFG"} {
		if n, ok := OrderOf(bad); ok {
			t.Errorf("%q is of order %d", bad, n)
		}
	}
}

// The payment code, with the example of EPC069-12 (as remembered: the Red Cross
// of Belgium, one euro).
func TestCode(t *testing.T) {
	cross := Account{Holder: "Red Cross of Belgium", IBAN: "BE72000000001616", BIC: "BPOTBEB1"}
	got, ok := cross.Code(100, "EUR", "RF18539007547034")
	want := "BCD\n002\n1\nSCT\nBPOTBEB1\nRed Cross of Belgium\nBE72000000001616\nEUR1.00\n\nRF18539007547034"
	if !ok || got != want {
		t.Errorf("%q", got)
	}
	longest := Account{Holder: strings.Repeat("ß", longestHolder), IBAN: "MT84MALT011000012345MTLCAST001S", BIC: "ABCDMTMTXXX"}
	if code, ok := longest.Code(mostCode, "EUR", "RF18"+strings.Repeat("1", 21)); !ok || len(code) > 331 || !strings.Contains(code, "EUR999999999.99") {
		t.Errorf("%d bytes: %s", len(code), code)
	}
	for _, none := range []func() (string, bool){
		func() (string, bool) { return cross.Code(100, "JPY", "") }, func() (string, bool) { return cross.Code(0, "EUR", "") },
		func() (string, bool) { return cross.Code(mostCode+1, "EUR", "") }, func() (string, bool) { return Account{}.Code(100, "EUR", "") },
	} {
		if code, ok := none(); ok {
			t.Errorf("a code where there is none: %q", code)
		}
	}
}

func TestAccount(t *testing.T) {
	good := Account{Holder: " Fernlight Sky Studio ", IBAN: "de89 3704 0044 0532 0130 00", BIC: "cobadeff xxx", Note: " Thank you "}.Read()
	if good != (Account{Holder: "Fernlight Sky Studio", IBAN: "DE89370400440532013000", BIC: "COBADEFFXXX", Note: "Thank you"}) || good.Validate() != nil || !good.Given() {
		t.Errorf("%+v: %v", good, good.Validate())
	}
	if (Account{}).Validate() != nil || (Account{}).Given() {
		t.Error("no account is refused, or taken for one")
	}
	for name, change := range map[string]func(*Account){
		"no holder": func(a *Account) { a.Holder = "" }, "a long holder": func(a *Account) { a.Holder = strings.Repeat("x", 71) }, "a wrong number": func(a *Account) { a.IBAN = "DE88370400440532013000" },
		"no number": func(a *Account) { a.IBAN = "" }, "a wrong BIC": func(a *Account) { a.BIC = "COBADE" }, "a BIC of signs": func(a *Account) { a.BIC = "COBADEF-" }, "a long note": func(a *Account) { a.Note = strings.Repeat("x", 501) },
	} {
		bad := good
		change(&bad)
		if bad.Validate() == nil {
			t.Errorf("%s is taken", name)
		}
	}
}
