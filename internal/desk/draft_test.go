package desk

import (
	"slices"
	"sync"
	"testing"
	"time"
)

// Others are named once each, whatever number of windows they have, and are
// gone when nothing is heard of them.
func TestAttendance(t *testing.T) {
	var a attendance
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	for _, s := range []struct {
		after        time.Duration
		product      int64
		window, name string
		others       []string
	}{
		{0, 1, "a", "Ada", nil},
		{1 * time.Second, 1, "b", "Ben", []string{"Ada"}},
		{2 * time.Second, 1, "b2", "Ben", []string{"Ada", "Ben"}},
		{3 * time.Second, 1, "a", "Ada", []string{"Ben"}},
		{4 * time.Second, 2, "c", "Cleo", nil},
		{22 * time.Second, 1, "a", "Ada", []string{"Ben"}}, // one window of Ben's is gone
		{60 * time.Second, 1, "a", "Ada", nil},
	} {
		others := a.note(s.product, s.window, s.name, now.Add(s.after))
		if !slices.Equal(others, s.others) {
			t.Errorf("after %v %s sees %v, want %v", s.after, s.name, others, s.others)
		}
	}
	var all sync.WaitGroup
	for i := range 20 {
		all.Go(func() { a.note(3, string(rune('a'+i)), "Somebody", now) })
	}
	all.Wait()
	if others := a.note(3, "z", "Zoe", now); !slices.Equal(others, []string{"Somebody"}) {
		t.Errorf("%v", others)
	}
}
