package order

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
)

// A till is one order with its money, moved by the rules of the core alone, and
// a bank that keeps its own books.
type till struct {
	state   State
	slip    charge.Slip
	account ledger.Account
	at      time.Time
	bank    map[string]ledger.State // what became of each attempt there
	moved   map[string]money.Amount // what each moved: in above zero, back below
	placed  int
	log     []string
}

func (t *till) say(format string, args ...any) { t.log = append(t.log, fmt.Sprintf(format, args...)) }

func (t *till) begin(p ledger.Purpose, amount, held money.Amount) {
	name := fmt.Sprintf("%s-%d", p, len(t.account.Attempts)+1)
	t.account.Attempts = append(t.account.Attempts, ledger.Attempt{Name: name, Purpose: p, Amount: amount, Held: held, State: ledger.Asked})
	t.say("asked %s for %d", name, amount)
}

// decide has the bank decide about an attempt, once and for all, whether
// anybody hears of it or not.
func (t *till) decide(i int, s ledger.State) {
	a := t.account.Attempts[i]
	if now := t.bank[a.Name]; now == ledger.Settled || now == ledger.Refused {
		return
	}
	t.bank[a.Name] = s
	if s == ledger.Settled {
		t.moved[a.Name] = a.Amount
		if a.Purpose.Back() {
			t.moved[a.Name] = -a.Amount
		}
	}
	t.say("the bank: %s %s", a.Name, s)
}

// hear brings the bank's word on an attempt, or an older one.
func (t *till) hear(i int, word ledger.State) {
	a := &t.account.Attempts[i]
	waited := a.State.Waiting()
	entries := a.Answer(word, "declined", t.at)
	t.account.Entries = append(t.account.Entries, entries...)
	if next := t.state.After(*a, waited); next != t.state {
		if t.state = next; next == Placed {
			t.placed++
			t.account.Entries = append(t.account.Entries, ledger.Charging(&t.slip, t.at)...)
		}
	}
	t.say("heard %s of %s, the order is %s", word, a.Name, t.state)
	if len(entries) > 0 && !a.Purpose.Back() {
		paid, held := t.account.Surplus(t.state.Deposit(t.slip.Held))
		if paid > 0 {
			t.begin(ledger.ToReturn, paid, 0)
		}
		if held > 0 {
			t.begin(ledger.ToRelease, held, 0)
		}
	}
}

func (t *till) cancel(refund bool) {
	if t.state.Refused(Cancel) != "" || t.account.Coming() != nil {
		return
	}
	credit := t.account.Balance().Open()
	if refund {
		credit = t.account.Balance().Owed()
	}
	t.account.Entries = append(t.account.Entries, ledger.Uncharging(credit, ledger.Cancelling, "Ilse", "", t.at)...)
	t.state = Cancelled
	t.say("cancelled, %d are no longer charged", credit)
	if paid, _ := t.account.Surplus(0); refund && paid > 0 {
		t.begin(ledger.ToReturn, paid, 0)
	}
	if _, held := t.account.Surplus(0); held > 0 {
		t.begin(ledger.ToRelease, held, 0)
	}
}

// act does one thing at random, as somebody would try it who did not look.
func (t *till) act(r *rand.Rand) {
	t.at = t.at.Add(time.Minute)
	any := func() int { return r.IntN(max(len(t.account.Attempts), 1)) }
	switch r.IntN(12) {
	case 0: // another basket
		if t.state.Refused(Change) == "" {
			t.slip = someSlip(r)
			t.say("the slip is %d now", t.slip.Total)
		}
	case 1, 2:
		if t.state.Refused(Pay) == "" && t.account.Coming() == nil && t.slip.Now()+t.slip.Held > 0 {
			t.begin(ledger.ToPlace, t.slip.Now()+t.slip.Held, t.slip.Held)
			t.state = Paying
		}
	case 3:
		if open := t.account.Balance().Open(); t.state.Refused(PayRest) == "" && t.account.Coming() == nil && open > 0 {
			t.begin(ledger.ToPay, open, 0)
		}
	case 4:
		if open := t.account.Balance().Open(); t.state.Refused(Receive) == "" && t.account.Coming() == nil && open > 0 {
			t.account.Entries = append(t.account.Entries, ledger.Entry{Kind: ledger.Paid, Amount: open, At: t.at, Way: ledger.Hand, Author: "Ilse"})
			t.say("%d came in by hand", open)
		}
	case 5:
		if r.IntN(3) == 0 {
			t.cancel(r.IntN(2) == 0)
		}
	case 6:
		if _, held := t.account.Surplus(0); t.state.Refused(Release) == "" && held > 0 {
			t.begin(ledger.ToRelease, held, 0)
		}
	case 7:
		if paid, _ := t.account.Surplus(0); t.state.Refused(Return) == "" && paid > 0 {
			t.begin(ledger.ToReturn, paid, 0)
		}
	case 8: // the bank decides, and nobody hears of it yet
		if len(t.account.Attempts) > 0 {
			t.decide(any(), []ledger.State{ledger.Settled, ledger.Settled, ledger.Refused, ledger.Confirm}[r.IntN(4)])
		}
	case 9: // a notice comes that was true once: late, twice, out of order
		if len(t.account.Attempts) > 0 {
			i := any()
			word := t.bank[t.account.Attempts[i].Name]
			if word == ledger.Confirm && !t.account.Attempts[i].Purpose.Back() && r.IntN(2) == 0 {
				word = ledger.Refused // given up here, while the bank may still settle it
			}
			if word == ledger.Refused && t.bank[t.account.Attempts[i].Name] == word && r.IntN(3) == 0 {
				word = ledger.Confirm // an older notice, overtaken
			}
			if word != "" {
				t.hear(i, word)
			}
		}
	default: // we ask again, about all that has no answer
		for i := range t.account.Attempts {
			if a := t.account.Attempts[i]; a.State.Waiting() && t.bank[a.Name] != "" {
				t.hear(i, t.bank[a.Name])
			}
		}
	}
}

