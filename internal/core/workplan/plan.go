package workplan

import (
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/question"
)

// A Plan is the steps of an edition, ready to make items.
type Plan struct{ Steps []Ready }

// Step finds a step by its key; nil where the plan has none of that.
func (p *Plan) Step(key StepKey) *Ready {
	for i := range p.Steps {
		if p.Steps[i].Key == key {
			return &p.Steps[i]
		}
	}
	return nil
}

// A Ready step has its condition and its texts compiled.
type Ready struct {
	Step
	Test   *condition.Test
	Part   *condition.Test // which of its parts have the step
	Entry  *condition.Test // which entries of a list take minutes
	Name   *merge.Template // of the title; nil for one without fields
	Text   *merge.Template
	Checks []*merge.Template
	Sheets []*merge.Template // of the papers
	Fields []question.Key    // the answers that its texts read
}

// A Basis is what a plan needs besides the edition.
type Basis struct {
	Answers  question.Answers // only what is asked
	Quantity int
	Known    condition.Facts // what conditions read besides answers
	Missing  []question.Key  // required, asked and not answered
	// Words says how an answer reads; of a part, only what is its own.
	Words func(k question.Key, f *For, p Part) string
	// Field gives the value of a merge field, of a part first.
	Field func(name string, f *For, p Part) string
	// Parts gives the parts of the line that a step is for; those of a list
	// without ids.
	Parts func(*For) []Part
	// Value gives what a named value of the product comes to.
	Value func(name string) decimal.Decimal

	Hours   *calendar.Hours
	Now     time.Time
	Paid    time.Time // zero while not paid
	Briefed time.Time // when the brief became complete; zero while it is not
	Booking time.Time // the booked start; zero without one
	People  []int64   // who was booked
	// Existing are the line's items as they are, for what a step waits on.
	Existing []Item
	// Entries are those of the line's lists as they were known before.
	Entries Entries
	// Shown is what became of what steps made that the customer was shown.
	Shown map[StepKey]Shown
	// Cancelled says that nothing is to be done any more.
	Cancelled bool
}

// An Item is a step made real for one order line, or a part of it. Its identity is
// the line, the step, the part and the round: round 0 is the work itself, later
// rounds are rework.
type Item struct {
	Step         StepKey
	Part         string // the id of what it is for; empty for the whole line
	Place        int    // of the part among its like, from 1
	Label        string // what the part is called
	Round        int
	Title        string
	Instructions string
	Minutes      int
	Missing      []question.Key // needed answers that are not there yet
	After        StepKey        // the step it waits on, when that is not done
	Brief        bool           // it waits for the brief to be complete
	// Accept says that it waits for the customer to accept what the step After made.
	// Silence is after how many days no answer counts as that; zero for never.
	Accept  bool
	Silence int
	Ready   time.Time // when it can be begun; zero while unknown
	Due     time.Time // zero while unknown
	Who     Who       // the zero Who is anybody
	During  bool      // it is done in the booked time, by who was booked
	Checks  []string
	Uses    map[question.Key]string
	Request int64 // the request for changes that it answers; zero for none
	// Unneeded says that the order has no use any more for what was begun.
	Unneeded bool

	// What people did. Planning never changes these.
	Started time.Time
	Done    time.Time // finished, or set aside
	// SetAside says that it was not finished, as nobody needs it.
	SetAside bool
	// Seen are the answers as they were when the work began, or was finished.
	Seen map[question.Key]string
	// Marks tell what changed since then.
	Marks []Mark
}

// A Mark is an answer that changed after work began with it.
type Mark struct {
	Key question.Key `json:"key"`
	Old string       `json:"old"`
	New string       `json:"new"`
}

// Waiting says whether something stands in the way of beginning.
func (i *Item) Waiting() bool {
	return i.Done.IsZero() && (len(i.Missing) > 0 || i.After != "" || i.Brief || i.Accept || i.Ready.IsZero())
}

// A maker makes the items of one order line.
type maker struct {
	*Plan
	f      *Basis
	chains map[chainKey][]Item
	parts  map[For][]Part // without conditions, which are tested for each step
	known  Entries
	made   map[StepKey][]Item
	busy   map[StepKey]bool
}

// Wanted makes the items that the answers ask for, in the order of the steps, and
// tells the entries of the line's lists as they are known now.
func (p *Plan) Wanted(f Basis) ([]Item, Entries) {
	m := &maker{Plan: p, f: &f, chains: chain(f.Existing), parts: map[For][]Part{}, known: Entries{}, made: map[StepKey][]Item{}, busy: map[StepKey]bool{}}
	var wanted []Item
	for i := range p.Steps {
		items, _ := m.step(i)
		wanted = append(wanted, items...)
	}
	if len(m.known) == 0 {
		return wanted, nil
	}
	return wanted, m.known
}

// step makes the items of a step once; false where that is not to be told, as the
// step waits on itself.
func (m *maker) step(i int) ([]Item, bool) {
	s := &m.Steps[i]
	if made, ok := m.made[s.Key]; ok {
		return made, true
	}
	if m.busy[s.Key] {
		return nil, false
	}
	m.busy[s.Key] = true
	defer delete(m.busy, s.Key)
	var items []Item
	if s.Test.Holds(m.f.Answers, m.f.Known) {
		for _, p := range m.of(s) {
			items = append(items, m.item(s, p))
		}
	}
	m.made[s.Key] = items
	return items, true
}

