package ledger

import (
	"math/rand/v2"
	"testing"
	"time"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
)

// Whatever comes in for an order that awaits its transfer, in however many
// pieces: nothing is lost, what is due at once is filled before the deposit, the
// deposit never holds more than was agreed, and nothing is awaited once all came.
func TestWhatIsAwaited(t *testing.T) {
	at := time.Date(2026, 11, 26, 12, 0, 0, 0, time.UTC)
	dice := rand.New(rand.NewPCG(3, 9))
	for range 5000 {
		now, later, deposit := money.Amount(dice.IntN(5000)), money.Amount(dice.IntN(3000)), money.Amount(dice.IntN(2)*dice.IntN(2000))
		slip := charge.Slip{Total: now + later, Held: deposit, Due: []charge.Due{{Amount: now}, {Day: "2027-01-01", Amount: later}}}
		entries := Charging(&slip, at)
		if got := Awaited(entries, deposit); got != now+deposit {
			t.Fatalf("%d is awaited of %d and %d", got, now, deposit)
		}
		var came money.Amount
		for Awaited(entries, deposit) > 0 || dice.IntN(3) == 0 {
			n := money.Amount(1 + dice.IntN(2500))
			came += n
			fresh := Came(entries, deposit-Sum(entries).Security(), Entry{Amount: n, At: at, Way: Transfer})
			var sum money.Amount
			for _, e := range fresh {
				if e.Amount <= 0 || e.Way != Transfer {
					t.Fatalf("%+v", e)
				}
				sum += e.Amount
			}
			entries = append(entries, fresh...)
			b := Sum(entries)
			if sum != n || b.Paid+b.Held != came || b.Held > deposit || b.Held > 0 && b.Paid < now {
				t.Fatalf("%d came in, %+v of %d and %d", came, b, now, deposit)
			}
		}
		if b := Sum(entries); b.Paid < now || b.Held != deposit {
			t.Fatalf("%+v of %d and %d", b, now, deposit)
		}
		// Given free, nothing is charged, and all of it is to be given back.
		entries = append(entries, Uncharged(entries, at, "")...)
		if b := Sum(entries); b.Charged != 0 || b.Open() != 0 || b.Overpaid()+b.Security() != came {
			t.Fatalf("%+v", b)
		}
		if GivenUp(entries) || Uncharged(entries, at, "") != nil {
			t.Fatal("time gave it free, once")
		}
	}
	if !GivenUp([]Entry{{Kind: Charged, Amount: 5}, {Kind: Charged, Amount: -5, Reason: Lapsing, Author: "Ilse"}}) {
		t.Error("Ilse gave it free")
	}
}
