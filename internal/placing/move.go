package placing

import (
	"errors"
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/question"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Rebook gives a line whose booking was moved its new place, instead of the one
// that it had, of what the seller prefers where they do. What stands against it is
// told, unless it is made anyway.
func Rebook(tx *store.Tx, line *docket.Line, prefer []booking.ResourceID, anyway bool, now time.Time) (against *question.Fault, err error) {
	k, ok := line.Edition.BookingKey()
	b, booked := line.Booked()
	if !ok || !booked {
		return nil, nil
	}
	q, err := Query(tx, line.Row.ProductID, line.Edition, line.Given.Zone, now, line.Row.ID)
	if err != nil {
		return nil, err
	}
	q.Wish = line.Result.Wish(line.Edition, line.Given)
	q.Wish.Prefer = prefer
	place, against := line.Edition.Booking.Take(b, *q, line.Given.Language)
	if against != nil {
		against.Key = k
		if !anyway {
			return against, nil
		}
		place = line.Edition.Booking.Force(b, *q)
	}
	had, err := tx.BookingOf(line.Row.ID)
	if errors.Is(err, store.ErrNotFound) { // it was given back
		had, err = store.Booking{LineID: line.Row.ID, ProductID: line.Row.ProductID, Sold: true}, nil
	}
	if err != nil {
		return against, err
	}
	had.People, had.Forced = b.People, against != nil
	return against, Book(tx, &had, line.Edition.Booking, place, q.Resources)
}

// refused makes a fault of a line's booking a problem.
func refused(line *docket.Line, f question.Fault) error {
	return problem.Invalid(line.Given.Language, problem.Fields(line.Given.Language, "", []question.Fault{f}))
}

// Moved gives a line that its customer changed its new place, if its booking is
// another one than before, or refuses it.
func Moved(tx *store.Tx, line *docket.Line, was question.Booking, now time.Time) (moved bool, err error) {
	is, booked := line.Booked()
	if !booked || is.Equal(was) {
		return false, nil
	}
	against, err := Rebook(tx, line, nil, false, now)
	if err == nil && against != nil {
		err = refused(line, *against)
	}
	return true, err
}
