package placing

import (
	"time"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/question"
	"ruvo/internal/docket"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// A Mover is who moves what is booked.
type Mover struct {
	Seller bool
	Prefer []booking.ResourceID // that the seller wants
	Anyway bool                 // whatever stands against it
}

// Rebook gives a line whose booking was moved its new places, instead of those that it
// had. What stands against it is told, unless it is made anyway.
func Rebook(tx *store.Tx, line *docket.Line, by Mover, now time.Time) (against *question.Fault, err error) {
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
	q.Wish.Prefer, q.Wish.Seller = by.Prefer, by.Seller
	places, against := line.Edition.Booking.Take(b, *q, line.Given.Language)
	if against != nil {
		against.Key = k
		if !by.Anyway {
			return against, nil
		}
		places = line.Edition.Booking.Force(b, *q)
	}
	is := store.Booking{LineID: line.Row.ID, ProductID: line.Row.ProductID, Sold: true}
	had, err := tx.BookingsOf(line.Row.ID)
	if err != nil {
		return against, err
	}
	if len(had) > 0 { // it was not given back
		is.Sold, is.HeldUntil = had[0].Sold, had[0].HeldUntil
	}
	is.People, is.Forced = b.People, against != nil
	if err := Book(tx, is, b.Of, line.Edition.Booking, places, q.Resources); err != nil {
		return against, err
	}
	return against, line.Rebooked(tx, now)
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
	against, err := Rebook(tx, line, Mover{}, now)
	if err == nil && against != nil {
		err = refused(line, *against)
	}
	return true, err
}