func someSlip(r *rand.Rand) charge.Slip {
	s := charge.Slip{Currency: "EUR", Total: money.Amount(r.IntN(4)) * 1250, Held: money.Amount(r.IntN(2)) * 5000}
	if s.Total > 0 && r.IntN(2) == 0 {
		now := s.Total * money.Amount(r.IntN(4)) / 4
		s.Due = []charge.Due{{Amount: now}, {Day: "2027-01-15", Amount: s.Total - now}}
	}
	return s
}

// The invariants of the ledger (docs/computation.md), whatever comes: what was
// charged is the slip's total; never more goes back than came in; one attempt
// makes each entry once; an order is placed once; and once all is asked about,
// the ledger says what the bank's own books say. Debits and credits are summed
// here by themselves, entry by entry.
func TestTenThousandFates(t *testing.T) {
	const fates = 10_000
	ends := map[State]int{}
	for seed := range uint64(fates) {
		r := rand.New(rand.NewPCG(seed, 7))
		till := &till{state: Prepared, slip: someSlip(r), at: time.Unix(0, 0), bank: map[string]ledger.State{}, moved: map[string]money.Amount{}}
		for range 10 + r.IntN(40) {
			till.act(r)
			till.holds(t, seed)
		}
		for range 6 { // the bank decides all, and we hear of all
			for i := range till.account.Attempts {
				till.decide(i, ledger.Settled)
				till.hear(i, till.bank[till.account.Attempts[i].Name])
			}
			till.holds(t, seed)
		}
		till.agrees(t, seed)
		ends[till.state]++
		if t.Failed() {
			return
		}
	}
	for _, s := range []State{Prepared, Placed, Cancelled} {
		if ends[s] < fates/50 {
			t.Errorf("only %d of %d end %s, so the test tries too little: %v", ends[s], fates, s, ends)
		}
	}
}

func (t *till) holds(test *testing.T, seed uint64) {
	test.Helper()
	fail := func(format string, args ...any) {
		test.Helper()
		test.Errorf("fate %d: "+format+"\n%v\n%+v", append(append([]any{seed}, args...), t.log, t.account)...)
	}
	if code := t.account.Overdrawn(); code != "" {
		fail("%s", code)
	}
	var asked, debit, credit money.Amount
	for _, e := range t.account.Entries {
		switch e.Kind {
		case ledger.Charged:
			if e.Reason == ledger.Placing {
				asked += e.Amount
			}
			debit += e.Amount
		case ledger.Returned:
			debit += e.Amount
		case ledger.Paid, ledger.Waived:
			credit += e.Amount
		}
	}
	b := t.account.Balance()
	if debit-credit != b.Open()-b.Overpaid() {
		fail("debits %d and credits %d are not what is open %d and overpaid %d", debit, credit, b.Open(), b.Overpaid())
	}
	var parts money.Amount
	for _, p := range ledger.Parts(t.account.Entries) {
		if p.Amount <= 0 {
			fail("a part of %d", p.Amount)
		}
		parts += p.Amount
	}
	if parts != b.Open() {
		fail("the open parts come to %d, open is %d", parts, b.Open())
	}
	if want := map[bool]money.Amount{true: t.slip.Total}[t.state.IsPlaced()]; asked != want {
		fail("charged %d of a slip of %d, %s", asked, t.slip.Total, t.state)
	}
	if t.placed > 1 || (t.placed == 1) != t.state.IsPlaced() && t.slip.Total > 0 {
		fail("placed %d times, and it is %s", t.placed, t.state)
	}
	coming := 0
	for _, a := range t.account.Attempts {
		if a.State.Waiting() && !a.Purpose.Back() {
			coming++
		}
	}
	if coming > 1 {
		fail("%d payments under way at once", coming)
	}
}

// agrees compares with the bank's books once every attempt is settled or
// refused.
func (t *till) agrees(test *testing.T, seed uint64) {
	test.Helper()
	var books money.Amount
	for _, n := range t.moved {
		books += n
	}
	var byCard money.Amount
	for _, e := range t.account.Entries {
		if e.Way != ledger.Card {
			continue
		}
		switch e.Kind {
		case ledger.Paid, ledger.Held:
			byCard += e.Amount
		case ledger.Returned, ledger.Released:
			byCard -= e.Amount
		}
	}
	b := t.account.Balance()
	_, held := t.account.Surplus(t.state.Deposit(t.slip.Held))
	// What the bank refused to give back stays here, for the desk to see.
	stays := slices.ContainsFunc(t.account.Attempts, func(a ledger.Attempt) bool { return a.Purpose.Back() && a.State == ledger.Refused })
	if books != byCard || !stays && (b.Overpaid() != 0 && t.state != Cancelled || held != 0) || t.account.Coming() != nil {
		test.Errorf("fate %d: the bank moved %d, the ledger says %d, overpaid %d, held too much %d\n%v\n%+v", seed, books, byCard, b.Overpaid(), held, t.log, t.account)
	}
}
