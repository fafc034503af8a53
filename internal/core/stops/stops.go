// Package stops says where customers stop: how many came how far, and how long they
// were at each question. It knows numbers and nobody: what is counted has no name, no
// address and nothing by which one count belongs to another.
package stops

import (
	"slices"
)

// What is something that is counted of a product's edition.
type What string

const (
	Opened   What = "opened"   // the product's page, by somebody who had typed nothing there yet
	Returned What = "returned" // the page, by somebody who had typed something there before
	Began    What = "began"    // to answer
	Added    What = "added"    // it was put into the basket
	Prepared What = "prepared" // the checkout was filled in, and the payment comes next
	Reached  What = "reached"  // a question came into view
	Took     What = "took"     // a question was answered, in some seconds
)

// Whats lists what browsers count.
func Whats() []What { return []What{Opened, Returned, Began, Added, Reached, Took} }

// Of says whether it is counted for each question.
func (w What) Of() bool { return w == Reached || w == Took }

// MostSeconds is the longest that somebody is said to be at a question; who is longer
// went for a walk.
const MostSeconds = 600

// edges are the ends of the spans in which seconds are counted, the last of them
// included: fine where people answer at once, coarse where they think.
var edges = []int{1, 2, 3, 5, 8, 12, 18, 26, 40, 60, 90, 150, 300, MostSeconds}

// Span gives the span that seconds are counted in, and false for what is no time at a
// question.
func Span(seconds int) (int, bool) {
	if seconds < 0 || seconds > MostSeconds {
		return 0, false
	}
	at, _ := slices.BinarySearch(edges, seconds)
	return at, true
}

// Spans is how many spans there are.
func Spans() int { return len(edges) }

// Median gives the median of seconds that were counted in spans, as of grouped data: the
// span in which the middle lies, divided evenly. False for no counts.
func Median(counts []int) (seconds float64, ok bool) {
	all := 0
	for _, n := range counts {
		all += n
	}
	if all == 0 {
		return 0, false
	}
	before, low := 0, 0
	for i, n := range counts {
		if high := edges[i]; 2*(before+n) >= all {
			return float64(low) + (float64(all)/2-float64(before))/float64(n)*float64(high-low), true
		}
		before, low = before+n, edges[i]
	}
	return 0, false
}
