// Package booking makes what can be booked of a product: openings of some
// minutes, and stays of days or nights. It knows the product's booking rule, the
// resources that serve it, and the bookings that are there.
package booking

import (
	"slices"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
)

// By is how what is booked is counted.
type By string

// The ways of counting.
const (
	ByTime  By = ""       // openings, in minutes
	ByDay   By = "days"   // from a first to a last day
	ByNight By = "nights" // from the day of arrival to that of departure
	// ByCourse is a course: several meetings as one.
	ByCourse By = "course"
)

// A Rule is what makes openings or stays.
type Rule struct {
	By       By                 `json:"by,omitempty"`
	Week     calendar.Week      `json:"week"`               // when openings may lie
	Closures []calendar.Closure `json:"closures,omitempty"` // days off
	// Exceptions are hours of single days instead of the weekly ones, and of the
	// business's days off.
	Exceptions  []calendar.Exception `json:"exceptions,omitempty"`
	Length      int                  `json:"length"`                 // minutes; the shortest where there are several
	Lengths     []int                `json:"lengths,omitempty"`      // minutes, of which the customer chooses one
	Longest     int                  `json:"longest,omitempty"`      // minutes; the customer chooses from Length to it, in steps of the grid
	LengthBy    string               `json:"length_by,omitempty"`    // the named value that says how many minutes
	Grid        int                  `json:"grid"`                   // minutes from one start to the next, counted from each span's beginning
	Places      int                  `json:"places"`                 // people who can be there at once
	LeastPeople int                  `json:"least_people,omitempty"` // per booking; 0 reads as 1
	MostPeople  int                  `json:"most_people,omitempty"`  // per booking; 0 reads as Places
	Notice      int                  `json:"notice,omitempty"`       // hours from now to the first start
	Horizon     int                  `json:"horizon"`                // days from today to the last start
	Until       *calendar.Day        `json:"until,omitempty"`        // the last day of a start, whatever the horizon
	// Private says that a booking has its time for itself, however many people
	// come. Stays always have.
	Private bool `json:"private,omitempty"`
	// Before and After are the minutes that are needed around what is booked, to
	// prepare and to tidy, to go from one to the other.
	Before int `json:"before,omitempty"`
	After  int `json:"after,omitempty"`
	// Through says that it is open also on the business's days off and holidays.
	Through bool     `json:"through,omitempty"`
	Stays   *Stays   `json:"stays,omitempty"` // by days and nights
	Needs   []Need   `json:"needs,omitempty"`
	Seasons []Season `json:"seasons,omitempty"`
	// Fixed are stays that can be booked only whole.
	Fixed []FixedStay `json:"fixed,omitempty"`
	// Courses are those that can be booked; Join is how many of its meetings may
	// have passed when somebody joins one.
	Courses []Course `json:"courses,omitempty"`
	Join    int      `json:"join,omitempty"`
}

// Stays say how days or nights are booked.
type Stays struct {
	Arrive     int `json:"arrive"` // minutes from midnight of the first day
	Depart     int `json:"depart"` // minutes from midnight of the day of departure, or of the last day
	Turnaround int `json:"turnaround,omitempty"`
	Span           // of every stay
}

// A Span bounds stays: how long they are, and on which weekdays they begin and
// end.
type Span struct {
	Least   int            `json:"least,omitempty"`   // days or nights; 0 reads as 1
	Most    int            `json:"most,omitempty"`    // 0 is no limit
	LeastOn [7]int         `json:"least_on,omitzero"` // for stays that begin on a weekday, Sunday first; 0 is Least
	Begin   []time.Weekday `json:"begin,omitempty"`   // none: on any
	End     []time.Weekday `json:"end,omitempty"`     // none: on any
}

// longestStay bounds the days or nights of a stay.
const longestStay = 1100

// mostExceptions bounds the hours of single days.
const mostExceptions = 500

// farthestPadding bounds the minutes around a booking: a week.
const farthestPadding = 7 * 1440

