package docket

import (
	"fmt"
	"strings"

	"ruvo/internal/core/question"
	"ruvo/internal/ics"
)

// Events gives what the line books as entries of a calendar, as its customer has
// them: one for each meeting of a course, else one; none for a line that books
// nothing. With names what the booking takes.
func (l *Line) Events(with []string, cancelled bool) []ics.Event {
	b, booked := l.Booked()
	if !booked || l.Edition.Booking == nil {
		return nil
	}
	var list []ics.Event
	for i, m := range b.Times(l.Edition.Booking.Ends(b)) {
		meeting := 0
		if b.Of > 0 {
			meeting = b.Of - len(b.Meetings) + i + 1
		}
		list = append(list, l.event(m, meeting, b.Of, with, cancelled))
	}
	return list
}

func (l *Line) event(m question.Meeting, meeting, of int, with []string, cancelled bool) ics.Event {
	e := ics.Event{
		UID: ics.UID(l.Row.ID, meeting, l.Business.Address), Sequence: l.Row.Version, Start: m.Start, End: m.End,
		Summary: l.Edition.Title, Details: strings.Join(with, ", "), Place: strings.ReplaceAll(l.Business.Postal, "\n", ", "),
		Organizer: l.Business.Contact, OrganizerName: l.Business.Name, Attendee: l.Order.Email, AttendeeName: l.Order.Name, Cancelled: cancelled,
	}
	if cancelled { // later than whatever was sent before
		e.Sequence++
	}
	if of > 0 {
		e.Summary += fmt.Sprintf(" (%d/%d)", meeting, of)
	}
	return e
}

// Gone gives those entries that a line had before it booked something else, and has
// no longer: the meetings of a course of which it has fewer now.
func (l *Line) Gone(was question.Booking) []ics.Event {
	is, _ := l.Booked()
	var list []ics.Event
	for i, m := range was.Meetings {
		meeting := was.Of - len(was.Meetings) + i + 1
		if first := is.Of - len(is.Meetings) + 1; meeting < first || meeting > is.Of {
			list = append(list, l.event(m, meeting, was.Of, nil, true))
		}
	}
	return list
}
