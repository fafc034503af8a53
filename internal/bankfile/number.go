package bankfile

import (
	"errors"
	"strings"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
)

// errNumber is returned for what is no amount of a currency.
var errNumber = errors.New("not an amount")

// number reads an amount in major units, as it stands in a statement: with a
// sign before or after it, groups of three, and as many digits after the mark as
// the currency has, or fewer. Mark is the decimal mark; 0 to find out, when the
// last of "." and "," is one unless three digits follow it. It returns an error
// of package money for a currency that is not known.
func number(s string, c money.Currency, mark rune) (money.Amount, error) {
	digits, err := c.Digits()
	if err != nil {
		return 0, err
	}
	s = strings.Map(func(r rune) rune {
		switch r {
		case ' ', '\u00a0', '\u2009', '\u202f', '\'', '’':
			return -1
		case '\u2212':
			return '-'
		}
		return r
	}, strings.TrimSpace(s))
	negative := false
	switch {
	case strings.HasPrefix(s, "-"), strings.HasSuffix(s, "-"):
		negative, s = true, strings.TrimSuffix(strings.TrimPrefix(s, "-"), "-")
	default:
		s = strings.TrimSuffix(strings.TrimPrefix(s, "+"), "+")
	}
	if mark == 0 {
		mark = markOf(s, digits)
	}
	whole, part := s, ""
	if i := strings.LastIndexByte(s, byte(mark)); i >= 0 {
		whole, part = s[:i], s[i+1:]
	}
	whole, ok := ungrouped(whole, mark)
	part = strings.TrimRight(part, "0")
	if !ok || strings.Trim(whole+part, "0123456789") != "" || len(part) > digits || len(whole) > 15 {
		return 0, errNumber
	}
	d, err := decimal.NewFromString(whole + "." + part + "0")
	if err != nil {
		return 0, errNumber
	}
	n := d.Shift(int32(digits)).IntPart()
	if n > int64(money.Largest) {
		return 0, errNumber
	}
	if negative {
		n = -n
	}
	return money.Amount(n), nil
}

// markOf finds the decimal mark of a number. One mark with three digits behind it
// parts thousands, unless the currency has thousandths.
func markOf(s string, digits int) rune {
	i := strings.LastIndexAny(s, ".,")
	switch {
	case i < 0:
		return '.'
	case strings.Count(s, string(s[i])) > 1, len(s)-i-1 == 3 && digits < 3 && !strings.ContainsAny(s[:i], ".,"):
		return other(rune(s[i]))
	}
	return rune(s[i])
}

func other(mark rune) rune {
	if mark == '.' {
		return ','
	}
	return '.'
}

// ungrouped gives the whole part of a number without its groups.
func ungrouped(s string, mark rune) (string, bool) {
	groups := strings.Split(s, string(other(mark)))
	for i, g := range groups {
		if len(groups) > 1 && (i > 0 && len(g) != 3 || i == 0 && (len(g) == 0 || len(g) > 3)) {
			return "", false
		}
	}
	return strings.Join(groups, ""), s != ""
}