// of gives the parts of the line that a step is for.
func (m *maker) of(s *Ready) []Part {
	if s.For == nil {
		return []Part{{}}
	}
	key := For{Each: s.For.Each, Of: s.For.Of}
	all, ok := m.parts[key]
	if !ok {
		all = m.f.Parts(s.For)
		all = all[:min(len(all), MostParts)]
		if s.For.Each == EachEntry {
			prints := make([]string, len(all))
			for i := range all {
				prints[i] = all[i].Print
			}
			m.known[s.For.Of] = Recognise(m.f.Entries[s.For.Of], prints, m.next(s.For.Of))
			all = recognised(all, m.known[s.For.Of])
		}
		m.parts[key] = all
	}
	if s.Part == nil {
		return all
	}
	var some []Part
	for _, p := range all {
		if s.Part.Holds(p.Answers, m.f.Known) {
			some = append(some, p)
		}
	}
	return some
}

// next gives the first number for an entry of a list that no item was made for.
func (m *maker) next(list question.Key) int {
	next := 1
	for i := range m.f.Existing {
		of := slices.IndexFunc(m.Steps, func(s Ready) bool { return s.Key == m.f.Existing[i].Step })
		if of < 0 || m.Steps[of].For == nil || m.Steps[of].For.Of != list {
			continue
		}
		if n, err := strconv.Atoi(m.f.Existing[i].Part); err == nil {
			next = max(next, n+1)
		}
	}
	return next
}

func (m *maker) item(s *Ready, p Part) Item {
	f := m.f
	field := func(name string) string { return f.Field(name, s.For, p) }
	item := Item{
		Step: s.Key, Part: p.ID, Place: p.Place, Label: p.Label, Title: s.Title, Minutes: s.minutes(f, p),
		Instructions: s.Text.Render(field), Uses: map[question.Key]string{}, Who: s.who(f),
	}
	if s.Name != nil {
		if title := strings.Join(strings.Fields(s.Name.Render(field)), " "); title != "" {
			item.Title = title
		}
	}
	for _, c := range s.Checks {
		item.Checks = append(item.Checks, c.Render(field))
	}
	for _, k := range s.reads() {
		if w := f.Words(k, s.For, p); w != "" {
			item.Uses[k] = w
		}
	}
	for _, k := range s.Needs {
		if slices.Contains(f.Missing, k) {
			item.Missing = append(item.Missing, k)
		}
	}
	from := m.ready(s, &item)
	if from.IsZero() {
		from = item.Ready
	}
	item.Due = s.due(from, *f)
	item.During = s.Start.On == OnBooking && s.Start.Count == 0 && s.Who != nil && s.Who.Booked
	return item
}

// who says who does the step; anybody where nobody was booked.
func (s *Ready) who(f *Basis) Who {
	switch {
	case s.Who == nil:
		return Who{}
	case !s.Who.Booked:
		return *s.Who
	case len(f.People) == 0:
		return Who{Booked: true}
	}
	return Who{Person: f.People[0], Booked: true}
}

// reads lists the answers that the work is done from: what it needs, what its
// texts show, what it is for, what its minutes count.
func (s *Ready) reads() []question.Key {
	keys := slices.Clone(s.Needs)
	more := append(slices.Clone(s.Fields), s.Minutes.Of)
	if s.For != nil && s.For.Each == EachEntry {
		more = append(more, s.For.Of)
	}
	for _, c := range s.Minutes.Choices {
		more = append(more, c.Of)
	}
	for _, k := range more {
		if k != "" && !slices.Contains(keys, k) {
			keys = append(keys, k)
		}
	}
	return keys
}

func (s *Ready) due(from time.Time, f Basis) time.Time {
	if s.Due.Rule.booked() {
		if f.Booking.IsZero() {
			return time.Time{}
		}
		local := f.Booking.In(f.Hours.Zone)
		switch s.Due.Rule {
		case HoursBeforeBooking:
			return local.Add(-time.Duration(s.Due.Count) * time.Hour)
		case HoursAfterBooking:
			return local.Add(time.Duration(s.Due.Count) * time.Hour)
		case DaysBeforeBooking:
			return local.AddDate(0, 0, -s.Due.Count)
		}
		return local.AddDate(0, 0, s.Due.Count)
	}
	if from.IsZero() {
		return time.Time{}
	}
	var due time.Time
	if s.Due.Rule == WorkingHours {
		due, _ = f.Hours.AddTime(from, time.Duration(s.Due.Count)*time.Hour)
	} else {
		due, _ = f.Hours.AddDays(from, s.Due.Count)
	}
	return due // zero, so unknown, with hours that never open
}

func marks(seen, uses map[question.Key]string) []Mark {
	var m []Mark
	keys := maps.Clone(seen)
	if keys == nil {
		keys = map[question.Key]string{}
	}
	for k := range uses {
		keys[k] = ""
	}
	for _, k := range slices.Sorted(maps.Keys(keys)) {
		if seen[k] != uses[k] {
			m = append(m, Mark{Key: k, Old: seen[k], New: uses[k]})
		}
	}
	return m
}
