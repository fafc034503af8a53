package desk

import (
	"fmt"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// What bounds the resources of a business.
const (
	mostResources = 200
	mostEqual     = 1000 // of a set
	mostClosures  = 500
	mostSkills    = 50
)

// readHours says what is wrong with hours and days off; at begins their place.
func readHours(at string, week *calendar.Week, closures []calendar.Closure, add func(key, code string, p words.Params)) {
	if week != nil {
		for day, spans := range week {
			for i, span := range spans {
				if i > 0 && span.From < spans[i-1].To {
					add(fmt.Sprintf("%sweek[%d]", at, day), "week_order", nil)
				}
			}
		}
	}
	for i, c := range closures {
		switch {
		case c.To.Before(c.From):
			add(fmt.Sprintf("%sclosures[%d].to", at, i), "closure_order", nil)
		case len(c.Reason) > 200:
			add(fmt.Sprintf("%sclosures[%d].reason", at, i), "too_long", nil)
		}
	}
	if len(closures) > mostClosures {
		add(at+"closures", "list_too_long", words.Params{"most": fmt.Sprint(mostClosures)})
	}
}

// readResources says what is wrong with resources, and trims their names.
func readResources(list []booking.Resource, add func(key, code string, p words.Params)) {
	if len(list) > mostResources {
		add("resources", "list_too_long", words.Params{"most": fmt.Sprint(mostResources)})
		return
	}
	for i := range list {
		r, at := &list[i], fmt.Sprintf("resources[%d].", i)
		r.Name = strings.TrimSpace(r.Name)
		same := func(o booking.Resource) bool { return o.ID == r.ID || strings.EqualFold(o.Name, r.Name) }
		switch {
		case r.Name == "" || len([]rune(r.Name)) > 60:
			add(at+"name", "resource_name", nil)
		case r.ID < 1 || slices.ContainsFunc(list[:i], same):
			add(at+"name", "resource_twice", nil)
		}
		if r.Number < 0 || r.Number > mostEqual {
			add(at+"number", "resource_number", words.Params{"most": fmt.Sprint(mostEqual)})
		}
		if r.Person {
			r.Number = 0
		}
		if len(r.Skills) > mostSkills || slices.ContainsFunc(r.Skills, func(s string) bool { return s == "" || len(s) > 200 }) {
			add(at+"skills", "resource_skills", words.Params{"most": fmt.Sprint(mostSkills)})
		}
		readHours(at, r.Week, r.Closures, add)
		if x := calendar.Overlapping(r.Exceptions); x >= 0 {
			add(fmt.Sprintf("%sexceptions[%d]", at, x), "week_order", nil)
		}
		if len(r.Exceptions) > mostClosures {
			add(at+"exceptions", "list_too_long", words.Params{"most": fmt.Sprint(mostClosures)})
		}
	}
}

// otherResources refuses a new resource with the number of one that is gone:
// bookings and products still name it.
func otherResources(b *store.Business, next []booking.Resource, l words.Language) []api.FieldError {
	var wrong []api.FieldError
	for i, r := range next {
		if r.ID > b.LastResource || slices.ContainsFunc(b.Resources, func(o booking.Resource) bool { return o.ID == r.ID }) {
			continue
		}
		wrong = append(wrong, problem.Field(l, fmt.Sprintf("resources[%d].id", i), "resource_gone_number", words.Params{"next": fmt.Sprint(b.LastResource + 1)}))
	}
	return wrong
}
