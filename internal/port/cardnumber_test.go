package port

import (
	"strings"
	"testing"
)

const tried = "9900000000000200"

// Source: ISO/IEC 7812-1, annex B; 7992739871 with the check digit 3 is the
// worked example of the method in common use (from memory).
func TestCheckDigit(t *testing.T) {
	for digit := range 10 {
		number := "00" + "7992739871" + string(rune('0'+digit))
		if ValidNumber(number) != (digit == 3) {
			t.Errorf("%s is valid: %v", number, digit != 3)
		}
	}
	for _, ok := range []string{tried, "9900 0000 0000 0002", "9900-0000-0000-0002"} {
		if !ValidNumber(ok) {
			t.Errorf("%s was refused", ok)
		}
	}
	for _, bad := range []string{"", "0", "99", "9900000000000003", "99000000000000a2", strings.Repeat("0", 20), "９９00000000000002"} {
		if ValidNumber(bad) {
			t.Errorf("%q was taken", bad)
		}
	}
}

// One wrong digit, and nearly every swap of two neighbours, is found: what a
// check digit is for.
func TestCheckDigitFindsTypingMistakes(t *testing.T) {
	for i := range tried {
		for d := '0'; d <= '9'; d++ {
			typed := tried[:i] + string(d) + tried[i+1:]
			if typed != tried && ValidNumber(typed) {
				t.Errorf("%s passes for %s", typed, tried)
			}
		}
	}
}
