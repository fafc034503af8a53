package port

import "strings"

// Digits takes the spaces and hyphens out of a card number.
func Digits(number string) string {
	return strings.NewReplacer(" ", "", "-", "", "\u00a0", "").Replace(number)
}

// ValidNumber checks length and check digit of a card number (ISO/IEC 7812-1,
// annex B: double every second digit from the right, the check digit not
// doubled; the digits' sum is a multiple of ten).
func ValidNumber(number string) bool {
	d := Digits(number)
	if len(d) < 12 || len(d) > 19 {
		return false
	}
	sum := 0
	for i := range len(d) {
		n := int(d[len(d)-1-i] - '0')
		if n < 0 || n > 9 {
			return false
		}
		if i%2 == 1 {
			if n *= 2; n > 9 {
				n -= 9
			}
		}
		sum += n
	}
	return sum%10 == 0
}
