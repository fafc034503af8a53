// Package order holds an order as one thing: its states and what each allows,
// what is asked of the whole of it, its brief and its promise.
package order

// A State is how far an order is.
type State string

const (
	Prepared  State = "prepared"  // a checkout: its lines and places are there, nothing is paid
	Paying    State = "paying"    // the payment service was asked, or waits for the customer's word
	Awaiting  State = "awaiting"  // ordered and numbered; all is held until its transfer comes in
	Placed    State = "placed"    // what was due when ordering is paid; being worked on
	Cancelled State = "cancelled" // was placed and will not be worked on
	Lapsed    State = "lapsed"    // was awaiting; what it held was given free
)

// States lists them.
func States() []State { return []State{Prepared, Paying, Awaiting, Placed, Cancelled, Lapsed} }

// Holding lists the states in which places, pieces and coupons stay held,
// however long that takes: a payment is under way.
func Holding() []State { return []State{Paying, Awaiting} }

// An Act is something that somebody may want to do with an order.
type Act string

const (
	Change   Act = "change"   // what is ordered, by whom, with what coupons
	Pay      Act = "pay"      // what is due when ordering
	Word     Act = "word"     // the customer's word to their bank on that payment
	PayRest  Act = "pay_rest" // what is still open
	Answer   Act = "answer"   // questions, after placing
	Fill     Act = "fill"     // the desk's own questions
	Close    Act = "close"    // the brief
	Reopen   Act = "reopen"   // the brief
	Remind   Act = "remind"   // the customer, of what is missing
	Relink   Act = "relink"   // replace the private link
	Work     Act = "work"     // begin, finish or take back a work item
	Receive  Act = "receive"  // note what came in by other means
	Release  Act = "release"  // give the security deposit back
	Return   Act = "return"   // give back what was paid too much
	Cancel   Act = "cancel"   // the order
	GiveFree Act = "free"     // what an order holds that awaits its transfer
	Accept   Act = "accept"   // it before its transfer came in
	LinkOnce Act = "link"     // be given the private link through the checkout
	HandOver Act = "handover" // finished files to the customer
	Respond  Act = "respond"  // to what was handed over
)

// Acts lists them.
func Acts() []Act {
	return []Act{Change, Pay, Word, PayRest, Answer, Fill, Close, Reopen, Remind, Relink, Work, Receive, Release, Return, Cancel, GiveFree, Accept, LinkOnce, HandOver, Respond}
}

// What stands against an act, as codes of problems.
const (
	WhilePaying   = "paying"     // an answer of the payment service is awaited
	WhenPlaced    = "placed"     // it was placed already
	WhenCancelled = "cancelled"  // it was cancelled
	WhenAwaiting  = "awaiting"   // its transfer has not come in yet
	WhenLapsed    = "lapsed"     // what it held was given free
	NotPlaced     = "not_placed" // it is a checkout
)

// allowed says of each act in which states it may be done. All that asks what
// may be done with an order asks this table, through Refused.
var allowed = map[Act][]State{
	Change:   {Prepared},
	Pay:      {Prepared},
	Word:     {Paying},
	PayRest:  {Awaiting, Placed, Cancelled}, // what a rule keeps of it can be open
	Answer:   {Placed},
	Fill:     {Placed},
	Close:    {Placed},
	Reopen:   {Placed},
	Remind:   {Placed},
	Relink:   {Awaiting, Placed, Cancelled, Lapsed},
	Work:     {Placed},
	Receive:  {Awaiting, Placed, Cancelled, Lapsed},
	Release:  {Placed, Cancelled, Lapsed},
	Return:   {Placed, Cancelled, Lapsed},
	Cancel:   {Placed},
	GiveFree: {Awaiting},
	Accept:   {Awaiting},
	LinkOnce: {Awaiting, Placed},
	HandOver: {Placed},
	Respond:  {Placed},
}

// Refused gives the code of what stands against an act in a state; empty when
// nothing does.
func (s State) Refused(a Act) string {
	for _, in := range allowed[a] {
		if in == s {
			return ""
		}
	}
	switch s {
	case Placed:
		return WhenPlaced
	case Cancelled:
		return WhenCancelled
	case Awaiting:
		return WhenAwaiting
	case Lapsed:
		return WhenLapsed
	case Paying:
		if a == Change || a == Pay {
			return WhilePaying
		}
	}
	return NotPlaced
}

// moves are the ways from one state to the next. An answer of the payment
// service that says no leads back to where the customer can choose again.
var moves = map[State][]State{
	Prepared: {Paying, Awaiting, Placed}, // at once when it costs nothing
	Paying:   {Prepared, Placed},
	Awaiting: {Placed, Lapsed},
	Lapsed:   {Awaiting}, // its money came in after all, and all of it was still free
	Placed:   {Cancelled},
}

// Leads says whether an order can go from one state to another.
func (s State) Leads(to State) bool {
	for _, next := range moves[s] {
		if next == to {
			return true
		}
	}
	return false
}

// IsPlaced says whether it was ordered, cancelled or not.
func (s State) IsPlaced() bool { return s == Placed || s == Cancelled }

// IsOrdered says whether it is an order by now, with a number, in whatever
// state.
func (s State) IsOrdered() bool { return s != Prepared && s != Paying }
