package desk

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// mostWord bounds the letters of a word to the customer.
const mostWord = 2000

// errTried undoes what was only tried.
var errTried = errors.New("only tried")

// DocketDays shows when what an order line books could be instead.
func (d *Desk) DocketDays(ctx context.Context, id int64, asked api.DaysAsked, l words.Language) (api.BookableDays, error) {
	view := api.BookableDays{Days: []api.BookableDay{}}
	a, err := apiview.ReadAsked(asked, l)
	if err != nil {
		return view, err
	}
	err = d.Store.Read(ctx, func(tx *store.Tx) error {
		line, err := d.open(tx, id, l)
		if err == nil {
			view, err = placing.Days(tx, line, asked, a, d.Now(), l)
		}
		return err
	})
	return view, err
}

// PreviewBooking says what moving a booking would do, and changes nothing.
func (d *Desk) PreviewBooking(ctx context.Context, id int64, m api.BookingMove, l words.Language) (api.BookingMoved, error) {
	var view api.BookingMoved
	err := d.Store.Write(ctx, func(tx *store.Tx) (err error) {
		m.Anyway = new(true)
		if view, _, err = d.move(ctx, tx, id, m, l); err != nil {
			return err
		}
		return errTried
	})
	if errors.Is(err, errTried) {
		err = nil
	}
	return view, err
}

// MoveBooking moves what an order line books, whatever stands against it if the
// seller says so, with a word to the customer. What it costs then is charged, or
// stands as paid too much.
func (d *Desk) MoveBooking(ctx context.Context, id int64, m api.BookingMove, l words.Language) (api.BookingMoved, error) {
	var view api.BookingMoved
	err := d.Store.Write(ctx, func(tx *store.Tx) (err error) {
		var done rebooked
		if view, done, err = d.move(ctx, tx, id, m, l); err != nil {
			return err
		}
		if view.After != view.Before && (m.Agreed == nil || *m.Agreed != view.After) {
			return problem.Say(http.StatusConflict, l, "price_differs", nil)
		}
		if m.Silent != nil && *m.Silent {
			return nil
		}
		word := ""
		if m.Word != nil {
			word = *m.Word
		}
		return message.WriteMoved(tx, done.line, done.was, word, d.Now())
	})
	return view, err
}

// rebooked is a line whose booking was moved.
type rebooked struct {
	line *docket.Line
	was  question.Booking
}

func (d *Desk) move(ctx context.Context, tx *store.Tx, id int64, m api.BookingMove, l words.Language) (api.BookingMoved, rebooked, error) {
	none := func(err error) (api.BookingMoved, rebooked, error) { return api.BookingMoved{}, rebooked{}, err }
	line, err := d.open(tx, id, l)
	if err != nil {
		return none(err)
	}
	was, booked := line.Booked()
	k, ok := line.Edition.BookingKey()
	if !ok || !booked {
		return none(problem.NotFound(l, "no_booking"))
	}
	if code := line.State().Refused(order.Fill); code != "" {
		return none(problem.Say(http.StatusConflict, l, code, nil))
	}
	if line.Row.Version != m.Version {
		return none(problem.Say(http.StatusConflict, l, "conflict", nil))
	}
	next, wrong := readMove(line, was, m, l)
	if line.Edition.Booking.By == booking.ByCourse {
		q, err := placing.Query(tx, line.Row.ProductID, line.Edition, line.Given.Zone, d.Now(), line.Row.ID)
		if err != nil {
			return none(err)
		}
		next, wrong = readCourseMove(line, was, m, *q, l)
	}
	if len(wrong) > 0 {
		return none(problem.Invalid(l, wrong))
	}
	raw, err := json.Marshal(next)
	if err != nil {
		return none(err)
	}
	before := line.Order.Slip
	items := len(line.Plans())
	dues := dueTimes(line)
	err = line.Revise(tx, docket.Revision{
		Answers: map[string]json.RawMessage{string(k): raw}, Author: Author(ctx), Language: l, Editions: d.Editions, Files: docket.Files(tx, line.Order.ID),
		Refused: func(*product.Item) string { return "" },
		Judged: func(after *evaluate.Result) []question.Fault {
			if after.Slip.Held != line.Row.Slip.Held { // a deposit is settled by hand
				return []question.Fault{{Key: k, Code: "deposit_changes"}}
			}
			return nil
		},
	}, d.Now())
	if err != nil {
		return none(err)
	}
	var prefer []booking.ResourceID
	if m.With != nil {
		prefer = *m.With
	}
	against, err := placing.Rebook(tx, line, placing.Mover{Seller: true, Prefer: prefer, Anyway: m.Anyway != nil && *m.Anyway}, d.Now())
	if err != nil {
		return none(err)
	}
	view := api.BookingMoved{Version: line.Row.Version, Words: line.Result.Words(line.Edition, k, line.Given), Currency: string(line.Order.Currency), Before: int(before.Total), After: int(line.Order.Slip.Total)}
	if against != nil {
		if m.Anyway == nil || !*m.Anyway {
			return none(problem.Invalid(l, problem.Fields(l, "", []question.Fault{*against})))
		}
		view.Against = new(stands(*against, l))
	}
	rows, err := tx.BookingsOf(line.Row.ID)
	if err != nil {
		return none(err)
	}
	with, err := tx.With(rows)
	if err != nil {
		return none(err)
	}
	view.With = namesOf(with[rows[0].ID])
	after := dueTimes(line)
	for key, due := range dues {
		if at, there := after[key]; there && !at.Equal(due) {
			view.Items++
		}
	}
	view.Items += max(items-len(line.Plans()), 0)
	if line.Order.Slip.Total != before.Total {
		err = docket.Repriced(tx, &line.Order, before, Author(ctx), d.Now())
	}
	return view, rebooked{line, was}, err
}

