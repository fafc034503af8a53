package whatif

import (
	"fmt"
	"slices"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
)

// Everybody stands for whoever works when the business does, where nobody is named.
const Everybody booking.ResourceID = 0

// Staff is who works, and when the business does.
type Staff struct {
	Week      calendar.Week
	Resources []booking.Resource
}

// Knows says whether it has a person. Everybody is one only where nobody is named.
func (s Staff) Knows(who booking.ResourceID) bool {
	named := slices.ContainsFunc(s.Resources, func(r booking.Resource) bool { return r.Person })
	if who == Everybody {
		return !named
	}
	return slices.ContainsFunc(s.Resources, func(r booking.Resource) bool { return r.Person && r.ID == who })
}

// With gives it with so many per cent more hours for people, and with further people,
// each with the hours and skills of one who is there. New ones are numbered from next
// on, and have another's name with a number; name is for those who are like nobody that
// is named, of whom the first is whoever worked until now.
func (s Staff) With(percent map[booking.ResourceID]int, like []booking.ResourceID, next booking.ResourceID, name string) Staff {
	s.Resources = slices.Clone(s.Resources)
	if n := percent[Everybody]; n != 0 && s.Knows(Everybody) {
		s.Week = s.Week.Scaled(n)
	}
	for i := range s.Resources {
		r := &s.Resources[i]
		if n := percent[r.ID]; r.Person && n != 0 {
			week := s.Week
			if r.Week != nil {
				week = *r.Week
			}
			week = week.Scaled(n)
			r.Week = &week
		}
	}
	add := func(r booking.Resource) {
		r.ID, next = next, next+1
		r.Closures, r.Exceptions, r.Skills = nil, nil, slices.Clone(r.Skills)
		first := r.Name
		taken := func(o booking.Resource) bool { return o.Name == r.Name }
		for n := 2; slices.ContainsFunc(s.Resources, taken); n++ {
			r.Name = fmt.Sprint(first, " ", n)
		}
		s.Resources = append(s.Resources, r)
	}
	there := s.Resources
	for _, who := range like {
		if who == Everybody {
			if s.Knows(Everybody) {
				add(booking.Resource{Name: name, Person: true})
			}
			add(booking.Resource{Name: name, Person: true})
		} else if i := slices.IndexFunc(there, func(r booking.Resource) bool { return r.ID == who }); i >= 0 {
			add(there[i])
		}
	}
	return s
}
