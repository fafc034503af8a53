package ledger

import (
	"slices"
	"testing"
)

func TestWaysToPay(t *testing.T) {
	card, transfer := []Way{Card}, []Way{Transfer}
	both := []Way{Card, Transfer}
	for _, c := range []struct {
		name    string
		account bool
		chosen  [][]Way
		want    []Way
	}{
		{"nobody chose", true, [][]Way{nil, nil}, both},
		{"no account", false, [][]Way{nil}, card},
		{"the business takes transfers alone", true, [][]Way{transfer, nil}, transfer},
		{"one product takes cards alone", true, [][]Way{both, nil, card}, card},
		{"two products that cannot be paid together", true, [][]Way{nil, card, transfer}, nil},
		{"transfers alone, and no account", false, [][]Way{transfer}, nil},
	} {
		if got := WaysOf(c.account, c.chosen...); !slices.Equal(got, c.want) {
			t.Errorf("%s: %v, want %v", c.name, got, c.want)
		}
	}
	for _, c := range []struct {
		chosen []Way
		want   bool
	}{{nil, true}, {both, true}, {[]Way{Cash}, false}, {[]Way{"card", "card"}, false}, {[]Way{""}, false}} {
		if got := ValidWays(c.chosen); got != c.want {
			t.Errorf("%v may be chosen: %v", c.chosen, got)
		}
	}
}
