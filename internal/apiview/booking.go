package apiview

import (
	"maps"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// few is how many places are left of a day when it says how many.
const few = 3

// Booked shows how a product is booked in a business; nil for one that is not.
func Booked(e *product.Edition, b *store.Business, now time.Time) *api.BookingAsked {
	if e.Booking == nil {
		return nil
	}
	r := e.Booking
	resources := b.Resources
	v := &api.BookingAsked{Zone: b.Location().String(), Today: DayString(now, b.Location()), By: api.BookingAskedBy(r.By), Lengths: []int{r.Length}, Needs: []api.NeedAsked{}, Reads: []string{}}
	if r.LengthBy == "" && r.By == booking.ByTime {
		v.Lengths = r.Choices()
	}
	if r.Alone() {
		v.Private = new(true)
	}
	if r.By == booking.ByCourse {
		v.Lengths = []int{}
	}
	for _, n := range r.Needs {
		if n.By != "" {
			v.Reads = append(v.Reads, string(n.By))
		}
		if !n.Choose {
			continue
		}
		need := api.NeedAsked{Name: n.Name, Of: []api.ResourceName{}}
		for _, id := range n.Of {
			if i := slices.IndexFunc(resources, func(x booking.Resource) bool { return x.ID == id }); i >= 0 {
				need.Of = append(need.Of, api.ResourceName{Id: id, Name: resources[i].Name})
			}
		}
		if len(need.Of) > 0 {
			v.Needs = append(v.Needs, need)
		}
	}
	for _, named := range e.Pricing.Values {
		if named.Name == r.LengthBy && named.Formula != nil {
			for _, k := range e.FormulaKeys(named.Formula) {
				v.Reads = append(v.Reads, string(k))
			}
		}
	}
	return v
}

// Price puts the price of each day on the days, where they differ.
func Price(v *api.BookableDays, e *product.Edition, in charge.Input) {
	prices := make([]int, len(v.Days))
	differ := false
	for i, d := range v.Days {
		day, err := calendar.ParseDay(d.Day)
		if err != nil {
			return
		}
		p, has := e.Pricing.PriceOn(in, day)
		if _, whole, is := e.Booking.WholeOn(day); is {
			p = whole
		}
		if !has {
			return
		}
		prices[i] = int(p)
		differ = differ || prices[i] != prices[0]
	}
	for i := range v.Days {
		if differ && v.Days[i].State != api.BookableDayStateClosed && v.Days[i].State != api.BookableDayStateSoldOut {
			v.Days[i].Price = &prices[i]
		}
	}
}

// PriceCourses puts on courses what a line costs with each, as it is answered so far,
// where they differ.
func PriceCourses(v *api.BookableDays, e *product.Edition, answers question.Answers, f evaluate.Given, people int) {
	k, ok := e.BookingKey()
	if !ok || v.Courses == nil {
		return
	}
	list := *v.Courses
	f.Checks = evaluate.Held
	prices, differ := make([]int, len(list)), false
	for i, c := range list {
		run := booking.Run{Of: c.Of}
		for _, m := range c.Times {
			run.Meetings = append(run.Meetings, question.Meeting{Start: m.Start, End: m.End})
		}
		with := maps.Clone(answers)
		if with == nil {
			with = question.Answers{}
		}
		with[k] = run.Booking(people)
		r := evaluate.Evaluate(e, with, f)
		prices[i] = int(r.Slip.Total)
		differ = differ || prices[i] != prices[0]
	}
	for i := range list {
		if differ {
			list[i].Price = &prices[i]
		}
	}
}

// Asked is what of a product's days is asked for.
type Asked struct {
	From, To calendar.Day
	People   int
	Begin    *calendar.Day // of a stay
}

// ReadAsked reads which days are asked for.
func ReadAsked(asked api.DaysAsked, l words.Language) (Asked, error) {
	a := Asked{People: asked.People}
	var wrong []api.FieldError
	read := func(key, text string) calendar.Day {
		d, err := calendar.ParseDay(text)
		if err != nil {
			wrong = append(wrong, problem.Field(l, key, "day", nil))
		}
		return d
	}
	a.From, a.To = read("from", asked.From), read("to", asked.To)
	if asked.Begin != nil {
		begin := read("begin", *asked.Begin)
		a.Begin = &begin
	}
	if len(wrong) > 0 {
		return a, problem.Invalid(l, wrong)
	}
	if a.To.Since(a.From) > 400 {
		a.To = a.From.Add(400)
	}
	return a, nil
}

// WishOf adds what a customer chose to what their answers narrow.
func WishOf(w booking.Wish, asked api.DaysAsked) booking.Wish {
	if asked.Length != nil && w.Length == 0 {
		w.Length = *asked.Length
	}
	if asked.With != nil {
		w.With = *asked.With
	}
	return w
}

// Days shows what can be booked on some days. The query's wish narrows it.
func Days(r *booking.Rule, q booking.Query, a Asked, l words.Language) api.BookableDays {
	last := q.To
	if r.Until != nil && r.Until.Before(last) {
		last = *r.Until
	}
	v := api.BookableDays{Last: last.String(), Days: []api.BookableDay{}}
	q.From = maxDay(a.From, q.From)
	var days []api.BookableDay
	switch {
	case r.By == booking.ByCourse:
		v.Courses = new(courses(r, q, a.People, l))
		return v
	case r.By == booking.ByTime:
		days = times(r, q, a.People)
	case a.Begin != nil:
		if a.To.After(q.To) {
			q.To = a.To
		}
		days = ends(r, q, *a.Begin, l)
	default:
		days = stays(r.Arrivals(q), l)
	}
	for _, d := range days {
		switch {
		case d.Day <= a.To.String():
			v.Days = append(v.Days, d)
		case v.Next == nil && (d.State == api.BookableDayStateFree || d.State == api.BookableDayStateFew):
			v.Next = &d.Day
		}
	}
	return v
}

func maxDay(a, b calendar.Day) calendar.Day {
	if a.Before(b) {
		return b
	}
	return a
}

// times groups openings by day.
func times(r *booking.Rule, q booking.Query, people int) []api.BookableDay {
	var days []api.BookableDay
	for _, o := range r.Openings(q) {
		shown := opening(o, people, q.Zone)
		if len(days) == 0 || days[len(days)-1].Day != shown.Day {
			days = append(days, api.BookableDay{Day: shown.Day, State: api.BookableDayStateSoldOut, Openings: []api.Opening{}})
		}
		d := &days[len(days)-1]
		d.Openings = append(d.Openings, shown)
		if !shown.Room {
			continue
		}
		d.Left = max(d.Left, shown.Left)
		if d.State = api.BookableDayStateFree; d.Left <= few && !r.Alone() {
			d.State = api.BookableDayStateFew
		}
	}
	return days
}

// stays shows days as those on which a stay begins or ends.
func stays(list []booking.StayDay, l words.Language) []api.BookableDay {
	most := 0
	for _, d := range list {
		most = max(most, d.Free)
	}
	days := make([]api.BookableDay, len(list))
	for i, d := range list {
		v := api.BookableDay{Day: d.Day.String(), State: api.BookableDayStateFree, Left: d.Free, At: new(d.At.UTC()), Openings: []api.Opening{}}
		switch {
		case d.Why != nil:
			v.State, v.Why = api.BookableDayStateClosed, new(d.Why.Say(l))
			if d.Taken {
				v.State = api.BookableDayStateSoldOut
			}
		case d.Free == 1 && most > 1:
			v.State = api.BookableDayStateFew
		}
		days[i] = v
	}
	return days
}

// ends shows the days on which a stay that begins on a day can end.
func ends(r *booking.Rule, q booking.Query, begin calendar.Day, l words.Language) []api.BookableDay {
	q.From = maxDay(q.From, begin)
	days := stays(r.Departures(begin, q), l)
	for i := range days { // how many are free tells of nights, not of a departure
		if days[i].State == api.BookableDayStateFew {
			days[i].State = api.BookableDayStateFree
		}
	}
	return days
}

// courses shows what is left of courses, and when one meets.
func courses(r *booking.Rule, q booking.Query, people int, l words.Language) []api.CourseShown {
	list := []api.CourseShown{}
	for _, x := range r.Runs(q) {
		c := api.CourseShown{Name: x.Name, Of: x.Of, Left: x.Left, Room: x.Why == nil && x.Left >= max(people, 1), Taken: x.Taken || x.Why == nil && x.Left < people, Times: []api.MeetingShown{}}
		if x.Why != nil {
			c.Why = new(x.Why.Say(l))
		}
		for _, m := range x.Meetings {
			c.Times = append(c.Times, Met(m, q.Zone))
		}
		list = append(list, c)
	}
	return list
}

// Met shows a meeting in the business's wall-clock time.
func Met(m question.Meeting, zone *time.Location) api.MeetingShown {
	return api.MeetingShown{Start: m.Start, End: m.End, Day: DayString(m.Start, zone), Time: Clock(m.Start, zone), Ends: Clock(m.End, zone)}
}

// Meetings shows the meetings of a course as they are answered.
func Meetings(list []question.Meeting) []api.Meeting {
	shown := make([]api.Meeting, len(list))
	for i, m := range list {
		shown[i] = api.Meeting{Start: m.Start, End: m.End}
	}
	return shown
}

// Openings shows openings in the business's wall-clock time.
func Openings(list []booking.Opening, zone *time.Location) []api.Opening {
	views := make([]api.Opening, len(list))
	for i, o := range list {
		views[i] = opening(o, 1, zone)
	}
	return views
}

func opening(o booking.Opening, people int, zone *time.Location) api.Opening {
	return api.Opening{
		Start: o.Start.UTC(), End: o.End.UTC(), Day: DayString(o.Start, zone), Time: Clock(o.Start, zone), Ends: Clock(o.End, zone), Left: max(o.Left, 0), Room: o.Left >= max(people, 1),
	}
}

// Ends shows when a booking ends: the time, or the last day of a stay.
func Ends(e *product.Edition, b question.Booking, zone *time.Location) string {
	if e.Booking == nil {
		return ""
	}
	end := e.Booking.Ends(b)
	if e.Booking.Stays == nil {
		return Clock(end, zone)
	}
	return DayString(end.Add(-time.Nanosecond), zone)
}
