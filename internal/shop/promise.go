package shop

import (
	"context"
	"encoding/json"
	"strconv"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/question"
	"ruvo/internal/core/schedule"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/queue"
	"ruvo/internal/store"
)

// foretell finds by when the work of a line would be done if it were ordered now, and
// refuses the line when that is later than the seller wants to promise. Taken counts
// the orders of the product that were taken today; nil where that is not known.
func (s *Shop) foretell(ctx context.Context, b *store.Business, ev *evaluated, taken func(from time.Time) (int, error)) error {
	if len(ev.edition.Plan.Steps) == 0 {
		return nil
	}
	q, err := queue.Of(s.Store).At(ctx, ev.facts.Now)
	if err != nil {
		return err
	}
	ev.promise, ev.turn = s.foreseen(q, b, ev, ev.answers)
	if ev.promise == nil {
		return nil
	}
	ev.promise.Booking = time.Time{}
	if at, is := booked(ev); is {
		ev.promise.Booking = at.Start.UTC()
	}
	ev.rushes = func() map[string]string { return s.rushes(q, b, ev) }
	return s.tooMuch(b, ev, q, taken)
}

// foresight is a promise as it was found for some answers.
type foresight struct {
	promise *store.Promise
	turn    time.Time
}

// foreseen evaluates some answers for their work; the same ones once only, as long as
// the queue is the same.
func (s *Shop) foreseen(q *queue.Queue, b *store.Business, ev *evaluated, answers question.Answers) (*store.Promise, time.Time) {
	found := queue.Told(q, workName(ev, answers), func() foresight {
		facts := ev.facts
		facts.Checks = evaluate.Held // what others took does not matter to the work
		facts.Work = &evaluate.Work{Language: words.Language(b.Language), Hours: q.Hours, Foreseen: true}
		r := evaluate.Evaluate(ev.edition, answers, facts)
		p, turn := docket.Promised(q, ev.edition, r.Work, ev.edition.Rushes(r.Answers), facts.Now)
		return foresight{p, turn}
	})
	if found.promise == nil {
		return nil, time.Time{}
	}
	own := *found.promise
	return &own, found.turn
}

// workName names the work that some answers make.
func workName(ev *evaluated, answers question.Answers) string {
	name := strconv.AppendInt(nil, *ev.product.EditionID, 10)
	name = append(strconv.AppendInt(append(name, ' '), int64(ev.facts.Quantity), 10), ' ')
	name = append(append(name, ev.facts.Group...), string(ev.edition.Currency)...)
	for _, k := range ev.edition.Working() {
		name = append(name, '\n')
		if v, ok := answers[k]; ok {
			raw, err := json.Marshal(v)
			if err == nil {
				name = append(name, raw...)
			}
		}
	}
	return string(name)
}

// rushes finds the day of each answer to the question that puts work first.
func (s *Shop) rushes(q *queue.Queue, b *store.Business, ev *evaluated) map[string]string {
	item, ok := ev.edition.Item(ev.edition.Rush.Of)
	if !ok {
		return nil
	}
	values := map[string]question.Value{"yes": question.YesNo(true), "no": question.YesNo(false)}
	if c, is := item.Spec.(question.Choosable); is {
		values = map[string]question.Value{}
		for _, ch := range c.All() {
			values[ch.Code] = question.One(ch.Code)
		}
	}
	days := map[string]string{}
	for code, v := range values {
		answers := question.Answers{item.Key: v}
		for k, v := range ev.answers {
			if k != item.Key {
				answers[k] = v
			}
		}
		if p, _ := s.foreseen(q, b, ev, answers); p != nil {
			days[code] = ev.facts.Language.Day(calendar.DayOf(p.By.In(ev.facts.Zone)))
		}
	}
	return days
}

// Too much work: the codes of what stands against an order then.
const (
	tooMuchWork = "too_much_work"
	enoughToday = "enough_today"
)

// tooMuch refuses a line that would be promised for later than the seller wants: at
// all, or beyond so many a day.
func (s *Shop) tooMuch(b *store.Business, ev *evaluated, q *queue.Queue, taken func(from time.Time) (int, error)) error {
	terms := docket.TermsOf(b, ev.edition)
	if terms.Latest == 0 || ev.promise.Ends.IsZero() || !ev.promise.Booking.IsZero() {
		return nil
	}
	latest, err := q.Hours.AddDays(ev.facts.Now, terms.Latest)
	if err != nil || !ev.promise.By.After(latest) {
		return nil
	}
	f := question.Fault{Key: question.QuantityKey, Code: tooMuchWork, Params: words.Params{"day": ev.facts.Language.Day(calendar.DayOf(ev.promise.By.In(ev.facts.Zone)))}}
	if terms.Beyond == schedule.Slow {
		if taken == nil {
			return nil
		}
		n, err := taken(calendar.DayOf(ev.facts.Now.In(ev.facts.Zone)).At(0, ev.facts.Zone))
		if err != nil || n < terms.Daily {
			return err
		}
		f.Code, f.Params["daily"] = enoughToday, strconv.Itoa(terms.Daily)
	}
	ev.result.Faults = append(ev.result.Faults, f)
	return nil
}

// promised shows what is foreseen of a line that is not ordered yet: of one that
// books a time, only what is done after that.
func (ev *evaluated) promised(view *api.Evaluation) {
	if ev.promise == nil || ev.promise.Ends.IsZero() {
		return
	}
	day := apiview.DayString(ev.promise.By, ev.facts.Zone)
	if at, is := booked(ev); is && ev.edition.Booking != nil && day <= apiview.DayString(ev.edition.Booking.Ends(at), ev.facts.Zone) {
		return
	}
	view.Promise = &api.Foreseen{Day: day, Words: ev.facts.Language.Day(calendar.DayOf(ev.promise.By.In(ev.facts.Zone))), Rush: ev.promise.Rush, Rest: len(ev.result.Brief(ev.edition)) > 0}
	if ev.edition.Rush != nil {
		of, days := string(ev.edition.Rush.Of), ev.rushes()
		view.Rushes, view.RushOf = &days, &of
	}
}
