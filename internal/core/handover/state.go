package handover

import "slices"

// A State is what became of a handover.
type State string

const (
	Given     State = "given"     // the customer has it and has not answered, or is not asked
	Accepted  State = "accepted"  // by the customer, or as they said nothing
	Changes   State = "changes"   // the customer asked for changes
	Withdrawn State = "withdrawn" // the seller took it back
)

// An Act is what somebody may want to do with a handover.
type Act string

const (
	Accept   Act = "accept"
	Ask      Act = "changes"  // for changes
	Withdraw Act = "withdraw" // by the seller
	Reopen   Act = "reopen"   // take an acceptance back, by the seller
)

// Acts lists them.
func Acts() []Act { return []Act{Accept, Ask, Withdraw, Reopen} }

var allowed = map[Act][]State{
	Accept:   {Given},
	Ask:      {Given},
	Withdraw: {Given, Accepted},
	Reopen:   {Accepted},
}

// Refused gives the code of what stands against an act; empty when nothing does. Asks
// says whether the customer is asked to accept it, and latest whether nothing was
// handed over of the same step since.
func (s State) Refused(a Act, asks, latest bool) string {
	switch {
	case s == Withdrawn:
		return "handover_withdrawn"
	case a != Withdraw && !asks:
		return "handover_unasked"
	case a != Withdraw && !latest:
		return "handover_replaced"
	case slices.Contains(allowed[a], s):
		return ""
	case s == Accepted:
		return "handover_accepted"
	case s == Changes:
		return "handover_changes"
	}
	return "handover_open"
}
