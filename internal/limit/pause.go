package limit

import (
	"sync"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
)

// Pauses make who failed too often wait, twice as long after each further
// failure. Those of nil count nothing.
type Pauses struct {
	free    int // failures that cost nothing
	longest time.Duration

	mu   sync.Mutex
	kept *lru.Cache[string, failures]
}

type failures struct {
	n     int
	since time.Time // of the last one
	pause time.Duration
}

// NewPauses makes pauses that begin with the failure after so many, and grow
// from two seconds to the longest.
func NewPauses(free int, longest time.Duration) *Pauses {
	kept, err := lru.New[string, failures](mostKept)
	if err != nil {
		panic(err) // only for a size below one
	}
	return &Pauses{free: free, longest: longest, kept: kept}
}

// Wait gives how long a key has to wait yet. When the clock was set back, the
// pause begins anew and is no longer than it was.
func (p *Pauses) Wait(now time.Time, key string) time.Duration {
	if p == nil {
		return 0
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	f, _ := p.kept.Get(key)
	if now.Before(f.since) {
		f.since = now
		p.kept.Add(key, f)
	}
	return max(f.since.Add(f.pause).Sub(now), 0)
}

// Failed notes a failure, and gives how many there were. They are forgotten
// after a day without one.
func (p *Pauses) Failed(now time.Time, key string) int {
	if p == nil {
		return 0
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	f, _ := p.kept.Get(key)
	if now.Sub(f.since) > 24*time.Hour {
		f = failures{}
	}
	f.n++
	f.since = now
	if over := f.n - p.free; over >= 0 {
		f.pause = min(p.longest, 2*time.Second<<min(over, 20))
	}
	p.kept.Add(key, f)
	return f.n
}

// Passed forgets the failures of a key.
func (p *Pauses) Passed(key string) {
	if p == nil {
		return
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	p.kept.Remove(key)
}
