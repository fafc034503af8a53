package limit

import (
	"context"
	"fmt"
	"slices"
	"testing"
	"time"
)

var start = time.Date(2026, 11, 24, 9, 30, 0, 0, time.UTC)

// Outside check: a token bucket as RFC 2697, section 3, has it: it begins full
// with its burst, fills at its rate, and never holds more than its burst.
func TestBuckets(t *testing.T) {
	now := start
	b := New(Rate{Burst: 3, Each: 10 * time.Second}, func() time.Time { return now })
	takes := func(n int, want ...time.Duration) {
		t.Helper()
		var got []time.Duration
		for range want {
			got = append(got, b.Take("a", n).Round(time.Millisecond))
		}
		if !slices.Equal(got, want) {
			t.Errorf("%v, want %v", got, want)
		}
	}
	takes(1, 0, 0, 0, 10*time.Second, 10*time.Second)
	now = now.Add(4 * time.Second)
	takes(1, 6*time.Second)
	now = now.Add(6 * time.Second)
	takes(1, 0, 10*time.Second)
	now = now.Add(time.Hour)
	takes(2, 0, 10*time.Second)
	takes(99, 20*time.Second) // never more than a whole bucket
	if b.Take("b", 3) != 0 {
		t.Error("one key takes from another's bucket")
	}
	undo, wait := b.Reserve("c", 3)
	if undo(); wait != 0 || b.Take("c", 3) != 0 {
		t.Error("what was given back is not there")
	}
	now = start // a clock that was set back gives nothing and takes nothing
	takes(1, 0)
	if !b.Fits(3) || b.Fits(4) {
		t.Error("what fits")
	}
	var none *Buckets
	if none.Take("a", 1000) != 0 || !none.Fits(1000) {
		t.Error("no limit limits")
	}
}

func TestPauses(t *testing.T) {
	p := NewPauses(3, 20*time.Second)
	now := start
	var got []time.Duration
	for range 8 {
		p.Failed(now, "a")
		got = append(got, p.Wait(now, "a"))
	}
	if fmt.Sprint(got) != "[0s 0s 2s 4s 8s 16s 20s 20s]" || p.Wait(now, "b") != 0 {
		t.Error(got)
	}
	if w := p.Wait(now.Add(15*time.Second), "a"); w != 5*time.Second {
		t.Error(w)
	}
	if w := p.Wait(now.Add(-100*time.Hour), "a"); w != 20*time.Second || p.Wait(now.Add(-100*time.Hour+20*time.Second), "a") != 0 {
		t.Errorf("a clock that was set back makes people wait %v", w)
	}
	p.Passed("a")
	if p.Failed(now, "a") != 1 {
		t.Error("failures are kept over a success")
	}
	if p.Failed(now.Add(25*time.Hour), "a") != 1 {
		t.Error("failures are kept over a day")
	}
	var none *Pauses
	if none.Passed("a"); none.Wait(now, "a") != 0 || none.Failed(now, "a") != 0 {
		t.Error("no pauses pause")
	}
}

func TestSender(t *testing.T) {
	for address, want := range map[string]string{
		"203.0.113.7": "203.0.113.7", "::ffff:203.0.113.7": "203.0.113.7", "2001:db8:1:2:3:4:5:6": "2001:db8:1:2::/64", "fe80::1%eth0": "fe80::/64", "": "", "what": "what",
	} {
		if got := Sender(WithSender(context.Background(), address)); got != want {
			t.Errorf("%q is %q, want %q", address, got, want)
		}
	}
	a, b := Default(time.Now), Default(time.Now)
	first := a.Alias("203.0.113.7")
	if again := a.Alias("203.0.113.7"); first != again || first == a.Alias("203.0.113.8") || first == b.Alias("203.0.113.7") || a.Alias("") != "" {
		t.Error("an alias is the same for the same sender, while the server runs")
	}
}

// The numbers that docs/security.md gives, and the most that a bucket lets
// through in an hour.
func TestNumbers(t *testing.T) {
	for what, c := range map[string]struct {
		rate Rate
		hour int
	}{
		"requests": {requests, 181_000}, "codes": {codes, 40}, "payments": {payments, 100}, "payments of a checkout": {checkoutPayments, 22}, "orders by transfer": {awaiting, 10},
		"mails": {mails, 80}, "mails to an address": {addressMails, 11}, "holding": {holding, 21_600}, "holding of a product": {productHolding, 18_900},
	} {
		if got := c.rate.Burst + int(time.Hour/c.rate.Each); got != c.hour {
			t.Errorf("%s: %d in an hour, the documentation says %d", what, got, c.hour)
		}
	}
}
