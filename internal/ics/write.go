// Package ics writes and reads calendars in the iCalendar format (RFC 5545, and RFC
// 5546 for what is sent to somebody).
package ics

import (
	"fmt"
	"net/url"
	"time"

	ical "github.com/arran4/golang-ical"
)

// A Method says what a calendar that is sent does at its receiver (RFC 5546).
type Method string

// The methods that are sent; a feed has none.
const (
	Feed    Method = ""
	Publish Method = "PUBLISH"
	Request Method = "REQUEST"
	Cancel  Method = "CANCEL"
)

// An Event is one entry of a calendar.
type Event struct {
	UID      string // stays the same when it is moved
	Sequence int    // grows with each change
	Start    time.Time
	End      time.Time
	Summary  string
	Details  string
	Place    string
	Link     string
	// Organizer and Attendee are mail addresses; empty where there is none.
	Organizer, OrganizerName string
	Attendee, AttendeeName   string
	Cancelled                bool
}

// MethodFor gives how an event is sent: as a request where both sides have an
// address, as RFC 5546 wants it, else as something published.
func MethodFor(e Event) Method {
	switch {
	case e.Cancelled:
		return Cancel
	case e.Organizer != "" && e.Attendee != "":
		return Request
	}
	return Publish
}

// lineLength is the octets of a line without its end (RFC 5545, 3.1).
const lineLength = 75

// Write writes a calendar. Name is what programs show for a feed; stamp is when it
// was written.
func Write(method Method, name string, events []Event, stamp time.Time) string {
	cal := ical.NewCalendar()
	cal.SetProductId("-//Ruvo//Bookings//EN")
	cal.SetVersion("2.0")
	cal.SetCalscale("GREGORIAN")
	if method != Feed {
		cal.SetMethod(ical.Method(method))
	}
	if name != "" {
		cal.SetXWRCalName(name)
	}
	for _, e := range events {
		v := cal.AddEvent(e.UID)
		v.SetDtStampTime(stamp)
		v.SetSequence(e.Sequence)
		v.SetStartAt(e.Start)
		v.SetEndAt(e.End)
		v.SetSummary(e.Summary)
		if e.Details != "" {
			v.SetDescription(e.Details)
		}
		if e.Place != "" {
			v.SetLocation(e.Place)
		}
		if e.Link != "" {
			v.SetURL(e.Link)
		}
		status := ical.ObjectStatusConfirmed
		if e.Cancelled {
			status = ical.ObjectStatusCancelled
		}
		v.SetStatus(status)
		if method == Feed {
			continue
		}
		organizer := "invalid:nomail" // RFC 5546, 1.4: somebody without an address
		if e.Organizer != "" {
			organizer = "mailto:" + e.Organizer
		}
		v.SetOrganizer(organizer, ical.WithCN(e.OrganizerName))
		if e.Attendee != "" && method != Publish {
			v.AddAttendee(e.Attendee, ical.WithCN(e.AttendeeName), ical.WithRSVP(false), ical.ParticipationStatusAccepted)
		}
	}
	return cal.Serialize(ical.WithNewLineWindows, ical.WithLineLength(lineLength))
}

// UID names a booking of an order line for ever, in a way that no other business
// names one of its own (RFC 7986, 5.3: globally unique). Meeting is that of a course;
// 0 of anything else.
func UID(line int64, meeting int, address string) string {
	host := "ruvo.invalid"
	if u, err := url.Parse(address); err == nil && u.Hostname() != "" {
		host = u.Hostname()
	}
	if meeting > 0 {
		return fmt.Sprintf("booking-%d-%d@%s", line, meeting, host)
	}
	return fmt.Sprintf("booking-%d@%s", line, host)
}
