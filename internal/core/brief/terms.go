// Package brief knows how a brief is collected after payment: until when answers can be
// changed, what is half-filled, and what is said once all is there.
package brief

import (
	"net/url"
	"time"

	"ruvo/internal/core/words"
)

// Closing says when answers can no longer be changed by the customer.
type Closing string

const (
	ByHand        Closing = ""       // when the seller closes the brief
	WithWork      Closing = "work"   // each answer, once work that uses it begins
	AfterOrder    Closing = "order"  // so many days after it was ordered
	BeforeBooking Closing = "booked" // so many days before what is booked
)

// Terms are how the brief of a product is collected.
type Terms struct {
	Closes Closing `json:"closes,omitempty"`
	Days   int     `json:"days,omitempty"` // of AfterOrder and BeforeBooking
	// Thanks is said once all is answered; a text with merge fields.
	Thanks string `json:"thanks,omitempty"`
	// Address is where customers can go on to then.
	Address string `json:"address,omitempty"`
}

// The limits of terms.
const (
	mostDays      = 365
	longestThanks = 2000 // letters
)

// Validate says what is wrong with terms.
func (t *Terms) Validate() error {
	switch t.Closes {
	case ByHand, WithWork, AfterOrder, BeforeBooking:
	default:
		return words.Tell("brief.closes")
	}
	if t.Days < 0 || t.Days > mostDays {
		return words.Tell("brief.days", "most", mostDays)
	}
	if len([]rune(t.Thanks)) > longestThanks {
		return words.Tell("brief.thanks", "most", longestThanks)
	}
	if t.Address != "" {
		if u, err := url.Parse(t.Address); err != nil || u.Scheme != "https" && u.Scheme != "http" || u.Host == "" {
			return words.Tell("brief.address")
		}
	}
	return nil
}

// Ends gives when the brief closes by itself: at the beginning of a day; zero for never,
// and while it is not known, such as before anything is booked.
func (t *Terms) Ends(ordered, booked time.Time, zone *time.Location) time.Time {
	if t == nil {
		return time.Time{}
	}
	day := func(at time.Time, more int) time.Time {
		if at.IsZero() {
			return time.Time{}
		}
		local := at.In(zone)
		return time.Date(local.Year(), local.Month(), local.Day()+more, 0, 0, 0, 0, zone)
	}
	switch t.Closes {
	case AfterOrder:
		return day(ordered, t.Days+1)
	case BeforeBooking:
		return day(booked, -t.Days)
	}
	return time.Time{}
}
