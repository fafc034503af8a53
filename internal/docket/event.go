package docket

import (
	"strings"

	"ruvo/internal/ics"
)

// Event gives what the line books as an entry of a calendar, as its customer has
// it; false for a line that books nothing. With names what the booking takes.
func (l *Line) Event(with []string, cancelled bool) (ics.Event, bool) {
	b, booked := l.Booked()
	if !booked || l.Edition.Booking == nil {
		return ics.Event{}, false
	}
	e := ics.Event{
		UID: ics.UID(l.Row.ID, l.Business.Address), Sequence: l.Row.Version, Start: b.Start, End: l.Edition.Booking.Ends(b),
		Summary: l.Edition.Title, Details: strings.Join(with, ", "), Place: strings.ReplaceAll(l.Business.Postal, "\n", ", "),
		Organizer: l.Business.Contact, OrganizerName: l.Business.Name, Attendee: l.Order.Email, AttendeeName: l.Order.Name, Cancelled: cancelled,
	}
	if cancelled { // later than whatever was sent before
		e.Sequence++
	}
	return e, true
}
