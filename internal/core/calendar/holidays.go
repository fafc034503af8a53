package calendar

import (
	"slices"
	"sync"
	"time"

	"github.com/rickar/cal/v2"
	"github.com/rickar/cal/v2/at"
	"github.com/rickar/cal/v2/be"
	"github.com/rickar/cal/v2/ch"
	"github.com/rickar/cal/v2/de"
	"github.com/rickar/cal/v2/dk"
	"github.com/rickar/cal/v2/fr"
	"github.com/rickar/cal/v2/gb"
	"github.com/rickar/cal/v2/ie"
	"github.com/rickar/cal/v2/nl"
	"github.com/rickar/cal/v2/no"
	"github.com/rickar/cal/v2/se"
	"github.com/rickar/cal/v2/us"
)

// countries are the public holidays that hold in the whole of each country,
// by ISO 3166-1 alpha-2 code.
var countries = map[string][]*cal.Holiday{
	"AT": at.Holidays, "BE": be.Holidays, "CH": ch.Holidays, "DE": de.Holidays,
	"DK": dk.Holidays, "FR": fr.Holidays, "GB": gb.Holidays, "IE": ie.Holidays,
	"NL": nl.Holidays, "NO": no.Holidays, "SE": se.Holidays, "US": us.Holidays,
}

// Countries lists the codes that HolidaysOf knows.
func Countries() []string {
	var all []string
	for c := range countries {
		all = append(all, c)
	}
	slices.Sort(all)
	return all
}

// HolidaysOf gives the public holidays of a country; nil when the country is
// not known, which Hours reads as none.
func HolidaysOf(country string) Holidays {
	n, ok := nations[country]
	if !ok {
		return nil
	}
	return n
}

// HolidaysIn gives the public holidays of a region of a country, or of the whole
// of it without one, less those that are kept open, by their names.
func HolidaysIn(country, region string, open []string) Holidays {
	n := nations[region]
	if n == nil {
		n = nations[country]
	}
	if n == nil {
		return nil
	}
	if len(open) == 0 {
		return n
	}
	return &kept{n, open}
}

// kept are holidays of which some are worked on.
type kept struct {
	Holidays
	open []string
}

func (k *kept) Holiday(d Day) (string, bool) {
	name, ok := k.Holidays.Holiday(d)
	if ok && slices.Contains(k.open, name) {
		return "", false
	}
	return name, ok
}

// nations are the holidays of countries and of their regions, by their codes.
var nations = func() map[string]*national {
	m := map[string]*national{}
	for code, list := range countries {
		m[code] = &national{list: list}
	}
	for _, r := range regions {
		m[r.Code] = &national{list: r.list}
	}
	return m
}()

// national keeps the holidays of the years already asked for.
type national struct {
	list  []*cal.Holiday
	mu    sync.Mutex
	years map[int]map[Day]string
}

func (n *national) Holiday(d Day) (string, bool) {
	n.mu.Lock()
	defer n.mu.Unlock()
	year, ok := n.years[d.Year]
	if !ok {
		year = map[Day]string{}
		for _, h := range n.list {
			actual, observed := h.Calc(d.Year)
			for _, t := range []time.Time{actual, observed} {
				if !t.IsZero() {
					year[DayOf(t)] = h.Name
				}
			}
		}
		if n.years == nil {
			n.years = map[int]map[Day]string{}
		}
		n.years[d.Year] = year
	}
	name, ok := year[d]
	return name, ok
}
