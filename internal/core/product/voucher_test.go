package product

import (
	"strings"
	"testing"

	"ruvo/internal/core/charge"
)

// What a voucher is worth must not change after it was paid, nor be paid in parts.
func TestVouchersThatMakeNoSense(t *testing.T) {
	for want, change := range map[string]func(*Draft){
		"":                                func(*Draft) {},
		"cannot be changed after payment": func(d *Draft) { d.Reprices = true },
	} {
		d := Draft{Title: "Voucher", Currency: "EUR", Price: 5000, Voucher: &charge.Voucher{}}
		change(&d)
		_, findings := Compile(d)
		var said []string
		for _, f := range findings {
			if f.Error {
				said = append(said, f.Said("en"))
			}
		}
		if got := strings.Join(said, " "); want == "" && got != "" || !strings.Contains(got, want) {
			t.Errorf("%q, want %q", got, want)
		}
	}
}
