package ledger

import (
	"fmt"
	"strings"
	"testing"

	"ruvo/internal/core/money"
)

// What is open by when, reckoned by hand: charges of one day are one part; what
// was paid counts for the earliest, what was taken back or waived comes off the
// latest.
func TestParts(t *testing.T) {
	type e struct {
		kind   Kind
		amount money.Amount
		due    string
	}
	for _, c := range []struct {
		entries []e
		want    string
	}{
		{nil, ""},
		{[]e{{Charged, 100, ""}, {Charged, 50, ""}}, ":150"},
		{[]e{{Charged, 100, "2027-02-01"}, {Charged, 50, ""}, {Charged, 30, "2027-02-01"}, {Charged, 20, "handover"}}, ":50 2027-02-01:130 handover:20"},
		{[]e{{Charged, 100, ""}, {Charged, 60, "2027-02-01"}, {Paid, 120, ""}}, "2027-02-01:40"},
		{[]e{{Charged, 100, ""}, {Charged, 60, "2027-02-01"}, {Paid, 100, ""}, {Charged, -70, ""}}, ""},
		{[]e{{Charged, 100, ""}, {Charged, 60, "2027-02-01"}, {Charged, -70, ""}}, ":90"},
		{[]e{{Charged, 100, ""}, {Charged, 60, "2027-02-01"}, {Waived, 20, ""}}, ":100 2027-02-01:40"},
		{[]e{{Charged, 100, ""}, {Paid, 100, ""}, {Returned, 30, ""}}, ":30"},
		{[]e{{Charged, 100, ""}, {Paid, 130, ""}}, ""},
		{[]e{{Charged, 100, ""}, {Held, 150, ""}}, ":100"},
	} {
		var entries []Entry
		for _, x := range c.entries {
			entries = append(entries, Entry{Kind: x.kind, Amount: x.amount, Due: x.due})
		}
		var got []string
		for _, p := range Parts(entries) {
			got = append(got, fmt.Sprintf("%s:%d", p.Due, p.Amount))
		}
		if s := strings.Join(got, " "); s != c.want {
			t.Errorf("%v leave %q open, want %q", c.entries, s, c.want)
		}
	}
}
