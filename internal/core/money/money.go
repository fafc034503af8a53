// Package money holds amounts in minor units, the digits of currencies,
// rounding, and the splitting of an amount into parts that add up.
package money

import (
	"errors"
	"fmt"
	"math"
	"sort"
	"strconv"

	"github.com/shopspring/decimal"
)

// An Amount is a sum of money in minor units of a currency: 5070 is 50.70 in
// a currency of two digits. It carries no currency; whatever holds amounts
// names the currency once.
type Amount int64

// A Currency is an ISO 4217 alphabetic code, such as "EUR".
type Currency string

// ErrCurrency is returned for a code that is not in the table of currencies.
var ErrCurrency = errors.New("unknown currency")

// digits holds the currencies in use by the digits of their minor unit
// (ISO 4217, table A.1, from memory); codes of funds, metals and tests are none.
var digits = func() map[Currency]int {
	m := map[Currency]int{}
	for n, codes := range map[int][]Currency{
		0: {"BIF", "CLP", "DJF", "GNF", "ISK", "JPY", "KMF", "KRW", "PYG", "RWF", "UGX", "VND", "VUV", "XAF", "XOF", "XPF"},
		2: {"AED", "AFN", "ALL", "AMD", "ANG", "AOA", "ARS", "AUD", "AWG", "AZN", "BAM", "BBD", "BDT", "BGN", "BMD", "BND", "BOB", "BRL", "BSD", "BTN", "BWP", "BYN", "BZD", "CAD", "CDF", "CHF", "CNY", "COP", "CRC", "CUP", "CVE", "CZK", "DKK", "DOP", "DZD", "EGP", "ERN", "ETB", "EUR", "FJD", "FKP", "GBP", "GEL", "GHS", "GIP", "GMD", "GTQ", "GYD", "HKD", "HNL", "HTG", "HUF", "IDR", "ILS", "INR", "IRR", "JMD", "KES", "KGS", "KHR", "KPW", "KYD", "KZT", "LAK", "LBP", "LKR", "LRD", "LSL", "MAD", "MDL", "MGA", "MKD", "MMK", "MNT", "MOP", "MRU", "MUR", "MVR", "MWK", "MXN", "MYR", "MZN", "NAD", "NGN", "NIO", "NOK", "NPR", "NZD", "PAB", "PEN", "PGK", "PHP", "PKR", "PLN", "QAR", "RON", "RSD", "RUB", "SAR", "SBD", "SCR", "SDG", "SEK", "SGD", "SHP", "SLE", "SOS", "SRD", "SSP", "STN", "SVC", "SYP", "SZL", "THB", "TJS", "TMT", "TOP", "TRY", "TTD", "TWD", "TZS", "UAH", "USD", "UYU", "UZS", "VES", "WST", "XCD", "YER", "ZAR", "ZMW", "ZWG"},
		3: {"BHD", "IQD", "JOD", "KWD", "LYD", "OMR", "TND"},
	} {
		for _, c := range codes {
			m[c] = n
		}
	}
	return m
}()

// Digits gives the number of decimal digits of the currency's minor unit.
func (c Currency) Digits() (int, error) {
	n, ok := digits[c]
	if !ok {
		return 0, fmt.Errorf("%w: %q", ErrCurrency, string(c))
	}
	return n, nil
}

// Currencies lists the known codes in alphabetical order.
func Currencies() []Currency {
	all := make([]Currency, 0, len(digits))
	for c := range digits {
		all = append(all, c)
	}
	sort.Slice(all, func(i, j int) bool { return all[i] < all[j] })
	return all
}

// A Rounding says where an amount exactly between two minor units goes.
type Rounding string

const (
	// HalfUp rounds half away from zero, the common rule of trade.
	HalfUp Rounding = ""
	// HalfEven rounds half to the even neighbour (IEEE 754 roundTiesToEven).
	HalfEven Rounding = "half_even"
)

// Largest bounds every amount that a slip may show, in minor units. It keeps
// sums of many lines far away from the end of int64.
const Largest Amount = 1_000_000_000_00

// Round makes an amount of a decimal number of minor units. Numbers beyond
// Largest are held at it.
func (r Rounding) Round(d decimal.Decimal) Amount {
	if r == HalfEven {
		d = d.RoundBank(0)
	} else {
		d = d.Round(0) // shopspring rounds half away from zero
	}
	switch {
	case d.GreaterThan(decimal.NewFromInt(int64(Largest))):
		return Largest
	case d.LessThan(decimal.NewFromInt(-int64(Largest))):
		return -Largest
	}
	return Amount(d.IntPart())
}

// Times multiplies and holds the product within Largest.
func (a Amount) Times(n int64) Amount {
	if a == 0 || n == 0 {
		return 0
	}
	p := float64(a) * float64(n)
	if math.Abs(p) > float64(Largest) {
		if p < 0 {
			return -Largest
		}
		return Largest
	}
	return a * Amount(n)
}

// Split shares an amount by weights so that the parts add up to it exactly:
// each part is rounded towards zero and what is left goes to the largest
// remainders, the earlier part first when they are equal (the method of
// largest remainder). Weights below zero count as zero; without any weight
// the first part gets everything.
func Split(a Amount, weights []int64) []Amount {
	parts := make([]Amount, len(weights))
	if len(weights) == 0 {
		return parts
	}
	var sum int64
	for _, w := range weights {
		sum += max(w, 0)
	}
	if sum == 0 {
		parts[0] = a
		return parts
	}
	total := decimal.NewFromInt(sum)
	rest := make([]decimal.Decimal, len(weights))
	left := a
	for i, w := range weights {
		exact := decimal.NewFromInt(int64(a)).Mul(decimal.NewFromInt(max(w, 0))).Div(total)
		parts[i] = Amount(exact.IntPart())
		rest[i] = exact.Sub(exact.Truncate(0)).Abs()
		left -= parts[i]
	}
	order := make([]int, len(weights))
	for i := range order {
		order[i] = i
	}
	sort.SliceStable(order, func(i, j int) bool { return rest[order[i]].GreaterThan(rest[order[j]]) })
	one := Amount(1)
	if left < 0 {
		one = -1
	}
	for i := 0; left != 0; i++ {
		parts[order[i%len(order)]] += one
		left -= one
	}
	return parts
}

// Plain writes the amount with the currency's digits and a point: "50.70".
// It is the form of exports and of formulas; people read words.Amount.
func (a Amount) Plain(c Currency) string {
	n, err := c.Digits()
	if err != nil {
		n = 2
	}
	if n == 0 {
		return strconv.FormatInt(int64(a), 10)
	}
	var room [32]byte
	b := room[:0]
	if a < 0 {
		b = append(b, '-')
		a = -a
	}
	unit := Amount(1)
	for range n {
		unit *= 10
	}
	b = append(strconv.AppendInt(b, int64(a/unit), 10), '.')
	for part := a % unit; unit > 1; {
		unit /= 10
		b = append(b, byte('0'+part/unit%10))
	}
	return string(b)
}
