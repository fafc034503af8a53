package order

import (
	"slices"
	"testing"
)

// The whole table, as a seller would read it.
func TestWhatEachStateAllows(t *testing.T) {
	want := map[State][]Act{
		Prepared:  {Change, Pay},
		Paying:    {Word},
		Placed:    {PayRest, Answer, Fill, Close, Reopen, Remind, Relink, Work, Receive, Release, Return, Cancel, LinkOnce, HandOver, Respond},
		Awaiting:  {PayRest, Relink, Receive, GiveFree, Accept, LinkOnce},
		Cancelled: {PayRest, Relink, Receive, Release, Return},
		Lapsed:    {Relink, Receive, Release, Return},
	}
	for _, s := range States() {
		for _, a := range Acts() {
			if got := s.Refused(a); (got == "") != slices.Contains(want[s], a) {
				t.Errorf("%s in %s: %q", a, s, got)
			}
		}
	}
	for _, c := range []struct {
		s    State
		a    Act
		want string
	}{
		{Paying, Change, WhilePaying}, {Paying, Pay, WhilePaying}, {Placed, Change, WhenPlaced}, {Placed, Pay, WhenPlaced},
		{Cancelled, Pay, WhenCancelled}, {Cancelled, Cancel, WhenCancelled}, {Prepared, Cancel, NotPlaced}, {Paying, Work, NotPlaced},
		{Awaiting, Change, WhenAwaiting}, {Awaiting, Answer, WhenAwaiting}, {Lapsed, Pay, WhenLapsed}, {Placed, GiveFree, WhenPlaced},
	} {
		if got := c.s.Refused(c.a); got != c.want {
			t.Errorf("%s in %s: %q, want %q", c.a, c.s, got, c.want)
		}
	}
}

func TestWaysBetweenStates(t *testing.T) {
	ways := map[[2]State]bool{{Prepared, Paying}: true, {Prepared, Placed}: true, {Paying, Prepared}: true, {Paying, Placed}: true, {Placed, Cancelled}: true,
		{Prepared, Awaiting}: true, {Awaiting, Placed}: true, {Awaiting, Lapsed}: true, {Lapsed, Awaiting}: true}
	for _, from := range States() {
		for _, to := range States() {
			if from.Leads(to) != ways[[2]State{from, to}] {
				t.Errorf("from %s to %s: %v", from, to, from.Leads(to))
			}
		}
	}
}
