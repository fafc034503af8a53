package ledger

import (
	"fmt"
	"strings"
	"testing"

	"ruvo/internal/core/calendar"
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

// What goes back of which payment, and what crediting makes of the money,
// reckoned by hand: 70.00 came by one card and 50.00 by another, of which 20.00
// are held; 30.00 came in cash.
func TestSourcesAndOutcomes(t *testing.T) {
	account := func(back ...Attempt) *Account {
		a := &Account{
			Attempts: append([]Attempt{{Name: "one", Purpose: ToPlace, Amount: 7000, State: Settled}, {Name: "two", Purpose: ToPay, Amount: 5000, Held: 2000, State: Settled}, {Name: "no", Purpose: ToPay, Amount: 9000, State: Refused}}, back...),
			Entries:  []Entry{{Kind: Charged, Amount: 14_000}, {Kind: Paid, Amount: 7000}, {Kind: Paid, Amount: 3000}, {Kind: Held, Amount: 2000}, {Kind: Paid, Amount: 3000, Way: Cash}},
		}
		for _, b := range back {
			if b.State == Settled {
				a.Entries = append(a.Entries, Entry{Kind: Returned, Amount: b.Amount})
			}
		}
		return a
	}
	for _, c := range []struct {
		a      *Account
		p      Purpose
		wanted money.Amount
		want   string
	}{
		{account(), ToReturn, 1000, "two 1000, otherwise 0"}, {account(), ToReturn, 9000, "two 3000 one 6000, otherwise 0"}, {account(), ToReturn, 13_000, "two 3000 one 7000, otherwise 3000"},
		{account(), ToRelease, 2500, "two 2000, otherwise 500"}, {account(), ToReturn, 0, ", otherwise 0"},
		{account(Attempt{Name: "b", Purpose: ToReturn, Of: "two", Amount: 2500, State: Asked}), ToReturn, 1000, "two 500 one 500, otherwise 0"},
		{account(Attempt{Name: "b", Purpose: ToReturn, Of: "two", Amount: 2500, State: Refused}), ToReturn, 1000, "two 1000, otherwise 0"},
		{account(Attempt{Name: "b", Purpose: ToReturn, Amount: 7500, State: Settled}), ToReturn, 3000, "two 2500, otherwise 500"}, // from before payments were named
	} {
		list, otherwise := c.a.Sources(c.p, c.wanted)
		var got []string
		for _, s := range list {
			got = append(got, fmt.Sprint(s.Of, " ", s.Amount))
		}
		if s := fmt.Sprintf("%s, otherwise %d", strings.Join(got, " "), otherwise); s != c.want {
			t.Errorf("%s of %d: %s, want %s", c.p, c.wanted, s, c.want)
		}
	}
	for _, c := range []struct {
		credit money.Amount
		given  bool
		want   Outcome
	}{
		{0, false, Outcome{Open: 1000}}, {1000, false, Outcome{}}, {5000, false, Outcome{ByCard: 4000}}, {14_000, false, Outcome{ByCard: 10_000, Otherwise: 3000}},
		{500, true, Outcome{ByCard: 500, Open: 1000}}, {12_000, true, Outcome{ByCard: 10_000, Otherwise: 2000, Open: 1000}},
	} {
		if got := account().After(c.credit, c.given); got != c.want {
			t.Errorf("%d credited: %+v, want %+v", c.credit, got, c.want)
		}
	}
}

// When parts are due and overdue.
func TestWhenPartsAreDue(t *testing.T) {
	today := calendar.Day{Year: 2027, Month: 5, Number: 3}
	for _, c := range []struct {
		due       string
		done      Progress
		now, over bool
	}{
		{"", Progress{}, true, false}, {"2027-05-02", Progress{}, true, true}, {"2027-05-03", Progress{}, true, false}, {"2027-05-04", Progress{}, false, false},
		{"begin", Progress{}, false, false}, {"begin", Progress{Begun: true}, true, true}, {"handover", Progress{Begun: true}, false, false}, {"handover", Progress{Begun: true, Handed: true}, true, true}, {"booking", Progress{Begun: true, Handed: true}, false, false},
	} {
		if now, over := (Part{Due: c.due}).Is(today, c.done); now != c.now || over != c.over {
			t.Errorf("%q, %+v: due %v, overdue %v", c.due, c.done, now, over)
		}
	}
	parts := []Part{{"", 100}, {"2027-05-03", 50}, {"2027-06-01", 30}, {"begin", 20}}
	if got := DueNow(parts, today, Progress{Begun: true}); got != 170 {
		t.Errorf("%d are due now", got)
	}
	if got := DueNow(parts[2:], today, Progress{}); got != 30 {
		t.Errorf("the next part is %d", got)
	}
	if got := DueNow(nil, today, Progress{}); got != 0 {
		t.Errorf("of nothing %d are due", got)
	}
}