// forSellers are the faults of bookings that are told to sellers in words of their own:
// those to customers ask them to choose another time.
var forSellers = []string{"opening_gone", "opening_sold_out", "opening_full", "length_gone", "people_least", "people_most", "course_gone"}

// stands says to the seller what stands against a move.
func stands(f question.Fault, l words.Language) string {
	if f.Code == "stay" {
		return f.Params["why"]
	}
	if slices.Contains(forSellers, f.Code) {
		return l.Say("against."+f.Code, f.Params)
	}
	return f.Message(l)
}

// dueTimes gives when each work item that is not done is due.
func dueTimes(line *docket.Line) map[string]time.Time {
	m := map[string]time.Time{}
	for _, i := range line.Items {
		if i.DoneAt == nil && i.ByAt != nil {
			m[fmt.Sprintf("%s %s %d", i.Step, i.Part, i.Round)] = *i.ByAt
		}
	}
	return m
}

// readMove reads where a booking is moved to.
func readMove(line *docket.Line, was question.Booking, m api.BookingMove, l words.Language) (question.Booking, []api.FieldError) {
	var wrong []api.FieldError
	add := func(key, code string, p words.Params) { wrong = append(wrong, problem.Field(l, key, code, p)) }
	rule, zone := line.Edition.Booking, line.Given.Zone
	day := func(key, text string) calendar.Day {
		x, err := calendar.ParseDay(text)
		if err != nil {
			add(key, "day", nil)
		}
		return x
	}
	local := was.Start.In(zone)
	first, minute := day("day", m.Day), local.Hour()*60+local.Minute()
	if m.Time != nil {
		at, err := time.Parse("15:04", *m.Time)
		if err != nil {
			add("time", "time", nil)
		}
		minute = at.Hour()*60 + at.Minute()
	}
	length := int(rule.Ends(was).Sub(was.Start) / time.Minute)
	if m.Minutes != nil {
		if length = *m.Minutes; length < 5 || length > 1440 {
			add("minutes", "minutes", words.Params{"least": "5", "most": "1440"})
		}
	}
	last := calendar.DayOf(rule.Ends(was).Add(-time.Nanosecond).In(zone)).Add(first.Since(calendar.DayOf(local)))
	if m.Last != nil {
		last = day("last", *m.Last)
	}
	if m.With != nil && slices.ContainsFunc(*m.With, func(id booking.ResourceID) bool { return !slices.Contains(rule.Uses(), id) }) {
		add("with", "resource_unknown", nil)
	}
	if m.Word != nil && len([]rune(*m.Word)) > mostWord {
		add("word", "too_long", nil)
	}
	if len(wrong) > 0 {
		return was, wrong
	}
	if rule.Stays != nil && (rule.Count(first, last) < 1 || last.Since(first) > 1100) {
		add("last", "closure_order", nil)
		return was, wrong
	}
	next := rule.At(first, minute, length, last, &booking.Query{Zone: zone})
	if next.People = was.People; m.People != nil {
		if next.People = *m.People; next.People < 1 || next.People > 10000 {
			add("people", "people_least", words.Params{"least": "1"})
		}
	}
	next.With = was.With
	if m.With != nil {
		next.With = chosenAnew(rule, was.With, *m.With)
	}
	return next, wrong
}

// chosenAnew gives what counts as chosen by the customer once the seller wants
// something else: of each kind of which they chose one, what the seller wants instead.
func chosenAnew(rule *booking.Rule, chosen, wanted []booking.ResourceID) []booking.ResourceID {
	var list []booking.ResourceID
	for _, n := range rule.Needs {
		of := func(ids []booking.ResourceID) (booking.ResourceID, bool) {
			i := slices.IndexFunc(ids, func(id booking.ResourceID) bool { return slices.Contains(n.Of, id) })
			if i < 0 {
				return 0, false
			}
			return ids[i], true
		}
		was, did := of(chosen)
		if is, wants := of(wanted); did && wants {
			was = is
		}
		if did {
			list = append(list, was)
		}
	}
	return list
}
