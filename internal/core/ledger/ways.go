package ledger

import (
	"slices"
)

// Ways lists the ways in which customers can pay, in the order in which they
// are offered.
func Ways() []Way { return []Way{Card, Transfer} }

// ValidWays says whether a seller may choose these ways; none chosen are all.
func ValidWays(chosen []Way) bool {
	for i, w := range chosen {
		if !slices.Contains(Ways(), w) || slices.Contains(chosen[:i], w) {
			return false
		}
	}
	return true
}

// WaysOf gives the ways in which an order can be paid: those that the business
// and each of its products take. No choice takes all; without an account nothing
// can be transferred.
func WaysOf(account bool, chosen ...[]Way) []Way {
	var list []Way
	for _, w := range Ways() {
		taken := w != Transfer || account
		for _, c := range chosen {
			taken = taken && (len(c) == 0 || slices.Contains(c, w))
		}
		if taken {
			list = append(list, w)
		}
	}
	return list
}
