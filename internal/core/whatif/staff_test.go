package whatif

import (
	"testing"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
)

func nine(to int) calendar.Week {
	return calendar.Week{1: {{From: 9 * hour, To: to}}, 2: {{From: 9 * hour, To: 12 * hour}, {From: 13 * hour, To: 23 * hour}}}
}

// Worked by hand: eight hours from nine on are ten with a quarter more, three before a
// break of an hour are three and three quarters, and no day is longer than it is.
func TestStaffHours(t *testing.T) {
	s := Staff{Week: nine(17 * hour), Resources: []booking.Resource{{ID: 3, Name: "Lens"}, {ID: 4, Name: "Ada", Person: true}, {ID: 5, Name: "Bo", Person: true, Week: &calendar.Week{}}}}
	got := s.With(map[booking.ResourceID]int{4: 25, 5: 25, Everybody: 50}, nil, 6, "")
	want := calendar.Week{1: {{From: 9 * hour, To: 19 * hour}}, 2: {{From: 9 * hour, To: 12*hour + 45}, {From: 13 * hour, To: 24 * hour}}}
	ada := got.Resources[1].Week
	for day := range want {
		for i, span := range want[day] {
			if len(ada[day]) != len(want[day]) || ada[day][i] != span {
				t.Errorf("day %d: %v, want %v", day, ada[day], want[day])
			}
		}
	}
	if got.Week[1][0].To != 17*hour || got.Resources[0].Week != nil || s.Resources[1].Week != nil {
		t.Errorf("others changed too: %+v", got)
	}
	less := s.With(map[booking.ResourceID]int{4: -50}, nil, 6, "").Resources[1].Week
	if less[1][0].To != 13*hour {
		t.Errorf("half: %v", less)
	}
	if s.Knows(3) || s.Knows(Everybody) || !s.Knows(4) {
		t.Error("who is there")
	}
}

// Further people have hours and skills of one who is there, and names and numbers of
// their own; where nobody is named, whoever worked until now is the first.
func TestMoreStaff(t *testing.T) {
	s := Staff{Resources: []booking.Resource{{ID: 4, Name: "Ada", Person: true, Skills: []string{"ink"}, Closures: []calendar.Closure{{}}}}}
	got := s.With(map[booking.ResourceID]int{4: 20}, []booking.ResourceID{4, 4, 9}, 8, "").Resources
	if len(got) != 3 || got[1].Name != "Ada 2" || got[2].Name != "Ada 3" || got[1].ID != 8 || got[2].ID != 9 || got[2].Skills[0] != "ink" || got[2].Closures != nil || got[2].Week != got[0].Week {
		t.Errorf("%+v", got)
	}
	alone := Staff{Week: nine(17 * hour)}.With(map[booking.ResourceID]int{Everybody: 25}, []booking.ResourceID{Everybody}, 1, "Person")
	if len(alone.Resources) != 2 || alone.Resources[1].Name != "Person 2" || alone.Resources[1].Week != nil || alone.Week[1][0].To != 19*hour {
		t.Errorf("%+v", alone)
	}
}
