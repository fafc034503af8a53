// Package transfer holds what bank transfers need: the account that money goes
// to, the reference by which it is known, and the code that banking apps scan.
package transfer

import (
	"cmp"
	"fmt"
	"strconv"
	"strings"
	"unicode/utf8"

	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// An Account is the bank account that customers transfer money to. The zero
// account is none: nobody is told to transfer anything.
type Account struct {
	Holder string `json:"holder,omitempty"`
	IBAN   string `json:"iban,omitempty"` // without spaces
	BIC    string `json:"bic,omitempty"`
	Note   string `json:"note,omitempty"` // for customers to read

	// Days are the working days that an order is held for its transfer until the
	// customer is reminded, and Grace those until what it holds is given free.
	Days  int `json:"days,omitempty"`
	Grace int `json:"grace,omitempty"`
}

// Given says whether there is one.
func (a Account) Given() bool { return a.IBAN != "" }

// How long orders are held for their transfers, in working days.
const (
	usualDays  = 5
	usualGrace = 3
	mostDays   = 60
)

// Held gives for how many working days an order is held until its customer is
// reminded, and for how many more after that.
func (a Account) Held() (days, grace int) {
	return cmp.Or(a.Days, usualDays), cmp.Or(a.Grace, usualGrace)
}

// The longest texts that the payment code takes (EPC069-12), in characters.
const (
	longestHolder = 70
	longestNote   = 500
)

// Read takes an account as people write it: spaces and small letters in the
// numbers do not count.
func (a Account) Read() Account {
	tight := func(s string) string { return strings.ToUpper(strings.Join(strings.Fields(s), "")) }
	read := Account{Holder: strings.TrimSpace(a.Holder), IBAN: tight(a.IBAN), BIC: tight(a.BIC), Note: strings.TrimSpace(a.Note)}
	if read != (Account{}) {
		read.Days, read.Grace = a.Days, a.Grace
	}
	return read
}

// Validate says what is wrong with it.
func (a Account) Validate() error {
	switch {
	case a == Account{}:
		return nil
	case !ValidIBAN(a.IBAN):
		return words.Tell("transfer.iban")
	case a.Holder == "" || utf8.RuneCountInString(a.Holder) > longestHolder:
		return words.Tell("transfer.holder", "most", strconv.Itoa(longestHolder))
	case a.BIC != "" && !validBIC(a.BIC):
		return words.Tell("transfer.bic")
	case utf8.RuneCountInString(a.Note) > longestNote:
		return words.Tell("transfer.note", "most", strconv.Itoa(longestNote))
	case a.Days < 0 || a.Days > mostDays || a.Grace < 0 || a.Grace > mostDays:
		return words.Tell("transfer.days", "most", strconv.Itoa(mostDays))
	}
	return nil
}

// ValidIBAN checks form and check digits of an account's number (ISO 13616-1:
// two letters, two digits, up to 30 letters and digits; the check digits are
// those of ISO/IEC 7064, MOD 97-10).
func ValidIBAN(s string) bool {
	return len(s) >= 15 && len(s) <= 34 && letters(s[:2]) && digits(s[2:4]) && remainder(s[4:]+s[:4]) == 1
}

// validBIC checks the form of ISO 9362: four letters, a country, two letters or
// digits, and perhaps three more.
func validBIC(s string) bool {
	return (len(s) == 8 || len(s) == 11) && letters(s[:6]) && remainder(s[6:]) >= 0
}

// Reference gives the creditor reference of an order's number (ISO 11649: RF,
// two check digits, and up to 21 letters and digits).
func Reference(number int64) string {
	own := strconv.FormatInt(number, 10)
	return fmt.Sprintf("RF%02d%s", 98-remainder(own+"RF00"), own)
}

// ValidReference checks form and check digits of a creditor reference.
func ValidReference(s string) bool {
	return len(s) > 4 && len(s) <= 25 && s[:2] == "RF" && digits(s[2:4]) && remainder(s[4:]+s[:4]) == 1
}

// OrderOf gives the number of the order that a creditor reference is of; ok is
// false when it is not one of ours.
func OrderOf(reference string) (number int64, ok bool) {
	s := strings.ToUpper(strings.Join(strings.Fields(reference), ""))
	if !ValidReference(s) {
		return 0, false
	}
	number, err := strconv.ParseInt(s[4:], 10, 64)
	return number, err == nil && number > 0
}

// Spaced writes an account's number or a reference in groups of four, as people
// read it.
func Spaced(s string) string {
	var b strings.Builder
	for i, r := range s {
		if i > 0 && i%4 == 0 {
			b.WriteByte(' ')
		}
		b.WriteRune(r)
	}
	return b.String()
}

// The amounts that the payment code takes, in cents (EPC069-12).
const (
	leastCode = 1
	mostCode  = 999_999_999_99
)

// Code gives the text of the payment code of EPC069-12, version 002, which
// banking apps read: to whom, how much, and by which reference. It is there for
// euro alone.
func (a Account) Code(amount money.Amount, c money.Currency, reference string) (string, bool) {
	if !a.Given() || c != "EUR" || amount < leastCode || amount > mostCode {
		return "", false
	}
	return strings.Join([]string{
		"BCD", "002", "1", "SCT", a.BIC, a.Holder, a.IBAN, fmt.Sprintf("EUR%d.%02d", amount/100, amount%100), "", reference,
	}, "\n"), true
}

// remainder gives what a text leaves when it is divided by 97, letters standing
// for 10 to 35; -1 for one with anything else in it.
func remainder(s string) int {
	n := 0
	for _, r := range s {
		switch {
		case r >= '0' && r <= '9':
			n = (n*10 + int(r-'0')) % 97
		case r >= 'A' && r <= 'Z':
			n = (n*100 + int(r-'A') + 10) % 97
		default:
			return -1
		}
	}
	return n
}

func letters(s string) bool { return strings.Trim(s, "ABCDEFGHIJKLMNOPQRSTUVWXYZ") == "" }
func digits(s string) bool  { return strings.Trim(s, "0123456789") == "" }
