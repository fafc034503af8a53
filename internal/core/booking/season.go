package booking

import (
	"time"

	"github.com/rickar/cal/v2"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// A Season is a part of the year with rules of its own. What it leaves open is as
// in the rest of the year.
type Season struct {
	Name   string `json:"name"`
	Yearly bool   `json:"yearly,omitempty"` // the years of its days mean nothing
	From   Edge   `json:"from"`
	To     Edge   `json:"to"` // included
	// Rank decides where seasons overlap: the higher wins, then the later one of
	// the list.
	Rank   int            `json:"rank,omitempty"`
	Closed bool           `json:"closed,omitempty"`
	Week   *calendar.Week `json:"week,omitempty"`
	Notice *int           `json:"notice,omitempty"`
	// Span bounds the stays that begin in it.
	Span *Span `json:"span,omitempty"`
	// Of what begins in it; 0 is as in the rest of the year.
	Length      int `json:"length,omitempty"`
	Grid        int `json:"grid,omitempty"`
	Places      int `json:"places,omitempty"`
	LeastPeople int `json:"least_people,omitempty"`
	MostPeople  int `json:"most_people,omitempty"`
	Horizon     int `json:"horizon,omitempty"` // days ahead
	// Nil for those of the rest of the year.
	Before     *int `json:"before,omitempty"`
	After      *int `json:"after,omitempty"`
	Turnaround *int `json:"turnaround,omitempty"`
}

// A FixedStay can be booked only whole, and nothing else on its days.
type FixedStay struct {
	Name   string `json:"name"`
	Yearly bool   `json:"yearly,omitempty"`
	From   Edge   `json:"from"` // the day of arrival, or the first day
	To     Edge   `json:"to"`   // the day of departure, or the last day
	// Price is what it costs whole; nil for the price of any other stay.
	Price *money.Amount `json:"price,omitempty"`
}

// An Edge is a day that a part of the year begins or ends with: a date, or some
// days after a movable feast.
type Edge struct {
	Day   calendar.Day `json:"day,omitzero"`
	Feast Feast        `json:"feast,omitempty"`
	Plus  int          `json:"plus,omitempty"` // days; below zero is before
}

// Feast is a feast that falls on another date each year.
type Feast string

// feasts are the days from Easter Sunday to each. Source: the tables of movable
// feasts of the Roman calendar (General Roman Calendar), as kept by civil law in
// Germany, Austria and France; from memory.
var feasts = map[Feast]int{"carnival": -48, "good_friday": -2, "easter": 0, "ascension": 39, "pentecost": 49, "corpus_christi": 60}

// advent is the fourth Sunday before Christmas, which does not hang on Easter.
const advent Feast = "advent"

// Feasts names the feasts that an Edge can be counted from, in the year's order.
func Feasts() []Feast {
	return []Feast{"carnival", "good_friday", "easter", "ascension", "pentecost", "corpus_christi", advent}
}

// in gives the day in a year.
func (e Edge) in(year int, yearly bool) calendar.Day {
	if e.Feast == advent {
		christmas := calendar.Day{Year: year, Month: time.December, Number: 25}
		return christmas.Add(-21 - (int(christmas.Weekday())+6)%7 - 1 + e.Plus)
	}
	if e.Feast != "" {
		return calendar.DayOf(cal.CalcEasterOffset(&cal.Holiday{Offset: feasts[e.Feast]}, year)).Add(e.Plus)
	}
	d := e.Day
	if yearly {
		d.Year = year
		if d.Month == time.February && d.Number == 29 { // no leap year: the last of February
			return calendar.Day{Year: year, Month: time.March, Number: 1}.Add(-1)
		}
	}
	return d.Add(e.Plus)
}

func (e Edge) valid() bool {
	if e.Plus < -366 || e.Plus > 366 {
		return false
	}
	if e.Feast == "" {
		return e.Day != (calendar.Day{})
	}
	_, known := feasts[e.Feast]
	return known || e.Feast == advent
}

// around gives the part of the year between two edges that a day lies in. A
// yearly one that ends before it begins goes over New Year.
func around(from, to Edge, yearly bool, d calendar.Day) (first, last calendar.Day, within bool) {
	years := []int{d.Year, d.Year - 1}
	if !yearly && from.Feast == "" && to.Feast == "" {
		years = years[:1]
	}
	for _, y := range years {
		first, last = from.in(y, yearly), to.in(y, yearly)
		if yearly && last.Before(first) {
			last = to.in(y+1, yearly)
		}
		if !d.Before(first) && !d.After(last) {
			return first, last, true
		}
	}
	return first, last, false
}

func (s *Season) has(d calendar.Day) bool {
	_, _, within := around(s.From, s.To, s.Yearly, d)
	return within
}

// with gives the fixed stay in which a day is a day or a night.
func (f *FixedStay) with(d calendar.Day, by By) (first, last calendar.Day, within bool) {
	first, last, within = around(f.From, f.To, f.Yearly, d)
	if !within && f.Yearly {
		return first, last, false
	}
	return first, last, within && (by == ByDay || d.Before(last))
}

func validEdges(name string, from, to Edge, yearly bool) error {
	switch {
	case name == "" || len([]rune(name)) > 60:
		return words.Tell("booking.season_without_name")
	case !from.valid() || !to.valid():
		return words.Tell("booking.season_without_days", "name", name)
	case !yearly && (from.Feast != "" || to.Feast != ""):
		return words.Tell("booking.feast_every_year", "name", name)
	case !yearly && to.in(to.Day.Year, false).Before(from.in(from.Day.Year, false)):
		return words.Tell("booking.season_ends_before_begins", "name", name)
	}
	return nil
}

func (f *FixedStay) validate(by By) error {
	if f.Price != nil && (*f.Price < 0 || *f.Price > money.Largest) {
		return words.Tell("booking.fixed_price", "name", f.Name)
	}
	if err := validEdges(f.Name, f.From, f.To, f.Yearly); err != nil {
		return err
	}
	if by == ByNight && !f.Yearly && f.From.Day == f.To.Day {
		return words.Tell("booking.season_ends_before_begins", "name", f.Name)
	}
	return nil
}

func (r *Rule) validateSeasons() error {
	if len(r.Seasons) > 100 || len(r.Fixed) > 100 {
		return words.Tell("booking.too_many_seasons", "most", 100)
	}
	for i := range r.Seasons {
		s := &r.Seasons[i]
		if err := validEdges(s.Name, s.From, s.To, s.Yearly); err != nil {
			return err
		}
		if s.Length != 0 && (r.varies() || r.By != ByTime) {
			return words.Tell("booking.season", "name", s.Name, "why", words.Tell("booking.season_length"))
		}
		if s.Turnaround != nil && r.Stays == nil {
			return words.Tell("booking.season", "name", s.Name, "why", words.Tell("booking.season_turnaround"))
		}
		if own := r.during(s); own != r || s.Week != nil {
			all := *own
			if s.Week != nil {
				all.Week = *s.Week
			}
			all.Seasons, all.Fixed = nil, nil
			if err := all.Validate(); err != nil {
				return words.Tell("booking.season", "name", s.Name, "why", err)
			}
		}
		if s.Notice != nil && (*s.Notice < 0 || *s.Notice > 24*longestStay) {
			return words.Tell("booking.season", "name", s.Name, "why", words.Tell("booking.horizon_must_lie_between_1"))
		}
		if s.Span != nil {
			if err := s.Span.validate(); err != nil {
				return words.Tell("booking.season", "name", s.Name, "why", err)
			}
		}
	}
	return nil
}

// Lies says whether a day or night lies in the season, or in the fixed stay, of a
// name.
func (r *Rule) Lies(d calendar.Day, name string) bool {
	if f, _, _ := r.fixed(d); f != nil && f.Name == name {
		return true
	}
	s := r.SeasonOn(d)
	return s != nil && s.Name == name
}

// Named gives the name of the fixed stay that a day or night belongs to, else of its
// season; empty for none.
func (r *Rule) Named(d calendar.Day) string {
	if f, _, _ := r.fixed(d); f != nil {
		return f.Name
	}
	if s := r.SeasonOn(d); s != nil {
		return s.Name
	}
	return ""
}

// Names are those of the seasons and fixed stays.
func (r *Rule) Names() []string {
	var list []string
	for i := range r.Seasons {
		list = append(list, r.Seasons[i].Name)
	}
	for i := range r.Fixed {
		list = append(list, r.Fixed[i].Name)
	}
	return list
}

// WholeOn gives the fixed stay that begins on a day and has a price of its own.
func (r *Rule) WholeOn(d calendar.Day) (name string, price money.Amount, whole bool) {
	f, first, _ := r.fixed(d)
	if f == nil || first != d || f.Price == nil {
		return "", 0, false
	}
	return f.Name, *f.Price, true
}

// SeasonOn gives the season that a day lies in: of several the one that is ranked
// highest, and of those the last in the list; nil for none.
func (r *Rule) SeasonOn(d calendar.Day) *Season {
	var best *Season
	for i := range r.Seasons {
		if s := &r.Seasons[i]; (best == nil || s.Rank >= best.Rank) && s.has(d) {
			best = s
		}
	}
	return best
}

// Rivals names two seasons that overlap within a year from a day and are ranked
// the same, so that only their places in the list decide between them.
func (r *Rule) Rivals(from calendar.Day) (one, other string, day calendar.Day, found bool) {
	for d := from; d.Since(from) < 366; d = d.Add(1) {
		var in []*Season
		for i := range r.Seasons {
			if s := &r.Seasons[i]; s.has(d) {
				for _, o := range in {
					if o.Rank == s.Rank {
						return o.Name, s.Name, d, true
					}
				}
				in = append(in, s)
			}
		}
	}
	return "", "", calendar.Day{}, false
}

// during gives the rule as it is for what begins in a season; the rule itself where
// that changes nothing of it. Hours, notice and bounds of stays are not in it.
func (r *Rule) during(s *Season) *Rule {
	if s == nil || s.Length == 0 && s.Grid == 0 && s.Places == 0 && s.LeastPeople == 0 && s.MostPeople == 0 && s.Horizon == 0 && s.Before == nil && s.After == nil && s.Turnaround == nil {
		return r
	}
	own := *r
	set := func(to *int, n int) {
		if n != 0 {
			*to = n
		}
	}
	set(&own.Length, s.Length)
	set(&own.Grid, s.Grid)
	set(&own.Places, s.Places)
	set(&own.LeastPeople, s.LeastPeople)
	set(&own.MostPeople, s.MostPeople)
	set(&own.Horizon, s.Horizon)
	if s.Before != nil {
		own.Before = *s.Before
	}
	if s.After != nil {
		own.After = *s.After
	}
	if s.Turnaround != nil && r.Stays != nil {
		stays := *r.Stays
		stays.Turnaround, own.Stays = *s.Turnaround, &stays
	}
	return &own
}

// at gives the rule for what begins at an instant.
func (h *held) at(start time.Time) *Rule {
	if !h.seasonal {
		return h.rule
	}
	return h.on(calendar.DayOf(start.In(h.q.Zone))).rule
}

// dayRules are what the rules make of a day before anything is booked.
type dayRules struct {
	season *Season
	rule   *Rule  // for what begins on it
	shut   bool   // by the product itself, or its season
	why    string // it is shut; empty for no reason
	off    bool   // the business is closed
	away   string // why
	spans  []calendar.Span
	week   *calendar.Week     // that they are of; nil for those of the day alone
	gaps   []calendar.Closure // hours that are closed
	notice int
	span   *Span
}

// on gives the rules of a day.
func (h *held) on(d calendar.Day) dayRules {
	if known, ok := h.days[d]; ok {
		return known
	}
	r := h.rule
	x := dayRules{season: r.SeasonOn(d), rule: r, week: &r.Week, notice: r.Notice}
	if x.season != nil {
		x.rule = r.during(x.season)
	}
	if r.Stays != nil {
		x.span = &r.Stays.Span
	}
	for _, c := range r.Closures {
		if c.Time == nil && c.Has(d) {
			x.shut, x.why = true, c.Reason
			break
		}
	}
	if s := x.season; s != nil {
		if s.Closed && !x.shut {
			x.shut, x.why = true, s.Name
		}
		if s.Week != nil {
			x.week = s.Week
		}
		if s.Notice != nil {
			x.notice = *s.Notice
		}
		if s.Span != nil && x.span != nil {
			x.span = s.Span
		}
	}
	if !r.Through && h.q.Off != nil {
		x.away, x.off = h.q.Off(d)
	}
	x.spans = x.week[d.Weekday()]
	if own, any := calendar.Instead(r.Exceptions, d); any {
		x.spans, x.week, x.off = own, nil, false
	}
	x.gaps = calendar.Gaps(r.Closures, d)
	if !r.Through && h.q.Gaps != nil {
		x.gaps = append(x.gaps, h.q.Gaps(d)...)
	}
	h.days[d] = x
	return x
}

// fixed gives the fixed stay that a day or night belongs to.
func (r *Rule) fixed(d calendar.Day) (f *FixedStay, first, last calendar.Day) {
	for i := range r.Fixed {
		if first, last, within := r.Fixed[i].with(d, r.By); within {
			return &r.Fixed[i], first, last
		}
	}
	return nil, calendar.Day{}, calendar.Day{}
}