// Validate says what is wrong with a rule.
func (r *Rule) Validate() error {
	switch {
	case r.By != ByTime && r.By != ByDay && r.By != ByNight && r.By != ByCourse:
		return words.Tell("booking.by_unknown")
	case r.Places < 1 || r.Places > 10000:
		return words.Tell("booking.places_must_lie_between_1")
	case r.least() > r.most():
		return words.Tell("booking.least_number_people_greater_than")
	case r.Notice < 0 || r.Horizon < 1 || r.Horizon > 1100:
		return words.Tell("booking.horizon_must_lie_between_1")
	case r.Before < 0 || r.Before > farthestPadding || r.After < 0 || r.After > farthestPadding:
		return words.Tell("booking.gap_between_0")
	}
	for _, c := range r.Closures {
		if c.To.Before(c.From) {
			return words.Tell("booking.closure_ends_before_begins")
		}
		if c.Time != nil && r.By != ByTime {
			return words.Tell("booking.closed_hours_of_times")
		}
	}
	if len(r.Exceptions) > mostExceptions || calendar.Overlapping(r.Exceptions) >= 0 {
		return words.Tell("booking.exceptions_overlap", "most", mostExceptions)
	}
	if len(r.Exceptions) > 0 && r.By != ByTime {
		return words.Tell("booking.exceptions_of_times")
	}
	if err := r.validateNeeds(); err != nil {
		return err
	}
	switch {
	case r.By == ByCourse:
		return r.validateCourses()
	case len(r.Courses) > 0 || r.Join != 0:
		return words.Tell("booking.courses_by_course")
	case r.By != ByTime:
		return r.validateStays()
	}
	if err := r.validateTimes(); err != nil {
		return err
	}
	return r.validateSeasons()
}

func (r *Rule) validateTimes() error {
	lengths := r.Choices()
	switch {
	case r.Length < 5 || r.Length > 1440 || r.Longest != 0 && (r.Longest < r.Length || r.Longest > 1440):
		return words.Tell("booking.length_must_lie_between_5")
	case slices.ContainsFunc(r.Lengths, func(n int) bool { return n < 5 || n > 1440 }) || len(r.Lengths) > 48:
		return words.Tell("booking.length_must_lie_between_5")
	case !slices.IsSorted(r.Lengths) || len(slices.Compact(slices.Clone(r.Lengths))) < len(r.Lengths) || len(r.Lengths) > 0 && r.Lengths[0] != r.Length:
		return words.Tell("booking.lengths_in_order")
	case len(r.Lengths) > 0 && r.Longest > 0 || r.LengthBy != "" && len(lengths) > 1:
		return words.Tell("booking.one_way_of_length")
	case r.Grid < 5 || r.Grid > 1440:
		return words.Tell("booking.starts_must_lie_between_5")
	case r.varies() && r.exclusive() && !r.Private:
		return words.Tell("booking.chosen_length_is_private")
	case r.Stays != nil || len(r.Fixed) > 0:
		return words.Tell("booking.stays_by_days")
	}
	return r.room(r.Week)
}

// room says whether a week leaves room for the length.
func (r *Rule) room(week calendar.Week) error {
	open := false
	for _, spans := range week {
		for i, s := range spans {
			if i > 0 && s.From < spans[i-1].To {
				return words.Tell("booking.spans_day_must_come_order")
			}
			open = open || s.To-s.From >= r.Length
		}
	}
	if !open {
		return words.Tell("booking.hours_leave_no_room_length")
	}
	return nil
}

func (r *Rule) validateStays() error {
	s := r.Stays
	switch {
	case s == nil:
		return words.Tell("booking.stays_missing")
	case s.Arrive < 0 || s.Arrive > 1439 || s.Depart < 0 || s.Depart > 1440:
		return words.Tell("booking.arrive_depart_within_day")
	case r.By == ByDay && s.Depart <= s.Arrive:
		return words.Tell("booking.day_ends_before_begins")
	case s.Turnaround < 0 || s.Turnaround > 60:
		return words.Tell("booking.turnaround_between_0")
	case r.varies():
		return words.Tell("booking.stays_have_no_length")
	}
	if err := s.validate(); err != nil {
		return err
	}
	if err := r.validateSeasons(); err != nil {
		return err
	}
	for _, f := range r.Fixed {
		if err := f.validate(r.By); err != nil {
			return err
		}
	}
	return nil
}

