// Package handover holds the rules by which finished files reach a customer: for how
// long they are kept, which order each of many files is for, and how the customer
// accepts them or asks for changes.
package handover

import (
	"time"

	"ruvo/internal/core/words"
)

// Terms are how the work on a product is handed over.
type Terms struct {
	Message string `json:"message,omitempty"` // what a handover says unless it is changed: text with merge fields
	Keep    int    `json:"keep,omitempty"`    // days that files are kept; zero for as long as the order
}

// The limits of a handover.
const (
	LongestMessage = 5000 // characters
	longestKept    = 3650 // days
	MostFiles      = 1000
	MostLinks      = 50
	// MostFileBytes bounds one finished file.
	MostFileBytes = 20_000_000_000
	// warning is how many days before the files go the customer is told.
	warning = 7
)

// Validate says what is wrong with the terms.
func (t *Terms) Validate() error {
	switch {
	case len([]rune(t.Message)) > LongestMessage:
		return words.Tell("handover.message_long", "most", LongestMessage)
	case t.Keep < 0 || t.Keep > longestKept:
		return words.Tell("handover.keep", "most", longestKept)
	}
	return nil
}

// Until gives when files that are handed over now go: at the end of a day of the
// business; zero for never.
func (t *Terms) Until(now time.Time, zone *time.Location) time.Time {
	if t.Keep == 0 {
		return time.Time{}
	}
	local := now.In(zone)
	return time.Date(local.Year(), local.Month(), local.Day()+t.Keep+1, 0, 0, 0, 0, zone)
}

// Warns gives from when the customer is told that files will go: a week before, of
// files that are kept for less than two weeks half of their time.
func Warns(from, until time.Time) time.Time {
	half := from.Add(until.Sub(from) / 2)
	if week := until.AddDate(0, 0, -warning); week.After(half) {
		return week
	}
	return half
}
