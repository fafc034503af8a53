package limit

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
)

// A Table holds all limits. The zero table has none.
type Table struct {
	// Requests counts what a sender asks of the shop.
	Requests *Buckets
	// Codes counts the different coupon codes that a sender tries.
	Codes *Buckets
	// Payments counts the attempts to pay of one sender, CheckoutPayments those
	// of one checkout or order.
	Payments, CheckoutPayments *Buckets
	// Awaiting counts the orders of a sender that await their transfers.
	Awaiting *Buckets
	// Mails counts what a sender has mailed, AddressMails what one address gets
	// without having ordered for money.
	Mails, AddressMails *Buckets
	// Holding counts, in seconds for each line of a basket, for how long a sender
	// has places and pieces held unpaid; ProductHolding those of one product.
	Holding, ProductHolding *Buckets

	tried *lru.Cache[string, bool] // senders with codes that they tried
	salt  []byte
}

// The limits and why no honest customer meets them; docs/security.md has the
// same table for people who run Ruvo.
var (
	requests         = Rate{1000, 20 * time.Millisecond} // fifty people in one house who all type
	codes            = Rate{20, 3 * time.Minute}         // nobody has more in a drawer
	payments         = Rate{40, time.Minute}             // a school class that pays in one lesson
	checkoutPayments = Rate{10, 5 * time.Minute}         // three cards with three typing mistakes each
	awaiting         = Rate{10, 6 * time.Hour}           // a family's evening of ordering
	mails            = Rate{20, time.Minute}             // a class that joins its group in one lesson
	addressMails     = Rate{5, 10 * time.Minute}         // "it did not come", five times in a row
	holding          = Rate{20 * 900, time.Second}       // twenty lines for a quarter of an hour, then one all the time
	productHolding   = Rate{20 * 900, 4 * time.Second}   // of one product, then a quarter of the time
)

// Default gives the limits that Ruvo runs with.
func Default(now func() time.Time) *Table {
	tried, err := lru.New[string, bool](mostKept)
	if err != nil {
		panic(err)
	}
	salt := make([]byte, 32)
	rand.Read(salt)
	return &Table{
		Requests: New(requests, now), Codes: New(codes, now), Payments: New(payments, now), CheckoutPayments: New(checkoutPayments, now),
		Awaiting: New(awaiting, now), Mails: New(mails, now), AddressMails: New(addressMails, now), Holding: New(holding, now), ProductHolding: New(productHolding, now),
		tried: tried, salt: salt,
	}
}

// Code takes a token for a coupon code that a sender has not tried before, and
// gives how long to wait when there is none. A basket names its codes again with
// everything that is typed, which tells nothing new.
func (t *Table) Code(sender, code string) time.Duration {
	if t.Codes == nil {
		return 0
	}
	name := sender + " " + code
	if t.tried.Contains(name) {
		return 0
	}
	wait := t.Codes.Take(sender, 1)
	if wait == 0 {
		t.tried.Add(name, true)
	}
	return wait
}

// Alias gives a name for a sender that can be kept: the same for the same one
// while the server runs, and nothing that leads back to them.
func (t *Table) Alias(sender string) string {
	if t.salt == nil || sender == "" {
		return ""
	}
	sum := sha256.Sum256(append(append([]byte{}, t.salt...), sender...))
	return base64.RawURLEncoding.EncodeToString(sum[:12])
}
