// Package limit keeps strangers from taking more than their share: token
// buckets for each sender and each target, with a clock that can be set.
package limit

import (
	"sync"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/time/rate"
)

// A Rate says how many tokens a full bucket has, and how long it takes until
// one of them is back.
type Rate struct {
	Burst int
	Each  time.Duration
}

// mostKept bounds how many senders or targets one kind of limit remembers: the
// ones that were seen last.
const mostKept = 50_000

// Buckets are the token buckets of one kind, one for each key. Those of nil
// never run out.
type Buckets struct {
	rate Rate
	now  func() time.Time

	mu   sync.Mutex
	kept *lru.Cache[string, *rate.Limiter]
}

// New makes buckets that are full at first.
func New(r Rate, now func() time.Time) *Buckets {
	kept, err := lru.New[string, *rate.Limiter](mostKept)
	if err != nil {
		panic(err) // only for a size below one
	}
	return &Buckets{rate: r, now: now, kept: kept}
}

// Take takes n tokens from the bucket of a key. When they are not there it takes
// none and gives how long it is until they are, the whole bucket at most.
func (b *Buckets) Take(key string, n int) (wait time.Duration) {
	_, wait = b.Reserve(key, n)
	return wait
}

// Reserve is Take with a way back: undo gives the tokens back, for somebody who
// in the end did not use them.
func (b *Buckets) Reserve(key string, n int) (undo func(), wait time.Duration) {
	if b == nil || n <= 0 {
		return func() {}, 0
	}
	n = min(n, b.rate.Burst)
	now := b.now()
	l := b.of(key)
	r := l.ReserveN(now, n)
	if wait := r.DelayFrom(now); wait > 0 {
		r.CancelAt(now)
		return func() {}, wait
	}
	return func() { r.CancelAt(now) }, 0
}

// Fits says whether a full bucket has n tokens.
func (b *Buckets) Fits(n int) bool { return b == nil || n <= b.rate.Burst }

func (b *Buckets) of(key string) *rate.Limiter {
	b.mu.Lock()
	defer b.mu.Unlock()
	l, ok := b.kept.Get(key)
	if !ok {
		l = rate.NewLimiter(rate.Every(b.rate.Each), b.rate.Burst)
		b.kept.Add(key, l)
	}
	return l
}
