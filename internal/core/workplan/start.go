package workplan

import (
	"slices"
	"time"

	"ruvo/internal/core/calendar"
)

// ready fills in what an item waits for and when it can be begun, and gives when it
// will be if that is known though something stands in the way.
func (m *maker) ready(s *Ready, item *Item) (from time.Time) {
	f := m.f
	switch s.Start.On {
	case OnPayment:
		item.Ready = f.Paid
	case OnBrief:
		item.Ready, item.Brief = f.Briefed, f.Briefed.IsZero()
	case OnBooking:
		item.Ready = s.Start.from(f.Booking, f.Hours.Zone)
	case OnDay:
		day := s.Start.Day
		if v, ok := f.Answers[s.Start.Of]; ok && v.Answered() {
			day = v.Terms().Day
		}
		if day != (calendar.Day{}) {
			item.Ready = s.Start.from(day.At(0, f.Hours.Zone), f.Hours.Zone)
		}
	case AfterStep, OnAcceptance:
		return m.after(s, item)
	}
	return time.Time{}
}

// after has an item wait on those of another step: on that of the same part, where
// both are for the same parts, else on all.
func (m *maker) after(s *Ready, item *Item) (from time.Time) {
	i := slices.IndexFunc(m.Steps, func(o Ready) bool { return o.Key == s.Start.Step })
	if i < 0 {
		item.Ready = m.f.Paid
		return time.Time{}
	}
	before, _ := m.step(i)
	if same := m.Steps[i].For.same(s.For); same {
		before = slices.DeleteFunc(slices.Clone(before), func(o Item) bool { return o.Part != item.Part })
	}
	if f := m.Steps[i].For; len(before) == 0 && f != nil && slices.Contains(m.f.Missing, f.Of) {
		if !slices.Contains(item.Missing, f.Of) { // how many it waits on is not known yet
			item.Missing = append(item.Missing, f.Of)
		}
		return time.Time{}
	}
	item.Ready = m.f.Paid // a step that is not needed holds nothing up
	for _, o := range before {
		done := finished(m.chains[o.chain()])
		if done.IsZero() {
			item.Ready, item.After = time.Time{}, s.Start.Step
		} else if item.After == "" && done.After(item.Ready) {
			item.Ready = done
		}
		if o.Due.After(from) {
			from = o.Due
		}
	}
	if s.Start.On == OnAcceptance && len(before) > 0 {
		once := m.Steps[i].For == nil && len(m.chains[before[0].chain()]) == 1
		return m.accepted(s, i, once, item, from)
	}
	if item.After == "" {
		return time.Time{}
	}
	return from
}

// accepted has an item wait until the customer accepted what the step at i made, as it
// is now: with the last of its changes, and all its parts. What was made once and as a
// whole is what the customer was shown, also where it is marked done only afterwards.
func (m *maker) accepted(s *Ready, i int, once bool, item *Item, from time.Time) time.Time {
	if a := m.Steps[i].Acceptance; a != nil {
		item.Silence = a.Silence
	}
	if is := m.f.Shown[s.Start.Step].Accepted; item.After == "" && !is.IsZero() && (once || !is.Before(item.Ready)) {
		item.Silence = 0
		if is.After(item.Ready) {
			item.Ready = is
		}
		return time.Time{}
	}
	if item.After == "" {
		from = item.Ready
	}
	item.Ready, item.After, item.Accept = time.Time{}, s.Start.Step, true
	if !from.IsZero() {
		from = from.AddDate(0, 0, item.Silence)
	}
	return from
}

// same says whether two steps are for the same parts of a line.
func (f *For) same(o *For) bool {
	return f != nil && o != nil && f.Each == o.Each && f.Of == o.Of
}

func (s *Start) from(at time.Time, zone *time.Location) time.Time {
	switch {
	case at.IsZero():
		return at
	case s.In == InDays:
		return at.In(zone).AddDate(0, 0, s.Count)
	}
	return at.Add(time.Duration(s.Count) * time.Hour)
}