func (s *Span) validate() error {
	day := func(d time.Weekday) bool { return d < time.Sunday || d > time.Saturday }
	switch {
	case s.Least < 0 || s.Most < 0 || s.Least > longestStay || s.Most > longestStay || s.Most > 0 && s.Least > s.Most:
		return words.Tell("booking.least_most_of_stay")
	case slices.ContainsFunc(s.Begin, day) || slices.ContainsFunc(s.End, day):
		return words.Tell("booking.weekday_unknown")
	}
	for d, n := range s.LeastOn {
		if n < 0 || n > longestStay || s.Most > 0 && n > s.Most {
			return words.Tell("booking.least_most_of_stay")
		}
		if n > 0 && len(s.Begin) > 0 && !slices.Contains(s.Begin, time.Weekday(d)) {
			return words.Tell("booking.least_on_other_day")
		}
	}
	// With both ends bound to weekdays, some length between must join them.
	if len(s.Begin) > 0 && len(s.End) > 0 && s.Most > 0 && s.Most < 7 {
		joins := func(b time.Weekday) bool {
			for n := max(s.Least, s.LeastOn[b], 1); n <= s.Most; n++ {
				if slices.Contains(s.End, (b+time.Weekday(n))%7) || slices.Contains(s.End, (b+time.Weekday(n-1))%7) {
					return true
				}
			}
			return false
		}
		if !slices.ContainsFunc(s.Begin, joins) {
			return words.Tell("booking.no_stay_fits_weekdays")
		}
	}
	return nil
}

func (r *Rule) least() int { return max(r.LeastPeople, 1) }

func (r *Rule) most() int {
	if r.MostPeople == 0 {
		return r.Places
	}
	return min(r.MostPeople, r.Places)
}

// People gives the least and the most people of one booking,
// with all seasons.
func (r *Rule) People() (least, most int) {
	least, most = r.least(), r.most()
	for i := range r.Seasons {
		own := r.during(&r.Seasons[i])
		least, most = min(least, own.least()), max(most, own.most())
	}
	return least, most
}

// Choices are the lengths that a customer chooses from, in minutes; one where
// there is no choice.
func (r *Rule) Choices() []int {
	if len(r.Lengths) > 0 {
		return r.Lengths
	}
	list := []int{r.Length}
	for n := r.Length + r.Grid; r.Grid > 0 && n <= r.Longest; n += r.Grid {
		list = append(list, n)
	}
	return list
}

// varies says whether bookings are of several lengths.
func (r *Rule) varies() bool { return len(r.Lengths) > 0 || r.Longest > 0 || r.LengthBy != "" }

// Alone says whether a booking has its time for itself.
func (r *Rule) Alone() bool { return r.Private || r.Stays != nil }

// exclusive says whether bookings that do not begin together exclude each other.
func (r *Rule) exclusive() bool {
	if r.Alone() || r.By == ByCourse || r.Before+r.After > 0 || len(r.Needs) > 0 {
		return true
	}
	return slices.ContainsFunc(r.Seasons, func(s Season) bool { return s.Before != nil && *s.Before > 0 || s.After != nil && *s.After > 0 })
}

// length gives the minutes of an opening that is asked for.
func (r *Rule) length(w *Wish) int {
	if r.varies() && w.Length > 0 {
		return w.Length
	}
	return r.Length
}

// offers says whether so many minutes can be booked.
func (r *Rule) offers(minutes int, w *Wish) bool {
	if r.LengthBy != "" {
		return minutes == r.length(w)
	}
	return slices.Contains(r.Choices(), minutes)
}
